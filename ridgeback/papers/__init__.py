"""Papers that people hold: the sitter’s sheet and the emergency card, and what stands on them."""
