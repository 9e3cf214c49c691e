"""A person’s own account: its address, its sessions, and its end."""
