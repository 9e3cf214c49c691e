"""The needs that every enclosure is judged by: a quantity at a place in a phase of the day, always
in this order.
"""

from dataclasses import dataclass
from enum import StrEnum

from husbandry.quantity import Kind


class NeedKey(StrEnum):
    """A need by its key in profiles, requests and plans."""

    SURFACE_DAY = "surface_day"
    WARM_AIR_DAY = "warm_air_day"
    COOL_AIR_DAY = "cool_air_day"
    WATER_DAY = "water_day"
    AIR_NIGHT = "air_night"
    UVI_DAY = "uvi_day"
    HUMIDITY_DAY = "humidity_day"
    HUMIDITY_NIGHT = "humidity_night"


HEAT_NEEDS = (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY)
"""What lamps and heaters by day are chosen for."""


@dataclass(frozen=True)
class NeedKind:
    """What a need is a need of."""

    key: NeedKey
    name: str
    place: str
    phase: str
    kind: Kind
    unit: str
    fresh_days: int
    """How long a reading of the present revision decides [days]."""
    plausible: str
    """Name of its row in `quantity.PLAUSIBLE`."""
    reading_sd: float
    """Of a usual instrument, with the error of its placing [unit; ln for UVI]."""


def in_sentence(name: str) -> str:
    """A need's name inside a sentence: UV keeps its capitals."""
    return name if name.startswith("UV") else name[0].lower() + name[1:]


_DAY, _NIGHT = "day", "night"
NEEDS: dict[NeedKey, NeedKind] = {
    kind.key: kind
    for kind in (
        NeedKind(
            NeedKey.SURFACE_DAY,
            "Surface",
            "under the lamp",
            _DAY,
            Kind.TEMPERATURE,
            "°C",
            14,
            "surface",
            1.0,
        ),
        NeedKind(
            NeedKey.WARM_AIR_DAY,
            "Warm air",
            "warm end, at its back",
            _DAY,
            Kind.TEMPERATURE,
            "°C",
            14,
            "air",
            0.5,
        ),
        NeedKind(
            NeedKey.COOL_AIR_DAY,
            "Cool air",
            "cool end, at its back",
            _DAY,
            Kind.TEMPERATURE,
            "°C",
            14,
            "air",
            0.5,
        ),
        NeedKind(
            NeedKey.WATER_DAY,
            "Water",
            "where it swims",
            _DAY,
            Kind.TEMPERATURE,
            "°C",
            14,
            "water",
            0.5,
        ),
        NeedKind(
            NeedKey.AIR_NIGHT,
            "Night air",
            "last hour of dark",
            _NIGHT,
            Kind.TEMPERATURE,
            "°C",
            14,
            "air",
            0.5,
        ),
        NeedKind(
            NeedKey.UVI_DAY,
            "UV index",
            "at its back, basking",
            _DAY,
            Kind.UVI,
            "UVI",
            60,
            "UV index",
            0.10,
        ),
        NeedKind(
            NeedKey.HUMIDITY_DAY,
            "Humidity",
            "cool end, day",
            _DAY,
            Kind.HUMIDITY,
            "%",
            3,
            "humidity",
            3.0,
        ),
        NeedKind(
            NeedKey.HUMIDITY_NIGHT,
            "Humidity",
            "cool end, night",
            _NIGHT,
            Kind.HUMIDITY,
            "%",
            3,
            "humidity",
            3.0,
        ),
    )
}
