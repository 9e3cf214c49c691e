"""The fields of an item on a form, made from what its class says can be edited of it."""

from collections.abc import Iterable
from typing import Any, get_args

from django import forms

from husbandry.enclosure.equipment import HEATERS, UV_LAMPS
from husbandry.items.fields import ItemField
from husbandry.items.heaters import HeatMat
from husbandry.items.thermostats import ThermostatSpec
from husbandry.items.union import Item
from husbandry.items.uv_lamps import UvTube
from husbandry.quantity import Kind, Units
from ridgeback.enclosures.probes import probe_choices, probe_chosen, probe_said
from ridgeback.fields import DaySpansField, QuantityField, clock

CONTROLS = [("dimming", "dims, or pulses"), ("on_off", "switches on and off")]
NAMES = {
    "at_m/0": "x",
    "at_m/1": "y",
    "at_m/2": "z",
    "size_m/0": "size0",
    "size_m/1": "size1",
    "size_m/2": "size2",
    "length_m": "length",
    "power_w": "power",
    "beam_deg": "beam",
    "hours_run": "hours",
    "filter_l_h": "filter",
    "heater_w": "heater",
    "held_c": "held",
    "l_per_h": "fog",
}
"""What a value of an item is called in a form, where that is not its own name."""
POINTED = {
    **{path.replace("/", "-"): name for path, name in NAMES.items()},
    "at_m": "x",
    "size_m": "size0",
    "thermostat-set_c": "set",
    "thermostat-night_set_c": "set_night",
    "thermostat-cut_out_c": "cut_out",
    "thermostat-probe": "probe",
    "thermostat-probe_id": "probe",
    "thermostat": "probe",
}
"""The field in which each value of an item is typed, by its pointer."""


def form_fields(item: Item, units: Units, probes: Iterable[str]) -> dict[str, forms.Field]:
    """Make the form fields of an item, by their short names."""
    kinds = get_args(type(item).model_fields["kind"].annotation)
    fields: dict[str, forms.Field] = {}
    if len(kinds) > 1:
        choices = [(kind, _kind_name(kind)) for kind in kinds]
        fields["kind"] = forms.ChoiceField(label="Kind", choices=choices, initial=item.kind)
    for field in item.fields:
        if field.path == "thermostat":
            fields |= _thermostat_fields(item, units, probes)
        else:
            fields[NAMES.get(field.path, field.path)] = _form_field(item, field, units)

    return fields


def _kind_name(kind: str) -> str:
    return UV_LAMPS[kind].name if kind in UV_LAMPS else HEATERS[kind].name


def _form_field(item: Item, field: ItemField, units: Units) -> forms.Field:
    value = _value(item, field.path)
    if field.path in {"on", "off"}:
        return forms.TimeField(
            label=f"{field.label} at", initial=value, required=False, widget=clock()
        )
    if field.path == "also_on":
        return DaySpansField(label=field.label, initial=value, required=False)
    if field.is_flag:
        return forms.BooleanField(label=field.label, initial=value, required=False)
    if field.choices:
        return forms.ChoiceField(
            label=field.label, choices=field.choices, initial=value or "", required=field.required
        )
    if field.quantity is None:
        low, high = field.limits or (None, None)
        return forms.FloatField(
            label=field.label,
            initial=value,
            required=field.required,
            min_value=low,
            max_value=high,
        )

    return QuantityField(
        field.quantity,
        units,
        label=field.label,
        what=field.what,
        value=value,
        plausible=field.plausible,
        required=field.required,
    )


def _value(item: Item, path: str) -> Any:
    name, _, place = path.partition("/")
    value = getattr(item, name)
    return value[int(place)] if place else value


def _thermostat_fields(item: Item, units: Units, probes: Iterable[str]) -> dict[str, forms.Field]:
    held = item.held

    def temperature(label: str, value: float | None) -> QuantityField:
        return QuantityField(
            Kind.TEMPERATURE,
            units,
            label=label,
            value=value,
            plausible="thermostat",
            required=False,
        )

    return {
        "probe": forms.ChoiceField(
            label="Thermostat probe",
            choices=probe_choices(probes),
            initial=probe_chosen(held),
            required=False,
        ),
        "control": forms.ChoiceField(
            label="Thermostat type",
            choices=CONTROLS,
            initial=held.control if held else "dimming",
            required=False,
        ),
        "set": temperature("Thermostat set to", held.set_c if held else None),
        "set_night": temperature(night_label(held), held.night_set_c if held else None),
        "cut_out": temperature("Independent cut-out at", held.cut_out_c if held else None),
    }


def night_label(held: ThermostatSpec | None) -> str:
    """When a thermostat holds what is set for the night."""
    fields = ThermostatSpec.model_fields
    begin = held.night_from if held else fields["night_from"].default
    end = held.night_to if held else fields["night_to"].default
    return f"At night, {begin} to {end}"


def item_data(item: Item, typed: dict[str, Any], lift_m: float) -> dict[str, Any]:
    """Write an item with what was typed of it, as JSON.

    Parameters
    ----------
    item : Item
        As it is kept.
    typed : dict
        Cleaned values by their short names.
    lift_m : float
        By which the substrate rises: what stands on it rises with it [m].
    """
    data = item.model_dump(mode="json")
    data["kind"] = typed.get("kind") or item.kind
    if item.is_body:
        data["at_m"][2] = round(item.at_m[2] + lift_m, 4)
    for field in item.fields:
        if field.path == "thermostat":
            data["thermostat"] = _thermostat_data(typed, item.held)
            continue
        value = typed.get(NAMES.get(field.path, field.path))
        name, _, place = field.path.partition("/")
        if field.path in {"on", "off"}:
            value = value.strftime("%H:%M") if value else None
        elif field.path == "also_on":
            value = list(value or ())
        elif field.choices and not field.required:
            value = value or None
        if place:
            data[name][int(place)] = value
        else:
            data[name] = value
    if isinstance(item, HeatMat):
        data["at_m"][2] = 0.0
    if isinstance(item, UvTube):
        data["power_w"] = _tube_watts(item, data["kind"], data["length_m"])

    return data


def _thermostat_data(typed: dict[str, Any], held: ThermostatSpec | None) -> dict[str, Any] | None:
    if not typed.get("probe") or typed.get("set") is None:
        return None
    control = typed.get("control") or "dimming"
    said = {"set_c": typed["set"], "control": control, **probe_said(typed["probe"])}
    if typed.get("set_night") is not None:
        said["night_set_c"] = typed["set_night"]
        if held is not None:
            said |= {"night_from": held.night_from, "night_to": held.night_to}
    if typed.get("cut_out") is not None:
        said["cut_out_c"] = typed["cut_out"]

    return said


def _tube_watts(item: UvTube, kind: str, length_m: float) -> float | None:
    """Tubes come in lengths, each with its power: the nearest that is sold."""
    if kind == item.kind and length_m == item.length_m:
        return item.power_w
    return UV_LAMPS[kind].nearest(length_m)[0]
