"""The model's record: what was promised when an enclosure was changed, beside what was read
afterwards. Method: docs/methods/calibration.md.
"""

import datetime as dt
import math
from collections.abc import Sequence

from husbandry.derivation import Derivation, Document, Source, named_value
from husbandry.documents.request import ReadingSpec
from husbandry.documents.result import PlanSummary, UncalibratedPrediction
from husbandry.quantity import Kind
from husbandry.readings import corrected_reading
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.targets.verdicts import SETTLED_H

CHANGES_SHOWN = 10
"""Changes that the record looks back on (design choice)."""


class PastPrediction(Document):
    """A state of an enclosure, and what was predicted of it when it was made."""

    revision: int
    reason: str
    made_at: dt.datetime
    promised: dict[NeedKey, UncalibratedPrediction]


class PredictionCheck(Document):
    """A promise and the first settled reading after it."""

    revision: int
    reason: str
    need: NeedKey
    promised: UncalibratedPrediction
    read: float
    read_at: dt.datetime

    @property
    def off(self) -> float:
        """Read less promised [the need's unit]."""
        return self.read - self.promised.value

    @property
    def inside(self) -> bool:
        """Whether it lies in the interval that was promised, nine times of ten."""
        return self.promised.low <= self.read <= self.promised.high


class Record(Document):
    """The last changes of an enclosure that were measured afterwards, the newest first."""

    kept: tuple[PredictionCheck, ...]
    changes: int
    within: Derivation | None
    """Within how much nine of ten temperatures came, or all where there are fewer than ten [K]."""

    @property
    def inside(self) -> int:
        """How many readings lie in their promised interval."""
        return sum(one.inside for one in self.kept)


def promises(seen: PlanSummary) -> dict[NeedKey, UncalibratedPrediction]:
    """What an enclosure is predicted to do, to be kept with its revision."""
    found = {}
    for need in seen.needs:
        derivation = need.predicted
        if derivation is not None and derivation.low is not None and derivation.high is not None:
            found[need.key] = UncalibratedPrediction(
                value=derivation.value, low=derivation.low, high=derivation.high
            )
    return found


def record(made: Sequence[PastPrediction], readings: Sequence[ReadingSpec]) -> Record:
    """Put promises and readings together.

    Parameters
    ----------
    made : sequence
        Every state of the enclosure, in order.
    readings : sequence
        All of its readings; those of the need's own place count, once the enclosure had settled.
    """
    kept: list[PredictionCheck] = []
    changes: list[int] = []
    for state in sorted(made, key=lambda one: -one.revision):
        found = []
        for need, promised in state.promised.items():
            read = [
                r
                for r in readings
                if r.revision == state.revision and r.need is need and r.judges and _settled(r)
            ]
            if read:
                first = min(read, key=lambda r: r.at)
                found.append(
                    PredictionCheck(
                        revision=state.revision,
                        reason=state.reason,
                        need=need,
                        promised=promised,
                        read=corrected_reading(first.value, first.offset),
                        read_at=first.at,
                    )
                )
        if found and len(changes) < CHANGES_SHOWN:
            changes.append(state.revision)
            kept += found
    off = sorted(abs(one.off) for one in kept if NEEDS[one.need].kind is Kind.TEMPERATURE)
    within = None
    if off:
        value = off[-1] if len(off) < 10 else off[math.ceil(0.9 * len(off)) - 1]
        within = Derivation(
            value=value,
            unit="K",
            rule=(
                "Nine of ten temperatures were first read within this of what was predicted when"
                " the change was made; all, where there are fewer than ten."
            ),
            inputs=(
                named_value("changes", len(changes), "1"),
                named_value("temperatures", len(off), "1"),
            ),
            sources=(Source(kind="measured", text="promises and readings of this enclosure"),),
            would_change="The next reading after a change.",
        )
    return Record(kept=tuple(kept), changes=len(changes), within=within)


def _settled(reading: ReadingSpec) -> bool:
    return (
        NEEDS[reading.need].phase == "night"
        or reading.lamp_on_h is None
        or reading.lamp_on_h >= SETTLED_H
    )
