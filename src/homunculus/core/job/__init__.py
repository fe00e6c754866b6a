"""The data of a job: frozen values whose types carry their bounds."""
