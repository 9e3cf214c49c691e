"""Eggs, and young born alive: when they come and what is looked at until then."""
