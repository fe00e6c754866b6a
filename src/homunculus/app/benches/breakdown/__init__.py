"""The list of shots."""
