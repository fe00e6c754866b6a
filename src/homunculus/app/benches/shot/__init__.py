"""Station 1: what the camera sees."""
