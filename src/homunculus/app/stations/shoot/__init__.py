"""Station 7: the order of wear, and the page for the floor."""
