"""What a planned enclosure takes, generic and without a maker's name, at guide prices; and what of
it is still to buy. Method: docs/methods/build-plan.md.
"""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from husbandry.build_plan.steps import is_tank
from husbandry.derivation import Derivation, Source, named_value
from husbandry.documents.request import Request
from husbandry.enclosure.equipment import HEATERS
from husbandry.enclosure.substrate_layers import bed_of
from husbandry.findings.weight import buried_l, layers_of
from husbandry.items.foggers import Fogger
from husbandry.items.furnishings import Pool
from husbandry.items.instruments import Thermometer
from husbandry.items.union import Item

PRICES_EUR = {
    "halogen_flood": 12,
    "halogen_spot": 12,
    "incandescent_reflector": 8,
    "infrared_projector": 45,
    "ceramic_emitter": 25,
    "infrared_panel": 70,
    "heat_mat": 25,
    "tube_heater": 30,
    "led_bar": 45,
    "t5_6": 35,
    "t5_12": 38,
    "t5_14": 42,
    "t8_6": 30,
    "t8_12": 32,
    "uv_flood": 60,
    "compact_5": 20,
    "compact_10": 22,
    "slab": 15,
    "hide": 18,
    "dish": 12,
    "pool": 30,
    "branch": 10,
    "plant": 12,
    "food_dish": 8,
    "dig_box": 15,
    "divider": 20,
    "screen": 30,
    "dripper": 20,
    "fan": 18,
    "thermostat": 45,
    "holder": 18,
    "guard": 15,
    "timer": 12,
    "thermometer": 15,
    "infrared": 25,
    "hygrometer": 18,
    "cut-out": 30,
    "pump": 90,
    "fogger": 40,
    "humidistat": 30,
    "filter": 40,
    "water heater": 28,
    "test kit": 25,
    "conditioner": 8,
    "crew": 15,
    "sealant": 9,
}
"""Guide prices of generic equipment, 2026 (common practice) [€ each]."""
ENCLOSURE_EUR, ENCLOSURE_EUR_M2 = 30.0, 60.0
"""Of an enclosure: doors, vents and work, and each square metre of its six sides (common practice,
2026: 60 × 45 × 45 cm about 120 €, 120 × 60 × 60 cm 250 €).
"""
STAND_EUR, STAND_EUR_M2 = 40.0, 110.0
"""Of a stand, and each square metre of floor that it carries (common practice, 2026)."""
LITRE_EUR = 0.5
"""Of substrate by the litre, loose (common practice, 2026: 0.2 to 1) [€/l]."""
LATER = frozenset({"plant", "branch", "led_bar"})
"""What can be bought after it has moved in without harm. What measures or guards never waits."""
AIR_THERMOMETERS = 2
"""In each enclosure, at its warm and its cool end, whatever its thermostats show (common practice)."""
_PRACTICE = Source(kind="common practice", text="guide prices of generic equipment, 2026")


@dataclass(frozen=True)
class ShoppingLine:
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
        self.items: dict[str, ShoppingLine] = {}

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
        self.items[slug] = ShoppingLine(slug, name, whole, waits, each, rule, measure)

    def price(self, slug: str, name: str, count: int = 1) -> None:
        """At the price of its species."""
        self.add(slug, name, PRICES_EUR[slug], count)


def shopping(request: Request) -> tuple[ShoppingLine, ...]:
    """What a planned enclosure takes."""
    found = _List()
    inside = request.enclosure.inside_m
    sides = 2 * (
        inside.length * inside.depth + inside.length * inside.height + inside.depth * inside.height
    )
    enclosure = (
        f"{ENCLOSURE_EUR:g} € and {ENCLOSURE_EUR_M2:g} € for each square metre of its sides"
    )
    stand = f"{STAND_EUR:g} € and {STAND_EUR_M2:g} € for each square metre of floor"
    found.add(
        "enclosure",
        "enclosure with doors and vents",
        float(round(ENCLOSURE_EUR + ENCLOSURE_EUR_M2 * sides, -1)),
        rule=enclosure,
    )
    found.add(
        "stand",
        "stand",
        float(round(STAND_EUR + STAND_EUR_M2 * inside.length * inside.depth, -1)),
        rule=stand,
    )
    tank = is_tank(request)
    for item in request.items:
        if not item.is_probe and not isinstance(item, Thermometer):
            _item(found, item, tank=tank)
    if "thermostat" in found.items:
        found.price("cut-out", "independent cut-out or alarm for heat")
    placed = [item.measures for item in request.items if isinstance(item, Thermometer)]
    count = len(placed) - placed.count("humidity")
    found.price("thermometer", "air thermometer with a probe", max(count, AIR_THERMOMETERS))
    found.price("infrared", "infrared thermometer")
    found.price("hygrometer", "hygrometer", max(placed.count("humidity"), 1))
    wetting = request.enclosure.wetting
    if wetting is not None and wetting.nozzles_ml_s is not None:
        found.price("pump", "misting pump with nozzles and tank")
    if any(profile.water.treated for profile in request.profiles.values()):
        found.price("conditioner", "water conditioner, for chlorine and chloramine")
    if request.enclosure.substrate.crew:
        found.price("crew", "springtails and woodlice")
    _substrate(found, request)
    return tuple(found.items.values())


HUNG_BARE = frozenset({"infrared_panel", "heat_mat", "tube_heater", "led_bar"})
"""Needs no holder of its own."""


def slug_of(item: Item) -> str:
    """By which a list keeps items of one make together."""
    return f"{item.kind}-{item.watts or 0:g}-{item.long_m or 0:g}"


def has_humidistat(item: Item) -> bool:
    """Whether it is a fogger that a humidistat switches."""
    return isinstance(item, Fogger) and item.humidistat_pct is not None


def _item(found: _List, item: Item, *, tank: bool) -> None:
    watts = f", {item.watts:g} W" if item.watts else ""
    slug = slug_of(item)
    if not (tank and isinstance(item, Pool)):  # the water of a tank stands in the tank
        found.add(
            slug,
            f"{item.name}{watts}",
            PRICES_EUR[item.kind],
            waits=item.kind in LATER,
            measure=item.long_m,
        )
    if item.held is not None:
        found.price("thermostat", "thermostat with its probe")
    if has_humidistat(item):
        found.price("humidistat", "humidistat with its probe")
    if item.kind in HEATERS and HEATERS[item.kind].beam_share and item.kind not in HUNG_BARE:
        found.price("holder", "ceramic lamp holder")
        found.price("guard", "lamp guard")
    if item.timer is not None:
        found.price("timer", "timer")
    if isinstance(item, Pool) and item.filter_l_h is not None:
        found.price("filter", "filter for the pool")
    if isinstance(item, Pool) and item.heater_w is not None:
        count = item.heaters or 1
        each_w = item.heater_w / count
        found.add(
            f"water heater-{each_w:g}",
            f"water heater with its thermostat, {each_w:g} W",
            PRICES_EUR["water heater"],
            count,
        )
    if isinstance(item, Pool):
        found.items.setdefault(
            "test kit",
            ShoppingLine(
                "test kit", "water test kit", 1, waits=False, each_eur=PRICES_EUR["test kit"]
            ),
        )


def _substrate(found: _List, request: Request) -> None:
    """Bags of its layers; litres where nobody named them."""
    inside = request.enclosure.inside_m
    substrate = request.enclosure.substrate
    area = inside.length * inside.depth
    if substrate.layers:
        for amount in bed_of(area, layers_of(request), buried_l=buried_l(request)).amounts:
            each = round(LITRE_EUR * amount.bag_l, 2)
            rule = f"{LITRE_EUR:g} € a litre × {amount.bag_l:g} l of a bag"
            found.add(
                f"bag-{amount.material.name}",
                f"{amount.material.label}, {amount.bag_l:g} l",
                each,
                amount.bags,
                rule=rule,
            )
    elif request.enclosure.substrate.is_loose:
        litres = 5 * math.ceil(1000 * area * substrate.depth_m * SETTLES / 5)
        rule = f"{LITRE_EUR:g} € a litre; {SETTLES:g} times its settled volume"
        found.add(
            "loose",
            f"{substrate.material}, some {litres:g} l loose",
            LITRE_EUR * litres,
            rule=rule,
        )


SETTLES = 1.18
"""Loose litres for a settled one, where no mix was named: 15 % of settling (source: substrate B1)
[1].
"""


def line_derivation(
    line: ShoppingLine, owned: int, own_price: float | None, rate: float, currency: str
) -> Derivation:
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
    each = own_price if own_price is not None else line.each_eur * rate
    given = [
        named_value("count", line.count, ""),
        named_value("owned", owned, ""),
        named_value("price of each", round(each, 2), currency),
    ]
    if own_price is None:
        given += [named_value("guide", line.each_eur, "€")] + (
            [named_value("for a euro", rate, currency)] if rate != 1 else []
        )
    said = f" Guide: {line.rule}." if line.rule and own_price is None else ""
    return Derivation(
        value=max(line.count - owned, 0) * each,
        unit=currency,
        rule=f"What is not owned × the price of each.{said}",
        inputs=tuple(given),
        sources=(
            Source(kind="entered", text="your own price") if own_price is not None else _PRACTICE,
        ),
        would_change="Your own price, and what you own.",
    )


def sum_derivation(costs: Mapping[str, float], currency: str, *, rule: str) -> Derivation:
    """A sum of the list, by what its lines are still to cost [currency]."""
    return Derivation(
        value=sum(costs.values()),
        unit=currency,
        rule=rule,
        inputs=tuple(
            named_value(name, round(cost, 2), currency) for name, cost in costs.items() if cost
        ),
        sources=(_PRACTICE,),
        would_change="Your own prices, and what you own.",
    )


SHARED = frozenset({"infrared"})
"""What one household has one of, whatever the number of its enclosures."""


@dataclass(frozen=True)
class OwnedEquipment:
    """What is there already: all of an enclosure that stands; else what the keeper said, and the
    instruments of the household.
    """

    said: dict[str, int]
    stands: bool = False
    shared: frozenset[str] = frozenset()

    def of(self, line: ShoppingLine) -> int:
        """How many of an item."""
        if self.stands:
            return line.count
        if line.slug in self.said:
            return min(self.said[line.slug], line.count)
        return line.count if line.slug in self.shared else 0
