"""Station 2: how big."""
