"""How many exactly."""
