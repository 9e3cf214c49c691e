"""The household's instruments: what they are, what they read too high, when they are looked at again."""
