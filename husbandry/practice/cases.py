"""A case: an enclosure with hidden faults, what its keeper says, and what a trainee sees.

The same number and level give the same case for as long as `CASES_VERSION` stays.
"""

import functools
import random
from dataclasses import dataclass, replace
from typing import Literal

from husbandry.documents.request import Request
from husbandry.practice.base_setups import BaseSetup, base_setups
from husbandry.practice.care_truth import possible_care
from husbandry.practice.fault_strengths import CLEAR, misses_of, strength_of
from husbandry.practice.faults import MISSES, NOTHING, broken
from husbandry.practice.true_state import TrueState
from husbandry.species.needs import NeedKey

CASES_VERSION = 1
"""Raised when a number gives another case (design choice)."""
Level = Literal[1, 2, 3, 4, 5, 6]
LEVELS: dict[Level, str] = {
    1: "one visible fault",
    2: "an instrument that lies",
    3: "two faults that hide each other",
    4: "a slow fault over weeks",
    5: "perhaps nothing is wrong",
    6: "what no thermometer shows",
}
VISIBLE = ("heat_low", "heat_high", "uv_near", "air_dry", "room_hot", "night_cold")
SLOW = ("uv_old", "night_cold", "air_dry")
LIES = ("thermometer_wrong", "hygrometer_wrong")
DRAWN = ("heat_low", "heat_high", "night_cold", "room_hot", "uv_old", "uv_near", "air_dry")
"""From which free cases of level 5 are drawn."""
MESH_SHARE = 0.35
"""Of the UVB that a fine, doubled or dusty mesh lets through (common practice: a third to a half) [1].
"""
THERMOMETER_K, HYGROMETER_PCT = 4.0, 18.0
"""By how much a keeper's instrument is wrong (design choice) [K, %]."""
BUDGET_MIN = 210
"""Minutes that a trainee has for a case (design choice)."""
TRIES = 40
"""Draws until a fault shows (design choice)."""


@dataclass(frozen=True)
class PracticeCase:
    """An enclosure with a hidden truth."""

    number: int
    level: Level
    base: BaseSetup
    true: TrueState
    """As it really is."""
    shown: Request
    """As its keeper believes it to be."""
    causes: tuple[str, ...]
    """What is wrong, by slug; “nothing” where nothing is."""
    strength: float
    thermometer_k: float
    """By how much the keeper's thermometer reads too high [K]."""
    hygrometer_pct: float
    """By how much the keeper's hygrometer reads too high [%]."""

    @property
    def key(self) -> str:
        """Its name for links and records."""
        return f"{self.level}-{self.number}"

    @functools.cached_property
    def misses(self) -> dict[NeedKey, float]:
        """Needs that are out of range, and how far [range widths]."""
        return misses_of(self.true)


def make_case(
    number: int, level: Level, only: tuple[str, ...] = (), attempt: int = 0
) -> PracticeCase:
    """A case of a number and a level, be it fair or not: see `fairness.fair_case`.

    Parameters
    ----------
    only : tuple of str, optional
        Causes that may be drawn, for lessons.
    attempt : int
        Which draw of that number.

    Raises
    ------
    ValueError
        Where no enclosure shows such a fault.
    """
    chance = random.Random(f"{CASES_VERSION} {level} {number} {' '.join(only)} {attempt}")

    for _ in range(TRIES):
        base = chance.choice(base_setups())
        right = TrueState(base.request, chance.choice(base.truth_seeds))
        made = _drawn(number, level, base, right, chance, only)
        if made is not None:
            return made

    raise ValueError(f"no enclosure shows such a fault: level {level}, {only}")


def _drawn(
    number: int,
    level: Level,
    base: BaseSetup,
    right: TrueState,
    chance: random.Random,
    only: tuple[str, ...],
) -> PracticeCase | None:
    """One draw; None where its fault does not show."""
    case = PracticeCase(number, level, base, right, base.request, (NOTHING,), 1.0, 0.0, 0.0)

    if level == 5 and not only and chance.random() < 0.6:
        return case

    if level == 2:
        lie = chance.choice([one for one in LIES if not only or one in only] or LIES)
        return _with_lie(case, lie, chance)
    if level == 6:
        return _with_care(case, chance, only)
    causes = {1: VISIBLE, 3: ("heat_low", "heat_high"), 4: SLOW, 5: DRAWN}[level]
    allowed = [one for one in causes if not only or one in only]
    allowed += [one for one in only if one in MISSES and one not in causes]
    cause = chance.choice(allowed or list(causes))
    faulty = _with_fault(case, cause)

    if faulty is None or level != 3:
        return faulty

    return _hidden_by_lie(faulty)


def _with_fault(case: PracticeCase, cause: str) -> PracticeCase | None:
    """The case with a fault of the enclosure that shows where it should, and nowhere else clearly."""
    if cause == "uv_mesh":
        return _with_mesh(case)

    hard = strength_of(case.base, case.true.seed, cause)
    request = broken(case.base.request, cause, hard) if hard is not None else None
    if hard is None or request is None:
        return None

    visible = cause in {"heat_low", "heat_high", "uv_near"}
    return replace(
        case,
        true=TrueState(request, case.true.seed),
        shown=request if visible else case.base.request,
        causes=(cause,),
        strength=hard,
    )


def _with_mesh(case: PracticeCase) -> PracticeCase | None:
    """A right enclosure whose lamp shines through a mesh that takes most of its UVB."""
    state = replace(case.true, uv_share=MESH_SHARE)

    if state.off(NeedKey.UVI_DAY) > -CLEAR:
        return None
    return replace(case, true=state, causes=("uv_mesh",))


def _with_care(
    case: PracticeCase, chance: random.Random, only: tuple[str, ...]
) -> PracticeCase | None:
    """A right enclosure, or one that is too small; and something that no thermometer shows."""
    possible = [one for one in possible_care(case.base) if not only or one in only]

    if not possible:
        return None
    cause = chance.choice(possible)
    small = case.base.small

    if cause == "too_small" and small is not None:
        state = TrueState(small.request, chance.choice(small.truth_seeds))
        return replace(case, true=state, shown=small.request, causes=(cause,))

    return replace(case, causes=(cause,))


def _with_lie(case: PracticeCase, lie: str, chance: random.Random) -> PracticeCase | None:
    """A right enclosure, and an instrument that says otherwise."""
    sign = chance.choice((-1.0, 1.0))

    if lie == "hygrometer_wrong":
        if NeedKey.HUMIDITY_DAY not in case.true.values:
            return None
        return replace(case, causes=(lie,), hygrometer_pct=sign * HYGROMETER_PCT)
    return replace(case, causes=(lie,), thermometer_k=sign * THERMOMETER_K)


def _hidden_by_lie(case: PracticeCase) -> PracticeCase | None:
    """Too much or too little heat, and a thermometer that makes it look right."""
    sign = 1.0 if case.causes == ("heat_low",) else -1.0
    off = [off for key, off in case.misses.items() if key in MISSES[case.causes[0]][0]]

    if not off or max(abs(one) for one in off) > 3.0:
        return None

    return replace(
        case, causes=(*case.causes, "thermometer_wrong"), thermometer_k=sign * THERMOMETER_K
    )
