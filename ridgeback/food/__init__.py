"""The food of one animal: its condition, its meals and what they hold, and the spells that change them."""
