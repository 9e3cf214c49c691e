"""What is said of a thing that stands in a box, or of one that is missing."""

from typing import NamedTuple


class Furnished(NamedTuple):
    """Something about a thing, or about one that is missing."""

    slug: str
    thing_id: str
    """Empty for what is missing."""
    text: str
    there_m: float | None = None
    needed_m: float | None = None
