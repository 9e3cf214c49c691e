"""What is to be done today: the routines of an enclosure, and which of them are due."""
