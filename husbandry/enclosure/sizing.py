"""How large the enclosure must be for this animal, and whether it is."""

from collections.abc import Sequence
from typing import Any

from husbandry.derivation import Derivation, Document, Source, named_text, named_value
from husbandry.enclosure.geometry import Interior
from husbandry.enclosure.substrate import NEARLY, substrate_m
from husbandry.enclosure.trade_size import SIZE_NAMES, Side, Sides, compare
from husbandry.enclosure.walking_room import FloorItem, RoomCheck, room_left
from husbandry.species.approaches import QUESTIONS
from husbandry.species.parts import SizeRule
from husbandry.species.profile import Profile


class SizeFound(Document):
    """The enclosure against the rule for its size."""

    enough: bool
    sides: tuple[Side, ...]
    usable_height_m: float
    substrate_needed_m: float = 0.0
    """The depth of substrate that it needs, at one end at least [m]."""
    footprint_m2: float
    volume: Derivation
    """Inside [l]."""
    volume_us_gal: float
    body_length_m: float
    needed: Derivation
    """The length it needs [m], with the rule that gives all three sides."""
    approach: str
    other_approach: str
    other_needed_m: tuple[float, float, float]
    other: Derivation
    """The length that the other approach asks for [m], with the rule that gives all three sides."""
    animals: int = 1
    """Grown or not, that share it: each further one adds floor."""
    room: tuple[RoomCheck, ...] = ()
    """Room to walk, to turn, to climb and to dig, with the furniture in."""

    @property
    def lacking(self) -> tuple[RoomCheck, ...]:
        """What the reviewer misses."""
        return tuple(check for check in self.room if not check.enough)


def rule_for(profile: Profile, stage: str, approach: str) -> SizeRule:
    """The profile's rule for a stage by an approach of how big."""
    for rule in profile.size:
        if rule.approach == approach and (not rule.stages or stage in rule.stages):
            return rule
    return profile.size[0]


def needed_m(
    rule: SizeRule, body_length_m: float, floor: float = 1.0
) -> tuple[float, float, float]:
    """Length, depth and height that a rule asks for, as enclosures are sold [m], to whole
    centimetres.

    Parameters
    ----------
    floor : float
        Floor for the company over that for one animal; both sides grow by its root [1].
    """
    multiples = (rule.length_bl, rule.depth_bl, rule.height_bl)
    wider = (floor**0.5, floor**0.5, 1.0)
    sides = [
        round(max(m * body_length_m, least) * w, 2)
        for m, least, w in zip(multiples, rule.min_m, wider, strict=True)
    ]
    return sides[0], sides[1], sides[2]


def sides_for(
    profile: Profile, stage: str, approach: str, body_length_m: float, floor: float = 1.0
) -> tuple[float, float, float]:
    """Length, depth and height that an animal of a stage needs [m]: by its stage's rule, and never
    more than the next stage's at the same length.

    The young are given more room for their length; without the second half an enclosure would have
    to shrink on the day it becomes an adult.
    """
    slugs = [one.slug for one in profile.stages]
    sides = needed_m(rule_for(profile, stage, approach), body_length_m, floor)
    for later in slugs[slugs.index(stage) + 1 :]:
        theirs = needed_m(rule_for(profile, later, approach), body_length_m, floor)
        sides = (min(sides[0], theirs[0]), min(sides[1], theirs[1]), min(sides[2], theirs[2]))
    return sides


def floor_for(profile: Profile, animals: int) -> float:
    """Floor that so many animals need over that of one, by the profile's rule of company [1]."""
    return 1.0 + profile.company.floor_per_more * max(animals - 1, 0)


def _rule_text(rule: SizeRule) -> str:
    least = " × ".join(f"{side * 100:g}" for side in rule.min_m)
    return (
        f"At least {rule.length_bl:g} × {rule.depth_bl:g} × {rule.height_bl:g} body lengths"
        f" (length, depth, height as it is sold), and never under {least} cm; never more than the"
        " next stage's rule at the same length. One side of the floor may be a fifth shorter where"
        " the other makes up for it; half of the height must be left above the substrate."
    )


def _needed(
    rule: SizeRule,
    sides: tuple[float, ...],
    profile: Profile,
    stage: str,
    body_length_m: float,
    approach: str,
    pointer: str,
    animals: int,
) -> Derivation:
    """The length a rule asks for, with all that gives it."""
    return Derivation(
        value=sides[0],
        unit="m",
        rule=_rule_text(rule)
        + (
            f" Each further animal adds {profile.company.floor_per_more:.0%} of the floor."
            if animals > 1
            else ""
        ),
        inputs=(
            named_text("stage", profile.stage(stage).name),
            named_value("body length", body_length_m, "m"),
            *([named_value("animals", animals, "1")] if animals > 1 else []),
            *(
                named_value(f"{name} needed", side, "m")
                for name, side in zip(SIZE_NAMES, sides, strict=True)
            ),
        ),
        sources=profile.sources(rule.origin),
        approach=approach,
        would_change="Growth, the stage, or the approach of how big an enclosure must be.",
        command=f"plan FILE.json --number /size/{pointer}/value",
    )


def judge_size(
    enclosure: Interior,
    profile: Profile,
    stage: str,
    body_length_m: float,
    approaches: dict[str, str],
    *,
    animals: int = 1,
    standing: Sequence[FloorItem] = (),
    deep_end_m: float | None = None,
    outside_m: Sides | None = None,
) -> SizeFound:
    """Compare an enclosure with what its largest animal and its company need.

    A burrower digs in the deep end of a slope, where there is one. Height is counted above the mean
    substrate;
    the floor is the inside footprint, and the reviewer's questions are asked of what is left of it.
    """
    return _size_found(
        animals,
        approaches,
        body_length_m,
        deep_end_m,
        enclosure,
        outside_m or (enclosure.length_m, enclosure.depth_m, enclosure.height_m),
        profile,
        stage,
        standing,
    )


def _size_found(
    animals: int,
    approaches: dict[str, str],
    body_length_m: float,
    deep_end_m: float | None,
    enclosure: Interior,
    outside_m: Sides,
    profile: Profile,
    stage: str,
    standing: Any,
) -> SizeFound:
    """Compare the sides with what is needed, and ask for the floor."""
    question = QUESTIONS["how-big"]
    approach = question.chosen(approaches)
    rule = rule_for(profile, stage, approach.slug)
    floor = floor_for(profile, animals)
    needed = sides_for(profile, stage, approach.slug, body_length_m, floor)
    substrate = substrate_m(profile, stage, approaches, body_length_m)
    deep_end = enclosure.substrate_depth_m if deep_end_m is None else deep_end_m
    to_pour = substrate if deep_end < NEARLY * substrate else 0.0
    left = min(max(enclosure.height_m - to_pour, 0.0), enclosure.air_height_m)
    sides = compare(outside_m, left, needed)
    other = next(s for s in question.approaches.values() if s.slug != approach.slug)
    other_rule = rule_for(profile, stage, other.slug)
    other_needed = sides_for(profile, stage, other.slug, body_length_m, floor)
    measures = zip(
        ("length", "depth", "height"),
        (enclosure.length_m, enclosure.depth_m, enclosure.height_m),
        strict=True,
    )
    return SizeFound(
        enough=all(side.enough for side in sides),
        sides=sides,
        usable_height_m=enclosure.air_height_m,
        substrate_needed_m=substrate,
        footprint_m2=enclosure.footprint_m2,
        volume=Derivation(
            value=enclosure.volume_l,
            unit="l",
            rule="Inside length × depth × height; the substrate is not taken off.",
            inputs=tuple(named_value(f"{name} inside", value, "m") for name, value in measures),
            sources=(Source(kind="entered", text="measures of the enclosure"),),
            command="plan FILE.json --number /size/volume/value",
        ),
        volume_us_gal=enclosure.volume_us_gal,
        body_length_m=body_length_m,
        needed=_needed(
            rule, needed, profile, stage, body_length_m, approach.name, "needed", animals
        ),
        approach=approach.name,
        other_approach=other.name,
        other_needed_m=other_needed,
        other=_needed(
            other_rule, other_needed, profile, stage, body_length_m, other.name, "other", animals
        ),
        animals=animals,
        room=room_left(
            enclosure, profile, body_length_m, standing, animals, deep_end_m, substrate
        ),
    )
