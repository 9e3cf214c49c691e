"""Measurements.

Each prints ratios to a named reference measured in the same run. Run on one user and an otherwise
idle machine.
"""
