"""Shop hours and the forward plan of one build."""
