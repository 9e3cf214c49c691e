"""The layout editor: an enclosure that is moved about with the hand, answered while it moves."""
