"""Running Ridgeback: its health, its logs, its backups."""
