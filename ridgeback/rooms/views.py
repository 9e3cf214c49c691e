"""The room as an output: what all its enclosures draw, how much they warm it, and what that means
for its circuits.
"""

from dataclasses import dataclass
from functools import partial
from typing import Any

from django import forms
from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_safe

from husbandry.climate.room import LOSS_W_M2K, SWING_SHARE, circuit_share, room_rise
from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data
from husbandry.forecast.power import CircuitLoad, PowerDraw, hung_on, power_of, together
from husbandry.methods import derivation_of, find
from husbandry.quantity import Kind, PlausibleRange, Units, show
from ridgeback.calculation import Failed, attempt
from ridgeback.clock import now
from ridgeback.derivations import DerivationView, derivation_view
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.planning import key_of, recall, remember
from ridgeback.fields import QuantityField
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Household, Room
from ridgeback.posting import only_by_form
from ridgeback.submissions.forms import VERSION, VersionedForm

VOLTS, AMPS = (
    {"230": "230 V", "120": "120 V"},
    {"10": "10 A", "13": "13 A", "15": "15 A", "16": "16 A", "20": "20 A"},
)


class HouseForm(forms.Form):
    """What the room is."""

    loss = forms.ChoiceField(
        label="How the room loses heat",
        choices=[(name, name) for name in LOSS_W_M2K],
        initial="usual",
        required=False,
    )
    volts = forms.ChoiceField(
        label="Mains", choices=list(VOLTS.items()), initial="230", required=False
    )
    amps = forms.ChoiceField(
        label="A circuit is fused at", choices=list(AMPS.items()), initial="16", required=False
    )
    strip = forms.ChoiceField(
        label="An outlet or its strip is rated",
        choices=list(AMPS.items()),
        initial="10",
        required=False,
    )

    def __init__(self, *args: Any, units: Units, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        span = PlausibleRange((1.0, 20.0), (0.5, 50.0))
        common: dict[str, Any] = {"units": units, "plausible": span, "required": False}
        self.fields["length"] = QuantityField(
            Kind.LENGTH, label="Length of its floor", value=4.0, **common
        )
        self.fields["width"] = QuantityField(
            Kind.LENGTH, label="Width of its floor", value=3.5, **common
        )
        self.order_fields(["length", "width", "loss", "volts", "amps", "strip"])

    def said(self, name: str, usual: Any) -> Any:
        """What was said, or the usual."""
        return (
            self.cleaned_data.get(name)
            if self.is_bound and hasattr(self, "cleaned_data")
            else None
        ) or usual


class PlugsForm(VersionedForm):
    """What each enclosure of a room is plugged into, by the household's own names."""

    def __init__(self, *args: Any, enclosures: list[Enclosure], **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.enclosures = enclosures
        self.initial[VERSION] = self.row_version
        for enclosure in enclosures:
            for part, label in (("outlet", "Outlet or strip"), ("circuit", "Circuit")):
                widget = forms.TextInput(attrs={"list": f"{part}s", "autocomplete": "off"})
                self.fields[f"{part}-{enclosure.pk}"] = forms.CharField(
                    label=label,
                    max_length=60,
                    required=False,
                    initial=getattr(enclosure, part),
                    widget=widget,
                )
                full = f"{enclosure.name}: {label.lower()}"
                self.fields[f"{part}-{enclosure.pk}"].full_label = full  # type: ignore[attr-defined]  # read by conflicts_of

    @property
    def row_version(self) -> int:
        """Of all its enclosures together: each edit of one of them makes it one more."""
        return sum(enclosure.version for enclosure in self.enclosures)

    def clean(self) -> dict[str, Any]:
        """One outlet hangs on one circuit."""
        data = super().clean() or {}
        known: dict[str, str] = {}
        for enclosure in self.enclosures:
            outlet, circuit = (
                data.get(f"outlet-{enclosure.pk}", ""),
                data.get(f"circuit-{enclosure.pk}", ""),
            )
            if outlet and circuit and known.setdefault(outlet, circuit) != circuit:
                self.add_error(
                    f"circuit-{enclosure.pk}",
                    f"“{outlet}” hangs on “{known[outlet]}” above: one outlet is on one circuit.",
                )
        return data

    def rows(self) -> list[tuple[Enclosure, Any, Any]]:
        """Each enclosure with its two fields."""
        return [
            (enclosure, self[f"outlet-{enclosure.pk}"], self[f"circuit-{enclosure.pk}"])
            for enclosure in self.enclosures
        ]

    def names(self, part: str) -> list[str]:
        """Names that are in use."""
        return sorted({getattr(enclosure, part) for enclosure in self.enclosures} - {""})

    def save(self) -> None:
        """Save what was typed."""
        for enclosure in self.enclosures:
            typed = [self.cleaned_data[f"{part}-{enclosure.pk}"] for part in ("outlet", "circuit")]
            if typed != [enclosure.outlet, enclosure.circuit]:
                enclosure.outlet, enclosure.circuit = typed
                enclosure.version += 1
                enclosure.save(update_fields=["outlet", "circuit", "version"])


@dataclass(frozen=True)
class CircuitView:
    """An outlet or a circuit with what hangs on it."""

    name: str
    enclosures: str
    load: DerivationView
    share: DerivationView
    over: bool


@dataclass(frozen=True)
class RoomView:
    """The page's content."""

    rows: tuple[dict[str, Any], ...]
    unplanned: int
    load: DerivationView
    mean: DerivationView
    month: DerivationView
    cost: str
    rise: DerivationView
    warmest: DerivationView
    hot_day: str
    circuit: DerivationView
    circuits: int
    warning: str
    outlets: tuple[CircuitView, ...]
    on_circuits: tuple[CircuitView, ...]


def _hung(found: tuple[CircuitLoad, ...], units: Units) -> tuple[CircuitView, ...]:
    return tuple(
        CircuitView(
            one.name,
            ", ".join(one.enclosures),
            derivation_view(one.load, units, digits=0),
            derivation_view(one.share, units),
            one.share.value > 1,
        )
        for one in found
    )


def _powers(enclosures: list[Enclosure]) -> dict[int, PowerDraw]:
    """Of every enclosure that can be planned, remembered by content."""
    keys: dict[int, str] = {}
    asked = {}
    for enclosure in enclosures:
        request = attempt(partial(_without_readings, enclosure), "enclosure", enclosure.pk)
        if isinstance(request, Failed):  # no animal lives there, or its page says why
            continue
        asked[enclosure.pk] = request
        keys[enclosure.pk] = key_of("power", request.model_dump(mode="json", exclude={"now"}))
    bodies = recall(keys.values())
    seen = {
        pk: PowerDraw.model_validate_json(bodies[key]) for pk, key in keys.items() if key in bodies
    }
    fresh: dict[int, PowerDraw] = {}
    for pk in keys.keys() - seen.keys():
        power = attempt(partial(power_of, asked[pk]), "enclosure", pk)
        if not isinstance(power, Failed):
            fresh[pk] = power
    remember({keys[pk]: power.model_dump_json() for pk, power in fresh.items()})
    return seen | fresh


def _without_readings(enclosure: Enclosure) -> Request:
    """The request of an enclosure, whose power no reading changes."""
    return from_data({**enclosure.request_data(now()), "readings": []})


def _own_room(request: KeeperRequest, pk: int) -> Room:
    if request.household is None:
        raise Http404
    return get_object_or_404(Room, household=request.household, pk=pk)


def _enclosures(room: Room) -> list[Enclosure]:
    return list(Enclosure.objects.of(room.household).in_use().for_planning().filter(room=room))


@require_safe
def room_power(request: KeeperRequest, pk: int) -> HttpResponse:
    """A room with all its enclosures."""
    room = _own_room(request, pk)
    enclosures = _enclosures(room)
    return _page(request, room, enclosures, PlugsForm(enclosures=enclosures))


@only_by_form("rooms:power", _own_room)
def circuits(request: KeeperRequest, pk: int) -> HttpResponse:
    """Say what each enclosure is plugged into."""
    room = _own_room(request, pk)
    enclosures = _enclosures(room)
    with transaction.atomic():
        locked = list(room.enclosures.select_for_update().order_by("pk"))
        form = PlugsForm(request.POST, enclosures=locked)
        fresh = PlugsForm(enclosures=locked)
        saved = form.is_valid() and not form.stale(form.row_version, fresh)
        if saved:
            form.save()
    if not saved:
        return _page(request, room, enclosures, form)
    messages.success(request, "Saved.")
    return redirect(f"{reverse('rooms:power', args=[pk])}?{request.GET.urlencode()}")


def _page(
    request: KeeperRequest, room: Room, enclosures: list[Enclosure], plugged: PlugsForm
) -> HttpResponse:
    form = HouseForm(request.GET if "volts" in request.GET else None, units=request.units)
    form.is_valid()
    powers = _powers(enclosures)
    context = {
        "room": room,
        "form": form,
        "circuit_form": plugged,
        "view": _view(powers, form, plugged, request, room),
    }
    context |= {f"{part}s": plugged.names(part) for part in ("outlet", "circuit")}
    return render(request, "rooms/room_power.html", context)


def _row(
    enclosure: Enclosure, seen: PowerDraw | None, outlet: Any, circuit: Any
) -> dict[str, Any]:
    load, day = (
        (f"{seen.load_w:.0f} W", f"{seen.mean_w * 24 / 1000:.2f} kWh")
        if seen
        else ("not planned", "")
    )
    return {"enclosure": enclosure, "load": load, "day": day, "outlet": outlet, "circuit": circuit}


def _view(
    powers: dict[int, PowerDraw],
    form: HouseForm,
    plugged: PlugsForm,
    request: KeeperRequest,
    room: Room,
) -> RoomView:
    units = request.units
    household = room.household
    enclosures = plugged.enclosures
    drawn = together(
        {
            f"{enclosure.name} ({enclosure.pk})": powers[enclosure.pk]
            for enclosure in enclosures
            if enclosure.pk in powers
        }
    )
    return _power_view(drawn, enclosures, form, household, plugged, powers, room, units)


def _power_view(
    drawn: Any,
    enclosures: list[Enclosure],
    form: HouseForm,
    household: Household,
    plugged: PlugsForm,
    powers: dict[int, PowerDraw],
    room: Room,
    units: Units,
) -> RoomView:
    """Show what the room draws, and what that means for it."""
    return _power_numbers(drawn, enclosures, form, household, plugged, powers, room, units)


def _shared_plugs(
    form: HouseForm, enclosures: list[Enclosure], powers: dict[int, PowerDraw]
) -> tuple[Any, Any]:
    """What hangs on each outlet and each circuit; names are unique in a household."""
    known = [one for one in enclosures if one.pk in powers]
    loads = {one.name: powers[one.pk].load_w for one in known}
    volts = float(form.said("volts", "230"))
    amps = float(form.said("amps", "16"))
    strip = float(form.said("strip", "10"))
    return (
        hung_on(loads, {one.name: one.outlet for one in enclosures}, volts, strip),
        hung_on(loads, {one.name: one.circuit for one in enclosures}, volts, amps),
    )


def _power_numbers(
    drawn: Any,
    enclosures: list[Enclosure],
    form: HouseForm,
    household: Household,
    plugged: PlugsForm,
    powers: dict[int, PowerDraw],
    room: Room,
    units: Units,
) -> RoomView:
    """Put the numbers of the room's power in words."""
    load = drawn.load.value
    mean = drawn.mean.value
    floor = form.said("length", 4.0) * form.said("width", 3.5)
    loss = LOSS_W_M2K[form.said("loss", "usual")]
    volts = float(form.said("volts", "230"))
    amps = float(form.said("amps", "16"))
    rise = derivation_of(
        find("room_rise"),
        {"mean_w": mean, "floor_m2": floor, "loss_w_m2k": loss},
        room_rise(mean, floor, loss),
    )
    share = circuit_share(load, volts, amps)
    circuit = derivation_of(
        find("circuit_share"), {"power_w": load, "volts": volts, "amps": amps}, share
    )
    by_day = mean + SWING_SHARE * (drawn.by_day_w - mean)
    warmest = derivation_of(
        find("room_rise"),
        {"mean_w": by_day, "floor_m2": floor, "loss_w_m2k": loss},
        room_rise(by_day, floor, loss),
    )
    hot = room.summer_max_c + warmest.value
    outlets, on_circuits = _shared_plugs(form, enclosures, powers)
    return RoomView(
        tuple(
            _row(enclosure, powers.get(enclosure.pk), outlet, circuit)
            for enclosure, outlet, circuit in plugged.rows()
        ),
        len(enclosures) - len(powers),
        derivation_view(drawn.load, units, digits=0),
        derivation_view(drawn.mean, units, digits=0),
        derivation_view(drawn.month, units, digits=0),
        f"{drawn.month.value * household.kwh_price:.0f} {household.currency}",
        derivation_view(rise, units),
        derivation_view(warmest, units),
        f"A hot day of {show(room.summer_max_c, Kind.TEMPERATURE, units)} becomes"
        f" {show(hot, Kind.TEMPERATURE, units)} unless the room is aired.",
        derivation_view(circuit, units),
        max(-(-int(share * 1000) // 1000), 1),
        (
            "More than one circuit may carry for hours: spread the enclosures over several."
            if share > 1
            else ""
        ),
        _hung(outlets, units),
        _hung(on_circuits, units),
    )
