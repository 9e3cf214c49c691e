"""Outdoor pens for the day: who goes out, whether the pen is right, when they can be out, and when
they were.
"""
