"""Taking in what keepers have written elsewhere: a table of their animals and enclosures."""
