"""The shop log."""
