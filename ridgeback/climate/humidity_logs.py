"""A hygrometer's log of an enclosure: read, fitted, told, and used when the keeper says so.

The log itself is not kept.
"""

import datetime as dt
import json
import math
from typing import Any

from django import forms
from django.contrib import messages
from django.core import signing
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from husbandry.climate.hygrometer import HygrometerFit, fit_log, read_log
from husbandry.documents.enclosure import HumidityLogFactors
from husbandry.documents.request import Request
from husbandry.errors import DocumentError, ImpossibleStateError
from husbandry.simulation.logger import HiddenDamp
from ridgeback import clock
from ridgeback.clock import now
from ridgeback.enclosures import flows
from ridgeback.enclosures.access import lived_in, own_enclosure, seen_revision
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.planning import planned
from ridgeback.households.middleware import KeeperRequest

SALT = "ridgeback.log"
MOST_AGE_S = 24 * 3600
PLACES = [("cool", "the cool end"), ("warm", "the warm end"), ("middle", "the middle")]


class LogForm(forms.Form):
    """A log, as a file or as text, and where it was taken."""

    file = forms.FileField(
        label="File: time, humidity, temperature",
        required=False,
        widget=forms.FileInput(attrs={"accept": ".csv,.txt,.tsv,text/*"}),
    )
    pasted = forms.CharField(
        label="or paste it",
        required=False,
        max_length=400_000,
        widget=forms.Textarea(
            attrs={
                "rows": 6,
                "placeholder": "2026-11-21 08:00, 62.5, 23.1\n2026-11-21 08:10, 62.1, 23.3",
            }
        ),
    )
    place = forms.ChoiceField(label="Where it hung", choices=PLACES)

    def __init__(self, *args: Any, too_large: bool = False, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.too_large = too_large
        self.text = ""
        self.problems = list[str]()

    def clean(self) -> dict[str, Any]:
        """The text, whichever way it came."""
        cleaned = super().clean() or {}
        if self.too_large:
            self.add_error(
                "file",
                "This file is larger than any log is: thin it to one reading in ten minutes.",
            )
            return cleaned
        try:
            self.text = (
                cleaned["file"].read().decode("utf-8-sig")
                if cleaned.get("file")
                else cleaned.get("pasted", "")
            )
        except UnicodeDecodeError:
            self.add_error("file", "This is not UTF-8 text.")
            return cleaned
        if not self.text.strip():
            self.add_error("file", "Choose a file, or paste its lines.")
        return cleaned


def _fitted(kept: Request, form: LogForm) -> tuple[HygrometerFit, tuple[str, ...]] | None:
    """What the log tells of the enclosure as it is kept; None with the problems on the form."""
    damp = planned(kept).prediction.damp
    if damp is None:
        form.add_error(
            None,
            "Say first, under “Moisture” on the enclosure’s page, how damp its substrate is kept"
            " and when it is misted.",
        )
        return None
    try:
        log = read_log(form.text)
        plain = damp.wetting.model_copy(update={"logged": None})
        bare = planned(
            kept.model_copy(
                update={"enclosure": kept.enclosure.model_copy(update={"wetting": plain})}
            ),
            keep=False,
        ).prediction.damp
        if bare is None:
            raise ImpossibleStateError("it has its wetting")
        return (
            fit_log(
                bare.enclosure, bare.forcing, getattr(bare.places, form.cleaned_data["place"]), log
            ),
            log.corrections,
        )
    except DocumentError as why:
        form.problems = [
            f"{p.pointer + ': ' if p.pointer else ''}{p.reason}"[:300] for p in why.problems
        ]
        form.add_error("file", "This log cannot be used.")
        return None


def _simulated(enclosure: Enclosure, kept: Request) -> str:
    """A log by the demo's simulated logger; nothing for an enclosure that is real, or of which
    nobody said how it is kept damp.
    """
    damp = planned(kept).prediction.damp
    if enclosure.hidden_seed is None or damp is None:
        return ""
    return HiddenDamp(damp, enclosure.hidden_seed).log(
        clock.local(now(), enclosure.room.time_zone)
    )


def _rows(told: HygrometerFit, kept: Request) -> list[tuple[str, str]]:
    def by(factor: float, sd: float) -> str:
        return f"×\u00a0{factor:.2f} (×/÷\u00a0{math.exp(sd):.2f} one way in three)"

    damp = planned(kept).prediction.damp
    if damp is None:
        raise ImpossibleStateError("it was fitted")
    was = damp.wetting.logged.air if damp.wetting.logged else 1.0
    changes = damp.forcing.changes_per_h[damp.day_n] / was
    return [
        (
            "Air exchange",
            (
                f"{by(told.air, told.air_ln_sd)}: {told.air * changes:.1f} times an hour by day,"
                f" not {changes:.1f}"
            ),
        ),
        ("What the ground gives off", by(told.substrate, told.substrate_ln_sd)),
        ("What its walls take up, over its air", f"{told.buffer:.1f}"),
        (
            "The log lies from the model",
            f"{told.uncalibrated_pct:.1f} points before, {told.rms_pct:.1f} after",
        ),
        ("Length", f"{told.hours:.0f} h"),
    ]


@require_http_methods(["GET", "HEAD", "POST"])
@lived_in
def log(request: KeeperRequest, pk: int) -> HttpResponse:
    """Read a log and tell; nothing is kept."""
    enclosure = own_enclosure(request, pk)
    kept = enclosure.request_at(now())
    context: dict[str, Any] = {"enclosure": enclosure}
    form = LogForm(
        initial={"pasted": _simulated(enclosure, kept)} if "simulated" in request.GET else None
    )
    if request.method == "POST":
        form = LogForm(
            request.POST, request.FILES, too_large=bool(request.META.get("ridgeback.too_large"))
        )
        found = _fitted(kept, form) if form.is_valid() else None
        if found is not None:
            told, corrections = found
            factors = {
                name: getattr(told, name)
                for name in ("air", "air_ln_sd", "substrate", "substrate_ln_sd", "buffer", "hours")
            }
            factors["on"] = kept.today.isoformat()
            context |= {
                "rows": _rows(told, kept),
                "corrections": corrections,
                "worse": told.rms_pct > 6,
                "seal": signing.dumps({"enclosure": enclosure.pk, "logged": factors}, salt=SALT),
            }
    return render(
        request,
        "climate/log.html",
        {
            **context,
            "form": form,
            "known": kept.enclosure.wetting.logged if kept.enclosure.wetting else None,
        },
    )


@require_http_methods(["POST"])
@lived_in
def use_log(request: KeeperRequest, pk: int) -> HttpResponse:
    """Take over what a log told, or forget it, as a revision of the enclosure."""
    enclosure = own_enclosure(request, pk)
    at = now()
    kept = enclosure.request_at(at)
    wetting = kept.enclosure.wetting
    known: HumidityLogFactors | None = None
    if "forget" not in request.POST:
        try:
            sealed = signing.loads(
                request.POST.get("seal", ""), salt=SALT, max_age=dt.timedelta(seconds=MOST_AGE_S)
            )
            known = (
                HumidityLogFactors.model_validate_json(json.dumps(sealed["logged"]))
                if sealed["enclosure"] == enclosure.pk
                else None
            )
        except (signing.BadSignature, ValueError, KeyError):
            known = None
        if known is None:
            messages.error(request, "This log was read too long ago: read it again.")
            return redirect("climate:log", pk=pk)
    if wetting is None:
        messages.error(request, "It is no longer recorded how this enclosure is kept damp.")
        return redirect("enclosures:page", pk=pk)
    tried = kept.model_copy(
        update={
            "enclosure": kept.enclosure.model_copy(
                update={"wetting": wetting.model_copy(update={"logged": known})}
            )
        }
    )
    try:
        flows.keep_layout(
            enclosure, tried, seen=seen_revision(request), keeper=request.user, now=at
        )
        messages.success(
            request,
            (
                "Forgotten."
                if known is None
                else "Used: the humidity is predicted by what the log told."
            ),
        )
    except flows.StaleError as why:
        messages.error(request, str(why))
    return redirect("enclosures:page", pk=pk)
