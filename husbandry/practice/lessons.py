"""Lessons in the order of the trade, each a few cases with a goal; and the case of a day."""

import datetime as dt
import functools
from dataclasses import dataclass

from husbandry.practice.cases import Level
from husbandry.tables import rows

DAILY_FROM = dt.date(2026, 1, 1)
"""The day of the first daily case (design choice)."""
DAILY_LEVELS: tuple[Level, ...] = (1, 2, 1, 4, 3, 5, 1)
"""Of the days of a week, Monday first (design choice)."""
DAILY_NUMBERS = 10_000
"""Daily cases have numbers from here on (design choice)."""


@dataclass(frozen=True)
class Lesson:
    """Something to be learned, by cases."""

    slug: str
    title: str
    text: str
    goal: int
    """Points that each of its cases asks for, of a hundred."""
    level: Level
    numbers: tuple[int, ...]
    only: tuple[str, ...]


@functools.cache
def lessons() -> dict[str, Lesson]:
    """Every lesson, by slug, in order."""
    return {
        row["slug"]: Lesson(
            row["slug"],
            row["title"],
            row["text"],
            int(row["goal"]),
            int(row["level"]),  # type: ignore[arg-type]  # the table holds levels only
            tuple(int(number) for number in row["numbers"].split()),
            tuple(row["only"].split()),
        )
        for row in rows("husbandry.practice", "lessons.csv")
    }


def daily(day: dt.date) -> tuple[int, Level]:
    """Number and level of the case of a day."""
    return DAILY_NUMBERS + (day - DAILY_FROM).days, DAILY_LEVELS[day.weekday()]
