"""Station 6: when it may be opened, and what would be otherwise."""
