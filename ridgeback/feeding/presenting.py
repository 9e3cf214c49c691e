"""What the page of an animal's food shows, ready for its template."""

import datetime as dt
from dataclasses import dataclass, replace

from django.utils.safestring import SafeString, mark_safe

from husbandry.audit.consistency import body_temperature
from husbandry.documents.animal import Animal as CoreAnimal
from husbandry.documents.request import Request
from husbandry.errors import DocumentError
from husbandry.feeding import composition
from husbandry.feeding.adjustments import lead_of
from husbandry.feeding.appetite import RefusalWarning, hunger_days, worry
from husbandry.feeding.calendar import Diet, four_weeks
from husbandry.feeding.condition import FORMS, SCORE_FRESH_DAYS, SCORE_WORDS, Form, form_of
from husbandry.feeding.meals import MealPlan
from husbandry.feeding.upcoming_meals import relaid
from husbandry.growth.body import How
from husbandry.quantity import Kind, Units, show
from husbandry.seasons.summer_and_winter import lean
from husbandry.species.profile import Profile
from husbandry.species.selection import speaking
from husbandry.species.stages import stage_of
from ridgeback.animals.models import Animal
from ridgeback.derivations import DerivationView, derivation_view
from ridgeback.drawing.condition import condition_svg
from ridgeback.drawing.energy import energy
from ridgeback.drawing.svg import write
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.planning import planned
from ridgeback.sentences import otherwise, plural, rhythm, supplement
from ridgeback.tasks.meal_history import as_logged, meals_of


@dataclass(frozen=True)
class FeedingPlan:
    """An animal with its planned weeks of food."""

    profile: Profile
    diet: Diet
    uvb: bool
    stage: str
    mass_how: How
    """How its mass is known: measured, estimated from its length, or typical of its stage."""
    trend: float | None
    approaches: dict[str, str]
    winter: bool = False
    shell_mm: float | None = None


@dataclass(frozen=True)
class ScoreView:
    """One of the five pictures."""

    score: int
    word: str
    drawing: SafeString
    text: str
    chosen: bool


@dataclass(frozen=True)
class MealView:
    """One kind of meal."""

    name: str
    amount: DerivationView
    often: DerivationView
    parts: tuple[DerivationView, ...]
    turns: str
    treats: str
    plain: DerivationView | None
    dusted: DerivationView | None
    direction: str
    says: str
    coat: DerivationView | None
    heap: str
    others: tuple[str, ...]
    """What the other approaches would give: by mass, by width, at another pace."""


OXALATE_WORDS = {"low": "little", "mid": "some", "high": "much"}


@dataclass(frozen=True)
class GreenRow:
    """A leaf, vegetable or fruit in numbers, as texts."""

    name: str
    calcium: str
    phosphorus: str
    ratio: str
    oxalate: str
    source: str


@dataclass(frozen=True)
class FoodPage:
    """All of it."""

    next_days: tuple[tuple[str, str], ...]
    """The next meal and the next of each supplement: what, and when."""
    where: str
    scores: tuple[ScoreView, ...]
    scored: str
    mass_note: str
    """What to know of the mass that its meals follow from; empty where it was weighed."""
    because: tuple[str, ...]
    held: str
    worry: RefusalWarning | None
    meals: tuple[MealView, ...]
    energy: SafeString
    energy_derivation: DerivationView
    energy_direction: str
    energy_says: str
    doses: tuple[DerivationView, ...]
    warnings: tuple[str, ...]
    supplements: tuple[tuple[dt.date, str, str], ...]
    """Day, supplements, and why that day."""
    staple: str
    in_turn: str
    little: tuple[tuple[str, str], ...]
    green_rows: tuple[GreenRow, ...]
    never: tuple[str, ...]
    live: bool
    whole: bool


def fed(
    animal: Animal, profile: Profile, enclosure: Enclosure | None, now: dt.datetime, today: dt.date
) -> FeedingPlan:
    """Its food as its enclosure plans it; of one in no enclosure by the temperatures its species
    needs, with ultraviolet where its species takes it.
    """
    request = (
        _sound(enclosure, now) if enclosure is not None and enclosure.head is not None else None
    )
    if enclosure is not None and request is not None:
        made = as_logged(planned(request), enclosure)
        n = next(n for n, one in enumerate(enclosure.present) if one.animal_id == animal.pk)
        found = made.plan.animals[n]
        uvb = any(item.is_uv for item in request.items)
        return FeedingPlan(
            request.profiles[animal.species],
            found.diet,
            uvb,
            found.stage.slug,
            found.body.mass.how,
            request.animals[n].trend_pct,
            request.approaches_of(n),
            request.place.lat != 0 and lean(profile, found.stage.slug, today, request.place.lat),
            _shell_mm(profile, found.length_m),
        )
    return _plan_of_food(animal, profile, today)


def _plan_of_food(animal: Animal, profile: Profile, today: dt.date) -> FeedingPlan:
    """Plan the food of an animal as it is today."""
    core = CoreAnimal.model_validate(animal.data() | animal.leading_data(today))
    stage = stage_of(
        profile,
        today=today,
        born_on=core.born_on,
        mass_g=core.mass_g,
        length_mm=core.length_mm or None,
    )
    lead = lead_of(
        profile,
        stage.slug,
        today=today,
        condition=core.condition,
        trend=core.trend_pct,
        condition_periods=core.condition_periods,
    )
    uvb = profile.uv.pattern != "none needed"
    body = core.body(profile, stage.slug)
    diet = four_weeks(
        profile,
        stage.slug,
        mass_g=body.mass.value,
        body_length_m=body.length.value / 1000,
        today=today,
        anchor=core.fed_on if core.fed_on and core.fed_on <= today else today,
        uvb=uvb,
        body_c=body_temperature(profile, stage.slug),
        approaches=core.approaches,
        lead=lead,
        mass_how=body.mass.how,
    )
    given = meals_of([animal.pk], today).get(animal.pk, [])
    carries = {plan.slug for plan in diet.plans if plan.calcium_mg is not None}
    diet = relaid(diet, carries, core.fed_on or today, given, today)
    return FeedingPlan(
        profile,
        diet,
        uvb,
        stage.slug,
        body.mass.how,
        core.trend_pct,
        core.approaches,
        shell_mm=_shell_mm(profile, body.length.value / 1000),
    )


def _sound(enclosure: Enclosure, now: dt.datetime) -> Request | None:
    """What its enclosure asks; None where what is kept of it does not add up, of which its own page
    speaks.
    """
    try:
        return enclosure.request_at(now)
    except DocumentError:
        return None


def _shell_mm(profile: Profile, length_m: float) -> float | None:
    return 1000 * length_m if profile.body.length_kind == "shell" else None


def _scores(form: Form, animal: Animal, today: dt.date) -> tuple[ScoreView, ...]:
    chosen = (
        animal.condition
        if animal.condition_on and (today - animal.condition_on).days <= SCORE_FRESH_DAYS
        else None
    )
    return tuple(
        ScoreView(score, SCORE_WORDS[score], condition_svg(form, score), text, score == chosen)
        for score, text in enumerate(FORMS[form].scores, 1)
    )


def _scored(animal: Animal, today: dt.date) -> str:
    if animal.condition is None or animal.condition_on is None:
        return "Never looked at: compare it with the five, once a month."
    old = (today - animal.condition_on).days > SCORE_FRESH_DAYS
    return (
        f"{animal.condition} of 5, {SCORE_WORDS[animal.condition]}, on"
        f" {animal.condition_on:%-d %B %Y}{': too long ago to feed by. Look again.' if old else '.'}"
    )


def _balance_says(found: composition.CalciumBalance) -> tuple[str, str]:
    unknown = f" No table has {' and '.join(found.unknown)}: not counted." if found.unknown else ""
    match found.verdict:
        case "right":
            return (
                "right",
                (
                    "With its supplement: enough calcium."
                    if found.dusted
                    else "Enough calcium by itself."
                )
                + unknown,
            )
        case "whole":
            return (
                "right",
                "Whole animals bring their bones; newborn ones bring little: grow out of them"
                " early." + unknown,
            )
        case "unknown":
            return "unknown", f"No table has {' or '.join(found.unknown)}."
        case _:
            return "below", "Too little calcium for its phosphorus: see its supplements." + unknown


def _coat(
    found: composition.CalciumBalance, plan: MealPlan, units: Units
) -> DerivationView | None:
    if found.coat_share is None or plan.calcium_mg is None:
        return None
    text = (
        f"About {supplement(plan.calcium_mg.value)} of calcium carbonate,"
        f" {100 * found.coat_share:.1f} % of what it is on"
    )
    return replace(derivation_view(plan.calcium_mg, units), text=text)


def _ratio(view: DerivationView, value: float, name: str) -> DerivationView:
    return replace(view, text=f"{name} {value:.2f} : 1")


def _others(plan: MealPlan, units: Units) -> tuple[str, ...]:
    told = [
        *plan.grams.others,
        *plan.every_days.others,
        *(other for part in plan.portions for other in part.derivation.others),
    ]
    return tuple(dict.fromkeys(f"{other.approach}: {otherwise(other, units)}" for other in told))


def _heap(plan: MealPlan, shell_mm: float | None, units: Units) -> str:
    """The leaves of a meal as the eye measures them."""
    grams = sum(part.grams for part in plan.portions if part.food in {"greens", "grass"})
    if not grams:
        return ""
    found = composition.heap(grams, shell_mm)
    size = show(round(found.litres, 2), Kind.VOLUME, units, small=found.litres < 1)
    beside = (
        f", about {found.shells:.1g} times as large as its shell"
        if found.shells is not None
        else ""
    )
    return f"Its leaves and grass lie in a loose heap of {size}{beside}. Hay stands beside it all day."


def _meal(plan: MealPlan, shell_mm: float | None, units: Units) -> MealView:
    found = composition.balance(plan)
    direction, says = _balance_says(found)
    days = plan.every_days.value
    often = rhythm(days)
    parts = tuple(
        replace(
            derivation_view(part.derivation, units),
            text=(
                f"{part.count} {part.name if part.count == 1 else plural(part.name)}"
                if part.count is not None
                else f"{show(part.grams, Kind.MASS, units)} {part.name}"
            ),
        )
        for part in plan.portions
    )

    def names(roles: frozenset[str]) -> str:
        return ", ".join(
            f"{one.count} {one.name if one.count == 1 else plural(one.name)}"
            for one in plan.turns
            if one.role in roles
        )

    return MealView(
        plan.name,
        replace(derivation_view(plan.grams, units), text=show(plan.grams.value, Kind.MASS, units)),
        replace(derivation_view(plan.every_days, units), text=often),
        parts,
        names(frozenset({"staple", "sometimes"})),
        names(frozenset({"treat"})),
        (
            _ratio(derivation_view(found.plain, units), found.plain.value, "Plain")
            if found.plain
            else None
        ),
        (
            _ratio(derivation_view(found.dusted, units), found.dusted.value, "Dusted")
            if found.dusted
            else None
        ),
        direction,
        says,
        _coat(found, plan, units),
        _heap(plan, shell_mm, units),
        _others(plan, units),
    )


def _doses(found: composition.Doses, units: Units) -> tuple[DerivationView, ...]:
    if not found.d3 and not found.a:
        return ()
    told = (("D3", found.d3_derivation), ("Preformed vitamin A", found.a_derivation))
    return tuple(
        replace(derivation_view(one, units), text=f"{name} {_times(one.value)} in thirty days")
        for name, one in told
    )


def _times(number: float) -> str:
    return {0: "never", 1: "once", 2: "twice"}.get(round(number), f"{number:.0f} times")


MASS_NOTES = {
    "measured": "",
    "converted": "",
    "estimated": "Its mass is estimated from its length, within a third: weigh it for exact meals.",
    "typical": "Nothing was weighed or measured: the meals are for a typical animal of its stage.",
}
ENERGY = {
    "inside": ("right", "Plausible for its mass and warmth. The weight decides."),
    "below": ("below", "Less than is plausible: weigh weekly, and look at its condition."),
    "above": ("above", "More than is plausible: weigh weekly, and look at its condition."),
}


def _next_days(
    diet: Diet, given_today: frozenset[str], today: dt.date
) -> tuple[tuple[str, str], ...]:
    """When it is offered food next, and when each supplement comes next.

    Parameters
    ----------
    given_today : frozenset of str
        Slugs of the meals that it was offered today.
    """
    ahead = [one for one in diet.meals if one.day > today or one.slug not in given_today]
    found: list[tuple[str, str]] = []
    if ahead:
        found.append(("Next meal", f"{day_words(ahead[0].day, today)}: {ahead[0].name}"))
    for meal in ahead:
        for product in meal.dusted_with:
            label = f"Next {product}"
            if label not in dict(found):
                found.append((label, f"{day_words(meal.day, today)}, with {meal.name}"))
    return tuple(found)


def day_words(day: dt.date, today: dt.date) -> str:
    """A day close by: “today”, “tomorrow”, “Thursday”, “14 December”."""
    days = (day - today).days
    if days < 2:
        return "tomorrow" if days == 1 else "today"
    return f"{day:%A}" if days < 7 else f"{day:%-d %B}"


def food_page(
    animal: Animal, made: FeedingPlan, units: Units, today: dt.date, *, resting: bool
) -> FoodPage:
    """Everything of the page."""
    profile = made.profile
    diet = made.diet
    form = form_of(profile)
    lead = diet.plans[0] if diet.plans else None
    condition_periods = CoreAnimal.model_validate(
        animal.data() | animal.leading_data(today)
    ).condition_periods
    given = meals_of([animal.pk], today).get(animal.pk, [])
    counted = composition.doses(profile, diet, uvb=made.uvb)
    rules = list(speaking(profile.food, made.stage, made.approaches))
    greens = composition.lists(profile, made.stage, made.approaches)
    direction, says = ENERGY[diet.energy_verdict]
    held = lead.not_before if lead is not None else None
    given_today = frozenset(one.slug for one in given if one.on == today)
    return FoodPage(
        next_days=() if resting else _next_days(diet, given_today, today),
        where=FORMS[form].where,
        scores=_scores(form, animal, today),
        scored=_scored(animal, today),
        mass_note=MASS_NOTES[made.mass_how],
        because=lead.because if lead is not None else (),
        held=f"No meal before {held:%-d %B}." if held is not None and held > today else "",
        worry=worry(
            hunger_days(profile, made.stage),
            given,
            condition_periods,
            today,
            trend=made.trend,
            winter=made.winter,
            resting=resting,
        ),
        meals=tuple(_meal(plan, made.shell_mm, units) for plan in diet.plans),
        energy=mark_safe(write(energy(diet.energy_kj_day))),  # our own writer escapes
        energy_derivation=derivation_view(diet.energy_kj_day, units),
        energy_direction=direction,
        energy_says=says,
        doses=_doses(counted, units),
        warnings=counted.warnings,
        supplements=tuple(
            (meal.day, " and ".join(meal.dusted_with), meal.reason)
            for meal in diet.meals
            if meal.dusted_with
        ),
        staple=", ".join(one.name for one in greens.staple) if greens else "",
        in_turn=", ".join(one.name for one in greens.in_turn) if greens else "",
        little=_little(greens.little) if greens else (),
        green_rows=_green_rows(greens) if greens else (),
        never=greens.never if greens else tuple(text for rule in rules for text in rule.never),
        live=any(
            part.food in {"insects", "ants", "worms"}
            for plan in diet.plans
            for part in plan.portions
        ),
        whole=any(part.food == "prey" for plan in diet.plans for part in plan.portions),
    )


def _green_rows(greens: composition.GreenLists) -> tuple[GreenRow, ...]:
    """Every food of the lists, the most calcium for its phosphorus first."""
    foods = [*greens.staple, *greens.in_turn, *(green for green, _ in greens.little)]
    foods.sort(key=lambda green: -green.ratio)
    return tuple(
        GreenRow(
            green.name,
            f"{green.calcium_mg_100g:.0f}",
            f"{green.phosphorus_mg_100g:.0f}",
            f"{green.ratio:.1f}",
            OXALATE_WORDS[green.oxalate]
            if green.oxalate_mg_100g is None
            else f"{green.oxalate_mg_100g:.0f}",
            str(green.source),
        )
        for green in foods
    )


def _little(greens: tuple[tuple[composition.GreenFood, str], ...]) -> tuple[tuple[str, str], ...]:
    """By their reason."""
    found: dict[str, list[str]] = {}
    for green, why in greens:
        found.setdefault(why, []).append(green.name)
    return tuple((why, ", ".join(names)) for why, names in found.items())
