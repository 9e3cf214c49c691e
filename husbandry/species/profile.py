"""The profile of a species: a data file in which every value names its origin.

Format and rules: docs/formats/profile.md. Adding a species is adding a file to `profiles/`;
`library.py` reads them.
"""

import functools
import hashlib
from typing import Any, Literal, Self

from pydantic import ValidationError, model_validator

from husbandry.derivation import Document, Source
from husbandry.errors import DocumentError, Problem
from husbandry.json_text import read_json
from husbandry.species.approaches import QUESTIONS, questions_of
from husbandry.species.care import (
    Company,
    Costs,
    EnclosureNeeds,
    Explained,
    FoodRules,
    Handling,
    Hides,
    KeeperExperience,
    Moisture,
    Reproduction,
    Season,
    Signs,
    Soak,
    SubstrateSpec,
    Water,
)
from husbandry.species.needs import NeedKey
from husbandry.species.parts import (
    AdultSize,
    BodyFacts,
    MealSpec,
    NeedSpec,
    SizeRule,
    StageSpec,
    SupplementSpec,
    UvSpec,
)
from husbandry.species.values import SourcedRange, SourcedText, SourcedValue, StageChoice

FORMAT = "ridgeback-profile/3"
AMPHIBIANS = frozenset({"frog", "toad", "salamander"})
TAIL_LYING = 0.5
"""Share of a body that lies: a longer tail does not count (common practice) [1]."""


class Profile(Document):
    """A species."""

    format: Literal["ridgeback-profile/3"]
    species: str
    name: str
    other_names: tuple[str, ...] = ()
    group: Literal["lizard", "snake", "tortoise", "turtle", "frog", "toad", "salamander"]
    habit: Literal[
        "terrestrial",
        "semi-arboreal",
        "arboreal",
        "fossorial",
        "saxicolous",
        "semi-aquatic",
        "aquatic",
    ]
    activity: Literal["diurnal", "nocturnal", "crepuscular"]
    origins: dict[str, Source]
    home: SourcedText
    """Where it lives in the wild, and how."""
    body: BodyFacts
    adult: tuple[AdultSize, ...]
    months_to_adult: SourcedRange
    """To nine tenths of its grown mass."""
    lifespan_years: SourcedRange
    stages: tuple[StageSpec, ...]
    company: Company
    enclosure: EnclosureNeeds
    size: tuple[SizeRule, ...]
    straight_to_adult: "AdultEnclosure"
    needs: tuple[NeedSpec, ...]
    uv: UvSpec
    photoperiod_h: SourcedRange
    moisture: Moisture
    substrate: tuple[SubstrateSpec, ...]
    hides: Hides
    water: Water
    soaks: tuple[Soak, ...] = ()
    meals: tuple[MealSpec, ...]
    food: tuple[FoodRules, ...]
    supplements: SupplementSpec
    season: Season
    handling: Handling
    sexes: SourcedText
    young: Reproduction
    signs: Signs
    cautions: tuple[SourcedText, ...]
    permits: SourcedText
    healthy: SourcedText
    costs: Costs
    keeper: KeeperExperience
    explains: tuple[Explained, ...] = ()

    @model_validator(mode="after")
    def _references(self) -> Self:
        stages = {stage.slug for stage in self.stages}
        for path, item in self.walk():
            for key in (*item.origin, *getattr(item, "limit_origin", ())):
                if key not in self.origins:
                    raise ValueError(
                        f"{path}: the origin “{key}” is not among the profile's origins"
                    )
            for stage in getattr(item, "stages", ()):
                if stage not in stages:
                    raise ValueError(f"{path}: there is no stage “{stage}”")
            question = getattr(item, "question", "")
            approach = getattr(item, "approach", "")
            if path.startswith("/size/"):
                question = "how-big"
            if approach and (
                question not in QUESTIONS or approach not in QUESTIONS[question].approaches
            ):
                raise ValueError(
                    f"{path}: there is no approach “{approach}” for the question “{question}”"
                )
        if self.amphibian and not self.water.treated:
            raise ValueError(
                "water: an amphibian takes water in through its skin, so its water is treated"
            )
        if any("prey" in meal.foods for meal in self.meals) and self.body.wide_share is None:
            raise ValueError(
                "body: whole prey is measured against the body's width, which needs wide_share"
            )
        if any("prey" in meal.foods for meal in self.meals) and not all(
            one.prey for one in self.food
        ):
            raise ValueError("food: whole prey is served, so it says which animals it eats")

        return self

    def __hash__(self) -> int:
        return hash(self.hash)

    @property
    def basks(self) -> bool:
        """Whether it needs a warm surface."""
        return any(need.need is NeedKey.SURFACE_DAY for need in self.needs)

    @property
    def slug(self) -> str:
        """The scientific name for addresses and file names."""
        return self.species.lower().replace(" ", "-")

    @property
    def amphibian(self) -> bool:
        """Of those that drink and breathe through the skin."""
        return self.group in AMPHIBIANS

    @property
    def grown(self) -> StageSpec:
        """The last stage."""
        return self.stages[-1]

    @property
    def foods(self) -> frozenset[str]:
        """Every food of any stage."""
        return frozenset(food for meal in self.meals for food in meal.foods)

    @functools.cached_property
    def answered(self) -> frozenset[str]:
        """The questions between approaches that it answers with values of its own."""
        return frozenset(
            item.question
            for _, item in self.walk()
            if isinstance(item, StageChoice) and item.question
        )

    @functools.cached_property
    def questions(self) -> tuple[str, ...]:
        """The questions between approaches that concern this species, by slug."""
        return questions_of(
            self.answered,
            foods=self.foods,
            amphibian=self.amphibian,
            aquatic=self.habit == "aquatic",
            dormancy=self.season.dormancy,
            suns=any(
                need.need is NeedKey.UVI_DAY and need.low and not need.question
                for need in self.needs
            ),
        )

    def stage(self, slug: str) -> StageSpec:
        """The stage of that slug."""
        return next(stage for stage in self.stages if stage.slug == slug)

    def nose_to_tail_m(self, length_m: float) -> float:
        """The whole length of a body of that length, of the kind it is counted in: with its tail,
        for drawing it [m].
        """
        own = self.grown.length_mm[self.body.length_kind]
        whole = self.grown.length_mm.get("total")
        return length_m if whole is None else length_m * whole.typical / own.typical

    def lying_m(self, length_m: float) -> float:
        """The length of a body as it lies in a hide or in its water: a tail that is longer than the
        rest curls around it or hangs out [m].
        """
        own, rest = (
            self.grown.length_mm[self.body.length_kind],
            self.grown.length_mm.get("snout_vent"),
        )
        if rest is None:
            return length_m
        return length_m * min(rest.typical / own.typical / (1 - TAIL_LYING), 1.0)

    def adult_of(self, sex: str) -> AdultSize:
        """What one of that sex grows to; of any sex where the profile does not tell them apart."""
        return next((adult for adult in self.adult if adult.sex == sex), self.adult[0])

    def sources(self, keys: tuple[str, ...]) -> tuple[Source, ...]:
        """The origins behind those keys."""
        return tuple(self.origins[key] for key in keys)

    def walk(self) -> "list[tuple[str, SourcedValue]]":
        """Every value that has an origin, with its JSON pointer."""
        return [(path, item) for path, item in _walk(self) if isinstance(item, SourcedValue)]

    @functools.cached_property
    def memory_share(self) -> float:
        """Share of the values that lean on memory, with no published source opened [1]."""
        kinds = [{self.origins[key].kind for key in item.origin} for _, item in self.walk()]
        return sum("from memory" in k and "published" not in k for k in kinds) / len(kinds)

    @functools.cached_property
    def hash(self) -> str:
        """Short content hash; plans carry it."""
        return hashlib.sha256(self.model_dump_json().encode()).hexdigest()[:16]


class AdultEnclosure(SourcedValue):
    """Whether it is put into its grown enclosure from the start."""

    yes: bool


Profile.model_rebuild()


def _walk(item: Any, path: str = "") -> list[tuple[str, Document]]:
    """Every document inside a document, with its JSON pointer."""
    found: list[tuple[str, Document]] = []
    if isinstance(item, Document):
        found.append((path, item))
        for name in type(item).model_fields:
            found += _walk(getattr(item, name), f"{path}/{name}")
    elif isinstance(item, tuple):
        for n, part in enumerate(item):
            found += _walk(part, f"{path}/{n}")
    elif isinstance(item, dict):
        for key, part in item.items():
            found += _walk(part, f"{path}/{key}")

    return found


_SLIPS = {
    "_kg": "masses are in grams: write it as …_g",
    "_lb": "masses are in grams: write it as …_g",
    "_oz": "masses are in grams: write it as …_g",
    "_cm": "bodies are in mm and enclosures in m: write it as …_mm or …_m",
    "_in": "bodies are in mm and enclosures in m: write it as …_mm or …_m",
    "_ft": "bodies are in mm and enclosures in m: write it as …_mm or …_m",
    "_f": "temperatures are in °C: write it as …_c",
    "_k": "temperatures are in °C: write it as …_c",
}


def _reason(error: Any) -> str:
    if error["type"] == "union_tag_invalid":
        context = error["ctx"]
        known = context["expected_tags"].replace("'", "")
        return f"there is no kind “{context['tag'][:40]}”; there are {known}"
    if error["type"] == "union_tag_not_found":
        return "its kind is missing"
    if error["type"] == "extra_forbidden":
        name = str(error["loc"][-1])
        slip = next((text for ending, text in _SLIPS.items() if name.endswith(ending)), "")
        return f"a field “{name}” is not permitted here" + (f"; {slip}" if slip else "")
    bound = _BOUNDS.get(error["type"])
    if bound is not None:
        (limit,) = (error["ctx"][key] for key in ("ge", "gt", "le", "lt") if key in error["ctx"])
        shown = f"{limit:g}" if isinstance(limit, int | float) else str(limit)
        return f"it must be {bound} {shown}"
    if error["type"] == "missing":
        return "it is required"
    if error["type"] in _TYPES:
        return f"it must be {_TYPES[error['type']]}"
    reason = error["msg"].removeprefix("Value error, ")

    return str(reason[0].lower() + reason[1:])


_BOUNDS = {
    "greater_than": "more than",
    "greater_than_equal": "at least",
    "less_than": "less than",
    "less_than_equal": "at most",
}
_TYPES = {
    "float_parsing": "a number",
    "float_type": "a number",
    "int_parsing": "a whole number",
    "int_type": "a whole number",
    "int_from_float": "a whole number",
    "string_type": "a text",
    "bool_type": "yes or no",
    "date_from_datetime_parsing": "a day such as 2026-06-14",
    "timezone_aware": "a moment with its time zone",
}


def problems_of(error: ValidationError) -> list[Problem]:
    """Pydantic's findings as JSON pointers and reasons."""
    found = []
    errors = error.errors()
    for item in errors:
        inside = [
            other["loc"]
            for other in errors
            if len(other["loc"]) > len(item["loc"])
            and other["loc"][: len(item["loc"])] == item["loc"]
        ]
        if (
            item["type"] == "too_short" and inside
        ):  # "too few" only because the ones there are faulty, which is said already
            continue
        pointer = "".join(
            f"/{str(part).replace('~', '~0').replace('/', '~1')}" for part in item["loc"]
        )
        if item["type"].startswith("union_tag"):
            pointer += "/kind"
        found.append(Problem(pointer, _reason(item)))

    return found


def parse(text: str, name: str = "profile") -> Profile:
    """Read a profile.

    Raises
    ------
    DocumentError
        With every problem, by JSON pointer.
    """
    return from_data(read_json(text, name), name)


def from_data(data: Any, name: str = "profile") -> Profile:
    """Read a profile from parsed JSON. Raises as `parse`."""
    try:
        return Profile.model_validate(data)
    except ValidationError as why:
        raise DocumentError(name, problems_of(why)) from None
