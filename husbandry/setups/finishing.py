"""What is settled once heat and light stand: a heater in the water, and how the enclosure is kept
damp: how wet its substrate is, when it is misted, how far its vents stand open.
"""

import itertools
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from husbandry.advise.context import added_patch
from husbandry.advise.furniture import dripper_over_leaves
from husbandry.documents.enclosure import Misting
from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch, from_data, to_data
from husbandry.findings.pets import MESH_TOP, OPEN_TOP, new_screen, pet_notes
from husbandry.items.drippers import Dripper
from husbandry.predict.humidity import (
    BY_HAND,
    HUMIDITY,
    WATER_HAND_ML,
    clock,
    damp_notes,
    timetable_of,
)
from husbandry.predict.need_states import AnimalNeeds
from husbandry.predict.pool_water import heating_for
from husbandry.predict.predict import Prediction, predict
from husbandry.setups.candidates import DAY, NIGHT
from husbandry.species.needs import NeedKey

FIRST_WETNESS: dict[str, tuple[str, ...]] = {
    "even and dry": ("dry", "dry top", "damp", "wet"),
    "dry by day, damp by night": ("dry top", "dry", "damp", "wet"),
    "wave": ("dry top", "damp", "dry", "wet"),
    "even and damp": ("damp", "wet", "dry top", "dry"),
    "water": ("damp", "wet", "dry top", "dry"),
}
"""Wetness of the substrate in the order in which it is tried, by the rhythm of its moisture (design
choice).
"""
MISTED_SHARES = (0.6, 1.4)
"""Of the water that the best timetable gives, tried beside it (design choice) [1]."""
FOG_L_H = (0.02, 0.05, 0.1, 0.2, 0.4)
"""What foggers give, the weakest first (common practice) [l/h]."""
ALWAYS = ("00:00", "23:59")
"""Hours of what runs day and night."""
BUT_MIDDAY = ("14:00", "11:00")
"""Hours of a fogger that lets the air fall once a day (common practice, no source)."""
HELD_SHARE, HELD_MOST_PCT = 0.4, 95.0
"""Of a range of humidity, from its lower end, where a humidistat is set; no higher than it can tell
(design choice, common practice) [1, %].
"""
PUMP_ML_S, TANK_L = 4.0, 5.0
"""Of a small misting pump (common practice) [ml/s, l]."""
OF_THE_MEANS = frozenset({"fogger", "dries fast", "much by hand", "wet panes"})
"""What is said of a fogger, of animals that dry through their skin, and of work, however well it is
kept (design choice).
"""
SET_STEP_C = 0.5
"""To which a water heater's thermostat is set (common practice) [°C]."""


@dataclass(frozen=True)
class _Damp:
    """A way of keeping it damp, and how far it misses."""

    request: Request
    missed: float
    said: int
    """Findings of its air and its water."""
    effort: float

    @property
    def rank(self) -> tuple[float, int, float]:
        """Less is better: ranges first, then what is said of it, then the work."""
        return round(self.missed, 3), self.said, self.effort


def with_water_heater(request: Request, needs: AnimalNeeds) -> Request:
    """A heater in the pool where the room leaves the water too cold."""
    target = needs.targets.get(NeedKey.WATER_DAY)
    if target is None:
        return request
    prediction = predict(request, needs.position(request))
    water = prediction.pool_day
    if water is None or water.day_c >= target.low_value:
        return request
    aim = round(target.aim() / SET_STEP_C) * SET_STEP_C
    heating = heating_for(water, aim, target.limit_high.value if target.limit_high else None)
    if heating is None:
        return request
    data = to_data(request)
    for item in data["items"]:
        if item["id"] == water.item.id:
            item |= {"heater_w": heating.watts, "held_c": aim}
            if heating.heaters > 1:
                item["heaters"] = heating.heaters

    return from_data(data)


def with_screen(request: Request) -> Request:
    """A guard screen over the top where cats or dogs of the house reach into it."""
    slugs = {note.slug for note in pet_notes(request)}
    if not slugs & {OPEN_TOP, MESH_TOP}:
        return request
    return apply_patch(request, added_patch(new_screen(request)))


def with_moisture(request: Request, needs: AnimalNeeds) -> tuple[Request, float]:
    """The least work that keeps it damp, and by how much it misses in all [range widths].

    Substrate from the usual wetness on, then misted as its species is; the vents stay as they are.
    """
    keys = [key for key in HUMIDITY if key in needs.targets]
    if not keys or needs.profile.habit == "aquatic":
        return request, 0.0
    drips = any(isinstance(item, Dripper) and not item.buried for item in request.items)
    if needs.profile.water.drops and not drips:
        request = apply_patch(request, added_patch(dripper_over_leaves(request)))
    best: _Damp | None = None
    for found in _ways(request, needs):
        if best is None or found.rank < best.rank:
            best = found
        if best.rank[:2] == (0.0, 0):
            break

    return (request, 0.0) if best is None else (best.request, best.missed)


def _ways(request: Request, needs: AnimalNeeds) -> Iterator[_Damp]:
    """Each wetness without mistings, then with the best timetable, and with less or more water at
    its times where something is said of that.
    """
    amphibian = needs.profile.amphibian and needs.profile.moisture.rhythm != "even and dry"
    order = FIRST_WETNESS["even and damp" if amphibian else needs.profile.moisture.rhythm]
    loose = request.enclosure.substrate.is_loose
    for n, wetness in enumerate(order if loose else ("dry",)):
        for share in (0.0, 1.0, *MISTED_SHARES):
            found = _kept(request, needs, wetness, share)
            if found is None:
                break
            tried, prediction = found
            way = _damp(tried, prediction, needs, n + 2.0 * (share > 0))
            yield way
            if share == 1.0 and not way.said:
                break
    nightly = _too_dry(request, needs, order[0], NeedKey.HUMIDITY_NIGHT)
    daily = _too_dry(request, needs, order[0], NeedKey.HUMIDITY_DAY)
    once = DAY if daily and not nightly else NIGHT if nightly and not daily else ALWAYS
    hours = dict.fromkeys((once, BUT_MIDDAY, ALWAYS))
    for wetness, times in itertools.product(order[:2] if loose else ("dry",), hours):
        for litres in FOG_L_H:
            tried = _with_wetting(request, {"substrate": wetness})
            tried = _with_fogger(tried, litres, times, _held_pct(needs, times))
            prediction = predict(tried, needs.position(tried))
            yield _damp(tried, prediction, needs, 10.0 + litres)


def _damp(request: Request, prediction: Prediction, needs: AnimalNeeds, effort: float) -> _Damp:
    """A way of keeping it damp, as it is judged."""
    keys = [key for key in HUMIDITY if key in needs.targets]
    timetable = timetable_of(prediction, needs.targets, needs.profile)
    notes = damp_notes(prediction, needs.targets, needs.profile, timetable)
    said = sum(note.slug not in OF_THE_MEANS for note in notes)
    return _Damp(request, _missed(prediction, needs, keys), said, effort)


def _too_dry(request: Request, needs: AnimalNeeds, wetness: str, key: NeedKey) -> bool:
    """Whether it is too dry by day or by night when it is kept as usual."""
    target = needs.targets.get(key)
    found = _kept(request, needs, wetness, 0.0)
    if target is None or found is None:
        return False
    value = found[1].centre(key)
    return value is not None and value < target.low_value


def _held_pct(needs: AnimalNeeds, times: tuple[str, str]) -> float:
    """Humidity at which a fogger that runs at those hours is switched off: in the lower part of what is
    needed then [%].
    """
    keys = {DAY: (NeedKey.HUMIDITY_DAY,), NIGHT: (NeedKey.HUMIDITY_NIGHT,)}.get(times, HUMIDITY)
    targets = [needs.targets[key] for key in keys if key in needs.targets]
    low = max(target.low_value for target in targets)
    high = min([target.high_value for target in targets] + [HELD_MOST_PCT])
    return round(min(low + HELD_SHARE * max(high - low, 0.0), HELD_MOST_PCT))


def _with_fogger(
    request: Request, litres_per_h: float, times: tuple[str, str], held_pct: float
) -> Request:
    """A fogger in the far corner, by a timer and a humidistat."""
    data = to_data(request)
    inside = data["enclosure"]["inside_m"]
    substrate = data["enclosure"]["substrate"]["depth_m"]
    data["items"].append(
        {
            "id": "fogger-1",
            "kind": "fogger",
            "at_m": [round(inside["length"] - 0.05, 3), 0.05, round(substrate, 3)],
            "l_per_h": litres_per_h,
            "humidistat_pct": held_pct,
            "on": times[0],
            "off": times[1],
        }
    )

    return from_data(data)


def _kept(
    request: Request, needs: AnimalNeeds, wetness: str, misted_share: float
) -> tuple[Request, Prediction] | None:
    """Kept so, with that share of the water of the best timetable; None where there is none."""
    tried = _with_wetting(request, {"substrate": wetness})
    prediction = predict(tried, needs.position(tried))
    if not misted_share:
        return tried, prediction
    timetable = timetable_of(prediction, needs.targets, needs.profile)
    if timetable is None or timetable.each_kg <= 0:
        return None
    each = max(float(round(1000 * timetable.each_kg * misted_share)), 1.0)
    mistings = [Misting(at=clock(hour), ml=each).model_dump() for hour in timetable.hours]
    wetting: dict[str, Any] = {"substrate": wetness, "mistings": mistings}
    if len(mistings) > BY_HAND or each * len(mistings) > WATER_HAND_ML:
        wetting |= {"nozzles_ml_s": PUMP_ML_S, "tank_l": TANK_L}
    tried = _with_wetting(request, wetting)

    return tried, predict(tried, needs.position(tried))


def _with_wetting(request: Request, wetting: dict[str, Any]) -> Request:
    data = to_data(request)
    data["enclosure"]["wetting"] = wetting
    return from_data(data)


def _missed(prediction: Prediction, needs: AnimalNeeds, keys: list[NeedKey]) -> float:
    """How far humidity lies outside its ranges in all [range widths]."""
    missed = 0.0
    for key in keys:
        value = prediction.centre(key)
        if value is not None:
            missed += needs.targets[key].shortfall(value)
    return missed
