"""The water of an enclosure: what its animal wants of it, each dish and pool in litres, what keeps
it fit, and soaks by hand.
"""

from dataclasses import dataclass, replace
from typing import Any

from django import forms
from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from husbandry.derivation import Derivation
from husbandry.documents.request import Request
from husbandry.errors import ImpossibleStateError
from husbandry.findings.water import (
    DEEP_M,
    LABEL_L,
    LABEL_ML,
    PoolForecast,
    SoakPlan,
    air_over,
    baths,
    litres_of,
    pools_of,
    volume_of,
    water_m,
    waters,
    wrong_waters,
)
from husbandry.items.union import Item
from husbandry.methods import derivation_of, find
from husbandry.predict.need_states import look
from husbandry.predict.pool_water import PoolWater, water_prediction
from husbandry.quantity import METRIC, Kind, PlausibleRange, Units, show
from husbandry.species.profile import Profile
from ridgeback.clock import now
from ridgeback.derivations import DerivationView, derivation_view
from ridgeback.enclosures.access import lived_in, own_enclosure
from ridgeback.enclosures.planning import planned
from ridgeback.enclosures.wording import note as note_text
from ridgeback.fields import QuantityField
from ridgeback.households.middleware import KeeperRequest
from ridgeback.sentences import sentence

SYRINGE_L = 0.01
"""So little is drawn up in a syringe, and those are marked in millilitres everywhere (common
practice) [l].
"""
DROP_L = 5e-5
"""A drop, a twentieth of a millilitre (common practice) [l]."""


class LabelForm(forms.Form):
    """What the conditioner's label says."""

    def __init__(self, *args: Any, units: Units, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["dose"] = QuantityField(
            Kind.VOLUME,
            units,
            label="Dose on its label",
            what="dose",
            value=LABEL_ML / 1000,
            small=True,
            required=False,
            plausible=PlausibleRange((0.0005, 0.1), (0.00001, 10)),
        )
        self.fields["per"] = QuantityField(
            Kind.VOLUME,
            units,
            label="Water for that dose",
            what="volume for that dose",
            value=LABEL_L,
            required=False,
            plausible=PlausibleRange((1, 1000), (0.1, 100_000)),
        )

    def label(self) -> tuple[float, float] | None:
        """Millilitres and the litres they are for; the usual before anything is typed, None where
        it cannot be read.
        """
        if not self.is_bound:
            return LABEL_ML, LABEL_L
        if not self.is_valid():
            return None
        dose = self.cleaned_data.get("dose")
        per = self.cleaned_data.get("per")
        return (1000 * dose if dose else LABEL_ML), per or LABEL_L


@dataclass(frozen=True)
class WaterView:
    """A dish or a pool."""

    name: str
    litres: DerivationView
    deep: str
    dose: DerivationView | None
    lost: DerivationView
    change: str
    interval: DerivationView | None
    nitrogen: DerivationView | None
    overloaded: bool
    """It would have to be changed more than once a day."""
    filter: str
    filter_direction: str
    filter_span: DerivationView | None
    warm: DerivationView | None = None
    """Its mean while lamps are lit, where it is calculated: of the largest pool."""
    warm_span: str = ""
    heater: str = ""


def _lost(item: Item, air: tuple[float, float]) -> Derivation:
    if item.sides_m is None:
        raise ImpossibleStateError("missing: item.sides_m")
    arguments = {
        "length_m": item.sides_m[0],
        "depth_m": item.sides_m[1],
        "temp_c": round(air[0], 1),
        "rh_pct": round(air[1], 1),
    }
    known = find("dish_loss")
    return derivation_of(known, arguments, known.function(**arguments))


def _dose(litres: float, label: tuple[float, float] | None) -> Derivation | None:
    if label is None:
        return None
    known = find("conditioner_dose")
    arguments = {"water_l": litres, "dose_ml": label[0], "per_l": label[1]}
    return derivation_of(known, arguments, known.function(**arguments))


def _filter(pool: PoolForecast) -> tuple[str, str]:
    return {
        "none": ("unknown", "It has no filter: one that suits, or all of its water is changed."),
        "weak": ("below", "Its filter is weak."),
        "right": ("right", "Its filter suits."),
        "strong": ("above", "Its filter is strong, and its current tires what rests in it."),
    }[pool.filter_verdict]


def _litre_view(derivation: Derivation, units: Units) -> DerivationView:
    """A volume with its derivation: litres with a tenth, or millilitres where it is small."""
    litres = derivation.value / 1000 if derivation.unit == "ml" else derivation.value
    small = litres < 1
    if litres < DROP_L and derivation.value > 0:
        return replace(derivation_view(derivation, units), text="less than a drop")
    if litres < SYRINGE_L:
        return replace(
            derivation_view(derivation, units), text=show(litres, Kind.VOLUME, METRIC, small=True)
        )
    text = show(litres, Kind.VOLUME, units, small=small)
    return replace(derivation_view(derivation, units), text=text)


def _filter_span(pool: PoolForecast, units: Units) -> DerivationView:
    low, high = (
        show(pool.filter_low_l_h, Kind.VOLUME, units, unit=False),
        show(pool.filter_high_l_h, Kind.VOLUME, units),
    )
    return replace(derivation_view(pool.filter, units), text=f"{low} to {high} an hour")


def _nitrogen(pool: PoolForecast, units: Units) -> DerivationView:
    load = pool.nitrogen
    return replace(
        derivation_view(load, units),
        text=f"{load.value:.0f} mg a day" if load.value >= 10 else f"{load.value:.1f} mg a day",
    )


def _view(
    item: Item,
    pool: PoolForecast | None,
    label: tuple[float, float] | None,
    air: tuple[float, float],
    units: Units,
) -> WaterView:
    litres = volume_of(item)
    dose = _dose(litres_of(item), label)
    name = item.name
    direction, words = _filter(pool) if pool is not None else ("", "")
    change = (
        "every day, washed each time"
        if pool is None
        else ("all of it" if pool.share == 1 else f"{pool.share:.0%} of it") + ", every"
    )
    return WaterView(
        f"{name[0].upper()}{name[1:]}",
        _litre_view(litres, units),
        show(water_m(item), Kind.LENGTH, units, digits=1),
        _litre_view(dose, units) if dose is not None else None,
        _litre_view(_lost(item, air), units),
        change,
        (
            replace(derivation_view(pool.interval, units), text=f"{pool.interval.value:.1f} days")
            if pool is not None
            else None
        ),
        _nitrogen(pool, units) if pool is not None else None,
        pool is not None and pool.interval.value < 1,
        words,
        direction,
        _filter_span(pool, units) if pool is not None else None,
    )


def _warmed(view: WaterView, item: Item, pool_day: PoolWater | None, units: Units) -> WaterView:
    """The same, with how warm its water is, where it is the largest pool."""
    if pool_day is None or pool_day.item.id != item.id:
        return view
    low, high = (
        show(end, Kind.TEMPERATURE, units, digits=1, unit=n == 1)
        for n, end in enumerate((pool_day.lowest_c, pool_day.highest_c))
    )
    heater = ""
    if pool_day.pool.heater_w:
        heater = (
            f"{pool_day.day.heater_wh / 24:.0f} W on average of its {pool_day.pool.heater_w:g} W"
        )
        if pool_day.pool.held_c is not None and pool_day.lowest_c < pool_day.pool.held_c - 0.5:
            heater += f": not enough for {show(pool_day.pool.held_c, Kind.TEMPERATURE, units)}"
    return replace(
        view,
        warm=derivation_view(water_prediction(pool_day), units),
        warm_span=high if high.startswith(low) else f"{low} to {high}",
        heater=heater,
    )


def _span(low: float, high: float, words: str) -> str:
    shown = f"{low:g}" if low == high else f"{low:g} to {high:g}"
    return f"{shown} {words}"


def _bath(bath: SoakPlan, units: Units) -> dict[str, str]:
    temps = (
        show(end, Kind.TEMPERATURE, units, digits=0, unit=n == 1)
        for n, end in enumerate(bath.water_c)
    )
    return {
        "animal": bath.animal,
        "often": _span(*bath.per_week, "times a week"),
        "minutes": _span(*bath.minutes, "minutes"),
        "deep": show(bath.depth_m, Kind.LENGTH, units, digits=1),
        "warm": " to ".join(temps),
        "note": sentence(bath.spec.note) if bath.spec.note else "",
    }


def _wants(profile: Profile, units: Units) -> list[str]:
    said = [profile.water.dish]
    share = profile.enclosure.water_share
    span = profile.enclosure.water_depth_m
    if share[1]:
        deep = (
            f", {show(span.ends[0], Kind.LENGTH, units, unit=False)} to"
            f" {show(span.ends[1], Kind.LENGTH, units)} deep"
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
    enclosure = own_enclosure(request, pk)
    kept = enclosure.request_at(now())
    units = request.units
    made = planned(kept)
    looked = look(kept)
    lead = looked.occupants[looked.lead]
    profile = looked.profiles[lead.species]
    form = LabelForm(request.GET if "dose" in request.GET else None, units=units)
    pools = {pool.item_id: pool for pool in pools_of(kept, made.plan.animals)}
    air = air_over(made.prediction, made.plan.predictions)
    label = form.label()
    here = waters(kept)
    context = {
        "enclosure": enclosure,
        "form": form,
        "wants": _wants(profile, units),
        "wrong": _wrong(kept, profile, lead.length_m, units),
        "waters": [
            _warmed(
                _view(item, pools.get(item.id), label, air, units),
                item,
                made.prediction.pool_day,
                units,
            )
            for item in here
        ],
        "baths": [_bath(bath, units) for bath in baths(kept, made.plan.animals)],
        "pools": bool(pools),
        "deep": any(water_m(item) > DEEP_M for item in here),
        "deep_m": show(DEEP_M, Kind.LENGTH, units),
        "treated": profile.water.treated,
    }
    return render(request, "substrate/water.html", context)
