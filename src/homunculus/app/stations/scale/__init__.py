"""The Scale bench: the ladder and the side elevation."""
