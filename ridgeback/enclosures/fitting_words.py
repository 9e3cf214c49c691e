"""A lamp, a heater, a fogger or a fan in words: what it is, and where and how it is kept."""

from typing import NamedTuple

from husbandry.documents.enclosure import VentAreas
from husbandry.items.drippers import Dripper
from husbandry.items.fans import Fan
from husbandry.items.foggers import Fogger
from husbandry.items.union import Item
from husbandry.quantity import Kind, Units, show
from ridgeback.enclosures.moisture_form import SUBSTRATES

WETNESS = dict(SUBSTRATES)
"""How damp a substrate is kept, in words."""


class FittingWords(NamedTuple):
    """What it is, and its place, its hours and its thermostat."""

    what: str
    how: str

    def __str__(self) -> str:
        return f"{self.what}, {self.how}" if self.how else self.what


def vents_words(vents: VentAreas, units: Units) -> str:
    """How far the vents are open; empty where there are none."""
    if not vents.low_cm2 and not vents.high_cm2:
        return ""
    low = show(vents.low_cm2, Kind.AREA, units)
    high = show(vents.high_cm2, Kind.AREA, units)
    return f"{low} low and {high} high"


def fitting_words(item: Item, units: Units) -> FittingWords:
    """Say a fitting to whoever buys and hangs it."""
    what = f"{item.name}, {item.watts:g} W" if item.watts else item.name
    if isinstance(item, Fogger):
        what += f", {show(item.l_per_h, Kind.VOLUME, units, small=True)} an hour"
    said = []
    if isinstance(item, Fogger) and item.humidistat_pct is not None:
        stop = show(item.humidistat_pct, Kind.HUMIDITY, units)
        said.append(f"humidistat at {stop} with its probe at the cool end")
    if isinstance(item, Dripper | Fan | Fogger):
        return FittingWords(what, ", ".join([*said, _hours(item)]))
    if item.is_tube and item.long_m:
        said.append(f"{show(item.long_m, Kind.LENGTH, units)} long")
    if item.has_reflector:
        said.append("with a reflector")
    if not item.sides_m:
        high = show(item.at_m[2], Kind.LENGTH, units)
        said.append(f"{high} above the floor{', on the mesh' if item.hangs_above_lid else ''}")
    if item.windows:
        said.append(_hours(item))
    said += _thermostat(item, units)

    return FittingWords(what, ", ".join(said))


def _hours(item: Item) -> str:
    if not item.windows or ("00:00", "23:59") in item.windows:
        return "all day and night"
    return "on from " + " and ".join(f"{on} to {off}" for on, off in item.windows)


def _thermostat(item: Item, units: Units) -> list[str]:
    held = item.held
    if held is None:
        return []
    said = [f"thermostat at {show(held.set_c, Kind.TEMPERATURE, units)}"]
    if held.night_set_c is not None:
        said.append(f"{show(held.night_set_c, Kind.TEMPERATURE, units)} at night")
    if held.cut_out_c is not None:
        said.append(f"cut-out at {show(held.cut_out_c, Kind.TEMPERATURE, units)}")

    return said
