"""Station 4: what the mould takes."""
