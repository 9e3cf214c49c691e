"""The humidity of an enclosure through its months, as a page."""

from typing import Any

from django.http import HttpResponse
from django.shortcuts import render
from django.utils.dates import MONTHS, MONTHS_3
from django.utils.safestring import SafeString, mark_safe
from django.views.decorators.http import require_safe

from husbandry.climate.misting import MistingTimetable
from husbandry.forecast.moisture_year import MoistureYear, MonthSeen, moist_year
from husbandry.quantity import Kind, Units, show
from ridgeback.climate.moisture import span_text
from ridgeback.clock import now
from ridgeback.drawing.moisture_year import year_chart
from ridgeback.drawing.svg import write
from ridgeback.enclosures.access import lived_in, own_enclosure
from ridgeback.households.middleware import KeeperRequest

SHORT = tuple(str(MONTHS_3[n]).capitalize() for n in range(1, 13))


def _row(one: MonthSeen, units: Units) -> dict[str, str]:
    off = [
        f"{hours:g} h {words}"
        for hours, words in ((one.below_h, "below"), (one.above_h, "above"))
        if hours
    ]
    direction = "below" if one.below_h > one.above_h else "above" if one.above_h else "right"
    return {
        "month": str(MONTHS[one.month]),
        "room": f"{show(one.room_c, Kind.TEMPERATURE, units, digits=0)}, {one.room_pct:.0f} %",
        "span": span_text(one.low_pct, one.high_pct),
        "direction": direction,
        "words": " and ".join(off) or "in range",
        "water": show(one.water_ml / 1000, Kind.VOLUME, units, small=True),
    }


def _mistings(timetable: MistingTimetable | None, month: int, units: Units) -> str:
    """What would keep the wave in that month, in a sentence."""
    name = str(MONTHS[month])
    if timetable is None:
        return ""
    if timetable.verdict == "not needed":
        return f"{name}: no misting is needed."
    if timetable.verdict == "too wet":
        return f"{name}: too wet without any misting; more air, or drier substrate."
    each = show(timetable.each_kg, Kind.VOLUME, units, small=True)
    keeps = "keep" if timetable.verdict == "holds" else "come nearest to keeping"
    return f"{name}: {len(timetable.hours)} mistings of {each} {keeps} it in range."


def _headline(seen: MoistureYear) -> tuple[str, str]:
    off = [one for one in seen.months if one.below_h or one.above_h]
    if not off:
        return "right", "With its present care it stays in range in every month."
    dry = [SHORT[one.month - 1] for one in off if one.below_h >= one.above_h]
    wet = [SHORT[one.month - 1] for one in off if one.below_h < one.above_h]
    said = [f"too dry for some hours in {', '.join(dry)}"] * bool(dry) + [
        f"too damp in {', '.join(wet)}"
    ] * bool(wet)
    return (
        "below" if len(dry) >= len(wet) else "above"
    ), f"With its present care: {'; '.join(said)}."


@require_safe
@lived_in
def moisture_year(request: KeeperRequest, pk: int) -> HttpResponse:
    """Twelve days of an enclosure, one of each month."""
    enclosure = own_enclosure(request, pk)
    kept = enclosure.request_at(now())
    units = request.units
    seen = moist_year(kept)
    context: dict[str, Any] = {
        "enclosure": enclosure,
        "assumed": not all(
            getattr(enclosure.room, name) is not None for name in enclosure.room.SEASONS
        ),
    }
    if seen is not None:
        direction, headline = _headline(seen)
        said = f"{headline} Lowest in {MONTHS[seen.driest]}, highest in {MONTHS[seen.dampest]}."
        chart: SafeString = mark_safe(
            write(year_chart(seen, SHORT, "Humidity through the year", said))
        )  # our own writer escapes
        solved = [
            _mistings(seen.driest_timetable, seen.driest, units),
            _mistings(seen.dampest_timetable, seen.dampest, units),
        ]
        context |= {
            "chart": chart,
            "direction": direction,
            "headline": headline,
            "rows": [_row(one, units) for one in seen.months],
            "solved": list(dict.fromkeys(text for text in solved if text)),
        }
    return render(request, "climate/moisture_year.html", context)
