"""How firm a setup is: how much colder or warmer the room may be than said before it leaves a range,
and how likely it is that all of them hold.
"""

from typing import NamedTuple

from husbandry.documents.request import Request
from husbandry.predict.chance import NeedChance, chance_of_all, chance_of_each
from husbandry.predict.need_states import AnimalNeeds, look
from husbandry.predict.predict import predict
from husbandry.species.needs import NeedKey

SPAN_STEP_K, SPAN_MOST_K = 0.5, 3.0
"""Rooms are tried in such steps, and no further off (design choice) [K]."""
ROOMS_OFF_K = (-1.5, 0.0, 1.5)
"""Rooms in which a setup's chance is asked: as said, and as far off as a room may well be (design
choice) [K].
"""

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


class SetupChance(NamedTuple):
    """Probability that every predicted need of a setup is in its range, by how far the room is off."""

    colder: float
    as_said: float
    warmer: float
    each: tuple[NeedChance, ...] = ()
    """Of each need by itself in the room as it is said, the least likely first."""

    @property
    def mean(self) -> float:
        """Of the three rooms [1]."""
        return (self.colder + self.as_said + self.warmer) / len(ROOMS_OFF_K)


def setup_chance(request: Request) -> SetupChance:
    """How likely it is that all needs hold, with the room as it is said and 1.5 K off either way.

    By the model's own covariance (`predict.chance`), before any reading of its lamps: what lamps of
    their classes may give.
    """
    needs = look(request)
    rooms = [in_another_room(request, off_k) for off_k in ROOMS_OFF_K]
    predictions = [predict(room, needs.position(room)) for room in rooms]
    colder, as_said, warmer = (chance_of_all(one, needs.targets) for one in predictions)
    each = chance_of_each(predictions[ROOMS_OFF_K.index(0.0)], needs.targets)
    return SetupChance(colder, as_said, warmer, each)


def room_span(request: Request) -> RoomSpan:
    """How far the room may be off while every need that is predicted stays in range.

    Returns
    -------
    RoomSpan
        Each side at most `SPAN_MOST_K`, between two steps by the straight line [K]. The hottest day
        stays as it is said, or as warm as the day where that is warmer.
    """
    needs = look(request)
    here = _margins(request, needs, 0.0)
    return RoomSpan(_reach(request, needs, here, -1), _reach(request, needs, here, 1))


def in_another_room(request: Request, off_k: float) -> Request:
    """The same with the room so much warmer, by day and by night [K]."""
    room = request.room
    day_c = room.day_c + off_k
    other = room.model_copy(
        update={
            "day_c": day_c,
            "night_c": room.night_c + off_k,
            "summer_max_c": max(room.summer_max_c, day_c),
        }
    )

    return request.model_copy(update={"room": other})


def _reach(request: Request, needs: AnimalNeeds, here: Margins, sign: int) -> float:
    """To the first need that leaves its range."""
    if min(here.values(), default=0.0) < 0:
        return 0.0
    reach = 0.0
    before = here
    while reach < SPAN_MOST_K:
        after = _margins(request, needs, sign * (reach + SPAN_STEP_K))
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


def _margins(request: Request, needs: AnimalNeeds, off_k: float) -> Margins:
    """Of each end of each range that is predicted, in a room that is so much off: by the centres alone,
    which is quick.
    """
    other = in_another_room(request, off_k)
    prediction = predict(other, needs.position(other))
    found = {}
    for key, target in needs.targets.items():
        value = None if target.conflict else prediction.centre(key)
        if value is None:
            continue
        if target.low is not None:
            found[key, "low"] = value - target.low.value
        if target.high is not None:
            found[key, "high"] = target.high.value - value

    return found
