"""The hand: an animal's taming in steps, and what makes its days different."""
