"""Enclosures with a hidden truth, and the instruments that read them: for tests, benchmarks and
demo enclosures, where no real one is at hand.
"""
