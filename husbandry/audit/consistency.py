"""Rules that hold over every profile.

Each looks at one profile and says where it fails, with a JSON pointer and a sentence.

A finding is a mistake in the file (or in the rule): the tests allow none. What a single value may
be is checked when the file is read.
"""

import datetime as dt
import itertools
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from husbandry.derivation import Source
from husbandry.enclosure.sizing import needed_m
from husbandry.feeding.calendar import four_weeks
from husbandry.feeding.feeders import FEEDERS, widest
from husbandry.feeding.prey import WIDEST_TAKEN, body_width
from husbandry.feeding.supplements import CARRIERS, default_rules
from husbandry.growth.expected import expected
from husbandry.species.approaches import QUESTIONS
from husbandry.species.needs import NeedKey
from husbandry.species.parts import NeedSpec, StageSpec
from husbandry.species.profile import Profile
from husbandry.species.selection import need_of, speaking
from husbandry.species.values import ValueRange


@dataclass(frozen=True)
class Inconsistency:
    """What a rule finds wrong in a profile."""

    rule: str
    pointer: str
    text: str


Rule = Callable[[Profile], Iterator[tuple[str, str]]]
_RULES: dict[str, Rule] = {}


def _rule(function: Rule) -> Rule:
    """Registers a rule under its name in words."""
    _RULES[function.__name__.replace("_", " ")] = function
    return function


def rules() -> tuple[str, ...]:
    """What is checked, in words."""
    return tuple(_RULES)


def findings(profile: Profile) -> list[Inconsistency]:
    """Everything that the rules find in a profile."""
    return [
        Inconsistency(name, pointer, text)
        for name, rule in _RULES.items()
        for pointer, text in rule(profile)
    ]


def _ways(profile: Profile) -> Iterator[dict[str, str]]:
    """The default approaches, then each other approach of a question that the profile answers with
    values of its own.
    """
    yield {}
    for question in sorted(profile.answered):
        for approach in QUESTIONS[question].others(QUESTIONS[question].default):
            yield {question: approach.slug}


def _needs(profile: Profile, stage: str, approaches: dict[str, str]) -> dict[NeedKey, NeedSpec]:
    return {
        key: need
        for key in NeedKey
        if (need := need_of(profile.needs, key, stage, approaches)) is not None
    }


def _at(profile: Profile, need: NeedSpec) -> str:
    mine = (
        n
        for n, other in enumerate(profile.needs)
        if (other.need, other.stages, other.approach) == (need.need, need.stages, need.approach)
    )
    return f"/needs/{next(mine, 0)}"


@_rule
def night_is_below_day_and_cool_below_warm_below_surface(
    profile: Profile,
) -> Iterator[tuple[str, str]]:
    """Between whole target ranges: the ends may meet, climates without a hot spot may overlap by
    four kelvins, and those over a mat by six.
    """
    for stage, approaches in itertools.product(profile.stages, _ways(profile)):
        has = _needs(profile, stage.slug, approaches)
        surface, warm, cool, night = (
            has.get(k)
            for k in (
                NeedKey.SURFACE_DAY,
                NeedKey.WARM_AIR_DAY,
                NeedKey.COOL_AIR_DAY,
                NeedKey.AIR_NIGHT,
            )
        )
        if profile.habit == "aquatic":
            if NeedKey.WATER_DAY not in has:
                yield (
                    "/needs",
                    f"{stage.name}: what lives in water needs a temperature of the water",
                )
            continue
        if warm is None or cool is None or night is None:
            yield (
                "/needs",
                (
                    f"{stage.name}: warm air, cool air and night air are needed of every animal"
                    " that breathes it"
                ),
            )
            continue
        slack = 1.0 if surface is not None else 4.0
        if approaches.get("heat-source") == "under-floor":  # a mat hardly warms the air
            slack = 6.0
        for colder, warmer, by, words in (
            (cool, warm, slack, "the cool end is not below the warm end"),
            (warm, surface, 1.0, "the warm air is not below the surface"),
            (night, warm, 4.0, "the night is not below the day"),
        ):
            if warmer is None:
                continue
            if (colder.high or 0) > (warmer.low or 0) + by and (colder.high or 0) > (
                colder.low or 0
            ) + 1e-9:
                overlap = (colder.high or 0) - (warmer.low or 0)
                if words == "the night is not below the day" and (night.high or 0) <= (
                    warm.high or 0
                ):
                    continue
                yield (
                    _at(profile, colder),
                    f"{stage.name}: {words}: the target ranges overlap by {overlap:g} K",
                )
        if (night.low or 0) > (cool.low or 0) + 1.0:
            yield (
                _at(profile, night),
                f"{stage.name}: the night's lower end lies above the cool end's",
            )


@_rule
def limits_of_a_place_do_not_contradict_its_neighbour(
    profile: Profile,
) -> Iterator[tuple[str, str]]:
    """The cool end's upper limit lies above its target range and under the warm air's limit; the
    surface's above the warm air's.
    """
    for stage in profile.stages:
        has = _needs(profile, stage.slug, {})
        order = [
            has.get(k) for k in (NeedKey.COOL_AIR_DAY, NeedKey.WARM_AIR_DAY, NeedKey.SURFACE_DAY)
        ]
        highs = [
            (need, need.limit_high)
            for need in order
            if need is not None and need.limit_high is not None
        ]
        for (colder, low), (_, high) in itertools.pairwise(highs):
            if low > high + 1e-9:
                yield (
                    _at(profile, colder),
                    (
                        f"{stage.name}: its upper limit of {low:g} °C lies above the next warmer"
                        f" place's {high:g} °C"
                    ),
                )


@_rule
def no_limit_rests_on_memory_alone(profile: Profile) -> Iterator[tuple[str, str]]:
    """At least one of its origins is more than a memory, or they are two independent authors with
    common practice beside them.
    """
    for n, need in enumerate(profile.needs):
        if need.limit_origin and all(
            profile.origins[key].kind == "from memory" for key in need.limit_origin
        ):
            yield (
                f"/needs/{n}",
                (
                    "its limits rest on memory alone: name common practice or a published source as"
                    " well"
                ),
            )


@_rule
def every_approach_to_a_question_is_answered(profile: Profile) -> Iterator[tuple[str, str]]:
    """Choosing an approach must not make a value vanish, but for ultraviolet by the approach of
    none.
    """
    for stage in profile.stages:
        for pointer, values in (
            ("/needs", profile.needs),
            ("/meals", profile.meals),
            ("/substrate", profile.substrate),
            ("/feeding", profile.food),
        ):
            asked = {
                (value.question, getattr(value, "need", getattr(value, "slug", "")))
                for value in values
                if value.at(stage.slug) and value.approach
            }
            for question, what in asked:
                for approach in QUESTIONS[question].approaches.values():
                    if (question, approach.slug) == ("uvb-dusk", "none"):
                        continue
                    there = [
                        v
                        for v in speaking(values, stage.slug, {question: approach.slug})
                        if getattr(v, "need", getattr(v, "slug", "")) == what
                    ]
                    if not there:
                        yield (
                            pointer,
                            (
                                f"{stage.name}: “{question}” by “{approach.slug}” has no"
                                f" {what or 'value'}"
                            ),
                        )


@_rule
def food_is_no_wider_than_the_head_allows(profile: Profile) -> Iterator[tuple[str, str]]:
    """At the smallest body of each stage: insects to the gap between the eyes, prey to one and a
    half bodies, eggs to two of the body's width.
    """
    kind = profile.body.length_kind
    for n, meal in enumerate(profile.meals):
        for stage in (s for s in profile.stages if s.slug in meal.stages):
            length_mm = stage.length_mm[kind].ends[0]
            gap_mm = profile.body.eye_gap_bl * length_mm
            for food in meal.foods & {"insects", "ants", "worms"}:
                width = widest(food, gap_mm).width_mm or 0
                if width > gap_mm:
                    yield (
                        f"/meals/{n}",
                        (
                            f"{stage.name}: the smallest {food} are {width:g} mm wide, its eyes"
                            f" {gap_mm:.1f} mm apart"
                        ),
                    )
            for food, most in (("prey", WIDEST_TAKEN), ("eggs", 2.0)):
                if food in meal.foods and profile.body.wide_share:
                    body = body_width(
                        stage.mass_g.ends[0], length_mm / 1000, profile.body.wide_share
                    )
                    least = min(f.width_mm or 0 for f in FEEDERS.values() if f.food == food)
                    if least > most * body:
                        yield (
                            f"/meals/{n}",
                            (
                                f"{stage.name}: the smallest {food} is {least:g} mm wide, its body"
                                f" {body:.1f} mm"
                            ),
                        )


@_rule
def a_larger_stage_never_gets_a_smaller_enclosure(profile: Profile) -> Iterator[tuple[str, str]]:
    """For each approach, from the smallest body of the first stage to the largest of the last."""
    kind = profile.body.length_kind
    for approach in QUESTIONS["how-big"].approaches:
        before: tuple[float, ...] = (0.0, 0.0, 0.0)
        for stage in profile.stages:
            rule = next(
                (r for r in profile.size if r.approach == approach and r.at(stage.slug)), None
            )
            if rule is None:
                yield "/size", f"{stage.name}: no enclosure by “{approach}”"
                continue
            low, high = stage.length_mm[kind].ends
            smallest = needed_m(rule, low / 1000)
            largest = needed_m(rule, high / 1000)
            if any(now < then - 0.021 for now, then in zip(largest, before, strict=True)):
                yield (
                    "/size",
                    (
                        f"{stage.name}: its enclosure by “{approach}” is smaller than that of the"
                        " stage before"
                    ),
                )
            before = tuple(max(a, b) for a, b in zip(smallest, before, strict=True))


@_rule
def the_roomy_approach_asks_for_no_less_than_the_minimum(
    profile: Profile,
) -> Iterator[tuple[str, str]]:
    """Room to behave is never smaller than what the trade calls acceptable."""
    kind = profile.body.length_kind
    for stage in profile.stages:
        sides = {}
        for approach in ("room", "minimum"):
            rule = next(r for r in profile.size if r.approach == approach and r.at(stage.slug))
            sides[approach] = needed_m(rule, stage.length_mm[kind].typical / 1000)
        if any(
            roomy < least - 0.021
            for roomy, least in zip(sides["room"], sides["minimum"], strict=True)
        ):
            yield (
                "/size",
                (
                    f"{stage.name}: room to behave asks for {sides['room']}, the minimum for"
                    f" {sides['minimum']}"
                ),
            )


@_rule
def without_uvb_there_is_vitamin_d3(profile: Profile) -> Iterator[tuple[str, str]]:
    """The approach of none implies vitamin D3 with the food, at every stage."""
    if not any(need.question == "uvb-dusk" for need in profile.needs):
        return
    plan = profile.supplements.plan
    if plan in {"whole prey", "complete diet"}:  # it is in the food itself
        return
    for stage in profile.stages:
        first = stage is profile.stages[0]
        products = {
            rule.product
            for rule in default_rules(
                stage.slug, uvb=False, approaches={"uvb-dusk": "none"}, plan=plan, first=first
            )
        }
        if "calcium + D3" not in products:
            yield "/supplements", f"{stage.name}: without UVB nothing gives it vitamin D3"


@_rule
def supplements_go_with_the_food(profile: Profile) -> Iterator[tuple[str, str]]:
    """A plan of supplements needs a food that carries them; eaters of whole prey get none."""
    foods = profile.foods
    plan = profile.supplements.plan
    if plan != "whole prey" and plan != "complete diet" and not foods & CARRIERS[plan]:
        yield "/supplements", f"none of its foods carries the supplements of “{plan}”"
    if plan == "whole prey" and foods - {"prey", "eggs"}:
        yield "/supplements", "it eats more than whole prey"
    if profile.amphibian and plan not in {"amphibian", "complete diet"}:
        yield "/supplements", "an amphibian needs preformed vitamin A"


@_rule
def amphibians_never_get_chlorinated_water(profile: Profile) -> Iterator[tuple[str, str]]:
    """They take water in through the skin."""
    if profile.amphibian and not profile.water.treated:
        yield "/water", "its water must be free of chlorine and chloramine"


@_rule
def stages_cover_life_without_a_gap(profile: Profile) -> Iterator[tuple[str, str]]:
    """Neighbours meet or overlap in age, mass and length; the first begins at birth, the last holds
    the grown animal.
    """
    for n, (younger, older) in enumerate(itertools.pairwise(profile.stages)):
        for sign, a, b in _signs(younger, older):
            if b.ends[0] > a.ends[1] + 1e-9:
                yield (
                    f"/stages/{n + 1}",
                    (
                        f"{older.name} begins at {b.ends[0]:g}, {younger.name} ends at"
                        f" {a.ends[1]:g} ({sign})"
                    ),
                )
            if b.ends[0] < a.ends[0] or (
                b.high is not None and a.high is not None and b.high < a.high
            ):
                yield f"/stages/{n + 1}", f"{older.name} is not the larger in {sign}"
    first = profile.stages[0]
    last = profile.grown
    kind = profile.body.length_kind
    for n, adult in enumerate(profile.adult):
        if not first.mass_g.holds(adult.first_mass_g.ends[0]) or not first.length_mm[kind].holds(
            adult.first_length_mm.ends[0]
        ):
            yield f"/adult/{n}", "what it begins with lies outside the first stage"
        if not last.mass_g.holds(adult.mass_g.typical) or not last.length_mm[kind].holds(
            adult.length_mm.typical
        ):
            yield f"/adult/{n}", "what it grows to lies outside the last stage"


def _signs(younger: StageSpec, older: StageSpec) -> Iterator[tuple[str, ValueRange, ValueRange]]:
    yield "age", younger.age_months, older.age_months
    yield "mass", younger.mass_g, older.mass_g
    for kind, span in younger.length_mm.items():
        if kind in older.length_mm:
            yield f"{kind} length", span, older.length_mm[kind]


ON_THE_WAY = 1.6
"""The curve at a stage's middle age lies within this factor of the stage's masses (design choice)
[1].
"""


@_rule
def the_growth_curve_passes_through_the_stages(profile: Profile) -> Iterator[tuple[str, str]]:
    """At the middle age of each stage before the last the expected mass lies in its range, give or
    take.
    """
    curve = expected(profile).usual
    for n, stage in enumerate(profile.stages[:-1]):
        age = stage.age_months.middle
        mass = curve.mass_g(age)
        low, high = stage.mass_g.ends
        if not low / ON_THE_WAY <= mass <= high * ON_THE_WAY:
            yield (
                f"/stages/{n}",
                (
                    f"{stage.name}: at {age:g} months the curve has {mass:.3g} g, the stage {low:g}"
                    f" to {high:g} g"
                ),
            )


@_rule
def meals_hold_plausible_energy(profile: Profile) -> Iterator[tuple[str, str]]:
    """For a typical body of each stage at the temperatures it needs, by each approach."""
    day = dt.date(2026, 6, 1)
    kind = profile.body.length_kind
    for stage, approaches in itertools.product(profile.stages, _ways(profile)):
        if (
            approaches.get("figure") == "practice"
        ):  # what the trade gives is shown beside the literature, even where it is too much
            continue
        diet = four_weeks(
            profile,
            stage.slug,
            mass_g=stage.mass_g.typical,
            body_length_m=stage.length_mm[kind].typical / 1000,
            today=day,
            anchor=day,
            uvb=True,
            body_c=body_temperature(profile, stage.slug),
            approaches=approaches,
        )
        if diet.energy_verdict != "inside":
            ends = {item.name: item.value for item in diet.energy_kj_day.inputs}
            yield (
                "/meals",
                (
                    f"{stage.name}: {diet.energy_kj_day.value:.3g} kJ a day is"
                    f" {diet.energy_verdict} {ends['plausible from']:.3g} to"
                    f" {ends['plausible to']:.3g}"
                ),
            )


def body_temperature(profile: Profile, stage: str) -> float:
    """Mean over day and night of what a stage needs: half of the day warm, half cool; water for
    what lives in it [°C].
    """
    has = _needs(profile, stage, {})

    def middle(key: NeedKey) -> float | None:
        need = has.get(key)
        return (
            None
            if need is None or need.low is None or need.high is None
            else (need.low + need.high) / 2
        )

    water = middle(NeedKey.WATER_DAY)
    if profile.habit == "aquatic" and water is not None:
        return water
    day = [
        t for key in (NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY) if (t := middle(key)) is not None
    ]
    night = middle(NeedKey.AIR_NIGHT)
    mean_day = sum(day) / len(day) if day else 25.0
    return (mean_day + (night if night is not None else mean_day)) / 2


ZONES = {1: (0.3, 1.0, 1.4), 2: (1.0, 2.0, 3.0), 3: (2.6, 5.0, 7.4), 4: (3.5, 7.0, 8.0)}
"""Target range and upper limit of the UV index by basking zone (docs/decisions.md, 5)."""


@_rule
def the_uv_target_is_that_of_its_zone_or_narrower(profile: Profile) -> Iterator[tuple[str, str]]:
    """A profile may narrow its zone's target range, not leave it; short sessions are stronger by
    their nature.
    """
    low, high, limit = ZONES[profile.uv.zone]
    for n, need in enumerate(profile.needs):
        if need.need is not NeedKey.UVI_DAY or need.approach == "short":
            continue
        if (
            (need.low or 0) < low - 1e-9
            or (need.high or 0) > high + 1e-9
            or (need.limit_high or limit) > limit + 1e-9
        ):
            yield (
                f"/needs/{n}",
                f"zone {profile.uv.zone} is {low:g} to {high:g}, at most {limit:g}",
            )


@_rule
def company_is_of_one_mind(profile: Profile) -> Iterator[tuple[str, str]]:
    """Alone is one; a group names its ratio and has room for it."""
    company = profile.company
    if company.manner == "alone" and (company.most != 1 or company.females_per_male is not None):
        yield "/company", "it is kept alone, yet more than one are allowed"
    if company.manner != "alone" and company.most < 2:
        yield "/company", "it is kept in company, yet only one is allowed"
    if company.males_most > company.most:
        yield "/company", "more males than animals"


@_rule
def substrate_is_deep_enough_to_dig(profile: Profile) -> Iterator[tuple[str, str]]:
    """The deepest substrate of the grown animal holds the burrow that its body asks for."""
    deep = max(
        (
            substrate.depth_m.ends[1]
            for substrate in profile.substrate
            if substrate.at(profile.grown.slug)
        ),
        default=None,
    )
    if deep is None:
        yield "/substrate", "no substrate for the grown animal"
    elif deep < 0.9 * profile.body.dig_bl * expected(profile).grown_mm / 1000:
        yield (
            "/substrate",
            f"a burrow of {profile.body.dig_bl:g} body lengths does not fit {deep:g} m",
        )


@_rule
def a_brumation_is_described(profile: Profile) -> Iterator[tuple[str, str]]:
    """Weeks, temperature and last meal, the temperature below the cool end."""
    season = profile.season
    if season.dormancy == "none":
        if season.dormancy_weeks or season.dormancy_c or season.last_meal_days:
            yield "/season", "no rest, yet one is described"
        return
    if season.dormancy_weeks is None or season.dormancy_c is None or season.last_meal_days is None:
        yield (
            "/season",
            "a rest needs its weeks, its temperature and the days without food before it",
        )
        return
    cool = _needs(profile, profile.grown.slug, {}).get(NeedKey.COOL_AIR_DAY)
    if cool is not None and cool.high is not None and season.dormancy_c.middle >= cool.high:
        yield "/season", "the rest is no cooler than its day"


@_rule
def the_young_are_described(profile: Profile) -> Iterator[tuple[str, str]]:
    """Eggs have a temperature, live young none."""
    if profile.young.bears == "eggs" and profile.young.incubation_c is None:
        yield "/young", "eggs need a temperature"
    if profile.young.bears == "live young" and profile.young.incubation_c is not None:
        yield "/young", "live young are not incubated"


@_rule
def a_life_is_longer_than_its_youth(profile: Profile) -> Iterator[tuple[str, str]]:
    """It lives longer than it takes to grow, and light lasts from 6 to 16 hours."""
    if profile.lifespan_years.span.ends[0] * 12 < profile.months_to_adult.span.ends[0]:
        yield "/lifespan_years", "it would die before it is grown"
    if not all(6 <= hours <= 16 for hours in profile.photoperiod_h.span.ends):
        yield "/photoperiod_h", "light lasts from 6 to 16 hours"


@_rule
def every_value_names_a_known_kind_of_origin(profile: Profile) -> Iterator[tuple[str, str]]:
    """Published, from memory, or common practice; a memory has its author."""
    for key, source in profile.origins.items():
        if source.kind not in {"published", "from memory", "common practice", "entered"}:
            yield f"/origins/{key}", f"“{source.kind}” is no origin of a profile"
        if source.kind in {"published", "from memory"} and not _named(source):
            yield f"/origins/{key}", "a source has its author and its year or title"


def _named(source: Source) -> bool:
    return len(source.text) > 10 or source.text.startswith("CITES")
