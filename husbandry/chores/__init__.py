"""What is to be done today: the duties of a box, and which of them are due."""
