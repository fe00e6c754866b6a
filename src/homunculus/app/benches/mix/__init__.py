"""Station 5: what goes into the bucket."""
