"""Second look: enclosures that somebody described, judged and given back."""
