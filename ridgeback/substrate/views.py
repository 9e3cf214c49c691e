"""The substrate of an enclosure: what its layers take in litres, bags and money, what the whole
weighs, and what the floor under it carries.
"""

from dataclasses import dataclass, replace
from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils.safestring import SafeString, mark_safe
from django.views.decorators.http import require_http_methods

from husbandry.derivation import Derivation
from husbandry.documents.enclosure import InsideMeasures
from husbandry.documents.request import Request
from husbandry.documents.soundness import MOST_OF_HEIGHT
from husbandry.enclosure.substrate_layers import (
    SubstrateBed,
    SubstrateLayer,
    amount_derivation,
    bed_of,
)
from husbandry.errors import DocumentError
from husbandry.findings.egg_laying import laying
from husbandry.findings.planting import crew_text, crew_wants
from husbandry.findings.substrate_findings import (
    SubstrateFinding,
    bed_found,
    depth_needed_m,
    judge_bed,
    wanted,
    why_not,
    with_bed,
)
from husbandry.findings.weight import CARE, DOMESTIC, buried_l, layers_of, weight_of
from husbandry.predict.need_states import AnimalNeeds, look
from husbandry.quantity import Kind, Units, show
from ridgeback.clock import now
from ridgeback.derivations import DerivationView, derivation_view
from ridgeback.drawing.substrate import bed_section
from ridgeback.drawing.svg import write
from ridgeback.enclosures import flows
from ridgeback.enclosures.access import lived_in, own_enclosure, seen_revision
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.wording import note as note_text
from ridgeback.households.middleware import KeeperRequest
from ridgeback.sentences import between, sentence
from ridgeback.substrate.forms import SubstrateForm


@dataclass(frozen=True)
class SubstrateView:
    """The page's content."""

    wants: tuple[str, ...]
    avoided: tuple[str, ...]
    drawing: SafeString | None
    amounts: tuple[dict[str, Any], ...]
    totals: tuple[tuple[str, str], ...]
    findings: tuple[str, ...]
    parts: tuple[tuple[str, str], ...]
    total: DerivationView
    pressure: DerivationView
    foot: str
    care: str
    severity: str
    anchored: bool
    crew: str
    """How its crew is fed."""


def _litres(value: float, units: Units) -> str:
    return show(value, Kind.VOLUME, units, digits=1)


def _mass(kg: float, units: Units) -> str:
    return (
        show(1000 * kg, Kind.MASS, units) if units.system == "us" or kg < 0.1 else f"{kg:.1f} kg"
    )


def _material(derivation: Derivation, units: Units) -> DerivationView:
    """Loose litres that open to their derivation."""
    return replace(derivation_view(derivation, units), text=_litres(derivation.value, units))


def _whole(kg: float, units: Units) -> str:
    """A mass that is known within a fifth."""
    return _mass(kg, units) if units.system == "us" or kg < 20 else f"{kg:.0f} kg"


def _wants(asked: Request, units: Units) -> tuple[str, ...]:
    looked = look(asked)
    spec = wanted(asked, looked.occupants)
    if spec is None:
        return ()
    low = spec.depth_m.low or 0.0
    high = spec.depth_m.high
    depth = (
        between(low, high, Kind.LENGTH, units) if high else f"from {show(low, Kind.LENGTH, units)}"
    )
    lead = looked.occupants[looked.lead]
    said = [
        f"{lead.common_name[0].upper()}{lead.common_name[1:]}, {lead.stage.name}: {depth} deep.",
        f"Of {'; or '.join(spec.kinds)}.",
    ]
    return (*said, *([sentence(spec.note)] if spec.note else []))


def _avoided(asked: Request) -> tuple[str, ...]:
    """What is not put in, and why."""
    spec = wanted(asked, look(asked).occupants)
    found = []
    for one in spec.avoid if spec is not None else ():
        why = why_not(one)
        found.append(sentence(f"{one}: {why}" if why else one))
    return tuple(found)


def substrate_view(
    asked: Request,
    layers: tuple[SubstrateLayer, ...],
    form: SubstrateForm,
    enclosure: Enclosure,
    units: Units,
    *,
    drawn: tuple[SubstrateLayer, ...] = (),
) -> SubstrateView:
    """What a bed takes and what the enclosure then weighs."""
    inside = asked.enclosure.inside_m
    sizes, prices = form.bags()
    stand_kg, stand_m = form.stand()
    currency = enclosure.household.currency
    bed: SubstrateBed | None = None
    area = inside.length * inside.depth
    if layers:
        bed = bed_of(area, layers, buried_l=buried_l(asked), bag_l=sizes, bag_price=prices)
    weight = weight_of(asked, stand_kg=stand_kg, stand_m=stand_m, bed=bed)
    looked = look(asked)
    amounts, findings, totals = _amounts(
        area, asked, bed, currency, form, inside, layers, looked, units
    )
    said = [
        note_text(one.note(), units)
        for one in bed_found(asked, depth_needed_m(asked, looked.occupants))
    ]
    said += [finding.text for finding in findings] + [one.text for one in crew_wants(asked)]
    said += [note_text(note, units) for note in laying(asked, looked.occupants)]
    return SubstrateView(
        _wants(asked, units),
        _avoided(asked),
        (
            mark_safe(write(bed_section(drawn or layers, units, MOST_OF_HEIGHT * inside.height)))
            if layers
            else None
        ),  # our own writer escapes
        tuple(amounts),
        tuple(totals),
        tuple(said),
        tuple((name, _mass(mass, units)) for name, mass in weight.parts),
        replace(derivation_view(weight.total, units), text=_whole(weight.total.value, units)),
        replace(derivation_view(weight.pressure, units), text=f"{weight.pressure.value:.1f} kPa"),
        f"{weight.foot_kn:.2f} kN",
        CARE[weight.care],
        {"plain": "right", "spread": "unknown", "ask": "above"}[weight.care],
        weight.anchored,
        crew_text(asked),
    )


def _amounts(
    area: float,
    asked: Request,
    bed: SubstrateBed | None,
    currency: str,
    form: SubstrateForm,
    inside: InsideMeasures,
    layers: tuple[SubstrateLayer, ...],
    looked: AnimalNeeds,
    units: Units,
) -> tuple[
    list[dict[str, int | DerivationView | str | Any | None]],
    list[SubstrateFinding],
    list[tuple[str, str]],
]:
    """List what the bed takes, what it costs and what is said of it."""
    profile = looked.profiles[looked.occupants[looked.lead].species]
    amounts = []
    for amount in bed.amounts if bed else ():
        name = amount.material.name
        bag, price = form.bag_fields(name) if name in form.used else (None, None)
        amounts.append(
            {
                "label": amount.material.label,
                "litres": _material(
                    amount_derivation(area, layers, amount, buried_l=buried_l(asked)), units
                ),
                "bags": amount.bags,
                "left": _litres(amount.left_l, units),
                "dry": _mass(amount.dry_kg, units),
                "moist": _mass(amount.moist_kg, units),
                "bag": bag,
                "price": price,
                "cost": f"{amount.cost:.2f}" if amount.cost else "",
            }
        )
    totals = _totals_of(bed, currency, units)
    slope = asked.enclosure.substrate.slope
    run_m = inside.depth if slope is not None and slope.deep_at == "back" else inside.length
    rise_m = slope.rise_m if slope is not None else 0.0
    findings = (
        judge_bed(
            layers,
            wanted(asked, looked.occupants),
            burrows=profile.habit == "fossorial",
            rise_m=rise_m,
            run_m=run_m,
        )
        if layers
        else []
    )
    return amounts, findings, totals


def _totals_of(bed: SubstrateBed | None, currency: str, units: Units) -> list[tuple[str, str]]:
    """Add up litres, bags, mass and money."""
    totals = []
    if bed is not None:
        totals = [
            ("Settled", _litres(bed.settled_l, units)),
            ("Water to make it moist", _litres(bed.water_l, units)),
        ]
        if bed.cost:
            totals.append(("All bags", f"{bed.cost:.2f} {currency}"))
        if bed.drainage_l:
            totals.append(
                (
                    "The drained layer holds",
                    (
                        f"{_litres(bed.drainage_l, units)}: look at"
                        f" {_litres(0.7 * bed.drainage_l, units)}"
                    ),
                )
            )
    return totals


def _too_deep(layers: tuple[SubstrateLayer, ...], kept: Request, units: Units) -> str:
    """A sentence about substrate that leaves no room, in the reader's units; empty where it does."""
    depth = sum(layer.depth_m for layer in layers)
    height = kept.enclosure.inside_m.height
    if depth <= MOST_OF_HEIGHT * height:
        return ""
    return (
        f"{show(depth, Kind.LENGTH, units)} of substrate leaves too little of"
        f" {show(height, Kind.LENGTH, units)} of height."
    )


def _beginning(kept: Request) -> tuple[SubstrateLayer, ...]:
    """The bed as it was said, or half soil and half sand as deep as it is."""
    return layers_of(kept) or (
        SubstrateLayer(max(kept.enclosure.substrate.depth_m, 0.02), {"topsoil": 1.0, "sand": 1.0}),
    )


def _form(enclosure: Enclosure, kept: Request, units: Units, data: Any = None) -> SubstrateForm:
    return SubstrateForm(
        data,
        units=units,
        layers=_beginning(kept),
        known_bags=enclosure.household.bags,
        stand_kg=enclosure.stand_kg,
        stand_m=enclosure.stand_m,
        currency=enclosure.household.currency,
        slope=kept.enclosure.substrate.slope,
        crew=kept.enclosure.substrate.crew,
    )


@require_http_methods(["GET", "HEAD", "POST"])
@lived_in
def substrate(request: KeeperRequest, pk: int) -> HttpResponse:
    """Calculate a substrate; save it in the enclosure when asked to."""
    enclosure = own_enclosure(request, pk)
    kept = enclosure.request_at(now())
    form = _form(
        enclosure, kept, request.units, request.POST if request.method == "POST" else None
    )
    tried = kept
    layers = _beginning(kept)
    trouble = ""
    drawn: tuple[SubstrateLayer, ...] = ()
    if form.is_bound:
        form.is_valid()
        layers = drawn = form.layers
        trouble = _too_deep(layers, kept, request.units)
        if trouble:
            thickest = max(range(len(form.depths)), key=lambda n: layers[n].depth_m)
            form.add_error(form.depths[thickest], trouble)
        try:
            tried = (
                with_bed(kept, layers, slope=form.slope, crew=form.cleaned_data.get("crew", False))
                if layers and not trouble
                else kept
            )
        except DocumentError as why:
            trouble = sentence(why.problems[0].reason)
        if trouble:
            tried = kept
            layers = _beginning(kept)
    if form.is_bound and form.is_valid() and not trouble and "keep" in request.POST:
        return _keep(request, enclosure, tried, form)
    at_field = bool(drawn) and bool(
        _too_deep(drawn, kept, request.units)
    )  # then its sentence stands there
    view = substrate_view(tried, layers, form, enclosure, request.units, drawn=drawn)
    if at_field:  # what is kept is not what is asked about
        view = replace(view, findings=())
    context = {
        "enclosure": enclosure,
        "form": form,
        "trouble": "" if at_field else trouble,
        "named": bool(layers_of(kept)),
        "domestic": DOMESTIC,
        "currency": enclosure.household.currency,
        "unlisted": form.unlisted({name for layer in layers for name in layer.parts}),
        "view": view,
        "tried": form.is_bound,
    }
    return render(request, "substrate/substrate.html", context)


def _keep(
    request: KeeperRequest, enclosure: Enclosure, tried: Request, form: SubstrateForm
) -> HttpResponse:
    """The bed as a revision of the enclosure; bags as the household buys them; the stand with the
    enclosure.
    """
    sizes, prices = form.bags()
    try:
        with transaction.atomic():
            household = enclosure.household
            household.bags = {
                **household.bags,
                **{name: {"l": sizes[name], "price": prices[name] or None} for name in sizes},
            }
            household.save(update_fields=["bags"])
            enclosure.stand_kg, enclosure.stand_m = form.stand()
            enclosure.save(update_fields=["stand_kg", "stand_m"])
            flows.keep_layout(
                enclosure, tried, seen=seen_revision(request), keeper=request.user, now=now()
            )
        messages.success(request, "Saved: the plan has this substrate.")
    except flows.StaleError as why:
        messages.error(request, str(why))
    return redirect("substrate:substrate", pk=enclosure.pk)
