"""What was learned, as a document: each strength with its interval before and after, and the predictions that readings replaced."""

import math

import numpy as np

from husbandry.box.equipment import HEATERS
from husbandry.climate.enclosure import HeatLamp
from husbandry.planning.learning import Lesson
from husbandry.planning.naming import thing_name
from husbandry.planning.predict import Stance, heat_lamp, predict, uv_source
from husbandry.planning.request import Request, Thing
from husbandry.planning.result import Calibration, StrengthFound, Untold
from husbandry.planning.strengths import BOX, BOX_LN_SD, Key, Known, beam_key, uv_key
from husbandry.species.needs import NeedKey
from husbandry.worked import Z90, Given, Source, Worked

_BOX_NAMES = {
    "envelope": "heat that panels, vents and leaks let out",
    "lengthwise": "mixing of the air along the enclosure",
    "upright": "mixing of the air between floor and lid",
}
_SOURCE = Source(kind="measured", text="readings of this enclosure, fitted with priors: docs/methods/calibration.md")
WORTH_TELLING = 0.9
"""A strength whose interval readings have narrowed to less than this share of its prior is told [1]."""


def _lamps(request: Request, stance: Stance) -> list[tuple[Thing, HeatLamp]]:
    """Everything that warms, each once."""
    found = [t for t in request.things if (t.is_heater or t.is_tube) and (t.is_tube or HEATERS[t.kind].beam_share > 0)]
    return [(thing, heat_lamp(thing, request, stance)) for thing in found]


def _strength(name: str, slug: str, known: Known, key: Key, prior: float, far: bool, count: int) -> StrengthFound | None:
    sd = float(np.sqrt(known.spread([(key, prior)])[0, 0]))
    if sd > WORTH_TELLING * prior:
        return None
    value = known.of(key)
    return StrengthFound(
        slug=slug,
        name=name,
        worked=Worked(
            value=value, unit="×", low=value * math.exp(-Z90 * sd), high=value * math.exp(Z90 * sd),
            rule="Factor on the model's own, at which model and readings come closest: least squares over all readings of this enclosure with the priors.",
            inputs=(
                Given(name="readings fitted", value=count, unit="1"),
                Given(name="before any reading", text=f"×/÷ {math.exp(Z90 * prior):.2f} nine times of ten"),
            ),
            sources=(_SOURCE,),
            would_change="More readings: of the surface under each lamp, of the air at both ends and below the lid, with the room's temperature.",
        ),
        before_low=math.exp(-Z90 * prior),
        before_high=math.exp(Z90 * prior),
        far=far,
    )  # fmt: skip


def told_of(request: Request, lesson: Lesson, stance: Stance, needs: tuple[NeedKey, ...]) -> Calibration | None:
    """What readings told; None when none did."""
    if not lesson.told:
        return None
    untold = predict(request, stance)
    warm, uv = lesson.learned.warmth, lesson.learned.uv
    warm_count = sum(one.need is not NeedKey.UVI_DAY for one in lesson.told)
    uv_count = len(lesson.told) - warm_count
    found: list[StrengthFound | None] = []
    if warm.keys:
        for thing, lamp in _lamps(request, stance):
            if not thing.is_tube:
                key = beam_key(thing)
                name = f"{thing_name(thing)}: beam on its target"
                found.append(_strength(name, f"beam-{thing.id}", warm, key, lamp.ln_sd, key in lesson.far, warm_count))
        for key, prior in zip(BOX, BOX_LN_SD, strict=True):
            found.append(_strength(_BOX_NAMES[key[0]], key[0], warm, key, prior, key in lesson.far, warm_count))
    if uv.keys:
        for thing in request.things:
            if thing.is_uv:
                key, prior = uv_key(thing), uv_source(thing, request).ln_sd
                found.append(
                    _strength(f"{thing_name(thing)}: ultraviolet", f"uv-{thing.id}", uv, key, prior, key in lesson.far, uv_count)
                )
    before: dict[NeedKey, Untold] = {}
    for need in needs:
        if need is NeedKey.UVI_DAY and uv.keys:
            reading = untold.uvi()
            ends = [reading.uvi * math.exp(s * Z90 * reading.ln_sd) for s in (-1, 1)]
            before[need] = Untold(value=reading.uvi, low=ends[0], high=ends[1])
        elif need is not NeedKey.UVI_DAY and warm.keys and (spread := untold.spread(need)) is not None:
            before[need] = Untold(value=spread.temp_c, low=spread.low_c, high=spread.high_c)
    return Calibration(
        readings=len(lesson.told),
        left_out=len(lesson.apart),
        revisions=tuple(sorted({one.revision for one in lesson.told})),
        strengths=tuple(one for one in found if one is not None),
        before=before,
    )
