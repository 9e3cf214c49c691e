"""Water of an enclosure under other care: each means tried for a day, and days without any.

Method: docs/methods/moisture.md.
"""

import math
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from husbandry.climate.misting import HumidityBounds, humidity
from husbandry.climate.moisture import Forcing, MoistureModel, run, saturation, settle
from husbandry.items.timers import hour_of
from husbandry.predict.moisture import (
    HALF_HOURS,
    LEAST_EXCESS_K,
    STEP_S,
    WATER_KG_M3,
    WETNESS,
    DayMoisture,
)

if TYPE_CHECKING:
    from husbandry.predict.predict import Prediction

FOG_ML_H = 100.0
"""What a usual fogger gives (common practice, no source) [ml/h]."""
DRY_ROOM, DAMP_ROOM = (20.0, 30.0), (24.0, 65.0)
"""A heated room in winter, and a damp summer's (common practice) [°C, %]."""


def otherwise(prediction: "Prediction") -> dict[str, tuple[float, float]]:
    """What each means would make of the humidity at the cool end, by the ends of day and night [%]:
    for the page, not planned in full.
    """
    damp = prediction.damp
    if damp is None:
        return {}
    heat_model, forcing, enclosure, wetting = (
        prediction.day.heat_model,
        damp.forcing,
        damp.enclosure,
        damp.wetting,
    )
    excess = [
        max(air - around, LEAST_EXCESS_K)
        for air, around in zip(damp.places.middle, damp.places.room, strict=True)
    ]
    order = list(WETNESS)
    at = order.index(wetting.substrate)
    more = wetting.logged.air if wetting.logged else 1.0
    tried: dict[str, tuple[MoistureModel, Forcing]] = {}
    if heat_model.mesh_share >= 0.1:
        covered = replace(heat_model, mesh_share=heat_model.mesh_share / 2)
        tried["half of the mesh covered"] = (
            enclosure,
            replace(forcing, changes_per_h=tuple(more * covered.changes_per_h(k) for k in excess)),
        )
    vents = heat_model.vents
    if vents.low_area_m2 > 0 and vents.high_area_m2 > 0:
        shut = replace(
            heat_model,
            vents=replace(
                vents, low_area_m2=vents.low_area_m2 / 2, high_area_m2=vents.high_area_m2 / 2
            ),
        )
        tried["vents of half the area"] = (
            enclosure,
            replace(forcing, changes_per_h=tuple(more * shut.changes_per_h(k) for k in excess)),
        )
    for step, slug in ((1, "substrate a step wetter"), (-1, "substrate a step drier")):
        if enclosure.substrate_m2 > 0 and 0 <= at + step < len(order):
            kept = order[at + step]
            water = enclosure.substrate_kg * WATER_KG_M3[kept] / WATER_KG_M3[wetting.substrate]
            tried[slug] = (
                replace(
                    enclosure,
                    wetness=enclosure.wetness * WETNESS[kept] / WETNESS[wetting.substrate],
                    substrate_kg=water,
                ),
                forcing,
            )
    return _with_fog_and_rooms(damp, enclosure, forcing, tried)


def _with_fog_and_rooms(
    damp: DayMoisture,
    enclosure: MoistureModel,
    forcing: Forcing,
    tried: dict[str, tuple[MoistureModel, Forcing]],
) -> dict[str, tuple[float, float]]:
    """Try fog, and other rooms, and tell what each would do."""
    if not damp.request.foggers:
        fog = tuple(FOG_ML_H / 3.6e6 if lit else 0.0 for lit in damp.places.lit)
        tried["a fogger by day"] = enclosure, replace(forcing, fog_kg_s=fog)
    for slug, (room_c, pct) in (
        ("a heated winter room", DRY_ROOM),
        ("a damp summer room", DAMP_ROOM),
    ):
        vapour = pct / 100 * saturation(room_c)
        tried[slug] = (
            enclosure,
            replace(
                forcing,
                room_pa=tuple(min(vapour, saturation(around)) for around in damp.places.room),
            ),
        )
    found = {}
    for slug, (other, acts) in tried.items():
        values = humidity(settle(other, acts, 2, damp.series.end), damp.places.cool)
        found[slug] = values[damp.day_n], values[damp.night_n]
    return found


LEFT_DAYS = 21
"""So long an enclosure is left to itself to see what it settles to (design choice) [days]."""


@dataclass(frozen=True)
class UntendedMoisture:
    """What becomes of an enclosure that nobody mists or pours, whose fogger stands still."""

    low_h: float | None
    """Until it falls below its lower mark, from its last misting, or from midnight where it is not
    misted [h]; None: not in three weeks.
    """
    substrate_days: float | None
    """Until its substrate has lost half of its water [d]; None: it gains, or there is none."""
    deeper_low_h: float | None
    """The same with substrate of twice the depth [h]."""
    deeper_days: float | None


def left_alone(damp: DayMoisture, marks: HumidityBounds) -> UntendedMoisture:
    """Days without mist, fog or poured water, from the middle of the night on, with the substrate
    as it then dries.
    """
    low_h, substrate_days = _dries(damp, damp.enclosure, marks)
    deeper = replace(damp.enclosure, substrate_kg=2 * damp.enclosure.substrate_kg)
    return UntendedMoisture(
        low_h,
        substrate_days,
        *(_dries(damp, deeper, marks) if damp.enclosure.substrate_m2 else (low_h, None)),
    )


def _dries(
    damp: DayMoisture, enclosure: MoistureModel, marks: HumidityBounds
) -> tuple[float | None, float | None]:
    nothing = (0.0,) * HALF_HOURS
    still = replace(damp.forcing, mist_kg=nothing, fog_kg_s=nothing, held_kg_s=(), held_pa=())
    state = replace(damp.series.end, substrate_kg=enclosure.substrate_kg)
    last = max((hour_of(one.at) for one in damp.wetting.mistings), default=24.0)
    low_h: float | None = None
    substrate_days: float | None = None
    for day in range(LEFT_DAYS):
        series = run(enclosure, still, state, fine_s=STEP_S)
        if day == 1 and state.substrate_kg > series.end.substrate_kg:
            # What dries gives off less and less, in step with what is left: it halves as anything
            # does that decays.
            substrate_days = (
                math.log(2) * state.substrate_kg / (state.substrate_kg - series.end.substrate_kg)
            )
        state = series.end
        under = marks.under(humidity(series, damp.places.cool))
        if low_h is None and under:
            low_h = 24 * day + (under[0] + 1) * 24 / HALF_HOURS + 24.0 - last
        if low_h is not None and day >= 1:
            break
    return low_h, substrate_days
