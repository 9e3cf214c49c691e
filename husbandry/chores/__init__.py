"""What is to be done today: the duties of an enclosure, and which of them are due."""
