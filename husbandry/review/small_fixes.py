"""What is mended without another lamp: thermostats, timers, hides, something to climb, water, a
fresh UVB lamp, other substrate.
"""

from typing import Any

from husbandry.advise.furniture import furniture
from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data, to_data
from husbandry.enclosure.equipment import HEATERS, UV_LAMPS
from husbandry.items.uv_lamps import NEW_HOURS
from husbandry.review.need_findings import Seen
from husbandry.setups.candidates import DAY
from husbandry.species.needs import NeedKey

BODIES: dict[str, frozenset[str]] = {
    "no hides": frozenset({"hide"}),
    "few hides": frozenset({"hide"}),
    "no moist hide": frozenset({"hide"}),
    "nothing to climb": frozenset({"branch"}),
    "no plants": frozenset({"plant"}),
    "no water": frozenset({"dish", "pool"}),
}
"""Kinds of furniture that answer each finding."""
HOLDS_C = 28.0
"""What a thermostat is set to where nothing says better (common practice) [°C]."""


def mended(seen: Seen, slugs: set[str], spec: dict[str, Any], *, alone: bool) -> Request:
    """The enclosure with everything mended that needs no other lamp.

    Parameters
    ----------
    slugs : set of str
        What was found.
    spec : dict
        The enclosure as in a request, its substrate put right.
    alone : bool
        Whether only one animal stays.

    Raises
    ------
    DocumentError
        Where that cannot be built.
    """
    data = to_data(seen.assumed.request)
    data["enclosure"] = spec

    if alone:
        data["animals"] = data["animals"][:1]
    data["items"] = [_mended_item(item, seen, slugs) for item in data["items"]]
    data["items"] += _missing(data, seen, slugs)

    return from_data(data)


def _mended_item(item: dict[str, Any], seen: Seen, slugs: set[str]) -> dict[str, Any]:
    """A lamp or heater held, timed, renewed."""
    kind = item["kind"]
    own = dict(item)

    if kind in HEATERS and kind not in UV_LAMPS and "no thermostat" in slugs:
        own["thermostat"] = _thermostat(kind, seen)
    lit = kind in UV_LAMPS or (kind in HEATERS and HEATERS[kind].emits_light)

    if lit and slugs & {"light at night", "coloured light"}:
        own |= dict(zip(("on", "off"), DAY, strict=True))
    if kind in UV_LAMPS and "old lamp" in slugs:
        own["hours_run"] = NEW_HOURS

    return own


def _thermostat(kind: str, seen: Seen) -> dict[str, Any]:
    """Held where its animal wants it: a mat by the surface over it, all else by the warm air."""
    key = NeedKey.SURFACE_DAY if kind == "heat_mat" else NeedKey.WARM_AIR_DAY
    target = seen.assumed.needs.targets.get(key)
    aim = target.aim() if target is not None else HOLDS_C
    return {"set_c": round(aim, 1), "probe": "surface" if kind == "heat_mat" else "warm_air"}


def _missing(data: dict[str, Any], seen: Seen, slugs: set[str]) -> list[dict[str, Any]]:
    """Furniture that its species needs and that was found missing."""
    wanted = frozenset[str]().union(*(BODIES[slug] for slug in slugs & set(BODIES)))
    if not wanted:
        return []

    lead = seen.assumed.needs.occupants[seen.assumed.needs.lead]
    enclosure = data["enclosure"]
    usual = furniture(
        seen.assumed.profile,
        lead.length_m,
        enclosure["inside_m"],
        enclosure["substrate"]["depth_m"],
    )
    there = {item["id"] for item in data["items"]}

    return [one for one in usual if one["kind"] in wanted and one["id"] not in there]
