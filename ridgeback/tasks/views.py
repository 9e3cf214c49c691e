"""How often each task of an enclosure comes round: the usual pace, and the keeper's own."""

import datetime as dt
from dataclasses import dataclass

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from husbandry.tasks.kinds import TASK_KINDS
from husbandry.tasks.schedules import PACED, UsualPace, usual_paces
from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.enclosures.access import own_enclosure, posted
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.middleware import KeeperRequest
from ridgeback.posting import posted_key
from ridgeback.submissions.flows import sent_once
from ridgeback.tasks import flows
from ridgeback.tasks.due_tasks import Due, gather
from ridgeback.tasks.forms import OwnTaskForm, PaceForm
from ridgeback.tasks.models import OWN, TaskSchedule, every_words, schedules_of

SELDOM = 3.0
"""An own pace so many times as slow as the usual one is remarked on (design choice) [1]."""


@dataclass(frozen=True)
class ScheduleRow:
    """A routine with its usual pace, its own pace, and when it was done and is due."""

    key: str
    """Unlike that of any other row: names its fields."""
    title: str
    who: str
    usual: str
    own: str
    last: dt.date | None
    remark: str
    form: PaceForm
    is_open: bool

    @property
    def kind(self) -> str:
        """The kind of task."""
        return self.key.partition("-")[2]


def _row(
    due: Due, usual: UsualPace, own: TaskSchedule | None, tried: PaceForm | None
) -> ScheduleRow:
    animal = due.animals[usual.animal] if usual.animal is not None else None
    kind = TASK_KINDS[usual.kind]
    last = None
    if due.done is not None:
        days = [
            on
            for (who, stem), on in due.done.last.items()
            if who == usual.animal and (stem == usual.kind or stem.startswith(f"{usual.kind} "))
        ]
        if usual.kind == "weigh" and usual.animal is not None:
            days += [on for n, on in due.done.weighed.items() if n == usual.animal]
        last = max(days, default=None)
    initial = {"how": "usual", "every_days": round(usual.every_days)}
    remark = ""
    if own is not None:
        how = "days" if own.every_days is not None else "weekdays"
        initial = {"how": how, "every_days": own.every_days, "weekdays": list(own.weekdays)}
        if own.pace.mean_days >= SELDOM * usual.every_days:
            remark = "Much more seldom than usual."
    key = f"{animal.pk if animal else 0}-{usual.kind}"
    return ScheduleRow(
        key,
        kind.title or kind.short.capitalize(),
        animal.name if animal is not None and len(due.animals) > 1 else "",
        every_words(usual.every_days),
        own.words if own is not None else "",
        last,
        remark,
        tried or PaceForm(initial=initial, auto_id=f"{key.replace(' ', '-')}-%s"),
        tried is not None,
    )


def _page(
    request: KeeperRequest,
    enclosure: Enclosure,
    *,
    tried: tuple[str, PaceForm] | None = None,
    adding: OwnTaskForm | None = None,
) -> HttpResponse:
    """The page, with a form that was filled in wrongly."""
    due = next(iter(gather(request.household, now(), only=[enclosure.pk])), None)
    rows = []
    own_tasks: list[TaskSchedule] = []
    animals = [one.animal for one in enclosure.present]
    known = schedules_of([enclosure.pk], [animal.pk for animal in animals])
    if due is not None and due.routines is not None:
        for usual in usual_paces(due.routines):
            whose = (
                known.of_enclosures.get(enclosure.pk, [])
                if usual.animal is None
                else known.of_animals.get(due.animals[usual.animal].pk, [])
            )
            own = next((one for one in whose if one.kind == usual.kind), None)
            row = _row(due, usual, own, None)
            if tried is not None and tried[0] == row.key:
                row = _row(due, usual, own, tried[1])
            rows.append(row)
    for listed in (*known.of_enclosures.values(), *known.of_animals.values()):
        own_tasks += [one for one in listed if one.kind == OWN]
    today = enclosure.room.day_of(now())
    form = adding or OwnTaskForm(animals=animals, today=today, name=enclosure.name)
    names = {animal.pk: animal.name for animal in animals}
    context = {
        "enclosure": enclosure,
        "rows": rows,
        "own_tasks": [(one, names.get(one.animal_id or 0, "")) for one in own_tasks],
        "form": form,
        "failed": due.failed if due is not None else None,
    }
    return render(request, "tasks/schedule.html", context)


def schedule(request: KeeperRequest, pk: int) -> HttpResponse:
    """How often each task comes round."""
    return _page(request, own_enclosure(request, pk))


def _whose(enclosure: Enclosure, animal_pk: str) -> Enclosure | Animal:
    """The enclosure, or the animal of that key which lives there, or 404."""
    if animal_pk in {"", "0"}:
        return enclosure
    present = [one.animal_id for one in enclosure.present]
    return get_object_or_404(Animal, pk=animal_pk if animal_pk.isdecimal() else -1, pk__in=present)


@posted
def set_pace(request: KeeperRequest, pk: int) -> HttpResponse:
    """Set the pace of one task, or make it the usual one again."""
    enclosure = own_enclosure(request, pk)
    key = request.POST.get("task", "")[:40]
    animal_pk, _, kind = key.partition("-")
    whose = _whose(enclosure, animal_pk)
    if kind not in PACED:
        return redirect("tasks:schedule", pk=pk)
    form = PaceForm(request.POST, auto_id=f"{key.replace(' ', '-')}-%s")
    if not form.is_valid():
        return _page(request, enclosure, tried=(key, form))
    today = enclosure.room.day_of(now())
    flows.set_pace(whose, kind, form.pace(), keeper=request.user, today=today)
    messages.success(request, "Saved. Today’s tasks follow it from now on.")
    return redirect("tasks:schedule", pk=pk)


@posted
def add_task(request: KeeperRequest, pk: int) -> HttpResponse:
    """Add a task of one's own."""
    enclosure = own_enclosure(request, pk)
    animals = [one.animal for one in enclosure.present]
    today = enclosure.room.day_of(now())
    form = OwnTaskForm(request.POST, animals=animals, today=today, name=enclosure.name)
    if not form.is_valid():
        return _page(request, enclosure, adding=form)
    cleaned = form.cleaned_data
    with sent_once(enclosure.household_id, cleaned["form_key"]) as first:
        pace = form.pace()
        if first and pace is not None:
            flows.add_own_task(
                _whose(enclosure, cleaned["animal"]),
                cleaned["title"],
                pace,
                begins=cleaned["begins_on"],
                keeper=request.user,
            )
    messages.success(request, f"“{cleaned['title']}” is among the tasks.")
    return redirect("tasks:schedule", pk=pk)


@posted
def remove_task(request: KeeperRequest, pk: int) -> HttpResponse:
    """Take a task of one's own off; what the log says of it stays."""
    own_enclosure(request, pk)
    of_household = TaskSchedule.objects.of(request.household).filter(kind=OWN)
    one = get_object_or_404(of_household, pk=posted_key(request, "own"))
    title = one.title
    one.delete()
    messages.success(request, f"“{title}” is off the tasks. The log keeps what was done.")
    return redirect("tasks:schedule", pk=pk)
