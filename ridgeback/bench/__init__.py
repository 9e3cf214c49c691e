"""The bench: a box that is moved about with the hand, answered while it moves."""
