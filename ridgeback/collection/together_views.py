"""What is done with several animals at once: fed, moved, treated, photographed, written out."""

import datetime as dt
import uuid
import zlib
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.utils.http import urlencode

from husbandry.species.library import library
from husbandry.species.profile import Profile
from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.collection import together_forms
from ridgeback.collection.judging import JudgedMove, judged
from ridgeback.collection.together_forms import MealTogetherForm
from ridgeback.collection.views import get_or_post, household_of
from ridgeback.enclosures import flows as enclosure_flows
from ridgeback.enclosures.access import own_enclosure
from ridgeback.enclosures.models import Enclosure, Occupancy
from ridgeback.feeding.logging import MealForm, log_meal
from ridgeback.feeding.presenting import fed
from ridgeback.households.middleware import KeeperRequest
from ridgeback.photos import flows as photo_flows
from ridgeback.photos.views import full
from ridgeback.species_guide.flows import edits_of, profiles_of
from ridgeback.spreadsheets import csv_text
from ridgeback.submissions.flows import sent_once
from ridgeback.tasks.due_tasks import Due, gather
from ridgeback.treatments.models import Treatment

MOST = 200
"""Animals that something is done with in one go at the most (design choice)."""
ACTS = {
    "meal": "Fed",
    "move": "Move",
    "treatment": "Treatment",
    "photos": "Photo",
    "table": "Table",
}
"""What can be done with several animals, and what it is called."""


@dataclass(frozen=True)
class Chosen:
    """The animals of the page, and which of them are ticked."""

    shown: tuple[Animal, ...]
    ticked: frozenset[int]
    homes: dict[int, Enclosure]

    @property
    def animals(self) -> tuple[Animal, ...]:
        """Those that are ticked."""
        return tuple(one for one in self.shown if one.pk in self.ticked)

    @property
    def rows(self) -> list[tuple[Animal, str, bool]]:
        """Each with where it lives and whether it is ticked."""
        return [
            (one, self.homes[one.pk].name if one.pk in self.homes else "", one.pk in self.ticked)
            for one in self.shown
        ]

    @property
    def query(self) -> str:
        """The same animals in an address."""
        return urlencode([("animal", one.pk) for one in self.shown])


def _keys(values: Sequence[str]) -> list[int]:
    return [int(value) for value in values[:MOST] if value.isdecimal() and len(value) < 10]


def _chosen(request: KeeperRequest) -> Chosen:
    """The household's own animals that an address or a form names; those that are ticked."""
    asked = request.POST if request.method == "POST" else request.GET
    keys = _keys(asked.getlist("animal"))
    shown = _keys(asked.getlist("shown")) or keys
    rows = (
        Animal.objects.of(household_of(request))
        .here()
        .filter(pk__in=shown)
        .select_related("household")
        .prefetch_related("weighings", "lengths", "condition_periods")
        .order_by("name", "pk")
    )
    stays = Occupancy.objects.present().filter(animal__in=shown).select_related("enclosure__room")
    homes = {stay.animal_id: stay.enclosure for stay in stays}
    return Chosen(tuple(rows), frozenset(keys), homes)


@get_or_post
def together(request: KeeperRequest, act: str = "meal") -> HttpResponse:
    """One thing for all that are ticked."""
    if act not in ACTS:
        raise Http404
    sent = request.POST if request.method == "POST" else None
    chosen = _chosen(request)
    if not chosen.shown:
        messages.info(request, "Tick animals first.")
        return redirect("animals:list")
    if act == "table":
        return _table(chosen)
    today = household_of(request).day_of(now())
    whom = chosen.animals or chosen.shown
    form, move = _form(request, act, whom, today)
    if sent is not None and not chosen.animals:
        form.add_error(None, "Tick at least one animal.")
    if sent is not None and form.is_valid():
        answer = _DO[act](request, form, chosen.animals)
        if isinstance(answer, HttpResponse):
            return answer
        move = answer or move
    context = {
        "act": act,
        "acts": ACTS,
        "chosen": chosen,
        "form": form,
        "move": move,
        "title": ACTS[act],
        "count": len(chosen.animals),
    }
    return render(request, "collection/together.html", context)


def _form(
    request: KeeperRequest, act: str, animals: Sequence[Animal], today: dt.date
) -> tuple[Any, JudgedMove | None]:
    sent = request.POST if request.method == "POST" else None
    if act == "meal":
        return together_forms.MealTogetherForm(sent, animals=animals, today=today), None
    if act == "treatment":
        return together_forms.TreatmentTogetherForm(sent, animals=animals, today=today), None
    if act == "move":
        return together_forms.MoveTogetherForm(sent, animals=animals, now=now()), None
    files = request.FILES if sent is not None else None  # read first: it says what was too large
    too_large = bool(request.META.get("ridgeback.too_large"))
    form = together_forms.PictureTogetherForm(
        sent, files, animals=animals, today=today, too_large=too_large
    )
    return form, None


Answer = HttpResponse | JudgedMove | None


def _said(count: int) -> str:
    return "1 animal" if count == 1 else f"{count} animals"


def _feed(request: KeeperRequest, form: Any, animals: Sequence[Animal]) -> Answer:
    """Log the planned meal of each; those in no enclosure are named and left out."""
    household = household_of(request)
    at = now()
    stays = Occupancy.objects.present().filter(animal__in=animals)
    homes = dict(stays.values_list("animal", "enclosure"))
    own = Enclosure.objects.of(household).for_planning()
    enclosures = {enclosure.pk: enclosure for enclosure in own.filter(pk__in=homes.values())}
    due_lists = {due.enclosure.pk: due for due in gather(household, at, only=list(enclosures))}
    profiles = profiles_of(edits_of(household), {animal.species for animal in animals})
    logged = 0
    left: list[str] = []
    with sent_once(household.pk, form.cleaned_data["form_key"]) as first:
        for animal in animals if first else ():
            due = due_lists.get(homes.get(animal.pk, 0))
            enclosure = enclosures.get(homes.get(animal.pk, 0))
            one = _meal_form(request, form, animal, enclosure, due, profiles[animal.species])
            if due is None or enclosure is None or one is None or not one.is_valid():
                left.append(animal.name)
                continue
            log_meal(one, enclosure, due, request.user, at)
            logged += 1
    if logged:
        messages.success(request, f"Logged for {_said(logged)}.")
    if left:
        messages.warning(request, f"Not logged, for no meal is planned there: {', '.join(left)}.")
    return redirect("animals:list")


def _meal_form(
    request: KeeperRequest,
    form: MealTogetherForm,
    animal: Animal,
    enclosure: Enclosure | None,
    due: Due | None,
    profile: Profile,
) -> MealForm | None:
    """The meal of one animal: that which is due today, else the first of its plan; with the
    supplement that is due on it.
    """
    if due is None or enclosure is None:
        return None
    made = fed(animal, profile, enclosure, now(), due.today)
    if not made.diet.plans:
        return None
    task = next(
        (
            one
            for one in due.tasks
            if one.kind == "feed" and due.animal_of(one) == animal and one.meal is not None
        ),
        None,
    )
    meal = task.meal.slug if task is not None and task.meal else made.diet.plans[0].slug
    on = form.cleaned_data["on"]
    dusted = task.products[0] if task is not None and task.products and on == due.today else ""
    data = {
        "form_key": str(uuid.uuid4()),
        "meal": meal,
        "outcome": form.cleaned_data["outcome"],
        "on": on.isoformat(),
        "note": form.cleaned_data["note"],
        "supplement": dusted,
    }
    return MealForm(data, animal=animal, made=made, today=due.today, units=request.units)


def _treat(request: KeeperRequest, form: Any, animals: Sequence[Animal]) -> Answer:
    data = dict(form.cleaned_data)
    with sent_once(household_of(request).pk, data.pop("form_key")) as first:
        for animal in animals if first else ():
            Treatment.objects.create(animal=animal, kept_by=request.user, **data)
    messages.success(
        request, f"Saved for {_said(len(animals))}: it is among today’s tasks of each."
    )
    return redirect("animals:list")


def _photo(request: KeeperRequest, form: Any, animals: Sequence[Animal]) -> Answer:
    problems = [problem for animal in animals if (problem := full(animal, len(animals)))]
    if problems:
        form.add_error("file", problems[0])
        return None
    data = form.cleaned_data
    with sent_once(household_of(request).pk, data["form_key"]) as first:
        for animal in animals if first else ():
            photo_flows.add(
                animal, data["file"], keeper=request.user, on=data["on"], note=data["note"].strip()
            )
    messages.success(request, f"Saved for {_said(len(animals))}. It is made smaller.")
    return redirect("animals:list")


def _move(request: KeeperRequest, form: Any, animals: Sequence[Animal]) -> Answer:
    """Move all of them, or none: their company there is judged together first."""
    cleaned = form.cleaned_data
    target = own_enclosure(request, int(cleaned["to"]))
    here = {stay.animal_id for stay in target.present}
    newcomers = [animal for animal in animals if animal.pk not in here]
    if not newcomers:
        form.add_error("to", f"All of them live in {target.name} already.")
        return None
    move = judged(target, [animal.data() for animal in newcomers], now(), request.units)
    whom = ",".join(str(animal.pk) for animal in newcomers)
    confirmed = f"{target.pk}-{zlib.crc32(whom.encode()):x}"
    if move.asks and cleaned.get("confirm") != confirmed:
        form.data = {**form.data.dict(), "confirm": confirmed}
        return move
    try:
        with sent_once(household_of(request).pk, cleaned["form_key"]) as first:
            for animal in newcomers if first else ():
                enclosure_flows.move_in(
                    target,
                    animal,
                    now=now(),
                    at=cleaned["at"]
                    if abs((cleaned["at"] - now()).total_seconds()) > 90
                    else None,
                    reason=cleaned["reason"],
                    because=cleaned["reason"] or "not said",
                )
    except enclosure_flows.MoveError as why:
        form.add_error("at", str(why))
        return move
    messages.success(request, f"{_said(len(newcomers))} live in {target.name} now.")
    return redirect("enclosures:page", pk=target.pk)


_DO: dict[str, Callable[[KeeperRequest, Any, Sequence[Animal]], Answer]] = {
    "meal": _feed,
    "move": _move,
    "treatment": _treat,
    "photos": _photo,
}


def _table(chosen: Chosen) -> HttpResponse:
    """The animals as a table that the same application takes in again."""
    head = ("name", "species", "sex", "born", "came", "mass_g", "weighed", "enclosure", "room")
    rows: list[Sequence[object]] = [head]
    for animal in chosen.animals or chosen.shown:
        last = max(animal.weighings.all(), key=lambda one: (one.on, one.pk), default=None)
        home = chosen.homes.get(animal.pk)
        rows.append(
            (
                animal.name,
                library()[animal.species].name,
                animal.sex,
                animal.born_on or "",
                animal.came_on or "",
                f"{last.mass_g:g}" if last is not None else "",
                last.on if last is not None else "",
                home.name if home is not None else "",
                home.room.name if home is not None else "",
            )
        )
    return HttpResponse(
        csv_text(rows),
        content_type="text/csv; charset=utf-8",
        headers={"Content-Disposition": 'attachment; filename="animals.csv"'},
    )
