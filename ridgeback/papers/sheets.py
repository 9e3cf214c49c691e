"""What stands on the sitter's sheet and on the emergency card, by enclosure in walking order."""

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial

from husbandry.documents.result import NeedState
from husbandry.forecast.day_forecast import ScenarioAssumptions
from husbandry.quantity import Kind, Units, show
from husbandry.species.needs import NEEDS
from husbandry.tasks.kinds import TASK_KINDS
from husbandry.tasks.task import Task
from ridgeback.calculation import Failed, attempt
from ridgeback.climate.day_forecast import seen
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.planning import planned
from ridgeback.households.models import Household
from ridgeback.papers.models import CareNotes, EnclosureNotes
from ridgeback.photos.models import Picture
from ridgeback.tasks.due_tasks import Due, gather
from ridgeback.today.wording import said_of

SHOWN_KINDS = frozenset({Kind.TEMPERATURE, Kind.HUMIDITY})
"""What a sitter reads off a thermometer or a hygrometer."""


@dataclass(frozen=True)
class SheetTask:
    """Something to do, in words."""

    title: str
    how: str


@dataclass(frozen=True)
class SheetDay:
    """What does not come every day."""

    on: dt.date
    tasks: tuple[SheetTask, ...]


@dataclass(frozen=True)
class SheetLimit:
    """A reading that must hold."""

    name: str
    right: str
    never: str


@dataclass(frozen=True)
class SheetEnclosure:
    """An enclosure on the sheet."""

    enclosure: Enclosure
    animals: str
    photo: int | None
    """The key of the latest photo of one of its animals."""
    daily: tuple[SheetTask, ...]
    days: tuple[SheetDay, ...]
    limits: tuple[SheetLimit, ...]
    notes: EnclosureNotes | None
    apart: str
    failed: str = ""


@dataclass(frozen=True)
class SitterSheet:
    """All of it."""

    household: Household
    first: dt.date
    last: dt.date
    notes: CareNotes | None
    enclosures: tuple[SheetEnclosure, ...]


def notes_of(household: Household) -> CareNotes | None:
    """What the keeper wrote of the household; None where nothing was."""
    return CareNotes.objects.filter(household=household).first()


def sitter_sheet(
    household: Household, first: dt.date, last: dt.date, now: dt.datetime, units: Units
) -> SitterSheet:
    """Compose the sheet of some days.

    Parameters
    ----------
    first, last : date
        From today on.
    """
    due_lists = gather(household, now)
    pks = [due.enclosure.pk for due in due_lists]
    notes = {one.enclosure_id: one for one in EnclosureNotes.objects.filter(enclosure__in=pks)}
    photos = _photos(household)
    plans = Enclosure.objects.of(household).for_planning().filter(pk__in=pks)
    limits = {one.pk: _limits(one, now, units) for one in plans}
    whole = []
    for due in due_lists:
        pk = due.enclosure.pk
        whole.append(
            _enclosure(due, first, last, units, notes.get(pk), photos, limits.get(pk, ()))
        )
    return SitterSheet(household, first, last, notes_of(household), tuple(whole))


def _photos(household: Household) -> dict[int, int]:
    """The latest photo of each animal."""
    rows = Picture.objects.of(household).photographs().ready().order_by("on", "pk")
    return dict(rows.values_list("animal", "pk"))


def _enclosure(
    due: Due,
    first: dt.date,
    last: dt.date,
    units: Units,
    notes: EnclosureNotes | None,
    photos: dict[int, int],
    limits: tuple[SheetLimit, ...],
) -> SheetEnclosure:
    animals = ", ".join(animal.name for animal in due.animals)
    photo = next((photos[one.pk] for one in due.animals if one.pk in photos), None)
    apart = " and ".join(animal.name for animal in due.enclosure.apart(due.today))
    if due.routines is None:
        why = due.failed.text if due.failed is not None else ""
        return SheetEnclosure(due.enclosure, animals, photo, (), (), (), notes, apart, why)
    ahead = due.ahead((last - due.today).days + 1)
    days = [(on, tasks) for on, tasks in ahead if first <= on <= last]
    daily: dict[SheetTask, int] = {}
    dated: list[SheetDay] = []
    for on, tasks in days:
        once = []
        for task in tasks:
            if not TASK_KINDS[task.kind].stood_in:
                continue
            words = _words(due, task, on, units)
            if TASK_KINDS[task.kind].daily:
                daily[words] = daily.get(words, 0) + 1
            else:
                once.append(words)
        if once:
            dated.append(SheetDay(on, tuple(once)))
    return SheetEnclosure(
        due.enclosure, animals, photo, tuple(daily), tuple(dated), limits, notes, apart
    )


def _words(due: Due, task: Task, on: dt.date, units: Units) -> SheetTask:
    if due.routines is None:
        return SheetTask(TASK_KINDS[task.kind].done, "")
    said = said_of(task, due.routines, due.weighed_on(task), on, units)
    animal = due.animal_of(task)
    who = f"{animal.name}: " if animal is not None and len(due.animals) > 1 else ""
    return SheetTask(f"{who}{said.title}", said.small)


def _limits(enclosure: Enclosure, now: dt.datetime, units: Units) -> tuple[SheetLimit, ...]:
    """Temperatures and humidity that must hold; none where nothing can be calculated."""
    made = attempt(lambda: planned(enclosure.request_at(now)), "enclosure", enclosure.pk)
    if isinstance(made, Failed):
        return ()
    shown = (need for need in made.plan.needs if NEEDS[need.key].kind in SHOWN_KINDS)
    return tuple(_limit(need, units) for need in shown)


def _limit(need: NeedState, units: Units) -> SheetLimit:
    kind = NEEDS[need.key].kind

    def said(value: float, *, unit: bool = True) -> str:
        return show(value, kind, units, digits=0, unit=unit)

    ends = [end.value for end in (need.low, need.high) if end is not None]
    right = f"{said(ends[0], unit=False)} to {said(ends[-1])}" if len(ends) == 2 else ""
    if len(ends) == 1:
        right = f"{'from' if need.low else 'up to'} {said(ends[0])}"
    never = []
    if need.limit_low is not None:
        never.append(f"below {said(need.limit_low.value)}")
    if need.limit_high is not None:
        never.append(f"above {said(need.limit_high.value)}")
    by_night = " by night" if need.phase == "night" and "night" not in need.name.lower() else ""
    return SheetLimit(f"{need.name}{by_night}", right, " or ".join(never))


# --- the emergency card --------------------------------------------------------------------------

LONG_CUT_H = 24.0
"""A power cut is run through for so long (design choice) [h]."""
COLD_ROOM_C = 8.0
"""What an unheated room falls towards (design choice) [°C]."""


@dataclass(frozen=True)
class DangerRow:
    """An enclosure in a power cut: what is passed, and after how long."""

    enclosure: Enclosure
    animals: str
    hours: float | None
    """Until a limit of the animal is passed; None where none is in a day [h]."""
    words: str


@dataclass(frozen=True)
class EmergencyCard:
    """All of it."""

    household: Household
    notes: CareNotes | None
    rows: tuple[DangerRow, ...]
    """By danger: the first to be warmed comes first."""


def emergency_card(household: Household, now: dt.datetime, units: Units) -> EmergencyCard:
    """Compose the card: every enclosure that is lived in, by how long it bears a power cut."""
    lived_in = [
        enclosure
        for enclosure in Enclosure.objects.of(household).for_planning().order_by("pk")
        if any(not one.is_planned for one in enclosure.present)
    ]
    rows = [_danger(enclosure, now, units) for enclosure in lived_in]
    order = sorted(rows, key=lambda row: (row.hours is None, row.hours or 0.0, row.enclosure.name))
    return EmergencyCard(household, notes_of(household), tuple(order))


def _danger(enclosure: Enclosure, now: dt.datetime, units: Units) -> DangerRow:
    animals = ", ".join(one.animal.name for one in enclosure.present)
    assumed = ScenarioAssumptions(cut_h=LONG_CUT_H, cold_c=COLD_ROOM_C)
    found = attempt(partial(_power_cut, enclosure, now, assumed, units), "enclosure", enclosure.pk)
    if isinstance(found, Failed):
        return DangerRow(enclosure, animals, None, "not calculated: watch its thermometer")
    hours, words = found
    return DangerRow(enclosure, animals, hours, words)


def _power_cut(
    enclosure: Enclosure, now: dt.datetime, assumed: ScenarioAssumptions, units: Units
) -> tuple[float | None, str]:
    made = seen(enclosure.request_at(now), assumed)
    fault = next(one for one in made.what_ifs if one.slug == "power cut")
    cold: Sequence[tuple[float, str]] = [
        (one.after_h, show(one.limit_c, Kind.TEMPERATURE, units, digits=0))
        for one in fault.crossings
        if not one.above
    ]
    if not cold:
        coldest = show(fault.coldest_warm_c, Kind.TEMPERATURE, units, digits=0)
        return None, f"bears a day: its warmest place falls to {coldest}"
    hours, limit = min(cold)
    return hours, f"below {limit} after {hours_words(hours)}"


def hours_words(hours: float) -> str:
    """Say how long: “40 minutes”, “3 hours”."""
    if hours < 1.5:
        return f"{max(round(60 * hours, -1), 10):.0f} minutes"
    return f"{hours:.0f} hours"
