"""What is coming in the next twelve months, for many animals at once.

Method: docs/methods/life-plan.md.

The costly part, an animal's growth and its stages, is an `AnimalForecast`: made once, when a weight
comes in, and remembered. The events of a day are
read from it without any fitting.
"""

import datetime as dt
from collections.abc import Iterable, Sequence
from typing import Literal

from husbandry.climate.uv import lamp_days_left
from husbandry.derivation import Document
from husbandry.enclosure.equipment import UV_LAMPS
from husbandry.enclosure.trade_size import fits_size
from husbandry.growth.findings import findings
from husbandry.growth.fitting import WeightRecord
from husbandry.items.union import Item
from husbandry.life_plan.enclosure_purchases import OwnedEnclosure
from husbandry.life_plan.future_body import FutureAnimal
from husbandry.life_plan.rows import Milestone, life_plan_of, milestones
from husbandry.seasons.brumation import CHECK_DAYS
from husbandry.species.approaches import QUESTIONS
from husbandry.species.profile import Profile

HORIZON_DAYS = 366
"""What “the next twelve months” means (definition) [days]."""
SAMPLE_DAYS = 15
"""Enclosures are compared with the body so often [days]."""
WEIGHT_OLD_DAYS = {"growing": 30, "grown": 90}
"""A weight older than this is asked for (common practice: weekly to monthly while it grows) [days]."""
REST_BEGINS = {"north": (11, 15), "south": (5, 15)}
"""Month and day on which a brumation usually begins (common practice)."""
Kind = Literal["stage", "enclosure", "check", "rest", "weigh", "weights", "lamp"]


class Size(Document):
    """What its enclosure needs on a day [m]: usually, at the fast edge of its growth, at the slow
    one.
    """

    on: dt.date
    usual: tuple[float, float, float]
    fast: tuple[float, float, float]
    slow: tuple[float, float, float]
    substrate_m: float


class WeightFindings(Document):
    """What the weights say; its derivation is on the animal's own page."""

    severity: Literal["danger", "care"]
    text: str


class AnimalForecast(Document):
    """An animal's next year, remembered."""

    species: str
    month: dt.date
    stage: str
    confidence: str
    grown: bool
    milestones: tuple[Milestone, ...]
    sizes: tuple[Size, ...]
    """Each until the next: only the days on which something changed are kept."""
    findings: tuple[WeightFindings, ...]
    weighed_on: dt.date | None = None
    dormancy_weeks: float | None = None
    """Of the brumation it is planned for; None where there is none."""


class Event(Document):
    """Something to come."""

    kind: Kind
    on: dt.date
    early: dt.date | None = None
    late: dt.date | None = None
    what: str
    """The stage, the enclosure, the sides, or the number of days, as words."""
    severity: Literal["danger", "care", "fact"] = "fact"
    needs_m: tuple[float, float, float] | None = None
    """Of an enclosure that is too small: the sides it should have [m]."""
    milestone: Milestone | None = None


def ahead_of(
    life: FutureAnimal, weights: Sequence[WeightRecord], month: dt.date, *, uvb: bool = True
) -> AnimalForecast:
    """Work out an animal's next year from the first of a month on."""
    last = month + dt.timedelta(days=HORIZON_DAYS + 45)
    days = range(0, (last - month).days, SAMPLE_DAYS)
    coming = milestones(life, month)
    if any(milestone.usual <= last for milestone in coming):
        coming = life_plan_of(life, month, uvb=uvb).milestones  # with what each changes
    stage = life.stage(month)
    rests = (
        life.profile.season.dormancy in {"usual", "obligate"}
        and QUESTIONS["brumation"].chosen(life.approaches).slug == "planned"
    )
    weeks = life.profile.season.dormancy_weeks
    today = max([weight.on for weight in weights], default=month)
    told = findings(
        life.profile, life.animal.sex, weights, born_on=life.animal.born_on, today=today
    )
    return AnimalForecast(
        species=life.profile.species,
        month=month,
        stage=stage.name,
        confidence=stage.confidence,
        grown=life.rank(month) == len(life.profile.stages) - 1,
        milestones=tuple(
            milestone for milestone in coming if (milestone.early or milestone.usual) <= last
        ),
        sizes=_sizes(life, [month + dt.timedelta(days=n) for n in days]),
        findings=tuple(
            WeightFindings(severity=finding.severity, text=finding.text) for finding in told
        ),
        weighed_on=max((weight.on for weight in weights), default=None),
        dormancy_weeks=weeks.middle if rests and weeks is not None else None,
    )


def _sizes(life: FutureAnimal, days: Sequence[dt.date]) -> tuple[Size, ...]:
    found: list[Size] = []
    for on in days:
        sides = {
            "usual": life.enclosure_m(on),
            "fast": life.enclosure_m(on, "high"),
            "slow": life.enclosure_m(on, "low"),
            "substrate_m": round(life.substrate_m(on), 3),
        }
        size = Size.model_validate({"on": on, **sides})
        if not found or size.model_copy(update={"on": found[-1].on}) != found[-1]:
            found.append(size)
    return tuple(found)


def _outgrown(
    ahead: AnimalForecast,
    enclosure: OwnedEnclosure,
    which: Literal["usual", "fast", "slow"],
    today: dt.date,
) -> dt.date | None:
    for size in ahead.sizes:
        substrate = size.substrate_m if enclosure.substrate_m is None else enclosure.substrate_m
        outside = enclosure.outside_m or enclosure.sides_m
        if not fits_size(outside, enclosure.sides_m[2] - substrate, getattr(size, which)):
            return max(size.on, today)
    return None


def events(
    ahead: AnimalForecast,
    profile: Profile,
    enclosure: OwnedEnclosure | None,
    today: dt.date,
    *,
    south: bool = False,
) -> tuple[Event, ...]:
    """What the next twelve months bring, the soonest first.

    Parameters
    ----------
    enclosure : OwnedEnclosure, optional
        The enclosure it lives in.
    south : bool
        Whether its winter is that of the southern half of the Earth.
    """
    until = today + dt.timedelta(days=HORIZON_DAYS)
    found: list[Event] = [
        Event(kind="weights", on=today, what=finding.text, severity=finding.severity)
        for finding in ahead.findings
    ]
    for milestone in ahead.milestones:
        if today <= milestone.usual <= until or (
            milestone.early and today <= milestone.early <= until < milestone.usual
        ):
            found.append(
                Event(
                    kind="stage",
                    on=milestone.usual,
                    early=milestone.early,
                    late=milestone.late,
                    what=milestone.name,
                    milestone=milestone,
                )
            )
    if enclosure is not None:
        usual = _outgrown(ahead, enclosure, "usual", today)
        if usual is not None and usual <= until:
            severity: Literal["danger", "care"] = "danger" if usual == today else "care"
            found.append(
                Event(
                    kind="enclosure",
                    on=usual,
                    early=_outgrown(ahead, enclosure, "fast", today),
                    late=_outgrown(ahead, enclosure, "slow", today),
                    what=enclosure.name,
                    severity=severity,
                    needs_m=[size.usual for size in ahead.sizes if size.on <= usual][-1],
                )
            )
    found += _rest(ahead, profile, today, until, south=south)
    found += _weigh(ahead, today)
    return tuple(sorted(found, key=lambda event: (event.on, event.kind)))


def _rest(
    ahead: AnimalForecast, profile: Profile, today: dt.date, until: dt.date, *, south: bool
) -> Iterable[Event]:
    if ahead.dormancy_weeks is None:
        return
    month, day = REST_BEGINS["south" if south else "north"]
    begins = next(
        start
        for year in (today.year, today.year + 1)
        if (start := dt.date(year, month, day)) >= today
    )
    grown = ahead.grown or any(
        milestone.slug == profile.grown.slug and milestone.usual <= begins
        for milestone in ahead.milestones
    )
    if not grown or begins > until:
        return
    check = begins - dt.timedelta(days=CHECK_DAYS)
    yield Event(
        kind="check", on=max(check, today), what=f"{ahead.dormancy_weeks:.0f}", severity="care"
    )
    yield Event(kind="rest", on=begins, what=f"{ahead.dormancy_weeks:.0f}", severity="care")


def _weigh(ahead: AnimalForecast, today: dt.date) -> Iterable[Event]:
    if ahead.weighed_on is None:
        yield Event(kind="weigh", on=today, what="", severity="care")
        return
    due = ahead.weighed_on + dt.timedelta(
        days=WEIGHT_OLD_DAYS["grown" if ahead.grown else "growing"]
    )
    yield Event(
        kind="weigh",
        on=max(due, today),
        what=f"{(today - ahead.weighed_on).days}",
        severity="care" if due <= today else "fact",
    )


def uv_left_days(item: Item) -> float | None:
    """Until an ultraviolet lamp has fallen to seven tenths, by its hours and its timer; None for
    what is none, or of which nobody knows [days].
    """
    if not item.is_uv or item.burned_h is None or item.hours_a_day <= 0:
        return None
    left_days = lamp_days_left(item.burned_h, UV_LAMPS[item.kind].t70_h, item.hours_a_day)
    return min(left_days, 36_500.0)


def lamp_events(items: Sequence[Item], since: dt.date, today: dt.date) -> tuple[Event, ...]:
    """When the ultraviolet of each lamp of an enclosure will have fallen to seven tenths: to be
    measured or replaced, though its light has not.

    Parameters
    ----------
    since : date
        The day on which the items' hours were as written; they burn on by their timers from there.
    """
    found = []
    for item in items:
        left_days = uv_left_days(item)
        if left_days is None:
            continue
        due = since + dt.timedelta(days=left_days)
        if due <= today + dt.timedelta(days=HORIZON_DAYS):
            found.append(Event(kind="lamp", on=max(due, today), what=item.name, severity="care"))
    return tuple(found)
