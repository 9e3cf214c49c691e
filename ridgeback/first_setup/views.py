"""The pages of the first run."""

import uuid
from typing import Any

from django.contrib import messages
from django.db import IntegrityError, transaction
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from husbandry.errors import DocumentError, ImpossibleStateError
from husbandry.predict.need_states import look
from husbandry.quantity import Kind, show
from husbandry.setups.first_setup import placed
from husbandry.setups.room_limits import room_limits
from ridgeback.clock import now
from ridgeback.drafts import flows as drafts
from ridgeback.enclosure_pages.presenting import enclosure_view
from ridgeback.enclosures.planning import planned
from ridgeback.first_setup import flows
from ridgeback.first_setup.flows import SUBJECT, NewRoom
from ridgeback.first_setup.forms import AnimalForm, EnclosureForm, HeatForm, StepForm
from ridgeback.first_setup.parts import owned_of, parts_of
from ridgeback.first_setup.steps import STEPS, TITLES, SetupDraft
from ridgeback.households.forms import RoomForm
from ridgeback.households.middleware import KeeperRequest
from ridgeback.sentences import sentence, span
from ridgeback.submissions.forms import KEY, key_posted


def _run(request: KeeperRequest) -> SetupDraft:
    if request.household is None:
        raise Http404
    draft = drafts.find(request.household, request.user, SUBJECT)
    return SetupDraft(request.household, draft, request.units, now())


def begin(request: KeeperRequest) -> HttpResponse:
    """To the step that was left."""
    run = _run(request)
    last = next(
        (
            step
            for step in reversed(STEPS)
            if run.draft and step in run.draft.data and run.ready(step)
        ),
        STEPS[0],
    )
    return redirect("first_setup:step", step=last)


def step(request: KeeperRequest, step: str) -> HttpResponse:
    """One step: shown with what the draft holds, or checked and passed."""
    if step not in STEPS:
        raise Http404
    if request.method == "POST":
        return _submit(request, step)
    run = _run(request)
    if not run.ready(step):
        return redirect("first_setup:begin")
    kept = run.kept(step)
    if kept is None:
        kept = run.suggestion(step)
        if kept:  # calculated once, not at every look
            drafts.keep(
                run.household, request.user, SUBJECT, step, kept, request.units, suggested=True
            )
    return _show(request, run, step, run.form(step, initial=kept))


@transaction.atomic
def _submit(request: KeeperRequest, step: str) -> HttpResponse:
    """Check a step and pass it.

    Drafts of the same page that are still on their way come too late.
    """
    run = _held(request)
    if not run.ready(step):
        return redirect("first_setup:begin")
    typed = request.POST.dict()
    drafts.close(run.household, key_posted(typed))
    run.draft = drafts.keep(run.household, request.user, SUBJECT, step, typed, request.units)
    form = run.form(step, {**typed, KEY: str(uuid.uuid4()), drafts.SEQUENCE: "0"})
    if form.is_valid():
        later = STEPS[STEPS.index(step) + 1 :]
        drafts.forget(run.household, request.user, SUBJECT, later, suggested_only=True)
        if later:
            return redirect("first_setup:step", step=later[0])
        made = _finish(request, run, form)
        if made is not None:
            return made
    return _show(request, run, step, form)


def _held(request: KeeperRequest) -> SetupDraft:
    """The run, which nobody else writes until the end of the transaction."""
    if request.household is None:
        raise Http404
    drafts.hold(request.household, request.user, SUBJECT)
    return _run(request)


@require_POST
@transaction.atomic
def draft(request: KeeperRequest, step: str) -> HttpResponse:
    """Save what is typed so far and answer with what follows from it; nothing when it comes late."""
    run = _held(request)
    if step not in STEPS:
        raise Http404
    if not run.ready(step):
        return HttpResponse(status=204)
    typed = request.POST.dict()
    saved = drafts.keep_typed(run.household, request.user, SUBJECT, step, typed, request.units)
    if saved is None:
        return HttpResponse(status=204)
    run.draft = saved
    form = run.form(step, request.POST)
    form.is_valid()
    context = {"form": form, **_panel(request, run, step, form), "step": step}
    return render(request, "first_setup/draft.html", context)


@require_POST
@transaction.atomic
def suggest_again(request: KeeperRequest, step: str) -> HttpResponse:
    """Forget what was typed in a step and begin with the suggestion again."""
    run = _held(request)
    if step not in STEPS or not run.ready(step):
        raise Http404
    drafts.close(run.household, key_posted(request.POST))
    drafts.forget(run.household, request.user, SUBJECT, [step])
    return redirect("first_setup:step", step=step)


@require_POST
@transaction.atomic
def discard(request: KeeperRequest) -> HttpResponse:
    """Delete the draft."""
    run = _held(request)
    drafts.close(run.household, key_posted(request.POST))
    drafts.drop(run.household, request.user, SUBJECT)
    messages.success(request, "The draft is deleted.")
    return redirect("enclosures:list")


def _finish(request: KeeperRequest, run: SetupDraft, heat: StepForm) -> HttpResponse | None:
    """Make it all; None with the errors on the form when the core refuses."""
    enclosure = run.whole("enclosure")
    if not isinstance(enclosure, EnclosureForm) or not isinstance(heat, HeatForm):
        raise ImpossibleStateError(
            "missing: isinstance(enclosure, EnclosureForm), isinstance(heat, HeatForm)"
        )
    asked = _asked(run, enclosure, heat)
    if asked is None:
        return None
    room = enclosure.chosen_room() or NewRoom(enclosure.cleaned_data["room_name"])
    try:
        made = flows.finish(
            run.household,
            request.user,
            asked,
            enclosure_name=enclosure.cleaned_data["name"],
            room=room,
            state=heat.cleaned_data["state"],
            now=now(),
        )
    except IntegrityError:  # another tab was faster with the same name
        heat.add_error(
            None,
            "An enclosure or a room of this name was made meanwhile: go back one step and choose"
            " another name.",
        )
        return None
    messages.success(request, f"{made.name} is made. Below is what it will do.")
    return redirect("enclosures:page", pk=made.pk)


def _asked(run: SetupDraft, enclosure: EnclosureForm, heat: HeatForm) -> Any:
    """The request of the last step; None with its problems on the fields."""
    try:
        return run.request(enclosure, heat)
    except DocumentError as why:
        items = [] if heat.takes_suggestion else placed(run.request(enclosure), heat.fitting())
        for problem in why.problems:
            heat.add_error(heat.field_of(problem.pointer, items), sentence(problem.reason))
        return None


def _show(request: HttpRequest, run: SetupDraft, step: str, form: StepForm) -> HttpResponse:
    if form.is_bound:
        panel = _panel(request, run, step, form)
    else:
        tried = run.form(
            step,
            {
                name: str(value)
                for name in form.fields
                if (value := form[name].value()) is not None
            },
        )
        tried.is_valid()
        panel = _panel(request, run, step, tried)
    context = {
        "form": form,
        "step": step,
        "title": TITLES[step],
        "number": STEPS.index(step) + 1,
        "titles": [(s, TITLES[s], run.ready(s)) for s in STEPS],
        "before": STEPS[STEPS.index(step) - 1] if step != STEPS[0] else "",
        "zones": RoomForm.zones() if step == "enclosure" else [],
        **panel,
    }
    return render(request, "first_setup/step.html", context)


def _asked_so_far(run: SetupDraft, form: StepForm) -> Any:
    """The request of the second or the third step; None with its problems on the fields."""
    if isinstance(form, EnclosureForm):
        try:
            return run.request(form)
        except DocumentError as why:
            for problem in why.problems:
                form.add_error(_enclosure_field(problem.pointer), sentence(problem.reason))
            return None
    if isinstance(form, HeatForm):
        enclosure = run.whole("enclosure")
        if not isinstance(enclosure, EnclosureForm):
            raise ImpossibleStateError("missing: isinstance(enclosure, EnclosureForm)")
        return _asked(run, enclosure, form)
    return None


def _enclosure_field(pointer: str) -> str | None:
    """The field that a problem of the enclosure is about."""
    if "substrate" in pointer:
        return "substrate_depth"
    return "share" if "mesh" in pointer else None


def _panel(request: Any, run: SetupDraft, step: str, form: StepForm) -> dict[str, Any]:
    """What follows from what is typed so far."""
    units = request.units
    animal = form if isinstance(form, AnimalForm) else run.whole("animal")
    if not isinstance(animal, AnimalForm):
        raise ImpossibleStateError("missing: isinstance(animal, AnimalForm)")
    kind = run.kind(animal)
    found: dict[str, Any] = {"kind": kind, "asked": form.asked}
    if kind is None:
        return found
    found["rests_on"] = [
        (target.kind.name, end)
        for target in kind.targets.values()
        if (end := target.low or target.high)
    ] + [("Size", kind.size.needed)]
    sides = [
        show(side.needed_m, Kind.LENGTH, units, unit=n == 2)
        for n, side in enumerate(kind.size.sides)
    ]
    found["size"] = "\u00a0×\u00a0".join(sides)
    if step == "animal":
        found["wants"] = [
            (target.kind.name, target.kind.place, span(target, units))
            for target in kind.targets.values()
        ]
        return found
    if not form.is_valid():
        return found
    asked = _asked_so_far(run, form)
    if asked is not None:
        made = planned(asked, keep=False)
        if isinstance(form, HeatForm) and form.takes_suggestion:
            found["parts"] = parts_of(asked, units)
            found["owned"] = owned_of(form.suggested())
        found["limits"] = [limit.said(units) for limit in room_limits(look(asked), asked.room)]
        found["view"] = enclosure_view(
            made, units, run.now, name=_name(run, form), previewing=True
        )
        found["rests_on"] += [
            (need.name, need.predicted) for need in made.plan.needs if need.predicted
        ]
    return found


def _name(run: SetupDraft, form: StepForm) -> str:
    enclosure = form if isinstance(form, EnclosureForm) else run.whole("enclosure")
    return str(enclosure.cleaned_data["name"]) if enclosure is not None else "Enclosure"
