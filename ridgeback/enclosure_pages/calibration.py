"""What readings told of an enclosure, and how well the model has done here: as the page shows them."""

from dataclasses import dataclass

from django.utils.safestring import SafeString, mark_safe

from husbandry.calibration.model_record import PastPrediction, Record, record
from husbandry.documents.request import ReadingSpec
from husbandry.documents.result import LearnedStrength, Plan
from husbandry.quantity import Kind, Units, show, to_reader
from husbandry.species.needs import NEEDS
from ridgeback.drawing.strength import strength
from ridgeback.drawing.svg import write
from ridgeback.enclosures import wording
from ridgeback.enclosures.models import Enclosure

_MORE = {
    "envelope": ("lets out more heat", "lets out less heat"),
    "lengthwise": ("mixes more", "mixes less"),
    "upright": ("mixes more", "mixes less"),
}


@dataclass(frozen=True)
class StrengthView:
    """One strength as a line."""

    name: str
    words: str
    bar: SafeString
    far: bool
    pointer: str


@dataclass(frozen=True)
class CalibrationView:
    """What readings told."""

    headline: str
    narrowed: tuple[str, ...]
    strengths: tuple[StrengthView, ...]
    left_out: int


@dataclass(frozen=True)
class PredictionCheckView:
    """A promise beside its reading."""

    need: str
    promised: str
    read: str
    off: str
    inside: bool


@dataclass(frozen=True)
class ChangeKept:
    """A change with what was read after it."""

    revision: int
    reason: str
    age: str
    rows: tuple[PredictionCheckView, ...]


@dataclass(frozen=True)
class RecordView:
    """The model's record in this enclosure."""

    headline: str
    inside: str
    changes: tuple[ChangeKept, ...]


def _words(found: LearnedStrength) -> str:
    value = found.derivation.value
    off = abs(value - 1)
    if off < 0.03:
        return "as the model has it"
    more, less = _MORE.get(found.slug, ("stronger than usual", "weaker than usual"))
    return (
        f"{more if value > 1 else less}, by {off:.0%}"
        if found.slug in _MORE
        else f"{off:.0%} {more if value > 1 else less}"
    )


def calibration_view(plan: Plan, units: Units) -> CalibrationView | None:
    """What readings told; None where there were none."""
    told = plan.calibration
    if told is None:
        return None
    narrowed = []
    for need in plan.needs:
        before = told.before.get(need.key)
        now = need.predicted
        if before is not None and now is not None and now.low is not None and now.high is not None:
            wide = wording.half(before.low, before.high, need.key, units)
            narrowed.append(
                f"{need.name} {wide} → {wording.half(now.low, now.high, need.key, units)}"
            )
    rows = tuple(
        StrengthView(
            name=found.name[0].upper() + found.name[1:],
            words=_words(found),
            bar=mark_safe(write(strength(found))),
            far=found.far,
            pointer=f"/calibration/strengths/{n}/derivation",
        )
        for n, found in enumerate(told.strengths)
    )
    states = f", in {len(told.revisions)} states of it" if len(told.revisions) > 1 else ""
    many = (
        f"{told.readings} readings of this enclosure{states}"
        if told.readings != 1
        else "one reading of this enclosure"
    )
    return CalibrationView(
        f"The prediction is fitted to {many}.", tuple(narrowed), rows, told.left_out
    )


def record_of(enclosure: Enclosure) -> Record:
    """Promises and readings of an enclosure; the first state, that nothing was predicted from,
    counts like any change.
    """
    states = (
        enclosure.revisions.exclude(promised={})
        .order_by("-number")
        .only("number", "reason", "made_at", "promised", "enclosure")[:40]
    )
    made = [
        PastPrediction(revision=s.number, reason=s.reason, made_at=s.made_at, promised=s.promised)
        for s in states
    ]
    return record(
        made,
        [ReadingSpec.model_validate(reading.for_core()) for reading in enclosure.readings.all()],
    )


def record_view(enclosure: Enclosure, units: Units, now: object) -> RecordView | None:
    """The model's record; None before any state was read."""
    found = record_of(enclosure)
    if not found.kept:
        return None
    changes = []
    for revision in sorted({kept.revision for kept in found.kept}, reverse=True):
        mine = [kept for kept in found.kept if kept.revision == revision]
        rows = []
        for kept in mine:
            kind = NEEDS[kept.need].kind
            if kind is Kind.UVI:
                off = f"×{kept.read / kept.promised.value:.2f}" if kept.promised.value > 0 else ""
            else:
                number, unit = to_reader(
                    kept.off,
                    Kind.TEMPERATURE_DIFFERENCE if kind is Kind.TEMPERATURE else kind,
                    units,
                )
                off = f"{number:+.1f} {unit}"
            rows.append(
                PredictionCheckView(
                    NEEDS[kept.need].name,
                    show(kept.promised.value, kind, units),
                    show(kept.read, kind, units),
                    off.replace("-", "−"),
                    kept.inside,
                )
            )
        first = min(mine, key=lambda kept: kept.read_at)
        age = wording.age(first.read_at, now)  # type: ignore[arg-type]  # only what was read is here
        changes.append(ChangeKept(revision, mine[0].reason, age, tuple(rows)))
    many = (
        f"last {found.changes} states that were read"
        if found.changes != 1
        else "one state that was read"
    )
    headline = f"The {many}"
    if found.within is not None:
        number, unit = to_reader(found.within.value, Kind.TEMPERATURE_DIFFERENCE, units)
        headline += f": within {number:.1f} {unit} of what was promised"
    return RecordView(
        headline,
        f"{found.inside} of {len(found.kept)} readings in the promised interval",
        tuple(changes),
    )
