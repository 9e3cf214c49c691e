"""One history of an animal or an enclosure: everything that was logged, searched and read in order."""
