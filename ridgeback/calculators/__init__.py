"""Calculators: single methods of the core, in the reader's units, each with a link that gives the
same sum again.
"""
