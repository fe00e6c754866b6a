"""What covers the window while something is weighed."""
