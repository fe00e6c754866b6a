"""Files in and out that other programs write and read."""
