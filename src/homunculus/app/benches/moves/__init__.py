"""What moves in a shot, on its time, and played in the camera's picture."""
