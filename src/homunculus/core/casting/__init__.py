"""Moulds, castings and mixes."""
