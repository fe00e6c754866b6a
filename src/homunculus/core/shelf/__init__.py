"""The shelf: all cards that a shop has, kept outside its jobs; what a job takes of it, and where the two differ."""
