"""Frame rate, lens and light."""
