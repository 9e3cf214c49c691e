"""Drawings: core results in, SVG out. Real lengths, then plain primitives, then one writer."""
