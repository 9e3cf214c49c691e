"""Four weeks of food: days, portions, and the supplement on each."""

import datetime as dt
import math
from collections.abc import Sequence

from husbandry.derivation import Derivation, Document, named_value
from husbandry.feeding.adjustments import NO_ADJUSTMENT, MealAdjustment, held
from husbandry.feeding.energy import KJ_PER_KCAL, field_metabolic_rate, resting_metabolic_rate
from husbandry.feeding.meals import MealPlan, carriers_of, feeder_of, meal_plans, supplement_rules
from husbandry.feeding.supplements import Dose, SkippedDose, SupplementRule, explained, schedule
from husbandry.methods import find
from husbandry.species.parts import StageSpec
from husbandry.species.profile import Profile
from husbandry.species.stages import DAYS_PER_MONTH

WEEKS = 4
"""Of meals that are laid out ahead (design choice) [weeks]."""


class Meal(Document):
    """A meal on a day."""

    day: dt.date
    slug: str
    """Of the kind of meal, whose portions stand in its plan."""
    name: str
    dusted_with: tuple[str, ...] = ()
    reason: str = ""


class Diet(Document):
    """Four weeks of food and supplements."""

    first_day: dt.date
    weeks: int
    plans: tuple[MealPlan, ...]
    meals: tuple[Meal, ...]
    lapses: tuple[SkippedDose, ...]
    energy_kj_day: Derivation
    energy_verdict: str
    """inside, below or above the plausible range."""
    rules: tuple[SupplementRule, ...]
    supplements: tuple[Derivation, ...] = ()
    """Each rule with its derivation."""


def grid(every_days: float, start: dt.date, first: dt.date, days: int) -> list[dt.date]:
    """Days of a meal every so many days, anchored on `start`: 3.5 gives days 0, 3, 7, 10, ..."""
    offset = (first - start).days
    n = max(0, math.floor(offset / every_days) - 1)
    found: list[dt.date] = []
    while True:
        day = start + dt.timedelta(days=math.floor(n * every_days + 1e-9))
        if day >= first + dt.timedelta(days=days):
            return found
        if day >= first:
            found.append(day)
        n += 1


GROWTH_KJ_PER_G = 7.0
"""Energy laid down per gram of growth, 6 to 8 (from memory: reptile growth studies) [kJ/g]."""


def _growth_g_day(stage: StageSpec, mass_g: float) -> float:
    """Gain of an animal that crosses its stage's masses in its stage's time [g/day]; 0 for adults."""
    low = stage.mass_g.low
    high = stage.mass_g.high
    months = stage.age_months.high
    if low is None or high is None or months is None:
        return 0.0
    days = (months - (stage.age_months.low or 0)) * DAYS_PER_MONTH
    return mass_g * math.log(high / low) / days


_AT_REST = {"snake": 1.25}
"""Energy of a kept, grown animal over its resting rate; 1.5 for all others (common practice) [1]."""


def _energy(
    plans: Sequence[MealPlan], mass_g: float, body_c: float, stage: StageSpec, group: str
) -> tuple[Derivation, str]:
    kj_day = 0.0
    for plan in plans:
        per_meal = 0.0
        for portion in plan.portions:
            per_meal += portion.grams / 100 * feeder_of(portion).kcal_100g * KJ_PER_KCAL
        kj_day += per_meal / plan.every_days.value
    resting = resting_metabolic_rate(mass_g, body_c)
    growth_g = _growth_g_day(stage, mass_g)
    need = resting * (2.0 if growth_g else _AT_REST.get(group, 1.5)) + growth_g * GROWTH_KJ_PER_G
    low = 0.6 * need
    high = max(1.6 * need, field_metabolic_rate(mass_g))
    verdict = "inside" if low <= kj_day <= high else ("below" if kj_day < low else "above")
    derivation = Derivation(
        value=kj_day,
        unit="kJ/day",
        rule=(
            "Energy of the planned meals per day. Plausible is 0.6 to 1.6 times resting × 1.5"
            " (snakes × 1.25; × 2 and 7 kJ per gram of gain while growing), or up to the field rate"
            " of free-living reptiles. A check of plausibility; the weight decides."
        ),
        inputs=(
            named_value("body mass", mass_g, "g"),
            named_value("mean body temperature over the day", body_c, "°C"),
            named_value("resting rate", resting, "kJ/day"),
            named_value("gain of a usual animal of this stage", growth_g, "g/day"),
            named_value("plausible from", low, "kJ/day"),
            named_value("plausible to", high, "kJ/day"),
        ),
        sources=(find("resting_metabolic_rate").source, find("field_metabolic_rate").source),
        would_change="A weighing, the pace of feeding, or the temperatures of the enclosure.",
    )
    return derivation, verdict


def four_weeks(
    profile: Profile,
    stage: str,
    *,
    mass_g: float,
    body_length_m: float,
    today: dt.date,
    anchor: dt.date,
    uvb: bool,
    body_c: float,
    approaches: dict[str, str],
    lead: MealAdjustment = NO_ADJUSTMENT,
    mass_how: str = "measured",
) -> Diet:
    """Plan food and supplements for four weeks from today.

    Parameters
    ----------
    anchor : date
        A day on which it was fed: the intervals count from there.
    body_c : float
        Mean body temperature over day and night, for the energy check [°C].
    mass_how : str
        How its mass is known: measured, estimated or typical (`growth.body`).
    """
    days = 7 * WEEKS
    plans = meal_plans(
        profile,
        stage,
        mass_g=mass_g,
        body_length_m=body_length_m,
        approaches=approaches,
        lead=lead,
        mass_how=mass_how,
    )
    end = today + dt.timedelta(days=days)
    by_day = {
        plan.slug: held(
            grid(plan.every_days.value, anchor, today, days),
            plan.every_days.value,
            lead.not_before,
            end,
        )
        for plan in plans
    }
    carriers = carriers_of(profile, plans)
    rules = supplement_rules(
        profile, stage, plans, uvb=uvb, approaches=approaches, calcium_always=lead.calcium_always
    )
    # Four weeks of padding before today, so that the doses do not depend on the day on which the
    # plan is looked at.
    start = max(anchor, today - dt.timedelta(days=days))
    dusted = sorted(
        {
            day
            for plan in carriers
            for day in (
                *grid(plan.every_days.value, anchor, start, (today - start).days),
                *by_day[plan.slug],
            )
        }
    )
    doses, lapses = schedule(rules, dusted, anchor)
    on_day: dict[dt.date, list[Dose]] = {}
    for dose in doses:
        on_day.setdefault(dose.day, []).append(dose)
    meals = []
    for plan in plans:
        carries = plan in carriers
        for day in by_day[plan.slug]:
            here = on_day.get(day, []) if carries else []
            meals.append(
                Meal(
                    day=day,
                    slug=plan.slug,
                    name=plan.name,
                    dusted_with=tuple(dose.product for dose in here),
                    reason="; ".join(dose.reason for dose in here),
                )
            )
    energy, verdict = _energy(plans, mass_g, body_c, profile.stage(stage), profile.group)
    order = {plan.slug: n for n, plan in enumerate(plans)}
    return Diet(
        first_day=today,
        weeks=WEEKS,
        plans=plans,
        meals=tuple(sorted(meals, key=lambda m: (m.day, order[m.slug]))),
        lapses=tuple(lapse for lapse in lapses if lapse.due >= today),
        energy_kj_day=energy,
        energy_verdict=verdict,
        rules=rules,
        supplements=(
            explained(
                stage,
                uvb=uvb,
                approaches=approaches,
                plan=profile.supplements.plan,
                first=stage == profile.stages[0].slug,
                sources=profile.sources(profile.supplements.origin),
            )
            if carriers
            else ()
        ),
    )
