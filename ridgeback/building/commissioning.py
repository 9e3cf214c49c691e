"""Verifying an enclosure: what is to be read and seen before its animal moves in, and the record of
it.
"""

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django import forms
from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from husbandry.commissioning.readings import (
    CHECKS,
    CommissioningReading,
    lit_since,
    proven,
    wrong_hour,
)
from husbandry.documents.request import Request
from husbandry.errors import ImpossibleStateError
from husbandry.feeding.condition_periods import QUIET_DAYS
from husbandry.quantity import Kind, Units, show
from husbandry.readings import usual_instrument
from husbandry.species.needs import NEEDS, NeedKey, in_sentence
from husbandry.targets.verdicts import settles
from ridgeback import clock
from ridgeback.building.commissioning_state import found_of, left_by_stage, standing_commissioning
from ridgeback.building.shopping import stands
from ridgeback.clock import now
from ridgeback.enclosures import flows, wording
from ridgeback.enclosures.access import lived_in, own_enclosure, posted, seen_revision
from ridgeback.enclosures.models import Commissioning, Enclosure, Reading
from ridgeback.enclosures.planning import planned
from ridgeback.enclosures.reading_form import ReadingForm
from ridgeback.enclosures.simulated_readings import ROUND
from ridgeback.households.middleware import KeeperRequest

STATES = {
    "open": ("unknown", "to be read"),
    "again": ("unknown", "to be read again"),
    "wrong": ("above", "out of range"),
    "proven": ("right", "verified"),
}


class SignForm(forms.Form):
    """What the keeper saw; all of it, or why not."""

    checks = forms.MultipleChoiceField(
        choices=list(CHECKS.items()), required=False, widget=forms.CheckboxSelectMultiple
    )
    note = forms.CharField(label="What was left out, and why", max_length=200, required=False)

    def clean(self) -> dict[str, Any]:
        """Everything seen, or a word about what was not."""
        data = super().clean() or {}
        if (
            len(data.get("checks", [])) < len(CHECKS)
            and not data.get("note", "").strip()
            and not self.errors
        ):
            self.add_error("note", "Tick what you saw; of what is left out, say why.")
        return data


@dataclass(frozen=True)
class AskView:
    """A reading that is asked for, as a line."""

    name: str
    place: str
    when: str
    target: str
    expected: str
    derivation_at: str
    """Where the derivation of what is expected stands in the plan."""
    value: str
    direction: str
    words: str
    key: str
    moment: str
    form: ReadingForm | None
    """For the number itself, beside the line; None where it is verified."""


def _span_text(key: NeedKey, span: Sequence[float | None], units: Units) -> str:
    """Both ends of a target range, the unit once."""
    known = [end for end in span if end is not None]
    ends = [wording.value_of(key, end, units) for end in known]
    if len(ends) == 2 and NEEDS[key].kind is Kind.TEMPERATURE:
        ends[0] = show(known[0], Kind.TEMPERATURE, units, unit=False)
    elif len(ends) == 2:
        ends[0] = ends[0].removesuffix(" %")
    return " to ".join(ends)


def _line(ask: CommissioningReading, units: Units, form: ReadingForm | None) -> AskView:
    kind = NEEDS[ask.key]
    direction, words = STATES[ask.state]
    if ask.why.startswith("too low"):
        direction = "below"
    why = f": {ask.why}" if ask.why else ""
    moment = f" {ask.moment}" if ask.moment else ""
    return AskView(
        name=(
            f"{kind.name}{' at night' if kind.phase == 'night' and 'ight' not in kind.name else ''}{moment}"
        ),
        place="cool end" if ask.moment else kind.place,
        when=ask.when,
        target=_span_text(ask.key, ask.span, units),
        expected=(
            wording.value_of(ask.key, ask.predicted, units) if ask.predicted is not None else ""
        ),
        derivation_at=ask.derivation_at,
        value=wording.value_of(ask.key, ask.value, units) if ask.value is not None else "",
        direction=direction,
        words=f"{words}{why}",
        key=ask.key.value,
        moment=ask.moment,
        form=form,
    )


@dataclass(frozen=True)
class CommissioningView:
    """A record that was signed."""

    signed_at: dt.datetime
    by: str
    revision: int
    readings: tuple[tuple[str, str, str], ...]
    """Name, what was read, between what it had to be."""
    left_out: tuple[str, ...]
    """Looks that were not ticked."""
    note: str


RECORDS = 20


def _record(commissioning: Commissioning, units: Units) -> CommissioningView:
    lines = []
    for name, value in commissioning.readings.items():
        key, _, moment = name.partition(" ")
        need = NeedKey(key)
        night = " at night" if need is NeedKey.HUMIDITY_NIGHT else ""
        said = f"{NEEDS[need].name}{night}{' ' + moment if moment else ''}"
        lines.append(
            (
                said,
                wording.value_of(need, value, units) if value is not None else "",
                _span_text(need, commissioning.targets.get(name, []), units),
            )
        )
    signer = commissioning.signed_by
    return CommissioningView(
        commissioning.signed_at,
        (signer.first_name or signer.username) if signer is not None else "",
        commissioning.revision.number,
        tuple(lines),
        tuple(words for slug, words in CHECKS.items() if slug not in commissioning.checks),
        commissioning.note,
    )


def _hour(enclosure: Enclosure) -> float:
    """Of the room's own clock [h]."""
    at = clock.local(now(), enclosure.room.time_zone)
    return at.hour + at.minute / 60


def _usual(kept: Request, key: NeedKey, enclosure: Enclosure, units: Units) -> dict[str, str]:
    """What a reading beside the enclosure is taken to be until somebody says otherwise: now, with
    the usual instrument, as far off as it was last said to be.
    """
    at = clock.local(now(), enclosure.room.time_zone)
    instrument = usual_instrument(key)
    before = (
        Reading.objects.filter(enclosure__household=enclosure.household, instrument=instrument)
        .order_by("-at", "-pk")
        .first()
    )
    kind = Kind.TEMPERATURE_DIFFERENCE if NEEDS[key].kind is Kind.TEMPERATURE else NEEDS[key].kind
    return {
        "at": at.strftime("%Y-%m-%dT%H:%M"),
        "instrument": instrument,
        "offset": (
            show(before.offset, kind, units, digits=2)
            if before is not None and before.offset
            else ""
        ),
        "lamp_on": lit_since(kept, at.hour + at.minute / 60) if settles(NEEDS[key]) else "",
    }


def _reading_form(
    request: KeeperRequest,
    enclosure: Enclosure,
    kept: Request,
    keys: list[NeedKey],
    data: Any = None,
) -> ReadingForm:
    return ReadingForm(
        data,
        keys=keys,
        units=request.units,
        zone=enclosure.room.time_zone,
        now=now(),
        request=kept,
        basking=planned(kept).plan.basking,
        moved_at=flows.moved_at(enclosure),
        asks_hour=False,  # refused there, with what else to do
        auto_id=False,
    )


@require_http_methods(["GET", "HEAD", "POST"])
@lived_in
def commission(request: KeeperRequest, pk: int) -> HttpResponse:
    """The readings and looks that verify an enclosure; signed when all of it is done."""
    enclosure = own_enclosure(request, pk)
    kept = enclosure.request_at(now())
    found = found_of(kept)
    form = SignForm(request.POST if request.method == "POST" else None)
    ready = proven(found) and stands(enclosure)
    if request.method == "POST" and form.is_valid():
        if ready and seen_revision(request) == kept.revision:
            _sign(enclosure, found, form, request)
            messages.success(request, "Signed. It may move in; then leave it alone for a week.")
            return redirect("building:commissioning", pk=pk)
        messages.error(
            request,
            "The enclosure or its readings have changed since this page was opened: look at it"
            " again.",
        )
    return _prove_page(request, enclosure, kept, found, form)


def _prove_page(
    request: KeeperRequest,
    enclosure: Enclosure,
    kept: Request,
    found: tuple[CommissioningReading, ...],
    form: SignForm,
    typed: ReadingForm | None = None,
) -> HttpResponse:
    """The page; `typed` is a number that could not be logged, and stays beside its line."""
    last = enclosure.commissionings.select_related("revision", "signed_by").first()
    keys = [ask.key for ask in found]
    at = (typed.data.get("need"), typed.data.get("moment", "")) if typed is not None else None

    def beside(ask: CommissioningReading) -> ReadingForm | None:
        if at == (ask.key.value, ask.moment):
            return typed
        return _reading_form(request, enclosure, kept, keys) if ask.state != "proven" else None

    changed = last is not None and last.revision_id != enclosure.head_id
    outgrown = () if changed else left_by_stage(last, found)
    context = {
        "enclosure": enclosure,
        "lines": [_line(ask, request.units, beside(ask)) for ask in found],
        "form": form,
        "last": last,
        "ready": proven(found) and stands(enclosure),
        "done": sum(ask.state == "proven" for ask in found),
        "all": len(found),
        "changed": changed,
        "stale": changed or bool(outgrown),
        "outgrown": [in_sentence(_line(ask, request.units, None).name) for ask in outgrown],
        "today": enclosure.room.day_of(now()),
        "waiting": [one.animal.name for one in enclosure.present if one.moved_in_at is None],
        "settled": [one for one in enclosure.present if one.moved_in_at],
        "seen": (
            [CHECKS[slug] for slug in last.checks if slug in CHECKS] if last is not None else []
        ),
        "records": [
            _record(one, request.units)
            for one in enclosure.commissionings.select_related("revision", "signed_by")[:RECORDS]
        ],
        "simulates": (
            enclosure.hidden_seed is not None
            and stands(enclosure)
            and any(ask.key in ROUND and ask.state != "proven" for ask in found)
        ),
    }
    return render(request, "building/commissioning.html", context)


@posted
@lived_in
def read_beside(request: KeeperRequest, pk: int) -> HttpResponse:
    """A number typed beside the enclosure: logged as read now, with the usual instrument, lamps on
    since their timer.
    """
    enclosure = own_enclosure(request, pk)
    kept = enclosure.request_at(now())
    found = found_of(kept)
    ask = next(
        (
            one
            for one in found
            if (one.key.value, one.moment)
            == (request.POST.get("need"), request.POST.get("moment", ""))
        ),
        None,
    )
    if not stands(enclosure):
        messages.error(request, "It is planned only: readings can be logged once it is built.")
        return redirect("building:commissioning", pk=pk)
    if ask is None:
        messages.error(
            request, "This reading is not asked for any more: the enclosure has changed since."
        )
        return redirect("building:commissioning", pk=pk)
    data = {
        **_usual(kept, ask.key, enclosure, request.units),
        **{
            name: request.POST[name]
            for name in ("need", "moment", "value", "confirm", "form_key")
            if name in request.POST
        },
    }
    form = _reading_form(request, enclosure, kept, [one.key for one in found], data)
    if form.is_valid() and (wrong := wrong_hour(kept, ask.key, _hour(enclosure))):
        form.add_error("value", wrong)
    if not form.is_valid():
        return _prove_page(request, enclosure, kept, found, SignForm(), form)
    flows.log_form(enclosure, form.cleaned_data, keeper=request.user)
    shown = wording.value_of(ask.key, form.cleaned_data["number"], request.units)
    messages.success(
        request, f"Logged: {in_sentence(_line(ask, request.units, None).name)}, {shown}."
    )
    return redirect("building:commissioning", pk=pk)


@posted
@lived_in
def settle_in(request: KeeperRequest, pk: int) -> HttpResponse:
    """Those for whom a verified enclosure was made have moved in."""
    enclosure = own_enclosure(request, pk)
    if standing_commissioning(enclosure) is None:
        messages.error(
            request, "It is not verified yet: log again what the change may have moved."
        )
    elif flows.settle_in(enclosure, now=now()):
        messages.success(
            request,
            f"Moved in. Now {QUIET_DAYS} quiet days: food and water, no handling, no visitors at"
            " the glass.",
        )
    return redirect("building:commissioning", pk=pk)


@transaction.atomic
def _sign(
    enclosure: Enclosure,
    found: tuple[CommissioningReading, ...],
    form: SignForm,
    request: KeeperRequest,
) -> None:
    if enclosure.head is None:
        raise ImpossibleStateError("what is ready stands")
    Commissioning.objects.create(
        enclosure=enclosure,
        revision=enclosure.head,
        signed_at=now(),
        signed_by=request.user,
        readings={ask.name: ask.value for ask in found},
        targets={ask.name: list(ask.span) for ask in found},
        checks=form.cleaned_data["checks"],
        note=form.cleaned_data["note"].strip(),
    )
