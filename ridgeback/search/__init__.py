"""One box that finds what a household has, what the guide knows, and how something is done."""
