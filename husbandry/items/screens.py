"""Screens that keep cats and dogs out of an enclosure."""

from typing import Any, Literal

from husbandry.items.base import BaseItem, Surroundings, Times


class GuardScreen(BaseItem):
    """A frame of welded wire over the whole top, clipped or screwed down, above the lamps' guards.

    Its wires are 25 mm apart and take less light than a lamp's own spread: nothing is predicted of
    it (common practice, no source).
    """

    kind: Literal["screen"] = "screen"

    group = "Furniture"
    stem = "screen"

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Lay a new one on the top."""
        return {"kind": kind, "at_m": around.middle(around.height_m)}

    @property
    def name(self) -> str:
        """What keepers call it."""
        return "guard screen over the top"
