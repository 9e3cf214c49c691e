"""The year of an animal: the length of its days, and its rest."""
