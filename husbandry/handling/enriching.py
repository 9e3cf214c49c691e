"""Ideas against dull days, from the species' own and from its way of life, one a week in turn.

Method: docs/methods/handling.md.
"""

import datetime as dt

from husbandry.species.profile import Profile

ENRICHMENT_DAYS = 7
"""Between two ideas: often enough to matter, seldom enough to feel at home (design choice) [days]."""
_BY_LIFE: tuple[tuple[str, str], ...] = (
    ("climbs", "Move one perch or branch, and leave the rest as it is"),
    ("digs", "A heap of fresh, damp substrate in one corner to dig through"),
    ("insects", "Let its insects go at three places instead of one"),
    ("worms", "Food at another place than last time"),
    ("greens", "Leaves pushed between stones or hung up, to be pulled at"),
    ("prey", "Drag the thawed prey along a path before it is offered"),
    ("paste", "The dish at another height than last time"),
    (
        "snake",
        (
            "A clean shed skin of another enclosure’s plant or bark to smell at: a new scent,"
            " nothing alive"
        ),
    ),
    ("lizard", "A sheet of bark laid loosely, to look under"),
    ("tortoise", "A flat stone in its usual way"),
    ("frog", "A shower of fine, lukewarm rain by hand in the evening"),
    ("salamander", "A handful of fresh leaves, dry and clean, on the old"),
    ("turtle", "A floating leaf of cork"),
)
"""By way of life, food and group (common practice)."""


def _own(profile: Profile) -> list[str]:
    """The profile's own ideas: its sentence, taken apart."""
    return [
        part.strip()[0].upper() + part.strip()[1:]
        for part in profile.handling.enrichment.rstrip(".").split(",")
        if part.strip()
    ]


def _life(profile: Profile) -> set[str]:
    group = "frog" if profile.group == "toad" else profile.group
    found = {group, *profile.foods}
    if profile.habit in {"arboreal", "semi-arboreal"}:
        found.add("climbs")
    if profile.body.dig_bl > 0:
        found.add("digs")
    return found


def ideas(profile: Profile) -> tuple[str, ...]:
    """Ideas for a species, its own first."""
    life = _life(profile)
    return tuple(dict.fromkeys([*_own(profile), *(text for key, text in _BY_LIFE if key in life)]))


def idea_of(found: tuple[str, ...], week_of: dt.date, offset: int = 0) -> str:
    """The idea of a week: they take turns by the calendar's own weeks, so that whoever looks on
    whatever day sees the same.

    Parameters
    ----------
    offset : int
        So that two of a kind do not have the same week.
    """
    monday = week_of - dt.timedelta(days=week_of.weekday())
    return found[(monday.toordinal() // ENRICHMENT_DAYS + offset) % len(found)]
