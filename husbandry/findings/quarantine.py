"""New animals: apart from all others, simply housed, their droppings looked at, for a month at the
least and three at the most.

Thirty to ninety days are common practice (source: substrate B4); a veterinarian says when it is
over. Method: docs/methods/quarantine.md.
"""

import datetime as dt
from typing import Literal, NamedTuple

from husbandry.documents.animal import Animal
from husbandry.documents.request import Request
from husbandry.documents.result import Note
from husbandry.species.profile import Profile

LEAST_DAYS, MOST_DAYS = 30, 90
"""Of quarantine (source: substrate B4; common practice) [days]."""
DAMP_SKINNED = frozenset({"frog", "salamander"})
Phase = Literal["first", "second"]


class Quarantine(NamedTuple):
    """Of one new animal."""

    phase: Phase
    """First: it lasts for the least of its days.

    Second: it ends with clean droppings and steady weight.
    """
    least: dt.date
    """The first day on which it can end."""
    most: dt.date
    """The day on which it has lasted long enough."""


def quarantine_of(came_on: dt.date | None, today: dt.date) -> Quarantine | None:
    """Where an animal that came to the household stands in its quarantine; None before it, after
    it, and where nobody said when it came.
    """
    if came_on is None or not 0 <= (today - came_on).days < MOST_DAYS:
        return None
    least, most = (came_on + dt.timedelta(days=days) for days in (LEAST_DAYS, MOST_DAYS))
    return Quarantine("first" if today < least else "second", least, most)


def quarantine_notes(request: Request) -> list[Note]:
    """What an enclosure with a new animal in it asks of its keeper."""
    held = [
        (one, found)
        for one in request.animals
        if (found := quarantine_of(one.came_on, request.today)) is not None
    ]
    if not held:
        return []
    notes = [_apart(one, found) for one, found in held]
    others = [one for one in request.animals if all(one is not new for new, _ in held)]
    if others:
        new = _names([one for one, _ in held])
        old = _names(others)
        text = (
            f"{new} is in quarantine and shares this enclosure with {old}: apart for {LEAST_DAYS}"
            f" to {MOST_DAYS} days, in another room if there is one. What a new animal carries is"
            " passed on by water, tools and hands before it shows."
        )
        notes.append(Note(slug="quarantine shared", severity="care", text=text))
    if request.enclosure.substrate.is_loose and any(found.phase == "first" for _, found in held):
        notes.append(
            Note(
                slug="quarantine substrate",
                severity="care",
                text=_substrate(request.profiles[held[0][0].species]),
            )
        )
    return notes


def _names(animals: list[Animal]) -> str:
    return " and ".join(one.name or "the animal" for one in animals)


def _apart(one: Animal, held: Quarantine) -> Note:
    who = one.name or "It"
    if held.phase == "first":
        text = (
            f"{who} is in quarantine until {held.least:%-d %B %Y} at the least: its own tools, seen"
            " to last, hands washed after. Weighed every week, and two samples of its droppings to"
            " a veterinarian, two to four weeks apart."
        )
    else:
        text = (
            f"{who} stays in quarantine until two samples of its droppings were clean and its"
            f" weight is steady, until {held.most:%-d %B %Y} otherwise: a veterinarian says when."
            " Until then its own tools, and seen to last."
        )
    return Note(slug="quarantine", severity="care", text=text)


def _substrate(profile: Profile) -> str:
    if profile.group in DAMP_SKINNED:
        return (
            "In quarantine damp paper, changed every other day, and wet moss to hide in show what"
            " loose substrate hides. Its water goes down no drain to the open."
        )
    return (
        "In quarantine paper shows droppings and mites that loose substrate hides; what has to dig"
        " or lay gets a tub of soil to do it in."
    )
