"""The whole job, for whoever keeps it together."""
