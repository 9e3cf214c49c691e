"""Events of an animal or an enclosure from all that is recorded, the latest first."""

import datetime as dt
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import partial
from typing import Literal

from django.urls import reverse

from husbandry.quantity import Kind, Units, show
from husbandry.records.channels import PLACE_WORDS, SensorPlace
from husbandry.records.coincidences import (
    LOOK_BACK_DAYS,
    AnimalSign,
    Coincidence,
    DatedChange,
    coincidences,
    loss_signs,
    refusal_signs,
    streaks,
)
from husbandry.records.series import summarise
from husbandry.species.needs import NeedKey
from ridgeback import clock
from ridgeback.alarms.models import Alarm
from ridgeback.alarms.wording import title_of, where_of
from ridgeback.animals.models import Animal, ConditionPeriod
from ridgeback.calculation import Failed, attempt
from ridgeback.enclosures.models import Enclosure, Occupancy, Reading, Revision
from ridgeback.enclosures.wording import reading_place, value_of
from ridgeback.log.models import LogEntry
from ridgeback.pens.models import Outing
from ridgeback.permits.models import AnimalDocument
from ridgeback.photos.models import Picture
from ridgeback.records.models import Channel
from ridgeback.records.reading import hours_of
from ridgeback.records.targets import request_of, targets_of
from ridgeback.today.wording import entry_text
from ridgeback.treatments.models import Treatment

EventKind = Literal[
    "meals",
    "body",
    "health",
    "care",
    "moves",
    "enclosure",
    "readings",
    "alarms",
    "photos",
    "papers",
]
KINDS: dict[EventKind, str] = {
    "meals": "meals and refusals",
    "body": "weights and lengths",
    "health": "health, sheds, treatments",
    "care": "other care",
    "moves": "moves",
    "enclosure": "changes of the enclosure",
    "readings": "readings",
    "alarms": "alarms",
    "photos": "photos",
    "papers": "papers",
}
HEALTH = frozenset({"shed", "body", "sign", "behaviour", "toes", "treatment", "soak", "stool"})
"""First words of stems that are of its health."""
MOST = 4_000
"""Rows of a table that are read for one history (design choice)."""
SIGNS_DAYS = 365
"""Signs that are looked for (design choice) [days]."""
CHANNEL_DAYS = 120
"""And what was measured over so long [days]."""


@dataclass(frozen=True)
class HistoryEvent:
    """One line of a history."""

    on: dt.date
    kind: EventKind
    text: str
    by: str = ""
    time: str = ""
    """Of the day, where it is known."""
    address: str = ""
    """Of a page that says more."""


def of_animal(animal: Animal, units: Units) -> list[HistoryEvent]:
    """Everything of an animal, with what happened to the enclosures it lived in while it did."""
    found = [*_entries(LogEntry.objects.standing().filter(animal=animal), animal.time_zone, units)]
    found += [
        HistoryEvent(one.on, "body", f"weighed {show(one.mass_g, Kind.MASS, units)}")
        for one in animal.weighings.all()
    ]

    found += [
        HistoryEvent(
            one.on,
            "body",
            f"{one.get_kind_display()} {show(one.length_mm / 1000, Kind.LENGTH, units)}",
        )
        for one in animal.lengths.all()
    ]

    found += _periods(animal)
    found += _pictures(animal)
    found += _outings(animal)

    for paper in AnimalDocument.objects.filter(animal=animal):
        if paper.issued_on is not None:
            number = f", no. {paper.number}" if paper.number else ""
            title = f"{paper.get_kind_display()}{number}"
            found.append(HistoryEvent(paper.issued_on, "papers", title, address=_papers(animal)))

    for stay in animal.occupancies.filter(is_planned=False).select_related("enclosure__room"):
        found += _stay(stay, units)

    return _ordered(found)


def of_enclosure(enclosure: Enclosure, units: Units) -> list[HistoryEvent]:
    """Everything of an enclosure, with the care of the animals in it."""
    zone = enclosure.room.time_zone
    logged = LogEntry.objects.standing().filter(enclosure=enclosure)
    found = [*_entries(logged, zone, units, several=True)]
    found += _of_place(enclosure, None, None, units)

    for stay in enclosure.occupancies.filter(is_planned=False).select_related("animal"):
        address = reverse("animals:page", args=[stay.animal_id])
        begins = clock.day_in(zone, stay.since)
        found.append(
            HistoryEvent(begins, "moves", f"{stay.animal.name} moved in", address=address)
        )

        if stay.until is not None:
            ends = clock.day_in(zone, stay.until)
            found.append(
                HistoryEvent(ends, "moves", f"{stay.animal.name} moved out", address=address)
            )

    return _ordered(found)


def _ordered(found: Iterable[HistoryEvent]) -> list[HistoryEvent]:
    return sorted(found, key=lambda one: (one.on, one.time), reverse=True)


def _entries(
    rows: object, zone: str, units: Units, *, several: bool = False
) -> Iterator[HistoryEvent]:
    logged = rows.select_related("animal", "by").order_by("-at")[:MOST]  # type: ignore[attr-defined]  # a queryset
    for one in logged:
        stem = one.stem.split(" ")[0]
        kind: EventKind = "meals" if stem == "feed" else "health" if stem in HEALTH else "care"
        name = f"{one.animal.name}: " if several and one.animal is not None else ""
        time = f"{clock.local(one.at, zone):%H:%M}" if clock.day_in(zone, one.at) == one.on else ""
        yield HistoryEvent(one.on, kind, f"{name}{entry_text(one, units)}", one.who, time)


def _periods(animal: Animal) -> Iterator[HistoryEvent]:
    for one in animal.condition_periods.all():
        note = f": {one.note}" if one.note else ""
        words = one.get_kind_display()
        yield HistoryEvent(one.since, "health", f"{words}, from this day{note}")
        if one.until is not None:
            yield HistoryEvent(one.until, "health", f"{words}, over")
    for treatment in Treatment.objects.filter(animal=animal):
        said = f"{treatment.words} ({treatment.by})"
        yield HistoryEvent(treatment.begins, "health", f"treatment begins: {said}")
        ends = treatment.stopped_on or treatment.ends
        yield HistoryEvent(ends, "health", f"treatment ends: {said}")


def _pictures(animal: Animal) -> Iterator[HistoryEvent]:
    rows = Picture.objects.light().photographs().filter(animal=animal)
    for one in rows[:MOST]:
        address = reverse("photos:photo", args=[one.pk])
        yield HistoryEvent(one.on, "photos", one.note or "photo", address=address)


def _outings(animal: Animal) -> Iterator[HistoryEvent]:
    """Times in an outdoor pen."""
    rows = Outing.objects.filter(animals=animal).select_related("pen__room")
    for one in rows[:MOST]:
        zone = one.pen.place.tz
        begin = clock.local(one.out_at, zone)
        until = f" to {clock.local(one.in_at, zone):%H:%M}" if one.in_at is not None else ""
        address = reverse("pens:page", args=[one.pen_id])
        said = f"outside, {one.pen.name}{until}"
        yield HistoryEvent(begin.date(), "moves", said, time=f"{begin:%H:%M}", address=address)


def _papers(animal: Animal) -> str:
    return reverse("permits:list", args=[animal.pk])


def _stay(stay: Occupancy, units: Units) -> Iterator[HistoryEvent]:
    """A move, and what happened to the enclosure during the stay."""
    zone = stay.enclosure.room.time_zone
    why = f": {stay.reason}" if stay.reason else ""
    address = reverse("enclosures:page", args=[stay.enclosure_id])
    on = clock.day_in(zone, stay.since)
    yield HistoryEvent(on, "moves", f"moved into {stay.enclosure.name}{why}", address=address)
    yield from _of_place(stay.enclosure, stay.since, stay.until, units)


def _of_place(
    enclosure: Enclosure, since: dt.datetime | None, until: dt.datetime | None, units: Units
) -> Iterator[HistoryEvent]:
    """Changes, readings and alarms of an enclosure in a time."""
    zone = enclosure.room.time_zone

    def within(at: dt.datetime) -> bool:
        return (since is None or at >= since) and (until is None or at <= until)

    for revision in Revision.objects.filter(enclosure=enclosure).exclude(previous=None):
        if within(revision.made_at):
            said = f": {revision.reason}" if revision.reason else f" (revision {revision.number})"
            yield HistoryEvent(
                clock.day_in(zone, revision.made_at),
                "enclosure",
                f"{enclosure.name} changed{said}",
            )

    for reading in Reading.objects.filter(enclosure=enclosure)[:MOST]:
        if within(reading.at):
            key = NeedKey(reading.need)
            value = value_of(key, reading.value - reading.offset, units)
            place = reading_place(key, reading.at_m, units)
            time = f"{clock.local(reading.at, zone):%H:%M}"
            yield HistoryEvent(
                clock.day_in(zone, reading.at), "readings", f"{place} {value}", time=time
            )

    rows = Alarm.objects.filter(channel__enclosure=enclosure).select_related("channel__enclosure")

    for alarm in rows[:MOST]:
        if within(alarm.began_at) and not alarm.was_false:
            yield HistoryEvent(
                clock.day_in(zone, alarm.began_at),
                "alarms",
                f"{title_of(alarm)} ({where_of(alarm)})",
                time=f"{clock.local(alarm.began_at, zone):%H:%M}",
                address=reverse("alarms:alarm", args=[alarm.pk]),
            )


# --- what changed before ------------------------------------------------------------------------


def before_of(animal: Animal, now: dt.datetime) -> list[Coincidence]:
    """Refusals, losses and illness of the last year, each with what was new before it."""
    today = animal.day_of(now)
    first = today - dt.timedelta(days=SIGNS_DAYS)
    return coincidences(_signs(animal, first), _changes(animal, first, now))


def _signs(animal: Animal, first: dt.date) -> list[AnimalSign]:
    logged = LogEntry.objects.standing().filter(
        animal=animal, stem__startswith="feed ", on__gte=first
    )
    offered = logged.exclude(outcome=LogEntry.Outcome.SKIPPED).order_by("on", "at")
    meals = [(one.on, one.outcome == LogEntry.Outcome.DONE) for one in offered]
    weights = sorted((one.on, one.mass_g) for one in animal.weighings.all() if one.on >= first)
    unwell = [
        AnimalSign("unwell", one.since, one.note or "unwell")
        for one in animal.condition_periods.all()
        if one.kind == ConditionPeriod.Kind.UNWELL and one.since >= first
    ]

    return [*refusal_signs(meals), *loss_signs(weights), *unwell]


def _changes(animal: Animal, first: dt.date, now: dt.datetime) -> list[DatedChange]:
    """Moves, changes of its enclosures, what was measured out of range, treatments, sheds."""
    since = first - dt.timedelta(days=LOOK_BACK_DAYS)
    found = []

    for stay in animal.occupancies.filter(is_planned=False).select_related("enclosure__room"):
        zone = stay.enclosure.room.time_zone
        found.append(
            DatedChange(clock.day_in(zone, stay.since), f"it moved into {stay.enclosure.name}")
        )

        for revision in Revision.objects.filter(enclosure=stay.enclosure).exclude(previous=None):
            is_its = revision.made_at >= stay.since and (
                stay.until is None or revision.made_at <= stay.until
            )

            if is_its:
                said = revision.reason or "a change"
                on = clock.day_in(zone, revision.made_at)
                found.append(DatedChange(on, f"{stay.enclosure.name} changed: {said}"))

        if stay.until is None:
            found += _measured(stay.enclosure_id, now)

    for treatment in Treatment.objects.filter(animal=animal):
        found.append(DatedChange(treatment.begins, f"treatment began: {treatment.words}"))
    for period in animal.condition_periods.all():
        if period.kind != ConditionPeriod.Kind.UNWELL:
            found.append(DatedChange(period.since, period.get_kind_display()))

    return [one for one in found if one.on >= since]


def _measured(enclosure_pk: int, now: dt.datetime) -> list[DatedChange]:
    """Days on which a logger says that a place was mostly out of its range."""
    enclosure = Enclosure.objects.for_planning().get(pk=enclosure_pk)
    request = request_of(enclosure, now)
    found = []

    for channel in Channel.objects.filter(enclosure=enclosure):
        made = attempt(
            partial(targets_of, channel, request, enclosure, now), "channel", channel.pk
        )
        if isinstance(made, Failed):
            continue
        zone = enclosure.room.time_zone
        days = []

        for begin in range(CHANNEL_DAYS, 0, -60):  # so many days are summed up one by one
            first = now - dt.timedelta(days=begin)
            hours = hours_of(channel, first, first + dt.timedelta(days=60))
            ends = (hours.low, hours.high)
            summed = summarise(hours.at_s, hours.mean, made, zone, ends)
            days += [(one.on, one.in_range) for one in summed.days]

        place = PLACE_WORDS[SensorPlace(channel.place)]

        for on, count in streaks(days):
            found.append(
                DatedChange(
                    on,
                    f"{channel.get_quantity_display()} at the {place} out of range for {count} days",
                )
            )

    return found
