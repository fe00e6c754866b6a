"""Station 1: what the camera sees, the list of shots, who covers what."""
