"""Whether ultraviolet is given for as long a day as the keeper's approach has it.

Method: docs/methods/uv.md.
"""

from collections.abc import Iterator, Mapping

from husbandry.documents.result import Note
from husbandry.predict.predict import Prediction, uv_of_day
from husbandry.species.needs import NeedKey
from husbandry.targets.uv_sessions import session_h
from husbandry.targets.verdicts import TargetRange

LEAST_DAY_H = 4.0
"""Ultraviolet “all day with shade” lasts at least so long: the middle of the day, in which animals of
the sun are out (common practice, no source) [h].
"""
SESSIONS_MOST_H, SESSIONS_LEAST_H = 2.5, 0.5
"""Two sessions of twenty minutes to one hour, with some time to spare (common practice, no source)
[h].
"""
FLOOD = " A lamp that warms as well stays on for its warmth: give the sessions by a tube instead."
TEXTS = {
    "uv hours short": (
        "Its ultraviolet is on for {hours:.1f} h a day. By your approach it has it all day, with shade"
        " to choose: let it be on with its other lamps, or choose sessions."
    ),
    "uv session long": (
        "Its ultraviolet is on for {hours:.1f} h a day. By your approach it has two sessions: set the"
        " timer to them, or choose all day with shade."
    ),
    "uv session short": (
        "Its ultraviolet is on for {minutes:.0f} minutes a day: less than two sessions of twenty to"
        " thirty minutes."
    ),
}


def uv_hours_notes(
    prediction: Prediction, targets: Mapping[NeedKey, TargetRange]
) -> Iterator[Note]:
    """Ultraviolet that burns for too short or too long a day."""
    target = targets.get(NeedKey.UVI_DAY)

    if target is None or target.low_value <= 0 or not prediction.uv:
        return
    lit_h = uv_of_day(prediction, target.low_value, target.high_value).lit_h
    by_sessions = session_h(prediction.request) is not None

    if not by_sessions and lit_h < LEAST_DAY_H:
        slug = "uv hours short"
    elif by_sessions and lit_h > SESSIONS_MOST_H:
        slug = "uv session long"
    elif by_sessions and lit_h < SESSIONS_LEAST_H:
        slug = "uv session short"
    else:
        return

    text = TEXTS[slug].format(hours=lit_h, minutes=60 * lit_h)
    if by_sessions and any(item.is_uv and item.is_heater for item in prediction.request.items):
        text += FLOOD
    yield Note(slug=slug, severity="care", text=text, values={"hours": lit_h})
