"""Cases that are fair: what is wrong with each can be found with the instruments and in the time."""

import functools

from husbandry.practice.cases import BUDGET_MIN, Level, PracticeCase, make_case
from husbandry.practice.solver import solved

ATTEMPTS = 12
"""Draws of a number until one is fair (design choice)."""


@functools.lru_cache(maxsize=128)
def fair_case(number: int, level: Level, only: tuple[str, ...] = ()) -> PracticeCase:
    """The case of a number and a level: the first draw that somebody who measures with care solves.

    Raises
    ------
    ValueError
        Where no draw is fair.
    """
    for attempt in range(ATTEMPTS):
        case = make_case(number, level, only, attempt)
        done, believed, _ = solved(case)
        in_time = sum(one.minutes for one in done) <= BUDGET_MIN
        if in_time and set(believed) == set(case.causes):
            return case
    raise ValueError(f"no draw of case {level}-{number} is fair")
