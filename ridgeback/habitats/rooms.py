"""The room as an output: what all its enclosures draw, how much they warm it, and what that means for its circuits."""

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
from husbandry.methods import find, working
from husbandry.planning.power import Hung, PowerSeen, hung_on, power_of, together
from husbandry.planning.request import Request, from_data
from husbandry.quantity import Kind, Plausible, Units, show
from ridgeback.animals.presenting import WorkedView, worked_view
from ridgeback.calculation import Failed, attempt
from ridgeback.clock import now
from ridgeback.fields import QuantityField
from ridgeback.habitats.models import Habitat
from ridgeback.habitats.planning import key_of, recall, remember
from ridgeback.keepers.middleware import KeeperRequest
from ridgeback.keepers.models import Room
from ridgeback.posting import only_by_form
from ridgeback.submissions.forms import VERSION, VersionedForm

VOLTS, AMPS = {"230": "230 V", "120": "120 V"}, {"10": "10 A", "13": "13 A", "15": "15 A", "16": "16 A", "20": "20 A"}


class HouseForm(forms.Form):
    """What the room is."""

    loss = forms.ChoiceField(
        label="How the room loses heat", choices=[(name, name) for name in LOSS_W_M2K], initial="usual", required=False
    )
    volts = forms.ChoiceField(label="Mains", choices=list(VOLTS.items()), initial="230", required=False)
    amps = forms.ChoiceField(label="A circuit is fused at", choices=list(AMPS.items()), initial="16", required=False)
    strip = forms.ChoiceField(label="An outlet or its strip is rated", choices=list(AMPS.items()), initial="10", required=False)

    def __init__(self, *args: Any, units: Units, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        span = Plausible((1.0, 20.0), (0.5, 50.0))
        common: dict[str, Any] = {"units": units, "plausible": span, "required": False}
        self.fields["length"] = QuantityField(Kind.LENGTH, label="Length of its floor", value=4.0, **common)
        self.fields["width"] = QuantityField(Kind.LENGTH, label="Width of its floor", value=3.5, **common)
        self.order_fields(["length", "width", "loss", "volts", "amps", "strip"])

    def said(self, name: str, usual: Any) -> Any:
        """What was said, or the usual."""
        return (self.cleaned_data.get(name) if self.is_bound and hasattr(self, "cleaned_data") else None) or usual


class PlugsForm(VersionedForm):
    """What each enclosure of a room is plugged into, by the household's own names."""

    def __init__(self, *args: Any, habitats: list[Habitat], **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.habitats = habitats
        self.initial[VERSION] = self.row_version
        for habitat in habitats:
            for part, label in (("outlet", "Outlet or strip"), ("circuit", "Circuit")):
                widget = forms.TextInput(attrs={"list": f"{part}s", "autocomplete": "off"})
                self.fields[f"{part}-{habitat.pk}"] = forms.CharField(
                    label=label, max_length=60, required=False, initial=getattr(habitat, part), widget=widget
                )
                full = f"{habitat.name}: {label.lower()}"
                self.fields[f"{part}-{habitat.pk}"].full_label = full  # type: ignore[attr-defined]  # read by conflicts_of

    @property
    def row_version(self) -> int:
        """Of all its enclosures together: each edit of one of them makes it one more."""
        return sum(habitat.version for habitat in self.habitats)

    def clean(self) -> dict[str, Any]:
        """One outlet hangs on one circuit."""
        data = super().clean() or {}
        known: dict[str, str] = {}
        for habitat in self.habitats:
            outlet, circuit = data.get(f"outlet-{habitat.pk}", ""), data.get(f"circuit-{habitat.pk}", "")
            if outlet and circuit and known.setdefault(outlet, circuit) != circuit:
                self.add_error(
                    f"circuit-{habitat.pk}", f"“{outlet}” hangs on “{known[outlet]}” above: one outlet is on one circuit."
                )
        return data

    def rows(self) -> list[tuple[Habitat, Any, Any]]:
        """Each enclosure with its two fields."""
        return [(habitat, self[f"outlet-{habitat.pk}"], self[f"circuit-{habitat.pk}"]) for habitat in self.habitats]

    def names(self, part: str) -> list[str]:
        """Names that are in use."""
        return sorted({getattr(habitat, part) for habitat in self.habitats} - {""})

    def save(self) -> None:
        """Save what was typed."""
        for habitat in self.habitats:
            typed = [self.cleaned_data[f"{part}-{habitat.pk}"] for part in ("outlet", "circuit")]
            if typed != [habitat.outlet, habitat.circuit]:
                habitat.outlet, habitat.circuit = typed
                habitat.version += 1
                habitat.save(update_fields=["outlet", "circuit", "version"])


@dataclass(frozen=True)
class HungView:
    """An outlet or a circuit with what hangs on it."""

    name: str
    boxes: str
    load: WorkedView
    share: WorkedView
    over: bool


@dataclass(frozen=True)
class RoomView:
    """The page's content."""

    rows: tuple[dict[str, Any], ...]
    unplanned: int
    load: WorkedView
    mean: WorkedView
    month: WorkedView
    cost: str
    rise: WorkedView
    warmest: WorkedView
    hot_day: str
    circuit: WorkedView
    circuits: int
    warning: str
    outlets: tuple[HungView, ...]
    on_circuits: tuple[HungView, ...]


def _hung(found: tuple[Hung, ...], units: Units) -> tuple[HungView, ...]:
    return tuple(
        HungView(
            one.name,
            ", ".join(one.boxes),
            worked_view(one.load, units, digits=0),
            worked_view(one.share, units),
            one.share.value > 1,
        )
        for one in found
    )


def _powers(habitats: list[Habitat]) -> dict[int, PowerSeen]:
    """Of every enclosure that can be planned, remembered by content."""
    keys: dict[int, str] = {}
    asked = {}
    for habitat in habitats:
        request = attempt(partial(_without_readings, habitat), "enclosure", habitat.pk)
        if isinstance(request, Failed):  # no animal lives there, or its page says why
            continue
        asked[habitat.pk] = request
        keys[habitat.pk] = key_of("power", request.model_dump(mode="json", exclude={"now"}))
    bodies = recall(keys.values())
    seen = {pk: PowerSeen.model_validate_json(bodies[key]) for pk, key in keys.items() if key in bodies}
    fresh: dict[int, PowerSeen] = {}
    for pk in keys.keys() - seen.keys():
        power = attempt(partial(power_of, asked[pk]), "enclosure", pk)
        if not isinstance(power, Failed):
            fresh[pk] = power
    remember({keys[pk]: power.model_dump_json() for pk, power in fresh.items()})
    return seen | fresh


def _without_readings(habitat: Habitat) -> Request:
    """The request of an enclosure, whose power no reading changes."""
    return from_data({**habitat.request_data(now()), "readings": []})


def _own_room(request: KeeperRequest, pk: int) -> Room:
    if request.household is None:
        raise Http404
    return get_object_or_404(Room, household=request.household, pk=pk)


def _habitats(room: Room) -> list[Habitat]:
    return list(Habitat.objects.of(room.household).for_planning().filter(room=room))


@require_safe
def room_power(request: KeeperRequest, pk: int) -> HttpResponse:
    """A room with all its enclosures."""
    room = _own_room(request, pk)
    habitats = _habitats(room)
    return _page(request, room, habitats, PlugsForm(habitats=habitats))


@only_by_form("habitats:room-power", _own_room)
def plugs(request: KeeperRequest, pk: int) -> HttpResponse:
    """Say what each enclosure is plugged into."""
    room = _own_room(request, pk)
    habitats = _habitats(room)
    with transaction.atomic():
        locked = list(room.habitats.select_for_update().order_by("pk"))
        form = PlugsForm(request.POST, habitats=locked)
        fresh = PlugsForm(habitats=locked)
        saved = form.is_valid() and not form.stale(form.row_version, fresh)
        if saved:
            form.save()
    if not saved:
        return _page(request, room, habitats, form)
    messages.success(request, "Saved.")
    return redirect(f"{reverse('habitats:room-power', args=[pk])}?{request.GET.urlencode()}")


def _page(request: KeeperRequest, room: Room, habitats: list[Habitat], plugged: PlugsForm) -> HttpResponse:
    form = HouseForm(request.GET if "volts" in request.GET else None, units=request.units)
    form.is_valid()
    powers = _powers(habitats)
    context = {"room": room, "form": form, "plugs": plugged, "view": _view(powers, form, plugged, request, room)}
    context |= {f"{part}s": plugged.names(part) for part in ("outlet", "circuit")}
    return render(request, "habitats/room_power.html", context)


def _row(habitat: Habitat, seen: PowerSeen | None, outlet: Any, circuit: Any) -> dict[str, Any]:
    load, day = (f"{seen.load_w:.0f} W", f"{seen.mean_w * 24 / 1000:.2f} kWh") if seen else ("not planned", "")
    return {"habitat": habitat, "load": load, "day": day, "outlet": outlet, "circuit": circuit}


def _view(powers: dict[int, PowerSeen], form: HouseForm, plugged: PlugsForm, request: KeeperRequest, room: Room) -> RoomView:
    units, household, habitats = request.units, room.household, plugged.habitats
    drawn = together({f"{habitat.name} ({habitat.pk})": powers[habitat.pk] for habitat in habitats if habitat.pk in powers})
    load, mean = drawn.load.value, drawn.mean.value
    floor = form.said("length", 4.0) * form.said("width", 3.5)
    loss = LOSS_W_M2K[form.said("loss", "usual")]
    volts, amps = float(form.said("volts", "230")), float(form.said("amps", "16"))
    rise = working(find("room_rise"), {"mean_w": mean, "floor_m2": floor, "loss_w_m2k": loss}, room_rise(mean, floor, loss))
    share = circuit_share(load, volts, amps)
    circuit = working(find("circuit_share"), {"power_w": load, "volts": volts, "amps": amps}, share)
    by_day = mean + SWING_SHARE * (drawn.by_day_w - mean)
    warmest = working(
        find("room_rise"), {"mean_w": by_day, "floor_m2": floor, "loss_w_m2k": loss}, room_rise(by_day, floor, loss)
    )
    hot = room.summer_max_c + warmest.value
    loads = {
        habitat.name: powers[habitat.pk].load_w for habitat in habitats if habitat.pk in powers
    }  # names are unique in a household
    strip = float(form.said("strip", "10"))
    outlets = hung_on(loads, {habitat.name: habitat.outlet for habitat in habitats}, volts, strip)
    on_circuits = hung_on(loads, {habitat.name: habitat.circuit for habitat in habitats}, volts, amps)
    return RoomView(
        tuple(_row(habitat, powers.get(habitat.pk), outlet, circuit) for habitat, outlet, circuit in plugged.rows()),
        len(habitats) - len(powers),
        worked_view(drawn.load, units, digits=0),
        worked_view(drawn.mean, units, digits=0),
        worked_view(drawn.month, units, digits=0),
        f"{drawn.month.value * household.kwh_price:.0f} {household.currency}",
        worked_view(rise, units),
        worked_view(warmest, units),
        f"A hot day of {show(room.summer_max_c, Kind.TEMPERATURE, units)} becomes {show(hot, Kind.TEMPERATURE, units)} unless the room is aired.",
        worked_view(circuit, units),
        max(-(-int(share * 1000) // 1000), 1),
        "More than one circuit may carry for hours: spread the enclosures over several." if share > 1 else "",
        _hung(outlets, units),
        _hung(on_circuits, units),
    )  # fmt: skip
