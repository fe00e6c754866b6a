"""What may be changed, and how a change makes a new job."""
