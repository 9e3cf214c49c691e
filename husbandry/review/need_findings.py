"""Temperatures, humidity and ultraviolet of a description against what the animal needs: what the
keeper reads speaks, else what is predicted of what was said.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from husbandry.documents.result import NeedState, Plan
from husbandry.quantity import Kind
from husbandry.review.assumed_request import Assumed
from husbandry.review.description import Description, FactName, SaidRange, TemperaturePlace
from husbandry.review.findings import Evidence, Rank, ReviewFinding
from husbandry.species.needs import NeedKey

SAID_PLACES: dict[NeedKey, tuple[TemperaturePlace, ...]] = {
    NeedKey.SURFACE_DAY: ("basking",),
    NeedKey.WARM_AIR_DAY: ("warm", "air"),
    NeedKey.COOL_AIR_DAY: ("cool",),
    NeedKey.AIR_NIGHT: ("night", "room night"),
    NeedKey.WATER_DAY: ("water",),
}
"""Where a keeper reads what stands for a need (common practice)."""
NEAR_K, NEAR_PCT = 1.0, 5.0
"""By which a keeper's number may miss a range without being remarked: instruments and places differ
(common practice) [K, %].
"""
HARM_WIDTHS = 0.5
"""From that part of a range's width outside it harms over weeks; less could be better (design
choice) [1].
"""
UNLIKE_K = 6.0
"""From there on what is read and what is predicted do not go together (design choice) [K]."""
NAMES: dict[NeedKey, tuple[str, FactName]] = {
    NeedKey.SURFACE_DAY: ("Basking surface", "temperatures"),
    NeedKey.WARM_AIR_DAY: ("Warm end", "temperatures"),
    NeedKey.COOL_AIR_DAY: ("Cool end", "temperatures"),
    NeedKey.AIR_NIGHT: ("Night", "temperatures"),
    NeedKey.WATER_DAY: ("Water", "temperatures"),
    NeedKey.UVI_DAY: ("UV index", "uv"),
    NeedKey.HUMIDITY_DAY: ("Humidity", "humidity"),
    NeedKey.HUMIDITY_NIGHT: ("Humidity at night", "humidity"),
}
MEASURE = "Measure it before you change anything."
TOO_HOT = (
    "Too hot it cannot cool itself: it gapes, overheats, and dies within hours past its limit."
)
TOO_WARM = "Too warm it cannot rest, and has too little room to cool down."
TOO_COLD = "Too cold it digests badly, fights infections badly, and wastes away over weeks."
CONSEQUENCES: dict[tuple[NeedKey, str], str] = {
    (
        NeedKey.UVI_DAY,
        "below",
    ): "Without enough UVB it makes too little vitamin D3: soft bones, tremor, fractures.",
    (NeedKey.UVI_DAY, "above"): "Too strong UVB burns eyes and skin: it shuts its eyes and hides.",
    (NeedKey.HUMIDITY_DAY, "below"): "In dry air it sheds badly and dries out.",
    (NeedKey.HUMIDITY_DAY, "above"): "In air that never dries, lungs and skin get infected.",
    (NeedKey.AIR_NIGHT, "above"): "Without a cooler night it rests badly and burns its reserves.",
}
FIXES: dict[tuple[NeedKey, str], str] = {
    (
        NeedKey.SURFACE_DAY,
        "below",
    ): "Hang the lamp lower or fit a stronger one, as in the corrected plan.",
    (
        NeedKey.SURFACE_DAY,
        "above",
    ): "Raise the lamp, fit a weaker one or dim it, as in the corrected plan.",
    (
        NeedKey.WARM_AIR_DAY,
        "below",
    ): "More or stronger heat at the warm end, and less mesh open, as in the corrected plan.",
    (
        NeedKey.WARM_AIR_DAY,
        "above",
    ): "Weaker heat, or a thermostat that holds it, as in the corrected plan.",
    (NeedKey.COOL_AIR_DAY, "below"): "A warmer room or gentle heat held by a thermostat.",
    (
        NeedKey.COOL_AIR_DAY,
        "above",
    ): "A longer enclosure, weaker heat at one end only, or a cooler room.",
    (NeedKey.AIR_NIGHT, "below"): "A heater without light for the night, held by a thermostat.",
    (
        NeedKey.AIR_NIGHT,
        "above",
    ): "Switch day heat off at night, or set the thermostat lower for the night.",
    (NeedKey.WATER_DAY, "below"): "A water heater with its thermostat and a guard.",
    (
        NeedKey.WATER_DAY,
        "above",
    ): "A cooler room, a fan across the water, or a water cooler. No ice.",
    (NeedKey.UVI_DAY, "below"): "A stronger or nearer UVB lamp, as in the corrected plan.",
    (
        NeedKey.UVI_DAY,
        "above",
    ): "Raise the UVB lamp or fit a weaker one, as in the corrected plan.",
    (
        NeedKey.HUMIDITY_DAY,
        "below",
    ): "Cover part of the mesh, keep the substrate damp below, or mist.",
    (NeedKey.HUMIDITY_DAY, "above"): "More air through lid or vents, and fewer mistings.",
}


@dataclass(frozen=True)
class Seen:
    """A description with what was made of it."""

    said: Description
    assumed: Assumed
    plan: Plan
    ranges: Mapping[NeedKey, tuple[float, float]]
    """What is predicted of each need over everything that was not said [the need's unit]."""


def need_findings(seen: Seen) -> list[ReviewFinding]:
    """Every need that is missed, by what was read or by what is predicted."""
    found = []

    for state in seen.plan.needs:
        value = reading_of(seen, state)
        if value is not None:
            one = _by_reading(seen, state, value)
        else:
            one = _by_prediction(seen, state)
        if one is not None:
            found.append(one)
        on_the_spot = seen.said.temperature("basking") is not None
        if value is not None and on_the_spot and state.key is NeedKey.SURFACE_DAY:
            found += _unlike(seen, state, value)

    return found


def said_of(said: Description, key: NeedKey) -> SaidRange | None:
    """What the keeper reads where a need is judged."""
    if key is NeedKey.HUMIDITY_DAY:
        return said.humidity_pct
    places = SAID_PLACES.get(key)

    return said.temperature(*places) if places is not None else None


def reading_of(seen: Seen, state: NeedState) -> SaidRange | None:
    """What the keeper reads of a need. “The warm side” may be the surface or the air there: where
    only one was said it is taken for the nearer one, for keepers name both so.
    """
    said = seen.said
    warm = said.temperature("warm")

    if state.key not in {NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY}:
        return said_of(said, state.key)

    if warm is None or said.temperature("basking") is not None:
        return said_of(said, state.key)
    surface = seen.plan.need(NeedKey.SURFACE_DAY)
    air = seen.plan.need(NeedKey.WARM_AIR_DAY)

    if surface is None or air is None:
        return warm
    nearer = surface if _off(surface, warm.middle) <= _off(air, warm.middle) else air

    return warm if state.key is nearer.key else None


def called(said: Description, key: NeedKey) -> str:
    """What a need is called where its reading was named otherwise: “warm end” for a surface."""
    named_warm = said.temperature("warm") is not None and said.temperature("basking") is None
    if key is NeedKey.SURFACE_DAY and named_warm:
        return NAMES[NeedKey.WARM_AIR_DAY][0]
    return NAMES[key][0]


def _ends(state: NeedState) -> tuple[float | None, float | None]:
    return (state.low.value if state.low else None, state.high.value if state.high else None)


def _near(key: NeedKey) -> float:
    return NEAR_PCT if key in {NeedKey.HUMIDITY_DAY, NeedKey.HUMIDITY_NIGHT} else NEAR_K


def _by_reading(seen: Seen, state: NeedState, value: SaidRange) -> ReviewFinding | None:
    low, high = _ends(state)
    near = _near(state.key)
    middle = value.middle
    wide = state.key is NeedKey.HUMIDITY_DAY or _is_of_the_whole(seen.said, state.key)
    below = low is not None and (value.high if wide else middle) < low - near
    above = high is not None and (value.low if wide else middle) > high + near

    if state.key is NeedKey.AIR_NIGHT and below and seen.said.temperature("night") is None:
        below = middle < low - near if low is not None else False

    if not below and not above:
        return None
    direction = "below" if below else "above"
    limit = state.limit_low if below else state.limit_high
    past = limit is not None and (middle < limit.value if below else middle > limit.value)
    evidence = Evidence(what="said", kind=_kind(state), low=value.low, high=value.high)

    return _finding(
        called(seen.said, state.key),
        state,
        direction,
        bool(past),
        _off(state, middle),
        evidence,
        likely=False,
    )


def _is_of_the_whole(said: Description, key: NeedKey) -> bool:
    """Whether a range was said of the air as a whole: its warm end is then the range's upper end."""
    return key is NeedKey.WARM_AIR_DAY and said.temperature("warm") is None


def _by_prediction(seen: Seen, state: NeedState) -> ReviewFinding | None:
    """What is predicted: only where all that was not said leads to the same verdict."""
    if state.predicted is None or not _is_told(seen, state.key):
        return None
    least, most = seen.ranges.get(state.key, (state.predicted.value, state.predicted.value))
    low, high = _ends(state)
    near = _near(state.key) if state.key is not NeedKey.UVI_DAY else 0.0

    if low is not None and most < low - near:
        direction, value = "below", most
    elif high is not None and least > high + near:
        direction, value = "above", least
    else:
        return None
    limit = state.limit_low if direction == "below" else state.limit_high
    past = limit is not None and (
        value < limit.value if direction == "below" else value > limit.value
    )
    evidence = Evidence(
        what="predicted",
        kind=_kind(state),
        low=min(least, state.predicted.low if state.predicted.low is not None else least),
        high=max(most, state.predicted.high if state.predicted.high is not None else most),
        derivation=state.predicted,
    )
    sure = state.verdict.sure

    return _finding(
        NAMES[state.key][0],
        state,
        direction,
        bool(past and sure),
        _off(state, value),
        evidence,
        likely=not sure,
    )


def _is_told(seen: Seen, key: NeedKey) -> bool:
    """Whether enough was said that a prediction of it means something."""
    said = seen.said
    heat_told = said.heat is not None and all(one.power_w is not None for one in said.heat)

    if key is NeedKey.UVI_DAY:
        known = (one.kind != "uv" and one.distance_m is not None for one in said.uv or ())
        return bool(said.uv) and all(known)

    if key in {NeedKey.HUMIDITY_DAY, NeedKey.HUMIDITY_NIGHT}:
        return said.mistings_per_day is not None and said.substrate is not None

    if key is NeedKey.WATER_DAY:
        return False

    if key is NeedKey.SURFACE_DAY and "distance" in seen.assumed.open_values:
        return False

    return heat_told and said.sides_m is not None


def _off(state: NeedState, value: float) -> float:
    """How far outside its range [range widths]."""
    low, high = _ends(state)
    width = (
        max(high - low, 1e-6)
        if low is not None and high is not None
        else max(abs(low or high or 1) * 0.2, 1.0)
    )

    return (
        max(
            (low - value) if low is not None else 0.0,
            (value - high) if high is not None else 0.0,
            0.0,
        )
        / width
    )


def _kind(state: NeedState) -> Kind:
    if state.key is NeedKey.UVI_DAY:
        return Kind.UVI
    return Kind.HUMIDITY if state.unit == "%" else Kind.TEMPERATURE


def _finding(
    name: str,
    state: NeedState,
    direction: str,
    past: bool,
    off: float,
    evidence: Evidence,
    *,
    likely: bool,
) -> ReviewFinding:
    _, fact = NAMES[state.key]
    damp = state.key in {NeedKey.HUMIDITY_DAY, NeedKey.HUMIDITY_NIGHT}
    rank: Rank = "danger" if past and not damp else "harm" if off >= HARM_WIDTHS else "better"
    key = NeedKey.HUMIDITY_DAY if state.key is NeedKey.HUMIDITY_NIGHT else state.key
    wrong = "too low" if direction == "below" else "too high"
    title = f"{name} may be {wrong}" if likely else f"{name} {wrong}"

    warm_night = state.key is NeedKey.AIR_NIGHT and direction == "above" and not past

    if likely or warm_night:  # many keep it as warm by night as by day
        rank = "better"
    warm = TOO_HOT if past else TOO_WARM
    hot = warm if direction == "above" else TOO_COLD
    needed = Evidence(
        what="needed",
        kind=_kind(state),
        low=state.low.value if state.low else None,
        high=state.high.value if state.high else None,
        derivation=state.low or state.high,
    )
    limit = state.limit_low if direction == "below" else state.limit_high
    limits = (
        [
            Evidence(
                what="limit",
                kind=_kind(state),
                low=limit.value if direction == "below" else None,
                high=limit.value if direction == "above" else None,
            )
        ]
        if limit is not None and past
        else []
    )
    end = state.low or state.high

    return ReviewFinding(
        slug=f"{state.key} {direction}",
        fact=fact,
        rank=rank,
        title=title,
        text=_text(past=past, likely=likely),
        consequence=CONSEQUENCES.get((key, direction), hot),
        fix=MEASURE if likely else FIXES.get((key, direction), "As in the corrected plan."),
        step="today" if past else "this month",
        evidence=(evidence, needed, *limits),
        origin="; ".join(str(source) for source in end.sources) if end is not None else "",
        weight=3.0 + min(off, 5.0) if past else min(off, 5.0) + (0.2 if likely else 1.0),
        likely=likely,
    )


def _text(*, past: bool, likely: bool) -> str:
    if likely:
        return "The prediction lies outside the range it needs, and is not sure."
    return "It is outside the safe limit." if past else "It is outside the range it needs."


def _unlike(seen: Seen, state: NeedState, value: SaidRange) -> list[ReviewFinding]:
    """A number that such a lamp does not make: it was read elsewhere, or not read at all."""
    if state.predicted is None or not _is_told(seen, state.key):
        return []
    least, most = seen.ranges.get(state.key, (state.predicted.value, state.predicted.value))
    low = min(least, state.predicted.low or least)
    high = max(most, state.predicted.high or most)

    if low - UNLIKE_K <= value.middle <= high + UNLIKE_K:
        return []
    predicted = Evidence(
        what="predicted", kind=Kind.TEMPERATURE, low=low, high=high, derivation=state.predicted
    )
    said = Evidence(what="said", kind=Kind.TEMPERATURE, low=value.low, high=value.high)

    return [
        ReviewFinding(
            slug="basking reading unlikely",
            fact="temperatures",
            rank="missing",
            title="The basking temperature does not fit the lamp",
            text="Such a lamp in such an enclosure is predicted to make another temperature.",
            consequence="What is not measured at its back may be far too hot or too cold.",
            fix="Measure the surface under the lamp with an infrared thermometer after six hours.",
            step="today",
            price_eur=20.0,
            evidence=(said, predicted),
            weight=2.0,
            likely=True,
        )
    ]
