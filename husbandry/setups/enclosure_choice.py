"""Enclosures in which an animal could be housed: those of the trade that suit its species and meet
its size, the smallest first; one made to measure where none is large enough.

Method: docs/methods/setup-solver.md.
"""

import math
from dataclasses import dataclass, replace
from typing import Any, Literal

from husbandry.enclosure.catalogue import CATALOGUE, KINDS_OF, CatalogueEnclosure, panels_of
from husbandry.enclosure.equipment import MATERIALS
from husbandry.enclosure.substrate import LAID_M
from husbandry.enclosure.trade_size import HEIGHT_HOLDS, Sides, fits_size
from husbandry.predict.need_states import AnimalNeeds
from husbandry.species.care import SubstrateSpec
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.species.selection import need_of, speaking

VENTS_CM2 = {"little": 30.0, "moderate": 80.0, "strong": 200.0}
"""Openings low and high in the sides by what a species needs (common practice) [cm² each]."""
VENTED_M2 = 0.72
"""Floor up to which those vents do; larger ones have as much more (design choice) [m²]."""
MORE_AIR = 2.5
"""Vents opened so much wider, where the ends lie too close together (design choice) [1]."""
VENTS_MOST_SHARE = 0.2
"""Of the floor, to which vents may open in all (design choice) [1]."""
HALF_COVERED = 0.35
"""Of a mesh lid that stays open when the rest is covered (common practice) [1]."""
NEARLY_SHUT, DAMP_VENTS_CM2 = 0.08, 12.0
"""Of a mesh lid that stays open under glass panes, and of the vents, for what lives in damp air
(common practice) [1, cm²].
"""
MOSTLY_COVERED, AIRED_VENTS_CM2 = 0.2, 80.0
"""The same for damp air that is to dry for some hours of the day (common practice, no source) [1, cm²]."""
CLOSED_WALLS_PCT = 60.0
"""From this lower end of humidity on an enclosure is looked for shut first (design choice) [%]."""
SUBSTRATE_MOST = 0.5
"""Of the inside height that substrate may take (design choice) [1]."""
SHALLOWER_M = 0.005
"""Less substrate than it wants by so much is shallow (design choice) [m]."""
RAISED = (0.22, 0.40)
"""Of the height over the substrate to which a basking place is raised in variants (design choice)
[1].
"""
LARGER_MOST = 20.0
"""No enclosure of more than so many times the smallest volume is tried (design choice) [1]."""
SPECIAL_MADE_EUR_M2 = 600.0
"""Guide to an enclosure made to measure, by its floor (common practice, 2026) [€/m²]."""
LARGER = 1.4
"""The next enclosure that is tried has so much more room (design choice) [1]."""
MADE_LONGER = (1.0, 1.35)
"""Lengths in which one is made to measure, over the least (design choice) [1]."""
MADE_BELOW = 3
"""Where the trade has fewer that fit, one made to measure is tried too (design choice)."""


@dataclass(frozen=True)
class EnclosureChoice:
    """An enclosure that may be offered."""

    name: str
    spec: dict[str, Any]
    """As in a request."""
    price_eur: float
    suits: bool
    """Whether it is of a kind that the profile names."""
    slug: str = ""
    """Of the catalogue; empty where it is made to measure or there already."""
    is_there: bool = False
    """Whether the keeper has it."""
    raised: float = 0.0
    """Of the height over the substrate to which its basking place is raised [1]."""
    longer: float = 1.0
    """Made to measure: its length over the least [1]."""
    known: Literal["", "clear", "closed"] = ""
    """What the best of all came to in a like room (`first_choices`): nothing left to say, or closed with
    something left that no other mends; empty where nothing is known.
    """

    @property
    def key(self) -> str:
        """By which it is found again among the choices for an animal of another size: what it is, the
        share of its lid that is mesh, how far its basking place is raised, and its vents.
        """
        what = self.slug or f"made {self.longer:g}"
        return f"{what}/{self.spec['lid']['mesh_share']:g}/{self.raised:g}/{self.vents_key}"

    @property
    def vents_key(self) -> str:
        """Its vents, low and high [cm²]."""
        vents = self.spec["vents"]
        return f"{vents['low_cm2']:g}+{vents['high_cm2']:g}"

    def vented_as(self, key: str) -> "EnclosureChoice":
        """The same with the vents of a `key`."""
        low_cm2, high_cm2 = (float(part) for part in key.rpartition("/")[2].split("+"))
        return _with_vents(self, low_cm2, high_cm2)

    @property
    def airier(self) -> "EnclosureChoice | None":
        """The same with its vents opened wider; None where that is no longer an enclosure."""
        other = _airier(self)
        vents = other.spec["vents"]
        floor_cm2 = 1e4 * self.inside["length"] * self.inside["depth"]
        if vents["low_cm2"] + vents["high_cm2"] > VENTS_MOST_SHARE * floor_cm2:
            return None
        return other

    @property
    def inside(self) -> dict[str, float]:
        """Inside length, depth and height [m]."""
        return dict(self.spec["inside_m"])

    @property
    def volume_m3(self) -> float:
        """Inside [m³]."""
        return math.prod(self.inside.values())

    @property
    def substrate_m(self) -> float:
        """Depth of the substrate [m]."""
        return float(self.spec["substrate"]["depth_m"])


@dataclass(frozen=True)
class Wanted:
    """What the enclosure must offer its largest animal."""

    profile: Profile
    stage: str
    length_m: float
    needed_m: Sides
    approaches: dict[str, str]

    @property
    def damp(self) -> bool:
        """Whether it lives in damp air, by day or by night, and not in mesh."""
        lows = [
            need.low or 0.0
            for key in (NeedKey.HUMIDITY_DAY, NeedKey.HUMIDITY_NIGHT)
            if (need := need_of(self.profile.needs, key, self.stage, self.approaches))
        ]
        return (
            "mesh" not in self.profile.enclosure.kinds[:1]
            and max(lows, default=0) >= CLOSED_WALLS_PCT
        )

    def substrate(self, height_m: float) -> dict[str, Any]:
        """Material and depth of the substrate in an enclosure of that height, as in a request."""
        material = material_of(self._bed.kinds[0])
        depth = self._wished_m
        if material not in LAID_M:
            depth = max(min(depth, SUBSTRATE_MOST * height_m), 0.01)
        return {"material": material, "depth_m": round(depth, 3)}

    def is_shallow(self, height_m: float) -> bool:
        """Whether an enclosure of that height is too low for the substrate that it wants."""
        return bool(self._wished_m > self.substrate(height_m)["depth_m"] + SHALLOWER_M)

    @property
    def _bed(self) -> SubstrateSpec:
        specs = speaking(self.profile.substrate, self.stage, self.approaches)
        return specs[0] if specs else self.profile.substrate[0]

    @property
    def _wished_m(self) -> float:
        """Depth of the substrate that it wants, however high its enclosure is [m]."""
        material = material_of(self._bed.kinds[0])
        if material in LAID_M:
            return float(LAID_M[material][0])
        low, high = self._bed.depth_m.ends
        return max(low, min(high, self.profile.body.dig_bl * self.length_m))


def wanted_of(needs: AnimalNeeds, needed_m: Sides, approaches: dict[str, str]) -> Wanted:
    """What the largest animal of a request wants of its enclosure."""
    lead = needs.occupants[needs.lead]
    return Wanted(needs.profile, lead.stage.slug, lead.length_m, needed_m, approaches)


def material_of(words: str) -> str:
    """The model's material for what a profile calls a substrate: sand, tile, paper or soil."""
    begin = words.lower()[:18]
    for word, material in (
        ("sand", "sand"),
        ("bare", "tile"),
        ("paper", "paper"),
        ("slate", "tile"),
    ):
        if begin.startswith(word) or f" {word}" in begin:
            return material

    return "soil"


def enclosure_choices(wanted: Wanted) -> list[EnclosureChoice]:
    """List enclosures for what an animal wants, in the order in which they are worth trying."""
    plain = _of_the_trade(wanted)
    made = _to_measure(wanted) if len({one.name for one in plain}) < MADE_BELOW else []
    own = [one for n, one in enumerate(plain) if one.name not in [p.name for p in plain[:n]]]
    covered = [one for one in plain if one not in own]
    spread = own[:1]
    for one in own[1:]:
        if _room(wanted, one) > LARGER * _room(wanted, spread[-1]):
            spread.append(one)
    spread = [*spread[:1], *made[:1], *spread[1:], *made[1:]]
    airy = [_airier(one) for one in spread[:2]]
    raised = _raised(wanted, spread[:2])
    return [
        *spread[:2],
        *raised[:1],
        *covered[:1],
        *spread[2:4],
        *airy[:1],
        *raised[1:2],
        *spread[4:],
        *raised[2:],
        *airy[1:],
        *covered[1:],
    ]


def _room(wanted: Wanted, choice: EnclosureChoice) -> float:
    """What makes an enclosure larger for it: room to climb, or floor [m³ or m²]."""
    if wanted.profile.body.perch_share:
        return choice.volume_m3
    return choice.inside["length"] * choice.inside["depth"]


def settings_of(
    spec: dict[str, Any], needs: AnimalNeeds, approaches: dict[str, str]
) -> list[EnclosureChoice]:
    """An enclosure that is there already, and the same with its lid covered, its vents opened or
    its basking place raised; for what lives in damp air the covered ones first.

    Parameters
    ----------
    spec : dict
        The enclosure as in a request.
    needs : AnimalNeeds
        Of the animals that are to live in it.
    approaches : dict
        By which its largest animal is kept.
    """
    profile = needs.profile
    panels = {side: str(spec["panels"][side]) for side in ("front", "back", "left", "right")}
    lid = {"mesh": None, "mesh_share": 0.0, **spec["lid"]}
    own = EnclosureChoice(
        "this enclosure",
        {**spec, "lid": lid, "covered": spec.get("covered") or _covered(profile, panels)},
        0.0,
        suits=True,
        is_there=True,
    )
    shares = (HALF_COVERED, NEARLY_SHUT) if own.spec["lid"].get("mesh") else ()
    covered = [
        replace(own, spec={**own.spec, "lid": {**own.spec["lid"], "mesh_share": share}})
        for share in shares
        if share < own.spec["lid"]["mesh_share"]
    ]
    closed = [_with_vents(one, DAMP_VENTS_CM2) for one in (own, *covered)]
    raised = [] if profile.body.perch_share else [replace(own, raised=RAISED[0])]
    if covered and wanted_of(needs, (0.0, 0.0, 0.0), approaches).damp:
        return [*covered[::-1], *_aired(own), own, *closed]

    return [own, *covered[:1], *raised, _airier(own), *closed, *covered[1:]]


def _raised(wanted: Wanted, choices: list[EnclosureChoice]) -> list[EnclosureChoice]:
    """The same with a raised basking place: its air is taken higher, and its lamp is nearer."""
    profile = wanted.profile
    if profile.group not in {"lizard", "snake"} or profile.body.perch_share:
        return []
    return [
        replace(one if n == 0 else _airier(one), raised=share)
        for one in choices
        for n, share in enumerate(RAISED)
    ]


def _airier(choice: EnclosureChoice) -> EnclosureChoice:
    vents = choice.spec["vents"]
    return _with_vents(choice, MORE_AIR * vents["low_cm2"], MORE_AIR * vents["high_cm2"])


def _aired(own: EnclosureChoice) -> list[EnclosureChoice]:
    """An enclosure that is there with its lid mostly covered and its vents no wider than they are."""
    lid = own.spec["lid"]
    if lid["mesh_share"] <= MOSTLY_COVERED:
        return []
    vents = own.spec["vents"]
    covered = replace(own, spec={**own.spec, "lid": {**lid, "mesh_share": MOSTLY_COVERED}})
    ends = (min(vents[end], AIRED_VENTS_CM2) for end in ("low_cm2", "high_cm2"))
    return [_with_vents(covered, *ends)]


def _with_vents(
    choice: EnclosureChoice, low_cm2: float, high_cm2: float | None = None
) -> EnclosureChoice:
    """The same with vents of so much; those above as those below where they are not said [cm²]."""
    vents = {**choice.spec["vents"], "low_cm2": low_cm2, "high_cm2": low_cm2}
    if high_cm2 is not None:
        vents["high_cm2"] = high_cm2
    return replace(choice, spec={**choice.spec, "vents": vents})


def _kinds(profile: Profile) -> frozenset[str]:
    kinds = frozenset().union(*(KINDS_OF[kind] for kind in profile.enclosure.kinds))
    if profile.habit == "aquatic":
        return frozenset({"tank of water"})
    # Out of an open table climbs and jumps whatever does not carry a shell.
    return kinds if profile.group in {"tortoise", "turtle"} else kinds - {"open table"}


def _of_the_trade(wanted: Wanted) -> list[EnclosureChoice]:
    """Enclosures of the kinds that suit, the smallest first; mesh lids open, then covered."""
    kinds = _kinds(wanted.profile)
    fitting = []
    for shape in CATALOGUE.values():
        if shape.kind not in kinds:
            continue
        substrate = wanted.substrate(shape.height_m)
        left = shape.height_m - substrate["depth_m"]
        if fits_size(shape.outside_m, left, wanted.needed_m):
            fitting.append((math.prod(shape.sides_m), shape, substrate))
    # A tub is for a start and for quarantine, and a cage of mesh has the room's air: each is first
    # only for what is kept so.
    late = {"tub"} if wanted.profile.enclosure.kinds[0] == "mesh" else {"tub", "cage"}
    fitting.sort(
        key=lambda found: (
            found[1].kind in late,
            wanted.is_shallow(found[1].height_m),
            found[0],
            found[1].slug,
        )
    )
    if not fitting:
        return []
    found = []
    for volume, shape, substrate in fitting:
        if volume <= LARGER_MOST * fitting[0][0]:
            shares = [shape.mesh_share, HALF_COVERED] if shape.mesh_share else [0.0]
            if wanted.damp and shape.mesh_share:
                shares = [NEARLY_SHUT, HALF_COVERED, shape.mesh_share]
            choices = [_choice(wanted, shape, substrate, share) for share in shares]
            if wanted.damp and shape.mesh_share:
                aired = _choice(wanted, shape, substrate, MOSTLY_COVERED)
                choices.insert(1, _with_vents(aired, AIRED_VENTS_CM2))
            found += choices

    return found


def _choice(
    wanted: Wanted, shape: CatalogueEnclosure, substrate: dict[str, Any], mesh_share: float
) -> EnclosureChoice:
    panels = panels_of(shape.front, shape.walls)
    lid = {
        "material": shape.lid,
        "mesh": shape.mesh or None if mesh_share else None,
        "mesh_share": mesh_share,
    }

    return EnclosureChoice(
        shape.name,
        _spec(wanted, shape.sides_m, panels, lid, substrate),
        shape.price_eur,
        suits=True,
        slug=shape.slug,
    )


def _spec(
    wanted: Wanted,
    sides_m: Sides,
    panels: dict[str, str],
    lid: dict[str, Any],
    substrate: dict[str, Any],
) -> dict[str, Any]:
    usual = VENTS_CM2[wanted.profile.enclosure.ventilation]
    vents = round(usual * max(1.0, sides_m[0] * sides_m[1] / VENTED_M2), 1)
    if wanted.damp:
        vents = min(vents, DAMP_VENTS_CM2)

    return {
        "inside_m": dict(zip(("length", "depth", "height"), sides_m, strict=True)),
        "panels": panels,
        "lid": lid,
        "substrate": substrate,
        "vents": {"low_cm2": vents, "high_cm2": vents},
        "covered": _covered(wanted.profile, panels),
    }


def _covered(profile: Profile, panels: dict[str, str]) -> list[str]:
    """Clear sides to be covered from outside, the back first."""
    sides = ("back", "left", "right", "front")
    clear = [side for side in sides if MATERIALS[panels[side]].passes_light]
    return clear[: max(profile.enclosure.opaque_sides - (len(sides) - len(clear)), 0)]


def _to_measure(wanted: Wanted) -> list[EnclosureChoice]:
    """Made for it: glass for what lives in water, an open table or a house for what lives on one,
    else glass in front and timber around.
    """
    needed = wanted.needed_m
    substrate = wanted.substrate(max(needed[2], 0.5) + 0.3)
    high = max(needed[2], HEIGHT_HOLDS * needed[2] + substrate["depth_m"], 0.45)
    wet = wanted.profile.habit == "aquatic"
    walls = "glass" if wet else "wood"
    panels = {"front": "glass"} | dict.fromkeys(("back", "left", "right", "bottom"), walls)
    lid: dict[str, Any] = {"material": "glass" if wet else "wood", "mesh": None, "mesh_share": 0.0}
    table = "open table" in wanted.profile.enclosure.kinds
    if wet:
        lid |= {"mesh": "fly_screen", "mesh_share": 1.0}
    elif table:
        lid |= {"mesh": "half_inch", "mesh_share": 1.0}
        panels["front"] = "wood"
    found = []
    for longer in MADE_LONGER:
        sides = (round(needed[0] * longer, 2), round(needed[1], 2), round(min(high, 4.9), 2))
        what = "open table" if table else "enclosure"
        name = f"{what} made to measure, {sides[0] * 100:.0f} × {sides[1] * 100:.0f}"
        found.append(
            EnclosureChoice(
                f"{name} × {sides[2] * 100:.0f}",
                _spec(wanted, sides, panels, lid, substrate),
                round(SPECIAL_MADE_EUR_M2 * sides[0] * sides[1], -1),
                suits=True,
                longer=longer,
            )
        )

    return found
