"""An answer judged: found, missed, believed wrongly, what is left, and what would have shown it."""

from dataclasses import replace

from husbandry.derivation import Document
from husbandry.errors import DocumentError
from husbandry.practice.cases import BUDGET_MIN, PracticeCase
from husbandry.practice.fault_strengths import misses_of
from husbandry.practice.faults import BREAKS, NOTHING, causes, mended
from husbandry.practice.measuring import Measurement
from husbandry.species.needs import NEEDS, NeedKey

FOUND_POINTS, REMEDY_POINTS, CARE_POINTS, TIME_POINTS = 60, 20, 10, 10
"""Of a hundred: for the causes, for the right remedy, for measuring with care, and for time (design
choice).
"""


class NeedAfter(Document):
    """A need before and after the change."""

    key: NeedKey
    name: str
    before: float
    after: float
    off_before: float
    """How far outside its range, below it negative [range widths]."""
    off_after: float


class PracticeResult(Document):
    """What came of an answer."""

    found: tuple[str, ...]
    missed: tuple[str, ...]
    believed: tuple[str, ...]
    """What was believed and is not so."""
    remedy_right: bool
    careless: tuple[str, ...]
    """Instruments that were used as their trap has it."""
    too_early: bool
    """Something was read before it had settled, and nothing later at that place."""
    minutes: int
    best_minutes: int
    """Of somebody who knows what is wrong."""
    score: int
    """Of a hundred; 0 where nothing was found."""
    needs: tuple[NeedAfter, ...]
    harm: str
    """What would have gone on; empty where nothing is left."""


BEST: dict[str, int] = {
    "heat_low": 28,
    "heat_high": 28,
    "night_cold": 35,
    "room_hot": 25,
    "uv_old": 15,
    "uv_near": 15,
    "air_dry": 25,
    "thermometer_wrong": 10,
    "hygrometer_wrong": 10,
    "stuck_on": 37,
    "uv_mesh": 20,
    "company": 15,
    "too_small": 3,
    "fed_too_much": 3,
    "wrong_food": 3,
    "no_calcium": 2,
    NOTHING: 120,
}
"""Minutes that show each, waiting counted in (design choice)."""


def judge(
    case: PracticeCase, done: tuple[Measurement, ...], believed: tuple[str, ...], remedy: str
) -> PracticeResult:
    """Judge an answer.

    Parameters
    ----------
    believed : tuple of str
        Causes that are said to be there; “nothing” alone for a right enclosure.
    remedy : str
        The change that is chosen, by its cause's slug.
    """
    true = set(case.causes)
    said = set(believed)
    found = tuple(slug for slug in causes() if slug in true & said)
    missed = tuple(slug for slug in causes() if slug in true - said)
    wrong = tuple(slug for slug in causes() if slug in said - true)
    right = remedy in case.causes
    after = _after(case, remedy)
    minutes = sum(one.minutes for one in done)
    best = sum(BEST[slug] for slug in case.causes)
    careless = tuple(dict.fromkeys(one.instrument for one in done if one.careless))
    early = _too_early(done)
    left = {key for key, need in after.items() if need.off_after}

    return PracticeResult(
        found=found,
        missed=missed,
        believed=wrong,
        remedy_right=right,
        careless=careless,
        too_early=early,
        minutes=minutes,
        best_minutes=best,
        score=_score(
            found, missed, wrong, right=right, clean=not careless and not early, minutes=minutes
        ),
        needs=tuple(after.values()),
        harm=_harm(case, missed) if left or missed or not right else "",
    )


def _score(
    found: tuple[str, ...],
    missed: tuple[str, ...],
    wrong: tuple[str, ...],
    *,
    right: bool,
    clean: bool,
    minutes: int,
) -> int:
    share = max(len(found) - len(wrong), 0) / max(len(found) + len(missed), 1)

    if not share:
        return 0
    points = FOUND_POINTS * share + REMEDY_POINTS * right + CARE_POINTS * clean

    return round(points + TIME_POINTS * (minutes <= BUDGET_MIN))


def _too_early(done: tuple[Measurement, ...]) -> bool:
    """Whether a place was read only before it had settled."""
    heat = [one for one in done if one.instrument in {"infrared", "probe"}]
    early = {
        (one.instrument, one.place) for one in heat if one.moment in {"half_hour", "two_hours"}
    }
    late = {(one.instrument, one.place) for one in heat if one.moment == "six_hours"}

    return bool(early - late)


def _after(case: PracticeCase, remedy: str) -> dict[NeedKey, NeedAfter]:
    """Every need after the change has had two weeks."""
    state = case.true

    if remedy == "uv_mesh":
        state = replace(state, uv_share=1.0)
        values = state.values
    elif remedy in BREAKS:
        try:
            request = mended(case.base.request, case.true.request, remedy, case.strength)
            state = replace(state, request=request)
            values = state.values
        except DocumentError:
            values = case.true.values
    else:
        values = case.true.values
    before = case.misses
    off = misses_of(state)

    return {
        key: NeedAfter(
            key=key,
            name=NEEDS[key].name,
            before=value,
            after=values.get(key, value),
            off_before=round(before.get(key, 0.0), 2),
            off_after=round(off.get(key, 0.0), 2),
        )
        for key, value in case.true.values.items()
    }


def _harm(case: PracticeCase, missed: tuple[str, ...]) -> str:
    harms = [causes()[slug].harm for slug in missed or case.causes if causes()[slug].harm]
    return f"Left so, {harms[0]}." if harms else ""
