"""The form of a piece: solids, meshes, shells, outlines."""
