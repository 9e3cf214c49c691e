"""A complete first setup for an animal: enclosure, furniture, heat, light and water, found jointly
and judged by the plan. Method: docs/methods/setup-solver.md.
"""

from dataclasses import dataclass
from typing import Any

from husbandry.documents.request_json import from_data, to_data
from husbandry.enclosure.sizing import floor_for, sides_for
from husbandry.errors import DocumentError
from husbandry.predict.need_states import AnimalNeeds, look
from husbandry.setups.candidates import ANYTHING, Means
from husbandry.setups.enclosure_choice import (
    EnclosureChoice,
    enclosure_choices,
    settings_of,
    wanted_of,
)
from husbandry.setups.first_choices import likely_first
from husbandry.setups.obstacles import is_of_company, obstacles
from husbandry.setups.refinement import Fitted, fit
from husbandry.setups.room_limits import RoomLimit, room_limits
from husbandry.setups.site import furnish
from husbandry.setups.tidying import tidied
from husbandry.species.approaches import QUESTIONS
from husbandry.species.needs import NeedKey

ENCLOSURES_MOST = 10
"""Enclosures that are fitted before the search ends (design choice)."""
PATIENCE = 5
"""Enclosures that may come no nearer before the search ends (design choice)."""
EDGED_ENOUGH, CLOSED_ENOUGH = 3, 6
"""Enclosures after which one is taken that keeps every range at its edge, and with a finding that another
may mend (design choice).
"""
MENDABLE = frozenset(
    {
        "never dry air",
        "never dry",
        "no wave",
        "stagnant",
        "misting does not keep up",
        "dim basking",
        "dark basking",
        "patch",
        "furniture pool shallow",
        "cold and wet",
        "waterlogged",
    }
)
"""What another lid, other vents, or another height or size may mend."""
STALE = frozenset({"never dry air", "never dry", "stagnant", "waterlogged", "no wave"})
"""What wider vents may mend."""
FAR_K = 1.2
"""Warmth that misses by more asks for another size (design choice) [K]."""
WARMTH = (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY, NeedKey.AIR_NIGHT)
"""Needs that it is looked for in."""
RIGHT_MOST = 4
"""Enclosures that are right, with a finding that another may mend, after which the search ends (design
choice).
"""
DEVICES_MOST, FLOOR_PER_DEVICE_M2 = 4, 1.2
"""Lamps and heaters of a usual enclosure, and the floor for which one more may come (design choice)
[1, m²].
"""
PLACEHOLDER = {"inside_m": {"length": 1.0, "depth": 1.0, "height": 1.0}}
"""An enclosure to ask the needs of an animal before one is chosen (design choice) [m]."""


@dataclass(frozen=True)
class Starter:
    """What was found for an animal."""

    best: Fitted | None
    tried: tuple[Fitted, ...]
    needs: AnimalNeeds
    limits: tuple[RoomLimit, ...] = ()
    """What the room rules out, whatever is bought."""

    @property
    def ruled_out(self) -> tuple[RoomLimit, ...]:
        """What the room rules out of what is missed; of everything where nothing was found."""
        if self.best is None:
            return self.limits
        return tuple(limit for limit in self.limits if limit.key in self.best.judged.wrong)

    @property
    def reasons(self) -> tuple[str, ...]:
        """Why not everything is right: what the room rules out, else what stands in the way."""
        if self.best is not None and self.best.judged.closed:
            return ()
        by_the_room = tuple(limit.said() for limit in self.ruled_out)
        return by_the_room or (() if self.best is None else obstacles(self.best.judged.request))


def choices_for(data: dict[str, Any], most: int = ENCLOSURES_MOST) -> list[EnclosureChoice]:
    """Enclosures for the animals of a request without enclosure, in the order in which they are tried."""
    request = from_data({**data, "enclosure": PLACEHOLDER, "items": []})
    needs = look(request)
    lead = needs.occupants[needs.lead]
    approaches = request.approaches_of(needs.lead)
    big = QUESTIONS["how-big"].chosen(approaches).slug
    floor = floor_for(needs.profile, len(request.animals))
    needed = sides_for(needs.profile, lead.stage.slug, big, lead.length_m, floor)
    every = enclosure_choices(wanted_of(needs, needed, approaches))
    return likely_first(every, needs.profile.species, lead.stage.slug, request.room)[:most]


def devices_most(choice: EnclosureChoice) -> int:
    """Lamps and heaters that an enclosure of that floor may have."""
    floor = choice.inside["length"] * choice.inside["depth"]
    return DEVICES_MOST + int(floor / FLOOR_PER_DEVICE_M2)


def start(
    data: dict[str, Any],
    *,
    goal: str = "balanced",
    enclosure: dict[str, Any] | None = None,
    choices: list[EnclosureChoice] | None = None,
    means: Means = ANYTHING,
) -> Starter:
    """Find a setup for the animals of a request without enclosure.

    Enclosures are tried in order until one closes (every need in range, no limit passed, no danger)
    with nothing left to say that another may mend.

    Parameters
    ----------
    enclosure : dict, optional
        The one that is there, as in a request; None: one is chosen.
    choices : list of EnclosureChoice, optional
        Those to be tried, instead.
    means : Means
        What it may be made of.

    Raises
    ------
    DocumentError
        Where the animals or the enclosure cannot be.
    """
    there = from_data({**data, "enclosure": enclosure or PLACEHOLDER, "items": []})
    needs = look(there)
    lead = needs.occupants[needs.lead]
    limits = room_limits(needs, there.room)
    if choices is None and enclosure is not None:
        spec = to_data(there)["enclosure"]
        choices = settings_of(spec, needs, there.approaches_of(needs.lead))
    tried: list[Fitted] = []
    left = list(choices_for(data) if choices is None else choices)
    while left:
        choice = left.pop(0)
        site = furnish(data, needs.profile, lead.length_m, choice)
        try:
            found = fit(site, needs, goal=goal, devices_most=devices_most(choice), means=means)
        except DocumentError:  # its furniture leaves no room for a lamp
            continue
        if found is not None:
            tried.append(tidied(found) if choice.known else found)
            if _is_best_as_known(tried[-1]):
                break
            if found.judged.inside and not _may_be_mended(tried):
                break
            if _as_good_as_it_gets(found, limits):
                break
            if _in_vain(tried) or _closes(tried):
                break
            left = _by_what_was_said(left, choice, found)
    tried.sort(key=lambda one: one.rank)
    tried[:1] = [tidied(one) for one in tried[:1]]

    return Starter(tried[0] if tried else None, tuple(tried), needs, limits)


def _by_what_was_said(
    left: list[EnclosureChoice], choice: EnclosureChoice, found: Fitted
) -> list[EnclosureChoice]:
    """What is left to try after an enclosure: its other lids last, where it stays far too cold or too
    warm; the same with wider vents first, where its air is right but stale.
    """
    if choice.slug and _is_far_from_warm(found):
        left = sorted(left, key=lambda other: other.slug == choice.slug)
    stale = found.judged.right and not choice.is_there and set(found.judged.findings) & STALE
    airier = choice.airier if stale else None
    if airier is not None:
        left = [airier, *(one for one in left if one.key != airier.key)]
    return left


def _is_best_as_known(found: Fitted) -> bool:
    """Whether it closes as it did in a like room, where all others had been tried."""
    known = found.site.choice.known
    if not known or not found.judged.closed:
        return False
    return known == "closed" or not set(found.judged.findings) & MENDABLE


def _may_be_mended(tried: list[Fitted]) -> bool:
    """Whether of all that is right so far something is said that another enclosure may mend."""
    right = [one.judged for one in tried if one.judged.inside]
    return len(right) < RIGHT_MOST and all(set(one.findings) & MENDABLE for one in right)


def _is_far_from_warm(found: Fitted) -> bool:
    """Whether its warmth misses by more than another lid or other vents mend."""
    wrong = found.judged.wrong
    return any(wrong[key][1] > FAR_K for key in WARMTH if key in wrong)


def _as_good_as_it_gets(found: Fitted, limits: tuple[RoomLimit, ...]) -> bool:
    """Whether all that is wrong is what the room rules out, or lies in who lives together."""
    ruled_out = {limit.key for limit in limits if limit.part != "summer"}
    judged = found.judged
    company = [slug for slug in judged.dangers if is_of_company(slug)]
    if company and len(company) == len(judged.dangers) and not judged.wrong:
        return True
    return bool(ruled_out) and set(judged.wrong) <= ruled_out and not judged.dangers


def _closes(tried: list[Fitted]) -> bool:
    """Whether one of a few keeps every range at its edge, and another would hardly mend more."""
    closed = [one.judged for one in tried if one.judged.closed]
    if len(tried) < EDGED_ENOUGH or not closed:
        return False
    return len(tried) >= CLOSED_ENOUGH or any(not set(one.findings) & MENDABLE for one in closed)


def _in_vain(tried: list[Fitted]) -> bool:
    """Whether the last few enclosures came no nearer than one before them."""
    if len(tried) <= PATIENCE:
        return False
    best = min(one.rank for one in tried[:-PATIENCE])
    return all(one.rank >= best for one in tried[-PATIENCE:])
