"""Drippers: drops that fall on leaves, for animals that drink nothing else."""

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from pydantic import Field

from husbandry.errors import Problem
from husbandry.items.base import ByTheClock, Surroundings, Times
from husbandry.items.fields import PLACE, TIMER, ItemField
from husbandry.quantity import Kind, PlausibleRange

DRIP_L_H = PlausibleRange((0.02, 0.5), (0.005, 3.0))
"""What drippers let fall in an hour: a drop or two a second (common practice) [l/h]."""
DRIP_ON, DRIP_OFF = "09:00", "11:00"
"""Of a new one: while leaves dry again before the night (common practice)."""
NEW_DRIP_L_H = 0.1
"""Of a new one: a drop every two seconds (common practice) [l/h]."""


SPILT = 0.3
"""Of what a dripper lets fall, what wets leaves and substrate; a dish catches the rest (design
choice) [1].
"""


class Dripper(ByTheClock):
    """Water that drips onto leaves and is caught below, or seeps from a line in the substrate."""

    kind: Literal["dripper"] = "dripper"
    l_per_h: Annotated[float, Field(gt=0, le=3)]
    """Water that it lets fall in an hour [l/h]."""
    buried: bool = False
    """Whether it lies in the substrate and waters that alone."""

    fields = (
        *PLACE,
        ItemField(
            "l_per_h",
            "Water an hour",
            Kind.VOLUME,
            plausible=DRIP_L_H,
            what="dripper’s water an hour",
        ),
        ItemField("buried", "Lies in the substrate", is_flag=True, required=False),
        *TIMER,
    )
    group = "Moisture"
    stem = "dripper"

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Hang a new one under the lid, for two hours of the morning."""
        place = around.middle(round(0.9 * around.height_m, 3))
        return {
            "kind": kind,
            "at_m": place,
            "l_per_h": NEW_DRIP_L_H,
            "on": DRIP_ON,
            "off": DRIP_OFF,
        }

    @property
    def name(self) -> str:
        """What keepers call it."""
        return "buried watering line" if self.buried else "dripper"

    @property
    def wets_l_h(self) -> float:
        """Water that stays in the enclosure while it runs [l/h]."""
        return self.l_per_h if self.buried else SPILT * self.l_per_h

    def problems(self, at: str, around: Surroundings) -> Iterator[Problem]:
        """A buried line lies in the substrate."""
        yield from super().problems(at, around)
        if self.buried and self.at_m[2] > around.substrate_m:
            deep = f"the substrate is {around.substrate_m:g} m deep"
            yield Problem(f"{at}/at_m/2", f"a buried line lies in the substrate: {deep}")
