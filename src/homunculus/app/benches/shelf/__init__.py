"""What a shop has: every card on its shelf, drawn as what it stands in."""
