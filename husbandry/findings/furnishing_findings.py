"""What is said of an item that stands in an enclosure, or of one that is missing."""

from typing import NamedTuple

from husbandry.documents.result import Note


class FurnishingFinding(NamedTuple):
    """Something about an item, or about one that is missing."""

    slug: str
    item_id: str
    """Empty for what is missing."""
    text: str
    there_m: float | None = None
    needed_m: float | None = None

    def note(self) -> Note:
        """The same among an enclosure's notes."""
        known = self.there_m is not None and self.needed_m is not None
        values = {"there": self.there_m, "needed": self.needed_m} if known else {}
        return Note.model_validate(
            {
                "slug": f"furniture {self.slug}",
                "severity": "care",
                "text": self.text,
                "values": values,
            }
        )
