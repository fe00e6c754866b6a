"""The ruled sheet of a station’s figures."""
