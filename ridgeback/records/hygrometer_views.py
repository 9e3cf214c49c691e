"""What a hygrometer logged in an enclosure, fitted to its water, told, and used when the keeper says so."""

import datetime as dt
import json
import math
from typing import Any

import numpy as np
from django import forms
from django.contrib import messages
from django.core import signing
from django.db.models import QuerySet
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from husbandry.climate.hygrometer import HygrometerFit, Log, fit_log, log_of
from husbandry.documents.enclosure import HumidityLogFactors
from husbandry.documents.request import Request
from husbandry.errors import DocumentError, ImpossibleStateError, Problem
from husbandry.records.channels import Quantity, SensorPlace
from husbandry.records.moments import local_offsets
from ridgeback.clock import now
from ridgeback.enclosures import flows
from ridgeback.enclosures.access import lived_in, own_enclosure, seen_revision
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.planning import planned
from ridgeback.households.middleware import KeeperRequest
from ridgeback.records.models import Channel
from ridgeback.records.reading import values_of

SALT = "ridgeback.log"
MOST_AGE_S = 24 * 3600
AIR_PLACES = (SensorPlace.COOL, SensorPlace.WARM, SensorPlace.MIDDLE)
"""Where the model knows the air's temperature through the day."""
SPANS = [(3, "three days"), (7, "a week"), (14, "two weeks"), (30, "a month")]
NEAR_S = 1800
"""A temperature is taken for a humidity that it lies so near to (design choice) [s]."""


class HygrometerForm(forms.Form):
    """Which hygrometer, and how much of what it logged."""

    channel = forms.ModelChoiceField(
        label="Hygrometer",
        queryset=Channel.objects.none(),
        empty_label=None,
        error_messages={
            "required": "Choose one of the hygrometers.",
            "invalid_choice": "Choose one of the hygrometers.",
        },
    )
    days = forms.TypedChoiceField(label="Its last", choices=SPANS, coerce=int, initial=7)

    def __init__(self, *args: Any, enclosure: Enclosure, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["channel"].queryset = hygrometers(enclosure)  # type: ignore[attr-defined]  # a model choice
        self.problems = list[str]()


def hygrometers(enclosure: Enclosure) -> QuerySet[Channel]:
    """Channels of an enclosure that can tell of its water."""
    return Channel.objects.filter(
        enclosure=enclosure,
        quantity=Quantity.HUMIDITY.value,
        place__in=[one.value for one in AIR_PLACES],
        last_at__isnull=False,
    )


def _log(channel: Channel, days: int) -> Log:
    """What a hygrometer logged, with the temperature at its place.

    Raises
    ------
    DocumentError
        Where no temperature was logged there, or too little of either.
    """
    beside = Channel.objects.filter(
        enclosure=channel.enclosure_id,
        quantity=Quantity.TEMPERATURE.value,
        place=channel.place,
        last_at__isnull=False,
    )
    own = beside.filter(name=channel.name).first() or beside.first()
    last = channel.last_at
    if own is None or last is None:
        raise DocumentError(
            "log",
            [
                Problem(
                    "",
                    "no temperature is logged at its place: humidity alone does not tell how much"
                    " water the air holds",
                )
            ],
        )

    last += dt.timedelta(seconds=1)
    first = last - dt.timedelta(days=days)
    at_s, pct = values_of(channel, first, last)
    temp_at_s, temp_c = values_of(own, first, last)
    if len(temp_at_s):
        after = np.minimum(np.searchsorted(temp_at_s, at_s), len(temp_at_s) - 1)
        before = np.maximum(after - 1, 0)
        apart = np.minimum(np.abs(temp_at_s[after] - at_s), np.abs(temp_at_s[before] - at_s))
        near = apart <= NEAR_S
    else:
        near = np.zeros(len(at_s), dtype=bool)
    at_s, pct = at_s[near], np.clip(pct[near], 0.0, 100.0)
    zone = channel.enclosure.room.time_zone
    temps = np.interp(at_s, temp_at_s, temp_c) if len(at_s) else np.zeros(0)

    return log_of(at_s + local_offsets(at_s, zone), pct, temps)


def _fitted(kept: Request, form: HygrometerForm) -> HygrometerFit | None:
    """What the log tells of the enclosure as it is kept; None with the problems on the form."""
    damp = planned(kept).prediction.damp
    if damp is None:
        form.add_error(
            None,
            "Say first, under “Moisture” on the enclosure’s page, how damp its substrate is kept"
            " and when it is misted.",
        )
        return None
    channel = form.cleaned_data["channel"]
    try:
        log = _log(channel, form.cleaned_data["days"])
        plain = damp.wetting.model_copy(update={"logged": None})
        bare = planned(
            kept.model_copy(
                update={"enclosure": kept.enclosure.model_copy(update={"wetting": plain})}
            ),
            keep=False,
        ).prediction.damp
        if bare is None:
            raise ImpossibleStateError("it has its wetting")
        return fit_log(bare.enclosure, bare.forcing, getattr(bare.places, channel.place), log)
    except DocumentError as why:
        form.problems = [problem.reason[:300] for problem in why.problems]
        form.add_error("channel", "This log cannot be used.")
        return None


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
        ("What the substrate gives off", by(told.substrate, told.substrate_ln_sd)),
        ("What its walls take up, over its air", f"{told.buffer:.1f}"),
        (
            "The log lies from the model",
            f"{told.uncalibrated_pct:.1f} points before, {told.rms_pct:.1f} after",
        ),
        ("Length", f"{told.hours:.0f} h"),
    ]


@require_http_methods(["GET", "HEAD", "POST"])
@lived_in
def hygrometer(request: KeeperRequest, pk: int) -> HttpResponse:
    """Tell what a hygrometer says of the enclosure; nothing is stored."""
    enclosure = own_enclosure(request, pk)
    kept = enclosure.request_at(now())
    context: dict[str, Any] = {"enclosure": enclosure}
    posted = request.POST if request.method == "POST" else None
    form = HygrometerForm(posted, enclosure=enclosure)
    told = _fitted(kept, form) if posted is not None and form.is_valid() else None
    if told is not None:
        factors = {
            name: getattr(told, name)
            for name in ("air", "air_ln_sd", "substrate", "substrate_ln_sd", "buffer", "hours")
        }
        factors["on"] = kept.today.isoformat()
        context |= {
            "rows": _rows(told, kept),
            "worse": told.rms_pct > 6,
            "seal": signing.dumps({"enclosure": enclosure.pk, "logged": factors}, salt=SALT),
        }
    return render(
        request,
        "records/hygrometer.html",
        {
            **context,
            "form": form,
            "has_hygrometer": hygrometers(enclosure).exists(),
            "known": kept.enclosure.wetting.logged if kept.enclosure.wetting else None,
        },
    )


@require_http_methods(["POST"])
@lived_in
def use_hygrometer(request: KeeperRequest, pk: int) -> HttpResponse:
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
            return redirect("records:hygrometer", pk=pk)
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
