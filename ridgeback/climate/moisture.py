"""An enclosure's water through its day, ready for its page."""

from dataclasses import dataclass

from django.utils.safestring import SafeString, mark_safe

from husbandry.derivation import Derivation
from husbandry.documents.result import (
    HandMistingPlan,
    MistingPlan,
    MoistureForecast,
    Plan,
    UntendedForecast,
)
from husbandry.quantity import Kind, Units, show
from ridgeback.drawing.humidity import day_chart
from ridgeback.drawing.svg import write


@dataclass(frozen=True)
class MoistureView:
    """The section's content."""

    chart: SafeString
    verdict: str
    direction: str
    sentences: tuple[str, ...]
    others: tuple[tuple[str, str, str], ...]
    """What would move it: by day, by night."""
    numbers: tuple[tuple[str, str, str], ...]
    """Name, text, and the pointer to its derivation."""


def span_text(low: float, high: float) -> str:
    """A range of humidity."""
    return f"{low:.0f} to {high:.0f} %"


def _moved(value: float, now: Derivation | None) -> str:
    if now is None:
        return f"{value:.0f} %"
    return f"{now.value:.0f} → {value:.0f} %"


def _headline(seen: MoistureForecast) -> tuple[str, str]:
    """Direction and words: does the day keep its marks?"""
    if not seen.low_pct:
        return "unknown", "This species has no target range for humidity."
    under = seen.below_h
    over = seen.above_h
    span = span_text(min(seen.cool_pct), max(seen.cool_pct))
    if not under and not over:
        return "right", f"Predicted in range all day: {span} at the cool end."
    parts = [
        f"{hours:g} h {words} its target range"
        for hours, words in ((under, "below"), (over, "above"))
        if hours
    ]
    return (
        "below" if under >= over else "above"
    ), f"Predicted {' and '.join(parts)}: {span} at the cool end."


def timetable_text(timetable: MistingPlan, units: Units) -> str:
    """What would keep the wave, in words."""
    each = show(timetable.each_ml / 1000, Kind.VOLUME, units, small=True)
    span = span_text(timetable.lowest_pct, timetable.highest_pct)
    seconds = f" ({timetable.seconds:g} s of the pump)" if timetable.seconds else ""
    match timetable.verdict:
        case "too wet":
            return "Without any misting it is above its range already: more air, or a drier substrate."
        case "not needed":
            return f"It stays in range without misting: {span}."
        case "holds":
            return (
                f"The fewest mistings that keep the wave: {each}{seconds} at"
                f" {', '.join(timetable.times)}, for {span}."
            )
    times = (
        f" {each}{seconds} at {', '.join(timetable.times)} come nearest, with {span}."
        if timetable.times
        else ""
    )
    return f"No misting keeps it in range: the air leaves faster than water evaporates.{times}"


def _moss(days: float) -> str:
    return "a day" if days < 1.5 else f"{days:.0f} days" if days < 14 else "two weeks"


def hand_text(hand: HandMistingPlan, units: Units) -> str:
    """What two mistings by hand come to."""
    each, span = (
        show(hand.each_ml / 1000, Kind.VOLUME, units, small=True),
        span_text(hand.lowest_pct, hand.highest_pct),
    )
    return (
        f"By hand, {each} at {' and '.join(hand.times)} come to {span}: the rest is for a pump with"
        " a timer, or damper substrate."
    )


def _lasts(hours: float) -> str:
    return f"{hours:.0f} h" if hours < 48 else f"{hours / 24:.0f} days"


def left_text(left: UntendedForecast) -> str:
    """What becomes of it when nobody mists or pours."""
    if left.low_h is None:
        said = "Left alone it stays in range for three weeks."
    else:
        said = (
            "Left alone, from its last misting on, it falls below its range after"
            f" {_lasts(left.low_h)}"
        )
        deeper = left.deeper_low_h
        said += (
            "; with substrate twice as deep"
            f" {'not in three weeks' if deeper is None else f'after {_lasts(deeper)}'}."
            if deeper != left.low_h
            else "."
        )
    if left.substrate_days is not None:
        twice = (
            f", in {left.deeper_days:.0f} with substrate twice as deep" if left.deeper_days else ""
        )
        said += f" Its substrate loses half of its water in {left.substrate_days:.0f} days{twice}."
    return said


def _mistings(seen: MoistureForecast, units: Units) -> list[tuple[str, str, str]]:
    """Water and seconds of each misting, and of those that would keep the wave."""
    found = []
    runs: dict[float, int] = {}
    for n, pulse in enumerate(seen.pulses):
        if pulse.seconds is not None:
            runs.setdefault(pulse.seconds, n)
    for seconds, n in runs.items():
        times = ", ".join(pulse.at for pulse in seen.pulses if pulse.seconds == seconds)
        found.append((f"Its pump runs at {times}", f"{seconds:g} s", f"/damp/pulses/{n}/spray"))
    table = seen.timetable
    if table is not None and table.dose is not None:
        one = show(table.each_ml / 1000, Kind.VOLUME, units, small=True)
        which = "keeps the wave" if table.verdict == "holds" else "comes nearest"
        found.append((f"A misting that {which}", one, "/damp/timetable/dose"))
        if table.seconds is not None:
            found.append(
                ("the pump’s part of it", f"{table.seconds:g} s", "/damp/timetable/spray")
            )
    if table is not None and table.by_hand is not None and table.by_hand.dose is not None:
        by_hand = show(table.by_hand.each_ml / 1000, Kind.VOLUME, units, small=True)
        found.append(("A misting by hand", by_hand, "/damp/timetable/by_hand/dose"))
    return found


def moisture_view(plan: Plan, units: Units) -> MoistureView | None:
    """The section; None where nobody said how the enclosure is kept damp."""
    seen = plan.damp
    if seen is None:
        return None
    direction, headline = _headline(seen)
    sentences = []
    if seen.timetable is not None:
        sentences.append(timetable_text(seen.timetable, units))
        if seen.timetable.by_hand is not None:
            sentences.append(hand_text(seen.timetable.by_hand, units))
    if seen.left is not None:
        sentences.append(left_text(seen.left))
    if seen.hide_pct:
        moss = plan.predictions.get("moss_days")
        wetted = (
            f" Its moss is wetted again after {_moss(moss.value)} or so; it is changed when it no"
            " longer springs back."
            if moss
            else ""
        )
        sentences.append(
            "In the moist hide it stays at"
            f" {span_text(min(seen.hide_pct), max(seen.hide_pct))}.{wetted}"
        )
    if seen.dew_h:
        sentences.append(f"Dew stands on its panes for {seen.dew_h:g} h a day.")
    numbers = _moisture_numbers(plan, seen, units)
    now_day, now_night = (plan.predictions.get(key) for key in ("humidity_day", "humidity_night"))
    others = [
        (
            one.slug[0].upper() + one.slug[1:],
            _moved(one.day_pct, now_day),
            _moved(one.night_pct, now_night),
        )
        for one in seen.others
    ]
    words = (
        f"cool end {span_text(min(seen.cool_pct), max(seen.cool_pct))}, warm end"
        f" {span_text(min(seen.warm_pct), max(seen.warm_pct))}"
    )
    chart = mark_safe(
        write(day_chart(seen, "Humidity through the day", words, units))
    )  # our own writer escapes
    return MoistureView(
        chart, headline, direction, tuple(sentences), tuple(others), tuple(numbers)
    )


def _moisture_numbers(
    plan: Plan, seen: MoistureForecast, units: Units
) -> list[tuple[str, str, str]]:
    """List the numbers of the day's water."""
    names = {
        "air_changes_day": ("Air renewed by day", "{:.1f} times an hour"),
        "air_changes_night": ("by night", "{:.1f} times an hour"),
        "mist_dry": ("Misted faces dry", "{:.1f} h a day"),
        "tank_days": ("The tank lasts", "{:.1f} days"),
    }
    numbers = [
        (name, form.format(plan.predictions[key].value), f"/predictions/{key}")
        for key, (name, form) in names.items()
        if key in plan.predictions
    ]
    if "water_given" in plan.predictions:
        water = show(plan.predictions["water_given"].value / 1000, Kind.VOLUME, units, small=True)
        numbers.insert(2, ("Water", f"{water} a day", "/predictions/water_given"))
        week = show(
            plan.predictions["water_week"].value,
            Kind.VOLUME,
            units,
            small=plan.predictions["water_week"].value < 1,
        )
        numbers.insert(3, ("and in a week", week, "/predictions/water_week"))
    numbers += _mistings(seen, units)
    if seen.left is not None and seen.left.low is not None:
        numbers.append(("Left alone it holds for", _lasts(seen.left.low.value), "/damp/left/low"))
    if seen.left is not None and seen.left.substrate is not None:
        numbers.append(
            (
                "Its substrate is half dry in",
                f"{seen.left.substrate.value:.0f} days",
                "/damp/left/substrate",
            )
        )
    if "tank_week" in plan.predictions:
        numbers.append(
            (
                "A tank for a week",
                show(plan.predictions["tank_week"].value, Kind.VOLUME, units),
                "/predictions/tank_week",
            )
        )
    return numbers
