"""The year of a household: winter rests, the length of days, and the year overview."""
