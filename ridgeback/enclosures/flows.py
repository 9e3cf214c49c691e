"""Writes of more than one step. Each is one transaction."""

import datetime as dt
from collections.abc import Mapping
from typing import Any

import jsonpatch
from django.db import transaction
from django.db.models import Exists, Max, OuterRef

from husbandry.calibration.model_record import promises
from husbandry.commissioning.readings import affected
from husbandry.documents.request import EarlierState, Request
from husbandry.documents.result import Change
from husbandry.errors import ImpossibleStateError
from husbandry.feeding.condition_periods import QUIET_DAYS
from husbandry.plan.plan import plan_summary
from husbandry.species.needs import NEEDS, NeedKey
from ridgeback.animals.models import Animal, Length, Weighing
from ridgeback.calculation import Failed, attempt
from ridgeback.enclosures.models import TOGETHER_MOST, Enclosure, Occupancy, Reading, Revision
from ridgeback.households.models import Keeper
from ridgeback.submissions.flows import sent_once


class StaleError(Exception):
    """Somebody else changed the enclosure since this page was opened.

    The message is for the page.
    """

    def __init__(self) -> None:
        super().__init__(
            "This enclosure was changed meanwhile, here or by someone else. You see its present"
            " state: look again and repeat."
        )


def spec_of(request: Request | EarlierState) -> dict[str, Any]:
    """The part of a request, or of an earlier state, that a revision keeps."""
    data = request.model_dump(mode="json", exclude_none=True)
    return {"enclosure": data["enclosure"], "items": data["items"]}


def _locked(enclosure: Enclosure, seen: int) -> Revision:
    """The head, with its enclosure locked, if it is the one that was seen.

    The row is locked first and its head is read after it: one that waited for another save would
    otherwise join the head of before.
    """
    row = Enclosure.objects.select_for_update().get(pk=enclosure.pk)
    head = Revision.objects.filter(pk=row.head_id or 0).first()
    if head is None or head.number != seen:
        raise StaleError
    return head


def revise(
    enclosure: Enclosure,
    spec: dict[str, Any],
    *,
    previous: Revision | None,
    reason: str,
    keeper: Keeper | None,
    now: dt.datetime,
    state: str = "",
) -> Revision:
    """The next revision.

    What is planned stays planned and what is built stays built, unless said.
    """
    state = state or (enclosure.head.state if enclosure.head else Revision.State.BUILT)
    last = enclosure.revisions.aggregate(last=Max("number"))["last"] or 0
    made = Revision.objects.create(
        enclosure=enclosure,
        number=last + 1,
        spec=spec,
        reason=reason[:200],
        previous=previous,
        made_at=now,
        made_by=keeper,
        state=state,
    )
    Enclosure.objects.filter(pk=enclosure.pk).update(head=made, looked_on=None)
    enclosure.head = made
    made.promised = _promised(enclosure, now)
    made.save(update_fields=["promised"])
    return made


def _promised(enclosure: Enclosure, now: dt.datetime) -> dict[str, Any]:
    """What the present state is predicted to do, by all that was read until now.

    Nothing for an enclosure that nobody lives in.
    """
    whole = Enclosure.objects.for_planning().get(pk=enclosure.pk)
    if not whole.present:
        return {}
    seen = attempt(lambda: plan_summary(whole.request_at(now)), "enclosure", enclosure.pk)
    if isinstance(seen, Failed):  # what cannot be calculated can still be corrected
        return {}
    return {
        need.value: promise.model_dump(mode="json") for need, promise in promises(seen).items()
    }


@transaction.atomic
def begin(
    enclosure: Enclosure,
    spec: dict[str, Any],
    *,
    keeper: Keeper | None,
    now: dt.datetime,
    state: str = Revision.State.BUILT,
) -> Revision:
    """The first revision of an enclosure."""
    reason = "as built" if state == Revision.State.BUILT else "as planned"
    return revise(
        enclosure, spec, previous=None, reason=reason, keeper=keeper, now=now, state=state
    )


@transaction.atomic
def mark_built(enclosure: Enclosure, *, seen: int, keeper: Keeper, now: dt.datetime) -> bool:
    """What was planned stands now: a revision of its own, so that readings from here on are of the
    built enclosure. False when it stood.
    """
    head = _locked(enclosure, seen)
    if head.state == Revision.State.BUILT:
        return False
    revise(
        enclosure,
        head.spec,
        previous=head.previous,
        reason="built",
        keeper=keeper,
        now=now,
        state=Revision.State.BUILT,
    )
    return True


@transaction.atomic
def apply_change(
    enclosure: Enclosure,
    change: Change,
    *,
    seen: int,
    reason: str,
    keeper: Keeper,
    now: dt.datetime,
) -> Revision:
    """Make a planned change: a new revision of the enclosure."""
    head = _locked(enclosure, seen)
    # The patch is written for the whole request; enclosure and items stand in it as they stand in
    # the spec.
    full = enclosure.request_at(now).model_dump(mode="json")
    patched = jsonpatch.apply_patch(full, list(change.patch))
    spec = {"enclosure": patched["enclosure"], "items": patched["items"]}
    request = enclosure.request_at(now, spec)
    return revise(
        enclosure, spec_of(request), previous=head, reason=reason, keeper=keeper, now=now
    )


@transaction.atomic
def undo(enclosure: Enclosure, *, seen: int, keeper: Keeper, now: dt.datetime) -> Revision | None:
    """Go back to the state before the last change, as a new revision; None when there is nothing
    before.
    """
    head = _locked(enclosure, seen)
    before = head.previous
    if before is None:
        return None
    return revise(
        enclosure,
        before.spec,
        previous=before.previous,
        reason=f"undone: {head.reason or 'change'}",
        keeper=keeper,
        now=now,
    )


@transaction.atomic
def keep_layout(
    enclosure: Enclosure,
    request: Request,
    *,
    seen: int,
    keeper: Keeper,
    now: dt.datetime,
    seen_animals: Mapping[int, int] | None = None,
) -> bool:
    """Save what was tried: the enclosure as a revision, the animals as facts of today.

    Parameters
    ----------
    seen_animals : mapping, optional
        The version of each animal that the page showed, by its key.

    Returns
    -------
    bool
        False when nothing differs from what is saved.

    Raises
    ------
    StaleError
        When the enclosure, or the facts of an animal that would be changed, were saved meanwhile.
    """
    head = _locked(enclosure, seen)
    before = enclosure.request_at(now)
    parts = (request.enclosure, request.items, request.animals)
    if parts == (before.enclosure, before.items, before.animals):
        return False
    if request.animals != before.animals and _animals_moved(enclosure, seen_animals or {}):
        raise StaleError
    if spec_of(request) != spec_of(before):
        revise(
            enclosure,
            spec_of(request),
            previous=head,
            reason="changed in the layout",
            keeper=keeper,
            now=now,
        )
    Enclosure.objects.filter(pk=enclosure.pk).update(looked_on=None)
    for occupancy, new, old in zip(
        enclosure.present, request.animals, before.animals, strict=True
    ):
        _keep_animal(occupancy.animal, new, old, request.today)
    return True


def _animals_moved(enclosure: Enclosure, seen: Mapping[int, int]) -> bool:
    """Whether the facts of an animal were saved since the page showed them. Locks the animals."""
    here = [occupancy.animal_id for occupancy in enclosure.present]
    rows = Animal.objects.select_for_update().filter(pk__in=here).order_by("pk")
    return any(seen.get(row.pk, row.version) != row.version for row in rows)


def _keep_animal(animal: Animal, new: Any, old: Any, today: dt.date) -> None:
    if new.mass_g is not None and new.mass_g != old.mass_g:
        Weighing.objects.create(animal=animal, on=today, mass_g=new.mass_g)
    for kind, value in new.length_mm.items():
        if value != old.length_mm.get(kind):
            Length.objects.create(animal=animal, on=today, kind=kind, length_mm=value)
    if (new.born_on, new.fed_on, new.approaches) != (old.born_on, old.fed_on, old.approaches):
        animal.born_on = new.born_on
        animal.fed_on = new.fed_on
        animal.approaches = new.approaches
        animal.version += 1
        animal.save(update_fields=["born_on", "fed_on", "approaches", "version"])


class MoveError(Exception):
    """A move that cannot be; the message is for the page."""


@transaction.atomic
def move_in(
    enclosure: Enclosure,
    animal: Animal,
    *,
    now: dt.datetime,
    at: dt.datetime | None = None,
    reason: str = "",
    because: str = "",
) -> bool:
    """An animal moves into an enclosure, out of the one it was in.

    Parameters
    ----------
    at : datetime, optional
        When it moved; None: now.
    reason : str
        Why it moved.
    because : str
        Why it moves into an enclosure that is not verified.

    Returns
    -------
    bool
        False when it lives there already.

    Raises
    ------
    MoveError
        When the moment cannot be: to come, before its birth, or before a move that is recorded.
    """
    at = now if at is None else at
    row = Animal.objects.select_for_update().get(pk=animal.pk)
    if Occupancy.objects.present().filter(animal=animal, enclosure=enclosure).exists():
        return False
    _check_moment(row, enclosure, at, now)
    if Occupancy.objects.present().filter(enclosure=enclosure).count() >= TOGETHER_MOST:
        raise MoveError(f"{enclosure.name} is full: at most {TOGETHER_MOST} animals share one.")
    left = Occupancy.objects.present().filter(animal=animal)
    left.look_again()
    left.update(until=at)
    Occupancy.objects.planned().filter(animal=animal, enclosure=enclosure).delete()
    Occupancy.objects.create(
        enclosure=enclosure,
        animal=animal,
        since=at,
        moved_in_at=at,
        reason=reason,
        unproven_because=because,
    )
    _is_here(row)
    Enclosure.objects.filter(pk=enclosure.pk).update(looked_on=None)
    return True


def _check_moment(animal: Animal, enclosure: Enclosure, at: dt.datetime, now: dt.datetime) -> None:
    """Raise `MoveError` for a moment at which it cannot have moved there."""
    day = enclosure.room.day_of(at)
    if enclosure.archived_on is not None:
        raise MoveError(f"{enclosure.name} is archived: use it again first.")
    if at > now:
        raise MoveError("This moment is still to come: a move is logged on its day.")
    if animal.born_on is not None and day < animal.born_on:
        raise MoveError(f"This day is before {animal.name} was born.")
    last = animal.occupancies.filter(is_planned=False).order_by("-since").first()
    if last is not None and at <= max(last.since, last.until or last.since):
        moved = enclosure.room.day_of(last.until or last.since)
        raise MoveError(
            f"{animal.name} moved on {moved:%-d %B %Y} last: a move before that would be in two"
            " places at once."
        )


def _is_here(animal: Animal) -> None:
    """It lives in an enclosure: it is awaited no longer."""
    animal.whereabouts = ""
    animal.expected_on = None
    animal.place_note = ""
    animal.save(update_fields=["whereabouts", "expected_on", "place_note"])


@transaction.atomic
def plan_for(enclosure: Enclosure, animal: Animal, *, now: dt.datetime) -> bool:
    """Plan an enclosure for an animal, wherever it lives until then. False when it is so already."""
    Animal.objects.select_for_update().get(pk=animal.pk)
    Enclosure.objects.filter(pk=enclosure.pk).update(looked_on=None)
    open_ = Occupancy.objects.filter(animal=animal, enclosure=enclosure, until__isnull=True)
    if open_.exists():
        return False
    Occupancy.objects.create(enclosure=enclosure, animal=animal, since=now, is_planned=True)
    return True


@transaction.atomic
def settle_in(enclosure: Enclosure, *, now: dt.datetime) -> int:
    """Those for whom a verified enclosure was made move in, out of where they lived: how many did."""
    here = Occupancy.objects.select_for_update().filter(
        enclosure=enclosure, until__isnull=True, moved_in_at__isnull=True
    )
    movers = list(here.values_list("animal_id", flat=True))
    first = enclosure.revisions.order_by("number").first()
    if first is not None and first.state == Revision.State.PLANNED:
        # For whom an enclosure was planned, and who lived nowhere here before nor was weighed,
        # comes to the household with the move.
        elsewhere = Occupancy.objects.filter(animal=OuterRef("pk")).exclude(enclosure=enclosure)
        weighed = Weighing.objects.filter(
            animal=OuterRef("pk"),
            on__lt=enclosure.room.day_of(now) - dt.timedelta(days=QUIET_DAYS),
        )
        new = (
            Animal.objects.filter(occupancies__in=here, came_on__isnull=True)
            .exclude(Exists(elsewhere))
            .exclude(Exists(weighed))
        )
        Animal.objects.filter(pk__in=list(new.values_list("pk", flat=True))).update(
            came_on=enclosure.room.day_of(now)
        )
    left = Occupancy.objects.present().filter(animal__in=movers).exclude(enclosure=enclosure)
    left.look_again()
    left.update(until=now)
    here.filter(is_planned=True).update(since=now)
    moved = here.update(is_planned=False, moved_in_at=now)
    Animal.objects.filter(pk__in=movers).update(whereabouts="", expected_on=None, place_note="")
    Enclosure.objects.filter(pk=enclosure.pk).update(looked_on=None)
    return moved


@transaction.atomic
def move_out(enclosure: Enclosure, animal: Animal, *, now: dt.datetime) -> bool:
    """An animal leaves its enclosure, or is no longer planned for it.

    False when it does not live there.
    """
    planned = Occupancy.objects.planned().filter(enclosure=enclosure, animal=animal)
    unplanned, _ = planned.delete()
    here = Occupancy.objects.present().filter(enclosure=enclosure, animal=animal)
    moved = bool(here.update(until=now)) or bool(unplanned)
    Enclosure.objects.filter(pk=enclosure.pk).update(looked_on=None)
    return moved


@transaction.atomic
def add_reading(
    enclosure: Enclosure,
    *,
    need: str,
    value: float,
    offset: float,
    at: dt.datetime,
    instrument: str,
    lamp_on_h: float | None,
    keeper: Keeper | None,
    room_c: float | None = None,
    at_m: tuple[float, float, float] | None = None,
    moment: str = "",
) -> Reading:
    """Log a reading with the revision that stood when it was taken.

    Moments are typed to the minute, changes are made to the second.

    `room_c` is the room at that moment; where nobody noted it, what the room is said to be is kept,
    for the room may be said to be another one day.
    """
    minute = at + dt.timedelta(minutes=1)
    stood = (
        enclosure.revisions.filter(made_at__lt=minute).order_by("-number").first()
        or enclosure.revisions.order_by("number").first()
    )
    if stood is None:
        raise ImpossibleStateError("missing: stood")
    room = enclosure.room
    Enclosure.objects.filter(pk=enclosure.pk).update(looked_on=None)
    return Reading.objects.create(
        enclosure=enclosure,
        revision=stood,
        need=need,
        value=value,
        offset=offset,
        at=at,
        instrument=instrument,
        lamp_on_h=lamp_on_h,
        room_c=(
            room_c
            if room_c is not None
            else (room.night_c if NEEDS[NeedKey(need)].phase == "night" else room.day_c)
        ),
        at_x_m=at_m[0] if at_m else None,
        at_y_m=at_m[1] if at_m else None,
        at_z_m=at_m[2] if at_m else None,
        moment=moment,
        taken_by=keeper,
    )


def moved_at(enclosure: Enclosure) -> dict[NeedKey, dt.datetime]:
    """When what a need hangs on was last built or changed, by need; nothing of an enclosure that
    stood before it was entered here.
    """
    head = enclosure.head
    if head is None or head.previous is None or head.state != Revision.State.BUILT:
        return {}
    if head.previous.state != Revision.State.BUILT:
        return dict.fromkeys(NeedKey, head.made_at)
    before = EarlierState.model_validate({"revision": head.previous.number, **head.previous.spec})
    after = EarlierState.model_validate({"revision": head.number, **head.spec})
    return dict.fromkeys(affected(before, after.enclosure, after.items), head.made_at)


def log_form(enclosure: Enclosure, data: dict[str, Any], *, keeper: Keeper) -> None:
    """Log a reading as a valid `ReadingForm` says it; sent twice, it is logged once."""
    with sent_once(enclosure.household_id, data["form_key"]) as first:
        if first:
            _log(enclosure, data, keeper)


def _log(enclosure: Enclosure, data: dict[str, Any], keeper: Keeper) -> None:
    add_reading(
        enclosure,
        need=data["need"],
        value=data["number"],
        offset=data["offset_value"],
        at=data["at"],
        instrument=data["instrument"],
        lamp_on_h=data["lamp_on_h"],
        keeper=keeper,
        room_c=data["room_c"],
        at_m=data["at_m"],
        moment=data["moment"],
    )


@transaction.atomic
def delete_reading(enclosure: Enclosure, pk: int) -> bool:
    """Delete one reading of an enclosure. False when there is none of that key."""
    deleted, _ = Reading.objects.filter(enclosure=enclosure, pk=pk).delete()
    Enclosure.objects.filter(pk=enclosure.pk).update(looked_on=None)
    return bool(deleted)


@transaction.atomic
def delete_enclosure(enclosure: Enclosure) -> None:
    """Delete an enclosure with its revisions, readings, checks and log entries; its animals stay."""
    own = Enclosure.objects.select_for_update().get(pk=enclosure.pk)
    own.commissionings.all().delete()
    own.readings.all().delete()
    Enclosure.objects.filter(pk=own.pk).update(head=None)
    own.revisions.update(previous=None)
    own.delete()
