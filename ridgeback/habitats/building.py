"""A build as it is kept: its steps and days, what is still to buy and for how much."""

import datetime as dt
import hashlib
import json
from dataclasses import dataclass
from typing import Any

from husbandry.planning.build import Build, Choices, Item, schedule, shopping, tasks_of
from husbandry.planning.request import Request
from husbandry.quantity import Kind, Units, show

ASKED = {
    "second_hand": "The box is second-hand",
    "coated": "Timber is lacquered",
    "foam": "A background of foam is made",
    "planted": "Live plants root first",
    "crew": "A clean-up crew settles first",
}


def build_of(kept: dict[str, Any], asked: Request, today: dt.date) -> Build:
    """The steps and days of a box by what is kept of its build."""
    choices = Choices(**{slug: slug in kept.get("choices", []) for slug in ASKED})
    start = dt.date.fromisoformat(kept["start"]) if kept.get("start") else today
    done = {slug: dt.date.fromisoformat(day) for slug, day in kept.get("done", {}).items()}
    return schedule(tasks_of(asked, choices), start, done)


@dataclass(frozen=True)
class Totals:
    """Sums of the shopping list."""

    all: float
    later: float


def _price(kept: dict[str, Any], item: Item, rate: float) -> float:
    """The keeper's own price, else the guide's in the household's currency."""
    return float(kept.get("prices", {}).get(item.slug, item.guide_eur * rate))


def totals_of(kept: dict[str, Any], items: tuple[Item, ...], rate: float) -> Totals:
    """What is still to buy, in the household's currency; `later` of it can wait until it lives there."""
    left = [item for item in items if item.slug not in kept.get("owned", [])]
    costs = {item.slug: _price(kept, item, rate) for item in left}
    return Totals(sum(costs.values()), sum(costs[item.slug] for item in left if item.waits))


def name_of(item: Item, units: Units) -> str:
    """An item as a list names it, with its length where it has one."""
    length = f", {show(item.measure_m, Kind.LENGTH, units)}" if item.measure_m else ""
    return f"{item.name[0].upper()}{item.name[1:]}{length}"


@dataclass(frozen=True)
class Line:
    """A line of the shopping list."""

    name: str
    item: Item
    price: float
    owned: bool


def lines_of(kept: dict[str, Any], asked: Request, rate: float, units: Units) -> tuple[Line, ...]:
    """The shopping list as it stands, owned things and own prices with it."""
    return tuple(
        Line(name_of(item, units), item, _price(kept, item, rate), item.slug in kept.get("owned", []))
        for item in shopping(asked)
    )  # fmt: skip


def seal_of(kept: dict[str, Any]) -> str:
    """A short name of what is kept: a page brings it back, and sees whether somebody else kept something since."""
    return hashlib.sha256(json.dumps(kept, sort_keys=True).encode()).hexdigest()[:16]
