"""The profile of a species: a data file in which every value names its origin.

Format and rules: docs/formats/profile.md. Adding a species is adding a file to `profiles/`.
"""

import functools
import hashlib
import json
from importlib.resources import files
from importlib.resources.abc import Traversable
from typing import Annotated, Any, Literal, Self

from pydantic import Field, ValidationError, model_validator

from husbandry.errors import DocumentError, Problem, UnknownNameError
from husbandry.species.needs import NeedKey
from husbandry.species.schools import QUESTIONS
from husbandry.worked import Document, Source

FORMAT = "ridgeback-profile/1"
LengthKind = Literal["total", "snout_vent", "shell"]
Origins = Annotated[tuple[str, ...], Field(min_length=1)]


class Span(Document):
    """A range; either end may be open."""

    low: float | None = None
    high: float | None = None

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        if self.low is None and self.high is None:
            raise ValueError("a range needs at least one end")
        if self.low is not None and self.high is not None and self.low > self.high:
            raise ValueError(f"the range is crossed: {self.low:g} is above {self.high:g}")
        return self

    def holds(self, value: float) -> bool:
        """Whether the value lies in the range, ends included."""
        return (self.low is None or value >= self.low) and (self.high is None or value <= self.high)


class Valued(Document):
    """Something with origins. Each key must be one of the profile's origins."""

    origin: Origins
    note: str = ""


class Figure(Valued):
    """A range with its origin."""

    low: float | None = None
    high: float | None = None


class StageSpec(Valued):
    """A life stage by its three signs. Neighbours may overlap."""

    slug: str
    name: str
    age_months: Span
    mass_g: Span
    length_mm: dict[LengthKind, Span]


class NeedSpec(Valued):
    """What an animal needs of one quantity, at some stages, in one school."""

    need: NeedKey
    stages: tuple[str, ...] = ()
    """Empty: all."""
    question: str = ""
    school: str = ""
    low: float | None = None
    high: float | None = None
    limit_low: float | None = None
    limit_high: float | None = None
    limit_origin: tuple[str, ...] = ()

    @model_validator(mode="after")
    def _sound(self) -> Self:
        ends = [end for end in (self.limit_low, self.low, self.high, self.limit_high) if end is not None]
        if self.low is None and self.high is None:
            raise ValueError("a need has at least one end of its band")
        if ends != sorted(ends):
            raise ValueError("limit_low, low, high and limit_high must rise in this order")
        if (self.limit_low is not None or self.limit_high is not None) and len(set(self.limit_origin)) < 2:
            raise ValueError("an absolute limit needs two independent origins in limit_origin")
        return self


class SizeRule(Valued):
    """How large a box must be, in multiples of the body and at the least."""

    school: str
    stages: tuple[str, ...] = ()
    length_bl: float
    depth_bl: float
    height_bl: float
    min_m: tuple[float, float, float]


class MealPart(Document):
    """A share of a meal by mass."""

    food: Literal["insects", "greens", "fruit", "prey"]
    """prey: whole small mammals"""
    share: Annotated[float, Field(gt=0, le=1)]


class MealSpec(Valued):
    """A kind of meal at some stages: how often, how much."""

    slug: str
    name: str
    stages: tuple[str, ...]
    every_days: tuple[float, float]
    """From the eager to the lean pace [days]."""
    share_of_mass: tuple[float, float]
    """Fresh food over body mass, from lean to eager [1]."""
    parts: tuple[MealPart, ...]

    @model_validator(mode="after")
    def _whole(self) -> Self:
        if abs(sum(part.share for part in self.parts) - 1) > 1e-9:
            raise ValueError("the parts of a meal must add up to 1")
        if self.every_days[0] > self.every_days[1] or self.share_of_mass[0] > self.share_of_mass[1]:
            raise ValueError("every_days and share_of_mass go from small to large")
        return self


class Water(Valued):
    """What it bathes in and drinks."""

    treated: bool
    """Free of chlorine and chloramine: always for amphibians, which take water in through the skin."""
    soak: bool
    """It lies in its water, so the dish must hold all of it."""


class Hides(Valued):
    """The retreats it needs at the same time, so that hiding never costs it its warmth or its moisture."""

    places: Annotated[tuple[Literal["warm", "cool", "moist"], ...], Field(min_length=1)]


class UvSpec(Valued):
    """How much sun the species takes."""

    zone: Literal[1, 2, 3, 4]
    coverage: tuple[float, float]
    """Share of the length to lie in the band [1]."""


class Body(Valued):
    """Proportions that the drawings and the models use."""

    length_kind: LengthKind
    back_height_bl: float
    """Height of the back above the ground over body length [1]."""
    eye_gap_bl: float
    """Between the eyes over body length: the widest insect [1]."""
    outline: Literal["skink", "agama", "gecko", "frog", "snake"]
    perch_share: Annotated[float, Field(ge=0, le=1)] = 0.0
    """For climbers: height at which it lives over the height of air, where no branch says better; 0 for life on the ground [1]."""
    wide_share: Annotated[float, Field(gt=0, le=1)] | None = None
    """For limbless bodies: mean cross-section over the widest one, from which mass and length give the widest width [1]."""


class Caution(Valued):
    """A warning that belongs to the species."""

    text: str


class Profile(Document):
    """A species."""

    format: Literal["ridgeback-profile/1"]
    species: str
    name: str
    other_names: tuple[str, ...] = ()
    group: Literal["lizard", "snake", "tortoise", "turtle", "frog", "toad", "salamander"]
    habit: Literal["terrestrial", "semi-arboreal", "arboreal", "fossorial", "saxicolous", "semi-aquatic", "aquatic"]
    activity: Literal["diurnal", "nocturnal", "crepuscular"]
    origins: dict[str, Source]
    body: Body
    stages: tuple[StageSpec, ...]
    needs: tuple[NeedSpec, ...]
    size: tuple[SizeRule, ...]
    uv: UvSpec
    photoperiod_h: Figure
    meals: tuple[MealSpec, ...]
    water: Water | None = None
    hides: Hides | None = None
    lifespan_years: Figure
    months_to_adult: Figure
    brumation_last_meal_days: Figure | None = None
    company_max: Figure
    cautions: tuple[Caution, ...]

    @model_validator(mode="after")
    def _references(self) -> Self:
        stages = {stage.slug for stage in self.stages}
        for path, item in _walk(self):
            for key in (*getattr(item, "origin", ()), *getattr(item, "limit_origin", ())):
                if key not in self.origins:
                    raise ValueError(f"{path}: the origin “{key}” is not among the profile's origins")
            for stage in getattr(item, "stages", ()) if not isinstance(item, Profile) else ():
                if stage not in stages:
                    raise ValueError(f"{path}: there is no stage “{stage}”")
        for rule in self.size:
            if rule.school not in QUESTIONS["how-big"].schools:
                raise ValueError(f"size: there is no school “{rule.school}” for how big a box must be")
        for need in self.needs:
            if need.school and (need.question not in QUESTIONS or need.school not in QUESTIONS[need.question].schools):
                raise ValueError(f"needs: there is no school “{need.school}”")
        if self.amphibian and (self.water is None or not self.water.treated):
            raise ValueError("water: an amphibian takes water in through its skin, so its water is treated")
        if any(part.food == "prey" for meal in self.meals for part in meal.parts) and self.body.wide_share is None:
            raise ValueError("body: whole prey is measured against the body's width, which needs wide_share")
        return self

    @property
    def amphibian(self) -> bool:
        """Of those that drink and breathe through the skin."""
        return self.group in {"frog", "toad", "salamander"}

    @property
    def questions(self) -> tuple[str, ...]:
        """The questions between schools that concern this species, by slug."""
        foods = {part.food for meal in self.meals for part in meal.parts}
        named = {need.question for need in self.needs if need.question}
        dusted = {"multivitamin-pace", "calcium"} if "insects" in foods else set()
        prey = {"rodent-size"} if "prey" in foods else set()
        return tuple(slug for slug in QUESTIONS if slug in {"how-big", "feeding-pace"} | named | dusted | prey)

    def stage(self, slug: str) -> StageSpec:
        """The stage of that slug."""
        return next(stage for stage in self.stages if stage.slug == slug)

    def sources(self, keys: tuple[str, ...]) -> tuple[Source, ...]:
        """The origins behind those keys."""
        return tuple(self.origins[key] for key in keys)

    def memory_share(self) -> float:
        """Share of the values that lean on memory, with no published source opened [1]."""
        kinds = [{self.origins[key].kind for key in item.origin} for _, item in _walk(self) if isinstance(item, Valued)]
        return sum("from memory" in k and "published" not in k for k in kinds) / len(kinds)

    @functools.cached_property
    def hash(self) -> str:
        """Short content hash; plans carry it."""
        return hashlib.sha256(self.model_dump_json().encode()).hexdigest()[:16]


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


def problems_of(error: ValidationError) -> list[Problem]:
    """Pydantic's findings as JSON pointers and reasons."""
    found = []
    errors = error.errors()
    for item in errors:
        inside = [
            other["loc"]
            for other in errors
            if len(other["loc"]) > len(item["loc"]) and other["loc"][: len(item["loc"])] == item["loc"]
        ]
        if item["type"] == "too_short" and inside:  # "too few" only because the ones there are faulty, which is said already
            continue
        pointer = "".join(f"/{str(part).replace('~', '~0').replace('/', '~1')}" for part in item["loc"])
        reason = item["msg"].removeprefix("Value error, ")
        found.append(Problem(pointer, reason[0].lower() + reason[1:]))
    return found


def parse(text: str, name: str = "profile") -> Profile:
    """Read a profile.

    Raises
    ------
    DocumentError
        With every problem, by JSON pointer.
    """
    try:
        data = json.loads(text)
    except json.JSONDecodeError as why:
        raise DocumentError(name, [Problem("", f"this is not JSON: {why.msg} in line {why.lineno}")]) from None
    try:
        return Profile.model_validate(data)
    except ValidationError as why:
        raise DocumentError(name, problems_of(why)) from None


def _folder() -> Traversable:
    return files("husbandry.species").joinpath("profiles")


@functools.cache
def library() -> dict[str, Profile]:
    """Every shipped profile by scientific name."""
    found = [
        parse(entry.read_text(encoding="utf-8"), entry.name)
        for entry in sorted(_folder().iterdir(), key=lambda e: e.name)
        if entry.name.endswith(".json")
    ]
    return {profile.species: profile for profile in found}


def find(species: str) -> Profile:
    """The shipped profile of that scientific name.

    Raises
    ------
    UnknownNameError
    """
    profiles = library()
    if species not in profiles:
        raise UnknownNameError(f"There is no profile of “{species}” yet; there are {', '.join(profiles)}.")
    return profiles[species]
