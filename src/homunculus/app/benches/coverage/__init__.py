"""Who covers what."""
