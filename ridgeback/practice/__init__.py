"""Practice: a trainer over simulated enclosures."""
