"""A build as it is kept: its steps and days, what is still to buy and for how much."""

import datetime as dt
import hashlib
import json
from collections import Counter
from dataclasses import dataclass
from typing import Any

from husbandry.build_plan.changes import refit_shopping, refit_tasks
from husbandry.build_plan.materials import build_materials
from husbandry.build_plan.shopping import (
    SHARED,
    OwnedEquipment,
    ShoppingLine,
    line_derivation,
    shopping,
    sum_derivation,
)
from husbandry.build_plan.steps import Build, BuildTask, Choices, ItemShift, schedule, tasks_of
from husbandry.derivation import Derivation
from husbandry.documents.request import EarlierState, Request
from husbandry.quantity import Kind, Units, show
from husbandry.species.needs import NeedKey
from ridgeback.enclosures.models import Enclosure, Reading

ASKED = {
    "second_hand": "The enclosure is second-hand",
    "coated": "Timber is lacquered",
    "foam": "A background of foam is made",
    "rendered": "It is rendered with cement",
    "tiled": "Tiles are set and grouted",
    "planted": "Live plants root first",
    "crew": "A clean-up crew settles first",
}


def stands(enclosure: Enclosure) -> bool:
    """Whether the enclosure is there as it is planned."""
    return enclosure.head is not None and enclosure.head.state == "built"


def shared_of(enclosure: Enclosure) -> frozenset[str]:
    """Instruments that its household has: some enclosure was read with them."""
    read = Reading.objects.filter(enclosure__household=enclosure.household, instrument__in=SHARED)
    return frozenset(read.values_list("instrument", flat=True))


def said_owned(kept: dict[str, Any], items: tuple[ShoppingLine, ...]) -> dict[str, int]:
    """How many of each are owned as it was kept; builds of earlier versions named what was owned in
    full.
    """
    owned = kept.get("owned", {})
    if isinstance(owned, list):
        return {item.slug: item.count for item in items if item.slug in owned}
    return {slug: int(count) for slug, count in owned.items()}


def said_price(kept: dict[str, Any], item: ShoppingLine) -> float | None:
    """The keeper's own price of each; builds of earlier versions kept that of all."""
    each = kept.get("each", {}).get(item.slug)
    whole = kept.get("prices", {}).get(item.slug)
    return each if each is not None else whole / item.count if whole is not None else None


def name_of(item: ShoppingLine, units: Units) -> str:
    """An item as a list names it, with its length where it has one."""
    length = f", {show(item.measure_m, Kind.LENGTH, units)}" if item.measure_m else ""
    return f"{item.name[0].upper()}{item.name[1:]}{length}"


def what_of(task: BuildTask, units: Units) -> str:
    """Of what a step is, and how far items are moved."""
    moved = Counter(_shifted(shift, units) for shift in task.shifts)
    parts = (
        task.what,
        *(f"{count} × {said}" if count > 1 else said for said, count in moved.items()),
    )
    return "; ".join(part for part in parts if part)


def _shifted(shift: ItemShift, units: Units) -> str:
    ways = (
        (shift.up_m, "up", "down"),
        (shift.right_m, "to the right", "to the left"),
        (shift.back_m, "back", "forward"),
    )
    said = [
        f"{show(abs(way), Kind.LENGTH, units)} {one if way > 0 else other}"
        for way, one, other in ways
        if abs(way) >= 0.005
    ]
    return ", ".join([shift.name, *said])


def title_of(task: BuildTask, units: Units) -> str:
    """A step in one line."""
    what = what_of(task, units)
    return f"{task.title}: {what}" if what else task.title


@dataclass(frozen=True)
class ShoppingRow:
    """A line of the shopping list."""

    name: str
    item: ShoppingLine
    owned: int
    each: float
    """Price of one, in the household's currency."""
    cost: Derivation
    """Of what is not owned."""

    @property
    def to_buy(self) -> int:
        """How many."""
        return self.item.count - self.owned


@dataclass(frozen=True)
class BuildWork:
    """What there is to do: a whole enclosure, or the way from an earlier state of one that stands
    to what it is now.
    """

    asked: Request
    kept: dict[str, Any]
    """What the keeper said of it."""
    old: EarlierState | None = None
    needs: frozenset[NeedKey] = frozenset()
    """What is asked of the enclosure, of which a change asks again."""
    begins: dt.date | None = None
    """Where nobody said when."""
    owned: frozenset[str] = frozenset()
    """Slugs of what the household shares and has."""
    standing: bool = False

    def tasks(self, choices: Choices) -> tuple[BuildTask, ...]:
        """Its steps."""
        if self.old is None:
            return tasks_of(self.asked, choices)
        return refit_tasks(self.old, self.asked, choices, self.needs)

    @property
    def every(self) -> tuple[BuildTask, ...]:
        """All that could be done, whatever is chosen."""
        return self.tasks(Choices(**dict.fromkeys(ASKED, True)))

    @property
    def choices(self) -> tuple[str, ...]:
        """Of `ASKED`, those that make a difference."""
        plain = self.tasks(Choices())
        return tuple(slug for slug in ASKED if self.tasks(Choices(**{slug: True})) != plain)

    @property
    def chosen(self) -> Choices:
        """What the keeper says of the build."""
        return Choices(**{slug: slug in self.kept.get("choices", []) for slug in ASKED})

    @property
    def start(self) -> dt.date:
        """The day on which it begins."""
        said = self.kept.get("start")
        return dt.date.fromisoformat(said) if said else self.begins or self.asked.today

    def asked_as(self) -> dict[str, Any]:
        """Beside the request, all that it takes to work it out again, as JSON values."""
        return {
            "build": self.kept,
            "old": self.old.model_dump(mode="json") if self.old is not None else None,
            "needs": sorted(self.needs),
            "begins": self.begins.isoformat() if self.begins else None,
            "stands": self.standing,
            "shared": sorted(self.owned),
        }

    @classmethod
    def again(cls, request: Request, asked: dict[str, Any]) -> "BuildWork":
        """From what `asked_as` gave, of this version or an earlier one."""
        old = asked.get("old")
        begins = asked.get("begins")
        return cls(
            request,
            asked["build"],
            EarlierState.model_validate(old) if old else None,
            frozenset(NeedKey(key) for key in asked.get("needs", ())),
            dt.date.fromisoformat(begins) if begins else None,
            frozenset(asked.get("shared", ())),
            asked.get("stands", False),
        )

    def build(self) -> Build:
        """The steps and days by what was said."""
        done = {
            slug: dt.date.fromisoformat(day) for slug, day in self.kept.get("done", {}).items()
        }
        return schedule(self.tasks(self.chosen), self.start, done, today=self.asked.today)

    def lines(self, rate: float, units: Units, currency: str) -> tuple["ShoppingRow", ...]:
        """The shopping list as it stands, owned items and own prices with it."""
        items = (
            (*shopping(self.asked), *build_materials(self.asked, self.chosen))
            if self.old is None
            else refit_shopping(self.old, self.asked)
        )
        owning = OwnedEquipment(
            said_owned(self.kept, items), self.standing and self.old is None, self.owned
        )
        found = []
        for item in items:
            own = said_price(self.kept, item)
            each = own if own is not None else item.each_eur * rate
            derivation = line_derivation(item, owning.of(item), own, rate, currency)
            found.append(
                ShoppingRow(name_of(item, units), item, owning.of(item), each, derivation)
            )
        return tuple(found)


@dataclass(frozen=True)
class ShoppingTotals:
    """Sums of what is still to buy, each with its derivation."""

    all: Derivation
    later: Derivation
    """Of it that can wait until it lives there."""
    now: Derivation
    """What cannot wait."""


def totals_of(lines: tuple[ShoppingRow, ...], currency: str) -> ShoppingTotals:
    """What is still to buy, in the household's currency."""
    every = {line.name: line.cost.value for line in lines}
    later = {line.name: line.cost.value for line in lines if line.item.waits}
    now = {name: cost for name, cost in every.items() if name not in later}
    return ShoppingTotals(
        sum_derivation(every, currency, rule="What is still to pay for, line by line."),
        sum_derivation(
            later, currency, rule="Of that, what can be bought after it has moved in without harm."
        ),
        sum_derivation(
            now,
            currency,
            rule="All of it less what can wait: what measures, guards, warms and holds.",
        ),
    )


def seal_of(kept: dict[str, Any]) -> str:
    """A short name of what is kept: a page brings it back, and sees whether somebody else kept
    something since.
    """
    return hashlib.sha256(json.dumps(kept, sort_keys=True).encode()).hexdigest()[:16]
