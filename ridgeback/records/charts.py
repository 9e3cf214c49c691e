"""A channel's chart with what is needed and predicted, what it sums up to, and what happened."""

import datetime as dt
from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np
from django.utils.safestring import SafeString, mark_safe

from husbandry.documents.request import Request
from husbandry.forecast.day_forecast import ScenarioAssumptions
from husbandry.forecast.power import power_of
from husbandry.quantity import Kind, Units, show
from husbandry.records.channels import KINDS, Quantity, SensorPlace
from husbandry.records.energy import energy_kwh_a_day
from husbandry.records.moments import local_offsets
from husbandry.records.rhythm import rhythm_of
from husbandry.records.series import (
    ChannelTargets,
    DaySummary,
    PhaseRange,
    PhaseSummary,
    SeriesSummary,
    summarise,
)
from husbandry.records.watch_devices import pump_runs
from ridgeback.calculation import Failed, attempt
from ridgeback.climate.day_forecast import seen
from ridgeback.drawing import records as drawn
from ridgeback.drawing.primitives import Drawing
from ridgeback.drawing.svg import write
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.planning import planned
from ridgeback.log.models import LogEntry
from ridgeback.records.drift_wording import drift_sentence
from ridgeback.records.models import Channel
from ridgeback.records.reading import BY_SAMPLES, SeriesPoints, hours_of, points_of, values_of
from ridgeback.records.targets import request_of, targets_of
from ridgeback.today.wording import entry_text

PREDICTED = {
    SensorPlace.SURFACE: "surface",
    SensorPlace.WARM: "warm_air",
    SensorPlace.COOL: "cool_air",
    SensorPlace.ROOM: "room",
}
"""Lines of the 24-hour forecast by the place that they are of."""
FORESEEN_DAYS = 10
OUTSIDE = {
    Kind.TEMPERATURE: ("too cool", "too warm"),
    Kind.HUMIDITY: ("too dry", "too damp"),
    Kind.UVI: ("too weak", "too strong"),
    Kind.POWER: ("too little", "too much"),
    Kind.SHARE: ("too little", "too much"),
    Kind.MASS: ("too light", "too heavy"),
}
MOST_EVENTS = 60
"""That happened, on one chart (design choice)."""
ROLES = ("treatment-surface", "treatment-cool-air")


@dataclass(frozen=True)
class PhaseRow:
    """One phase of the days, in words."""

    phase: str
    needed: str
    ends: tuple[tuple[str, str], ...]
    """Ends of the range that is needed: in words, and where in the plan each was calculated."""
    low: str
    mean: str
    high: str
    in_range: str
    outside: str
    direction: str


@dataclass(frozen=True)
class DayRow:
    """One day, in words."""

    on: dt.date
    low: str
    mean: str
    high: str
    in_range: str


@dataclass(frozen=True)
class ChannelView:
    """A channel's page."""

    chart: SafeString
    drawing: Drawing
    """The same, to be written as a file."""
    read_out: list[tuple[float, str]]
    """Of the line: where on the drawing [share of its width], and what is read there."""
    phases: tuple[PhaseRow, ...]
    days: tuple[DayRow, ...]
    swing: str
    count: int
    has_range: bool
    """Whether anything is asked of its place."""
    rhythm: tuple[str, ...]
    """How it warms up, cycles and dries, in sentences."""
    drift: str
    """What its last weeks show, named, with what to look at; empty where they show nothing."""
    before: str
    """This time against the same time before it; empty where that holds nothing."""


def channel_view(
    enclosure: Enclosure,
    channels: list[Channel],
    first: dt.datetime,
    last: dt.datetime,
    now: dt.datetime,
    units: Units,
) -> ChannelView:
    """Compose the page of a channel, with a second one to compare.

    Parameters
    ----------
    channels : list of Channel
        One, or two of the same quantity; the second may be of another enclosure of the household.
    """
    channel = channels[0]
    kind = KINDS[Quantity(channel.quantity)]
    zone = enclosure.room.time_zone
    request = request_of(enclosure, now)
    targets = targets_of(channel, request, enclosure, now)
    points = [points_of(one, first, last) for one in channels]
    lines = _lines(channels, points, zone)
    predicted = _predicted(channel, request, last - first, enclosure)
    span_s = (_local(first, zone), _local(last, zone))
    axes = drawn.axes_of(lines, targets, span_s, kind, predicted)
    summary = _summed(channel, first, last, targets, zone)
    svg = drawn.chart(
        lines,
        targets,
        axes,
        kind,
        units,
        f"{channel.get_quantity_display()}, {channel.get_place_display()}",
        _spoken(summary, kind, units),
        predicted=predicted,
        events=_events(enclosure, first, last, zone, units),
    )

    return ChannelView(
        chart=mark_safe(write(svg)),  # our own writer escapes
        drawing=svg,
        read_out=_read_out(lines[0], axes, kind, units),
        phases=tuple(
            _phase_row(one, targets, kind, units, _pointer(channel, request, one.phase))
            for one in summary.phases
        ),
        days=tuple(_day_row(one, kind, units) for one in reversed(summary.days)),
        swing="" if np.isnan(summary.swing) else show(summary.swing, _difference(kind), units),
        count=points[0].count,
        has_range=any(_ends(one, kind, units, "") for one in (targets.day, targets.night)),
        rhythm=(
            *_energy(channel, request, first, last),
            *_rhythm(channel, first, last, targets, zone, units),
        ),
        drift=drift_sentence(channel, request, enclosure, now, units),
        before=_before(channel, first, last, targets, summary, zone),
    )


def _lines(
    channels: list[Channel], points: list[SeriesPoints], zone: str
) -> list[drawn.ChartLine]:
    """Each channel as a line of the chart."""
    return [
        _line(found, _called(one, channels), role, zone)
        for one, found, role in zip(channels, points, ROLES, strict=False)
    ]


def _called(channel: Channel, channels: list[Channel]) -> str:
    """A line's name beside it: of the enclosure where there are two, else of the instrument."""
    if len(channels) < 2:
        return ""
    if len({one.enclosure_id for one in channels}) > 1:
        return channel.enclosure.name
    return channel.name


def _line(found: SeriesPoints, words: str, role: str, zone: str) -> drawn.ChartLine:
    """A channel's points as a line, by the room's clock."""
    return drawn.ChartLine(
        words,
        found.at_s + local_offsets(found.at_s, zone),
        found.mean,
        found.low,
        found.high,
        found.step_s,
        role,
    )


def _day_row(one: DaySummary, kind: Kind, units: Units) -> DayRow:
    return DayRow(
        one.on,
        show(one.low, kind, units),
        show(one.mean, kind, units),
        show(one.high, kind, units),
        _share(one.in_range),
    )


def _difference(kind: Kind) -> Kind:
    return Kind.TEMPERATURE_DIFFERENCE if kind is Kind.TEMPERATURE else kind


def _local(moment: dt.datetime, zone: str) -> int:
    """Seconds of the room's clock."""
    seconds = np.array([int(moment.timestamp())], dtype=np.int64)
    return int((seconds + local_offsets(seconds, zone))[0])


def _share(share: float) -> str:
    return "" if np.isnan(share) else f"{share:.0%}".replace("%", " %")


def _ends(
    wanted: PhaseRange, kind: Kind, units: Units, pointer: str
) -> tuple[tuple[str, str], ...]:
    """The ends of a range in words, each with its place in the plan."""
    low, high = wanted.low, wanted.high

    if np.isnan(low) and np.isnan(high):
        return ()
    at_low, at_high = (f"{pointer}/{end}" if pointer else "" for end in ("low", "high"))
    if np.isnan(high):
        return ((f"{show(low, kind, units)} or more", at_low),)
    if np.isnan(low):
        return ((f"{show(high, kind, units)} or less", at_high),)

    return ((show(low, kind, units, unit=False), at_low), (show(high, kind, units), at_high))


def _pointer(channel: Channel, request: Request | None, phase: str) -> str:
    """Where the plan holds the need that a channel speaks of in a phase."""
    key = channel.need(day=phase == "day")
    needs = planned(request).plan.needs if request is not None else ()
    found = next((n for n, need in enumerate(needs) if need.key == key), None)
    return "" if found is None else f"/needs/{found}"


def _phase_row(
    one: PhaseSummary, targets: ChannelTargets, kind: Kind, units: Units, pointer: str
) -> PhaseRow:
    wanted = targets.day if one.phase == "day" else targets.night
    outside = []
    if one.beyond_limit_h > 0:
        outside.append(f"{_hours(one.beyond_limit_h)} beyond a limit")
    words = OUTSIDE[kind]

    for amount, said in zip((one.below_degree_h, one.above_degree_h), words, strict=True):
        if one.judged_h > 0 and amount / one.judged_h >= 0.1:
            mean = show(amount / one.judged_h, _difference(kind), units)
            outside.append(f"{mean} {said} in the mean")

    direction = "unknown" if np.isnan(one.in_range) else "right"
    if one.beyond_limit_h > 0 or one.in_range < 0.9:
        direction = "below" if one.below_degree_h > one.above_degree_h else "above"
    ends = _ends(wanted, kind, units, pointer)

    return PhaseRow(
        one.phase,
        " to ".join(text for text, _ in ends) or "no range",
        ends,
        show(one.low, kind, units),
        show(one.mean, kind, units),
        show(one.high, kind, units),
        _share(one.in_range),
        ", ".join(outside),
        direction,
    )


def _hours(hours: float) -> str:
    if hours < 1.5:
        return f"{hours * 60:.0f} min"
    return f"{hours:.1f} h" if hours < 10 else f"{hours:.0f} h"


def _spoken(summary: SeriesSummary, kind: Kind, units: Units) -> str:
    """The chart in words, for those who do not see it."""
    return "; ".join(
        f"by {one.phase} {show(one.low, kind, units)} to {show(one.high, kind, units)}"
        for one in summary.phases
    )


def _read_out(
    line: drawn.ChartLine, axes: drawn.Axes, kind: Kind, units: Units
) -> list[tuple[float, str]]:
    found = []
    for at, mean, low, high in zip(line.at_s, line.mean, line.low, line.high, strict=True):
        moment = dt.datetime.fromtimestamp(int(at), dt.UTC)
        said = f"{moment:%a %-d %b, %H:%M}: {show(float(mean), kind, units)}"
        if high - low > 0.05:
            ends = (show(float(end), kind, units, unit=False) for end in (low, high))
            said += f" ({' to '.join(ends)})"
        found.append((round(axes.x(float(at) + line.step_s / 2) / drawn.WIDTH, 5), said))
    return found


def _predicted(
    channel: Channel, request: Request | None, span: dt.timedelta, enclosure: Enclosure
) -> list[tuple[float, float]]:
    """The day that the model predicts at the channel's place; nothing on a long chart."""
    name = PREDICTED.get(SensorPlace(channel.place))
    is_short = span <= dt.timedelta(days=FORESEEN_DAYS)
    if request is None or name is None or channel.quantity != Quantity.TEMPERATURE or not is_short:
        return []
    assumed = ScenarioAssumptions(wave_c=enclosure.room.summer_max_c)
    forecast = attempt(partial(seen, request, assumed), "enclosure", enclosure.pk)
    if isinstance(forecast, Failed):
        return []
    series = forecast.series

    return list(zip(series.hours, getattr(series, name), strict=True))


def _events(
    enclosure: Enclosure, first: dt.datetime, last: dt.datetime, zone: str, units: Units
) -> list[drawn.ChartEvent]:
    """What was logged of the enclosure, and changes of it."""
    logged = LogEntry.objects.standing().filter(
        enclosure=enclosure, at__gte=first, at__lt=last, outcome=LogEntry.Outcome.DONE
    )
    told = logged.exclude(stem="look").select_related("animal", "by").order_by("-at")
    found = [
        drawn.ChartEvent(_local(one.at, zone), entry_text(one, units))
        for one in told[:MOST_EVENTS]
    ]

    changed = enclosure.revisions.filter(made_at__gte=first, made_at__lt=last)
    found += [
        drawn.ChartEvent(_local(one.made_at, zone), f"Changed: {one.reason or 'the enclosure'}")
        for one in changed.order_by("-made_at")[:MOST_EVENTS]
    ]

    return found


def _summed(
    channel: Channel, first: dt.datetime, last: dt.datetime, targets: ChannelTargets, zone: str
) -> SeriesSummary:
    """A channel summed up: its samples of a week, its hours of what is longer."""
    if last - first <= BY_SAMPLES:
        return summarise(*values_of(channel, first, last), targets, zone)
    hours = hours_of(channel, first, last)
    return summarise(hours.at_s, hours.mean, targets, zone, (hours.low, hours.high))


def _rhythm(
    channel: Channel,
    first: dt.datetime,
    last: dt.datetime,
    targets: ChannelTargets,
    zone: str,
    units: Units,
) -> Iterator[str]:
    """What its samples tell of lamps, thermostat and misting; nothing of a long time's hours."""
    if last - first > BY_SAMPLES:
        return
    quantity = Quantity(channel.quantity)
    found = rhythm_of(*values_of(channel, first, last), targets, zone, quantity)

    if not np.isnan(found.warm_up_h):
        yield (
            f"It is warm {_hours(found.warm_up_h)} after the lamps come on: nine tenths of the way up,"
            " in the median of these days."
        )
    if not np.isnan(found.cycles_per_h):
        swing = show(found.cycle_k, _difference(KINDS[quantity]), units)
        yield (
            f"While the lamps are on it goes up and down {found.cycles_per_h:.1f} times an hour,"
            f" by {swing}."
        )
    if found.mistings:
        yield (
            f"{found.mistings} misting{'s' if found.mistings > 1 else ''}: half of the damp is gone"
            f" after {_hours(found.drying_h)}."
        )


def _energy(
    channel: Channel, request: Request | None, first: dt.datetime, last: dt.datetime
) -> Iterator[str]:
    """What a plug used in a day, what that costs, and what the plan predicts."""
    if channel.quantity != Quantity.POWER:
        return
    hours = hours_of(channel, first, last)
    used = energy_kwh_a_day(hours.at_s, hours.mean)
    if np.isnan(used):
        return
    household = channel.enclosure.household
    if channel.place == SensorPlace.PUMP:
        yield from _pump_runs(channel, first, last)
        return
    cost = used * household.kwh_price
    said = f"It used {used:.2f} kWh a day in the mean, about {cost:.2f} {household.currency}"
    drawn = None if request is None else attempt(partial(power_of, request), "channel", channel.pk)
    if drawn is None or isinstance(drawn, Failed):
        yield f"{said}."
    else:
        yield (
            f"{said}. The plan predicts {drawn.mean_w * 24 / 1000:.2f} kWh: {drawn.mean_w:.0f} W in"
            " the mean over 24 h, after timers and thermostats, without what warming up takes more."
        )


def _pump_runs(channel: Channel, first: dt.datetime, last: dt.datetime) -> Iterator[str]:
    """How often a misting pump ran in the last of these days, and for how long."""
    begin = max(first, last - BY_SAMPLES)
    count = len(pump_runs(*values_of(channel, begin, last)))
    days = (last - begin).days
    times = "once" if count == 1 else f"{count} times"
    shown = "this day" if days == 1 else f"the last {days} days shown"
    yield f"The pump ran {times} in {shown}."


def _before(
    channel: Channel,
    first: dt.datetime,
    last: dt.datetime,
    targets: ChannelTargets,
    summary: SeriesSummary,
    zone: str,
) -> str:
    """Time in range now against the time before it."""
    earlier = _summed(channel, first - (last - first), first, targets, zone)
    was, now = (_in_range(one) for one in (earlier, summary))
    if np.isnan(was) or np.isnan(now):
        return ""
    if abs(now - was) < 0.02:
        return f"In range {_share(now)} of the time, as in the time before."
    return f"In range {_share(now)} of the time; in the time before it was {_share(was)}."


def _in_range(summary: SeriesSummary) -> float:
    known = [one for one in summary.phases if not np.isnan(one.in_range)]
    whole = sum(one.hours for one in known)
    return sum(one.in_range * one.hours for one in known) / whole if whole else float("nan")


def sample_rows(channel: Channel, points: SeriesPoints, zone: str) -> list[list[Any]]:
    """The points of a chart as a table for a spreadsheet."""
    local = points.at_s + local_offsets(points.at_s, zone)
    head = ["time", "mean", "low", "high"]
    rows = zip(local, points.mean, points.low, points.high, strict=True)

    return [
        head,
        *(
            [
                f"{dt.datetime.fromtimestamp(int(at), dt.UTC):%Y-%m-%d %H:%M}",
                *(round(float(v), 3) for v in values),
            ]
            for at, *values in rows
        ),
    ]
