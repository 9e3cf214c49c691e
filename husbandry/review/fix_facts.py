"""What is said of an enclosure once a fix is made: the facts as they are then."""

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass
from typing import Any, get_args

from husbandry.documents.request import Request
from husbandry.documents.request_json import to_data
from husbandry.enclosure.equipment import HEATERS, UV_LAMPS
from husbandry.feeding.supplements import default_rules
from husbandry.findings.substrate_findings import depth_needed_m
from husbandry.review.assumed_request import LIT_H
from husbandry.review.care_findings import (
    TAKES,
    eye_gap,
    foods,
    stage_of,
    usual_meal,
    wanted_foods,
)
from husbandry.review.description import Description, HeatKind
from husbandry.review.findings import ReviewFinding
from husbandry.review.food_sizes import SIZED, feeder_said, size_for
from husbandry.review.need_findings import Seen

Facts = dict[str, Any]
STAPLES: dict[str, tuple[str, ...]] = {
    "insects": ("cricket", "roach"),
    "worms": ("earthworm",),
    "prey": ("rat",),
    "greens": ("greens",),
    "fruit": ("fruit",),
    "grass": ("grass",),
    "pellets": ("pellets",),
    "paste": ("paste",),
    "eggs": ("egg",),
    "ants": ("insects",),
}
"""What is fed where a food is to be added or replaced (common practice)."""
D3_EVERY_DAYS = 14
"""Of vitamin D3 beside UVB (common practice) [days]."""
HUNG_M = 0.3
"""Stands for a distance of which the request itself has the place (design choice) [m]."""
ROOM_PLACES = ("room", "room night")
"""Temperatures that no fix changes."""


@dataclass(frozen=True)
class FixContext:
    """What the facts after a fix follow from."""

    seen: Seen
    then: Request | None
    """The corrected enclosure, where one was found."""

    @property
    def said(self) -> Description:
        """As it is now."""
        return self.seen.said


def _parted(at: FixContext) -> Facts:
    animal = at.said.animal.model_dump()
    return {"animal": {**animal, "count": 1, "males": None, "females": None, "others": ()}}


def _without_food(at: FixContext, names: Collection[str]) -> Facts:
    return {"food": [one for one in at.said.food or () if one.name not in names]}


def _fitting_insects(at: FixContext) -> Facts:
    """Each insect in the size that suits the gap between the eyes; crickets where it has none."""
    gap_mm = 1000 * eye_gap(at.seen).value
    found: dict[str, dict[str, Any]] = {}

    for one in at.said.food or ():
        said = one.model_dump()
        feeder = feeder_said(one)
        is_insect = feeder is not None and feeder.food == "insects"
        fits = feeder is not None and (feeder.width_mm or 0.0) <= gap_mm

        if is_insect and one.name in SIZED and size_for(one.name, gap_mm):
            said["size"] = size_for(one.name, gap_mm)
        elif is_insect and not fits:
            said["name"] = "cricket"
            said["size"] = size_for("cricket", gap_mm) or "pinhead"

        found.setdefault(said["name"], said)

    return {"food": list(found.values())}


def _more_food(at: FixContext, groups: Collection[str], dropped: Collection[str] = ()) -> Facts:
    """With a staple of each group that is not among the foods."""
    kept = [one.model_dump() for one in at.said.food or () if one.name not in dropped]
    known = {one["name"] for one in kept}
    added = [
        {"name": name} for group in groups for name in STAPLES.get(group, ()) if name not in known
    ]
    return {"food": [*kept, *added]}


def _in_roles(at: FixContext, roles: Collection[str]) -> list[str]:
    table = foods()
    return [one.name for one in at.said.food or () if table[one.name].role in roles]


def _in_groups(at: FixContext, groups: Collection[str]) -> list[str]:
    table = foods()
    return [one.name for one in at.said.food or () if table[one.name].group in groups]


def _right_food(at: FixContext) -> Facts:
    """Its main food instead of what it does not live on."""
    wanted = wanted_foods(at.seen.assumed.profile, stage_of(at.seen))
    taken = frozenset[str]().union(*(TAKES.get(food, frozenset()) for food in wanted))
    table = foods()
    wrong = [one.name for one in at.said.food or () if table[one.name].group not in taken]

    return _more_food(at, wanted, wrong)


def _usual_pace(at: FixContext) -> Facts:
    """As often as it eats at its age."""
    table = foods()
    found = []

    for one in at.said.food or ():
        group = table[one.name].group
        spec = usual_meal(at.seen.assumed.profile, stage_of(at.seen), group)
        food = one.model_dump()
        if spec is not None:
            food["every_days"] = dict(zip(("low", "high"), spec.every_days, strict=True))
        found.append(food)

    return {"food": found, "feeding_days": None}


def _usual_supplements(at: FixContext) -> Facts:
    """Every product of the usual plan at its pace."""
    rules = default_rules(
        stage_of(at.seen),
        uvb=bool(at.said.uv),
        approaches=at.seen.assumed.request.approaches_of(0),
        plan=at.seen.assumed.profile.supplements.plan,
    )
    return {
        "supplements": [
            {
                "product": rule.product,
                "every_days": {"low": rule.interval_days, "high": rule.interval_days},
            }
            for rule in rules
            if rule.doses
        ]
        + [{"product": rule.product, "every_meal": True} for rule in rules if not rule.doses]
    }


def _less_d3(at: FixContext) -> Facts:
    kept = [one.model_dump() for one in at.said.supplements or () if one.product != "calcium + D3"]
    seldom = {
        "product": "calcium + D3",
        "every_days": {"low": D3_EVERY_DAYS, "high": D3_EVERY_DAYS},
    }
    return {"supplements": [*kept, {"product": "calcium", "every_meal": True}, seldom]}


def _hides(at: FixContext) -> Facts:
    """At each end one; where there was none, also the moist one."""
    places = at.seen.assumed.profile.hides.places
    plain = sum(place != "moist" for place in places)

    if not at.said.hides:
        return {"hides": len(places), "moist_hide": "moist" in places or at.said.moist_hide}
    moist = 1 if at.said.moist_hide else 0

    return {"hides": max(plain + moist, at.said.hides)}


def _moist_hide(at: FixContext) -> Facts:
    return {"moist_hide": True, "hides": (at.said.hides or 0) + 1}


def _substrate(at: FixContext) -> Facts:
    """Soil, as deep as it needs."""
    needed = depth_needed_m(at.seen.assumed.request, at.seen.plan.animals)
    depth_m = max(needed, at.said.substrate_m.high if at.said.substrate_m else 0.0, 0.05)
    return {"substrate": ("soil",), "substrate_m": {"low": depth_m, "high": depth_m}}


def _deeper(at: FixContext) -> Facts:
    deep = _substrate(at)
    return deep if not at.said.substrate else {"substrate_m": deep["substrate_m"]}


def _white_lamps(at: FixContext) -> Facts:
    """A white bulb of the same power by day instead of a coloured one; none beside another lamp."""
    heat = at.said.heat or ()
    others = [one.model_dump() for one in heat if one.kind != "coloured_lamp"]
    white = [
        {**one.model_dump(), "kind": "incandescent_reflector", "at_night": False}
        for one in heat
        if one.kind == "coloured_lamp"
    ]
    return {"heat": others or white, "light_hours": min(at.said.light_hours or LIT_H, LIT_H)}


def _misted(at: FixContext) -> Facts:
    low = at.seen.assumed.profile.moisture.mistings_per_day.low
    return {"mistings_per_day": max(low or 1.0, 1.0)}


def _new_lamps(at: FixContext) -> Facts:
    return {"uv": [{**one.model_dump(), "age_months": 0} for one in at.said.uv or ()]}


def _suited(at: FixContext) -> Facts:
    return {"enclosure": at.seen.assumed.profile.enclosure.kinds[0]}


FACTS: Mapping[str, Callable[[FixContext], Facts]] = {
    "company": _parted,
    "no dock": lambda at: {"basking_place": True},
    "nothing to climb": lambda at: {"climbing": True},
    "kind of enclosure": _suited,
    "animal food": lambda at: _more_food(
        at, ("greens",), _in_groups(at, {"insects", "worms", "prey", "fish", "eggs"})
    ),
    "fed too often": _usual_pace,
    "fed too seldom": _usual_pace,
    "no greens": lambda at: _more_food(at, ("greens",)),
    "one insect": lambda at: _more_food(at, ("insects",)),
    "only treats": lambda at: _more_food(at, ("insects",)),
    "poor greens": lambda at: _more_food(at, ("greens",), _in_roles(at, {"poor"})),
    "rodents": lambda at: _without_food(at, _in_groups(at, {"prey"})),
    "wrong food": _right_food,
    "large prey": lambda at: {
        "food": [{**one.model_dump(), "size": ""} for one in at.said.food or ()]
    },
    "large insects": _fitting_insects,
    "small insects": _fitting_insects,
    "few hides": _hides,
    "no hides": _hides,
    "no moist hide": _moist_hide,
    "dial instrument": lambda at: {"instruments": ("digital",)},
    "no thermometer": lambda at: {"instruments": ("digital",)},
    "open lid": lambda at: {"lid": "mesh"},
    "coloured light": _white_lamps,
    "light at night": lambda at: {"light_hours": LIT_H},
    "no misting": _misted,
    "no plants": lambda at: {"plants": "live"},
    "sand alone": _substrate,
    "substrate shallow": _deeper,
    "much d3": _less_d3,
    "no calcium": _usual_supplements,
    "no d3": _usual_supplements,
    "no supplements": _usual_supplements,
    "no vitamins": _usual_supplements,
    "no thermostat": lambda at: {"thermostat": True},
    "old lamp": _new_lamps,
    "no water": lambda at: {"water": "dish"},
}
"""By the rule of a finding: what is said once its fix is made."""


def has_facts(one: ReviewFinding) -> bool:
    """Whether its fix changes what is said of food, furniture, habits or a danger."""
    return (
        one.slug in FACTS or one.slug.startswith(("danger ", "food ")) or one.fact == "substrate"
    )


def facts_after(one: ReviewFinding, at: FixContext) -> Facts | None:
    """The facts that a fix changes; None where none is known that could be tried."""
    if one.slug in FACTS:
        return FACTS[one.slug](at)

    if one.slug.startswith("danger "):
        left = tuple(slug for slug in at.said.dangers if f"danger {slug}" != one.slug)
        return {"dangers": left}

    if one.slug.startswith("food "):
        return _without_food(at, {one.slug.removeprefix("food ")})

    return _substrate(at) if one.fact == "substrate" else None


def lamps_after(at: FixContext, *, heat: bool, uv: bool) -> Facts:
    """The facts of heat, of UVB or of both as the corrected enclosure has them.

    Temperatures that were read under other lamps count no more; the room's stay.
    """
    if at.then is None:
        return {}
    items = to_data(at.then)["items"]
    facts: Facts = {}

    if heat:
        warm = [item for item in items if item["kind"] in _heat_kinds()]
        held = any("thermostat" in item for item in warm)
        facts["heat"] = [
            {"kind": item["kind"], "power_w": item.get("power_w"), "distance_m": HUNG_M}
            for item in warm
        ]
        facts["thermostat"] = True if held else at.said.thermostat
        facts["temperatures"] = [
            one.model_dump() for one in at.said.temperatures if one.place in ROOM_PLACES
        ]

    if uv:
        lamps = [_said_uv(item) for item in items if item["kind"] in UV_LAMPS]
        facts["uv"] = lamps or at.said.model_dump()["uv"]

    return facts


def _heat_kinds() -> frozenset[str]:
    """Kinds of heaters that a description knows, and that give no UVB."""
    return (frozenset(HEATERS) & frozenset(get_args(HeatKind))) - frozenset(UV_LAMPS)


def _said_uv(item: Mapping[str, Any]) -> Facts:
    """A lamp of a request as a description says it."""
    family, _, strength = item["kind"].rpartition("_")
    if family not in {"t5", "t8", "compact"}:
        return {"kind": "uv_flood", "power_w": item.get("power_w"), "distance_m": HUNG_M}

    return {
        "kind": family,
        "percent": float(strength),
        "length_m": item.get("length_m"),
        "power_w": item.get("power_w"),
        "distance_m": HUNG_M,
    }
