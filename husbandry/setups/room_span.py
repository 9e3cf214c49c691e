"""How much colder or warmer the room may be than said before a setup leaves a range."""

from typing import NamedTuple

from husbandry.documents.request import Request
from husbandry.plan.plan import plan_summary
from husbandry.species.needs import NeedKey

SPAN_STEP_K, SPAN_MOST_K = 0.5, 3.0
"""Rooms are tried in such steps, and no further off (design choice) [K]."""

Margins = dict[tuple[NeedKey, str], float]
"""How far inside its range a value is, of each need and end [the need's unit]."""


class RoomSpan(NamedTuple):
    """Of the room's temperature, by day and by night."""

    colder_k: float
    warmer_k: float

    @property
    def least_k(self) -> float:
        """To the nearer side [K]."""
        return min(self.colder_k, self.warmer_k)


def room_span(request: Request) -> RoomSpan:
    """How far the room may be off while every need that is predicted stays in range.

    Returns
    -------
    RoomSpan
        Each side at most `SPAN_MOST_K`, between two steps by the straight line [K]. The hottest day
        stays as it is said, or as warm as the day where that is warmer.
    """
    here = _margins(request, 0.0)
    return RoomSpan(_reach(request, here, -1), _reach(request, here, 1))


def _reach(request: Request, here: Margins, sign: int) -> float:
    """To the first need that leaves its range."""
    if min(here.values(), default=0.0) < 0:
        return 0.0
    reach = 0.0
    before = here
    while reach < SPAN_MOST_K:
        after = _margins(request, sign * (reach + SPAN_STEP_K))
        lost = [
            margin / (margin - after[end])
            for end, margin in before.items()
            if end in after and after[end] < 0
        ]
        if lost:
            return reach + SPAN_STEP_K * min(lost)
        reach = reach + SPAN_STEP_K
        before = after
    return reach


def _margins(request: Request, off_k: float) -> Margins:
    """Of each end of each range that is predicted, in a room that is so much off."""
    room = request.room
    day_c = room.day_c + off_k
    other = room.model_copy(
        update={
            "day_c": day_c,
            "night_c": room.night_c + off_k,
            "summer_max_c": max(room.summer_max_c, day_c),
        }
    )
    found = {}
    for need in plan_summary(request.model_copy(update={"room": other})).needs:
        if need.predicted is None or need.verdict.speaks != "predicted":
            continue
        value = need.predicted.value
        if need.low is not None:
            found[need.key, "low"] = value - need.low.value
        if need.high is not None:
            found[need.key, "high"] = need.high.value - value
    return found
