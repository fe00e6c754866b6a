"""The measuring card: what the plate asks, stands from two nails, and what was found."""
