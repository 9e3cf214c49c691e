"""The day's tasks: what is due today in every enclosure, done with one tap."""
