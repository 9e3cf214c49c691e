"""The water of an enclosure: what its animal wants of it, each dish and pool in litres, what keeps it fit, and soaks by hand."""

from dataclasses import dataclass, replace
from typing import Any

from django import forms
from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from husbandry.methods import find, working
from husbandry.planning.naming import thing_name
from husbandry.planning.need_states import look
from husbandry.planning.pool_water import Swum, water_prediction
from husbandry.planning.request import Request, Thing
from husbandry.planning.watering import (
    DEEP_M,
    LABEL_L,
    LABEL_ML,
    Bath,
    PoolSeen,
    air_over,
    baths,
    litres_of,
    pools_of,
    volume_of,
    water_m,
    waters,
    wrong_waters,
)
from husbandry.quantity import METRIC, Kind, Plausible, Units, show
from husbandry.species.profile import Profile
from husbandry.worked import Worked
from ridgeback.animals.presenting import WorkedView, worked_view
from ridgeback.clock import now
from ridgeback.fields import QuantityField
from ridgeback.habitats.planning import planned
from ridgeback.habitats.views import lived_in, own_habitat
from ridgeback.habitats.wording import note as note_text
from ridgeback.habitats.wording import sentence
from ridgeback.keepers.middleware import KeeperRequest

SYRINGE_L = 0.01
"""So little is drawn up in a syringe, and those are marked in millilitres everywhere (common practice) [l]."""
DROP_L = 5e-5
"""A drop, a twentieth of a millilitre (common practice) [l]."""


class LabelForm(forms.Form):
    """What the conditioner's label says."""

    def __init__(self, *args: Any, units: Units, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["dose"] = QuantityField(
            Kind.VOLUME, units, label="Dose on its label", what="dose", value=LABEL_ML / 1000, small=True, required=False,
            plausible=Plausible((0.0005, 0.1), (0.00001, 10)),
        )  # fmt: skip
        self.fields["per"] = QuantityField(
            Kind.VOLUME,
            units,
            label="Water for that dose",
            what="volume for that dose",
            value=LABEL_L,
            required=False,
            plausible=Plausible((1, 1000), (0.1, 100_000)),
        )

    def label(self) -> tuple[float, float] | None:
        """Millilitres and the litres they are for; the usual before anything is typed, None where it cannot be read."""
        if not self.is_bound:
            return LABEL_ML, LABEL_L
        if not self.is_valid():
            return None
        dose, per = self.cleaned_data.get("dose"), self.cleaned_data.get("per")
        return (1000 * dose if dose else LABEL_ML), per or LABEL_L


@dataclass(frozen=True)
class WaterView:
    """A dish or a pool."""

    name: str
    litres: WorkedView
    deep: str
    dose: WorkedView | None
    lost: WorkedView
    change: str
    interval: WorkedView | None
    nitrogen: WorkedView | None
    overloaded: bool
    """It would have to be changed more than once a day."""
    filter: str
    filter_direction: str
    filter_span: WorkedView | None
    warm: WorkedView | None = None
    """Its mean while lamps are lit, where it is reckoned: of the largest pool."""
    warm_span: str = ""
    heater: str = ""


def _lost(thing: Thing, air: tuple[float, float]) -> Worked:
    assert thing.size_m is not None
    arguments = {"length_m": thing.size_m[0], "depth_m": thing.size_m[1], "temp_c": round(air[0], 1), "rh_pct": round(air[1], 1)}
    known = find("dish_loss")
    return working(known, arguments, known.function(**arguments))


def _dose(litres: float, label: tuple[float, float] | None) -> Worked | None:
    if label is None:
        return None
    known = find("conditioner_dose")
    arguments = {"water_l": litres, "dose_ml": label[0], "per_l": label[1]}
    return working(known, arguments, known.function(**arguments))


def _filter(pool: PoolSeen) -> tuple[str, str]:
    return {
        "none": ("unknown", "It has no filter: one that suits, or all of its water is changed."),
        "weak": ("below", "Its filter is weak."),
        "right": ("right", "Its filter suits."),
        "strong": ("above", "Its filter is strong, and its current tires what rests in it."),
    }[pool.filter_verdict]


def _litre_view(worked: Worked, units: Units) -> WorkedView:
    """A volume with its working: litres with a tenth, or millilitres where it is small."""
    litres = worked.value / 1000 if worked.unit == "ml" else worked.value
    small = litres < 1
    if litres < DROP_L and worked.value > 0:
        return replace(worked_view(worked, units), text="less than a drop")
    if litres < SYRINGE_L:
        return replace(worked_view(worked, units), text=show(litres, Kind.VOLUME, METRIC, small=True))
    text = show(litres, Kind.VOLUME, units, small=small)
    return replace(worked_view(worked, units), text=text)


def _filter_span(pool: PoolSeen, units: Units) -> WorkedView:
    low, high = show(pool.filter_low_l_h, Kind.VOLUME, units, unit=False), show(pool.filter_high_l_h, Kind.VOLUME, units)
    return replace(worked_view(pool.filter, units), text=f"{low} to {high} an hour")


def _nitrogen(pool: PoolSeen, units: Units) -> WorkedView:
    load = pool.nitrogen
    return replace(
        worked_view(load, units), text=f"{load.value:.0f} mg a day" if load.value >= 10 else f"{load.value:.1f} mg a day"
    )


def _view(
    thing: Thing, pool: PoolSeen | None, label: tuple[float, float] | None, air: tuple[float, float], units: Units
) -> WaterView:
    litres, dose = volume_of(thing), _dose(litres_of(thing), label)
    name = thing_name(thing)
    direction, words = _filter(pool) if pool is not None else ("", "")
    change = (
        "every day, washed each time"
        if pool is None
        else ("all of it" if pool.share == 1 else f"{pool.share:.0%} of it") + ", every"
    )
    return WaterView(
        f"{name[0].upper()}{name[1:]}", _litre_view(litres, units), show(water_m(thing), Kind.LENGTH, units, digits=1),
        _litre_view(dose, units) if dose is not None else None, _litre_view(_lost(thing, air), units), change,
        replace(worked_view(pool.interval, units), text=f"{pool.interval.value:.1f} days") if pool is not None else None,
        _nitrogen(pool, units) if pool is not None else None, pool is not None and pool.interval.value < 1, words, direction,
        _filter_span(pool, units) if pool is not None else None,
    )  # fmt: skip


def _warmed(view: WaterView, thing: Thing, swum: Swum | None, units: Units) -> WaterView:
    """The same, with how warm its water is, where it is the largest pool."""
    if swum is None or swum.thing.id != thing.id:
        return view
    low, high = (
        show(end, Kind.TEMPERATURE, units, digits=1, unit=n == 1) for n, end in enumerate((swum.lowest_c, swum.highest_c))
    )
    heater = ""
    if swum.pool.heater_w:
        heater = f"{swum.day.heater_wh / 24:.0f} W on average of its {swum.pool.heater_w:g} W"
        if swum.pool.held_c is not None and swum.lowest_c < swum.pool.held_c - 0.5:
            heater += f": not enough for {show(swum.pool.held_c, Kind.TEMPERATURE, units)}"
    return replace(
        view,
        warm=worked_view(water_prediction(swum), units),
        warm_span=high if high.startswith(low) else f"{low} to {high}",
        heater=heater,
    )


def _span(low: float, high: float, words: str) -> str:
    shown = f"{low:g}" if low == high else f"{low:g} to {high:g}"
    return f"{shown} {words}"


def _bath(bath: Bath, units: Units) -> dict[str, str]:
    temps = (show(end, Kind.TEMPERATURE, units, digits=0, unit=n == 1) for n, end in enumerate(bath.water_c))
    return {
        "animal": bath.animal, "often": _span(*bath.per_week, "times a week"), "minutes": _span(*bath.minutes, "minutes"),
        "deep": show(bath.depth_m, Kind.LENGTH, units, digits=1), "warm": " to ".join(temps), "note": sentence(bath.spec.note) if bath.spec.note else "",
    }  # fmt: skip


def _wants(profile: Profile, units: Units) -> list[str]:
    said = [profile.water.dish]
    share, span = profile.enclosure.water_share, profile.enclosure.water_depth_m
    if share[1]:
        deep = (
            f", {show(span.ends[0], Kind.LENGTH, units, unit=False)} to {show(span.ends[1], Kind.LENGTH, units)} deep"
            if span
            else ""
        )
        said.append(f"It lives in water: {share[0]:.0%} to {share[1]:.0%} of its floor{deep}.")
    if profile.water.treated:
        said.append("All of its water is free of chlorine and chloramine.")
    return said


def _wrong(request: Request, profile: Profile, length_m: float, units: Units) -> list[str]:
    return [note_text(one.note(), units) for one in wrong_waters(request, profile, length_m)]


@require_safe
@lived_in
def water(request: KeeperRequest, pk: int) -> HttpResponse:
    """Dishes, pools and soaks of an enclosure."""
    habitat = own_habitat(request, pk)
    kept, units = habitat.request_at(now()), request.units
    made = planned(kept)
    looked = look(kept)
    lead = looked.occupants[looked.lead]
    profile = looked.profiles[lead.species]
    form = LabelForm(request.GET if "dose" in request.GET else None, units=units)
    pools = {pool.thing_id: pool for pool in pools_of(kept, made.plan.animals)}
    air, label = air_over(made.outcome, made.plan.predictions), form.label()
    here = waters(kept)
    context = {
        "habitat": habitat, "form": form, "wants": _wants(profile, units), "wrong": _wrong(kept, profile, lead.length_m, units),
        "waters": [_warmed(_view(thing, pools.get(thing.id), label, air, units), thing, made.outcome.swum, units) for thing in here],
        "baths": [_bath(bath, units) for bath in baths(kept, made.plan.animals)], "pools": bool(pools),
        "deep": any(water_m(thing) > DEEP_M for thing in here), "deep_m": show(DEEP_M, Kind.LENGTH, units), "treated": profile.water.treated,
    }  # fmt: skip
    return render(request, "habitats/water.html", context)
