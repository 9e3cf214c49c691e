"""A review as a kind text, ready to send to whoever asked."""

from collections.abc import Iterator

from husbandry.items.union import Item
from husbandry.quantity import METRIC, Kind, Units, show
from husbandry.review.findings import STEPS, Evidence, Rank, ReviewFinding
from husbandry.review.review import Review
from husbandry.species.library import library

QUESTIONS_MOST = 6
"""More are not asked in one letter (design choice)."""
HEADINGS: dict[Rank, str] = {
    "danger": "Please change this today, it is dangerous:",
    "harm": "This harms over weeks:",
    "missing": "This is missing:",
    "better": "This could be better, when you get to it:",
}
ACTIONS = {"move": "Hang anew", "add": "Add", "remove": "Take out"}
"""What becomes of an item that does not just stay."""
STEP_WORDS = {"today": "Today", "this month": "This month", "later": "Later"}


def letter(review: Review, units: Units = METRIC) -> str:
    """The review in plain words: what is good, what to change in which order, what to ask."""
    return "\n".join(_lines(review, units)).strip() + "\n"


def _lines(review: Review, units: Units) -> Iterator[str]:
    name = animal_name(review)
    yield f"Thank you for showing the enclosure of your {name}."
    yield ""

    if review.problem:
        yield review.problem
        yield ""

    if review.good:
        yield "What is good:"
        yield from (f"- {point.text}" for point in review.good)
        yield ""

    for rank, heading in HEADINGS.items():
        found = [one for one in review.findings if one.rank == rank]
        if found:
            yield heading
            for one in found:
                yield from _finding(one, units)
            yield ""

    yield from _corrected(review, units)
    yield from _totals(review, units)

    if review.questions:
        yield "What would help me to say more:"
        yield from (f"- {question.text}" for question in review.questions[:QUESTIONS_MOST])
        yield ""
    yield (
        "This was worked out from your description, not seen. Measure before you rely on it, and if"
        " the animal looks ill, a reptile veterinarian comes first."
    )


def animal_name(review: Review) -> str:
    """What to call the animal."""
    animal = review.description.animal

    if animal.species is not None:
        return library()[animal.species].name
    return animal.words or "animal"


def _finding(one: ReviewFinding, units: Units) -> Iterator[str]:
    numbers = evidence_text(one.evidence, units)
    yield f"- {one.title}{f' ({numbers})' if numbers else ''}. {one.consequence}"
    yield f"  What to do: {one.fix}"


def evidence_text(evidence: tuple[Evidence, ...], units: Units) -> str:
    """The numbers of a finding in a reader's units: “said 36 °C, needed 39 to 43 °C”."""
    return ", ".join(f"{one.of} {one.what} {range_text(one, units)}".strip() for one in evidence)


def range_text(one: Evidence, units: Units) -> str:
    """A number or a range in a reader's units."""
    if one.low is None and one.high is None:
        return ""

    if one.low is None:
        return f"at most {_shown(one.high or 0.0, one, units)}"

    if one.high is None:
        return f"at least {_shown(one.low, one, units)}"
    low = _shown(one.low, one, units)
    high = _shown(one.high, one, units)

    if low == high:
        return low
    number, _, unit = low.rpartition(" ")

    return f"{number} to {high}" if number and high.endswith(unit) else f"{low} to {high}"


INSECT_MOST_M = 0.03
"""Up to such a length it is told in millimetres (design choice) [m]."""


def _shown(value: float, one: Evidence, units: Units) -> str:
    """No decimals that no keeper's instrument tells."""
    whole = one.kind in {Kind.TEMPERATURE, Kind.HUMIDITY}
    small = one.kind is Kind.LENGTH and value < INSECT_MOST_M
    return show(value, one.kind, units, digits=0 if whole else None, small=small)


def _corrected(review: Review, units: Units) -> Iterator[str]:
    """The enclosure as it should be: its size where it is another, and what comes, goes and moves."""
    found = review.correction
    if found is None or not (found.is_larger or any(one.action != "keep" for one in found.items)):
        return

    inside = found.request.enclosure.inside_m
    sides = (inside.length, inside.depth, inside.height)
    yield "How it would be right:"
    if found.is_larger:
        size = " × ".join(show(side, Kind.LENGTH, units) for side in sides)
        yield f"- An enclosure of {size} inside."
    for one in found.items:
        if one.action in ACTIONS:
            yield f"- {ACTIONS[one.action]}: {item_words(one.item, units)}."
    yield ""


def item_words(item: Item, units: Units) -> str:
    """An item with its power, length and place in a sentence's part."""
    power = f"{item.watts:g} W " if item.watts else ""
    length = f", {show(item.long_m, Kind.LENGTH, units)} long" if item.long_m else ""
    x, _, z = item.at_m
    place = f"{show(x, Kind.LENGTH, units)} from the left"
    hung = f", {show(z, Kind.LENGTH, units)} above the floor" if item.is_hung else ""
    held = ", on a thermostat" if item.held is not None else ""

    return f"{power}{item.name}{length}, {place}{hung}{held}"


def _totals(review: Review, units: Units) -> Iterator[str]:
    steps = [one for one in review.totals if one.slugs]

    if not steps:
        return
    yield "In which order, and what it costs by guide prices:"
    titles = {one.slug: one.title for one in review.findings}

    for step in sorted(steps, key=lambda one: STEPS.index(one.step)):
        price = f"about {step.price_eur:.0f} €" if step.price_eur else "nothing to buy"
        done = "; ".join(titles[slug] for slug in step.slugs)
        yield f"- {STEP_WORDS[step.step]} ({price}): {done}"

    yield ""
