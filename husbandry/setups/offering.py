"""Which of the setups that were found are offered: three to five that differ in kind, each strictly
the best at something.
"""

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from husbandry.build_plan.shopping import PRICES_EUR, has_humidistat
from husbandry.documents.request import Request
from husbandry.forecast.power import power_of
from husbandry.items.union import Item
from husbandry.setups.existing_enclosure import is_fitting
from husbandry.setups.refinement import Fitted
from husbandry.setups.room_span import RoomSpan, SetupChance, room_span, setup_chance
from husbandry.setups.steps import STAYS_M
from husbandry.species.stages import DAYS_PER_MONTH

Axis = Literal[
    "cheapest to buy",
    "cheapest to run",
    "simplest",
    "uses what you own",
    "most headroom",
    "quietest change",
]
AXES: tuple[Axis, ...] = (
    "cheapest to buy",
    "cheapest to run",
    "simplest",
    "uses what you own",
    "most headroom",
    "quietest change",
)
OFFERS_MOST = 5
"""More are not weighed up by anybody (design choice)."""


@dataclass(frozen=True)
class FoundSetup:
    """A setup that was found, with what it is measured by."""

    fitted: Fitted
    request: Request
    """With its warm end where the keeper has it."""
    owner: Request
    """The enclosure as it is."""

    @cached_property
    def fittings(self) -> list[Item]:
        """Its lamps, heaters and foggers."""
        return [item for item in self.request.items if is_fitting(item)]

    @cached_property
    def nature(self) -> tuple[object, ...]:
        """What makes it differ in kind: its classes of lamps, and its enclosure."""
        kinds = sorted({item.kind for item in self.fittings})
        return (*kinds, self.request.enclosure.inside_m)

    @cached_property
    def month_kwh(self) -> float:
        """What it draws in a month [kWh]."""
        return power_of(self.request).mean_w * 24 * DAYS_PER_MONTH / 1000

    @cached_property
    def to_buy(self) -> tuple[Item, ...]:
        """What of it is not in the enclosure now."""
        left = Counter(_make(item) for item in self.owner.items if is_fitting(item))
        wanted = []
        for item in self.fittings:
            if left[_make(item)]:
                left[_make(item)] -= 1
            else:
                wanted.append(item)
        return tuple(wanted)

    @cached_property
    def thermostats_to_buy(self) -> int:
        """More than hold something now; lamps that are set alike share one."""
        return max(len(_thermostats(self.fittings)) - len(_thermostats(self.owner.items)), 0)

    @cached_property
    def price_eur(self) -> float:
        """What is still to be bought, with another enclosure where it is one, at the guide prices of
        the shopping list [€].
        """
        choice = self.fitted.site.choice
        lamps = sum(PRICES_EUR.get(item.kind, 0.0) for item in self.to_buy)
        lamps += sum(PRICES_EUR["humidistat"] for item in self.to_buy if has_humidistat(item))
        return lamps + self.thermostats_to_buy * PRICES_EUR["thermostat"] + choice.price_eur

    @cached_property
    def changed(self) -> int:
        """Items that are added, removed, or moved."""
        before = [(_make(item), item.at_m) for item in self.owner.items]
        changes = 0
        for item in self.request.items:
            match = next((one for one in before if _stands(item, one)), None)
            if match is None:
                changes += 1
            else:
                before.remove(match)

        return changes + len(before)

    @cached_property
    def room_span(self) -> RoomSpan:
        """How far the room may be off."""
        return room_span(self.request)

    @cached_property
    def chance(self) -> SetupChance:
        """How likely it is that all its needs hold."""
        return setup_chance(self.request)

    @property
    def headroom(self) -> float:
        """How likely it is that all its needs hold, over rooms as said and 1.5 K off either way [1]."""
        return self.chance.mean

    def value(self, axis: Axis) -> float:
        """What an axis ranks by: less is better."""
        match axis:
            case "cheapest to buy":
                return round(self.price_eur)
            case "cheapest to run":
                return round(self.month_kwh, 1)
            case "simplest":
                return len(self.fittings)
            case "uses what you own":
                return len(self.to_buy)
            case "most headroom":
                return round(-self.headroom, 2)
        return self.changed


def _thermostats(items: Iterable[Item]) -> set[tuple[object, ...]]:
    return {
        (item.kind, item.held.probe, item.held.set_c, item.held.night_set_c)
        for item in items
        if item.held is not None
    }


def _make(item: Item) -> tuple[str, float]:
    return item.kind, item.long_m or item.watts or 0.0


def _stands(item: Item, before: tuple[tuple[str, float], tuple[float, float, float]]) -> bool:
    make, at = before
    near = all(abs(a - b) <= STAYS_M for a, b in zip(item.at_m, at, strict=True))
    return make == _make(item) and near


def name_of(item: Item) -> str:
    """A lamp or heater by its class and power."""
    return f"{item.name}, {item.watts:g} W" if item.watts else item.name


def offered(pool: Sequence[FoundSetup]) -> list[tuple[Axis, FoundSetup]]:
    """As many as differ in kind and are each strictly the best of them at their own axis.

    Parameters
    ----------
    pool : sequence of FoundSetup
        Those that keep every range.
    """
    best: list[tuple[Axis, FoundSetup]] = []

    def grow(taken: list[tuple[Axis, FoundSetup]], axes: tuple[Axis, ...]) -> None:
        nonlocal best
        if len(taken) > len(best):
            best = list(taken)
        if len(best) == OFFERS_MOST or len(taken) + len(axes) <= len(best):
            return
        axis, *rest = axes
        for one in sorted(pool, key=lambda found: found.value(axis)):
            if _fits(taken, axis, one):
                grow([*taken, (axis, one)], tuple(rest))
        grow(taken, tuple(rest))

    grow([], AXES)

    return best


def _fits(taken: list[tuple[Axis, FoundSetup]], axis: Axis, one: FoundSetup) -> bool:
    """Whether it differs from those taken, beats them at its axis and leaves them theirs."""
    return all(
        one.nature != other.nature
        and one.value(axis) < other.value(axis)
        and other.value(theirs) < one.value(theirs)
        for theirs, other in taken
    )
