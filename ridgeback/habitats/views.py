"""The list of enclosures, an enclosure's own page, and what can be done there."""

import functools
import json
from typing import Any

import jsonpointer
from django.contrib import messages
from django.http import Http404, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_safe

from husbandry.errors import EntryError
from husbandry.planning.request import BoxSpec, to_data
from husbandry.planning.result import Plan
from husbandry.quantity import METRIC, Kind
from husbandry.quantity import read as read_entry
from husbandry.readings import INSTRUMENTS
from husbandry.species.needs import NEEDS, NeedKey, in_sentence
from husbandry.worked import Worked
from husbandry.year.rest import in_rest
from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.drafts import flows as drafts
from ridgeback.drawing.sheet import WIDE, Labels, front_view
from ridgeback.drawing.svg import write
from ridgeback.drawing.two_views import both_views
from ridgeback.habitats import flows, listing, wording
from ridgeback.habitats.calibration import record_view
from ridgeback.habitats.commissioning import proof_text, standing_proof
from ridgeback.habitats.forms import BenchForm
from ridgeback.habitats.models import Habitat
from ridgeback.habitats.planning import planned
from ridgeback.habitats.presenting import habitat_view, linked
from ridgeback.habitats.reading_form import ReadingForm
from ridgeback.habitats.simulated import ROUND, take_readings
from ridgeback.jobs.flows import ask_for_plans
from ridgeback.keepers.middleware import KeeperRequest
from ridgeback.ledger.meal_history import as_logged
from ridgeback.posting import View, only_by_form, plain_words
from ridgeback.seasons.models import with_rests
from ridgeback.submissions.forms import conflicts_of


def own_habitat(request: KeeperRequest, pk: int) -> Habitat:
    """An enclosure of this household, or 404."""
    return get_object_or_404(Habitat.objects.of(request.household).for_planning(), pk=pk)


posted = only_by_form("habitats:page", own_habitat)


def lived_in(view: View) -> View:
    """For what needs a plan: an enclosure that nobody lives in has none, and its page says so."""

    @functools.wraps(view)
    def answer(request: KeeperRequest, pk: int) -> HttpResponse:
        if not own_habitat(request, pk).present:
            return redirect("habitats:page", pk=pk)
        return view(request, pk)

    return answer


@require_safe
def habitat_list(request: KeeperRequest) -> HttpResponse:
    """Every enclosure with its drawing, its gauges and its worst problem, the most urgent first."""
    asked = {name: request.GET.get(name, "")[:80] for name in ("query", "state", "page")}
    boxes = listing.listing(request.household, request.units, now(), **asked)
    if boxes.pending and request.household is not None:
        ask_for_plans(request.household)
    template = "habitats/rows.html" if request.htmx else "habitats/list.html"
    return render(request, template, {"boxes": boxes, "states": listing.STATES})


def _page(
    request: KeeperRequest,
    habitat: Habitat,
    *,
    bench: BenchForm | None = None,
    reading: ReadingForm | None = None,
    people: dict[str, Any] | None = None,
) -> HttpResponse:
    at = now()
    bench = bench or BenchForm(habitat=habitat, units=request.units, now=at)
    trying = bench.is_bound and bench.request_ is not None and bench.changed
    made = planned(bench.request_ if trying and bench.request_ else bench.kept, keep=not trying)
    reading = reading or ReadingForm(
        keys=[need.key for need in made.plan.needs],
        units=request.units,
        zone=habitat.room.time_zone,
        now=now(),
        box=bench.kept.box,
        initial={name: request.GET[name][:60] for name in ("from_left", "above_floor", "need", "moment") if name in request.GET},
    )
    others = list(Habitat.objects.of(request.household).only("pk", "name", "shelf", "room"))
    context = {
        "habitat": habitat,
        "view": linked(
            habitat_view(as_logged(made, habitat), request.units, at, name=habitat.name, previewing=trying),
            [one.animal_id for one in habitat.present],
        ),
        "bench": bench,
        "reading": reading,
        "to_check": "check" in (request.GET.get("next"), request.POST.get("next")),
        "readings": _recent(habitat, request),
        "trying": trying,
        "proof_text": proof_text(habitat, bench.kept, made) if not trying else "Commissioning check",
        "record": record_view(habitat, request.units, at),
        **(people or _people(habitat, request)),
        "others": others,
        "touched": [one for one in others if one.room_id == habitat.room_id and one.pk != habitat.pk],
    }
    return render(request, "habitats/page.html", context)


def _people(habitat: Habitat, request: KeeperRequest) -> dict[str, Any]:
    """Who lives here, who did, and who could move in."""
    assert request.household is not None  # the enclosure was fetched through it
    here = {occupancy.animal_id for occupancy in habitat.present}
    today = habitat.room.day_of(now())
    animals = with_rests(request.household.animals.filter(gone_on__isnull=True), today)
    return {
        "resting": [(one, rest.ends) for one, rest in animals if rest is not None and one.pk in here and in_rest(rest, today)],
        "today": today,
        "could_move_in": [one for one, _ in animals if one.pk not in here],
        "earlier": habitat.occupancies.filter(until__isnull=False).select_related("animal").order_by("-until")[:10],
    }


def _recent(habitat: Habitat, request: KeeperRequest) -> list[dict[str, Any]]:
    """The last readings, as lines."""
    lines = []
    for reading in habitat.readings.all()[:6]:
        key = NeedKey(reading.need)
        lines.append(
            {
                "name": wording.reading_place(key, reading.at_m, request.units)
                + (f", {reading.moment}" if reading.moment else ""),
                "value": wording.value_of(key, reading.value - reading.offset, request.units),
                "age": wording.age(reading.at, now()),
                "instrument": INSTRUMENTS.get(reading.instrument, reading.instrument),
                "old": reading.revision_id != habitat.head_id,
            }
        )
    return lines


@require_safe
def habitat_page(request: KeeperRequest, pk: int) -> HttpResponse:
    """One enclosure."""
    habitat = own_habitat(request, pk)
    if not habitat.present:
        return render(request, "habitats/vacant.html", {"habitat": habitat, **_people(habitat, request)})
    return _page(request, habitat, bench=_left_try(request, habitat))


REVISION = "_revision"


def _subject(habitat: Habitat) -> str:
    return f"habitat-{habitat.pk}"


def _keep_try(request: KeeperRequest, habitat: Habitat, bench: BenchForm) -> None:
    """What is tried, or cannot be read yet, is found again after a reload, a change of units or on another device."""
    assert request.household is not None and habitat.head is not None
    if bench.errors or bench.changed:
        typed = {**request.POST.dict(), REVISION: str(habitat.head.number)}
        drafts.keep(request.household, request.user, _subject(habitat), "bench", typed, request.units)
    else:
        drafts.drop(request.household, request.user, _subject(habitat))


def _left_try(request: KeeperRequest, habitat: Habitat) -> BenchForm | None:
    """The bench as it was left, if it was left with something untold and the enclosure is still the one it was tried on."""
    draft = drafts.find(request.household, request.user, _subject(habitat))
    if draft is None or habitat.head is None:
        return None
    at = now()
    typed = drafts.typed_in(draft, "bench", BenchForm(habitat=habitat, units=request.units, now=at), request.units) or {}
    if typed.get(REVISION) != str(habitat.head.number):
        return None
    bench = BenchForm(typed, habitat=habitat, units=request.units, now=at)
    return bench if not bench.is_valid() or bench.changed else None


@posted
@lived_in
def forget_try(request: KeeperRequest, pk: int) -> HttpResponse:
    """Leave the enclosure as it was."""
    habitat = own_habitat(request, pk)
    assert request.household is not None  # the enclosure was fetched through it
    drafts.drop(request.household, request.user, _subject(habitat))
    return redirect("habitats:page", pk=pk)


@posted
@lived_in
def preview(request: KeeperRequest, pk: int) -> HttpResponse:
    """What the typed values would do, without keeping them: new drawing, gauges and changes, and a sentence beside each wrong field."""
    habitat = own_habitat(request, pk)
    at = now()
    bench = BenchForm(request.POST, habitat=habitat, units=request.units, now=at)
    valid = bench.is_valid()
    _keep_try(request, habitat, bench)
    context: dict[str, Any] = {"habitat": habitat, "bench": bench, "trying": valid and bench.changed, "oob": True}
    if valid and bench.request_ is not None:
        made = planned(bench.request_, keep=not bench.changed)
        view = habitat_view(as_logged(made, habitat), request.units, at, name=habitat.name, previewing=bench.changed)
        context["view"] = linked(view, [one.animal_id for one in habitat.present])
    return render(request, "habitats/preview.html", context)


@posted
@lived_in
def keep(request: KeeperRequest, pk: int) -> HttpResponse:
    """Keep what was tried."""
    habitat = own_habitat(request, pk)
    bench = BenchForm(request.POST, habitat=habitat, units=request.units, now=now())
    if not bench.is_valid() or bench.request_ is None:
        return _page(request, habitat, bench=bench)
    try:
        kept = flows.keep_bench(
            habitat,
            bench.request_,
            seen=seen_revision(request),
            keeper=request.user,
            now=now(),
            seen_animals=seen_animals(request),
        )
    except flows.StaleError as why:
        messages.error(request, str(why))
        saved = BenchForm(habitat=own_habitat(request, pk), units=request.units, now=now())
        bench.conflicts = conflicts_of(bench, saved)
        return _page(request, saved.habitat, bench=bench)
    assert request.household is not None  # the enclosure was fetched through it
    drafts.drop(request.household, request.user, _subject(habitat))
    messages.success(request, "Saved." if kept else "Nothing differs from what is saved.")
    return redirect("habitats:page", pk=pk)


def seen_animals(request: KeeperRequest) -> dict[int, int]:
    """The versions of the animals that the page showed, by their keys."""
    pairs = (pair.partition(":") for pair in request.POST.get("animals_seen", "")[:600].split(","))
    return {
        int(key): int(version)
        for key, _, version in pairs
        if key.isdecimal() and version.isdecimal() and len(key) < 12 and len(version) < 9
    }


def seen_revision(request: KeeperRequest) -> int:
    """The revision that the page showed."""
    text = request.POST.get("revision", "")
    return int(text) if text.isdecimal() and len(text) < 9 else -1


@posted
@lived_in
def apply_change(request: KeeperRequest, pk: int) -> HttpResponse:
    """Make one of the ranked changes: found again by planning, named by its species and thing."""
    habitat = own_habitat(request, pk)
    made = planned(habitat.request_at(now())).plan
    wanted = (request.POST.get("kind"), request.POST.get("thing"))
    change = next((c for c in made.changes if (c.kind, c.thing_id) == wanted), None)
    if change is None:
        messages.error(request, "This change is no longer on the list: the enclosure or its readings have changed since.")
        return redirect("habitats:page", pk=pk)
    title = wording.change_title(change, METRIC)
    try:
        flows.apply_change(habitat, change, seen=seen_revision(request), reason=title, keeper=request.user, now=now())
        messages.success(
            request, f"Done: {wording.change_title(change, request.units)}. Measure when it has settled.", extra_tags="undo"
        )
    except flows.StaleError as why:
        messages.error(request, str(why))
    return redirect("habitats:page", pk=pk)


@posted
@lived_in
def undo(request: KeeperRequest, pk: int) -> HttpResponse:
    """Back to the state before the last change, as a new revision."""
    habitat = own_habitat(request, pk)
    try:
        made = flows.undo(habitat, seen=seen_revision(request), keeper=request.user, now=now())
        messages.success(request, "Undone." if made else "There is nothing before this state.")
    except flows.StaleError as why:
        messages.error(request, str(why))
    return redirect("habitats:page", pk=pk)


@posted
@lived_in
def mark_built(request: KeeperRequest, pk: int) -> HttpResponse:
    """The planned enclosure stands."""
    try:
        made = flows.mark_built(own_habitat(request, pk), seen=seen_revision(request), keeper=request.user, now=now())
        messages.success(
            request, "Built. Measure when it has settled, best before the animal moves in." if made else "It stood already."
        )
    except flows.StaleError as why:
        messages.error(request, str(why))
    return redirect("habitats:prove" if request.POST.get("next") == "check" else "habitats:page", pk=pk)


def _animal(request: KeeperRequest) -> Animal:
    """The animal a form names, of this household, or 404."""
    text = request.POST.get("animal", "")
    pk = int(text) if text.isdecimal() and len(text) < 12 else 0
    return get_object_or_404(Animal, household=request.household, pk=pk)


def _unproven(request: KeeperRequest, habitat: Habitat, animal: Animal) -> HttpResponse:
    """The page again, which asks why an animal should move into an enclosure that nobody has proven; the animal stays chosen."""
    people = {**_people(habitat, request), "moving": animal.pk, "ask_why": True}
    if not habitat.present:
        return render(request, "habitats/vacant.html", {"habitat": habitat, **people})
    return _page(request, habitat, people=people)


@posted
def move_in(request: KeeperRequest, pk: int) -> HttpResponse:
    """An animal of the household moves into this enclosure."""
    habitat, animal = own_habitat(request, pk), _animal(request)
    if not animal.there:
        messages.error(request, f"{animal.name} is no longer kept ({animal.get_gone_display()} {animal.gone_on:%-d %B %Y}).")
        return redirect("habitats:page", pk=pk)
    because = plain_words(request.POST.get("because", ""))
    proven = standing_proof(habitat, with_=animal) is not None
    if not proven and not because:
        return _unproven(request, habitat, animal)
    moved = flows.move_in(habitat, animal, now=now(), because="" if proven else because)
    messages.success(request, f"{animal.name} lives here from now." if moved else f"{animal.name} lives here already.")
    return redirect("habitats:page", pk=pk)


@posted
def move_out(request: KeeperRequest, pk: int) -> HttpResponse:
    """An animal leaves this enclosure."""
    habitat, animal = own_habitat(request, pk), _animal(request)
    moved = flows.move_out(habitat, animal, now=now())
    messages.success(
        request, f"{animal.name} has left; its days here are kept." if moved else f"{animal.name} does not live here."
    )
    return redirect("habitats:page", pk=pk)


@posted
@lived_in
def add_reading(request: KeeperRequest, pk: int) -> HttpResponse:
    """Log a reading; ask first about one that cannot well be true."""
    habitat = own_habitat(request, pk)
    kept = habitat.request_at(now())
    made = planned(kept).plan
    form = ReadingForm(
        request.POST,
        keys=[need.key for need in made.needs],
        units=request.units,
        zone=habitat.room.time_zone,
        now=now(),
        box=kept.box,
    )
    if not form.is_valid():
        return _page(request, habitat, reading=form)
    data = form.cleaned_data
    flows.log_form(habitat, data, keeper=request.user)
    shown = wording.value_of(NeedKey(data["need"]), data["number"], request.units)
    messages.success(request, f"Logged: {dict(form.fields['need'].choices)[data['need']]}, {shown}.")  # type: ignore[attr-defined]
    if request.POST.get("next") == "check":
        return redirect("habitats:prove", pk=pk)
    return HttpResponseRedirect(f"/habitats/{pk}/#needs")


def _spot(request: KeeperRequest, box: BoxSpec) -> tuple[float, float, float] | None:
    """A place that was clicked on the bench, kept inside the enclosure [m]."""
    try:
        x, z = (
            read_entry(request.POST.get(name, "")[:60], Kind.LENGTH, request.units).value for name in ("from_left", "above_floor")
        )
    except EntryError:
        return None
    inside = box.inside_m
    return min(max(x, 0.0), inside.length), inside.depth / 2, min(max(z, 0.0), inside.height)


@posted
@lived_in
def simulate(request: KeeperRequest, pk: int) -> HttpResponse:
    """A round with the demo household's simulated instruments; 404 for an enclosure that is real."""
    habitat = own_habitat(request, pk)
    kept = habitat.request_at(now())
    made = planned(kept).plan
    keys = [need.key for need in made.needs if need.key in ROUND]
    place = _spot(request, kept.box)
    try:
        read = take_readings(habitat, [NeedKey.WARM_AIR_DAY] if place else keys, keeper=request.user, now=now(), at_m=place)
    except LookupError:
        raise Http404 from None
    names = {one.need: in_sentence(NEEDS[one.need].name) for one in read}
    said = ", ".join(
        f"{names[one.need]}{f' {one.moment}' if one.moment else ''} {wording.value_of(one.need, one.value, request.units)}"
        for one in read
    )
    messages.success(request, f"Read with the demo’s simulated instruments: {said}.")
    if request.POST.get("next") == "check":
        return redirect("habitats:prove", pk=pk)
    return HttpResponseRedirect(f"/habitats/{pk}/#needs")


@lived_in
def working(request: KeeperRequest, pk: int) -> HttpResponse:
    """The working behind one number, by its JSON pointer in the plan. Posted with the bench's fields it shows the state being tried."""
    if request.method not in {"GET", "HEAD", "POST"}:
        return HttpResponse(status=405)
    habitat = own_habitat(request, pk)
    at = now()
    bench = BenchForm(request.POST if request.method == "POST" else None, habitat=habitat, units=request.units, now=at)
    trying = bench.is_bound and bench.is_valid() and bench.changed
    made = planned(bench.request_ if trying and bench.request_ else bench.kept, keep=not trying).plan
    pointer = request.GET.get("at", "")
    worked = _worked_at(made, pointer)
    if worked is None:
        raise Http404
    units = request.units
    command = worked.command or f"plan FILE.json --number {pointer}/value"
    context = {
        "habitat": habitat,
        "worked": worked,
        "value": _shown(worked, worked.value, units),
        "low": _shown(worked, worked.low, units) if worked.low is not None else "",
        "high": _shown(worked, worked.high, units) if worked.high is not None else "",
        "inputs": [(item.name.replace("_", " "), wording.input_text(item, units)) for item in worked.inputs],
        "others": [(other.school, wording.otherwise(other, units), wording.because(other.why)) for other in worked.others],
        "sources": [str(source) for source in worked.sources],
        "command": f"python -m husbandry {command}".replace("FILE.json", f"habitat-{pk}.json"),
        "from_plan": command.startswith("plan"),
        "trying": trying,
        "pointer": pointer,
    }
    return render(request, "habitats/working_fragment.html" if request.htmx else "habitats/working.html", context)


def _shown(worked: Worked, value: float, units: Any) -> str:
    if worked.unit == "1" and 0 <= value <= 1:
        return f"{value:.0%}"
    return wording.given(value, worked.unit, units)


def _worked_at(made: Plan, pointer: str) -> Worked | None:
    """The working that a pointer names; None when there is none."""
    try:
        part = jsonpointer.resolve_pointer(made.model_dump(mode="json"), pointer)
        return Worked.model_validate(part)
    except (jsonpointer.JsonPointerException, ValueError, TypeError):
        return None


@require_GET
@lived_in
def request_file(request: KeeperRequest, pk: int) -> HttpResponse:
    """The enclosure as a request of the core, to plan on the command line."""
    habitat = own_habitat(request, pk)
    text = json.dumps(to_data(habitat.request_at(now())), ensure_ascii=False, indent=2)
    return HttpResponse(
        text, content_type="application/json", headers={"Content-Disposition": f'attachment; filename="habitat-{pk}.json"'}
    )


@require_GET
@lived_in
def drawing_file(request: KeeperRequest, pk: int) -> HttpResponse:
    """The drawing to scale with its title block, from the front or from both sides, as an SVG that needs no style sheet."""
    habitat = own_habitat(request, pk)
    made = planned(habitat.request_at(now()))
    state = "planned" if habitat.head and habitat.head.state == "planned" else f"plan {made.plan.revision}"
    labels = Labels(habitat.name, "Lamp on, settled", state)
    if request.GET.get("view") == "both":
        drawn = both_views(made.plan, made.outcome, request.units, labels)
    else:
        drawn = front_view(made.plan, made.outcome, request.units, labels, WIDE)
    return HttpResponse(
        write(drawn, "export"),
        content_type="image/svg+xml",
        headers={"Content-Disposition": f'attachment; filename="habitat-{pk}.svg"'},
    )
