"""Alarms: what is wrong in an enclosure or with its instruments now, who is told, and what they did."""
