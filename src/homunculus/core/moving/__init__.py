"""What moves before the camera: towed, flown, dropped, chained in time, falling; and the camera itself."""
