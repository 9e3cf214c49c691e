"""Water of an enclosure under other care: each means tried for a day, and days without any.

Method: docs/methods/moisture.md.
"""

import math
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from husbandry.climate.misting import Marks, humidity
from husbandry.climate.moisture import Forcing, MoistBox, run, saturation, settle
from husbandry.planning.moisture import LEAST_EXCESS_K, STEP_S, STEPS, WATER_KG_M3, WETNESS, Damp
from husbandry.planning.request import hour_of

if TYPE_CHECKING:
    from husbandry.planning.predict import Outcome

FOG_ML_H = 100.0
DRY_ROOM, DAMP_ROOM = (20.0, 30.0), (24.0, 65.0)
"""A heated room in winter, and a damp summer's (common practice) [°C, %]."""


def otherwise(outcome: "Outcome") -> dict[str, tuple[float, float]]:
    """What each means would make of the humidity at the cool end, by the ends of day and night [%]: for the page, not planned in full."""
    damp = outcome.damp
    if damp is None:
        return {}
    enclosure, forcing, box, wetting = outcome.day.enclosure, damp.forcing, damp.box, damp.wetting
    excess = [max(air - around, LEAST_EXCESS_K) for air, around in zip(damp.places.middle, damp.places.room, strict=True)]
    order = list(WETNESS)
    at, more = order.index(wetting.ground), wetting.logged.air if wetting.logged else 1.0
    tried: dict[str, tuple[MoistBox, Forcing]] = {}
    if enclosure.mesh_share >= 0.1:
        covered = replace(enclosure, mesh_share=enclosure.mesh_share / 2)
        tried["half of the mesh covered"] = (
            box,
            replace(forcing, changes_per_h=tuple(more * covered.changes_per_h(k) for k in excess)),
        )
    vents = enclosure.vents
    if vents.low_area_m2 > 0 and vents.high_area_m2 > 0:
        shut = replace(enclosure, vents=replace(vents, low_area_m2=vents.low_area_m2 / 2, high_area_m2=vents.high_area_m2 / 2))
        tried["vents of half the area"] = box, replace(forcing, changes_per_h=tuple(more * shut.changes_per_h(k) for k in excess))
    for step, slug in ((1, "substrate a step wetter"), (-1, "substrate a step drier")):
        if box.ground_m2 > 0 and 0 <= at + step < len(order):
            kept = order[at + step]
            water = box.ground_kg * WATER_KG_M3[kept] / WATER_KG_M3[wetting.ground]
            tried[slug] = replace(box, wetness=box.wetness * WETNESS[kept] / WETNESS[wetting.ground], ground_kg=water), forcing
    if wetting.fogger is None:
        fog = tuple(FOG_ML_H / 3.6e6 if lit else 0.0 for lit in damp.places.lit)
        tried["a fogger by day"] = box, replace(forcing, fog_kg_s=fog)
    for slug, (room_c, pct) in (("a heated winter room", DRY_ROOM), ("a damp summer room", DAMP_ROOM)):
        vapour = pct / 100 * saturation(room_c)
        tried[slug] = box, replace(forcing, room_pa=tuple(min(vapour, saturation(around)) for around in damp.places.room))
    found = {}
    for slug, (other, acts) in tried.items():
        values = humidity(settle(other, acts, 2, damp.course.end), damp.places.cool)
        found[slug] = values[damp.day_n], values[damp.night_n]
    return found


LEFT_DAYS = 21


@dataclass(frozen=True)
class LeftAlone:
    """What becomes of an enclosure that nobody mists or pours, whose fogger stands still."""

    low_h: float | None
    """Until it falls below its lower mark, from its last misting, or from midnight where it is not misted [h]; None: not in three weeks."""
    ground_days: float | None
    """Until its substrate has lost half of its water [d]; None: it gains, or there is none."""
    deeper_low_h: float | None
    """The same with substrate of twice the depth [h]."""
    deeper_days: float | None


def left_alone(damp: Damp, marks: Marks) -> LeftAlone:
    """Days without mist, fog or poured water, from the middle of the night on, with the substrate as it then dries."""
    low_h, ground_days = _dries(damp, damp.box, marks)
    deeper = replace(damp.box, ground_kg=2 * damp.box.ground_kg)
    return LeftAlone(low_h, ground_days, *(_dries(damp, deeper, marks) if damp.box.ground_m2 else (low_h, None)))


def _dries(damp: Damp, box: MoistBox, marks: Marks) -> tuple[float | None, float | None]:
    still = replace(damp.forcing, mist_kg=(0.0,) * STEPS, fog_kg_s=(0.0,) * STEPS)
    state = replace(damp.course.end, ground_kg=box.ground_kg)
    last = max((hour_of(one.at) for one in damp.wetting.mistings), default=24.0)
    low_h: float | None = None
    ground_days: float | None = None
    for day in range(LEFT_DAYS):
        course = run(box, still, state, fine_s=STEP_S)
        if day == 1 and state.ground_kg > course.end.ground_kg:
            # What dries gives off less and less, in step with what is left: it halves as anything does that decays.
            ground_days = math.log(2) * state.ground_kg / (state.ground_kg - course.end.ground_kg)
        state = course.end
        under = marks.under(humidity(course, damp.places.cool))
        if low_h is None and under:
            low_h = 24 * day + (under[0] + 1) * 24 / STEPS + 24.0 - last
        if low_h is not None and day >= 1:
            break
    return low_h, ground_days
