"""What stands where: plan, side, and the picture that the camera has of it."""
