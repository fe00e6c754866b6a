"""How the whole job stands."""
