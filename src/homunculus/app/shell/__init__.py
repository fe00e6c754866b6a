"""The four places around the bench, and what floats above it."""
