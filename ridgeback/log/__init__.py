"""What was done: every entry with who, when and how much; nothing is overwritten."""
