"""Words about lives: what a row says, when a stage comes, what to buy before it.

In the reader's units and money.
"""

import datetime as dt
from collections.abc import Sequence

from husbandry.life_plan.enclosure_purchases import EnclosureFit, EnclosurePurchase
from husbandry.life_plan.forecast import Event
from husbandry.life_plan.rows import LifeRowValue, Milestone, StageChange
from husbandry.quantity import Kind, Units, show
from husbandry.species.values import ValueRange
from ridgeback.households.models import Household
from ridgeback.households.money import money

KINDS = {"°C": Kind.TEMPERATURE, "%": Kind.HUMIDITY, "UVI": Kind.UVI, "m": Kind.LENGTH}
NAMES = {
    "enclosure": "Enclosure",
    "surface": "Surface",
    "warm air": "Warm air",
    "cool air": "Cool air",
    "night": "Night",
    "water": "Water",
    "UV": "UV index",
    "humidity by day": "Humidity",
    "humidity by night": "by night",
    "substrate": "Substrate",
    "food": "Food",
    "supplements": "Supplements",
}


def sides(values: Sequence[float], units: Units) -> str:
    """Sides as “149 × 61 × 48 cm”."""
    return " × ".join(
        show(side, Kind.LENGTH, units, unit=n == len(values) - 1) for n, side in enumerate(values)
    )


def between(low: float | None, high: float | None, kind: Kind, units: Units) -> str:
    """A range in the reader's unit."""
    ends = [end for end in (low, high) if end is not None]
    digits = (
        0 if kind is Kind.TEMPERATURE and all(float(end).is_integer() for end in ends) else None
    )
    said = [
        show(end, kind, units, digits=digits, unit=n == len(ends) - 1)
        for n, end in enumerate(ends)
    ]
    if len(said) == 1:
        return f"{'from' if low is not None else 'up to'} {said[0]}"
    return said[1] if low == high else " to ".join(said)


def worth_lines(worth: LifeRowValue, units: Units) -> tuple[str, ...]:
    """What a row says, as lines."""
    if worth.sides_m is not None:
        return (sides(worth.sides_m, units),)
    found: list[str] = []
    if worth.low is not None or worth.high is not None:
        found.append(between(worth.low, worth.high, KINDS[worth.unit], units))
    return (*found, *worth.texts)


def month(day: dt.date) -> str:
    """“Sep 2026”."""
    return f"{day:%b %Y}"


def when(early: dt.date | None, usual: dt.date, late: dt.date | None, today: dt.date) -> str:
    """A day to come with its uncertainty, as coarse as it is."""
    early = usual if early is None else max(early, today)
    if late is not None and (late - early).days <= 21:
        return f"about {usual:%-d %B %Y}"
    first = "now" if early <= today else month(early)
    last = month(late) if late is not None else "later than can be seen"
    if first == last == month(usual):
        return f"in {usual:%B %Y}"
    return (
        f"about {month(usual)} (between {first} and {last})"
        if late is not None
        else f"about {month(usual)} (from {first} on)"
    )


VERBS = {
    "surface": "Surface",
    "warm air": "Warm end",
    "cool air": "Cool end",
    "night": "Night",
    "water": "Water",
    "UV": "UV index at its back",
    "humidity by day": "Humidity by day",
    "humidity by night": "Humidity by night",
}


def shift(item: StageChange, units: Units) -> str:
    """What a stage changes, as a thing to do or to buy."""
    before, after = ("; ".join(worth_lines(worth, units)) for worth in (item.before, item.after))
    if item.life_row == "enclosure":
        return f"An enclosure of at least {after}, to last this stage"
    if item.life_row == "food":
        new = [text for text in item.after.texts if text not in item.before.texts]
        return f"Food: {'; '.join(new) or after}"
    if item.life_row == "supplements":
        new = [text for text in item.after.texts if text not in item.before.texts]
        return f"Supplements: {'; '.join(new) or after}"
    if item.life_row == "substrate":
        return f"Substrate: {after}"
    return f"{VERBS[item.life_row]}: {after}, until then {before}"


def bought(item: EnclosurePurchase, units: Units, household: Household | None) -> str:
    """An enclosure of a plan."""
    price = "yours already" if item.owned else f"about {money(item.price_eur, household)}"
    return f"{item.name}, {sides(item.sides_m, units)} inside, {price}"


def fits_line(item: EnclosureFit, units: Units, today: dt.date) -> tuple[str, str]:
    """Whether an enclosure fits: a mark's direction and words."""
    if not item.now:
        return "below", f"too small now: {' and '.join(item.short)}"
    if item.usual is None:
        return "right", "large enough for good"
    return "right", f"large enough until {when(item.early, item.usual, item.late, today)}"


def event(item: Event, name: str, today: dt.date, units: Units) -> tuple[str, str]:
    """An event as a title and what to do about it."""
    match item.kind:
        case "stage":
            return f"{name} becomes {article(item.what)}", when(
                item.early, item.on, item.late, today
            )
        case "enclosure":
            title = (
                f"{item.what} is too small for {name}"
                if item.on <= today
                else f"{name} outgrows {item.what}"
            )
            needs = f"it needs {sides(item.needs_m, units)}" if item.needs_m else ""
            return title, (
                needs
                if item.on <= today
                else f"{when(item.early, item.on, item.late, today)}; then {needs}"
            )
        case "check":
            return (
                f"{name} to the veterinarian before its brumation",
                "weight, mouth and droppings looked at; only a healthy, well-fed animal rests",
            )
        case "rest":
            return (
                f"{name} may begin its brumation",
                (
                    f"about {item.what} weeks; food stops two weeks before, the day is shortened in"
                    " steps"
                ),
            )
        case "lamp":
            when_due = "due now" if item.on <= today else f"in {item.on:%B %Y}"
            return (
                f"{item.what} in {name}",
                (
                    f"{when_due}: its ultraviolet falls before its light; measure it, or replace it"
                    " and measure again"
                ),
            )
        case "weigh":
            return (
                (f"{name} was never weighed", "what is projected stands on its birthday alone")
                if not item.what
                else (
                    f"Weigh {name}",
                    (
                        f"last weighed {item.what} days ago"
                        if item.on <= today
                        else f"by {item.on:%-d %B}: by then the last weight is old"
                    ),
                )
            )
        case _:
            return f"{name}’s weights", item.what


def article(noun: str) -> str:
    """With its article."""
    return f"{'an' if noun[0] in 'aeiou' else 'a'} {noun}"


def milestone_title(item: Milestone) -> str:
    """“Adult”."""
    return item.name[0].upper() + item.name[1:]


def age(born_on: dt.date | None, today: dt.date) -> str:
    """How old."""
    if born_on is None:
        return "age unknown"
    months = (today - born_on).days / 30.436875
    if months < 24:
        return f"{months:.0f} months old" if months >= 2 else f"{(today - born_on).days} days old"
    return (
        f"{months / 12:.0f} years old"
        if months >= 120
        else f"{months / 12:.1f} years old".replace(".0 ", " ")
    )


def years(span: ValueRange) -> str:
    """A span of years."""
    low, high = span.ends
    return f"{low:g} to {high:g} years" if low != high else f"{low:g} years"
