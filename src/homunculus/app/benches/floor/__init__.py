"""The page for the floor."""
