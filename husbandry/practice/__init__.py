"""Practice: enclosures with hidden truths, instruments to find them with, and what was found.

Method: docs/methods/practice.md.
"""
