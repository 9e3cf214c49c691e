"""The room as an output: what all its boxes draw, how much they warm it, and what that means for its circuits."""

from dataclasses import dataclass
from typing import Any

from django import forms
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_safe

from husbandry.climate.room import LOSS_W_M2K, SWING_SHARE, circuit_share, room_rise
from husbandry.errors import DocumentError
from husbandry.methods import find, working
from husbandry.planning.power import PowerSeen, power_of, together
from husbandry.planning.request import from_data
from husbandry.quantity import Kind, Plausible, Units, show
from ridgeback.animals.presenting import WorkedView, worked_view
from ridgeback.fields import QuantityField
from ridgeback.habitats.forms import now
from ridgeback.habitats.models import Habitat
from ridgeback.habitats.planning import key_of, recall, remember
from ridgeback.keepers.middleware import KeeperRequest
from ridgeback.keepers.models import Room

VOLTS, AMPS = {"230": "230 V", "120": "120 V"}, {"10": "10 A", "13": "13 A", "15": "15 A", "16": "16 A", "20": "20 A"}


class HouseForm(forms.Form):
    """What the room is."""

    loss = forms.ChoiceField(label="The room is", choices=[(name, name) for name in LOSS_W_M2K], initial="usual", required=False)
    volts = forms.ChoiceField(label="Mains", choices=list(VOLTS.items()), initial="230", required=False)
    amps = forms.ChoiceField(label="A circuit is fused at", choices=list(AMPS.items()), initial="16", required=False)

    def __init__(self, *args: Any, units: Units, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        span = Plausible((1.0, 20.0), (0.5, 50.0))
        common: dict[str, Any] = {"units": units, "plausible": span, "required": False}
        self.fields["length"] = QuantityField(Kind.LENGTH, label="Length of its floor", value=4.0, **common)
        self.fields["width"] = QuantityField(Kind.LENGTH, label="Width of its floor", value=3.5, **common)
        self.order_fields(["length", "width", "loss", "volts", "amps"])

    def said(self, name: str, usual: Any) -> Any:
        """What was said, or the usual."""
        return (self.cleaned_data.get(name) if self.is_bound and hasattr(self, "cleaned_data") else None) or usual


@dataclass(frozen=True)
class RoomView:
    """The page's content."""

    boxes: tuple[tuple[Habitat, str, str], ...]
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


def _powers(habitats: list[Habitat]) -> dict[int, PowerSeen]:
    """Of every box that can be planned, remembered by content."""
    keys: dict[int, str] = {}
    asked = {}
    for habitat in habitats:
        try:
            request = from_data({**habitat.request_data(now()), "readings": []})
        except DocumentError:  # nobody lives there, or it cannot be planned: its page says why
            continue
        asked[habitat.pk] = request
        keys[habitat.pk] = key_of("power", request.model_dump(mode="json", exclude={"now"}))
    bodies = recall(keys.values())
    fresh = {pk: power_of(request) for pk, request in asked.items() if keys[pk] not in bodies}
    remember({keys[pk]: seen.model_dump_json() for pk, seen in fresh.items()})
    return {pk: fresh.get(pk) or PowerSeen.model_validate_json(bodies[key]) for pk, key in keys.items()}


@require_safe
def room_power(request: KeeperRequest, pk: int) -> HttpResponse:
    """A room with all its boxes."""
    if request.household is None:
        raise Http404
    room = get_object_or_404(Room, household=request.household, pk=pk)
    habitats = list(Habitat.objects.of(request.household).for_planning().filter(room=room))
    form = HouseForm(request.GET if "volts" in request.GET else None, units=request.units)
    form.is_valid()
    powers = _powers(habitats)
    context = {"room": room, "form": form, "view": _view(habitats, powers, form, request, room)}
    return render(request, "habitats/room_power.html", context)


def _view(habitats: list[Habitat], powers: dict[int, PowerSeen], form: HouseForm, request: KeeperRequest, room: Room) -> RoomView:
    units, household = request.units, room.household
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
    return RoomView(
        tuple(
            (habitat, f"{powers[habitat.pk].load_w:.0f} W at once", f"{powers[habitat.pk].mean_w * 24 / 1000:.2f} kWh a day")
            for habitat in habitats
            if habitat.pk in powers
        ),
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
        "More than one circuit may carry for hours: spread the boxes over several." if share > 1 else "",
    )  # fmt: skip
