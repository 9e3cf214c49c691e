"""Whether a keeper gives ultraviolet all day with shade, or in two sessions a day."""

from typing import NamedTuple

from husbandry.documents.request import Request
from husbandry.items.timers import ClockTime, clock_of, ends_of, hour_of
from husbandry.species.approaches import QUESTIONS
from husbandry.species.profile import Profile

DUSK, DAY = "uvb-dusk", "uv-hours"
"""Questions that ask it: of animals of dusk and night, and of animals of the day."""
IN_SESSIONS = {DUSK: "short", DAY: "sessions"}
SESSION_H = {DUSK: 0.5, DAY: 1.0}
"""A session of each: twenty to thirty minutes; an hour, as a clinic advises for tortoises (common
practice) [h].
"""
FROM_EDGE_H = 1.0
"""So long after the lamps go on, and before they go off: it is warm by then, and still up (design
choice) [h].
"""


class UvTimes(NamedTuple):
    """When a lamp for ultraviolet burns."""

    on: ClockTime
    off: ClockTime
    also_on: tuple[str, ...] = ()

    @property
    def windows(self) -> tuple[tuple[ClockTime, ClockTime], ...]:
        """Each time of the day at which it burns."""
        return ((self.on, self.off), *(ends_of(span) for span in self.also_on))

    def as_item(self) -> dict[str, object]:
        """As the fields of an item in a request."""
        more = {"also_on": list(self.also_on)} if self.also_on else {}
        return {"on": self.on, "off": self.off, **more}


def session_h(request: Request) -> float | None:
    """How long a session is [h]; None where ultraviolet is given all day, as one of the animals needs
    it.
    """
    sessions = [
        _session_h(request.profiles[animal.species], request.approaches_of(n))
        for n, animal in enumerate(request.animals)
    ]
    by_sessions = [one for one in sessions if one is not None]
    return min(by_sessions) if by_sessions and len(by_sessions) == len(sessions) else None


def _session_h(profile: Profile, approaches: dict[str, str]) -> float | None:
    """The same for one animal."""
    for question, chosen in IN_SESSIONS.items():
        if question in profile.questions and QUESTIONS[question].chosen(approaches).slug == chosen:
            return SESSION_H[question]
    return None


def uv_times(request: Request, day: tuple[ClockTime, ClockTime]) -> UvTimes:
    """When lamps for ultraviolet should burn, where the others burn from the first to the second time
    of `day`: with them, or in a session an hour from each end.
    """
    long_h = session_h(request)

    if long_h is None:
        return UvTimes(*day)
    begin, end = (hour_of(one) for one in day)
    lit_h = end - begin if end > begin else end - begin + 24
    edge_h = min(FROM_EDGE_H, max(lit_h / 2 - long_h, 0.0) / 2)
    morning = begin + edge_h
    evening = begin + lit_h - edge_h - long_h

    return UvTimes(
        clock_of(morning),
        clock_of(morning + long_h),
        (f"{clock_of(evening)}-{clock_of(evening + long_h)}",),
    )
