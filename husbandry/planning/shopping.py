"""What a planned enclosure takes, generic and without a maker's name, at guide prices; and what of it is still to buy. Method: docs/methods/build.md."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from husbandry.box.equipment import HEATERS
from husbandry.box.substrate_layers import bed_of
from husbandry.planning.build import is_loose, is_tank
from husbandry.planning.naming import thing_name
from husbandry.planning.request import Request, Thing
from husbandry.planning.weight import buried_l, layers_of
from husbandry.worked import Given, Source, Worked

PRICES_EUR = {
    "halogen_flood": 12, "halogen_spot": 12, "incandescent_reflector": 8, "infrared_projector": 45, "ceramic_emitter": 25, "infrared_panel": 70,
    "heat_mat": 25, "tube_heater": 30, "led_bar": 45, "t5_6": 35, "t5_12": 38, "t5_14": 42, "t8_6": 30, "t8_12": 32, "uv_flood": 60,
    "compact_5": 20, "compact_10": 22, "slab": 15,
    "hide": 18, "dish": 12, "pool": 30, "branch": 10, "plant": 12,
    "thermostat": 45, "holder": 18, "guard": 15, "timer": 12, "thermometer": 15, "infrared": 25, "hygrometer": 18, "cut-out": 30, "pump": 90,
    "fogger": 40, "filter": 40, "water heater": 28, "test kit": 25, "conditioner": 8, "crew": 15, "sealant": 9,
}  # fmt: skip
"""Guide prices of generic equipment, 2026 (common practice) [€ each]."""
BOX_EUR, BOX_EUR_M2 = 30.0, 60.0
"""Of an enclosure: doors, vents and work, and each square metre of its six sides (common practice, 2026: 60 × 45 × 45 cm about 120 €, 120 × 60 × 60 cm 250 €)."""
STAND_EUR, STAND_EUR_M2 = 40.0, 110.0
"""Of a stand, and each square metre of floor that it carries (common practice, 2026)."""
LITRE_EUR = 0.5
"""Of substrate by the litre, loose (common practice, 2026: 0.2 to 1) [€/l]."""
LATER = frozenset({"plant", "branch", "led_bar"})
"""What can be bought after it has moved in without harm. What measures or guards never waits."""
_PRACTICE = Source(kind="common practice", text="guide prices of generic equipment, 2026")


@dataclass(frozen=True)
class Item:
    """Something that an enclosure takes."""

    slug: str
    name: str
    count: int
    waits: bool
    """It can be bought later without harm."""
    each_eur: float
    """A guide."""
    rule: str = ""
    """How the guide came about, where it is not a price of its species."""
    measure_m: float | None = None
    """A length that goes with its name [m]."""

    @property
    def guide_eur(self) -> float:
        """Of all of them."""
        return self.count * self.each_eur


class _List:
    """Items by slug, in the order in which they were thought of."""

    def __init__(self) -> None:
        self.items: dict[str, Item] = {}

    def add(
        self,
        slug: str,
        name: str,
        each: float,
        count: int = 1,
        *,
        waits: bool = False,
        rule: str = "",
        measure: float | None = None,
    ) -> None:
        known = self.items.get(slug)
        whole = count + (known.count if known is not None else 0)
        self.items[slug] = Item(slug, name, whole, waits, each, rule, measure)

    def price(self, slug: str, name: str, count: int = 1) -> None:
        """At the price of its species."""
        self.add(slug, name, PRICES_EUR[slug], count)


def shopping(request: Request) -> tuple[Item, ...]:
    """What a planned enclosure takes."""
    found = _List()
    inside = request.box.inside_m
    sides = 2 * (inside.length * inside.depth + inside.length * inside.height + inside.depth * inside.height)
    box = f"{BOX_EUR:g} € and {BOX_EUR_M2:g} € for each square metre of its sides"
    stand = f"{STAND_EUR:g} € and {STAND_EUR_M2:g} € for each square metre of floor"
    found.add("box", "enclosure with doors and vents", float(round(BOX_EUR + BOX_EUR_M2 * sides, -1)), rule=box)
    found.add("stand", "stand", float(round(STAND_EUR + STAND_EUR_M2 * inside.length * inside.depth, -1)), rule=stand)
    tank = is_tank(request)
    for thing in request.things:
        if not thing.is_probe:
            _thing(found, thing, tank=tank)
    if "thermostat" in found.items:
        found.price("cut-out", "independent cut-out or alarm for heat")
    found.price("thermometer", "air thermometer with a probe", 2)
    found.price("infrared", "infrared thermometer")
    found.price("hygrometer", "hygrometer")
    wetting = request.box.wetting
    if wetting is not None and wetting.nozzles_ml_s is not None:
        found.price("pump", "misting pump with nozzles and tank")
    if wetting is not None and wetting.fogger is not None:
        found.price("fogger", "fogger")
    if any(profile.water.treated for profile in request.profiles.values()):
        found.price("conditioner", "water conditioner, for chlorine and chloramine")
    if request.box.ground.crew:
        found.price("crew", "springtails and woodlice")
    _ground(found, request)
    return tuple(found.items.values())


HUNG_BARE = frozenset({"infrared_panel", "heat_mat", "tube_heater", "led_bar"})
"""Needs no holder of its own."""


def slug_of(thing: Thing) -> str:
    """By which a list keeps things of one make together."""
    return f"{thing.kind}-{thing.power_w or 0:g}-{thing.length_m or 0:g}"


def _thing(found: _List, thing: Thing, *, tank: bool) -> None:
    watts = f", {thing.power_w:g} W" if thing.power_w else ""
    slug = slug_of(thing)
    if not (tank and thing.kind == "pool"):  # the water of a tank stands in the tank
        found.add(slug, f"{thing_name(thing)}{watts}", PRICES_EUR[thing.kind], waits=thing.kind in LATER, measure=thing.length_m)
    if thing.thermostat is not None:
        found.price("thermostat", "thermostat with its probe")
    if thing.kind in HEATERS and HEATERS[thing.kind].beam_share and thing.kind not in HUNG_BARE:
        found.price("holder", "ceramic lamp holder")
        found.price("guard", "lamp guard")
    if thing.on is not None:
        found.price("timer", "timer")
    if thing.filter_l_h is not None:
        found.price("filter", "filter for the pool")
    if thing.heater_w is not None:
        found.add(
            f"water heater-{thing.heater_w:g}",
            f"water heater with its thermostat, {thing.heater_w:g} W",
            PRICES_EUR["water heater"],
        )
    if thing.kind == "pool":
        found.items.setdefault("test kit", Item("test kit", "water test kit", 1, waits=False, each_eur=PRICES_EUR["test kit"]))


def _ground(found: _List, request: Request) -> None:
    """Bags of its layers; litres where nobody named them."""
    inside, ground = request.box.inside_m, request.box.ground
    area = inside.length * inside.depth
    if ground.layers:
        for amount in bed_of(area, layers_of(request), buried_l=buried_l(request)).amounts:
            each = round(LITRE_EUR * amount.bag_l, 2)
            rule = f"{LITRE_EUR:g} € a litre × {amount.bag_l:g} l of a bag"
            found.add(f"bag-{amount.material.name}", f"{amount.material.label}, {amount.bag_l:g} l", each, amount.bags, rule=rule)
    elif is_loose(request.box):
        litres = 5 * math.ceil(1000 * area * ground.depth_m * SETTLES / 5)
        rule = f"{LITRE_EUR:g} € a litre; {SETTLES:g} times its settled volume"
        found.add("loose", f"{ground.material}, some {litres:g} l loose", LITRE_EUR * litres, rule=rule)


SETTLES = 1.18
"""Loose litres for a settled one, where no mix was named: 15 % of settling [1]."""


def line_worked(item: Item, owned: int, own_price: float | None, rate: float, currency: str) -> Worked:
    """What is still to pay for an item.

    Parameters
    ----------
    owned : int
        How many of it are there already.
    own_price : float, optional
        Of each, as the keeper says [currency]; else the guide's.
    rate : float
        Of the currency for a euro.
    """
    each = own_price if own_price is not None else item.each_eur * rate
    given = [
        Given(name="count", value=item.count, unit=""),
        Given(name="owned", value=owned, unit=""),
        Given(name="price of each", value=round(each, 2), unit=currency),
    ]
    if own_price is None:
        given += [Given(name="guide", value=item.each_eur, unit="€")] + (
            [Given(name="for a euro", value=rate, unit=currency)] if rate != 1 else []
        )
    said = f" Guide: {item.rule}." if item.rule and own_price is None else ""
    return Worked(
        value=max(item.count - owned, 0) * each, unit=currency, rule=f"What is not owned × the price of each.{said}", inputs=tuple(given),
        sources=(Source(kind="entered", text="your own price") if own_price is not None else _PRACTICE,), would_change="Your own price, and what you own.",
    )  # fmt: skip


def sum_worked(costs: Mapping[str, float], currency: str, *, rule: str) -> Worked:
    """A sum of the list, by what its lines are still to cost [currency]."""
    return Worked(
        value=sum(costs.values()), unit=currency, rule=rule,
        inputs=tuple(Given(name=name, value=round(cost, 2), unit=currency) for name, cost in costs.items() if cost),
        sources=(_PRACTICE,), would_change="Your own prices, and what you own.",
    )  # fmt: skip


SHARED = frozenset({"infrared"})
"""What one household has one of, whatever the number of its enclosures."""


@dataclass(frozen=True)
class Owning:
    """What is there already: all of an enclosure that stands; else what the keeper said, and the instruments of the household."""

    said: dict[str, int]
    stands: bool = False
    shared: frozenset[str] = frozenset()

    def of(self, item: Item) -> int:
        """How many of an item."""
        if self.stands:
            return item.count
        if item.slug in self.said:
            return min(self.said[item.slug], item.count)
        return item.count if item.slug in self.shared else 0
