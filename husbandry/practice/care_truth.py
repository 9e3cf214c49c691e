"""What no thermometer shows: company, room, food and supplements, as a look at them tells.

Signs are common practice, no source; the right food, pace and supplements are the profile's.
"""

import functools
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from husbandry.enclosure.sizing import floor_for, sides_for
from husbandry.feeding.supplements import default_rules, supplement_words
from husbandry.practice.base_setups import BaseSetup
from husbandry.predict.need_states import look
from husbandry.species.approaches import QUESTIONS
from husbandry.species.library import library
from husbandry.tables import rows

Inspection = Literal["thermostat", "tape", "watch", "feeding_book", "supplement_boxes"]
CARE = ("company", "too_small", "fed_too_much", "wrong_food", "no_calcium")
"""Causes that no instrument but a look finds."""
DUSTED = frozenset({"insect eater", "amphibian", "plant eater"})
"""Plans of supplements in which calcium is dusted."""
OFTEN = 4.0
"""By which the pace of meals of a fat animal is too fast (design choice) [1]."""
NEGLECTED = "Calcium, still sealed, best before two years ago. Nothing else."
"""What lies on the shelf of somebody who does not dust."""


@dataclass(frozen=True)
class CareSign:
    """What a keeper says of a cause, and what is seen at feeding."""

    says: str
    watched: str


@functools.cache
def signs() -> Mapping[str, CareSign]:
    """By cause; the empty one is an animal that is well."""
    return {
        row["cause"]: CareSign(row["says"], row["watched"])
        for row in rows("husbandry.practice", "care_signs.csv")
    }


@functools.cache
def _wrong_foods() -> Mapping[str, str]:
    return {row["species"]: row["food"] for row in rows("husbandry.practice", "wrong_foods.csv")}


def possible_care(base: BaseSetup) -> tuple[str, ...]:
    """Causes that an enclosure's animal can have."""
    plan = library()[base.species].supplements.plan
    lacks = set()

    if plan not in DUSTED:
        lacks.add("no_calcium")

    if base.small is None:
        lacks.add("too_small")

    return tuple(one for one in CARE if one not in lacks)


def feeding_words(base: BaseSetup, often: float = 1.0) -> str:
    """What it eats, and how often.

    Parameters
    ----------
    often : float
        By which it is fed more often than is usual.
    """
    profile = library()[base.species]
    stage = profile.grown.slug
    found = []

    for meal in profile.meals:
        if stage in meal.stages:
            foods = " and ".join(part.food for part in meal.parts)
            found.append(f"{foods} {_pace(*(days / often for days in meal.every_days))}")

    return "; ".join(dict.fromkeys(found))


def _pace(low: float, high: float) -> str:
    """Days between meals in words; less than one is several a day."""
    low, high = max(round(low), 0), max(round(high), 0)

    if high < 1:
        return "several times a day"

    if low == high:
        return "every day" if low == 1 else f"every {low} days"
    return f"every {max(low, 1)} to {high} days" if high > 1 else "every day"


def supplements_of(base: BaseSetup) -> str:
    """What goes onto its food, and how often."""
    profile = library()[base.species]
    rules = default_rules(
        profile.grown.slug,
        uvb=True,
        approaches=base.request.approaches_of(0),
        plan=profile.supplements.plan,
    )
    return supplement_words(rules) if rules else "None: whole prey holds what it needs."


def length_needed_m(base: BaseSetup) -> float:
    """The least length inside for one grown animal, of an enclosure that is sold by it: its walls are
    taken off [m].
    """
    profile = library()[base.species]
    needs = look(base.request)
    big = QUESTIONS["how-big"].chosen(base.request.approaches_of(0)).slug
    length_m = needs.occupants[needs.lead].length_m

    needed_m = sides_for(profile, profile.grown.slug, big, length_m, floor_for(profile, 1))[0]

    return min(needed_m, base.request.enclosure.inside_m.length)


def book_words(base: BaseSetup, causes: tuple[str, ...], *, asked: bool) -> str:
    """What the feeding book holds; who is asked says what should be."""
    if asked or not {"fed_too_much", "wrong_food"} & set(causes):
        return _sentence(feeding_words(base))

    if "wrong_food" in causes:
        return _sentence(_wrong_foods()[base.species])

    return _sentence(feeding_words(base, OFTEN))


def box_words(base: BaseSetup, causes: tuple[str, ...], *, asked: bool) -> str:
    """What the boxes of supplements tell."""
    return NEGLECTED if "no_calcium" in causes and not asked else supplements_of(base)


def watched_words(causes: tuple[str, ...]) -> str:
    """What is seen when it is fed."""
    found = next((signs()[cause] for cause in causes if cause in signs()), signs()[""])
    return found.watched


def _sentence(words: str) -> str:
    return f"{words[:1].upper()}{words[1:]}."
