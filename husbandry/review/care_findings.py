"""Food, supplements, water in the air, company: what is wrong of what was said.

Rules are common practice unless a profile says otherwise. Method: docs/methods/second-look.md.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from husbandry.derivation import Derivation, OtherApproach, Source, named_value
from husbandry.documents.result import COMPANY, AnimalFound
from husbandry.feeding.feeders import widest_insect
from husbandry.feeding.supplements import HOLD_D3, default_rules, supplement_words
from husbandry.quantity import Kind
from husbandry.review.description import Description, SaidRange
from husbandry.review.findings import Evidence, ReviewFinding, finding
from husbandry.review.food_sizes import OF_ONE_SIZE, feeder_said
from husbandry.review.need_findings import Seen
from husbandry.review.vocabulary import PACKAGE
from husbandry.species.parts import MealSpec
from husbandry.species.profile import Profile
from husbandry.tables import rows

TOO_OFTEN, TOO_SELDOM = 0.55, 1.8
"""Of the pace of its meals, beyond which it gets fat or thin (design choice) [1]."""
TREAT_DAYS = 14.0
"""Between two treats, at the least (common practice) [days]."""
GENTLE = ("gives them no rest", "Too many together")
"""In the notes on too few females for a male and on too many in all, which harm over weeks (design
choice).
"""
TAKES: dict[str, frozenset[str]] = {
    "insects": frozenset({"insects", "worms", "ants"}),
    "worms": frozenset({"insects", "worms", "fish"}),
    "ants": frozenset({"insects", "ants"}),
    "prey": frozenset({"prey"}),
    "greens": frozenset({"greens"}),
    "fruit": frozenset({"fruit"}),
    "grass": frozenset({"grass", "greens"}),
    "pellets": frozenset({"pellets", "fish"}),
    "paste": frozenset({"paste", "insects"}),
    "eggs": frozenset({"eggs"}),
}
"""Groups of `foods.csv` that answer to a food of a profile."""


@dataclass(frozen=True)
class FoodRow:
    """A food as the table has it."""

    name: str
    group: str
    role: str
    why: str


def foods() -> dict[str, FoodRow]:
    """The foods of the vocabulary, by name."""
    return {
        row["name"]: FoodRow(row["name"], row["group"], row["role"], row["why"])
        for row in rows(PACKAGE, "foods.csv")
    }


def care_findings(seen: Seen) -> list[ReviewFinding]:
    """Everything about feeding, supplements, misting and company."""
    return [
        *_company(seen),
        *harmful_food(seen.said, seen.assumed.profile),
        *_wrong_food(seen),
        *_pace(seen),
        *_large_prey(seen),
        *_insect_sizes(seen),
        *_supplements(seen),
        *_misting(seen),
    ]


def _company(seen: Seen) -> Iterator[ReviewFinding]:
    notes = [note for note in seen.plan.notes if note.slug == COMPANY]

    if not notes:
        return
    texts = [note.text for note in notes]
    gentle = all(any(words in text for words in GENTLE) for text in texts)
    yield finding("company", text=" ".join(texts), rank="harm" if gentle else "danger")


def harmful_food(whole: Description, profile: Profile | None) -> Iterator[ReviewFinding]:
    """Food that poisons, or makes ill when it is fed for weeks."""
    table = foods()
    rules = profile.food if profile is not None else ()
    never = " ".join(words for rule in rules for words in rule.never)

    for said in whole.food or ():
        row = table[said.name]
        if row.role == "deadly":
            rank, title = "danger", f"{said.name.capitalize()} as food"
        elif row.role == "never" or (
            row.name == "fruit" and "fruit as a habit" in never and _often(said.every_days)
        ):
            rank, title = "harm", f"{said.name.capitalize()} as food"
        else:
            continue
        yield finding(
            "food",
            slug=f"food {said.name}",
            rank=rank,
            title=title,
            text=f"{_sentence(row.why)}.",
            consequence="It is poison for this animal."
            if rank == "danger"
            else "Fed for weeks it makes the animal ill.",
            weight=6.0 if rank == "danger" else 3.3,
        )


def _sentence(words: str) -> str:
    return words[:1].upper() + words[1:] if words else "It is not for this species"


def _often(pace: SaidRange | None) -> bool:
    return pace is not None and pace.middle < 7


def _wrong_food(seen: Seen) -> Iterator[ReviewFinding]:
    """What is offered against what its species lives on at this stage."""
    if not seen.said.food:
        return
    profile = seen.assumed.profile
    table = foods()
    offered = [table[said.name] for said in seen.said.food]
    groups = {row.group for row in offered if row.role not in {"never", "deadly", "poor"}}
    wanted = wanted_foods(profile, stage_of(seen))
    main = [
        food
        for food in wanted
        if food
        in {"insects", "prey", "greens", "grass", "pellets", "paste", "eggs", "worms", "ants"}
    ]

    if wanted and not any(groups & TAKES.get(food, frozenset()) for food in main):
        yield finding(
            "wrong food",
            text=f"It lives on {_listed(wanted)}, and none of it was named.",
            fix=f"Feed {_listed(main)} as the main food.",
        )

    if "greens" in wanted and "greens" not in groups and "grass" not in groups and groups:
        yield finding("no greens", rank="harm" if wanted[0] in {"greens", "grass"} else "missing")
    yield from _animal_food(seen, profile, offered)
    yield from _one_sided(offered, wanted)


def _animal_food(
    seen: Seen, profile: Profile, offered: Sequence[FoodRow]
) -> Iterator[ReviewFinding]:
    """Insects and meat for a plant eater, rodents for an insect eater."""
    foods = profile.foods
    meat = [
        row
        for row in offered
        if row.group in {"insects", "worms", "prey", "fish", "eggs"}
        and row.role not in {"never", "deadly"}
    ]

    if profile.supplements.plan == "plant eater" and meat and not foods & {"insects", "worms"}:
        yield finding(
            "animal food",
            text=f"{_sentence(_listed([row.name for row in meat]))}: it eats plants only.",
        )
    rodents = [row for row in meat if row.group == "prey"]

    if rodents and "prey" not in foods and profile.supplements.plan != "plant eater":
        paces = {one.name: one.every_days for one in seen.said.food or ()}
        seldom = all(
            (pace := paces[row.name]) is not None and pace.low >= TREAT_DAYS for row in rodents
        )
        yield finding("rodents", rank="better" if seldom else "harm")


def _one_sided(offered: Sequence[FoodRow], wanted: Sequence[str]) -> Iterator[ReviewFinding]:
    """Only treats, only poor leaves, only one insect."""
    insects = [
        row for row in offered if row.group == "insects" and row.role not in {"never", "deadly"}
    ]

    if insects and "insects" in wanted:
        roles = {row.role for row in insects}
        if roles <= {"treat", "sometimes"} and not any(row.group == "paste" for row in offered):
            yield finding(
                "only treats",
                text=f"{_sentence(_listed([row.name for row in insects]))}: {insects[0].why}.",
            )
        elif len(insects) == 1 and insects[0].name not in {"insects"} and "paste" not in wanted:
            yield finding("one insect")
    leaves = [row for row in offered if row.group == "greens"]

    if leaves and all(row.role == "poor" for row in leaves) and {"greens", "grass"} & set(wanted):
        yield finding("poor greens", text=f"{_sentence(leaves[0].why)}.")


def stage_of(seen: Seen) -> str:
    """The stage of the animal that the enclosure is judged by."""
    return seen.assumed.needs.occupants[seen.assumed.needs.lead].stage.slug


def wanted_foods(profile: Profile, stage: str) -> list[str]:
    """Foods at that stage, the largest share first."""
    shares: dict[str, float] = {}

    for meal in profile.meals:
        if stage in meal.stages:
            for part in meal.parts:
                shares[part.food] = max(
                    shares.get(part.food, 0.0), part.share / max(meal.every_days[0], 1.0)
                )

    return sorted(shares, key=lambda food: -shares[food])


def _listed(words: Sequence[str]) -> str:
    return " and ".join([", ".join(words[:-1]), words[-1]] if len(words) > 1 else words)


def _pace(seen: Seen) -> Iterator[ReviewFinding]:
    """Meals far more often or more seldom than its species eats."""
    profile = seen.assumed.profile
    table = foods()
    stage = stage_of(seen)

    for group in ("insects", "prey", "paste"):
        spec = usual_meal(profile, stage, group)
        said = _said_pace(seen.said, table, group)
        if spec is None or said is None:
            continue
        low, high = spec.every_days
        often = said.high < TOO_OFTEN * low
        seldom = said.low > TOO_SELDOM * high
        if not often and not seldom:
            continue
        young = stage in {one.slug for one in profile.stages[:2]}
        yield finding(
            "fed",
            slug="fed too often" if often else "fed too seldom",
            rank="harm" if seldom and young else "better",
            title="Fed too often" if often else "Fed too seldom",
            text=f"Every {_days(said)}; every {low:g} to {high:g} days is usual at this age.",
            consequence="It gets fat, and its liver with it."
            if often
            else "It grows badly or wastes away.",
            fix=f"A meal every {low:g} to {high:g} days; weigh it monthly.",
            others=_meal_others(seen, spec.slug),
        )


def _meal_others(seen: Seen, slug: str) -> tuple[OtherApproach, ...]:
    """What other approaches say of how often a meal comes and of what it is."""
    return tuple(
        other
        for plan in _lead(seen).diet.plans
        if plan.slug == slug
        for derivation in (plan.every_days, *(part.derivation for part in plan.portions))
        for other in derivation.others
    )


def _lead(seen: Seen) -> AnimalFound:
    return max(seen.plan.animals, key=lambda animal: animal.length_m)


def _days(pace: SaidRange) -> str:
    if pace.low == pace.high:
        return "day" if pace.low == 1 else f"{pace.low:.3g} days"
    return f"{pace.low:.3g} to {pace.high:.3g} days"


def usual_meal(profile: Profile, stage: str, group: str) -> MealSpec | None:
    """The meal of a stage that is mostly of that group; None where it eats none."""
    return next(
        (
            meal
            for meal in profile.meals
            if stage in meal.stages
            and any(part.food == group and part.share >= 0.5 for part in meal.parts)
        ),
        None,
    )


def _said_pace(said: Description, table: dict[str, FoodRow], group: str) -> SaidRange | None:
    paces = [
        one.every_days
        for one in said.food or ()
        if table[one.name].group == group
        and table[one.name].role in {"staple", "sometimes"}
        and one.every_days
    ]
    others = [one for one in said.food or () if table[one.name].group == group]

    if paces:
        return min(paces, key=lambda pace: pace.low)

    return said.feeding_days if others else None


LARGE_PREY = 0.3
"""Of the body's mass: more in one prey is brought up again (common practice: 10 to 15 % is usual)
[1].
"""


def _large_prey(seen: Seen) -> Iterator[ReviewFinding]:
    """A prey that weighs more than three tenths of what eats it."""
    lead = _lead(seen)
    known = seen.said.animal
    if known.mass_g is None and known.stage is None and known.age_months is None:
        return

    for food in seen.said.food or ():
        feeder = feeder_said(food)
        if (
            feeder is not None
            and feeder.food == "prey"
            and feeder.mass_g > LARGE_PREY * lead.mass_g
        ):
            share = 100 * feeder.mass_g / lead.mass_g
            yield finding(
                "large prey",
                text=f"A {feeder.name} weighs about {share:.0f} % of it; 10 to 15 % is usual.",
                fix=f"Prey of about {0.12 * lead.mass_g:.0f} g, no wider than its body.",
                others=tuple(
                    other
                    for plan in lead.diet.plans
                    for part in plan.portions
                    for other in part.derivation.others
                ),
            )


WIDE_INSECT, NARROW_INSECT = 1.6, 0.25
"""Of the gap between the eyes: wider insects are spat out or stay in the throat, narrower ones are
hunted for little (common practice: an insect is as wide as the gap at the most) [1].
"""


def _insect_sizes(seen: Seen) -> Iterator[ReviewFinding]:
    """Insects that are too wide for the smallest animal, or too small to be worth the hunt."""
    known = seen.said.animal
    if known.mass_g is None and known.stage is None and known.age_months is None:
        return

    gap = eye_gap(seen)
    gap_mm = 1000 * gap.value
    said = [feeder_said(one) for one in seen.said.food or ()]
    insects = [one for one in said if one is not None and one.food == "insects"]
    widths = {one: one.width_mm for one in insects if one.width_mm}
    fits = widest_insect(gap_mm).name

    for insect, width_mm in widths.items():
        if width_mm > WIDE_INSECT * gap_mm:
            yield finding(
                "large insects",
                text=f"{_sentence(insect.name)}: wider than the gap between its eyes.",
                fix=f"Insects no wider than that gap ({fits}).",
                evidence=_widths(width_mm, gap),
            )

    long_ones = any(one.kind in OF_ONE_SIZE for one in widths)  # a larva's length makes up for it
    if widths and not long_ones and max(widths.values()) < NARROW_INSECT * gap_mm:
        named = _sentence(_listed([one.name for one in widths]))
        yield finding(
            "small insects",
            text=f"{named}: much smaller than the gap between its eyes.",
            fix=f"Insects about as wide as that gap ({fits}).",
            evidence=_widths(max(widths.values()), gap),
        )


def eye_gap(seen: Seen) -> Derivation:
    """The gap between the eyes of the smallest animal [m]."""
    share = seen.assumed.profile.body.eye_gap_bl
    least_m = min(animal.length_m for animal in seen.plan.animals)

    return Derivation(
        value=share * least_m,
        unit="m",
        rule="A share of the body's length, by its species: an insect is about as wide at the most.",
        inputs=(
            named_value("its length, the smallest", least_m, "m"),
            named_value("gap over length", share, "1"),
        ),
        sources=(Source(kind="common practice"),),
    )


def _widths(width_mm: float, gap: Derivation) -> tuple[Evidence, Evidence]:
    width_m = width_mm / 1000
    return (
        Evidence(what="said", kind=Kind.LENGTH, low=width_m, high=width_m, of="width"),
        Evidence(what="needed", kind=Kind.LENGTH, high=gap.value, derivation=gap),
    )


def _supplements(seen: Seen) -> Iterator[ReviewFinding]:
    said = seen.said.supplements
    plan = seen.assumed.profile.supplements.plan

    if said is None or plan == "whole prey":
        return
    uvb = bool(seen.said.uv)
    approaches = seen.assumed.request.approaches_of(0)
    rules = default_rules(stage_of(seen), uvb=uvb, approaches=approaches, plan=plan)
    others = tuple(one for rule in _lead(seen).diet.supplements for one in rule.others)

    if said == ():
        fed_insects = any(foods()[one.name].group == "insects" for one in seen.said.food or ())
        if plan == "complete diet" and not fed_insects:
            return
        yield finding(
            "no supplements",
            rank="harm" if plan != "complete diet" else "missing",
            fix=supplement_words(rules),
            others=others,
        )
        return
    products = {one.product for one in said}

    if not products & {"calcium", "calcium + D3"}:
        yield finding("no calcium", fix=supplement_words(rules), others=others)

    if plan in {"insect eater", "amphibian"} and seen.said.uv == () and not products & HOLD_D3:
        yield finding("no d3")

    if plan in {"insect eater", "amphibian"} and not products & {"multivitamin", "vitamin A"}:
        yield finding("no vitamins", fix=supplement_words(rules), others=others)
    yield from _too_much_d3(seen, uvb=uvb)


def _too_much_d3(seen: Seen, *, uvb: bool) -> Iterator[ReviewFinding]:
    """D3 at every meal beside a UVB lamp."""
    for one in seen.said.supplements or ():
        daily = one.every_meal or (one.every_days is not None and one.every_days.high <= 2)
        if uvb and one.product == "calcium + D3" and daily:
            yield finding("much d3")


def _misting(seen: Seen) -> Iterator[ReviewFinding]:
    """Never misted, though its species lives by it."""
    profile = seen.assumed.profile
    said = seen.said
    low = profile.moisture.mistings_per_day.low or 0.0

    if said.mistings_per_day != 0 or said.fogger or low < 0.5 or said.humidity_pct is not None:
        return
    yield finding("no misting", fix=f"Mist {low:g} times a day, and let it dry between.")
