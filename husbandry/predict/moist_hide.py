"""A moist hide through the day: how damp it is in it, and how long its moss lasts.

Method: docs/methods/moisture.md.
"""

import math
from dataclasses import dataclass

from husbandry.climate.moisture import evaporation_coefficient, saturation
from husbandry.climate.vapour import GAS_VAPOUR_J_KGK
from husbandry.items.furnishings import Hide
from husbandry.predict.moisture import DayMoisture

HIDE_CHANGES_PER_H = 1.0
"""Of the air of a moist hide with its enclosure (source: humidity A7: 0.2 to 2) [1/h]."""


def hide_pct(
    volume_m3: float,
    moss_m2: float,
    enclosure_pa: float,
    temp_c: float,
    changes_per_h: float = HIDE_CHANGES_PER_H,
) -> tuple[float, float]:
    """Humidity in a moist hide, and the water it loses [%, kg/d]: wet moss against the exchange of
    its air with the enclosure.
    """
    per_pa = 1 / (GAS_VAPOUR_J_KGK * (temp_c + 273.15))
    moss = evaporation_coefficient(temp_c, 3.0) / 3.6e9 * moss_m2
    vent = volume_m3 * changes_per_h / 3600 * per_pa
    full = saturation(temp_c)
    vapour = (vent * enclosure_pa + moss * full) / (vent + moss)
    return 100 * min(vapour, full) / full, vent * (vapour - enclosure_pa) * 86400


@dataclass(frozen=True)
class MoistHideDay:
    """A moist hide through the day."""

    pct: tuple[float, ...]
    lost_kg: float
    """Water that its moss loses in a day."""
    holds_kg: float
    """That wet moss over its floor holds."""


MOSS_KG_M2 = 4.0
"""Water in three centimetres of wrung, wet moss (from memory: bulk densities dry and moist)
[kg/m²].
"""


def moss_day(damp: DayMoisture) -> MoistHideDay | None:
    """The first moist hide through the day; None without one."""
    hide = next(
        (t for t in damp.request.items if isinstance(t, Hide) and t.moist and t.size_m), None
    )
    if hide is None or hide.size_m is None:
        return None
    volume = 0.6 * math.prod(hide.size_m)
    moss = 0.8 * hide.size_m[0] * hide.size_m[1]
    share = min(max(hide.at_m[0] / damp.request.enclosure.inside_m.length, 0.0), 1.0)
    left_warm = damp.places.warm[24] >= damp.places.cool[24]
    at = share if left_warm else 1 - share
    temps = [
        warm + at * (cool - warm)
        for warm, cool in zip(damp.places.warm, damp.places.cool, strict=True)
    ]
    both = [
        hide_pct(volume, moss, vapour, temp)
        for vapour, temp in zip(damp.series.vapour_pa, temps, strict=True)
    ]
    return MoistHideDay(
        tuple(pct for pct, _ in both), sum(kg for _, kg in both) / len(both), MOSS_KG_M2 * moss
    )
