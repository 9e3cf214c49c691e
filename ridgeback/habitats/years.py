"""The humidity of an enclosure through its months, as a page."""

from typing import Any

from django.http import HttpResponse
from django.shortcuts import render
from django.utils.dates import MONTHS, MONTHS_3
from django.utils.safestring import SafeString, mark_safe
from django.views.decorators.http import require_safe

from husbandry.climate.misting import Timetable
from husbandry.planning.moist_year import MonthSeen, YearSeen, moist_year
from husbandry.quantity import Kind, Units, show
from ridgeback.clock import now
from ridgeback.drawing.moist_year import year_chart
from ridgeback.drawing.svg import write
from ridgeback.habitats.moisture import span_text
from ridgeback.habitats.views import lived_in, own_habitat
from ridgeback.keepers.middleware import KeeperRequest

SHORT = tuple(str(MONTHS_3[n]).capitalize() for n in range(1, 13))


def _row(one: MonthSeen, units: Units) -> dict[str, str]:
    off = [f"{hours:g} h {words}" for hours, words in ((one.below_h, "below"), (one.above_h, "above")) if hours]
    direction = "below" if one.below_h > one.above_h else "above" if one.above_h else "right"
    return {
        "month": str(MONTHS[one.month]), "room": f"{show(one.room_c, Kind.TEMPERATURE, units, digits=0)}, {one.room_pct:.0f} %",
        "span": span_text(one.low_pct, one.high_pct), "direction": direction, "words": " and ".join(off) or "in range",
        "water": show(one.water_ml / 1000, Kind.VOLUME, units, small=True),
    }  # fmt: skip


def _mistings(timetable: Timetable | None, month: int, units: Units) -> str:
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


def _headline(seen: YearSeen) -> tuple[str, str]:
    off = [one for one in seen.months if one.below_h or one.above_h]
    if not off:
        return "right", "With its present care it stays in range in every month."
    dry = [SHORT[one.month - 1] for one in off if one.below_h >= one.above_h]
    wet = [SHORT[one.month - 1] for one in off if one.below_h < one.above_h]
    said = [f"too dry for some hours in {', '.join(dry)}"] * bool(dry) + [f"too damp in {', '.join(wet)}"] * bool(wet)
    return ("below" if len(dry) >= len(wet) else "above"), f"With its present care: {'; '.join(said)}."


@require_safe
@lived_in
def damp_year(request: KeeperRequest, pk: int) -> HttpResponse:
    """Twelve days of an enclosure, one of each month."""
    habitat = own_habitat(request, pk)
    kept, units = habitat.request_at(now()), request.units
    seen = moist_year(kept)
    context: dict[str, Any] = {
        "habitat": habitat,
        "assumed": not all(getattr(habitat.room, name) is not None for name in habitat.room.SEASONS),
    }
    if seen is not None:
        direction, headline = _headline(seen)
        said = f"{headline} Lowest in {MONTHS[seen.driest]}, highest in {MONTHS[seen.dampest]}."
        chart: SafeString = mark_safe(write(year_chart(seen, SHORT, "Humidity through the year", said)))  # our own writer escapes
        solved = [_mistings(seen.driest_timetable, seen.driest, units), _mistings(seen.dampest_timetable, seen.dampest, units)]
        context |= {
            "chart": chart, "direction": direction, "headline": headline, "rows": [_row(one, units) for one in seen.months],
            "solved": list(dict.fromkeys(text for text in solved if text)),
        }  # fmt: skip
    return render(request, "habitats/damp_year.html", context)
