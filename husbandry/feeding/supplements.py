"""Which supplement on which day: products on their own grids, laid over the days on which there is
something to dust.

Each rule has a grid of due days. In order of priority each due dose goes to the nearest feeding
that may carry it; a dose that would come
too close to the last one, or too late, lapses. It is never doubled.
"""

import bisect
import datetime as dt
import math
from collections.abc import Callable, Mapping, Sequence
from typing import Annotated, Literal

from pydantic import Field

from husbandry.derivation import Derivation, Document, OtherApproach, Source, named_text
from husbandry.species.approaches import QUESTIONS

Product = Literal["calcium", "calcium + D3", "multivitamin", "vitamin A"]
HOLD_D3: frozenset[Product] = frozenset({"calcium + D3", "multivitamin"})
HOLD_A: frozenset[Product] = frozenset({"vitamin A", "multivitamin"})
MOST_30_DAYS = 9
"""Doses with D3 beside ultraviolet, or with preformed vitamin A, in thirty days: the pace of
hatchlings, two in seven (common practice) [1].
"""


class SupplementRule(Document):
    """When a product is due."""

    product: Product
    doses: Annotated[int, Field(ge=0)] = 1
    """Doses per period; 0 means at each feeding that is still free."""
    period_days: Annotated[int, Field(ge=1)] = 1
    excludes: tuple[Product, ...] = ()
    """Products that may not share a meal with it."""
    phase_days: int = 0

    @property
    def interval_days(self) -> float:
        """Mean days between doses."""
        return self.period_days / max(self.doses, 1)


class Dose(Document):
    """A product on a day, and why it is that day."""

    day: dt.date
    product: Product
    due: dt.date
    reason: str


class SkippedDose(Document):
    """A due dose that is left out rather than doubled."""

    product: Product
    due: dt.date
    reason: str


def due_days(rule: SupplementRule, start: dt.date, first: dt.date, last: dt.date) -> list[dt.date]:
    """The rule's grid between two days, anchored on its start: two in seven gives days 0, 3, 7, 10,
    ...
    """
    origin = start + dt.timedelta(days=rule.phase_days)
    found: list[dt.date] = []
    week = max(0, (first - origin).days // rule.period_days - 1)
    while True:
        for n in range(rule.doses):
            day = origin + dt.timedelta(
                days=week * rule.period_days + math.floor(n * rule.period_days / rule.doses)
            )
            if day > last:
                return found
            if day >= first:
                found.append(day)
        week += 1


def _nearest(
    days: Sequence[dt.date], due: dt.date, reach: float, fit: Callable[[dt.date], bool]
) -> dt.date | None:
    """The fitting day nearest to a due one, the earlier of two as near, no further than that
    [days]; from `days` that rise.
    """
    at = bisect.bisect_left(days, due)
    before = at - 1
    after = at
    while before >= 0 or after < len(days):
        back = (due - days[before]).days if before >= 0 else math.inf
        on = (days[after] - due).days if after < len(days) else math.inf
        if min(back, on) > reach:
            return None
        if back <= on:
            if fit(days[before]):
                return days[before]
            before -= 1
        else:
            if fit(days[after]):
                return days[after]
            after += 1

    return None


def schedule(
    rules: tuple[SupplementRule, ...],
    feedings: list[dt.date],
    start: dt.date,
    given_on: Mapping[dt.date, tuple[str, ...]] | None = None,
) -> tuple[list[Dose], list[SkippedDose]]:
    """Lay products over feeding days.

    Parameters
    ----------
    rules : tuple of SupplementRule
        In order of priority; the filling rule (`doses` 0) last.
    feedings : list of date
        Days with something to dust, rising.
    start : date
        On which every grid is anchored.
    given_on : mapping, optional
        What really went on the food of days that are past or done: facts. They answer the due doses
        near them, nothing is laid on those days,
        and nothing follows one of them more closely than half an interval.
    """
    facts = given_on or {}
    feedings = [day for day in feedings if day not in facts]
    given: dict[dt.date, list[Dose]] = {day: [] for day in feedings}
    carried: dict[dt.date, set[str]] = {day: set() for day in feedings}
    lapses: list[SkippedDose] = []
    if not feedings:
        return [], []
    return _doses(carried, facts, feedings, given, given_on, lapses, rules, start)


def _doses(
    carried: dict[dt.date, set[str]],
    facts: Mapping[dt.date, tuple[str, ...]],
    feedings: list[dt.date],
    given: dict[dt.date, list[Dose]],
    given_on: Mapping[dt.date, tuple[str, ...]] | None,
    lapses: list[SkippedDose],
    rules: tuple[SupplementRule, ...],
    start: dt.date,
) -> tuple[list[Dose], list[SkippedDose]]:
    """Lay the doses of each product over the days of feeding."""
    for rule in rules:
        if rule.doses == 0:
            for day in feedings:
                if not given[day]:
                    given[day].append(
                        Dose(
                            day=day,
                            product=rule.product,
                            due=day,
                            reason="on every meal of insects that carries nothing else",
                        )
                    )
            continue
        done = sorted(day for day, products in facts.items() if rule.product in products)
        reach = rule.interval_days
        barred = {rule.product, *rule.excludes}
        last: dt.date | None = done[-1] if done else None
        first = feedings[0] - dt.timedelta(days=1)
        if (
            given_on is not None
        ):  # what was due since, and not given, is not lost: it waits for the next meal
            first = min([feedings[0] - dt.timedelta(days=math.ceil(rule.interval_days)), *done])
        for due in due_days(rule, start, first, feedings[-1]):
            near = _nearest(done, due, reach, lambda day: True)
            if near is not None:  # this due was answered already
                done.remove(near)
                continue
            chosen = _nearest(
                feedings,
                due,
                reach,
                lambda day: (last is None or day > last) and not carried[day] & barred,  # noqa: B023  # called at once
            )
            if chosen is None:
                lapses.append(
                    SkippedDose(
                        product=rule.product, due=due, reason="no feeding within one interval"
                    )
                )
                continue
            if last is not None and (chosen - last).days < rule.interval_days / 2:
                lapses.append(
                    SkippedDose(
                        product=rule.product,
                        due=due,
                        reason="would follow the last dose too closely",
                    )
                )
                continue
            shift = (chosen - due).days
            reason = "on its day" if shift == 0 else f"due {due:%-d %B}, moved to the nearest meal"
            given[chosen].append(Dose(day=chosen, product=rule.product, due=due, reason=reason))
            carried[chosen].add(rule.product)
            last = chosen
    return [dose for day in feedings for dose in given[day]], lapses


CARRIERS: dict[str, frozenset[str]] = {
    "insect eater": frozenset({"insects", "ants", "worms"}),
    "amphibian": frozenset({"insects", "ants", "worms"}),
    "plant eater": frozenset({"greens", "grass"}),
    "complete diet": frozenset({"insects"}),
    "whole prey": frozenset(),
}
"""Which foods carry supplement, by the plan of a profile: paste and pellets hold their own, and
whole prey is whole.
"""
PACE_DAYS = {"fortnightly": 14, "monthly": 28}
"""Days between multivitamins by the approaches that do not go by the stage (common practice) [d]."""
_YOUNG, _GROWING, _GROWN = "hatchling", "juvenile", "adult"
WITH_DISH = {_YOUNG: 3, _GROWING: 2, _GROWN: 1}
"""Days in seven with calcium on the food where a dish of it stands there: about half (design
choice) [1].
"""


def pace_of(stage: str, *, first: bool) -> str:
    """The stages of life by which supplements are paced: hatchling, juvenile, and adult with the
    sub-adult.
    """
    if first or stage in {"hatchling", "newborn", "froglet"}:
        return _YOUNG
    return _GROWN if stage in {"subadult", "adult"} else _GROWING


def default_rules(
    stage: str,
    *,
    uvb: bool,
    approaches: Mapping[str, str],
    plan: str = "insect eater",
    first: bool = False,
) -> tuple[SupplementRule, ...]:
    """The trade's usual pace by stage and approach (docs/decisions.md, 9).

    Multivitamin two days in seven for hatchlings, weekly for juveniles, fortnightly from then on;
    plain calcium at other insect meals
    where UVB is used, with D3 where it is not. Amphibians make no vitamin A of plant pigments and
    get it preformed every fortnight.
    Plant eaters: calcium five days in seven when small, three in seven growing, two in seven when
    grown; the multivitamin weekly, then
    fortnightly. Never two products with D3 or vitamin A in one meal, and never more of either in
    thirty days than `MOST_30_DAYS`: a multivitamin two days in seven leaves no room for another.
    With a dish of calcium in the enclosure only some meals are dusted with it: it takes the rest.
    """
    pace = pace_of(stage, first=first)
    if plan == "whole prey":
        return ()
    if (
        plan == "complete diet"
    ):  # the paste or the pellets hold the vitamins; only insects lack calcium
        return (SupplementRule(product="calcium" if uvb else "calcium + D3", doses=0),)
    if plan == "plant eater":
        calcium = SupplementRule(
            product="calcium" if uvb else "calcium + D3",
            doses={_YOUNG: 5, _GROWING: 3, _GROWN: 2}[pace],
            period_days=7,
        )
        usual = 14 if pace == _GROWN else 7
        days = PACE_DAYS.get(approaches.get("multivitamin-pace", ""), usual)
        return (
            SupplementRule(product="multivitamin", period_days=days, excludes=("calcium + D3",)),
            calcium,
        )

    return _vitamin_rules(approaches, pace, plan, uvb)


def _vitamin_rules(
    approaches: Mapping[str, str], pace: str, plan: str, uvb: bool
) -> tuple[SupplementRule, ...]:
    """Give the rules of vitamins, by the approach."""
    if approaches.get("multivitamin-pace") in PACE_DAYS:
        multivitamin = SupplementRule(
            product="multivitamin",
            period_days=PACE_DAYS[approaches["multivitamin-pace"]],
            excludes=("calcium + D3",),
        )
    elif pace == _YOUNG:
        multivitamin = SupplementRule(
            product="multivitamin", doses=2, period_days=7, excludes=("calcium + D3",)
        )
    else:
        multivitamin = SupplementRule(
            product="multivitamin",
            period_days=7 if pace == _GROWING else 14,
            excludes=("calcium + D3",),
        )
    rules = [multivitamin]
    # Half an interval after the multivitamin, which holds the same: neither displaces the other.
    vitamin_a = SupplementRule(
        product="vitamin A",
        period_days=14,
        phase_days=7,
        excludes=("multivitamin", "calcium + D3"),
    )
    if plan == "amphibian" and _per_30([*rules, vitamin_a], HOLD_A) <= MOST_30_DAYS:
        rules.append(vitamin_a)
    if not uvb:
        rules.append(SupplementRule(product="calcium + D3", doses=0))
    else:
        d3 = SupplementRule(
            product="calcium + D3", period_days=14, phase_days=7, excludes=("multivitamin",)
        )
        if (
            approaches.get("calcium") == "some-d3"
            and _per_30([*rules, d3], HOLD_D3) <= MOST_30_DAYS
        ):
            rules.append(d3)
        dish = approaches.get("calcium-dish") == "yes"
        rules.append(
            SupplementRule(product="calcium", doses=WITH_DISH[pace], period_days=7)
            if dish
            else SupplementRule(product="calcium", doses=0)
        )

    return tuple(rules)


def _per_30(rules: Sequence[SupplementRule], holding: frozenset[Product]) -> float:
    """Doses in thirty days of products that hold the same."""
    return sum(30 / rule.interval_days for rule in rules if rule.doses and rule.product in holding)


def pace_text(rule: SupplementRule) -> str:
    """A rule in words."""
    if rule.doses == 0:
        return f"{rule.product} at every meal that carries nothing else"
    if rule.doses > 1:
        return f"{rule.product} on {rule.doses} days in {rule.period_days}"
    return f"{rule.product} every {rule.period_days} days"


PACE_SOURCE = Source(kind="common practice", text="pace by stage, decisions 9")


def explained(
    stage: str,
    *,
    uvb: bool,
    approaches: Mapping[str, str],
    plan: str,
    first: bool,
    sources: tuple[Source, ...],
) -> tuple[Derivation, ...]:
    """Each rule as a number with its derivation: mean days between doses, and what the other
    approaches do.
    """
    return _with_others(approaches, first, plan, sources, stage, uvb)


def _with_others(
    approaches: Mapping[str, str],
    first: bool,
    plan: str,
    sources: tuple[Source, ...],
    stage: str,
    uvb: bool,
) -> tuple[Derivation, ...]:
    """Explain each rule beside those of other approaches."""
    mine = default_rules(stage, uvb=uvb, approaches=approaches, plan=plan, first=first)
    asked = [
        QUESTIONS[slug]
        for slug in ("multivitamin-pace", "calcium", "calcium-dish")
        if plan in {"insect eater", "amphibian", "plant eater"}
    ]
    found = []
    for rule in mine:
        otherwise = []
        for question in asked:
            for approach in question.others(question.chosen(approaches).slug):
                theirs = default_rules(
                    stage,
                    uvb=uvb,
                    approaches={**approaches, question.slug: approach.slug},
                    plan=plan,
                    first=first,
                )
                if theirs != mine and question.slug.startswith(
                    "calcium"
                ) == rule.product.startswith("calcium"):
                    text = "; ".join(pace_text(other) for other in theirs if other not in mine)
                    otherwise.append(
                        OtherApproach(
                            question=question.slug,
                            approach=approach.name,
                            why=approach.why,
                            text=text,
                        )
                    )
        chosen = QUESTIONS[
            "calcium" if rule.product.startswith("calcium") else "multivitamin-pace"
        ].chosen(approaches)
        found.append(
            Derivation(
                value=0 if rule.doses == 0 else rule.interval_days,
                unit="days",
                rule=pace_text(rule)[0].upper() + pace_text(rule)[1:] + ". 0 days: at every meal.",
                inputs=(
                    named_text("pace of the stage", pace_of(stage, first=first)),
                    named_text("UVB in use", "yes" if uvb else "no"),
                ),
                sources=(PACE_SOURCE, *sources),
                approach=chosen.name if asked else "",
                others=tuple(otherwise),
                would_change="The stage, the lamp, or another approach.",
            )
        )

    return tuple(found)


def supplement_words(rules: Sequence[SupplementRule]) -> str:
    """The usual pace of its species in a sentence."""
    parts = []

    for rule in rules:
        when = (
            "at the other insect meals"
            if rule.doses == 0
            else f"{rule.doses} in {rule.period_days} days"
            if rule.doses > 1
            else f"every {rule.period_days} days"
        )
        parts.append(f"{rule.product} {when}")

    text = "; ".join(parts)

    return f"{text[:1].upper()}{text[1:]}."
