"""Fans that draw the enclosure's air out."""

from typing import Annotated, Any, Literal

from pydantic import Field

from husbandry.items.base import Surroundings, Timed, Times
from husbandry.items.fields import PLACE, TIMER, ItemField
from husbandry.quantity import Kind, PlausibleRange

FAN_L_H = PlausibleRange((500, 60_000), (50, 300_000))
"""Air that small fans move through a vent in an hour (common practice: a fan of 40 mm some 3 m³, one
of 80 mm some 20 m³ against a grille) [l/h].
"""
NEW_FAN_L_H = 3000.0
"""Of a new one: a fan of 40 mm behind a grille (common practice) [l/h]."""


class Fan(Timed):
    """A small fan in a vent, by a timer or without rest."""

    kind: Literal["fan"] = "fan"
    air_l_h: Annotated[float, Field(gt=0, le=300_000)]
    """Air that it moves through its vent in an hour [l/h]."""

    fields = (
        *PLACE,
        ItemField(
            "air_l_h", "Air an hour", Kind.VOLUME, plausible=FAN_L_H, what="fan’s air an hour"
        ),
        *TIMER,
    )
    group = "Moisture"
    stem = "fan"

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Set a new one high in a side, for two hours after noon."""
        place = [0.02, round(around.depth_m / 2, 3), round(0.85 * around.height_m, 3)]
        return {"kind": kind, "at_m": place, "air_l_h": NEW_FAN_L_H, "on": "13:00", "off": "15:00"}

    @property
    def name(self) -> str:
        """What keepers call it."""
        return "fan"

    @property
    def air_m3_s(self) -> float:
        """Air that it moves while it runs [m³/s]."""
        return self.air_l_h / 3.6e6
