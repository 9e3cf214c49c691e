"""Practice as its pages show it."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

from django.utils.safestring import SafeString, mark_safe

from husbandry.practice.care_truth import feeding_words, length_needed_m, supplements_of
from husbandry.practice.cases import BUDGET_MIN, PracticeCase
from husbandry.practice.faults import CauseSpec, causes
from husbandry.practice.judging import PracticeResult, judge
from husbandry.practice.lessons import Lesson, lessons
from husbandry.practice.measuring import MOMENTS, PLACES, Measurement, PlaceName, point_of, shelf
from husbandry.practice.telling import told
from husbandry.quantity import Kind, Units, show
from husbandry.species.needs import NEEDS
from ridgeback.drawing.place_marks import MarkedPlace, place_marks
from ridgeback.drawing.sheet import NARROW, Labels, fit, front_view
from ridgeback.drawing.svg import write
from ridgeback.enclosures.planning import planned
from ridgeback.practice.models import PracticeRun
from ridgeback.units import spelled


@dataclass(frozen=True)
class MeasuredLine:
    """A measurement in the reader's units."""

    words: str
    value: str
    minutes: int


@dataclass(frozen=True)
class CaseNeedLine:
    """What an animal needs, for whoever measures."""

    name: str
    place: str
    range: str


@dataclass(frozen=True)
class CaseView:
    """A case as a trainee sees it."""

    animal: str
    words: tuple[str, ...]
    readings: tuple[str, ...]
    weights: tuple[str, ...]
    room: str
    needs: tuple[CaseNeedLine, ...]
    drawn: SafeString
    lines: tuple[MeasuredLine, ...]
    spent: int
    budget: int


def case_view(run: PracticeRun, units: Units) -> CaseView:
    """What is told, drawn and measured of a run."""
    case = run.case
    said = told(case)
    done = run.done
    room = case.shown.room

    return CaseView(
        animal=said.animal,
        words=said.words,
        readings=tuple(
            f"{one.place} {show(one.value, one.kind, units, digits=0)}" for one in said.readings
        ),
        weights=tuple(show(grams, Kind.MASS, units) for grams in said.weights_g),
        room=(
            f"{value_text(room.day_c, Kind.TEMPERATURE, units)} by day,"
            f" {value_text(room.night_c, Kind.TEMPERATURE, units)} by night"
        ),
        needs=tuple(_needs(case, units)),
        drawn=_drawn(case, units),
        lines=tuple(_line(one, units) for one in done),
        spent=sum(one.minutes for one in done),
        budget=BUDGET_MIN,
    )


def value_text(value: float, kind: Kind, units: Units) -> str:
    """A number as instruments show it."""
    return show(value, kind, units, digits=1 if kind is Kind.TEMPERATURE else None)


def _needs(case: PracticeCase, units: Units) -> Iterable[CaseNeedLine]:
    length = show(length_needed_m(case.base), Kind.LENGTH, units)
    yield CaseNeedLine("Length", "inside", f"at least {length}")
    yield CaseNeedLine("Food", "when grown", feeding_words(case.base))
    yield CaseNeedLine("Supplements", "on its food", supplements_of(case.base))

    for key, target in case.true.needs.targets.items():
        kind = NEEDS[key]
        low = show(target.low.value, kind.kind, units) if target.low else ""
        high = show(target.high.value, kind.kind, units) if target.high else ""
        text = (
            f"{low} to {high}" if low and high else f"at least {low}" if low else f"at most {high}"
        )
        yield CaseNeedLine(kind.name, kind.place, text)


def _drawn(case: PracticeCase, units: Units) -> SafeString:
    """The enclosure as its keeper believes it to be, without anything that is predicted."""
    made = planned(case.shown, keep=False)
    labels = Labels(f"Case {case.key}", "as its keeper has it", "")

    def draw() -> SafeString:
        sheet = front_view(made.plan, made.prediction, units, labels, NARROW, fields=False)
        marks = place_marks(list(marked_places(case)), fit(case.shown, NARROW))
        return mark_safe(
            write(replace(sheet, parts=(*sheet.parts, *marks)))
        )  # its own writer escapes every text

    return made.once(("practice", spelled(units), labels), draw)


MARKS: dict[PlaceName, str] = {"basking": "A", "warm": "B", "cool": "C"}
"""How places are called on the drawing."""


def place_words(place: PlaceName) -> str:
    """A place with its letter on the drawing."""
    letter = MARKS.get(place)
    return f"{letter}: {PLACES[place]}" if letter is not None else PLACES[place]


def marked_places(case: PracticeCase) -> Iterator[MarkedPlace]:
    """The places that can be measured."""
    for place, letter in MARKS.items():
        point = point_of(case, place)
        yield MarkedPlace(place, letter, PLACES[place], point.x_m, point.z_m)


def _line(one: Measurement, units: Units) -> MeasuredLine:
    instrument = shelf()[one.instrument]
    held = f", {instrument.careless}" if one.careless else ""
    words = f"{instrument.name}{held}, {place_words(one.place)}, {MOMENTS[one.moment][0]}"

    if one.kind is None:
        return MeasuredLine(f"{instrument.name}{held}".capitalize(), one.words, one.minutes)
    value = value_text(one.value, one.kind, units)

    if one.instrument.startswith("keeper_"):
        sign = "higher" if one.value > 0 else "lower"
        value = f"{value_text(abs(one.value), one.kind, units)} {sign} than yours"

    return MeasuredLine(words[:1].upper() + words[1:], value, one.minutes)


@dataclass(frozen=True)
class ResultView:
    """What came of an answer."""

    result: PracticeResult
    found: tuple[CauseSpec, ...]
    missed: tuple[CauseSpec, ...]
    believed: tuple[CauseSpec, ...]
    remedy: str
    needs: tuple[tuple[str, str, str, bool, bool], ...]
    """Name, before, after, and whether each was in range."""
    warnings: tuple[str, ...]


def result_view(run: PracticeRun, units: Units) -> ResultView:
    """The feedback on an answered run."""
    case = run.case
    result = judge(case, run.done, tuple(run.believed), run.remedy)
    known = causes()
    warnings = [shelf()[slug].warning for slug in result.careless]

    if result.too_early:
        warnings.append("A stone needs six hours to settle: what is read earlier is too cold.")

    return ResultView(
        result=result,
        found=tuple(known[slug] for slug in result.found),
        missed=tuple(known[slug] for slug in result.missed),
        believed=tuple(known[slug] for slug in result.believed),
        remedy=known[run.remedy].remedy if run.remedy in known else "",
        needs=tuple(
            (
                f"{need.name}, {NEEDS[need.key].place}",
                show(need.before, NEEDS[need.key].kind, units),
                show(need.after, NEEDS[need.key].kind, units),
                not need.off_before,
                not need.off_after,
            )
            for need in result.needs
        ),
        warnings=tuple(warnings),
    )


@dataclass(frozen=True)
class LessonLine:
    """A lesson with what somebody reached in it."""

    lesson: Lesson
    cases: tuple[tuple[int, int | None, bool], ...]
    """Number, best score, and whether its goal is reached."""

    @property
    def reached(self) -> bool:
        """Whether every case of it is."""
        return all(good for *_, good in self.cases)


def lesson_lines(runs: Iterable[PracticeRun]) -> list[LessonLine]:
    """Every lesson with the best of somebody's runs."""
    best: dict[tuple[str, int], int] = {}

    for run in runs:
        key = (run.lesson, run.number)
        best[key] = max(best.get(key, 0), run.score or 0)

    return [
        LessonLine(
            one,
            tuple(
                (number, best.get((slug, number)), best.get((slug, number), 0) >= one.goal)
                for number in one.numbers
            ),
        )
        for slug, one in lessons().items()
    ]
