"""The shop log as a ruled sheet."""
