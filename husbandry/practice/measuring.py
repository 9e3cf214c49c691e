"""Instruments on a shelf: each costs minutes, has its noise and offset, and its own trap.

Figures of the traps are common practice, no source.
"""

import functools
import random
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from husbandry.derivation import Document
from husbandry.documents.request_json import to_data
from husbandry.practice.care_truth import book_words, box_words, watched_words
from husbandry.practice.cases import PracticeCase
from husbandry.predict.predict import EnclosurePoint
from husbandry.quantity import Kind
from husbandry.simulation.instruments import InstrumentSet
from husbandry.simulation.logger import HiddenDamp
from husbandry.species.needs import NeedKey
from husbandry.tables import rows

Moment = Literal["half_hour", "two_hours", "six_hours", "night"]
PlaceName = Literal["basking", "lifted", "warm", "cool", "room"]
MOMENTS: dict[Moment, tuple[str, int]] = {
    "half_hour": ("after half an hour of light", 0),
    "two_hours": ("after two hours of light", 5),
    "six_hours": ("after six hours of light", 10),
    "night": ("in the last hour of the night", 20),
}
"""In words, and the minutes that waiting for each costs, once (design choice)."""
PLACES: dict[PlaceName, str] = {
    "basking": "where it basks",
    "lifted": "where it basks, the mesh taken away",
    "warm": "at the warm end, at its back",
    "cool": "at the cool end, at its back",
    "room": "in the room, a metre from the enclosure",
}
LOOKS = frozenset({"thermostat", "tape", "watch", "feeding_book", "supplement_boxes"})
"""What shows the same at any hour: nobody waits for it."""
SURFACE_SHARE = {"half_hour": 0.35, "two_hours": 0.65, "six_hours": 0.97}
"""Of its rise that a stone has made by then (common practice) [1]."""
AIR_SHARE = {"half_hour": 0.5, "two_hours": 0.8, "six_hours": 0.99}
"""Of its rise that air has made by then (common practice) [1]."""
GLASS_SHARE = 0.25
"""Of the difference to the room that the glass takes on (common practice) [1]."""
BEAM_K = 7.0
"""By which a bare probe in a beam reads too high (common practice) [K]."""
SUN_SHARE = 0.72
"""What a hygrometer that is warmed by six kelvin shows of the humidity (common practice) [1]."""
TILTED = 0.55
"""What a meter tilted by 55 degrees shows (cosine; arithmetic) [1]."""
HYGROMETER_SD_PCT = 1.5
"""Of the trainee's own hygrometer (common practice) [%]."""


@dataclass(frozen=True)
class ShelfInstrument:
    """An instrument that may be taken."""

    slug: str
    name: str
    minutes: int
    careless: str
    """How it is used wrong; empty where it cannot be."""
    warning: str


@functools.cache
def shelf() -> Mapping[str, ShelfInstrument]:
    """What lies on the shelf."""
    return {
        row["slug"]: ShelfInstrument(
            row["slug"], row["name"], int(row["minutes"]), row["careless"], row["warning"]
        )
        for row in rows("husbandry.practice", "instruments.csv")
    }


class Measurement(Document):
    """Something that a trainee measured."""

    instrument: str
    place: PlaceName
    moment: Moment
    careless: bool = False
    value: float
    """What it showed [°C, %, UVI, m]; of two side by side the keeper's less the trainee's [K, %]."""
    words: str = ""
    """What was seen or read, where it is no number."""
    kind: Kind | None = None
    """Of its number."""
    minutes: int


def minutes_of(done: tuple[Measurement, ...], instrument: str, moment: Moment) -> int:
    """What a measurement would cost; one waits for an hour of the day once."""
    waited = {one.moment for one in done if one.instrument not in LOOKS}
    wait = 0 if moment in waited or instrument in LOOKS else MOMENTS[moment][1]

    return shelf()[instrument].minutes + wait


def measure(
    case: PracticeCase,
    done: tuple[Measurement, ...],
    instrument: str,
    place: PlaceName,
    moment: Moment,
    *,
    careless: bool = False,
) -> Measurement:
    """Use an instrument.

    Parameters
    ----------
    done : tuple of Measurement
        What was measured before.
    careless : bool
        It is used as its trap has it.

    Raises
    ------
    ValueError
        Where it shows nothing there: by night nothing is lit.
    """
    words = _words(case, instrument, careless=careless)

    if words:
        return Measurement(
            instrument=instrument,
            place=place,
            moment=moment,
            careless=careless and bool(shelf()[instrument].careless),
            value=0.0,
            words=words,
            minutes=minutes_of(done, instrument, moment),
        )
    taken = InstrumentSet(case.number * 7 + case.level, taken=10 * len(done))
    careless = careless and bool(shelf()[instrument].careless)
    value, kind = _shown(case, taken, instrument, place, moment, careless=careless)

    return Measurement(
        instrument=instrument,
        place=place,
        moment=moment,
        careless=careless,
        value=round(value, 2 if kind is Kind.UVI else 1),
        kind=kind,
        minutes=minutes_of(done, instrument, moment),
    )


def _words(case: PracticeCase, instrument: str, *, careless: bool) -> str:
    """What a look tells; empty for what shows a number."""
    if instrument == "watch":
        return watched_words(case.causes)

    if instrument == "feeding_book":
        return book_words(case.base, case.causes, asked=careless)

    if instrument == "supplement_boxes":
        return box_words(case.base, case.causes, asked=careless)

    return _thermostat_words(case) if instrument == "thermostat" else ""


def _thermostat_words(case: PracticeCase) -> str:
    """What the display says, and whether the heater stops."""
    if any("thermostat" in item for item in to_data(case.base.request)["items"]):
        if "stuck_on" in case.causes:
            return "It shows more than it is set to, and the heater is hot all the same."
        return "It holds what it is set to: the heater goes on and off."
    return "There is none."


def _shown(
    case: PracticeCase,
    taken: InstrumentSet,
    instrument: str,
    place: PlaceName,
    moment: Moment,
    *,
    careless: bool,
) -> tuple[float, Kind]:
    noise = random.Random(f"{case.key} {instrument} {taken.taken}")

    if instrument == "infrared":
        return _infrared(case, taken, place, moment, careless=careless), Kind.TEMPERATURE

    if instrument == "probe":
        return _probe(case, taken, place, moment, careless=careless), Kind.TEMPERATURE

    if instrument == "uv":
        if moment == "night" or place == "room":
            raise ValueError("A UV meter shows something only under a lit lamp.")
        value = taken.uv_index(case.true.truth, point_of(case, place))
        value *= 1.0 if place == "lifted" else case.true.uv_share
        return value * (TILTED if careless else 1.0), Kind.UVI

    if instrument == "hygrometer":
        if place == "room":
            return case.true.request.room.rh_pct, Kind.HUMIDITY
        value = _humidity(case, moment) + noise.gauss(0.0, HYGROMETER_SD_PCT)
        return min(max(value * (SUN_SHARE if careless else 1.0), 1.0), 100.0), Kind.HUMIDITY

    if instrument == "tape":
        return case.true.request.enclosure.inside_m.length, Kind.LENGTH

    if instrument == "keeper_thermometer":
        return case.thermometer_k + noise.gauss(0.0, 0.4), Kind.TEMPERATURE_DIFFERENCE

    return case.hygrometer_pct + noise.gauss(0.0, 2.0), Kind.HUMIDITY


def point_of(case: PracticeCase, place: PlaceName) -> EnclosurePoint:
    """Where a place lies in the enclosure; the room is no place in it."""
    believed = case.true.believed

    if place in {"basking", "lifted"}:
        return believed.basking
    x, z = believed.warm_point if place == "warm" else believed.cool_point

    return EnclosurePoint(x, believed.basking.y_m, z)


def _room_c(case: PracticeCase, moment: Moment) -> float:
    """The room as it really is [°C]."""
    room = case.true.request.room
    return room.night_c if moment == "night" else room.day_c


def _warming(day: float, night: float, moment: Moment, shares: Mapping[str, float]) -> float:
    """What a place has come to by then, from the night's temperature to the day's [°C]."""
    return night if moment == "night" else night + shares[moment] * (day - night)


def _infrared(
    case: PracticeCase, taken: InstrumentSet, place: PlaceName, moment: Moment, *, careless: bool
) -> float:
    if place == "room":
        return _room_c(case, moment)  # a wall of the room
    point = point_of(case, place)
    day = taken.infrared_c(case.true.truth, point.x_m, point.y_m)
    night = case.true.truth.air_c(point.x_m, point.z_m, night=True)
    value = _warming(day, night, moment, SURFACE_SHARE)

    if not careless:
        return value
    room = case.true.request.room
    around = room.night_c if moment == "night" else room.day_c

    return around + GLASS_SHARE * (value - around)


def _probe(
    case: PracticeCase, taken: InstrumentSet, place: PlaceName, moment: Moment, *, careless: bool
) -> float:
    if place == "room":
        return _room_c(case, moment) + taken.probe_noise_k
    point = point_of(case, place)
    truth = case.true.truth
    night = taken.probe_c(truth, point.x_m, point.z_m, night=True)

    if moment == "night":
        return night
    day = taken.probe_c(truth, point.x_m, point.z_m)
    beam = BEAM_K if careless and place != "cool" else 0.0

    return _warming(day, night, moment, AIR_SHARE) + beam


def _humidity(case: PracticeCase, moment: Moment) -> float:
    """The true humidity of the cool end by day or by night [%]."""
    damp = case.true.believed.damp

    if damp is None:
        return case.true.request.room.rh_pct
    key = NeedKey.HUMIDITY_NIGHT if moment == "night" else NeedKey.HUMIDITY_DAY

    return HiddenDamp(damp, case.true.seed).pct(key, 0.0)
