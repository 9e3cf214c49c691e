"""The veterinarian's summary of an animal: what was, in any period; never what it means."""

import datetime as dt
from collections import Counter
from dataclasses import dataclass
from functools import partial

from django.utils.safestring import SafeString, mark_safe

from husbandry.documents.result import NeedState
from husbandry.quantity import Kind, Units, show
from husbandry.species.library import find
from ridgeback.animal_pages.lives import home_of, life_of
from ridgeback.animals.models import Animal, ConditionPeriod
from ridgeback.calculation import Failed, attempt
from ridgeback.drawing.growth import chart
from ridgeback.drawing.svg import write
from ridgeback.enclosures.models import Enclosure, Revision
from ridgeback.enclosures.planning import planned
from ridgeback.enclosures.wording import value_of
from ridgeback.log.models import LogEntry
from ridgeback.photos.models import Picture
from ridgeback.seasons.models import Brumation
from ridgeback.species_guide.flows import profile_of
from ridgeback.today.wording import entry_text

PHOTOS = 4
"""The latest of the period that are shown (design choice)."""
OF_HEALTH = ("sign", "behaviour", "body", "screen", "toes")
"""Stems of what was seen of its body."""


@dataclass(frozen=True)
class SummaryNeed:
    """A need as it is asked for, predicted and measured."""

    name: str
    needed: str
    predicted: str
    measured: str


@dataclass(frozen=True)
class VetSummary:
    """All of it."""

    animal: Animal
    kind: str
    first: dt.date
    last: dt.date
    enclosure: Enclosure | None
    weights: tuple[tuple[dt.date, str], ...]
    trend: str
    """From the first to the last weight of the period."""
    chart: SafeString
    meals: tuple[tuple[dt.date, str], ...]
    refusals: str
    supplements: tuple[tuple[str, int], ...]
    """What was on what it ate, and how often in the period."""
    sheds: tuple[ConditionPeriod, ...]
    conditions: tuple[ConditionPeriod, ...]
    seen: tuple[tuple[dt.date, str], ...]
    needs: tuple[SummaryNeed, ...]
    lamps: tuple[str, ...]
    brumations: tuple[Brumation, ...]
    treatments: tuple[str, ...]
    changes: tuple[tuple[dt.date, str], ...]
    """Of its enclosure, and moves."""
    photos: tuple[Picture, ...]


def vet_summary(
    animal: Animal,
    first: dt.date,
    last: dt.date,
    now: dt.datetime,
    units: Units,
    *,
    printed: bool = False,
) -> VetSummary:
    """Compose the summary of a period; `animal` comes with its weights, lengths and periods.

    Parameters
    ----------
    printed : bool
        Whether the chart carries its own colours, for a document without the page's styles.
    """
    home = home_of(animal)
    enclosure = Enclosure.objects.for_planning().get(pk=home.pk) if home is not None else None
    logged = LogEntry.objects.standing().filter(animal=animal, on__range=(first, last))
    entries = list(logged.select_related("by").order_by("on", "at"))
    offered = [
        one
        for one in entries
        if one.stem.startswith("feed ") and one.outcome != LogEntry.Outcome.SKIPPED
    ]
    refused = sum(one.outcome == LogEntry.Outcome.REFUSED for one in offered)
    eaten = Counter(product for one in offered for product in one.products)
    weights = sorted(
        (one for one in animal.weighings.all() if first <= one.on <= last),
        key=lambda one: (one.on, one.pk),
    )
    periods = [
        one
        for one in animal.condition_periods.all()
        if one.since <= last and (one.until is None or one.until >= first)
    ]
    sheds = tuple(one for one in periods if one.kind == ConditionPeriod.Kind.SHED)
    health = [one for one in entries if one.stem.split(" ")[0] in OF_HEALTH]
    return VetSummary(
        animal=animal,
        kind=f"{profile_of(animal.household, animal.species).name} ({animal.species})",
        first=first,
        last=last,
        enclosure=enclosure,
        weights=tuple((one.on, show(one.mass_g, Kind.MASS, units)) for one in weights),
        trend=_trend([(one.on, one.mass_g) for one in weights], units),
        chart=_chart(animal, now, units, printed=printed),
        meals=tuple((one.on, entry_text(one, units)) for one in offered),
        refusals=f"{refused} of {len(offered)} refused" if offered else "none logged",
        supplements=tuple(sorted(eaten.items())),
        sheds=sheds,
        conditions=tuple(one for one in periods if one not in sheds),
        seen=tuple((one.on, entry_text(one, units)) for one in health),
        needs=_needs(enclosure, now, units),
        lamps=_lamps(enclosure, now),
        brumations=tuple(one for one in animal.brumations.all() if one.begins_on <= last),
        treatments=_treatments(animal, last),
        changes=_changes(animal, enclosure, first, last),
        photos=_photos(animal, first, last),
    )


def _treatments(animal: Animal, last: dt.date) -> tuple[str, ...]:
    """Treatments that had begun, in the veterinarian's words."""
    return tuple(
        f"{one.words} ({one.by}), {one.begins:%-d %B} to {(one.stopped_on or one.ends):%-d %B %Y}"
        for one in animal.treatments.all()
        if one.begins <= last
    )


def _photos(animal: Animal, first: dt.date, last: dt.date) -> tuple[Picture, ...]:
    ready = Picture.objects.of(animal.household).photographs().ready()
    return tuple(ready.filter(animal=animal, on__range=(first, last))[:PHOTOS])


def _trend(weights: list[tuple[dt.date, float]], units: Units) -> str:
    if len(weights) < 2:
        return ""
    (day, was), (_, now_g) = weights[0], weights[-1]
    change = now_g / was - 1
    said = "lost" if change < 0 else "gained"
    mass = show(abs(now_g - was), Kind.MASS, units)
    return f"{said} {mass} ({abs(change):.0%}) since {day:%-d %B %Y}"


def _chart(animal: Animal, now: dt.datetime, units: Units, *, printed: bool) -> SafeString:
    """Its growth as the page of the animal draws it; nothing where it cannot be calculated."""
    today = animal.day_of(now)
    profile = find(animal.species)
    life = attempt(partial(life_of, animal, today, profile), "animal", animal.pk)
    if isinstance(life, Failed) or not life.weights:
        return mark_safe("")
    drawn = attempt(
        lambda: write(
            chart(life.future, life.weights, today, units, animal.name),
            "export" if printed else "page",
        ),
        "animal",
        animal.pk,
    )
    return mark_safe("" if isinstance(drawn, Failed) else drawn)  # our own writer escapes


def _needs(enclosure: Enclosure | None, now: dt.datetime, units: Units) -> tuple[SummaryNeed, ...]:
    if enclosure is None:
        return ()
    made = attempt(lambda: planned(enclosure.request_at(now)), "enclosure", enclosure.pk)
    if isinstance(made, Failed):
        return ()
    return tuple(_need(need, units) for need in made.plan.needs)


def _need(need: NeedState, units: Units) -> SummaryNeed:
    ends = [end.value for end in (need.low, need.high) if end is not None]
    needed = " to ".join(
        value_of(need.key, end, units, unit=n == len(ends) - 1) for n, end in enumerate(ends)
    )
    if len(ends) == 1:
        needed = f"{'from' if need.low is not None else 'up to'} {needed}"
    predicted = value_of(need.key, need.predicted.value, units) if need.predicted else ""
    measured = ""
    if need.measured is not None:
        on = f"{need.measured.at:%-d %B}"
        measured = f"{value_of(need.key, need.measured.value, units)} on {on}"
    night = " by night" if need.phase == "night" and "night" not in need.name.lower() else ""
    return SummaryNeed(f"{need.name}{night}", needed, predicted, measured)


def _lamps(enclosure: Enclosure | None, now: dt.datetime) -> tuple[str, ...]:
    """Its ultraviolet lamps, with the hours that they have burned as far as anybody said."""
    if enclosure is None:
        return ()
    request = attempt(partial(enclosure.request_at, now), "enclosure", enclosure.pk)
    if isinstance(request, Failed):
        return ()
    found = []
    for item in request.items:
        if item.is_uv:
            burned = (
                f"{item.burned_h:.0f} h burned" if item.burned_h is not None else "age unknown"
            )
            found.append(f"{item.name}, {item.hours_a_day:g} h a day, {burned}")
    return tuple(found)


def _changes(
    animal: Animal, enclosure: Enclosure | None, first: dt.date, last: dt.date
) -> tuple[tuple[dt.date, str], ...]:
    """Moves of the animal and changes of its enclosure in the period, the earliest first."""
    found: list[tuple[dt.date, str]] = []
    for stay in animal.occupancies.filter(is_planned=False).select_related("enclosure__room"):
        on = stay.enclosure.room.day_of(stay.since)
        if first <= on <= last:
            why = f": {stay.reason}" if stay.reason else ""
            found.append((on, f"moved into {stay.enclosure.name}{why}"))
    if enclosure is not None:
        for revision in Revision.objects.filter(enclosure=enclosure).order_by("number"):
            on = enclosure.room.day_of(revision.made_at)
            if first <= on <= last and revision.previous_id is not None:
                found.append((on, f"{enclosure.name} changed (revision {revision.number})"))
    return tuple(sorted(found))
