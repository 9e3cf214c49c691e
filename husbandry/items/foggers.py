"""Foggers."""

from typing import Annotated, Any, Literal

from pydantic import Field

from husbandry.items.base import ByTheClock, Surroundings, Times
from husbandry.items.fields import PLACE, TIMER, ItemField
from husbandry.quantity import Kind, PlausibleRange

FOG_L_H = PlausibleRange((0.02, 0.5), (0.001, 2.0))
"""What foggers for enclosures turn into fog in an hour (common practice) [l/h]."""
HUMIDISTAT_PCT = PlausibleRange((40.0, 98.0), (10.0, 100.0))
"""Humidity at which a fogger is switched off (common practice) [%]."""


class Fogger(ByTheClock):
    """Cold fog from water, by a timer and a humidistat."""

    kind: Literal["fogger"] = "fogger"
    l_per_h: Annotated[float, Field(gt=0, le=2)]
    """Water that it turns into fog [l/h]."""
    humidistat_pct: Annotated[float, Field(ge=10, le=100)] | None = None
    """Humidity at the cool end at which it is switched off; None without a humidistat [%]."""

    fields = (
        *PLACE,
        ItemField(
            "l_per_h",
            "Water an hour",
            Kind.VOLUME,
            plausible=FOG_L_H,
            what="fogger’s water an hour",
        ),
        ItemField(
            "humidistat_pct",
            "Humidistat: off at",
            Kind.HUMIDITY,
            plausible=HUMIDISTAT_PCT,
            required=False,
            what="humidity at which the fogger is switched off",
        ),
        *TIMER,
    )
    group = "Moisture"
    stem = "fogger"

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Set a new one in a corner, for two hours of the morning."""
        place = [0.05, 0.05, round(around.substrate_m, 3)]
        return {"kind": kind, "at_m": place, "l_per_h": 0.1, "on": "07:00", "off": "09:00"}

    @property
    def name(self) -> str:
        """What keepers call it."""
        return "fogger"
