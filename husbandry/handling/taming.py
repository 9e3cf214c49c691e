"""Taming in steps: a little and often, forward when it went well, back when it did not, and not at
all when it should not be. Method: docs/methods/handling.md.
"""

import datetime as dt
from collections.abc import Sequence
from typing import Literal, NamedTuple

from husbandry.feeding.condition_periods import ConditionPeriod

How = Literal["calm", "hid", "bit"]
HOW: dict[How, str] = {"calm": "calm", "hid": "hid or fled", "bit": "bit, struck or puffed up"}


class TamingStep(NamedTuple):
    """One step of the way."""

    name: str
    does: str
    minutes: int


TAMING_STEPS: tuple[TamingStep, ...] = (
    TamingStep(
        "Be there",
        "Sit beside the enclosure and do the daily care slowly, from the side, never from above.",
        10,
    ),
    TamingStep(
        "A hand in the enclosure",
        "Lay a still hand on the ground, far from it, where it can see it. Let it come or stay"
        " away.",
        10,
    ),
    TamingStep(
        "Food at the hand",
        "Offer food with tongs near the still hand, or a target to follow. Tongs, not fingers.",
        5,
    ),
    TamingStep(
        "A touch",
        "Touch its flank once, from the side and low, then take the hand away before it minds.",
        3,
    ),
    TamingStep(
        "Onto the hand",
        "Let it walk onto the hand, or lift the whole body, a hand’s breadth above the substrate."
        " Down again at once.",
        3,
    ),
    TamingStep(
        "Out of the enclosure",
        "Low over something soft, seated, in a closed room. Back before it tires.",
        5,
    ),
    TamingStep(
        "Longer",
        "As long as it stays at ease, ten minutes at most; thin skins and small bodies less.",
        10,
    ),
)
"""Common practice, no source: side not above, food as reward, stop before it objects."""
SIGNAL = TamingStep(
    "The signal",
    "Touch it with a hook or a roll of paper before the hand comes: this is no feeding time. No"
    " food near the hand, ever.",
    5,
)
"""In place of food at the hand, for what strikes at it (common practice)."""
FOOD_STEP = 2
"""Place of the step with food among the steps (design choice)."""
FORWARD, BACK_HID = 3, 2
"""Calm so often in a row leads to the next step, hiding so often back (design choice)."""
EVERY_DAYS = {"daily": 1, "weekly": 3, "seldom": 7}
"""Between two sessions, by how often its species takes the hand (common practice: a little, often)
[days].
"""
DIGEST_DAYS = 2
"""Whole prey lies in the gut undisturbed (common practice: 48 hours) [days]."""
HANDS_OFF = (
    "Its species is looked at, not handled: what a hand gives it is stress, or worse. Move it in a"
    " tub or a cup when it must be moved."
)


def steps_for(*, whole_prey: bool) -> tuple[TamingStep, ...]:
    """The way of an animal: what takes whole prey learns a signal, not food from the hand."""
    return (
        (*TAMING_STEPS[:FOOD_STEP], SIGNAL, *TAMING_STEPS[FOOD_STEP + 1 :])
        if whole_prey
        else TAMING_STEPS
    )


class HandlingSession(NamedTuple):
    """How it went on a day."""

    on: dt.date
    how: How


class TamingProgress(NamedTuple):
    """Where an animal is on the way."""

    step: int
    in_a_row: int
    """Calm sessions on this step so far."""
    because: str


def standing(sessions: Sequence[HandlingSession]) -> TamingProgress:
    """The step that follows from the sessions, in the order in which they were: the same facts, the
    same step.
    """
    step = 0
    calm = 0
    hid = 0
    because = "It begins here."
    for one in sorted(sessions, key=lambda session: session.on):
        if one.how == "calm":
            calm = calm + 1
            hid = 0
            if calm >= FORWARD and TAMING_STEPS[step + 1 :]:
                step, calm, because = (
                    step + 1,
                    0,
                    f"Calm {FORWARD} times in a row: a step on, {one.on:%-d %B}.",
                )
        elif one.how == "hid":
            calm = 0
            hid = hid + 1
            if hid >= BACK_HID and step:
                step, hid, because = (
                    step - 1,
                    0,
                    f"It hid {BACK_HID} times in a row: a step back, {one.on:%-d %B}.",
                )
        else:
            calm = 0
            hid = 0
            because = (
                f"It defended itself on {one.on:%-d %B}: {'a step back' if step else 'stay here'}."
            )
            step = max(step - 1, 0)
    return TamingProgress(step, calm, because)


def not_today(
    condition_periods: Sequence[ConditionPeriod],
    last_meal: dt.date | None,
    today: dt.date,
    *,
    whole_prey: bool,
    quiet: bool,
    resting: bool,
) -> str:
    """Why no hand today; empty where nothing speaks against it.

    Parameters
    ----------
    last_meal : date or None
        The last that was eaten.
    """
    if quiet:
        return "It moved in less than a week ago: no handling."
    if resting:
        return "It is in its brumation."
    kinds = {condition_period.kind for condition_period in condition_periods}
    if "unwell" in kinds:
        return "It is unwell: only what the veterinarian asks for."
    if "shed" in kinds:
        return "In shed it sees badly and its skin is sore."
    if "gravid" in kinds:
        return "She carries eggs or young."
    if any(
        condition_period.kind == "brought up" and (today - condition_period.since).days < 14
        for condition_period in condition_periods
    ):
        return "It brought food up lately."
    if last_meal is not None and whole_prey and (today - last_meal).days < DIGEST_DAYS:
        return f"It ate on {last_meal:%-d %B}: {DIGEST_DAYS} days without a hand."
    if last_meal is not None and last_meal == today:
        return "It has eaten today: tomorrow, before its food."
    return ""


def every_days(how_often: str) -> int | None:
    """Between two sessions [days]; None for what is not handled."""
    return EVERY_DAYS.get(how_often)
