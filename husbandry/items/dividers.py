"""What parts an enclosure: boards, clear panes, mesh, and curtains that an animal walks through."""

from typing import Any, Literal

from husbandry.items.base import Furnishing, Surroundings, Times
from husbandry.items.fields import ItemField

FORMS = {
    "board": "divider of board",
    "pane": "clear divider",
    "mesh": "divider of mesh",
    "curtain": "curtain of strips",
}
"""What a divider is, in words."""
REACHES_M = 0.02
"""A gap so small lets nothing through that is kept by a divider (design choice) [m]."""


class Divider(Furnishing):
    """A wall across the enclosure, from front to back and from the floor to the lid."""

    kind: Literal["divider"] = "divider"
    form: Literal["board", "pane", "mesh", "curtain"] = "board"

    fields = (*Furnishing.fields, ItemField("form", "What it is", choices=tuple(FORMS.items())))
    label = "divider"
    stem = "divider"
    usual_m = (0.006, 5.0, 5.0)
    is_body = False

    @property
    def name(self) -> str:
        """What keepers call it."""
        return FORMS[self.form]

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Stand a new one in the middle, through the substrate to the floor, up to the lid."""
        size = [cls.usual_m[0], round(around.depth_m, 3), round(around.height_m, 3)]
        return {"kind": kind, "at_m": around.middle(0.0), "size_m": size}

    @property
    def is_passable(self) -> bool:
        """Whether animals walk through it."""
        return self.form == "curtain"

    @property
    def is_seen_through(self) -> bool:
        """Whether animals see each other through it."""
        return self.form in {"pane", "mesh"}

    def gap_m(self, depth_m: float, height_m: float, substrate_m: float) -> float:
        """The widest gap that it leaves at a side, below, or under the lid [m]."""
        beside = (depth_m - self.size_m[1]) / 2 + abs(self.at_m[1] - depth_m / 2)
        below = self.at_m[2] - substrate_m  # what is in the substrate is no gap
        return max(beside, below, height_m - self.top_m, 0.0)
