"""The kinds of meal of an animal: how much, how often, of what, and the supplement rules that go
with them. Method: docs/methods/feeding.md.
"""

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass

from husbandry.derivation import (
    Derivation,
    DerivationInput,
    Document,
    OtherApproach,
    Source,
    named_text,
    named_value,
)
from husbandry.errors import ImpossibleStateError
from husbandry.feeding.adjustments import NO_ADJUSTMENT, MealAdjustment
from husbandry.feeding.calcium import calcium_supplement
from husbandry.feeding.feeders import BY_NAME, FEEDERS, Feeder, nearest, turns, widest
from husbandry.feeding.prey import MealRange, body_width, prey_for
from husbandry.feeding.supplements import CARRIERS, SupplementRule, default_rules
from husbandry.methods import derivation_of, find
from husbandry.species.approaches import QUESTIONS, Question
from husbandry.species.parts import MealSpec
from husbandry.species.profile import Profile
from husbandry.species.selection import others, speaking


class MealPortion(Document):
    """One part of a meal."""

    food: str
    name: str
    grams: float
    count: int | None = None
    """Whole animals, for insects and prey."""
    widest_mm: float | None = None
    derivation: Derivation
    """The mass, or the count of whole animals."""


class FeederTurn(Document):
    """An insect that can take its turn in a meal."""

    name: str
    count: int
    role: str
    """staple, sometimes or treat."""


class MealPlan(Document):
    """One kind of meal: how much and how often, with the derivation."""

    slug: str
    name: str
    grams: Derivation
    every_days: Derivation
    portions: tuple[MealPortion, ...]
    calcium_mg: Derivation | None = None
    turns: tuple[FeederTurn, ...] = ()
    """Other insects that can stand in, of the same mass."""
    not_before: dt.date | None = None
    because: tuple[str, ...] = ()
    """Why it differs from the usual of its stage."""


@dataclass(frozen=True)
class FeedingAnimal:
    """What decides the size of its food."""

    mass_g: float
    eye_gap_mm: float
    width_mm: float | None
    """Of a limbless body at its widest [mm]."""
    approaches: dict[str, str]
    prey: tuple[str, ...] = ()
    """Whole animals that its species eats: mouse, rat, rabbit."""
    mass_name: str = "body mass"
    """What its mass is called among the inputs: it may be estimated."""


BODY_MASS = {
    "measured": "body mass",
    "estimated": "body mass, estimated from its length",
    "typical": "body mass, typical of its stage",
}


def _prey(
    meal: MealRange,
    eater: FeedingAnimal,
    given: tuple[DerivationInput, ...],
    sources: tuple[Source, ...],
) -> MealPortion:
    """Whole mammals by mass or by the eater's width, inside the meal's range of mass."""
    if eater.width_mm is None:
        raise ImpossibleStateError("a profile with prey has the share that gives it")
    approach = QUESTIONS["rodent-size"].chosen(eater.approaches)
    feeder, count = prey_for(meal, eater.width_mm, approach.slug, eater.prey)
    other = QUESTIONS["rodent-size"].others(approach.slug)[0]
    theirs, their_count = prey_for(meal, eater.width_mm, other.slug, eater.prey)
    derivation = Derivation(
        value=count,
        unit="animals",
        others=(
            OtherApproach(
                question="rodent-size",
                approach=other.name,
                why=other.why,
                text=f"{their_count} × {theirs.name}",
            ),
        ),
        rule=(
            "The prey nearest to the meal's mass, never wider than one and a half times the eater."
            if approach.slug == "mass"
            else "The heaviest prey no wider than the eater's widest part."
        )
        + " Together they stay inside the range of the meal's mass.",
        inputs=(
            *given,
            named_value("least mass of the meal", meal.low_g, "g"),
            named_value("greatest mass of the meal", meal.high_g, "g"),
            named_value(f"mass of one {feeder.name}", feeder.mass_g, "g"),
            named_value("its width", feeder.width_mm, "mm"),
            named_value("width of the eater", eater.width_mm, "mm"),
            named_value("share of body mass in fact", count * feeder.mass_g / eater.mass_g, "1"),
        ),
        sources=(*sources, feeder.source),
        approach=approach.name,
        would_change="Growth, the approach of rodent size, or a measured girth.",
    )
    grams_in_fact = count * feeder.mass_g
    return MealPortion(
        food="prey",
        name=feeder.name,
        grams=grams_in_fact,
        count=count,
        widest_mm=feeder.width_mm,
        derivation=derivation,
    )


WHOLE = frozenset({"insects", "ants", "worms", "eggs"})
"""Foods that are counted, beside prey."""


def _whole(
    food: str,
    grams: float,
    eye_gap_mm: float,
    given: tuple[DerivationInput, ...],
    sources: tuple[Source, ...],
) -> MealPortion:
    """Whole small animals or eggs by mass: the heaviest that fit the mouth; eggs by mass alone, for
    the jaw opens for them.
    """
    feeder = nearest(food, grams) if food == "eggs" else widest(food, eye_gap_mm, 1.25 * grams)
    count = max(1, round(grams / feeder.mass_g))
    fits = (
        "the kind nearest to the meal's mass"
        if food == "eggs"
        else "the heaviest kind no wider than the gap between the eyes"
    )
    derivation = Derivation(
        value=count,
        unit="animals" if food != "eggs" else "eggs",
        rule=f"The part of the meal by mass over the mass of one, to whole ones; {fits}.",
        inputs=(
            *given,
            named_value(f"mass of one {feeder.name}", feeder.mass_g, "g"),
            named_value("its width", feeder.width_mm, "mm"),
            *([] if food == "eggs" else [named_value("gap between the eyes", eye_gap_mm, "mm")]),
        ),
        sources=(*sources, feeder.source),
        would_change="Growth, another feeder, or the approach of feeding pace.",
    )
    return MealPortion(
        food=food,
        name=feeder.name,
        grams=count * feeder.mass_g,
        count=count,
        widest_mm=feeder.width_mm,
        derivation=derivation,
    )


def _portions(
    spec: MealSpec, grams: float, eater: FeedingAnimal, sources: tuple[Source, ...]
) -> tuple[MealPortion, ...]:
    found = []
    eye_gap_mm = eater.eye_gap_mm
    for part in spec.parts:
        share_g = grams * part.share
        inputs = (
            named_value("whole meal", grams, "g"),
            named_value("share of the meal", part.share, "1"),
        )
        if part.food == "prey":
            low, high = (end * eater.mass_g * part.share for end in spec.share_of_mass)
            meal = MealRange(min(low, share_g), share_g, max(high, share_g))
            found.append(_prey(meal, eater, inputs, sources))
        elif part.food in WHOLE:
            found.append(_whole(part.food, share_g, eye_gap_mm, inputs, sources))
        else:
            rule = "The meal by mass × the share of this part."
            derivation = Derivation(
                value=share_g, unit="g", rule=rule, inputs=inputs, sources=sources
            )
            found.append(
                MealPortion(
                    food=part.food,
                    name=FEEDERS[part.food].name,
                    grams=share_g,
                    derivation=derivation,
                )
            )
    return tuple(found)


def _pace(spec: MealSpec, slug: str) -> tuple[float, float]:
    """Share of body mass and interval [days] by the approach of feeding pace: lean takes the long
    interval and the middle share.
    """
    if slug == "eager":
        return spec.share_of_mass[1], spec.every_days[0]
    return sum(spec.share_of_mass) / 2, spec.every_days[1]


def _other_meals(
    profile: Profile, spec: MealSpec, stage: str, eater: FeedingAnimal, pace: Question
) -> tuple[tuple[OtherApproach, ...], ...]:
    """What the other approaches give: first the masses, then the intervals."""
    said: list[tuple[str, str, str, float, float]] = []
    slug = pace.chosen(eater.approaches).slug
    for approach in pace.others(slug):
        said.append((pace.slug, approach.name, approach.why, *_pace(spec, approach.slug)))
    for approach, theirs in others(
        (meal for meal in profile.meals if meal.slug == spec.slug), stage, eater.approaches
    ):
        said.append(
            (theirs.question, approach.name, theirs.note or approach.why, *_pace(theirs, slug))
        )
    return (
        tuple(
            OtherApproach(
                question=q,
                approach=name,
                why=why,
                low=share * eater.mass_g,
                high=share * eater.mass_g,
                unit="g",
            )
            for q, name, why, share, _ in said
        ),
        tuple(
            OtherApproach(question=q, approach=name, why=why, low=every, high=every, unit="days")
            for q, name, why, _, every in said
        ),
    )


def _supplement(insects: MealPortion) -> Derivation | None:
    """Calcium supplement for the animals of a meal."""
    feeder = feeder_of(insects)
    if (
        feeder.calcium_mg_100g is None or feeder.phosphorus_mg_100g is None
    ):  # no table: what cannot be calculated is not guessed
        return None
    method = find("calcium_supplement")
    arguments: dict[str, float | str] = {
        "food_g": insects.grams,
        "calcium_mg_100g": feeder.calcium_mg_100g,
        "phosphorus_mg_100g": feeder.phosphorus_mg_100g,
        "target_ratio": 2.0,
        "supplement_calcium_share": 0.40,
        "supplement_phosphorus_share": 0.0,
        "retention": 0.5,
    }
    supplement = derivation_of(method, arguments, calcium_supplement(**arguments))  # type: ignore[arg-type]  # all numbers here
    return supplement.model_copy(update={"sources": (*supplement.sources, feeder.source)})


def feeder_of(portion: MealPortion) -> Feeder:
    """What a portion is of."""
    return BY_NAME[portion.name]


def _turns(portions: Sequence[MealPortion], eye_gap_mm: float) -> tuple[FeederTurn, ...]:
    """What can stand in for the insects of a meal."""
    insects = next((part for part in portions if part.food == "insects"), None)
    if insects is None:
        return ()
    return tuple(
        FeederTurn(name=one.name, count=max(1, round(insects.grams / one.mass_g)), role=one.role)
        for one in turns(feeder_of(insects), eye_gap_mm)
    )


def _sooner(spec: MealSpec, portions: Sequence[MealPortion], grams: float, every: float) -> float:
    """The interval of a meal of whole prey, shorter where the animals that are sold are lighter.

    Mass over interval stays what it was, down to the profile's shortest interval [days].
    """
    if not all(part.food == "prey" for part in portions):
        return every
    share = min(1.0, sum(part.grams for part in portions) / grams)
    return max(min(every, spec.every_days[0]), round(every * share, 1))


def _meal_plan(
    profile: Profile, spec: MealSpec, stage: str, eater: FeedingAnimal, lead: MealAdjustment
) -> MealPlan:
    mass_g = eater.mass_g
    pace = QUESTIONS["feeding-pace"]
    chosen = pace.chosen(eater.approaches)
    share, every = lead.meal(*_pace(spec, chosen.slug), spec)
    led = (named_text("led by", "; ".join(lead.because)),) if lead.because else ()
    other_grams, other_days = _other_meals(profile, spec, stage, eater, pace)
    sources = profile.sources(spec.origin)
    grams = share * mass_g
    portions = _portions(spec, grams, eater, sources)
    every = _sooner(spec, portions, grams, every)
    dusted = next(
        (p for p in portions if p.food in CARRIERS[profile.supplements.plan] & WHOLE), None
    )
    supplement = _supplement(dusted) if dusted is not None and dusted.food != "worms" else None
    return MealPlan(
        slug=spec.slug,
        name=spec.name,
        grams=Derivation(
            value=grams,
            unit="g",
            rule=(
                "Body mass × share of body mass; the middle of the range, or its upper end for the"
                " eager pace."
            ),
            inputs=(
                named_value(eater.mass_name, mass_g, "g"),
                named_value("share of body mass", share, "1"),
                named_value("the profile's least share", spec.share_of_mass[0], "1"),
                named_value("the profile's greatest share", spec.share_of_mass[1], "1"),
                *led,
            ),
            sources=sources,
            approach=chosen.name,
            others=other_grams,
            would_change="A weighing, the condition score, or the approach of feeding pace.",
        ),
        every_days=_interval(spec, every, led, sources, chosen.name, other_days),
        portions=portions,
        calcium_mg=supplement,
        turns=_turns(portions, eater.eye_gap_mm),
        not_before=lead.not_before,
        because=lead.because,
    )


def _interval(
    spec: MealSpec,
    every: float,
    led: tuple[DerivationInput, ...],
    sources: tuple[Source, ...],
    approach: str,
    others: tuple[OtherApproach, ...],
) -> Derivation:
    """Give the days between two meals with how they were calculated."""
    return Derivation(
        value=every,
        unit="days",
        rule=(
            "The long end of the profile's interval for this stage, or its short end for the"
            " eager pace; then to condition. Whole prey lighter than the meal's aim is given"
            " that much sooner."
        ),
        inputs=(
            named_value("the profile's shortest interval", spec.every_days[0], "days"),
            named_value("the profile's longest interval", spec.every_days[1], "days"),
            *led,
        ),
        sources=sources,
        approach=approach,
        others=others,
        would_change=(
            "A look at its condition, the trend of the scale, or the approach of feeding pace."
        ),
    )


def meal_plans(
    profile: Profile,
    stage: str,
    *,
    mass_g: float,
    body_length_m: float,
    approaches: dict[str, str],
    lead: MealAdjustment = NO_ADJUSTMENT,
    mass_how: str = "measured",
) -> tuple[MealPlan, ...]:
    """Find the kinds of meal of an animal at a stage, with how much and how often.

    Parameters
    ----------
    lead : MealAdjustment
        What moves them to its condition and to what it goes through.
    mass_how : str
        How its mass is known: measured, estimated or typical (`growth.body`).
    """
    share = profile.body.wide_share
    width_mm = None if share is None else body_width(mass_g, body_length_m, share)
    rules = speaking(profile.food, stage, approaches)
    prey = rules[0].prey if rules else ()
    gap_mm = profile.body.eye_gap_bl * body_length_m * 1000
    eater = FeedingAnimal(mass_g, gap_mm, width_mm, approaches, prey, BODY_MASS[mass_how])
    return tuple(
        _meal_plan(profile, spec, stage, eater, lead)
        for spec in speaking(profile.meals, stage, approaches)
    )


def supplement_rules(
    profile: Profile,
    stage: str,
    plans: Sequence[MealPlan],
    *,
    uvb: bool,
    approaches: dict[str, str],
    calcium_always: bool = False,
) -> tuple[SupplementRule, ...]:
    """When which supplement is due; nothing where no meal carries supplement.

    Parameters
    ----------
    calcium_always : bool
        She makes shells: calcium at every meal that carries nothing else.
    """
    if not carriers_of(profile, plans):
        return ()
    first = stage == profile.stages[0].slug
    rules = default_rules(
        stage, uvb=uvb, approaches=approaches, plan=profile.supplements.plan, first=first
    )
    if not calcium_always or any(rule.doses == 0 for rule in rules):
        return rules
    return tuple(
        rule.model_copy(update={"doses": 0}) if rule.product.startswith("calcium") else rule
        for rule in rules
    )


def carriers_of(profile: Profile, plans: Sequence[MealPlan]) -> list[MealPlan]:
    """The kinds of meal that supplement goes on."""
    dusted = CARRIERS[profile.supplements.plan]
    return [plan for plan in plans if any(portion.food in dusted for portion in plan.portions)]
