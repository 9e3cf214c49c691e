"""The daily wave of humidity as a keeper verifies it: read before a misting and after it, held
against the marks of those hours. Method: docs/methods/commissioning.md.
"""

from collections.abc import Mapping
from typing import Literal, NamedTuple

from husbandry.climate.misting import LEAST_WAVE_PCT, SLACK_PCT
from husbandry.derivation import Derivation, named_value
from husbandry.items.timers import hour_of
from husbandry.predict.humidity import HUMIDITY_SOURCE, RANGE, given_of, marks_for
from husbandry.predict.moisture import HALF_HOURS, DayMoisture
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.targets.verdicts import TargetRange

Moment = Literal["before misting", "after misting"]
AFTER_STEPS = 2
"""Half hours after a misting at which a sensor is dry again and the air is at its dampest (source:
humidity A8: readings within 30 min are left out).
"""


class HumidityExtreme(NamedTuple):
    """One end of the wave: when it is read, between what it should be, and what is predicted."""

    moment: Moment
    at: str
    """Of the misting it goes with."""
    low_pct: float
    high_pct: float
    predicted_pct: float
    n: int
    """The half hour of the day at whose end it is read."""


WAVE_KEYS: dict[Moment, str] = {"before misting": "wave_before", "after misting": "wave_after"}
"""By which a plan names what is predicted of each end."""


def wave_predictions(
    damp: DayMoisture | None, shared: Mapping[NeedKey, TargetRange]
) -> dict[str, Derivation]:
    """What a hygrometer at the cool end is predicted to show at both ends of the wave; nothing for
    an enclosure that is not misted.
    """
    if damp is None:
        return {}
    found = {}
    for turn in turns_of(damp, shared):
        key = WAVE_KEYS[turn.moment]
        when = (
            "at the end of the half hour before"
            if turn.moment == "before misting"
            else "an hour after the beginning of"
        )
        found[key] = Derivation(
            value=turn.predicted_pct,
            unit="%",
            method="balance of water",
            rule=(
                f"Vapour of the enclosure {when} its misting at {turn.at}, against saturation at"
                " the cool end’s own temperature then; days alike."
            ),
            inputs=(
                *given_of(damp),
                named_value("cool end at that hour", damp.places.cool[turn.n], "°C"),
            ),
            sources=(HUMIDITY_SOURCE,),
            would_change=RANGE,
            command=f"plan FILE.json --number /predictions/{key}/value",
        )
    return found


def turns_of(
    damp: DayMoisture, shared: Mapping[NeedKey, TargetRange]
) -> tuple[HumidityExtreme, ...]:
    """Before the misting that is waited for longest, and after the one that makes it dampest;
    nothing for an enclosure that is not misted.
    """
    marks = marks_for(damp, shared)
    mistings = damp.wetting.mistings
    if marks is None or not mistings or damp.wetting.mist_days > 1:
        return ()
    values = damp.cool_pct
    before = {one.at: (round(2 * hour_of(one.at)) - 1) % HALF_HOURS for one in mistings}
    after = {
        one.at: (round(2 * hour_of(one.at)) - 1 + AFTER_STEPS) % HALF_HOURS for one in mistings
    }
    driest = min(mistings, key=lambda one: values[before[one.at]])
    dampest = max(mistings, key=lambda one: values[after[one.at]])
    return (
        _turn("before misting", driest.at, before[driest.at], marks.low, marks.high, values),
        _turn("after misting", dampest.at, after[dampest.at], marks.low, marks.high, values),
    )


def _turn(
    moment: Moment,
    at: str,
    n: int,
    low: tuple[float, ...],
    high: tuple[float, ...],
    values: tuple[float, ...],
) -> HumidityExtreme:
    return HumidityExtreme(moment, at, low[n], high[n], values[n], n)


def fault(turn: HumidityExtreme, value_pct: float) -> str:
    """What is wrong with a reading of that moment; empty where it is within its marks, as well as a
    hygrometer tells.
    """
    if value_pct < turn.low_pct - SLACK_PCT:
        return "below its mark"
    return "above its mark" if value_pct > turn.high_pct + SLACK_PCT else ""


def is_line(profile: Profile, before_pct: float, after_pct: float) -> bool:
    """Whether a kind that wants a wave gets a line: misting hardly moves what is read."""
    return profile.moisture.rhythm == "wave" and after_pct - before_pct < LEAST_WAVE_PCT
