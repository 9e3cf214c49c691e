"""Enclosures in and out as requests of the core: what one household exports another can import, to
the same plan.
"""
