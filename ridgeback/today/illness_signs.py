"""An animal that is not well: what was seen, and the facts that a veterinarian asks for.

Never a diagnosis, never a dose.
"""

import datetime as dt
import uuid
from typing import Any

from django import forms
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods

from husbandry.quantity import Kind, Units, show
from husbandry.species import common
from husbandry.species.library import find
from husbandry.species.needs import NEEDS, NeedKey
from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.enclosures import wording
from ridgeback.enclosures.models import Enclosure, Occupancy, Reading
from ridgeback.households.middleware import KeeperRequest
from ridgeback.log import flows
from ridgeback.log.models import LogEntry
from ridgeback.today.wording import entry_text

WEIGHTS, MEALS, READINGS = 6, 6, 8


class SignsForm(forms.Form):
    """What was seen; at least something."""

    seen = forms.MultipleChoiceField(
        required=False, widget=forms.CheckboxSelectMultiple, label="What do you see?"
    )
    other = forms.CharField(label="Or in your own words", max_length=200, required=False)

    def __init__(self, *args: Any, texts: tuple[str, ...], **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.texts = texts
        self.fields["seen"].choices = [(str(n), text) for n, text in enumerate(texts)]  # type: ignore[attr-defined]  # a choice field

    def clean(self) -> dict[str, Any]:
        """A tick, or a word."""
        data = super().clean() or {}
        if not data.get("seen") and not data.get("other", "").strip() and not self.errors:
            self.add_error("other", "Tick what you see, or write it down.")
        return data

    def note(self) -> str:
        """All of it as one text for the log."""
        chosen = [self.texts[int(n)].rstrip(".") for n in self.cleaned_data["seen"]]
        own = self.cleaned_data["other"].strip().rstrip(".")
        return "; ".join([*chosen, *([own] if own else [])])[:300]


def _trend(animal: Animal, units: Units) -> list[str]:
    found = sorted(animal.weighings.all(), key=lambda one: (one.on, one.pk))[-WEIGHTS:]
    lines = [f"{one.on:%-d %B %Y}: {show(one.mass_g, Kind.MASS, units)}" for one in found]
    if len(found) > 1:
        change = found[-1].mass_g / max(one.mass_g for one in found[:-1]) - 1
        lines.append(
            f"{abs(change):.0%} {'below' if change < 0 else 'above'} the highest of the earlier"
            " ones"
        )
    return lines


def facts(
    animal: Animal, enclosure: Enclosure | None, units: Units, today: dt.date
) -> list[tuple[str, list[str]]]:
    """What a veterinarian asks for, from what is known."""
    profile = find(animal.species)
    age = f", born {animal.born_on:%-d %B %Y}" if animal.born_on else ""
    sex = "sex unknown" if animal.sex == Animal.Sex.UNKNOWN else animal.sex
    found = [("Animal", [f"{animal.name}: {profile.name} ({animal.species}), {sex}{age}"])]
    found.append(("Weights", _trend(animal, units) or ["never weighed"]))
    meals = (
        LogEntry.objects.standing()
        .filter(animal=animal, stem__startswith="feed ")
        .order_by("-at")[:MEALS]
    )
    found.append(
        (
            "Meals",
            [f"{one.on:%-d %B}: {entry_text(one, units)}" for one in meals] or ["none logged"],
        )
    )
    if enclosure is not None:
        latest: dict[str, Reading] = {}
        for reading in enclosure.readings.filter(at_x_m__isnull=True)[:60]:
            latest.setdefault(reading.need, reading)
        lines = [
            f"{NEEDS[NeedKey(one.need)].name}, {NEEDS[NeedKey(one.need)].place}:"
            f" {wording.value_of(NeedKey(one.need), one.value - one.offset, units)},"
            f" {one.at:%-d %B}"
            for one in list(latest.values())[:READINGS]
        ]
        found.append((f"Measured in {enclosure.name}", lines or ["nothing measured lately"]))
        lamps = [
            item["kind"]
            for item in (enclosure.head.spec["items"] if enclosure.head else [])
            if str(item["kind"]).startswith(("t5", "t8", "compact", "uv"))
        ]
        found.append(
            (
                "Ultraviolet",
                [f"{len(lamps)} lamp{'s' if len(lamps) != 1 else ''}" if lamps else "none"],
            )
        )
    treated = [
        f"{one.words} ({one.by}), {one.begins:%-d %B} to {(one.stopped_on or one.ends):%-d %B %Y}"
        for one in animal.treatments.all()[:6]
    ]
    if treated:
        found.append(("Treated", treated))
    earlier = (
        LogEntry.objects.standing()
        .filter(animal=animal, stem="sign", on__gte=today - dt.timedelta(days=90))
        .order_by("-at")[:6]
    )
    if earlier:
        found.append(("Seen", [f"{one.on:%-d %B}: {one.note}" for one in earlier]))
    return found


@require_http_methods(["GET", "HEAD", "POST"])
def illness_signs(request: KeeperRequest, pk: int) -> HttpResponse:
    """What is seen on an animal; and once it is noted, whom to call and what to say."""
    animal = get_object_or_404(
        Animal.objects.of(request.household).prefetch_related("weighings"), pk=pk
    )
    living = (
        Occupancy.objects.filter(animal=animal, until__isnull=True)
        .select_related("enclosure__head", "enclosure__room")
        .first()
    )
    enclosure = living.enclosure if living else None
    at = now()
    today = enclosure.room.day_of(at) if enclosure is not None else animal.household.day_of(at)
    form = SignsForm(
        request.POST if request.method == "POST" else None,
        texts=common.signs(find(animal.species)),
    )
    if form.is_bound and form.is_valid():
        if enclosure is not None:
            log_request = uuid.uuid4()
            name = f"{enclosure.pk}/{animal.pk}/sign/{log_request}"
            written = flows.LogRequest(
                log_request, name, "sign", LogEntry.Outcome.DONE, today, at, note=form.note()
            )
            flows.write(enclosure, animal, written, keeper=request.user, now=at)
        return redirect(f"{request.path}?noted=yes")
    noted = (
        LogEntry.objects.standing().filter(animal=animal, stem="sign").order_by("-at").first()
        if "noted" in request.GET
        else None
    )
    context = {
        "animal": animal,
        "enclosure": enclosure,
        "form": form,
        "noted": noted,
        "pictures": animal.pictures.ready().light()[:3] if "noted" in request.GET else [],
        "facts": facts(animal, enclosure, request.units, today) if "noted" in request.GET else [],
    }
    return render(request, "today/illness_signs.html", context)
