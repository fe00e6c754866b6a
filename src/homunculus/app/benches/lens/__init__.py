"""Station 3: focus and light."""
