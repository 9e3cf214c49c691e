"""Drippers: drops that fall on leaves, for animals that drink nothing else."""

from typing import Annotated, Any, Literal

from pydantic import Field

from husbandry.items.base import ByTheClock, Surroundings, Times
from husbandry.items.fields import PLACE, TIMER, ItemField
from husbandry.quantity import Kind, PlausibleRange

DRIP_L_H = PlausibleRange((0.02, 0.5), (0.005, 3.0))
"""What drippers let fall in an hour: a drop or two a second (common practice) [l/h]."""
DRIP_ON, DRIP_OFF = "09:00", "11:00"
"""Of a new one: while leaves dry again before the night (common practice)."""
NEW_DRIP_L_H = 0.1
"""Of a new one: a drop every two seconds (common practice) [l/h]."""


class Dripper(ByTheClock):
    """Water that drips onto leaves and is caught below."""

    kind: Literal["dripper"] = "dripper"
    l_per_h: Annotated[float, Field(gt=0, le=3)]
    """Water that it lets fall in an hour [l/h]."""

    fields = (
        *PLACE,
        ItemField(
            "l_per_h",
            "Water an hour",
            Kind.VOLUME,
            plausible=DRIP_L_H,
            what="dripper’s water an hour",
        ),
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
        return "dripper"
