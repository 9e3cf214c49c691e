"""A household as one file: everything out, everything in."""
