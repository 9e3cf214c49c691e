"""What the species guide shows: the list, a species, several side by side."""

from collections.abc import Sequence
from dataclasses import dataclass

from django.utils.safestring import SafeString, mark_safe

from husbandry.errors import ImpossibleStateError
from husbandry.life_plan.suitability import (
    Facts,
    Food,
    HouseholdOffer,
    Suitability,
    against,
    asked_of,
    facts_of,
)
from husbandry.quantity import Kind, Units, show
from husbandry.species import common
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.species.profile import Profile
from husbandry.species.searching import Index
from husbandry.species.selection import need_of, need_otherwise, speaking
from husbandry.species.variant import Edit
from ridgeback.animals.wording import between, sides, years
from ridgeback.derivations import DerivationView, derivation_view
from ridgeback.drawing.scale_view import beside, silhouette, silhouette_svg
from ridgeback.drawing.svg import write
from ridgeback.households.models import Household
from ridgeback.households.money import money
from ridgeback.sentences import because, otherwise
from ridgeback.species_guide.values import Value, sections, value_text

LEVELS = {
    "first animal": "a first animal",
    "some experience": "some experience",
    "long experience": "long experience",
}
WHY_NOT = {
    "space": "needs more space",
    "room too hot": "the room gets too hot",
    "night too cold unheated": "needs heat at night",
    "power": "needs more power",
    "insects": "eats live insects",
    "whole prey": "eats whole prey",
    "experience": "not for a first animal",
    "hours": "not awake by day",
}


@dataclass(frozen=True)
class SpeciesRow:
    """A species in the list."""

    slug: str
    name: str
    species: str
    other_names: str
    drawing: SafeString
    words: str
    enclosure: str
    level: str
    food: str
    own: int


@dataclass(frozen=True)
class UnsuitedRow:
    """A species that does not match what a household can give, and why."""

    slug: str
    name: str
    why_not: tuple[str, ...]


def _food_words(profile: Profile, facts: Facts) -> str:
    if facts.whole_prey:
        return "whole prey"
    if "eggs" in profile.foods:
        return "eggs"
    if facts.live_insects:
        return "live food"
    return "prepared food" if profile.supplements.plan == "complete diet" else "plants"


def row_of(profile: Profile, units: Units, own: int) -> SpeciesRow:
    """One species of the list."""
    facts = facts_of(profile)
    active = {
        "diurnal": "awake by day",
        "nocturnal": "awake by night",
        "crepuscular": "awake at dusk",
    }[profile.activity]
    return SpeciesRow(
        profile.slug,
        profile.name,
        profile.species,
        ", ".join(profile.other_names[:3]),
        silhouette_svg(profile),
        f"{years(profile.lifespan_years.span)}, {active}",
        f"enclosure {sides(facts.enclosure_m, units)}",
        LEVELS[facts.level],
        _food_words(profile, facts),
        own,
    )


def unsuited_row_of(profile: Profile, reasons: Sequence[str]) -> UnsuitedRow:
    """One species that does not match."""
    return UnsuitedRow(profile.slug, profile.name, tuple(WHY_NOT[reason] for reason in reasons))


def found(
    index: Index, query: str, offer: HouseholdOffer
) -> tuple[list[Profile], list[tuple[Profile, tuple[str, ...]]]]:
    """The species that answer to the words: those that this household could keep, and those that it
    could not with what speaks against them.
    """
    fitting = []
    others = []
    for profile in index.find(query):
        reasons = against(facts_of(profile), offer)
        if reasons:
            others.append((profile, reasons))
        else:
            fitting.append(profile)
    return fitting, others


@dataclass(frozen=True)
class NeedRow:
    """A need by stage."""

    name: str
    place: str
    cells: tuple[str, ...]
    others: tuple[tuple[str, str, str], ...]
    """Approach, what it says, why; of the grown animal."""


@dataclass(frozen=True)
class AskedView:
    """The answer to "could I keep this?"."""

    asked: Suitability
    drawing: SafeString
    enclosure: str
    years: str
    until: str
    cost: str
    """A year."""
    parts: tuple[tuple[str, str], ...]
    electricity: DerivationView
    food_derivation: DerivationView
    week: tuple[str, ...]
    setup: str
    animal: str


@dataclass(frozen=True)
class SpeciesPage:
    """The page of one species."""

    asked: AskedView
    stages: tuple[str, ...]
    needs: tuple[NeedRow, ...]
    sections: list[tuple[str, str, list[Value]]]
    edits: tuple[tuple[str, str, str, str, str], ...]
    """Pointer, label, the guide's value, the keeper's, the reason."""
    cautions: tuple[str, ...]
    signs: tuple[str, ...]
    memory: str
    drawing: SafeString


def _food_line(item: Food, units: Units) -> str:
    if item.count is None:
        kilos = units.system != "us" and item.grams >= 1000
        return (
            f"{item.grams / 1000:.1f} kg {item.name}"
            if kilos
            else f"{show(item.grams, Kind.MASS, units)} {item.name}"
        )
    if item.count < 0.75:
        return f"a {item.name} every {1 / max(item.count, 1e-6):.0f} weeks"
    return f"{item.count:.0f} × {item.name}"


def _length(profile: Profile, units: Units) -> str:
    low, high = profile.adult_of("any").length_mm.ends
    return between(low / 1000, high / 1000, Kind.LENGTH, units)


def asked_view(
    profile: Profile, household: Household | None, units: Units, keeper_age: float | None
) -> AskedView:
    """What keeping one asks for, in the household's money."""
    asked = asked_of(profile, keeper_age=keeper_age)
    rate, kwh = (household.euro_rate, household.kwh_price) if household else (1.0, 0.3)
    power_eur = asked.electricity_kwh.value * kwh / rate
    whole = power_eur + asked.food_eur.value + asked.other_eur
    until = ""
    if asked.keeper_until is not None:
        a, b = asked.keeper_until
        until = f"You would be {a:.0f} to {b:.0f} years old at its end."
        if asked.outlives:
            until += " It may outlive you: name somebody who would take it on."
    return AskedView(
        asked,
        mark_safe(write(beside(profile, asked.enclosure_m, units))),  # our own writer escapes
        sides(asked.enclosure_m, units),
        years(profile.lifespan_years.span),
        until,
        money(whole, household),
        (
            (f"electricity, {asked.electricity_kwh.value:.0f} kWh", money(power_eur, household)),
            ("food", money(asked.food_eur.value, household)),
            (
                "lamps, substrate, supplements, a look at its droppings",
                money(asked.other_eur, household),
            ),
        ),
        derivation_view(asked.electricity_kwh, units),
        derivation_view(asked.food_eur, units),
        tuple(_food_line(item, units) for item in asked.food),
        f"{money(asked.setup_eur[0], household)} to {money(asked.setup_eur[1], household)}",
        f"{money(asked.animal_eur[0], household)} to {money(asked.animal_eur[1], household)}",
    )


def _need_rows(profile: Profile, units: Units) -> tuple[NeedRow, ...]:
    rows = []
    for key, kind in NEEDS.items():
        cells = []
        for stage in profile.stages:
            need = need_of(profile.needs, key, stage.slug, {})
            cells.append(
                between(need.low, need.high, kind.kind, units) if need is not None else ""
            )
        if not any(cells):
            continue
        grown = profile.grown.slug
        told = need_otherwise(
            profile.needs, key, grown, {}, constant="humidity-figure" in profile.questions
        )
        others = tuple(
            (other.approach, otherwise(other, units), because(other.why)) for other in told
        )
        rows.append(
            NeedRow(
                kind.name,
                f"{kind.place}, {kind.phase}" if kind.phase == "night" else kind.place,
                tuple(cells),
                others,
            )
        )
    return tuple(rows)


def species_page(
    profile: Profile,
    shipped: Profile,
    edits: Sequence[Edit],
    household: Household | None,
    units: Units,
    keeper_age: float | None,
) -> SpeciesPage:
    """Everything of a species' page."""
    own = frozenset(edit.at for edit in edits)
    return SpeciesPage(
        asked_view(profile, household, units, keeper_age),
        tuple(stage.name for stage in profile.stages),
        _need_rows(profile, units),
        sections(profile, own, units),
        tuple(
            (
                e.at,
                label_at(shipped, e.at),
                value_text(shipped, e.at, e.was, units),
                value_text(shipped, e.at, e.value, units),
                e.reason,
            )
            for e in edits
        ),
        tuple(common.cautions(profile)),
        tuple(common.signs(profile)),
        f"{profile.memory_share:.0%}",
        mark_safe(write(silhouette(profile, 220, 120))),  # our own writer escapes
    )


def label_at(profile: Profile, at: str) -> str:
    """What the value at a pointer is called."""
    for _, _, values in sections(profile, frozenset(), Units()):
        for value in values:
            for leaf in value.leaves:
                if leaf.at == at:
                    return " ".join(
                        part
                        for part in (
                            value.title,
                            f"({value.context})" if value.context else "",
                            leaf.label,
                        )
                        if part
                    )
    return at


def shown(key: NeedKey, profile: Profile, units: Units) -> str:
    """A need of the grown animal."""
    need = need_of(profile.needs, key, profile.grown.slug, {})
    return "" if need is None else between(need.low, need.high, NEEDS[key].kind, units)


def _need_name(key: NeedKey) -> str:
    kind = NEEDS[key]
    return kind.name if kind.phase == "day" or "ight" in kind.name else f"{kind.name} at night"


def compare_rows(
    profiles: Sequence[Profile], household: Household | None, units: Units
) -> list[tuple[str, list[str], bool]]:
    """Side by side: what is compared, what each says, whether they differ."""
    facts = [facts_of(profile) for profile in profiles]
    asked = [asked_view(profile, household, units, None) for profile in profiles]
    grown = [profile.adult_of("any") for profile in profiles]
    rest = {"none": "none", "possible": "possible", "usual": "usual", "obligate": "always"}

    def each(say: object) -> list[str]:
        if not callable(say):
            raise ImpossibleStateError("missing: callable(say)")

        return [str(say(n)) for n in range(len(profiles))]

    table = [
        ("Grown length", each(lambda n: _length(profiles[n], units))),
        (
            "Grown mass",
            each(lambda n: between(grown[n].mass_g.low, grown[n].mass_g.high, Kind.MASS, units)),
        ),
        ("Lives", each(lambda n: years(profiles[n].lifespan_years.span))),
        ("For", each(lambda n: LEVELS[facts[n].level])),
        ("Habit", each(lambda n: f"{profiles[n].habit}, {profiles[n].activity}")),
        ("Grown enclosure", each(lambda n: sides(facts[n].enclosure_m, units))),
        (
            "Company",
            each(lambda n: f"{profiles[n].company.manner}, at most {profiles[n].company.most}"),
        ),
        *(
            (_need_name(key), each(lambda n, key=key: shown(key, profiles[n], units)))
            for key in NEEDS
        ),
        ("UV", each(lambda n: f"zone {profiles[n].uv.zone}, {profiles[n].uv.pattern}")),
        (
            "Substrate",
            each(
                lambda n: speaking(profiles[n].substrate, profiles[n].grown.slug, {})[0].kinds[0]
            ),
        ),
        ("Water", each(lambda n: profiles[n].water.dish)),
        ("A week of food", each(lambda n: ", ".join(asked[n].week))),
        ("Supplements", each(lambda n: profiles[n].supplements.plan)),
        ("Brumation", each(lambda n: rest[profiles[n].season.dormancy])),
        ("Handling", each(lambda n: profiles[n].handling.how_often)),
        ("Connected load", each(lambda n: show(facts[n].power_w, Kind.POWER, units))),
        ("A year costs", each(lambda n: asked[n].cost)),
        ("Setting up", each(lambda n: asked[n].setup)),
        ("The animal", each(lambda n: asked[n].animal)),
        ("Permits", each(lambda n: profiles[n].permits.text)),
    ]

    return [(name, cells, len(set(cells)) > 1) for name, cells in table if any(cells)]
