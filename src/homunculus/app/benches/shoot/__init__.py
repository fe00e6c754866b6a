"""Station 7: ready for the flag, and the order of wear."""
