"""The year of a household: brumations, the length of days, and the year overview."""
