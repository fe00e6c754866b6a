"""The shoot: the order of wear, and what is said before anything that happens once."""
