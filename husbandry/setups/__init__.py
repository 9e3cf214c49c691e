"""Find me a setup: equipment, places and settings that keep every band, found among thousands and offered as a few that differ in kind."""
