"""What the animal eats, how much, when, and with which supplement."""
