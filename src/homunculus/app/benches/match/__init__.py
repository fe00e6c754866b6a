"""Which column of a table is which."""
