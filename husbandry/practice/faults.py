"""What can be wrong with an enclosure: how it is broken, and what mends it."""

import functools
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data, to_data
from husbandry.enclosure.equipment import HEATERS, UV_LAMPS
from husbandry.errors import DocumentError
from husbandry.species.needs import NeedKey
from husbandry.tables import rows

NOTHING = "nothing"
STRENGTHS = (1.0, 1.6, 2.4)
"""How hard a fault is made until a need is missed (design choice) [1]."""
HEAT_K, HEAT_SHARE = 4.0, 0.25
"""By which a thermostat is set wrong, and a lamp's power differs (design choice) [K, 1]."""
NIGHT_K, ROOM_K = 5.0, 4.0
"""By which a night is colder and a room warmer than was said (design choice) [K]."""
OLD, NEARER_M = 2.2, 0.05
"""Over the hours for which a lamp keeps its UVB, and by which one is lowered (design choice) [1, m].
"""
DAMP = frozenset({NeedKey.HUMIDITY_DAY, NeedKey.HUMIDITY_NIGHT})


@dataclass(frozen=True)
class CauseSpec:
    """Something that may be wrong, with its words."""

    slug: str
    label: str
    remedy: str
    shown_by: str
    place: str
    when: str
    page: str
    """The help page that explains it."""
    harm: str


@functools.cache
def causes() -> Mapping[str, CauseSpec]:
    """Every cause, by slug."""
    return {row["slug"]: CauseSpec(**row) for row in rows("husbandry.practice", "causes.csv")}


Breaks = Callable[[dict[str, Any], float], None]


def _heated(data: dict[str, Any], sign: float, hard: float) -> None:
    """Day heat turned up or down: at its thermostat where it has one, else its power."""
    for item in data["items"]:
        if not item.get("power_w") or item["kind"] in UV_LAMPS or item["kind"] not in HEATERS:
            continue
        held = item.get("thermostat")
        if held is not None:
            held["set_c"] = round(held["set_c"] + sign * hard * HEAT_K, 1)
            if sign > 0:
                item["power_w"] = round(item["power_w"] * (1 + hard * HEAT_SHARE), 0)
        else:
            item["power_w"] = round(item["power_w"] * (1 + sign * hard * HEAT_SHARE), 0)


def _heat_low(data: dict[str, Any], hard: float) -> None:
    _heated(data, -1.0, hard)


def _heat_high(data: dict[str, Any], hard: float) -> None:
    _heated(data, 1.0, hard)


def _night_cold(data: dict[str, Any], hard: float) -> None:
    data["room"]["night_c"] = round(data["room"]["night_c"] - hard * NIGHT_K, 1)
    for item in data["items"]:
        held = item.get("thermostat")
        if held is not None and item.get("on") is None:
            held["set_c"] = round(held["set_c"] - 0.5 * hard * NIGHT_K, 1)


def _room_hot(data: dict[str, Any], hard: float) -> None:
    for part in ("day_c", "night_c", "summer_max_c"):
        data["room"][part] = round(data["room"][part] + hard * ROOM_K, 1)


def _uv_old(data: dict[str, Any], hard: float) -> None:
    for item in data["items"]:
        if item["kind"] in UV_LAMPS:
            item["hours_run"] = round(hard * OLD * UV_LAMPS[item["kind"]].t70_h)


def _uv_near(data: dict[str, Any], hard: float) -> None:
    for item in data["items"]:
        if item["kind"] in UV_LAMPS:
            x, y, z = item["at_m"]
            item["at_m"] = [x, y, round(z - hard * NEARER_M, 3)]
            item["above_lid"] = False


def _air_dry(data: dict[str, Any], hard: float) -> None:
    wetting = data["enclosure"].get("wetting") or {}
    data["enclosure"]["wetting"] = {**wetting, "substrate": "dry", "mistings": []}
    data["enclosure"]["vents"] = {
        name: round(min(value * 2 * hard, 5000), 1) if name.endswith("cm2") else value
        for name, value in data["enclosure"]["vents"].items()
    }


def _stuck_on(data: dict[str, Any], hard: float) -> None:
    """Heaters that run by night as well lose their thermostat."""
    for item in data["items"]:
        held = item.get("thermostat")
        if held is not None and item.get("on") is None:
            del item["thermostat"]
            item["power_w"] = round(item["power_w"] * (1 + (hard - 1) * HEAT_SHARE), 0)


BREAKS: dict[str, Breaks] = {
    "heat_low": _heat_low,
    "heat_high": _heat_high,
    "night_cold": _night_cold,
    "room_hot": _room_hot,
    "uv_old": _uv_old,
    "uv_near": _uv_near,
    "air_dry": _air_dry,
    "stuck_on": _stuck_on,
}
"""Faults of the enclosure; those of instruments are not in it."""
MISSES: dict[str, tuple[frozenset[NeedKey], float]] = {
    "heat_low": (frozenset({NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY}), -1.0),
    "heat_high": (frozenset({NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY}), 1.0),
    "night_cold": (frozenset({NeedKey.AIR_NIGHT}), -1.0),
    "room_hot": (frozenset({NeedKey.COOL_AIR_DAY}), 1.0),
    "uv_old": (frozenset({NeedKey.UVI_DAY}), -1.0),
    "uv_near": (frozenset({NeedKey.UVI_DAY}), 1.0),
    "air_dry": (DAMP, -1.0),
    "stuck_on": (frozenset({NeedKey.AIR_NIGHT}), 1.0),
    "uv_mesh": (frozenset({NeedKey.UVI_DAY}), -1.0),
}
"""Which needs each misses, and in which direction: by that it is found."""


def broken(request: Request, cause: str, hard: float) -> Request | None:
    """An enclosure with a fault of some strength; None where that cannot be built."""
    data = to_data(request)
    BREAKS[cause](data, hard)

    try:
        return from_data(data)
    except DocumentError:
        return None


def mended(right: Request, now: Request, cause: str, hard: float) -> Request:
    """What an enclosure is after a remedy: as it was right where that was its fault, else changed
    as much the other way.

    Parameters
    ----------
    right : Request
        The enclosure before any fault.
    now : Request
        As it is.
    """
    if cause not in BREAKS:
        return now
    opposite = {"heat_low": "heat_high", "heat_high": "heat_low"}.get(cause)
    data, good = to_data(now), to_data(right)

    if cause in {"heat_low", "heat_high"} and _same_heat(data, good) and opposite is not None:
        return broken(now, opposite, hard) or now

    if cause in {"heat_low", "heat_high"}:
        data["items"] = [_with_heat(item, good) for item in data["items"]]
    elif cause == "stuck_on":
        by_id = {item["id"]: item for item in good["items"]}
        data["items"] = [by_id.get(item["id"], item) for item in data["items"]]
    elif cause in {"night_cold", "room_hot"}:
        data["room"] = good["room"]
        data["items"] = [_with_heat(item, good) for item in data["items"]]
    elif cause in {"uv_old", "uv_near"}:
        by_id = {item["id"]: item for item in good["items"]}
        data["items"] = [
            by_id[item["id"]] if item["kind"] in UV_LAMPS else item for item in data["items"]
        ]
    else:
        data["enclosure"] = good["enclosure"]
    return from_data(data)


def _with_heat(item: dict[str, Any], good: dict[str, Any]) -> dict[str, Any]:
    """A heater with the power and setting that are right."""
    twin = next((one for one in good["items"] if one["id"] == item["id"]), None)

    if twin is None or item["kind"] in UV_LAMPS:
        return item
    own = {key: twin[key] for key in ("power_w", "thermostat") if key in twin}

    return {**item, **own}


def _same_heat(data: dict[str, Any], good: dict[str, Any]) -> bool:
    return all(_with_heat(item, good) == item for item in data["items"])
