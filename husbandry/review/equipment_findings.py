"""Heaters, thermostats, lamps, instruments and the enclosure itself: what is wrong of what was said.

Rules are common practice unless a profile says otherwise. Method: docs/methods/second-look.md.
"""

import re
from collections.abc import Iterable, Iterator

from husbandry.documents.result import COMPANY
from husbandry.enclosure.equipment import UV_LAMPS
from husbandry.enclosure.sizing import floor_for
from husbandry.enclosure.trade_size import FLOOR_PROPORTION
from husbandry.findings.substrate_findings import depth_needed_m
from husbandry.quantity import Kind
from husbandry.review.assumed_request import LIT_H, uv_kind
from husbandry.review.description import Description
from husbandry.review.findings import Evidence, ReviewFinding, finding
from husbandry.review.need_findings import Seen
from husbandry.review.vocabulary import PACKAGE, dangers
from husbandry.species.care import SubstrateSpec
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.species.selection import speaking
from husbandry.species.stages import DAYS_PER_MONTH
from husbandry.tables import rows

SUN_ZONE = 3
"""Of the ultraviolet zones, from which on no UVB leads to bone disease (source: uv.md, after Baines
et al. 2016, from memory).
"""
SMALL = 0.9
"""Of a side, and of the floor, of the accepted minimum under which an enclosure harms (design choice)
[1].
"""
NEARLY_DEEP = 0.7
"""Of the depth of substrate that it needs (design choice) [1]."""


DARK = frozenset({"heat_mat", "ceramic_emitter", "tube_heater", "infrared_panel", "water_heater"})


def general_findings(said: Description) -> list[ReviewFinding]:
    """What is wrong for any reptile or amphibian."""
    return [
        *said_dangers(said),
        *_heaters(said),
        *_thermostat(said),
        *_light(said),
        *_instruments(said),
        *(_bad_substrate(row, listed=False) for row in _always_bad(said)),
        *([finding("no hides")] if said.hides == 0 else []),
        *([finding("no water")] if said.water == "none" else []),
    ]


def equipment_findings(seen: Seen) -> list[ReviewFinding]:
    """Everything about what stands, hangs and is plugged in."""
    return [
        *said_dangers(seen.said),
        *_heaters(seen.said),
        *_thermostat(seen.said),
        *_no_heat(seen),
        *_ultraviolet(seen),
        *_light(seen.said),
        *_instruments(seen.said),
        *_size(seen),
        *_manner(seen),
        *_lid(seen),
        *_substrate(seen),
        *_hides(seen),
        *_furnishings(seen),
    ]


def said_dangers(said: Description) -> Iterator[ReviewFinding]:
    """What is dangerous by itself."""
    for slug in said.dangers:
        danger = dangers()[slug]
        yield ReviewFinding.model_validate(
            {
                "slug": f"danger {slug}",
                "fact": "danger",
                "rank": danger.rank,
                "title": danger.title,
                "text": "It was said outright.",
                "consequence": danger.consequence,
                "fix": danger.fix,
                "step": "today",
                "price_eur": danger.price_eur,
                "weight": danger.weight,
            }
        )


def _heaters(said: Description) -> Iterator[ReviewFinding]:
    kinds = {one.kind for one in said.heat or ()}

    if "hot_rock" in kinds:
        yield finding("hot rock")

    if "coloured_lamp" in kinds:
        yield finding("coloured light")


def _thermostat(said: Description) -> Iterator[ReviewFinding]:
    """A mat or a dark heater without one is a fire; a lamp without one overheats in summer."""
    if said.thermostat is not False or said.heat == ():
        return
    dark = any(one.kind in DARK for one in said.heat or ())
    yield finding("no thermostat", weight=6.0 if dark else 4.0)


def _no_heat(seen: Seen) -> Iterator[ReviewFinding]:
    """No heater at all for what the room does not warm."""
    if seen.said.heat != ():
        return
    missed = [
        state
        for state in seen.plan.needs
        if state.key in {NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY}
        and state.low is not None
        and seen.ranges.get(state.key, (0.0, 0.0))[1] < state.low.value - 1.0
    ]

    if not missed:
        return
    state = missed[0]
    value = seen.ranges[state.key][1]
    past = state.limit_low is not None and value < state.limit_low.value
    evidence = [
        Evidence(
            what="predicted", kind=Kind.TEMPERATURE, low=seen.ranges[state.key][0], high=value
        ),
        Evidence(
            what="needed",
            kind=Kind.TEMPERATURE,
            low=state.low.value if state.low else None,
            high=state.high.value if state.high else None,
        ),
    ]
    yield finding("no heat", rank="danger" if past else "harm", evidence=tuple(evidence))


def _ultraviolet(seen: Seen) -> Iterator[ReviewFinding]:
    zone = seen.assumed.profile.uv.zone
    sun = zone >= SUN_ZONE or (zone == 2 and seen.assumed.profile.activity == "diurnal")

    if seen.said.uv == ():
        yield _no_uv(seen.assumed.profile, sun=sun)

    yield from _strength(seen)

    for lamp in seen.said.uv or ():
        kind = uv_kind(lamp)
        if kind is None:
            continue
        row = UV_LAMPS[kind]
        hours = (lamp.age_months or 0) * DAYS_PER_MONTH * LIT_H
        if lamp.age_months is not None and hours > row.t70_h:
            yield finding(
                "old lamp",
                rank="harm" if sun else "better",
                text=f"After {lamp.age_months:g} months such a lamp gives light, but much less UVB.",
            )
        if lamp.kind == "compact" and zone >= SUN_ZONE:
            yield finding("compact lamp")


NEAR_GAIN, FAR_SHARE = 2.0, 0.6
"""Of the UVB at 30 cm below a tube: what there is at 15 cm, as near as one is hung, and what is left
under mesh (common practice) [1].
"""


def _strength(seen: Seen) -> Iterator[ReviewFinding]:
    """A class of lamp that is too weak at any distance, or too strong at the usual one."""
    need = seen.plan.need(NeedKey.UVI_DAY)
    if need is None:
        return

    for lamp in seen.said.uv or ():
        kind = uv_kind(lamp)
        if kind is None or lamp.kind in {"compact", "uv_flood"} or lamp.distance_m is not None:
            continue
        row = UV_LAMPS[kind]
        if need.low is not None and NEAR_GAIN * row.uvi_high < need.low.value:
            yield finding("weak uv")
        if need.limit_high is not None and FAR_SHARE * row.uvi_mid > need.limit_high.value:
            yield finding("strong uv")


def _no_uv(profile: Profile, *, sun: bool) -> ReviewFinding:
    if sun:
        return finding(
            "no uv sun",
            slug="no uv",
            origin=f"UV zone {profile.uv.zone}; F. Baines et al. 2016 (from memory)",
        )
    return finding(
        "no uv",
        origin=f"UV zone {profile.uv.zone}; F. Baines et al. 2016 (from memory)",
        otherwise="Many keepers keep it without UVB and give D3 with the food.",
    )


def _light(said: Description) -> Iterator[ReviewFinding]:
    if (said.light_hours or 0) >= 20:
        yield finding("light at night")


def _instruments(said: Description) -> Iterator[ReviewFinding]:
    found = said.instruments
    if found == ():
        yield finding("no thermometer")
    elif found and set(found) <= {"dial"}:
        yield finding("dial instrument")


def _size(seen: Seen) -> Iterator[ReviewFinding]:
    """Too small by the accepted minimum is harm; by the larger approach it could be better."""
    size = seen.plan.size

    if seen.said.sides_m is None and seen.said.volume_l is None:
        return

    if size.enough:
        return
    sides = [side for side in size.sides if not side.enough]

    if not sides:
        return
    length, depth, height = (side.actual_m for side in size.sides)
    least = size.other_needed_m
    parted = any(note.slug == COMPANY for note in seen.plan.notes)
    several = floor_for(seen.assumed.profile, size.animals) if parted else 1.0
    floor = several * length * depth / (least[0] * least[1])
    tall = height / least[2] if seen.said.sides_m and seen.said.sides_m[2] else 1.0
    shorter = (
        FLOOR_PROPORTION if floor >= 1 else 1.0
    )  # a floor that is large enough may be squarer
    long = several * length / (shorter * least[0])
    meets = min(floor, tall, long) >= SMALL
    short = ", ".join(side.name for side in sides)
    worst = sides[0]
    evidence = (
        Evidence(
            what="said", kind=Kind.LENGTH, low=worst.actual_m, high=worst.actual_m, of=worst.name
        ),
        Evidence(what="needed", kind=Kind.LENGTH, low=worst.needed_m, derivation=size.needed),
    )
    yield finding(
        "size",
        rank="better" if meets else "harm",
        title="Enclosure at the accepted minimum" if meets else "Enclosure too small",
        text=f"Too small for an animal of this size: {short}.",
        weight=0.8 if meets else 2.0 + min(2.0, 1 / max(floor, 0.2) - 1),
        evidence=evidence,
        otherwise=f"By the other approach ({size.other_approach}) it is enough." if meets else "",
    )


def _manner(seen: Seen) -> Iterator[ReviewFinding]:
    """A kind of enclosure that its species does badly in."""
    kind = seen.said.enclosure
    profile = seen.assumed.profile
    kinds = profile.enclosure.kinds

    if kind is None or kind in kinds or kind == "tank of water" or profile.habit == "aquatic":
        return
    airy = profile.enclosure.ventilation == "strong" and kind in {"glass", "tub", "board"}
    dry = kind == "mesh"
    view = "open table" in kinds and kind == "glass"

    if not (airy or dry or view or kind == "tub"):
        return
    why = (
        "It needs moving air, and this holds still air."
        if airy
        else "Mesh on all sides holds neither warmth nor moisture for it."
        if dry
        else "It walks along glass that it cannot understand, and its air stands still."
        if view
        else "A tub is for a start or for quarantine: little light, air and room."
    )
    yield finding(
        "kind of enclosure", text=why, fix=f"When it is replaced: {' or '.join(kinds[:2])}."
    )


def _lid(seen: Seen) -> Iterator[ReviewFinding]:
    profile = seen.assumed.profile
    table = "open table" in profile.enclosure.kinds or seen.said.enclosure == "open table"

    if seen.said.lid != "open" or table or profile.habit == "aquatic":
        return
    yield finding("open lid", text=profile.enclosure.security)


def _substrate(seen: Seen) -> Iterator[ReviewFinding]:
    """What its species should not live on, or nothing should."""
    said = seen.said.substrate

    if said is None:
        return
    profile = seen.assumed.profile
    lead = seen.assumed.needs.occupants[seen.assumed.needs.lead]
    specs = speaking(profile.substrate, lead.stage.slug, seen.assumed.request.approaches_of(0))
    avoided = {word for spec in profile.substrate for word in spec.avoid}
    always = _always_bad(seen.said)
    instead = specs[0].kinds[0] if specs else ""
    yield from (_bad_substrate(row, listed=False, instead=instead) for row in always)
    mixed = len(set(said) - {"moss"}) > 1

    for row in rows(PACKAGE, "substrates.csv"):
        if row in always or row["name"] not in said or (mixed and row["name"] in MIXES_WELL):
            continue
        if any(_speaks_of(row["avoid"], words) for words in avoided):
            yield _bad_substrate(row, listed=True, instead=instead)
        elif row["name"] == "sand" and not any(_SAND.match(kind) for kind in _kinds(specs)):
            yield finding("sand alone", fix=f"Mix or replace it: {instead}.")

    yield from _depth(seen)


def _kinds(specs: Iterable[SubstrateSpec]) -> list[str]:
    return [kind for spec in specs for kind in spec.kinds]


_SAND = re.compile(r"(?:(?:fine|clean|play|river|washed)\s+)*sand\b(?! alone)")
"""How a profile names sand that its species may live on."""
MIXES_WELL = frozenset({"sand", "bark"})
"""What is wrong alone and right in a mix (common practice)."""
NAMED_SANDS = ("calcium", "coloured")


def _speaks_of(words: str, avoided: str) -> bool:
    """Whether what a profile avoids is a substrate; a named sand is not every sand."""
    if words == "sand" and any(name in avoided for name in NAMED_SANDS):
        return False
    return words in avoided


def _always_bad(said: Description) -> list[dict[str, str]]:
    """Rows of substrates that nothing should live on."""
    return [
        row
        for row in rows(PACKAGE, "substrates.csv")
        if row["always"] and row["name"] in (said.substrate or ())
    ]


def _bad_substrate(row: dict[str, str], *, listed: bool, instead: str = "") -> ReviewFinding:
    text = "It harms whatever lives on it."

    if listed:
        text = "It is among what this species should not live on."
    return finding(
        "substrate",
        slug=f"substrate {row['name']}",
        rank=row["rank"],
        title=row["title"],
        text=text,
        consequence=row["consequence"],
        fix=f"Replace it: {instead or 'soil without fertiliser'}.",
        step="today" if row["rank"] == "danger" else "this month",
        weight=3.0 if row["rank"] == "harm" else 1.4,
    )


def _depth(seen: Seen) -> Iterator[ReviewFinding]:
    """Less than it digs in."""
    depth = seen.said.substrate_m

    if depth is None and seen.said.substrate != ():
        return
    needed = depth_needed_m(seen.assumed.request, seen.plan.animals)
    have = depth.high if depth is not None else 0.0
    profile = seen.assumed.profile

    if needed < 0.03 or have >= NEARLY_DEEP * needed or profile.habit == "aquatic":
        return
    digs = profile.habit == "fossorial" or profile.young.lay_in == "substrate"
    yield finding(
        "substrate shallow",
        rank="harm" if profile.habit == "fossorial" else "better",
        title="Substrate too shallow" if have else "No substrate",
        text="It digs, and there is not enough to dig in."
        if digs
        else "There is little to dig or hide in.",
        evidence=(
            Evidence(what="said", kind=Kind.LENGTH, low=have, high=have),
            Evidence(what="needed", kind=Kind.LENGTH, low=needed),
        ),
    )


def _hides(seen: Seen) -> Iterator[ReviewFinding]:
    said = seen.said
    profile = seen.assumed.profile
    places = profile.hides.places

    if said.hides == 0:
        yield finding("no hides")
    elif said.hides is not None:
        plain = [place for place in places if place != "moist"]
        count = said.hides - (1 if said.moist_hide else 0)
        if count < len(plain):
            yield finding("few hides")
    damp = set(said.substrate or ()) & {"moss", "coir", "soil", "mulch"}
    absent = said.moist_hide is False or (
        said.hides is not None and not said.moist_hide and not damp
    )

    if "moist" in places and absent and said.hides != 0:
        yield finding("no moist hide")


def _furnishings(seen: Seen) -> Iterator[ReviewFinding]:
    said = seen.said
    profile = seen.assumed.profile

    if said.water == "none" and profile.habit != "aquatic" and not profile.water.drops:
        yield finding("no water")

    turtle = profile.habit in {"aquatic", "semi-aquatic"} and profile.basks
    if said.basking_place is False and turtle:
        yield finding("no dock")
    if said.climbing is False and profile.body.perch_share:
        yield finding("nothing to climb")
    leafy = profile.habit == "arboreal" and profile.body.perch_share

    if said.plants == "none" and leafy:
        yield finding("no plants")
