"""What holds food, or substrate of its own: food dishes and dig boxes."""

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from pydantic import Field

from husbandry.errors import Problem
from husbandry.items.base import Furnishing, Surroundings, Times
from husbandry.items.fields import ItemField
from husbandry.quantity import Kind

FILLED = 0.85
"""Of a new dig box's height that is filled, so that nothing is thrown out (common practice) [1]."""
HOLDS = (
    ("food", "food"),
    ("greens", "greens"),
    ("calcium", "calcium supplement"),
    ("cuttlebone", "a cuttlebone"),
)


class FoodDish(Furnishing):
    """A cup, a slate or a rack that food or calcium lies on, so that none is taken off the ground."""

    kind: Literal["food_dish"] = "food_dish"
    holds: Literal["food", "greens", "calcium", "cuttlebone"] = "food"

    fields = (*Furnishing.fields, ItemField("holds", "Holds", choices=HOLDS))
    label = "food dish"
    stem = "food"
    usual_m = (0.12, 0.1, 0.02)

    @property
    def name(self) -> str:
        """What keepers call it, by what it holds."""
        named = {"calcium": "calcium dish", "cuttlebone": "cuttlebone"}
        return named.get(self.holds, self.label)


class DigBox(Furnishing):
    """A box of deeper or damper substrate than the rest: to dig in, and to lay eggs in."""

    kind: Literal["dig_box"] = "dig_box"
    filled_m: Annotated[float, Field(gt=0, le=1.5)]
    """Depth of the substrate in it [m]."""
    moist: bool = True
    """Whether its substrate is damp enough to hold a tunnel."""

    fields = (
        *Furnishing.fields,
        ItemField("filled_m", "Substrate in it, depth", Kind.LENGTH),
        ItemField("moist", "Damp enough to hold a tunnel", is_flag=True, required=False),
    )
    label = "dig box"
    stem = "box"
    usual_m = (0.35, 0.25, 0.2)

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Stand a new one in the middle, let into the substrate and filled nearly to its rim."""
        made = super().begin(kind, around, times)
        return made and {**made, "filled_m": round(FILLED * made["size_m"][2], 3)}

    @classmethod
    def base_m(cls, around: Surroundings, high_m: float) -> float:
        """Let into the substrate, as far as that goes [m]."""
        return max(around.substrate_m - high_m, 0.0)

    def problems(self, at: str, around: Surroundings) -> Iterator[Problem]:
        """It holds no more than up to its rim."""
        yield from super().problems(at, around)
        if self.filled_m > self.size_m[2]:
            reason = f"the box is {self.size_m[2]:g} m high, and holds no more than that"
            yield Problem(f"{at}/filled_m", reason)
