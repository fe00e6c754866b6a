"""How far a cure has come, given the temperatures it saw."""
