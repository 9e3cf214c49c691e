"""The round: what is due today in every enclosure, done with one tap."""
