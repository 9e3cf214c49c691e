"""Saving what was typed: once, however often it was sent, and never over somebody else's change."""
