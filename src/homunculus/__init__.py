"""Homunculus: a workshop drawing that answers back."""

__version__ = "0.1.0"
