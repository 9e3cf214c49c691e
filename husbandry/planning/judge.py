"""Right or not: bands of all animals together, the number that speaks, and how sure it is."""

import datetime as dt
import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import NormalDist

from husbandry.methods import find, working
from husbandry.planning.request import ReadingSpec, Request
from husbandry.planning.result import Measured, NeedState, Occupant, Verdict
from husbandry.quantity import Kind
from husbandry.readings import corrected_reading
from husbandry.species.choosing import need_of, need_otherwise
from husbandry.species.needs import NEEDS, NeedKey, NeedKind
from husbandry.species.parts import NeedSpec
from husbandry.species.profile import Profile
from husbandry.species.schools import QUESTIONS
from husbandry.worked import Z90, Given, Otherwise, Worked

SETTLED_H = 6.0
"""Hours after switch-on from which a reading is compared with the steady prediction: stone and soil need them."""
SURE = 0.8
BEFORE_THE_CHANGE = "taken before the last change"
_NORMAL = NormalDist()


@dataclass(frozen=True)
class Band:
    """A need of all animals together."""

    kind: NeedKind
    low: Worked | None
    high: Worked | None
    limit_low: Worked | None
    limit_high: Worked | None
    conflict: str = ""

    @property
    def low_value(self) -> float:
        """Lower end, −∞ when open."""
        return self.low.value if self.low else -math.inf

    @property
    def high_value(self) -> float:
        """Upper end, ∞ when open."""
        return self.high.value if self.high else math.inf

    @property
    def width(self) -> float:
        """Of the band; a stand-in when it is open on one side."""
        if self.low and self.high:
            return max(self.high.value - self.low.value, 1e-6)
        end = self.low or self.high
        assert end is not None  # `bands` makes none without an end
        return max(abs(end.value) * 0.2, 1.0)

    def shortfall(self, value: float) -> float:
        """How far outside the band, in band widths; 0 inside [1]."""
        return max(self.low_value - value, value - self.high_value, 0.0) / self.width

    def beyond_limit(self, value: float) -> float:
        """How far past an absolute limit [unit]; 0 when kept."""
        past = [0.0]
        if self.limit_low:
            past.append(self.limit_low.value - value)
        if self.limit_high:
            past.append(value - self.limit_high.value)
        return max(past)

    def aim(self) -> float:
        """The value to aim at: the middle, or a little inside the only end."""
        if self.low and self.high:
            return (self.low.value + self.high.value) / 2
        return self.low.value + 0.25 * self.width if self.low else self.high.value - 0.25 * self.width  # type: ignore[union-attr]


def _end(
    profile: Profile,
    animal: Occupant,
    spec: NeedSpec,
    kind: NeedKind,
    name: str,
    origins: tuple[str, ...],
    otherwise: tuple[Otherwise, ...],
) -> Worked | None:
    value = getattr(spec, name)
    if value is None:
        return None
    words = {
        "low": "lower end of the band",
        "high": "upper end of the band",
        "limit_low": "lower limit",
        "limit_high": "upper limit",
    }
    return Worked(
        value=value,
        unit=kind.unit,
        rule=f"{profile.name} ({profile.species}), {animal.stage.name}: {words[name]} of {kind.name.lower()}, {kind.place}."
        + (f" {spec.note[0].upper()}{spec.note[1:]}." if spec.note else ""),
        inputs=(Given(name="stage", text=animal.stage.name), Given(name="decided by", text=animal.stage.decided_by)),
        sources=profile.sources(origins),
        school=QUESTIONS[spec.question].schools[spec.school].name if spec.school else "",
        others=otherwise if name in {"low", "high"} else (),
        would_change="The life stage, or another profile value.",
    )


def bands(animals: Sequence[Occupant], profiles: dict[str, Profile], schools: tuple[dict[str, str], ...]) -> dict[NeedKey, Band]:
    """The bands that all animals in the box share. Limits are the strictest; a gap between two bands is a conflict that names both."""
    found: dict[NeedKey, Band] = {}
    for key, kind in NEEDS.items():
        ends: dict[str, list[tuple[Worked, str]]] = {name: [] for name in ("low", "high", "limit_low", "limit_high")}
        for animal, chosen in zip(animals, schools, strict=True):
            profile = profiles[animal.species]
            stage = animal.stage.slug
            spec = need_of(profile.needs, key, stage, chosen)
            if spec is None:
                continue
            otherwise = need_otherwise(profile.needs, key, stage, chosen, constant="humidity-figure" in profile.questions)
            for name in ends:
                origins = spec.limit_origin if name.startswith("limit") else spec.origin
                end = _end(profile, animal, spec, kind, name, origins, otherwise)
                if end is not None:
                    ends[name].append((end, animal.name or profile.name))
        if not ends["low"] and not ends["high"]:
            continue
        tight = {
            name: (max if name.endswith("low") else min)(options, key=lambda pair: pair[0].value) if options else None
            for name, options in ends.items()
        }
        low, high = tight["low"], tight["high"]
        conflict = ""
        if low and high and low[0].value > high[0].value:
            conflict = f"{low[1]} needs at least {low[0].value:g} {kind.unit}, {high[1]} at most {high[0].value:g} {kind.unit}."
        ends_found = {name: pair[0] if pair else None for name, pair in tight.items()}
        found[key] = Band(kind, conflict=conflict, **ends_found)
    return found


def _chance(band: Band, value: float, sd: float, direction: str) -> float:
    """Probability that the direction holds, for a normal (UVI: lognormal) centre."""
    log = band.kind.kind is Kind.UVI

    def below(end: float) -> float:
        if math.isinf(end):
            return 0.0 if end < 0 else 1.0
        if sd <= 0 or (log and (value <= 0 or end <= 0)):
            return 1.0 if value < end else 0.0
        return _NORMAL.cdf((math.log(end / value) if log else end - value) / sd)

    under, over = below(band.low_value), 1 - below(band.high_value)
    return {"below": under, "above": over, "right": max(1 - under - over, 0.0)}[direction]


def judge(band: Band, value: float, sd: float, *, speaks: str) -> Verdict:
    """The verdict of one number on one band.

    The centre decides the direction; a limit is judged by the unfavourable end of the 90 % interval, and what only an uncalibrated
    prediction's interval puts past it is unproven, not wrong.
    """
    if band.conflict:
        return Verdict(direction="unknown", speaks="nothing")
    if value < band.low_value:
        direction, by = "below", band.low_value - value
    elif value > band.high_value:
        direction, by = "above", value - band.high_value
    else:
        direction, by = "right", 0.0
    probability = _chance(band, value, sd, direction)
    limit = "none"
    if band.limit_low or band.limit_high:
        log = band.kind.kind is Kind.UVI
        ends = [value * math.exp(s * Z90 * sd) if log else value + s * Z90 * sd for s in (-1, 1)]
        if band.beyond_limit(value) > 0:
            limit = "breached"
        elif max(band.beyond_limit(end) for end in ends) > 0:
            limit = "breached" if speaks == "measured" else "unproven"
        else:
            limit = "kept"
    return Verdict.model_validate(
        {
            "direction": direction,
            "by": by,
            "probability": round(probability, 4),
            "sure": probability >= SURE,
            "limit": limit,
            "speaks": speaks,
        }
    )


def _why_not(reading: ReadingSpec, kind: NeedKind, request: Request, age_days: float) -> str:
    if reading.revision != request.revision:
        return BEFORE_THE_CHANGE
    if age_days > kind.fresh_days:
        return f"older than {kind.fresh_days} days"
    if kind.kind is Kind.TEMPERATURE and kind.phase == "day" and reading.lamp_on_h is not None and reading.lamp_on_h < SETTLED_H:
        return f"taken {reading.lamp_on_h:g} h after switch-on; stone and soil settle in about {SETTLED_H:g} h"
    return ""


def measured(key: NeedKey, request: Request) -> Measured | None:
    """The reading to show for a need: the latest that may be judged, else the latest of all."""
    kind = NEEDS[key]
    mine = sorted((r for r in request.readings if r.need == key and r.at <= request.now), key=lambda r: r.at)
    if not mine:
        return None

    def judged(reading: ReadingSpec) -> bool:
        return not _why_not(reading, kind, request, _age(reading, request.now))

    reading = next((r for r in reversed(mine) if judged(r)), mine[-1])
    age = _age(reading, request.now)
    why = _why_not(reading, kind, request, age)
    value = corrected_reading(reading.value, reading.offset)
    spread = Z90 * kind.reading_sd * (value if kind.kind is Kind.UVI else 1.0)
    method = find("corrected_reading")
    worked = working(method, {"value": reading.value, "offset": reading.offset}, value).model_copy(
        update={"unit": kind.unit, "low": value - spread, "high": value + spread}
    )
    return Measured(
        value=value,
        shown=reading.value,
        unit=kind.unit,
        at=reading.at,
        age_days=age,
        fresh=age <= kind.fresh_days and reading.revision == request.revision,
        judged=not why,
        why_not=why,
        instrument=reading.instrument,
        worked=worked,
    )


def _age(reading: ReadingSpec, now: dt.datetime) -> float:
    return (now - reading.at).total_seconds() / 86400


def state(band: Band, predicted: Worked | None, ln_sd: float, request: Request, floor: Worked | None) -> NeedState:
    """A need with its three marks. A fresh measurement of the present revision speaks; else the prediction."""
    reading = measured(band.kind.key, request)
    if reading is not None and reading.judged:
        verdict = judge(band, reading.value, band.kind.reading_sd, speaks="measured")
    elif predicted is not None:
        sd = ln_sd if band.kind.kind is Kind.UVI else (predicted.sd or 0.0)
        verdict = judge(band, predicted.value, sd, speaks="predicted")
    else:
        verdict = Verdict(direction="unknown")
    return NeedState(
        key=band.kind.key,
        name=band.kind.name,
        place=band.kind.place,
        phase=band.kind.phase,
        unit=band.kind.unit,
        low=band.low,
        high=band.high,
        limit_low=band.limit_low,
        limit_high=band.limit_high,
        predicted=predicted,
        floor=floor,
        measured=reading,
        verdict=verdict,
        conflict=band.conflict,
    )
