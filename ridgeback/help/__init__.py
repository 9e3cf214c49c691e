"""Short pages, one for each task that people come with."""
