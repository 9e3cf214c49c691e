"""What meals hold: calcium to phosphorus with and without supplement, how often vitamins come, and
which greens are staples. Method: docs/methods/composition.md.
"""

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal, NamedTuple, cast

from husbandry.derivation import Derivation, Source, named_text, named_value
from husbandry.feeding.calendar import Diet
from husbandry.feeding.feeders import BY_NAME
from husbandry.feeding.meals import MealPlan, MealPortion
from husbandry.feeding.supplements import HOLD_A, HOLD_D3, MOST_30_DAYS
from husbandry.species.profile import Profile
from husbandry.species.selection import speaking
from husbandry.tables import rows

TARGET, ACCEPTABLE = 2.0, 1.5
"""Calcium over phosphorus (decision 9) (source: feeding C3) [1]."""
SUPPLEMENT_CALCIUM, STAYS_ON = 0.40, 0.5
"""Calcium in its carbonate; share of the supplement that is still on the animal when it is eaten
(source: feeding C3: 0.2 to 0.9) [1].
"""
RATIO_SOURCE = Source(
    kind="common practice",
    text=(
        "calcium to phosphorus 2 : 1, acceptable from 1.5 : 1; ratio of sums, never mean of ratios"
    ),
)
COMPLETE = frozenset({"paste", "pellets"})
"""Foods that hold their own vitamins by the maker's recipe."""


@dataclass(frozen=True)
class CalciumBalance:
    """Calcium over phosphorus of one kind of meal."""

    plain: Derivation | None
    """None where no part of it stands in a table."""
    dusted: Derivation | None
    """With the supplement that the plan puts on; None where none goes on."""
    unknown: tuple[str, ...]
    """Parts that no table has: not counted."""
    verdict: Literal["right", "below", "whole", "unknown"]
    """whole: whole animals bring their bones."""
    coat_share: float | None = None
    """Supplement over the mass of what it is on [1]."""


def _calculators(
    portions: Iterable[MealPortion],
) -> tuple[float, float, tuple[str, ...], list[Source]]:
    calcium = phosphorus = 0.0
    unknown: list[str] = []
    sources: list[Source] = []
    for part in portions:
        feeder = BY_NAME[part.name]
        if feeder.calcium_mg_100g is None or feeder.phosphorus_mg_100g is None:
            unknown.append(part.name)
            continue
        calcium += part.grams / 100 * feeder.calcium_mg_100g
        phosphorus += part.grams / 100 * feeder.phosphorus_mg_100g
        sources.append(feeder.source)
    return calcium, phosphorus, tuple(unknown), sources


def balance(plan: MealPlan) -> CalciumBalance:
    """Calcium over phosphorus of a meal, plain and as it is dusted; parts without a table are named
    and left out.
    """
    calcium, phosphorus, unknown, sources = _calculators(plan.portions)
    if not phosphorus:
        return CalciumBalance(None, None, unknown, "unknown")
    said = (named_text("parts without a table", ", ".join(unknown)),) if unknown else ()
    calculators = (
        named_value("calcium of the food", calcium, "mg"),
        named_value("phosphorus of the food", phosphorus, "mg"),
        *said,
    )
    plain = Derivation(
        value=calcium / phosphorus,
        unit="1",
        rule="Sum of calcium over sum of phosphorus.",
        inputs=calculators,
        sources=(*sources, RATIO_SOURCE),
        would_change=(
            "Other feeders, or what they were fed the day before: the content of the gut counts."
        ),
    )
    supplement = plan.calcium_mg.value if plan.calcium_mg is not None else 0.0
    dusted = None
    carried = sum(part.grams for part in plan.portions if part.food in {"insects", "ants"})
    if supplement > 0:
        on_it = supplement * STAYS_ON * SUPPLEMENT_CALCIUM
        dusted = Derivation(
            value=(calcium + on_it) / phosphorus,
            unit="1",
            rule=(
                "Sum of calcium, with that of the supplement that stays on, over sum of phosphorus."
            ),
            inputs=(
                *calculators,
                named_value("calcium carbonate on it", supplement, "mg"),
                named_value("share of the supplement that is eaten", STAYS_ON, "1"),
                named_value("calcium in the supplement", SUPPLEMENT_CALCIUM, "1"),
            ),
            sources=(*sources, RATIO_SOURCE),
            would_change="How soon it is eaten: crickets groom half of it off.",
        )
    best = dusted.value if dusted is not None else plain.value
    whole = any(part.food in {"prey", "eggs"} for part in plan.portions)
    verdict: Literal["right", "below", "whole"] = (
        "right" if best >= ACCEPTABLE - 1e-9 else "whole" if whole else "below"
    )
    return CalciumBalance(
        plain,
        dusted,
        unknown,
        verdict,
        supplement / 1000 / carried if supplement > 0 and carried else None,
    )


class Doses(NamedTuple):
    """How often vitamins come in thirty days, and what speaks against it."""

    d3: float
    a: float
    warnings: tuple[str, ...]
    d3_derivation: Derivation
    a_derivation: Derivation


def _counted(per_30: float, days: int, weeks: int, products: frozenset[str]) -> Derivation:
    return Derivation(
        value=per_30,
        unit="1",
        rule="Planned days on which one of these products is given, per thirty days.",
        inputs=(
            named_text("products that hold it", ", ".join(sorted(products))),
            named_value("such days planned", days, ""),
            named_value("weeks planned", weeks, ""),
            named_value("said from more than, in thirty days", MOST_30_DAYS, ""),
        ),
        sources=(
            Source(
                kind="common practice",
                text="the pace of hatchlings, two days in seven, is the most that is usual",
            ),
        ),
        would_change="The stage, another approach of supplements, or a lamp.",
    )


def doses(profile: Profile, diet: Diet, *, uvb: bool) -> Doses:
    """Count doses with D3 and with preformed vitamin A in the planned weeks, per thirty days, and
    warn where they stack.
    """
    per_30 = 30 / (7 * diet.weeks)
    d3_days = sum(bool(HOLD_D3 & set(meal.dusted_with)) for meal in diet.meals)
    a_days = sum(bool(HOLD_A & set(meal.dusted_with)) for meal in diet.meals)
    d3 = per_30 * d3_days
    a = per_30 * a_days
    found = []
    if uvb and d3 > MOST_30_DAYS:
        found.append(
            f"D3 comes {d3:.0f} times in thirty days beside ultraviolet: too much of it calcifies"
            " organs. Use calcium without D3."
        )
    if a > MOST_30_DAYS:
        found.append(
            f"Preformed vitamin A comes {a:.0f} times in thirty days: too much of it harms skin and"
            " liver. Let one product go."
        )
    fed = {part.food for plan in diet.plans for part in plan.portions}
    if fed & COMPLETE and (d3 or a):
        found.append(
            "Its prepared food holds vitamins already, and a supplement with more comes on top:"
            " read both labels, and leave one out."
        )
    both = [
        meal
        for meal in diet.meals
        if len(HOLD_D3 & set(meal.dusted_with)) > 1 or len(HOLD_A & set(meal.dusted_with)) > 1
    ]
    if both:
        found.append(
            f"On {both[0].day:%-d %B} two products with the same vitamin meet in one meal."
        )
    if profile.supplements.plan == "whole prey" and (d3 or a):
        found.append("Whole prey needs no vitamins.")
    return Doses(
        d3,
        a,
        tuple(found),
        _counted(d3, d3_days, diet.weeks, HOLD_D3),
        _counted(a, a_days, diet.weeks, HOLD_A),
    )


Oxalate = Literal["low", "mid", "high"]
Standing = Literal["staple", "in turn", "little"]


class GreenFood(NamedTuple):
    """A leaf, vegetable or fruit by what it holds."""

    name: str
    calcium_mg_100g: float
    phosphorus_mg_100g: float
    oxalate: Oxalate
    oxalate_mg_100g: float | None
    """None where it is known as a class alone."""
    goitrogen: bool
    kind: Literal["leaf", "vegetable", "fruit"]
    source: Source

    @property
    def ratio(self) -> float:
        """Calcium over phosphorus [1]."""
        return self.calcium_mg_100g / self.phosphorus_mg_100g


class TableFood(NamedTuple):
    """A food of the Indian Food Composition Tables 2017, in 100 g of what is eaten."""

    code: str
    name: str
    calcium_mg: float
    phosphorus_mg: float
    oxalate_mg: float
    fibre_g: float
    energy_kj: float


def _table() -> dict[str, TableFood]:
    return {
        row["code"]: TableFood(
            row["code"],
            row["name"],
            1000 * float(row["calcium_g_100g"]),
            1000 * float(row["phosphorus_g_100g"]),
            1000 * float(row["oxalate_g_100g"]),
            float(row["fibre_g_100g"]),
            float(row["energy_kj_100g"]),
        )
        for row in rows("husbandry.feeding", "ifct2017.csv")
    }


FOOD_TABLE = _table()
"""By food code (source: T. Longvah, R. Ananthan, K. Bhaskarachary & K. Venkaiah 2017, Indian Food
Composition Tables, National Institute of Nutrition, Hyderabad; opened).
"""


def _greens() -> tuple[GreenFood, ...]:
    return tuple(_green(row) for row in rows("husbandry.feeding", "greens.csv"))


def _green(row: dict[str, str]) -> GreenFood:
    listed = FOOD_TABLE.get(row["ifct_code"])
    if listed is not None:
        calcium = listed.calcium_mg
        phosphorus = listed.phosphorus_mg
        oxalate: float | None = listed.oxalate_mg
        text = f"Indian Food Composition Tables 2017, {listed.code} {listed.name}"
        source = Source(kind="published", text="; ".join(filter(None, (text, row["note"]))))
    else:
        calcium = float(row["calcium_mg_100g"])
        phosphorus = float(row["phosphorus_mg_100g"])
        oxalate = None
        source = Source(kind="from memory", text=row["note"])
    return GreenFood(
        row["name"],
        calcium,
        phosphorus,
        cast(Oxalate, row["oxalate"]),
        oxalate,
        row["goitrogen"] == "yes",
        cast(Literal["leaf", "vegetable", "fruit"], row["kind"]),
        source,
    )


GREENS = _greens()
NEVER_ANY = (
    "avocado",
    "rhubarb",
    "onion and garlic",
    "wild plants that nobody named for certain or that were sprayed",
)
"""For no reptile at all (common practice)."""


def standing(green: GreenFood) -> Standing:
    """Staple: more calcium than phosphorus by half, little oxalate, no cabbage kin.

    Cabbage kin takes its turn. The rest is given little.
    """
    if green.kind == "leaf" and green.ratio >= ACCEPTABLE and green.oxalate != "high":
        return "in turn" if green.goitrogen else "staple"
    return "little"


HEAP_G_ML = 0.12
"""Of leaves laid loosely (common practice, no source: a litre of mixed leaves weighs 100 to 150 g)
[g/ml].
"""
SHELL_SHAPE = (0.75, 0.5)
"""Width and height of a shell over its length, as half an ellipsoid doubled (common practice) [1]."""


class GreenPortion(NamedTuple):
    """A portion of leaves as the eye measures it."""

    litres: float
    shells: float | None
    """Beside the shell of who eats it [1]; None for what has none."""


def heap(grams: float, shell_mm: float | None) -> GreenPortion:
    """How large a heap of loose leaves is."""
    litres = grams / HEAP_G_ML / 1000
    if shell_mm is None:
        return GreenPortion(litres, None)
    wide, high = SHELL_SHAPE
    shell_l = math.pi / 6 * (shell_mm / 100) ** 3 * wide * high
    return GreenPortion(litres, litres / shell_l)


class GreenLists(NamedTuple):
    """What of greens is offered, by how often."""

    staple: tuple[GreenFood, ...]
    in_turn: tuple[GreenFood, ...]
    little: tuple[tuple[GreenFood, str], ...]
    """With the reason."""
    never: tuple[str, ...]


def _why_little(green: GreenFood) -> str:
    if green.oxalate == "high":
        return "oxalate binds its calcium"
    if green.kind == "fruit":
        return "sugar"
    return "little calcium for its phosphorus"


def lists(profile: Profile, stage: str, approaches: Mapping[str, str]) -> GreenLists | None:
    """List the greens of a species, and fruit only where its stage and approach allow any.

    Returns
    -------
    GreenLists or None
        None for what eats no plants.
    """
    if not profile.foods & {"greens", "grass"}:
        return None
    rules = speaking(profile.food, stage, approaches)
    never = tuple(text for rule in rules for text in rule.never)
    meals = speaking(profile.meals, stage, approaches)
    eaten = {part.food for meal in meals for part in meal.parts}
    fruit = "fruit" in eaten or any(rule.fruit_share_most > 0 for rule in rules)
    known = [green for green in GREENS if fruit or green.kind != "fruit"]
    by: dict[Standing, list[GreenFood]] = {"staple": [], "in turn": [], "little": []}
    for green in sorted(known, key=lambda one: -one.ratio):
        by[standing(green)].append(green)
    refused = (
        ("fruit of any kind",) if not fruit and not any("fruit" in text for text in never) else ()
    )
    return GreenLists(
        tuple(by["staple"]),
        tuple(by["in turn"]),
        tuple((green, _why_little(green)) for green in by["little"]),
        (*never, *refused, *NEVER_ANY),
    )
