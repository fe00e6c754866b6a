"""The benches: one folder each, with a ``spec.py`` that tells the window all it knows of it."""
