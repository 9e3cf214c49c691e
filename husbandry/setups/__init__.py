"""Find me a setup: equipment, places and settings that keep every target range, found among
thousands and offered as a few that differ in kind.
"""
