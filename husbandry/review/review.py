"""Judge a described enclosure: `review(description, now)`. Method: docs/methods/second-look.md."""

import datetime as dt
from collections.abc import Callable
from dataclasses import replace
from typing import Literal

from husbandry import CORE_VERSION
from husbandry.derivation import Document
from husbandry.documents.request import Request
from husbandry.documents.result import NeedState
from husbandry.enclosure.sizing import SizeFound
from husbandry.errors import DocumentError, HusbandryError
from husbandry.plan.plan import plan, plan_summary
from husbandry.review.assumed_request import USUAL, Assumed, Assumption, assumed
from husbandry.review.care_findings import care_findings, harmful_food
from husbandry.review.correcting import Correction, StepTotal, corrected, totals
from husbandry.review.description import Description
from husbandry.review.equipment_findings import equipment_findings, general_findings
from husbandry.review.findings import ReviewFinding, in_order
from husbandry.review.good import GoodPoint, good_points
from husbandry.review.need_findings import Seen, need_findings
from husbandry.review.questions import ReviewQuestion, questions_of
from husbandry.species.library import library
from husbandry.species.needs import NeedKey
from husbandry.species.searching import IDENTIFIED_MOST, Index

FORMAT: Literal["ridgeback-review/1"] = "ridgeback-review/1"


class Review(Document):
    """A description judged by the whole plan."""

    format: Literal["ridgeback-review/1"] = FORMAT
    core_version: str = CORE_VERSION
    description: Description
    request: Request | None = None
    """As it was understood; None for a species that the guide does not know."""
    stage: str = ""
    assumptions: tuple[Assumption, ...] = ()
    findings: tuple[ReviewFinding, ...] = ()
    good: tuple[GoodPoint, ...] = ()
    questions: tuple[ReviewQuestion, ...] = ()
    needs: tuple[NeedState, ...] = ()
    size: SizeFound | None = None
    correction: Correction | None = None
    """None until it was looked for, or where nothing was found."""
    correction_sought: bool = False
    """Whether it was looked for."""
    correction_problem: str = ""
    """Why it could not be looked for to the end."""
    totals: tuple[StepTotal, ...] = ()
    nearest: tuple[str, ...] = ()
    """Species of the guide that come nearest to one that it does not know."""
    problem: str = ""
    """Why it cannot be judged, or only in part."""

    @property
    def worst(self) -> ReviewFinding | None:
        """What to say first."""
        return self.findings[0] if self.findings else None


def review(said: Description, now: dt.datetime, *, correct: bool = True) -> Review:
    """Judge a description.

    Parameters
    ----------
    now : datetime
        The moment of the review, with its zone.
    correct : bool
        Whether the corrected enclosure is looked for: that takes most of the time.
    """
    if said.animal.species is None:
        return _without_species(said)

    try:
        seen = see(said, now)
    except HusbandryError as why:
        problems = why.problems if isinstance(why, DocumentError) else ()
        reasons = "; ".join(problem.reason for problem in problems) or str(why)
        dangers = _general(said)
        return Review(
            description=said,
            findings=dangers,
            totals=totals(dangers, None),
            problem=f"This cannot be built as it was said: {reasons}.",
        )

    found = findings_of(seen)
    correction = _corrected(seen, found) if correct else None
    lead = seen.assumed.needs.occupants[seen.assumed.needs.lead]

    return Review(
        description=said,
        request=seen.assumed.request,
        stage=lead.stage.name,
        assumptions=seen.assumed.assumptions,
        findings=found,
        good=good_points(seen, found),
        questions=questions_of(seen),
        needs=seen.plan.needs,
        size=seen.plan.size,
        correction=correction,
        correction_sought=correct,
        totals=totals(found, correction),
    )


def findings_of(seen: Seen) -> tuple[ReviewFinding, ...]:
    """Everything that is wrong, the worst first."""
    return in_order([*equipment_findings(seen), *care_findings(seen), *need_findings(seen)])


def _corrected(seen: Seen, found: tuple[ReviewFinding, ...]) -> Correction | None:
    try:
        return corrected(seen, found)
    except HusbandryError:  # without a correction the findings stand all the same
        return None


def _general(said: Description) -> tuple[ReviewFinding, ...]:
    """What is wrong for any reptile or amphibian."""
    return in_order([*general_findings(said), *harmful_food(said, None)])


def _without_species(said: Description) -> Review:
    """General rules for an animal that was not named, or that the guide does not know."""
    words = said.animal.words
    near: tuple[str, ...] = ()

    if words:
        last = words.split()[-1]
        known = Index.of(library().values())
        profiles = known.find(words) or known.find(last)
        near = tuple(profile.species for profile in profiles[:IDENTIFIED_MOST])
        problem = (
            f"“{words}” is not in the species guide. Only what is dangerous for any reptile or"
            " amphibian is judged. Choose a species of the guide to judge the rest."
        )
    else:
        problem = "It was not said which animal lives there. Choose its species to judge the rest."
    dangers = _general(said)

    return Review(
        description=said,
        findings=dangers,
        totals=totals(dangers, None),
        nearest=near,
        problem=problem,
    )


def see(
    said: Description, now: dt.datetime, changed: Callable[[Request], Request] | None = None
) -> Seen:
    """A description with its plan, and what each need may be over what was not said.

    Parameters
    ----------
    changed : callable, optional
        What is otherwise in every request that is made of the description.

    Raises
    ------
    DocumentError
        Where what was said cannot be built.
    """
    first = assumed(said, now)
    others = _others(said, now, first)

    if changed is not None:
        first = replace(first, request=changed(first.request))
        others = [changed(request) for request in others]
    made = plan(first.request, advise=False)
    ranges: dict[NeedKey, tuple[float, float]] = {}

    for request in (first.request, *others):
        needs = made.needs if request is first.request else plan_summary(request).needs
        for state in needs:
            if state.predicted is not None:
                value = state.predicted.value
                low, high = ranges.get(state.key, (value, value))
                ranges[state.key] = (min(low, value), max(high, value))

    return Seen(said, first, made, ranges)


def _others(said: Description, now: dt.datetime, first: Assumed) -> list[Request]:
    """The same with each thing that was not said at either end of what it may be."""
    found = []

    for key in first.open_values:
        low, _, high = USUAL[key]
        found += [assumed(said, now, {key: value}).request for value in (low, high)]

    return found
