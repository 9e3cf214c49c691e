"""Right or not: target ranges of all animals together, the number that speaks, and how sure it is."""

import datetime as dt
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from statistics import NormalDist
from typing import Any

from husbandry.derivation import Z90, Derivation, OtherApproach, named_text, named_value
from husbandry.documents.request import ReadingSpec, Request
from husbandry.documents.result import Measured, NeedState, Occupant, Verdict
from husbandry.errors import ImpossibleStateError
from husbandry.methods import derivation_of, find
from husbandry.quantity import Kind
from husbandry.readings import corrected_reading
from husbandry.species.approaches import QUESTIONS
from husbandry.species.needs import NEEDS, NeedKey, NeedKind
from husbandry.species.parts import NeedSpec
from husbandry.species.profile import Profile
from husbandry.species.selection import need_of, need_otherwise

SETTLED_H = 6.0
"""Hours after switch-on from which a reading stands as it is: stone and soil need them (source:
heat 4).
"""
LEAST_SHARE = 0.5
"""Of its rise that a place must have made for an earlier reading to be judged (design choice) [1]."""
SHARE_SD = 0.25
"""Standard deviation of what is added to such a reading, over itself (design choice: the model's
time constants) [1].
"""
RiseShare = Callable[[NeedKey, float], tuple[float, float] | None]
"""By need and hours after switch-on: where the place began [°C], and the share of its rise that it
has made [1].
"""
UV_TOLD_APART = 0.1
"""Of what a UV meter shows (common practice: ±10 %) [1]."""
SURE = 0.8
"""From that probability a verdict is sure (decisions, 3) [1]."""
BEFORE_THE_CHANGE = "taken before the last change"
_NORMAL = NormalDist()


@dataclass(frozen=True)
class TargetRange:
    """A need of all animals together."""

    kind: NeedKind
    low: Derivation | None
    high: Derivation | None
    limit_low: Derivation | None
    limit_high: Derivation | None
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
        """Of the target range; a stand-in when it is open on one side."""
        if self.low and self.high:
            return max(self.high.value - self.low.value, 1e-6)
        end = self.low or self.high
        if end is None:
            raise ImpossibleStateError("`targets` makes none without an end")
        return max(abs(end.value) * 0.2, 1.0)

    def shortfall(self, value: float) -> float:
        """How far outside the target range, in target range widths; 0 inside [1]."""
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
        if self.low:
            return self.low.value + 0.25 * self.width
        if self.high:
            return self.high.value - 0.25 * self.width
        raise ValueError("a target range needs at least one end")


def _end(
    profile: Profile,
    animal: Occupant,
    spec: NeedSpec,
    kind: NeedKind,
    name: str,
    origins: tuple[str, ...],
    otherwise: tuple[OtherApproach, ...],
) -> Derivation | None:
    value = getattr(spec, name)
    if value is None:
        return None
    words = {
        "low": "lower end of the target range",
        "high": "upper end of the target range",
        "limit_low": "lower limit",
        "limit_high": "upper limit",
    }
    return Derivation(
        value=value,
        unit=kind.unit,
        rule=(
            f"{profile.name} ({profile.species}), {animal.stage.name}: {words[name]} of"
            f" {kind.name.lower()}, {kind.place}."
        )
        + (f" {spec.note[0].upper()}{spec.note[1:]}." if spec.note else ""),
        inputs=(
            named_text("stage", animal.stage.name),
            named_text("decided by", animal.stage.decided_by),
        ),
        sources=profile.sources(origins),
        approach=QUESTIONS[spec.question].approaches[spec.approach].name if spec.approach else "",
        others=otherwise if name in {"low", "high"} else (),
        would_change="The life stage, or another profile value.",
    )


def targets(
    animals: Sequence[Occupant],
    profiles: dict[str, Profile],
    approaches: tuple[dict[str, str], ...],
) -> dict[NeedKey, TargetRange]:
    """The target ranges that all animals in the enclosure share.

    Limits are the strictest; a gap between two target ranges is a conflict that names both.
    """
    found: dict[NeedKey, TargetRange] = {}
    for key, kind in NEEDS.items():
        ends: dict[str, list[tuple[Derivation, str]]] = {
            name: [] for name in ("low", "high", "limit_low", "limit_high")
        }
        for animal, chosen in zip(animals, approaches, strict=True):
            profile = profiles[animal.species]
            stage = animal.stage.slug
            spec = need_of(profile.needs, key, stage, chosen)
            if spec is None:
                continue
            otherwise = need_otherwise(
                profile.needs, key, stage, chosen, constant="humidity-figure" in profile.questions
            )
            for name in ends:
                origins = spec.limit_origin if name.startswith("limit") else spec.origin
                end = _end(profile, animal, spec, kind, name, origins, otherwise)
                if end is not None:
                    ends[name].append((end, animal.name or profile.name))
        if not ends["low"] and not ends["high"]:
            continue
        tight = {
            name: (
                (max if name.endswith("low") else min)(options, key=lambda pair: pair[0].value)
                if options
                else None
            )
            for name, options in ends.items()
        }
        low = tight["low"]
        high = tight["high"]
        conflict = ""
        if low and high and low[0].value > high[0].value:
            conflict = (
                f"{low[1]} needs at least {low[0].value:g} {kind.unit}, {high[1]} at most"
                f" {high[0].value:g} {kind.unit}."
            )
        ends_found = {name: pair[0] if pair else None for name, pair in tight.items()}
        found[key] = TargetRange(kind, conflict=conflict, **ends_found)
    return found


def _chance(target: TargetRange, value: float, sd: float, direction: str) -> float:
    """Probability that the direction holds, for a normal (UVI: lognormal) centre."""
    log = target.kind.kind is Kind.UVI

    def below(end: float) -> float:
        if math.isinf(end):
            return 0.0 if end < 0 else 1.0
        if sd <= 0 or (log and (value <= 0 or end <= 0)):
            return 1.0 if value < end else 0.0
        return _NORMAL.cdf((math.log(end / value) if log else end - value) / sd)

    under = below(target.low_value)
    over = 1 - below(target.high_value)
    return {"below": under, "above": over, "right": max(1 - under - over, 0.0)}[direction]


def _told_apart(target: TargetRange, end: float) -> float:
    """What a usual instrument does not tell from an end of the range; a UV meter a tenth of what it
    shows, at the most.
    """
    sd = target.kind.reading_sd
    return min(sd, UV_TOLD_APART * end) if target.kind.kind is Kind.UVI else sd


def judge(
    target: TargetRange, value: float, sd: float, *, speaks: str, carried: bool = False
) -> Verdict:
    """The verdict of one number on one target range.

    The centre decides the direction, and what no usual instrument tells from the end of the range
    is in it; a limit is judged by the unfavourable end of the 90 %
    interval, and what only an uncalibrated
    prediction's interval, or that of a reading of the morning, puts past it is unverified, not
    wrong.
    """
    if target.conflict:
        return Verdict(direction="unknown", speaks="nothing")
    if value < target.low_value - _told_apart(target, target.low_value):
        direction = "below"
        by = target.low_value - value
    elif value > target.high_value + _told_apart(target, target.high_value):
        direction = "above"
        by = value - target.high_value
    elif (
        target.beyond_limit(value) > 0
    ):  # several animals: what is right for one passes another's limit
        too_low = target.limit_low is not None and value < target.limit_low.value
        direction = "below" if too_low else "above"
        by = target.beyond_limit(value)
    else:  # by how little it lies beside its range, where it does
        direction = "right"
        by = max(target.low_value - value, value - target.high_value, 0.0)
    probability = _chance(target, value, sd, direction)
    limit = "none"
    if target.limit_low or target.limit_high:
        log = target.kind.kind is Kind.UVI
        reach = Z90 * sd
        if log:
            ends = [value * math.exp(-reach), value * math.exp(reach)]
        else:
            ends = [value - reach, value + reach]
        if target.beyond_limit(value) > 0:
            limit = "breached"
        elif max(target.beyond_limit(end) for end in ends) > 0:
            limit = "breached" if speaks == "measured" and not carried else "unproven"
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


def settles(kind: NeedKind) -> bool:
    """Whether a need settles over the hours after switch-on: warmth by day, but not water, which
    follows whole days.
    """
    return (
        kind.kind is Kind.TEMPERATURE and kind.phase == "day" and kind.key is not NeedKey.WATER_DAY
    )


def _early(reading: ReadingSpec, kind: NeedKind) -> bool:
    """Whether it was taken before the enclosure had settled."""
    return settles(kind) and reading.lamp_on_h is not None and reading.lamp_on_h < SETTLED_H


def _share(
    reading: ReadingSpec, kind: NeedKind, rises: RiseShare | None
) -> tuple[float, float] | None:
    """Where the place began and what share of its rise it had made, for an early reading that can
    be carried on; None for one that cannot.
    """
    if rises is None or reading.lamp_on_h is None:
        return None
    found = rises(kind.key, reading.lamp_on_h)
    return found if found is not None and found[1] >= LEAST_SHARE else None


def _why_not(
    reading: ReadingSpec,
    kind: NeedKind,
    request: Request,
    age_days: float,
    rises: RiseShare | None,
) -> str:
    if reading.revision != request.revision:
        return BEFORE_THE_CHANGE
    if age_days > kind.fresh_days:
        return f"older than {kind.fresh_days} days"
    if _early(reading, kind) and _share(reading, kind, rises) is None:
        return (
            f"taken {reading.lamp_on_h:g} h after switch-on; stone and soil settle in about"
            f" {SETTLED_H:g} h"
        )
    return ""


def measured(key: NeedKey, request: Request, rises: RiseShare | None = None) -> Measured | None:
    """The reading to show for a need: the latest settled one that may be judged, else the latest
    that may, else the latest of all.

    A reading of the morning is carried on to the settled enclosure by the share of its rise that
    the model says it had made.
    """
    kind = NEEDS[key]
    mine = sorted(
        (r for r in request.readings if r.need == key and r.judges and r.at <= request.now),
        key=lambda r: r.at,
    )
    if not mine:
        return None
    good = [r for r in mine if not _why_not(r, kind, request, _age(r, request.now), rises)]
    settled = [r for r in good if not _early(r, kind)]
    reading = (settled or good or mine)[-1]
    return _judged_reading(kind, reading, request, rises)


def _judged_reading(
    kind: NeedKind, reading: ReadingSpec, request: Request, rises: Any
) -> Measured | None:
    """Judge a reading by its age and by what has changed since."""
    age = _age(reading, request.now)
    why = _why_not(reading, kind, request, age, rises)
    read = corrected_reading(reading.value, reading.offset)
    begun = _share(reading, kind, rises) if not why and _early(reading, kind) else None
    more = 0.0
    sd = kind.reading_sd
    if begun is not None:
        begin_c, share = begun
        more = (read - begin_c) * (1 / share - 1)
        sd = math.hypot(kind.reading_sd / share, SHARE_SD * more)
    value = read + more
    spread = Z90 * sd * (value if kind.kind is Kind.UVI else 1.0)
    method = find("corrected_reading")
    derivation = derivation_of(
        method, {"value": reading.value, "offset": reading.offset}, read
    ).model_copy(
        update={"unit": kind.unit, "value": value, "low": value - spread, "high": value + spread}
    )
    if begun is not None:
        carried = {
            "rule": (
                f"{derivation.rule} Read before the enclosure had settled: carried on by the share"
                " of its rise that the model says it had made."
            ),
            "inputs": (
                *derivation.inputs,
                named_value("after switch-on", reading.lamp_on_h, "h"),
                named_value("before switch-on, by the model", begun[0], "°C"),
                named_value("share of its rise", begun[1], "1"),
            ),
            "method": "",
            "command": "",
        }
        derivation = derivation.model_copy(update=carried)
    return Measured(
        value=value,
        to_come_k=more,
        after_h=reading.lamp_on_h if begun is not None else None,
        sd=sd,
        shown=reading.value,
        unit=kind.unit,
        at=reading.at,
        age_days=age,
        fresh=age <= kind.fresh_days and reading.revision == request.revision,
        judged=not why,
        why_not=why,
        instrument=reading.instrument,
        derivation=derivation,
    )


def _age(reading: ReadingSpec, now: dt.datetime) -> float:
    return (now - reading.at).total_seconds() / 86400


def state(
    target: TargetRange,
    predicted: Derivation | None,
    ln_sd: float,
    request: Request,
    floor: Derivation | None,
    rises: RiseShare | None = None,
) -> NeedState:
    """A need with its three marks.

    A fresh measurement of the present revision speaks; else the prediction.
    """
    reading = measured(target.kind.key, request, rises)
    if reading is not None and reading.judged:
        verdict = judge(
            target,
            reading.value,
            reading.sd,
            speaks="measured",
            carried=reading.after_h is not None,
        )
    elif predicted is not None:
        sd = ln_sd if target.kind.kind is Kind.UVI else (predicted.sd or 0.0)
        verdict = judge(target, predicted.value, sd, speaks="predicted")
    else:
        verdict = Verdict(direction="unknown")
    return NeedState(
        key=target.kind.key,
        name=target.kind.name,
        place=target.kind.place,
        phase=target.kind.phase,
        unit=target.kind.unit,
        low=target.low,
        high=target.high,
        limit_low=target.limit_low,
        limit_high=target.limit_high,
        predicted=predicted,
        floor=floor,
        measured=reading,
        verdict=verdict,
        conflict=target.conflict,
    )
