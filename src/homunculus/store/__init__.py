"""The job folder: saving, log, lock, backups, migration."""
