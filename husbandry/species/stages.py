"""The life stage: each sign votes, the body decides, and disagreement is itself a finding."""

import datetime as dt
from collections.abc import Sequence
from typing import Literal

from husbandry.derivation import Derivation, DerivationInput, Document, named_text, named_value
from husbandry.species.parts import LengthKind, StageSpec
from husbandry.species.profile import Profile
from husbandry.species.values import ValueRange

DAYS_PER_MONTH = 30.436875
"""A twelfth of the mean Gregorian year (definition) [days]."""
Sign = Literal["mass", "length", "age"]


class StageVote(Document):
    """What one sign says: the stages whose range holds it, or the nearest one."""

    sign: Sign
    value: float
    unit: str
    stages: tuple[str, ...]


class StageFinding(Document):
    """Something about the animal that a keeper should look into. Named, never diagnosed."""

    slug: Literal[
        "ahead of its age",
        "behind its age",
        "heavy for its length",
        "light for its length",
        "nothing known",
    ]
    text: str


class StageFound(Document):
    """The stage, which sign decided it, and what does not fit."""

    slug: str
    name: str
    decided_by: Sign | Literal["nothing"]
    votes: tuple[StageVote, ...]
    findings: tuple[StageFinding, ...]
    confidence: Literal["sure", "likely", "unsure"] = "unsure"
    because: str = ""
    """Why no surer, or why so sure."""
    derivation: Derivation | None = None
    """The sign that decided, with what each sign says; None when nothing is known."""


def _vote(
    sign: Sign, value: float, unit: str, spans: Sequence[tuple[str, ValueRange]]
) -> StageVote:
    """The stages, by their slugs, whose span holds a value."""
    inside = tuple(slug for slug, span in spans if span.holds(value))
    if not inside:  # in a gap or beyond the last stage: the nearest border
        inside = (min(spans, key=lambda pair: _distance(pair[1], value))[0],)
    return StageVote(sign=sign, value=value, unit=unit, stages=inside)


def _distance(span: ValueRange, value: float) -> float:
    return max(
        (span.low or 0) - value,
        value - (span.high if span.high is not None else float("inf")),
        0.0,
    )


def stage_of(
    profile: Profile,
    *,
    today: dt.date,
    born_on: dt.date | None = None,
    mass_g: float | None = None,
    length_mm: dict[LengthKind, float] | None = None,
) -> StageFound:
    """Tell the stage from what is known of the animal.

    Parameters
    ----------
    profile : Profile
    today : date
    born_on : date, optional
    mass_g : float, optional
        [g]
    length_mm : dict, optional
        Lengths by kind [mm].
    """
    votes = _votes(profile, today, born_on, mass_g, length_mm or {})
    if not votes:
        adult = profile.stages[-1]
        text = "Age, mass and length are all unknown: planned as an adult until it is weighed."
        return StageFound(
            slug=adult.slug,
            name=adult.name,
            decided_by="nothing",
            votes=(),
            findings=(StageFinding(slug="nothing known", text=text),),
            because="nothing is known of its body",
        )

    return _decided_stage(profile, votes)


def stage_slug_of(
    profile: Profile,
    *,
    today: dt.date,
    born_on: dt.date | None = None,
    mass_g: float | None = None,
    length_mm: dict[LengthKind, float] | None = None,
) -> str:
    """Tell the stage alone, as `stage_of` does, with no word on why; parameters as there."""
    votes = _votes(profile, today, born_on, mass_g, length_mm or {})
    return _candidates(votes)[0] if votes else profile.stages[-1].slug


def _votes(
    profile: Profile,
    today: dt.date,
    born_on: dt.date | None,
    mass_g: float | None,
    length_mm: dict[LengthKind, float],
) -> list[StageVote]:
    """What each sign says, the deciding one first."""
    stages = profile.stages
    votes: list[StageVote] = []
    if mass_g is not None:
        votes.append(_vote("mass", mass_g, "g", [(s.slug, s.mass_g) for s in stages]))

    for kind, value in length_mm.items():
        spans = [(s.slug, s.length_mm[kind]) for s in stages if kind in s.length_mm]
        if spans:
            votes.append(_vote("length", value, "mm", spans))
            break  # one length votes; a second kind would count the same body twice

    if born_on is not None:
        months = (today - born_on).days / DAYS_PER_MONTH
        votes.append(_vote("age", months, "months", [(s.slug, s.age_months) for s in stages]))

    return votes


def _candidates(votes: list[StageVote]) -> list[str]:
    """The stages that the deciding sign leaves, of which the others chose what they could."""
    found = list(votes[0].stages)
    if len(found) > 1:
        counts = {slug: sum(slug in vote.stages for vote in votes) for slug in found}
        most = max(counts.values())
        found = [slug for slug in found if counts[slug] == most]

    return found


def _decided_stage(profile: Profile, votes: list[StageVote]) -> StageFound:
    """Decide between the signs, and say how surely."""
    decider = votes[0]
    candidates = _candidates(votes)
    slug = candidates[0]
    order = [stage.slug for stage in profile.stages]
    by_sign = {vote.sign: vote for vote in votes}
    stage = profile.stage(slug)
    confidence, because = _confidence(profile, slug, votes, settled=len(candidates) == 1)
    return StageFound(
        slug=slug,
        name=stage.name,
        decided_by=decider.sign,
        votes=tuple(votes),
        findings=tuple(_findings(order, slug, by_sign, profile)),
        confidence=confidence,
        because=because,
        derivation=_derivation(profile, stage, votes),
    )


def _listed(signs: Sequence[str]) -> str:
    return " and ".join([", ".join(signs[:-1]), signs[-1]] if len(signs) > 1 else signs)


def _confidence(
    profile: Profile, slug: str, votes: Sequence[StageVote], *, settled: bool
) -> tuple[Literal["sure", "likely", "unsure"], str]:
    """How sure the stage is: signs that agree, a border that overlaps, a birthday alone, signs that
    disagree.
    """
    against = [vote.sign for vote in votes if slug not in vote.stages]
    if against:
        return (
            "unsure",
            (
                f"its {_listed(against)} {'says' if len(against) == 1 else 'say'} otherwise; the"
                " body decides"
            ),
        )
    decider = votes[0]
    name = profile.stage(slug).name
    if len(decider.stages) > 1:
        borders = _listed([profile.stage(stage).name for stage in decider.stages])
        if not settled:
            return (
                "unsure",
                (
                    f"by its {decider.sign} it stands between {borders}, and nothing else is known"
                    " that chooses"
                ),
            )
        return (
            "likely",
            (
                f"by its {decider.sign} it stands between {borders}; its"
                f" {_listed([v.sign for v in votes[1:]])} chose"
            ),
        )
    if len(votes) == 1:
        if decider.sign == "age":
            return "likely", "known by its birthday alone: weigh it"
        return "likely", f"known by its {decider.sign} alone"
    return "sure", f"its {_listed([vote.sign for vote in votes])} agree on {name}"


def _derivation(profile: Profile, stage: StageSpec, votes: list[StageVote]) -> Derivation:
    """The deciding sign as a number, with every sign's value and vote."""
    inputs: list[DerivationInput] = []
    for vote in votes:
        inputs.append(named_value(vote.sign, round(vote.value, 1), vote.unit))
        inputs.append(
            named_text(
                f"{vote.sign} says", " or ".join(profile.stage(slug).name for slug in vote.stages)
            )
        )
    return Derivation(
        value=votes[0].value,
        unit=votes[0].unit,
        rule=(
            f"{stage.name[0].upper()}{stage.name[1:]}, decided by its {votes[0].sign}. The body"
            " (mass, then length) outranks the birthday; where ranges overlap, the other signs"
            " choose."
        ),
        inputs=tuple(inputs),
        sources=profile.sources(stage.origin),
        would_change="A weighing or a measuring; another profile’s borders.",
    )


def _findings(
    order: list[str], slug: str, votes: dict[Sign, StageVote], profile: Profile
) -> list[StageFinding]:
    found: list[StageFinding] = []
    here = order.index(slug)

    def name(stage_slug: str) -> str:
        return profile.stage(stage_slug).name

    age = votes.get("age")
    if age is not None and slug not in age.stages and len(votes) > 1:
        said = age.stages[0]
        if order.index(said) > here:
            text = (
                f"By age {name(said)}, by its body still {name(slug)}: the body decides. Stunted,"
                " or a wrong date of birth? Watch its weight."
            )
            found.append(StageFinding(slug="behind its age", text=text))
        else:
            text = (
                f"By age {name(said)}, by its body already {name(slug)}: the body decides. Growth"
                " this fast usually means overfeeding, or a wrong date of birth."
            )
            found.append(StageFinding(slug="ahead of its age", text=text))
    length = votes.get("length")
    if length is not None and "mass" in votes and slug not in length.stages:
        said = length.stages[0]
        if order.index(said) < here:
            text = (
                f"By mass {name(slug)}, by length {name(said)}: heavy for its length. Obese or"
                " gravid? Check its condition."
            )
            found.append(StageFinding(slug="heavy for its length", text=text))
        else:
            text = (
                f"By mass {name(slug)}, by length {name(said)}: light for its length. Check its"
                " condition, and ask a veterinarian if it has lost weight."
            )
            found.append(StageFinding(slug="light for its length", text=text))
    return found
