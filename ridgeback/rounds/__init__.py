"""The round: what is due today in every box, done with one tap."""
