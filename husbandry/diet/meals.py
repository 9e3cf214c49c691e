"""The kinds of meal of an animal: how much, how often, of what, and the supplement rules that go with them. Method: docs/methods/diet.md."""

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass

from husbandry.diet.adjustments import USUAL, Lead
from husbandry.diet.calcium import calcium_powder
from husbandry.diet.feeders import BY_NAME, FEEDERS, Feeder, nearest, turns, widest
from husbandry.diet.prey import MealRange, body_width, prey_for
from husbandry.diet.supplements import CARRIERS, Rule, default_rules
from husbandry.methods import find, working
from husbandry.species.parts import MealSpec
from husbandry.species.profile import Profile
from husbandry.species.schools import QUESTIONS, Question
from husbandry.species.selection import others, speaking
from husbandry.worked import Document, Given, Otherwise, Source, Worked


class Portion(Document):
    """One part of a meal."""

    food: str
    name: str
    grams: float
    count: int | None = None
    """Whole animals, for insects and prey."""
    widest_mm: float | None = None
    worked: Worked
    """The mass, or the count of whole animals."""


class Turn(Document):
    """An insect that can take its turn in a meal."""

    name: str
    count: int
    role: str
    """staple, sometimes or treat."""


class MealPlan(Document):
    """One kind of meal: how much and how often, with the working."""

    slug: str
    name: str
    grams: Worked
    every_days: Worked
    portions: tuple[Portion, ...]
    calcium_mg: Worked | None = None
    turns: tuple[Turn, ...] = ()
    """Other insects that can stand in, of the same mass."""
    not_before: dt.date | None = None
    because: tuple[str, ...] = ()
    """Why it differs from the usual of its stage."""


@dataclass(frozen=True)
class Eater:
    """What decides the size of its food."""

    mass_g: float
    eye_gap_mm: float
    width_mm: float | None
    """Of a limbless body at its widest [mm]."""
    schools: dict[str, str]
    prey: tuple[str, ...] = ()
    """Whole animals that its species eats: mouse, rat, rabbit."""
    mass_name: str = "body mass"
    """What its mass is called among the inputs: it may be estimated."""


BODY_MASS = {
    "measured": "body mass",
    "estimated": "body mass, estimated from its length",
    "typical": "body mass, typical of its stage",
}


def _prey(meal: MealRange, eater: Eater, given: tuple[Given, ...], sources: tuple[Source, ...]) -> Portion:
    """Whole mammals by mass or by the eater's width, inside the meal's range of mass."""
    assert eater.width_mm is not None  # a profile with prey has the share that gives it
    school = QUESTIONS["rodent-size"].chosen(eater.schools)
    feeder, count = prey_for(meal, eater.width_mm, school.slug, eater.prey)
    other = QUESTIONS["rodent-size"].others(school.slug)[0]
    theirs, their_count = prey_for(meal, eater.width_mm, other.slug, eater.prey)
    worked = Worked(
        value=count,
        unit="animals",
        others=(Otherwise(question="rodent-size", school=other.name, why=other.why, text=f"{their_count} × {theirs.name}"),),
        rule=(
            "The prey nearest to the meal's mass, never wider than one and a half times the eater."
            if school.slug == "mass"
            else "The heaviest prey no wider than the eater's widest part."
        )
        + " Together they stay inside the range of the meal's mass.",
        inputs=(
            *given,
            Given(name="least mass of the meal", value=meal.low_g, unit="g"),
            Given(name="greatest mass of the meal", value=meal.high_g, unit="g"),
            Given(name=f"mass of one {feeder.name}", value=feeder.mass_g, unit="g"),
            Given(name="its width", value=feeder.width_mm, unit="mm"),
            Given(name="width of the eater", value=eater.width_mm, unit="mm"),
            Given(name="share of body mass in fact", value=count * feeder.mass_g / eater.mass_g, unit="1"),
        ),
        sources=(*sources, feeder.source),
        school=school.name,
        would_change="Growth, the approach of rodent size, or a measured girth.",
    )
    grams_in_fact = count * feeder.mass_g
    return Portion(food="prey", name=feeder.name, grams=grams_in_fact, count=count, widest_mm=feeder.width_mm, worked=worked)


WHOLE = frozenset({"insects", "ants", "worms", "eggs"})
"""Foods that are counted, beside prey."""


def _whole(food: str, grams: float, eye_gap_mm: float, given: tuple[Given, ...], sources: tuple[Source, ...]) -> Portion:
    """Whole small animals or eggs by mass: the heaviest that fit the mouth; eggs by mass alone, for the jaw opens for them."""
    feeder = nearest(food, grams) if food == "eggs" else widest(food, eye_gap_mm, 1.25 * grams)
    count = max(1, round(grams / feeder.mass_g))
    fits = "the kind nearest to the meal's mass" if food == "eggs" else "the heaviest kind no wider than the gap between the eyes"
    worked = Worked(
        value=count,
        unit="animals" if food != "eggs" else "eggs",
        rule=f"The part of the meal by mass over the mass of one, to whole ones; {fits}.",
        inputs=(
            *given,
            Given(name=f"mass of one {feeder.name}", value=feeder.mass_g, unit="g"),
            Given(name="its width", value=feeder.width_mm, unit="mm"),
            *([] if food == "eggs" else [Given(name="gap between the eyes", value=eye_gap_mm, unit="mm")]),
        ),
        sources=(*sources, feeder.source),
        would_change="Growth, another feeder, or the approach of feeding pace.",
    )
    return Portion(
        food=food, name=feeder.name, grams=count * feeder.mass_g, count=count, widest_mm=feeder.width_mm, worked=worked
    )  # fmt: skip


def _portions(spec: MealSpec, grams: float, eater: Eater, sources: tuple[Source, ...]) -> tuple[Portion, ...]:
    found = []
    eye_gap_mm = eater.eye_gap_mm
    for part in spec.parts:
        share_g = grams * part.share
        inputs = (Given(name="whole meal", value=grams, unit="g"), Given(name="share of the meal", value=part.share, unit="1"))
        if part.food == "prey":
            low, high = (end * eater.mass_g * part.share for end in spec.share_of_mass)
            meal = MealRange(min(low, share_g), share_g, max(high, share_g))
            found.append(_prey(meal, eater, inputs, sources))
        elif part.food in WHOLE:
            found.append(_whole(part.food, share_g, eye_gap_mm, inputs, sources))
        else:
            rule = "The meal by mass × the share of this part."
            worked = Worked(value=share_g, unit="g", rule=rule, inputs=inputs, sources=sources)
            found.append(Portion(food=part.food, name=FEEDERS[part.food].name, grams=share_g, worked=worked))
    return tuple(found)


def _pace(spec: MealSpec, slug: str) -> tuple[float, float]:
    """Share of body mass and interval [days] by the approach of feeding pace: lean takes the long interval and the middle share."""
    if slug == "eager":
        return spec.share_of_mass[1], spec.every_days[0]
    return sum(spec.share_of_mass) / 2, spec.every_days[1]


def _other_meals(profile: Profile, spec: MealSpec, stage: str, eater: Eater, pace: Question) -> tuple[tuple[Otherwise, ...], ...]:
    """What the other approaches give: first the masses, then the intervals."""
    said: list[tuple[str, str, str, float, float]] = []
    slug = pace.chosen(eater.schools).slug
    for school in pace.others(slug):
        said.append((pace.slug, school.name, school.why, *_pace(spec, school.slug)))
    for school, theirs in others((meal for meal in profile.meals if meal.slug == spec.slug), stage, eater.schools):
        said.append((theirs.question, school.name, theirs.note or school.why, *_pace(theirs, slug)))
    return (
        tuple(
            Otherwise(question=q, school=name, why=why, low=share * eater.mass_g, high=share * eater.mass_g, unit="g")
            for q, name, why, share, _ in said
        ),
        tuple(Otherwise(question=q, school=name, why=why, low=every, high=every, unit="days") for q, name, why, _, every in said),
    )


def _powder(insects: Portion) -> Worked | None:
    """Calcium supplement for the animals of a meal."""
    feeder = feeder_of(insects)
    if feeder.calcium_mg_100g is None or feeder.phosphorus_mg_100g is None:  # no table: what cannot be reckoned is not guessed
        return None
    method = find("calcium_powder")
    arguments: dict[str, float | str] = {
        "food_g": insects.grams, "calcium_mg_100g": feeder.calcium_mg_100g, "phosphorus_mg_100g": feeder.phosphorus_mg_100g,
        "target_ratio": 2.0, "powder_calcium_share": 0.40, "powder_phosphorus_share": 0.0, "retention": 0.5,
    }  # fmt: skip
    powder = working(method, arguments, calcium_powder(**arguments))  # type: ignore[arg-type]  # all numbers here
    return powder.model_copy(update={"sources": (*powder.sources, feeder.source)})


def feeder_of(portion: Portion) -> Feeder:
    """What a portion is of."""
    return BY_NAME[portion.name]


def _turns(portions: Sequence[Portion], eye_gap_mm: float) -> tuple[Turn, ...]:
    """What can stand in for the insects of a meal."""
    insects = next((part for part in portions if part.food == "insects"), None)
    if insects is None:
        return ()
    return tuple(
        Turn(name=one.name, count=max(1, round(insects.grams / one.mass_g)), role=one.role)
        for one in turns(feeder_of(insects), eye_gap_mm)
    )


def _sooner(spec: MealSpec, portions: Sequence[Portion], grams: float, every: float) -> float:
    """The interval of a meal of whole prey, shorter where the animals that are sold are lighter.

    Mass over interval stays what it was, down to the profile's shortest interval [days].
    """
    if not all(part.food == "prey" for part in portions):
        return every
    share = min(1.0, sum(part.grams for part in portions) / grams)
    return max(min(every, spec.every_days[0]), round(every * share, 1))


def _meal_plan(profile: Profile, spec: MealSpec, stage: str, eater: Eater, lead: Lead) -> MealPlan:
    mass_g = eater.mass_g
    pace = QUESTIONS["feeding-pace"]
    chosen = pace.chosen(eater.schools)
    share, every = lead.meal(*_pace(spec, chosen.slug), spec)
    led = (Given(name="led by", text="; ".join(lead.because)),) if lead.because else ()
    other_grams, other_days = _other_meals(profile, spec, stage, eater, pace)
    sources = profile.sources(spec.origin)
    grams = share * mass_g
    portions = _portions(spec, grams, eater, sources)
    every = _sooner(spec, portions, grams, every)
    dusted = next((p for p in portions if p.food in CARRIERS[profile.supplements.plan] & WHOLE), None)
    powder = _powder(dusted) if dusted is not None and dusted.food != "worms" else None
    return MealPlan(
        slug=spec.slug,
        name=spec.name,
        grams=Worked(
            value=grams,
            unit="g",
            rule="Body mass × share of body mass; the middle of the range, or its upper end for the eager pace.",
            inputs=(
                Given(name=eater.mass_name, value=mass_g, unit="g"),
                Given(name="share of body mass", value=share, unit="1"),
                Given(name="the profile's least share", value=spec.share_of_mass[0], unit="1"),
                Given(name="the profile's greatest share", value=spec.share_of_mass[1], unit="1"),
                *led,
            ),
            sources=sources,
            school=chosen.name,
            others=other_grams,
            would_change="A weighing, the condition score, or the approach of feeding pace.",
        ),
        every_days=Worked(
            value=every,
            unit="days",
            rule="The long end of the profile's interval for this stage, or its short end for the eager pace; then to condition. "
            "Whole prey lighter than the meal's aim is given that much sooner.",
            inputs=(
                Given(name="the profile's shortest interval", value=spec.every_days[0], unit="days"),
                Given(name="the profile's longest interval", value=spec.every_days[1], unit="days"),
                *led,
            ),
            sources=sources,
            school=chosen.name,
            others=other_days,
            would_change="A look at its condition, the trend of the scale, or the approach of feeding pace.",
        ),
        portions=portions,
        calcium_mg=powder,
        turns=_turns(portions, eater.eye_gap_mm),
        not_before=lead.not_before,
        because=lead.because,
    )


def meal_plans(
    profile: Profile,
    stage: str,
    *,
    mass_g: float,
    body_length_m: float,
    schools: dict[str, str],
    lead: Lead = USUAL,
    mass_how: str = "measured",
) -> tuple[MealPlan, ...]:
    """Find the kinds of meal of an animal at a stage, with how much and how often.

    Parameters
    ----------
    lead : Lead
        What moves them to its condition and to what it goes through.
    mass_how : str
        How its mass is known: measured, estimated or typical (`growth.body`).
    """
    share = profile.body.wide_share
    width_mm = None if share is None else body_width(mass_g, body_length_m, share)
    rules = speaking(profile.food, stage, schools)
    prey = rules[0].prey if rules else ()
    gap_mm = profile.body.eye_gap_bl * body_length_m * 1000
    eater = Eater(mass_g, gap_mm, width_mm, schools, prey, BODY_MASS[mass_how])
    return tuple(_meal_plan(profile, spec, stage, eater, lead) for spec in speaking(profile.meals, stage, schools))


def powder_rules(
    profile: Profile,
    stage: str,
    plans: Sequence[MealPlan],
    *,
    uvb: bool,
    schools: dict[str, str],
    calcium_always: bool = False,
) -> tuple[Rule, ...]:
    """When which supplement is due; nothing where no meal carries supplement.

    Parameters
    ----------
    calcium_always : bool
        She makes shells: calcium at every meal that carries nothing else.
    """
    if not carriers_of(profile, plans):
        return ()
    first = stage == profile.stages[0].slug
    rules = default_rules(stage, uvb=uvb, schools=schools, plan=profile.supplements.plan, first=first)
    if not calcium_always or any(rule.doses == 0 for rule in rules):
        return rules
    return tuple(rule.model_copy(update={"doses": 0}) if rule.product.startswith("calcium") else rule for rule in rules)


def carriers_of(profile: Profile, plans: Sequence[MealPlan]) -> list[MealPlan]:
    """The kinds of meal that supplement goes on."""
    dusted = CARRIERS[profile.supplements.plan]
    return [plan for plan in plans if any(portion.food in dusted for portion in plan.portions)]
