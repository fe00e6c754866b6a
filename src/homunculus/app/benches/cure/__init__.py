"""Station 6: when it opens."""
