"""Proving a box: what is to be read and seen before its animal moves in, and the record of it."""

from dataclasses import dataclass
from typing import Any

from django import forms
from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from husbandry.diet.spells import QUIET_DAYS
from husbandry.planning.looking import look
from husbandry.planning.proving import CHECKS, Ask, asks, proven
from husbandry.planning.request import Request
from husbandry.quantity import Units
from husbandry.species.needs import NEEDS
from ridgeback.habitats import flows, wording
from ridgeback.habitats.forms import now
from ridgeback.habitats.models import Habitat, Proof
from ridgeback.habitats.planning import planned
from ridgeback.habitats.simulated import ROUND
from ridgeback.habitats.views import lived_in, own_habitat, posted, seen_revision
from ridgeback.keepers.middleware import KeeperRequest

STATES = {
    "open": ("unknown", "to be read"),
    "again": ("unknown", "to be read again"),
    "wrong": ("above", "not right"),
    "proven": ("right", "proven"),
}


class SignForm(forms.Form):
    """What the keeper saw; all of it, or why not."""

    checks = forms.MultipleChoiceField(choices=list(CHECKS.items()), required=False, widget=forms.CheckboxSelectMultiple)
    note = forms.CharField(label="What is left out, and why", max_length=200, required=False)

    def clean(self) -> dict[str, Any]:
        """Everything seen, or a word about what was not."""
        data = super().clean() or {}
        if len(data.get("checks", [])) < len(CHECKS) and not data.get("note", "").strip() and not self.errors:
            self.add_error("note", "Tick what you saw; of what is left out, say why.")
        return data


@dataclass(frozen=True)
class AskView:
    """A reading that is asked for, as a line."""

    name: str
    place: str
    when: str
    band: str
    value: str
    direction: str
    words: str
    key: str


def _line(ask: Ask, made: Any, units: Units) -> AskView:
    need = made.need(ask.key)
    kind = NEEDS[ask.key]
    ends = [wording.value_of(ask.key, end.value, units) for end in (need.low, need.high) if end is not None]
    direction, words = STATES[ask.state]
    if ask.why.startswith("below"):
        direction = "below"
    why = f": {ask.why}" if ask.why else ""
    return AskView(
        name=f"{kind.name}{' at night' if kind.phase == 'night' and 'ight' not in kind.name else ''}", place=kind.place, when=ask.when,
        band=" to ".join(ends), value=wording.value_of(ask.key, ask.value, units) if ask.value is not None else "",
        direction=direction, words=f"{words}{why}", key=ask.key.value,
    )  # fmt: skip


def found_of(kept: Request) -> tuple[Ask, ...]:
    """What is asked of a box as it is kept."""
    made = planned(kept).plan
    return asks(kept, made.needs, look(kept).bands)


@require_http_methods(["GET", "HEAD", "POST"])
@lived_in
def prove(request: KeeperRequest, pk: int) -> HttpResponse:
    """The round of readings and looks that proves a box; signed when all of it is done."""
    habitat = own_habitat(request, pk)
    kept = habitat.request_at(now())
    made = planned(kept).plan
    found = found_of(kept)
    form = SignForm(request.POST if request.method == "POST" else None)
    ready = proven(found) and (habitat.head is not None and habitat.head.state == "built")
    if request.method == "POST" and form.is_valid():
        if ready and seen_revision(request) == kept.revision:
            _sign(habitat, found, form, request)
            messages.success(request, "Signed. It may move in; then leave it alone for a week.")
            return redirect("habitats:prove", pk=pk)
        messages.error(request, "The box or its readings have changed since this page was opened: look at it again.")
    last = habitat.proofs.select_related("revision", "signed_by").first()
    context = {
        "habitat": habitat, "lines": [_line(ask, made, request.units) for ask in found], "form": form, "ready": ready, "last": last,
        "done": sum(ask.state == "proven" for ask in found), "all": len(found), "stale": last is not None and last.revision_id != habitat.head_id,
        "today": now().date(), "waiting": [one.animal.name for one in habitat.present if one.moved_in_at is None],
        "settled": [one for one in habitat.present if one.moved_in_at],
        "seen": [CHECKS[slug] for slug in last.checks if slug in CHECKS] if last is not None else [],
        "simulates": habitat.hidden_seed is not None and any(ask.key in ROUND and ask.state != "proven" for ask in found),
    }  # fmt: skip
    return render(request, "habitats/prove.html", context)


@posted
@lived_in
def settle_in(request: KeeperRequest, pk: int) -> HttpResponse:
    """Those for whom a proven box was made have moved in."""
    habitat = own_habitat(request, pk)
    if habitat.proof is None:
        messages.error(request, "It is not proven as it stands: what a change can have moved is read again first.")
    elif flows.settle_in(habitat, now=now()):
        messages.success(
            request, f"Moved in. Now {QUIET_DAYS} quiet days: food and water, no handling, no visitors at the glass."
        )
    return redirect("habitats:prove", pk=pk)


@transaction.atomic
def _sign(habitat: Habitat, found: tuple[Ask, ...], form: SignForm, request: KeeperRequest) -> None:
    assert habitat.head is not None  # what is ready stands
    Proof.objects.create(
        habitat=habitat, revision=habitat.head, signed_at=now(), signed_by=request.user,
        readings={ask.key.value: ask.value for ask in found}, checks=form.cleaned_data["checks"], note=form.cleaned_data["note"].strip(),
    )  # fmt: skip
