"""What was learned, as a document: each strength with its interval before and after, and the
predictions that readings replaced.
"""

import math

import numpy as np

from husbandry.calibration.fitting import CalibrationResult
from husbandry.climate.heat_model import HeatSource
from husbandry.derivation import Z90, Derivation, Source, named_text, named_value
from husbandry.documents.request import Request
from husbandry.documents.result import Calibration, LearnedStrength, UncalibratedPrediction
from husbandry.enclosure.equipment import HEATERS
from husbandry.items.union import Item
from husbandry.predict.predict import AnimalPosition, heat_lamp, predict, uv_source
from husbandry.predict.strengths import (
    ENCLOSURE_LN_SD,
    ENCLOSURE_STRENGTHS,
    Key,
    KnownStrengths,
    beam_key,
    uv_key,
)
from husbandry.species.needs import NeedKey

_ENCLOSURE_NAMES = {
    "envelope": "heat that panels, vents and leaks let out",
    "lengthwise": "mixing of the air along the enclosure",
    "upright": "mixing of the air between floor and lid",
}
_SOURCE = Source(
    kind="measured",
    text="readings of this enclosure, fitted with priors: docs/methods/calibration.md",
)
WORTH_TELLING = 0.9
"""A strength whose interval readings have narrowed to less than this share of its prior is told
(design choice) [1].
"""


def _lamps(request: Request, position: AnimalPosition) -> list[tuple[Item, HeatSource]]:
    """Everything that warms, each once."""
    found = [
        t
        for t in request.items
        if (t.is_heater or t.is_tube) and (t.is_tube or HEATERS[t.kind].beam_share > 0)
    ]
    return [(item, heat_lamp(item, request, position)) for item in found]


def _strength(
    name: str, slug: str, known: KnownStrengths, key: Key, prior: float, far: bool, count: int
) -> LearnedStrength | None:
    sd = float(np.sqrt(known.spread([(key, prior)])[0, 0]))
    if sd > WORTH_TELLING * prior:
        return None
    value = known.of(key)
    return LearnedStrength(
        slug=slug,
        name=name,
        derivation=Derivation(
            value=value,
            unit="×",
            low=value * math.exp(-Z90 * sd),
            high=value * math.exp(Z90 * sd),
            rule=(
                "Factor on the model's own, at which model and readings come closest: least squares"
                " over all readings of this enclosure with the priors."
            ),
            inputs=(
                named_value("readings fitted", count, "1"),
                named_text(
                    "before any reading", f"×/÷ {math.exp(Z90 * prior):.2f} nine times of ten"
                ),
            ),
            sources=(_SOURCE,),
            would_change=(
                "More readings: of the surface under each lamp, of the air at both ends and below"
                " the lid, with the room's temperature."
            ),
        ),
        before_low=math.exp(-Z90 * prior),
        before_high=math.exp(Z90 * prior),
        far=far,
    )


def told_of(
    request: Request,
    lesson: CalibrationResult,
    position: AnimalPosition,
    needs: tuple[NeedKey, ...],
) -> Calibration | None:
    """What readings told; None when none did."""
    if not lesson.told:
        return None
    uncalibrated = predict(request, position)
    warm = lesson.learned.warmth
    uv = lesson.learned.uv
    found = _strengths_found(lesson, position, request, uv, warm)
    before: dict[NeedKey, UncalibratedPrediction] = {}
    for need in needs:
        if need is NeedKey.UVI_DAY and uv.keys:
            reading = uncalibrated.uvi()
            ends = [reading.uvi * math.exp(s * Z90 * reading.ln_sd) for s in (-1, 1)]
            before[need] = UncalibratedPrediction(value=reading.uvi, low=ends[0], high=ends[1])
        elif (
            need is not NeedKey.UVI_DAY
            and warm.keys
            and (spread := uncalibrated.spread(need)) is not None
        ):
            before[need] = UncalibratedPrediction(
                value=spread.temp_c, low=spread.low_c, high=spread.high_c
            )
    return Calibration(
        readings=len(lesson.told),
        left_out=len(lesson.apart),
        revisions=tuple(sorted({one.revision for one in lesson.told})),
        strengths=tuple(one for one in found if one is not None),
        before=before,
    )


def _strengths_found(
    lesson: CalibrationResult,
    position: AnimalPosition,
    request: Request,
    uv: KnownStrengths,
    warm: KnownStrengths,
) -> list[LearnedStrength | None]:
    """Find each strength that readings told, with its interval before and after."""
    warm_count = sum(one.need is not NeedKey.UVI_DAY for one in lesson.told)
    uv_count = len(lesson.told) - warm_count
    found: list[LearnedStrength | None] = []
    if warm.keys:
        for item, lamp in _lamps(request, position):
            if not item.is_tube:
                key = beam_key(item)
                name = f"{item.name}: beam on its target"
                found.append(
                    _strength(
                        name,
                        f"beam-{item.id}",
                        warm,
                        key,
                        lamp.ln_sd,
                        key in lesson.far,
                        warm_count,
                    )
                )
        for key, prior in zip(ENCLOSURE_STRENGTHS, ENCLOSURE_LN_SD, strict=True):
            found.append(
                _strength(
                    _ENCLOSURE_NAMES[key[0]],
                    key[0],
                    warm,
                    key,
                    prior,
                    key in lesson.far,
                    warm_count,
                )
            )
    if uv.keys:
        for item in request.items:
            if item.is_uv:
                key = uv_key(item)
                prior = uv_source(item, request).ln_sd
                found.append(
                    _strength(
                        f"{item.name}: ultraviolet",
                        f"uv-{item.id}",
                        uv,
                        key,
                        prior,
                        key in lesson.far,
                        uv_count,
                    )
                )
    return found
