"""A build as it is kept: its steps and days, what is still to buy and for how much."""

import datetime as dt
import hashlib
import json
from dataclasses import dataclass
from typing import Any

from husbandry.planning.build import Build, Choices, schedule, tasks_of
from husbandry.planning.request import Request
from husbandry.planning.shopping import SHARED, Item, Owning, line_worked, shopping
from husbandry.quantity import Kind, Units, show
from husbandry.worked import Worked
from ridgeback.habitats.models import Habitat, Reading

ASKED = {
    "second_hand": "The box is second-hand",
    "coated": "Timber is lacquered",
    "foam": "A background of foam is made",
    "planted": "Live plants root first",
    "crew": "A clean-up crew settles first",
}


def stands(habitat: Habitat) -> bool:
    """Whether the box is there as it is planned."""
    return habitat.head is not None and habitat.head.state == "built"


def shared_of(habitat: Habitat) -> frozenset[str]:
    """Instruments that its household has: some box was read with them."""
    read = Reading.objects.filter(habitat__household=habitat.household, instrument__in=SHARED)
    return frozenset(read.values_list("instrument", flat=True))


def build_of(kept: dict[str, Any], asked: Request, today: dt.date) -> Build:
    """The steps and days of a box by what is kept of its build."""
    choices = Choices(**{slug: slug in kept.get("choices", []) for slug in ASKED})
    start = dt.date.fromisoformat(kept["start"]) if kept.get("start") else today
    done = {slug: dt.date.fromisoformat(day) for slug, day in kept.get("done", {}).items()}
    return schedule(tasks_of(asked, choices), start, done, today=today)


def said_owned(kept: dict[str, Any], items: tuple[Item, ...]) -> dict[str, int]:
    """How many of each are owned as it was kept; builds of earlier versions named what was owned in full."""
    owned = kept.get("owned", {})
    if isinstance(owned, list):
        return {item.slug: item.count for item in items if item.slug in owned}
    return {slug: int(count) for slug, count in owned.items()}


def said_price(kept: dict[str, Any], item: Item) -> float | None:
    """The keeper's own price of each; builds of earlier versions kept that of all."""
    each, whole = kept.get("each", {}).get(item.slug), kept.get("prices", {}).get(item.slug)
    return each if each is not None else whole / item.count if whole is not None else None


def name_of(item: Item, units: Units) -> str:
    """An item as a list names it, with its length where it has one."""
    length = f", {show(item.measure_m, Kind.LENGTH, units)}" if item.measure_m else ""
    return f"{item.name[0].upper()}{item.name[1:]}{length}"


@dataclass(frozen=True)
class Line:
    """A line of the shopping list."""

    name: str
    item: Item
    owned: int
    each: float
    """Price of one, in the household's currency."""
    cost: Worked
    """Of what is not owned."""

    @property
    def to_buy(self) -> int:
        """How many."""
        return self.item.count - self.owned


@dataclass(frozen=True)
class Totals:
    """Sums of the shopping list."""

    all: float
    later: float
    """Of it that can wait until it lives there."""

    @property
    def now(self) -> float:
        """What cannot wait."""
        return self.all - self.later


def lines_of(
    kept: dict[str, Any],
    asked: Request,
    rate: float,
    units: Units,
    *,
    currency: str,
    stands: bool = False,
    shared: frozenset[str] = frozenset(),
) -> tuple[Line, ...]:
    """The shopping list as it stands, owned things and own prices with it."""
    items = shopping(asked)
    owning = Owning(said_owned(kept, items), stands, shared)
    found = []
    for item in items:
        own = said_price(kept, item)
        each = own if own is not None else item.each_eur * rate
        found.append(
            Line(name_of(item, units), item, owning.of(item), each, line_worked(item, owning.of(item), own, rate, currency))
        )
    return tuple(found)


def totals_of(lines: tuple[Line, ...]) -> Totals:
    """What is still to buy, in the household's currency."""
    return Totals(sum(line.cost.value for line in lines), sum(line.cost.value for line in lines if line.item.waits))


def seal_of(kept: dict[str, Any]) -> str:
    """A short name of what is kept: a page brings it back, and sees whether somebody else kept something since."""
    return hashlib.sha256(json.dumps(kept, sort_keys=True).encode()).hexdigest()[:16]
