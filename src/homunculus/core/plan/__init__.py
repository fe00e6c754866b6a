"""What is derived from a job: builds, the whole job, what is true now, what moved."""
