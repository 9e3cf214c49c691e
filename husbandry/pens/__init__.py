"""Outdoor pens for the day: what a pen is, and whether it is right for who goes out."""
