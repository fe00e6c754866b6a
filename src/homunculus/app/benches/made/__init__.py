"""What is it made of? Pieces taken hold of and typed, how they come to be, their steps; and how a new build begins."""
