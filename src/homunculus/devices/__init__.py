"""What is plugged in: a scale on a serial line, and its simulated stand-in behind the same line."""
