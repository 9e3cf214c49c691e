"""A review as its pages show it."""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

from django.utils.safestring import SafeString, mark_safe

from husbandry.documents.request import Request
from husbandry.quantity import Kind, Units, show
from husbandry.review.correcting import Correction
from husbandry.review.description import Description
from husbandry.review.findings import RANKS, Evidence, Rank, ReviewFinding
from husbandry.review.letter import ACTIONS, STEP_WORDS, animal_name, item_words, range_text
from husbandry.review.review import Review
from husbandry.review.tried_fixes import TriedFixes, tryable
from husbandry.species.library import library
from husbandry.species.needs import in_sentence
from ridgeback.calculation import Failed, attempt
from ridgeback.derivations import DerivationView, derivation_view
from ridgeback.drawing.sheet import NARROW, Labels, front_view
from ridgeback.drawing.svg import write
from ridgeback.enclosures.planning import planned
from ridgeback.households.models import Household
from ridgeback.households.money import money
from ridgeback.reviews.forms import ReviewFactsForm
from ridgeback.reviews.models import EnclosureReview
from ridgeback.sentences import UNIT_KINDS, number_text, otherwise
from ridgeback.units import spelled

RANK_HEADINGS: dict[Rank, str] = {
    "danger": "Dangerous",
    "harm": "Harms over weeks",
    "missing": "Missing",
    "better": "Could be better",
}
FACT_FIELDS = {
    "animal": "species",
    "temperatures": "temperature_basking",
    "moisture": "mistings_per_day",
    "danger": "heat",
    "light": "light_hours",
}
"""The field of a fact whose name is not its own."""


@dataclass(frozen=True)
class FindingView:
    """A finding with its numbers in the reader's units."""

    finding: ReviewFinding
    numbers: tuple[tuple[str, str], ...]
    price: str
    step: str
    derivations: tuple[tuple[str, DerivationView], ...]
    """How its numbers were calculated, each with what it is."""
    otherwise: tuple[str, ...]
    """What other approaches say."""
    can_be_tried: bool


@dataclass(frozen=True)
class TextPiece:
    """A piece of the text, and whether it was understood."""

    words: str
    fact: str


@dataclass(frozen=True)
class ReviewQuestionView:
    """A question, and the field that its answer goes into."""

    text: str
    why: str
    field: str


@dataclass(frozen=True)
class DrawnEnclosure:
    """The drawing, which fits half a desk and a phone; or why there is none."""

    name: str
    svg: SafeString
    problem: str = ""


@dataclass(frozen=True)
class ReviewView:
    """Everything on the page but the correction."""

    animal: str
    headline: str
    groups: tuple[tuple[str, Rank, tuple[FindingView, ...]], ...]
    good: tuple[str, ...]
    questions: tuple[ReviewQuestionView, ...]
    assumptions: tuple[str, ...]
    pieces: tuple[TextPiece, ...]
    nearest: tuple[tuple[str, str], ...]
    drawn: DrawnEnclosure | None


def review_view(own: EnclosureReview, made: Review, units: Units) -> ReviewView:
    """What the page shows of a review."""
    groups = [
        (
            RANK_HEADINGS[rank],
            rank,
            tuple(
                _finding(one, units, own.household, tryable(made))
                for one in made.findings
                if one.rank == rank
            ),
        )
        for rank in RANKS
    ]
    return ReviewView(
        animal=animal_name(made),
        headline=headline(made),
        groups=tuple(group for group in groups if group[2]),
        good=tuple(point.text for point in made.good),
        questions=tuple(
            ReviewQuestionView(one.text, one.why, FACT_FIELDS.get(one.fact, one.fact))
            for one in made.questions
        ),
        assumptions=tuple(one.text for one in made.assumptions),
        pieces=pieces_of(made.description),
        nearest=tuple((species, library()[species].name) for species in made.nearest),
        drawn=drawing_of(made.request, units, "As it was said", own.pk) if made.request else None,
    )


def headline(made: Review) -> str:
    """What to say first."""
    worst = made.worst

    if worst is None:
        return "" if made.problem else "Nothing wrong was found in what was said."
    same = sum(one.rank == worst.rank for one in made.findings) - 1
    more = f", and {same} more" if same else ""

    return f"{RANK_HEADINGS[worst.rank]}: {in_sentence(worst.title)}{more}"


def _finding(
    one: ReviewFinding, units: Units, household: Household, can_be_tried: frozenset[str]
) -> FindingView:
    numbers = tuple(
        (f"{piece.of} {piece.what}".strip(), range_text(piece, units)) for piece in one.evidence
    )
    worked = tuple(
        (piece.what, derivation_view(piece.derivation, units))
        for piece in one.evidence
        if piece.derivation is not None
    )
    return FindingView(
        one,
        numbers,
        price_text(one.price_eur, household),
        STEP_WORDS[one.step],
        worked,
        tuple(_otherwise(one, units)),
        one.slug in can_be_tried,
    )


def _otherwise(one: ReviewFinding, units: Units) -> Iterator[str]:
    """What keepers of other approaches do, where the finding's numbers depend on one."""
    if one.otherwise:
        yield one.otherwise
    worked = [piece.derivation for piece in one.evidence if piece.derivation is not None]
    for other in (*one.others, *(other for piece in worked for other in piece.others)):
        said = otherwise(other, units)
        yield f"{other.approach}: {said}. {other.why}" if said else other.approach


def price_text(euros: float, household: Household) -> str:
    """A guide price; nothing where there is none."""
    return f"about {money(euros, household)}" if euros else ""


def pieces_of(said: Description) -> tuple[TextPiece, ...]:
    """The text in pieces: what was understood, and what was not."""
    found = []
    at = 0

    for mark in said.understood:
        if mark.start < at or mark.end > len(said.text):
            continue
        if mark.start > at:
            found.append(TextPiece(said.text[at : mark.start], ""))
        found.append(TextPiece(said.text[mark.start : mark.end], mark.fact))
        at = mark.end

    if at < len(said.text):
        found.append(TextPiece(said.text[at:], ""))

    return tuple(found)


def drawing_of(request: Request, units: Units, name: str, pk: int) -> DrawnEnclosure:
    """The front view of a request, with its fields."""
    found = attempt(lambda: planned(request, keep=False), "a review", pk)

    if isinstance(found, Failed):
        return DrawnEnclosure(name, SafeString(""), found.text)
    labels = Labels(name, "Lamp on, settled", "")

    def make() -> SafeString:
        view = front_view(found.plan, found.prediction, units, labels, NARROW)
        return mark_safe(write(view))  # its own writer escapes every text

    return DrawnEnclosure(name, found.once(("review", spelled(units), labels), make))


@dataclass(frozen=True)
class ItemLine:
    """What becomes of a lamp or a piece of furniture."""

    action: str
    words: str


@dataclass(frozen=True)
class CorrectionView:
    """The corrected enclosure."""

    correction: Correction
    drawn: DrawnEnclosure
    lines: tuple[ItemLine, ...]
    """What comes and what goes."""
    kept: str
    size: str
    price: str
    steps: tuple[tuple[str, str, tuple[str, ...]], ...]
    unchanged: bool


def listed(names: list[str]) -> str:
    """Names in a row, those that are several counted: “2 hides, water dish”."""
    counts = Counter(names)
    return ", ".join(f"{count} {name}s" if count > 1 else name for name, count in counts.items())


def chips_of(form: ReviewFactsForm) -> list[tuple[str, str, str]]:
    """What was said, as label, words and the field in which it can be corrected."""
    found = []

    for _, fields in form.groups():
        for field in fields:
            value = field.value()
            if value in ("", None):
                continue
            choices = dict(getattr(field.field, "choices", ()))
            found.append((str(field.label), str(choices.get(value, value)), field.name))

    return found


def correction_view(own: EnclosureReview, made: Review, units: Units) -> CorrectionView | None:
    """The correction as the page shows it; None where nothing was found."""
    found = made.correction

    if found is None:
        return None
    inside = found.request.enclosure.inside_m
    sides = (inside.length, inside.depth, inside.height)

    return CorrectionView(
        correction=found,
        drawn=drawing_of(found.request, units, "Corrected", own.pk),
        lines=tuple(
            ItemLine(word, item_words(one.item, units))
            for action, word in ACTIONS.items()
            for one in found.items
            if one.action == action
        ),
        kept=listed([one.item.name for one in found.items if one.action == "keep"]),
        size=" × ".join(show(side, Kind.LENGTH, units) for side in sides),
        price=price_text(found.price_eur, own.household),
        steps=steps_of(made, own.household),
        unchanged=all(one.action == "keep" for one in found.items) and not found.is_larger,
    )


def steps_of(made: Review, household: Household) -> tuple[tuple[str, str, tuple[str, ...]], ...]:
    """What to do by when: the step, its price, and the findings that it mends."""
    titles = {one.slug: one.title for one in made.findings}
    return tuple(
        (
            STEP_WORDS[one.step],
            price_text(one.price_eur, household) or "nothing to buy",
            tuple(titles[slug] for slug in one.slugs),
        )
        for one in made.totals
        if one.slugs
    )


@dataclass(frozen=True)
class ChangedNeed:
    """A need that the tried fixes move."""

    name: str
    before: str
    after: str
    needed: str
    direction: str
    """Where it is then: right, below or above."""
    worked: DerivationView
    """How it was calculated."""


@dataclass(frozen=True)
class TriedView:
    """An enclosure with some of its fixes."""

    count: int
    with_them: tuple[str, ...]
    """Titles that were not chosen, and come with what was."""
    drawn: DrawnEnclosure
    needs: tuple[ChangedNeed, ...]
    mended: tuple[str, ...]
    new: tuple[ReviewFinding, ...]
    left: tuple[ReviewFinding, ...]
    price: str


SMALLEST_CHANGE = {"UVI": 0.2, "%": 2.0, "°C": 0.5}
"""Less of a need is not told as changed (design choice) [UVI, %, K]."""


def tried_view(
    own: EnclosureReview, made: Review, tried: TriedFixes, slugs: list[str], units: Units
) -> TriedView:
    """What the page shows of fixes that were tried."""
    titles = {one.slug: one.title for one in made.findings}
    return TriedView(
        count=len(tried.slugs),
        with_them=tuple(titles[slug] for slug in tried.slugs if slug not in slugs),
        drawn=drawing_of(tried.request, units, "With these fixes", own.pk),
        needs=tuple(_changed_needs(tried, units)),
        mended=tried.mended,
        new=tried.new,
        left=tried.left,
        price=price_text(tried.price_eur, own.household),
    )


def _changed_needs(tried: TriedFixes, units: Units) -> Iterator[ChangedNeed]:
    """Needs whose predicted value moves by more than it is worth telling."""
    before = {state.key: state for state in tried.before}

    for state in tried.after:
        old = before.get(state.key)
        if old is None or old.predicted is None or state.predicted is None:
            continue
        least = SMALLEST_CHANGE.get(state.unit, 0.0)
        if abs(old.predicted.value - state.predicted.value) < least:
            continue
        ends = Evidence(
            what="needed",
            kind=UNIT_KINDS[state.unit],
            low=state.low.value if state.low else None,
            high=state.high.value if state.high else None,
        )
        yield ChangedNeed(
            state.name,
            number_text(old.predicted.value, state.unit, units),
            number_text(state.predicted.value, state.unit, units),
            range_text(ends, units),
            state.verdict.direction,
            derivation_view(state.predicted, units),
        )
