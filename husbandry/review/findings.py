"""One finding of a review, and the order in which findings are told."""

import functools
from collections.abc import Mapping
from typing import Any, Literal

from husbandry.derivation import Derivation, Document, OtherApproach
from husbandry.quantity import Kind
from husbandry.review.description import FactName
from husbandry.review.vocabulary import PACKAGE
from husbandry.tables import rows

Rank = Literal["danger", "harm", "missing", "better"]
RANKS: tuple[Rank, ...] = ("danger", "harm", "missing", "better")
"""In the order in which they are told: what kills or maims, what harms over weeks, what is not
there, what could be better.
"""
FixStep = Literal["today", "this month", "later"]
STEPS: tuple[FixStep, ...] = ("today", "this month", "later")


class Evidence(Document):
    """A number behind a finding: what was said, what is predicted, what is needed."""

    what: Literal["said", "predicted", "needed", "limit"]
    kind: Kind
    low: float | None = None
    """[SI: °C, m, %, UVI, days]"""
    high: float | None = None
    of: str = ""
    """Which of several it is: “depth”."""
    derivation: Derivation | None = None
    """How it was calculated, where it was."""


class ReviewFinding(Document):
    """Something wrong, what it does to the animal, and the smallest thing that mends it."""

    slug: str
    fact: FactName
    rank: Rank
    title: str
    text: str
    """What is wrong, in one or two sentences without numbers: those are the evidence."""
    consequence: str
    fix: str
    step: FixStep
    price_eur: float = 0.0
    evidence: tuple[Evidence, ...] = ()
    origin: str = "common practice, no source"
    otherwise: str = ""
    """What other keepers do, where they differ."""
    others: tuple[OtherApproach, ...] = ()
    """What other approaches say, beside those of the evidence."""
    weight: float = 1.0
    """Within its rank, the heaviest first (design choice)."""
    likely: bool = False
    """It rests on something that was not said."""


@functools.cache
def _rules() -> Mapping[str, Mapping[str, str]]:
    """What is always said of a finding, by its rule."""
    return {
        row["slug"]: {key: value for key, value in row.items() if value}
        for row in rows(PACKAGE, "rules.csv")
    }


def finding(rule: str, **more: Any) -> ReviewFinding:
    """A finding by its rule in `rules.csv`, with what differs from case to case.

    Prices are guides of 2026 and weights put findings of one rank in order (common practice).
    """
    return ReviewFinding.model_validate({**_rules()[rule], **more})


def in_order(found: list[ReviewFinding]) -> tuple[ReviewFinding, ...]:
    """Dangers first, then by weight; each slug once."""
    once: dict[str, ReviewFinding] = {}

    for finding in sorted(found, key=lambda one: (RANKS.index(one.rank), -one.weight)):
        once.setdefault(finding.slug, finding)

    return tuple(once.values())
