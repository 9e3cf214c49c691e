"""What an animal's pages show, ready for their templates."""

import datetime as dt
from dataclasses import dataclass

from django.utils.safestring import SafeString, mark_safe

from husbandry.documents.animal import Animal as CoreAnimal
from husbandry.enclosure.size_phrases import Compared, compared, in_other_words, spoken
from husbandry.errors import EntryError, ImpossibleStateError
from husbandry.growth.findings import findings
from husbandry.life_plan.enclosure_purchases import BuyPlan
from husbandry.life_plan.rows import Milestone
from husbandry.quantity import Kind, Units, show
from husbandry.species.approaches import PRESETS, QUESTIONS
from husbandry.species.stages import StageFound, stage_of
from ridgeback.animal_pages.lives import Life, enclosures_for
from ridgeback.animals import wording
from ridgeback.derivations import DerivationView, derivation_view
from ridgeback.drawing import growth as growth_chart
from ridgeback.drawing import life_plan as life_plan_drawing
from ridgeback.drawing.svg import write
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.money import money
from ridgeback.sentences import because, otherwise

BASES = {
    "its own weights": "Its own weights show where it is going",
    "its own weights for a while": (
        "Its own weights lead for two months, then its species’ curve: they do not show yet where"
        " it stops"
    ),
    "its last weight": (
        "Its species’ curve, on from its last weight: six weights over three months show its own"
    ),
    "grown": "It is grown: its weights have stayed",
    "nothing weighed": "Nothing was weighed: ages alone",
}


@dataclass(frozen=True)
class MilestoneView:
    """A stage to come."""

    title: str
    when: str
    before: tuple[str, ...]
    """What to have before it."""


@dataclass(frozen=True)
class EnclosureFitView:
    """An enclosure of the household beside this animal."""

    enclosure: Enclosure
    mine: bool
    direction: str
    words: str
    note: str
    """Who it belongs to, or that it is only planned."""


@dataclass(frozen=True)
class WayView:
    """A way to buy."""

    title: str
    advised: bool
    total: str
    enclosures: tuple[tuple[str, str], ...]
    """When, and what."""
    small: str


@dataclass(frozen=True)
class QuestionView:
    """A question between approaches, with what each says."""

    slug: str
    text: str
    chosen: str
    approaches: tuple[tuple[str, str, str, bool, bool], ...]
    """Slug, name, reason, whether it is chosen, whether it is the usual one."""


@dataclass(frozen=True)
class AnimalPage:
    """The page of one animal."""

    stage: StageFound
    stage_title: str
    confidence: str
    votes: tuple[tuple[str, str, str], ...]
    """Sign, value, what it says."""
    findings: tuple[tuple[str, str, DerivationView | None], ...]
    chart: SafeString
    basis: str
    goal: str
    milestones: tuple[MilestoneView, ...]
    enclosures: tuple[EnclosureFitView, ...]
    common: tuple[tuple[str, str, str], ...]
    """Common enclosures: name, a mark's direction, words."""
    grown_enclosure: str
    other_words: str
    ways: tuple[WayView, ...]
    because: str
    saved: str
    questions: tuple[QuestionView, ...]
    presets: tuple[tuple[str, str], ...]


CONFIDENCE = {"sure": "sure", "likely": "likely", "unsure": "not sure"}
WAYS = {
    "once": "The last enclosure at once",
    "steps": "Step by step",
    "late": "A small enclosure now, the last one when it is grown",
}


def stage_now(life: Life, today: dt.date) -> StageFound:
    """The stage of today, from what was last weighed and measured, as a plan tells it."""
    core = CoreAnimal.model_validate(life.animal.data())
    return stage_of(
        life.profile,
        today=today,
        born_on=core.born_on,
        mass_g=core.mass_g,
        length_mm=core.length_mm or None,
    )


def animal_page(life: Life, units: Units, today: dt.date) -> AnimalPage:
    """Everything of an animal's page."""
    stage = stage_now(life, today)
    told = [
        (f.severity, f.text, derivation_view(f.derivation, units))
        for f in findings(
            life.profile, life.animal.sex, life.weights, born_on=life.animal.born_on, today=today
        )
    ]
    notes: list[tuple[str, str, DerivationView | None]] = [
        *told,
        *(("care", f.text, None) for f in stage.findings if f.slug != "nothing known"),
    ]
    household = life.animal.household
    grown = life.buying.grown_enclosure_m
    goal = life.future.growth.fit.asymptote_g if life.future.growth.fit is not None else None
    shown_goal = goal is not None and life.future.growth.basis == "its own weights"
    return AnimalPage(
        stage=stage,
        stage_title=wording.article(stage.name),
        confidence=CONFIDENCE[stage.confidence],
        votes=tuple(
            _vote(vote.sign, vote.value, vote.unit, vote.stages, life, units)
            for vote in stage.votes
        ),
        findings=tuple(notes),
        chart=mark_safe(
            write(growth_chart.chart(life.future, life.weights, today, units, life.animal.name))
        ),  # our own writer escapes
        basis=BASES[life.future.growth.basis],
        goal=(
            f"It is growing to about {show(goal, Kind.MASS, units)}."
            if shown_goal and goal
            else ""
        ),
        milestones=milestones_of(life, units, today),
        enclosures=tuple(_enclosures(life, units, today)),
        common=tuple(
            (fitting.name, *wording.fits_line(fitting, units, today)) for fitting in life.common
        ),
        grown_enclosure=wording.sides(grown, units),
        other_words=_other_words(life, units, today),
        ways=tuple(_way(plan, life, units, today) for plan in life.buying.plans),
        because=_sentence(life.buying.because),
        saved=money(life.buying.saved_eur, household) if life.buying.saved_eur else "",
        questions=questions_of(life),
        presets=tuple((preset.slug, preset.name) for preset in PRESETS.values()),
    )


def _sentence(text: str) -> str:
    return text[0].upper() + text[1:].rstrip(".") + "."


def _vote(
    sign: str, value: float, unit: str, stages: tuple[str, ...], life: Life, units: Units
) -> tuple[str, str, str]:
    if sign == "age":
        shown = f"{value:.1f} months" if value < 36 else f"{value / 12:.1f} years"
    elif unit == "mm":
        shown = show(value / 1000, Kind.LENGTH, units, small=value < 150)
    else:
        shown = show(value, Kind.MASS, units)
    return sign, shown, " or ".join(life.profile.stage(stage).name for stage in stages)


def milestones_of(life: Life, units: Units, today: dt.date) -> tuple[MilestoneView, ...]:
    """The stages to come."""
    return tuple(_milestone(item, units, today) for item in life.life_plan.milestones)


def _milestone(item: Milestone, units: Units, today: dt.date) -> MilestoneView:
    return MilestoneView(
        wording.milestone_title(item),
        wording.when(item.early, item.usual, item.late, today),
        tuple(wording.shift(shift, units) for shift in item.shifts),
    )


def _enclosures(life: Life, units: Units, today: dt.date) -> list[EnclosureFitView]:
    found = []
    for enclosure, fitting in enclosures_for(life, today):
        direction, words = wording.fits_line(fitting, units, today)
        mine = life.home is not None and enclosure.pk == life.home.pk
        found.append(
            EnclosureFitView(enclosure, mine, direction, words, _whose(enclosure, mine=mine))
        )
    return found


def _whose(enclosure: Enclosure, *, mine: bool) -> str:
    """Whether an enclosure can be had: its own, another animal's, or not built."""
    said = []
    others = [occupancy.animal.name for occupancy in enclosure.occupancies.all()]
    if mine:
        said.append("its own")
    elif others:
        said.append(f"{' and '.join(others)} live{'s' if len(others) == 1 else ''} there")
    if enclosure.head is not None and enclosure.head.state != "built":
        said.append("planned, not built")
    return ", ".join(said)


def _other_words(life: Life, units: Units, today: dt.date) -> str:
    said = in_other_words(life.future.enclosure_m(today), life.future.length_m(today))
    feet = " × ".join(f"{side:g}" for side in said.feet)
    tank = (
        f", a “{said.tank.name}” tank"
        if said.tank is not None and "glass" in life.profile.enclosure.kinds
        else ""
    )
    bodies = " × ".join(f"{side:.1f}" for side in said.bodies) if said.bodies else ""
    return (
        f"{feet} ft, {said.litres:.0f} l or {said.us_gal:.0f} US gal{tank}; {bodies} body lengths"
    )


def _way(plan: BuyPlan, life: Life, units: Units, today: dt.date) -> WayView:
    household = life.animal.household
    rows = []
    for n, purchase in enumerate(plan.enclosures):
        at = (
            "now"
            if n == 0
            else (
                wording.when(purchase.early, purchase.on, None, today)
                if purchase.early != purchase.on
                else f"about {wording.month(purchase.on)}"
            )
        )
        rows.append((at, wording.bought(purchase, units, household)))
    small = (
        f"{plan.small_months:.0f} months in an enclosure too small for it"
        if plan.small_months >= 0.5
        else ""
    )
    return WayView(
        WAYS[plan.slug], plan.advised, money(plan.total_eur, household), tuple(rows), small
    )


def questions_of(life: Life) -> tuple[QuestionView, ...]:
    """The questions between approaches that concern this animal."""
    found = []
    for slug in life.profile.questions:
        question = QUESTIONS[slug]
        if question.of != "animal":
            continue
        chosen = question.chosen(life.animal.approaches).slug
        rows = tuple(
            (s.slug, s.name, s.why, s.slug == chosen, s.slug == question.default)
            for s in question.approaches.values()
        )
        found.append(QuestionView(slug, question.text, chosen, rows))
    return tuple(found)


@dataclass(frozen=True)
class SizePhraseView:
    """A size that was told, compared."""

    text: str
    error: str = ""
    direction: str = ""
    words: str = ""


def said_size(text: str, life: Life, units: Units, today: dt.date) -> SizePhraseView:
    """A size as it is spoken against what this animal needs today and when it is grown."""
    try:
        said = spoken(text, life.future.length_m(today))
    except EntryError as why:
        return SizePhraseView(text, error=str(why))
    now, grown = (
        compared(said, life.future.enclosure_m(today)),
        compared(said, life.buying.grown_enclosure_m),
    )
    if now.enough is None:
        share = f"{now.volume_share:.0%}" if now.volume_share is not None else "some"
        return SizePhraseView(
            text,
            direction="unknown",
            words=(
                f"It holds {share} of the litres it needs now, but litres say nothing of its floor:"
                " ask for its sides."
            ),
        )
    meant = f"{_sides(now, units)}: "
    if now.enough and grown.enough:
        return SizePhraseView(
            text, direction="right", words=meant + "large enough now and when it is grown."
        )
    if now.enough:
        return SizePhraseView(
            text,
            direction="above",
            words=meant
            + f"large enough now, not when it is grown ({' and '.join(grown.short)} too small).",
        )
    return SizePhraseView(
        text, direction="below", words=meant + f"too small now: {' and '.join(now.short)}."
    )


def _sides(item: Compared, units: Units) -> str:
    if item.said.sides_m is None:
        raise ImpossibleStateError("missing: item.said.sides_m")
    shown = wording.sides([side for side in item.said.sides_m if side is not None], units)
    return f"A “{item.said.tank.name}” tank, {shown}" if item.said.tank is not None else shown


@dataclass(frozen=True)
class PathView:
    """The life plan drawn."""

    names: SafeString
    timeline: SafeString
    milestones: tuple[MilestoneView, ...]
    stage_x: float
    """Where today's stage begins, as a share of the width."""
    others: tuple[tuple[str, str, str, str], ...]
    """Row, approach, what it says, why."""
    life_until: str
    source: str


def path_view(life: Life, units: Units, today: dt.date, width: float = 1080.0) -> PathView:
    """The life plan as rows and words."""
    plan = life.life_plan
    layout = life_plan_drawing.lay_out(
        plan, width, lambda worth: wording.worth_lines(worth, units)
    )
    said = "; ".join(
        f"{condition_period.name} from {condition_period.since:%B %Y}"
        for condition_period in plan.stages
    )
    others = []
    for life_row in plan.life_rows:
        for other in life_row.others:
            others.append(
                (
                    wording.NAMES[life_row.slug],
                    other.approach,
                    otherwise(other, units),
                    because(other.why),
                )
            )
    until = (
        f"Its species lives to about {plan.life_until[0]:%Y} to {plan.life_until[1]:%Y}"
        if plan.life_until
        else ""
    )
    return PathView(
        mark_safe(write(life_plan_drawing.names(layout, wording.NAMES))),
        mark_safe(
            write(
                life_plan_drawing.timeline(plan, layout, f"Life plan of {life.animal.name}", said)
            )
        ),
        milestones_of(life, units, today),
        next(
            (
                layout.x(condition_period.since)
                for condition_period in plan.stages
                if condition_period.since <= today < condition_period.until
            ),
            0.0,
        )
        / layout.width,
        tuple(others),
        until,
        str(plan.source),
    )
