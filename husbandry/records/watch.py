"""Alarms: what a channel's last values say is wrong now, or will be soon. Derived from the plan's
ranges and limits and from the channel's own days before; nothing is typed in.

Method: docs/methods/alarms.md.
"""

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from husbandry.records.channels import TOLD_APART, Quantity, SensorPlace
from husbandry.records.energy import missing_draw
from husbandry.records.moments import DAY_S, HOUR_S, local_offsets
from husbandry.records.series import ChannelTargets, PhaseRange, summarise
from husbandry.records.watch_devices import full_heating, missed_run, runs_on
from husbandry.records.watch_rhythm import hunting, missed_misting

Values = NDArray[np.float64]
Seconds = NDArray[np.int64]
Side = Literal["", "low", "high"]
Severity = Literal["danger", "care", "instrument"]
READ_BACK_S = 8 * DAY_S
"""Values that an alarm is told from: a week of the same hours (design choice) [s]."""
IN_A_ROW = 2
"""Values beyond a limit before it counts: one alone may be a hand or a spark (design choice)."""
TREND_S, LEAST_TREND = 30 * 60, 3
"""Values that a trend is told from: so long, and so many at the least (design choice) [s, 1]."""
SOON_S = 60 * 60
"""A limit that will be passed within an hour is said (design choice) [s]."""
STEADY_SHARE = 0.25
"""Each third of a trend moves on by so much of the whole (design choice) [1]."""
LEAST_SLOPE_H: dict[Quantity, float] = {
    Quantity.TEMPERATURE: 1.0,
    Quantity.HUMIDITY: 5.0,
    Quantity.UVI: 1.0,
}
"""A slower drift passes no limit within the hour (design choice) [unit/h]."""
UNUSUAL: dict[Quantity, float] = {
    Quantity.TEMPERATURE: 4.0,
    Quantity.HUMIDITY: 25.0,
    Quantity.UVI: 1.5,
}
"""So far from the same hour of the days before is unusual (design choice) [unit]."""
USUAL_DAYS = 3
"""Days before that are needed to know what is usual (design choice) [days]."""
UNUSUAL_S = 30 * 60
"""For so long at the least: a door that is open to feed and clean cools for less (design choice) [s]."""
SPREAD_TIMES = 4.0
"""And so many times as far as those days lie apart (design choice) [1]."""
LAMP_H, LAMP_LAST_H = 1.0, 4.0
"""From when to when after the lamps went on a place tells by its warmth whether they did (design
choice; heat 4) [h]."""
LAMP_RISE_K, LAMP_SHARE = 2.0, 0.3
"""Usual rise in that time from which on it tells, and the share of it below which the lamp is out
(design choice) [K, 1]."""
SILENT_STEPS, SILENT_S = 3, 30 * 60
"""Steps without a value, and so long at the least (design choice) [1, s]."""
FLAT_H, FLAT_LEAST = 10.0, 20
"""Unmoved for so long, by so many values: no enclosure is so still (design choice) [h, 1]."""
BIG_JUMP: dict[Quantity, float] = {
    Quantity.TEMPERATURE: 6.0,
    Quantity.HUMIDITY: 35.0,
    Quantity.UVI: 4.0,
}
"""Between two values and back again: no enclosure does so (design choice) [unit]."""
JUMP_S, JUMPS = 3 * HOUR_S, 3
"""So many of them within so long are a loose wire (design choice) [s, 1]."""
LONG_SHARE, LONG_OVER = 0.5, 0.75
"""Two days with less than the first share in range are too long; one with more than the second ends
it (design choice) [1]."""


class AlarmKind(StrEnum):
    """What is wrong, the gravest first."""

    LIMIT = "limit"
    SOON = "soon"
    LAMP = "lamp"
    NO_DRAW = "no draw"
    MISTING = "misting"
    RUNS_ON = "runs on"
    FULL = "full"
    UNUSUAL = "unusual"
    HUNTING = "hunting"
    LONG = "long"
    SILENT = "silent"
    JUMPS = "jumps"
    FLAT = "flat"


SEVERITY: dict[AlarmKind, Severity] = {
    AlarmKind.LIMIT: "danger",
    AlarmKind.SOON: "danger",
    AlarmKind.LAMP: "care",
    AlarmKind.NO_DRAW: "care",
    AlarmKind.MISTING: "care",
    AlarmKind.RUNS_ON: "care",
    AlarmKind.FULL: "care",
    AlarmKind.UNUSUAL: "care",
    AlarmKind.HUNTING: "care",
    AlarmKind.LONG: "care",
    AlarmKind.SILENT: "instrument",
    AlarmKind.JUMPS: "instrument",
    AlarmKind.FLAT: "instrument",
}


@dataclass(frozen=True)
class AlarmFinding:
    """Something that is wrong with a channel, or with what it measures."""

    kind: AlarmKind
    since_s: int
    """When it began, as far as the values tell: seconds since 1970."""
    side: Side = ""
    value: float = math.nan
    """The last one [unit]."""
    against: float = math.nan
    """The limit, the range's end, or what is usual at this hour [unit]."""
    minutes: float = math.nan
    """Until the limit is passed [min]."""
    severity: Severity = "care"
    """How urgent it is."""


@dataclass(frozen=True)
class WatchedChannel:
    """A channel's last days, and what is asked of its place.

    Parameters
    ----------
    at_s, values : array
        Seconds since 1970, rising, and corrected values; from `READ_BACK_S` on.
    zone : str
        Of the room, by its IANA name.
    is_live : bool
        Whether a device sends it: only then silence says anything.
    margin : float
        What its keeper added to what is unusual, after a false alarm [unit].
    """

    quantity: Quantity
    place: SensorPlace
    at_s: Seconds
    values: Values
    targets: ChannelTargets
    zone: str
    is_live: bool = True
    margin: float = 0.0


def watch(
    channel: WatchedChannel, now_s: int, open_kinds: frozenset[AlarmKind] = frozenset()
) -> tuple[AlarmFinding, ...]:
    """Tell what is wrong: of the enclosure the gravest alone, and of the instrument.

    A fault of the instrument silences what it would say of the enclosure.

    Parameters
    ----------
    now_s : int
        Seconds since 1970.
    open_kinds : frozenset
        What was wrong before: it ends a little later than it began.
    """
    if not len(channel.at_s):
        return ()
    seen = _ChannelLook(channel, now_s, open_kinds)
    if channel.quantity is Quantity.MASS:
        return ()  # a scale is used now and then: its silence says nothing
    if channel.place in OF_DEVICES:
        told = seen.silent() or seen.of_device()
        return (told,) if told is not None else ()
    own = seen.silent() or seen.jumps() or seen.flat()
    if own is not None:
        return (own,)
    in_order = (
        seen.limit,
        seen.soon,
        seen.lamp,
        seen.misting,
        seen.unusual,
        seen.hunting,
        seen.long,
    )
    found = next((one for one in (look() for look in in_order) if one is not None), None)

    return (found,) if found is not None else ()


class _ChannelLook:
    """One look at a channel."""

    def __init__(
        self, channel: WatchedChannel, now_s: int, open_kinds: frozenset[AlarmKind]
    ) -> None:
        self.channel = channel
        self.now_s = now_s
        self.open_kinds = open_kinds
        self.at_s, self.values = channel.at_s, channel.values
        self.last_s, self.last = int(self.at_s[-1]), float(self.values[-1])
        recent = np.diff(self.at_s[-40:])
        self.step_s = float(np.median(recent)) if len(recent) else 600.0
        self.told_apart = TOLD_APART[channel.quantity]

    def _hour(self, at_s: int) -> float:
        offset = int(local_offsets(np.array([at_s], dtype=np.int64), self.channel.zone)[0])
        return ((at_s + offset) % DAY_S) / 3600.0

    def _in_force(self, at_s: int) -> tuple[PhaseRange, bool]:
        """The range at a moment, and whether the place has settled."""
        hours = np.array([self._hour(at_s)])
        targets = self.channel.targets
        is_lit, is_settled = bool(targets.is_lit(hours)[0]), bool(targets.is_settled(hours)[0])

        return targets.in_force(is_lit=is_lit, is_settled=is_settled), is_settled

    def _finding(self, kind: AlarmKind, since_s: int, **more: float | str) -> AlarmFinding:
        severity = SEVERITY[kind]
        if severity == "danger" and self.channel.quantity is not Quantity.TEMPERATURE:
            severity = "care"  # dry air and a weak lamp harm over days: nobody is woken
        if severity == "danger" and (self.channel.place, more.get("side")) in CAN_WAIT:
            severity = "care"
        return AlarmFinding(kind, since_s, value=self.last, severity=severity, **more)  # type: ignore[arg-type]  # by name

    # --- the instrument -------------------------------------------------------------------------

    def silent(self) -> AlarmFinding | None:
        """No value for too long, of a device."""
        quiet = self.now_s - self.last_s
        if not self.channel.is_live or quiet <= max(SILENT_STEPS * self.step_s, SILENT_S):
            return None
        return self._finding(AlarmKind.SILENT, self.last_s)

    def jumps(self) -> AlarmFinding | None:
        """Back and forth as no enclosure goes."""
        near = self.at_s >= self.now_s - JUMP_S
        moves = np.diff(self.values[near])
        times = self.at_s[near]
        quick = np.diff(times) <= 3 * self.step_s
        big = quick & (np.abs(moves) > BIG_JUMP[self.channel.quantity])
        back = big[1:] & big[:-1] & (np.sign(moves[1:]) != np.sign(moves[:-1]))
        needed = 1 if AlarmKind.JUMPS in self.open_kinds else JUMPS - 1

        if int(back.sum()) < needed:
            return None

        return self._finding(AlarmKind.JUMPS, int(times[int(np.argmax(big))]))

    def flat(self) -> AlarmFinding | None:
        """Unmoved through a time in which lamps went on or off, or a good part of a day."""
        since = self.now_s - int(FLAT_H * HOUR_S)
        near = self.values[self.at_s >= since]
        starts = int(self.at_s[0]) <= since
        if not starts or len(near) < FLAT_LEAST or float(np.ptp(near)) > 1e-9:
            return None
        if self.channel.quantity is Quantity.UVI or near[0] in {0.0, 100.0}:
            return None
        moved = np.flatnonzero(self.values != self.last)

        return self._finding(
            AlarmKind.FLAT, int(self.at_s[moved[-1] + 1]) if len(moved) else since
        )

    # --- the enclosure --------------------------------------------------------------------------

    def limit(self) -> AlarmFinding | None:
        """Beyond a limit of the animal, twice in a row."""
        wanted, _ = self._in_force(self.last_s)
        slack = self.told_apart if AlarmKind.LIMIT in self.open_kinds else 0.0

        for side, end in (("high", wanted.limit_high), ("low", wanted.limit_low)):
            if math.isnan(end):
                continue
            beyond = self._beyond(side, end, slack)

            if len(beyond) >= IN_A_ROW and beyond[-IN_A_ROW:].all():
                inside = np.flatnonzero(~beyond)
                first = int(inside[-1]) + 1 if len(inside) else 0
                return self._finding(
                    AlarmKind.LIMIT, int(self.at_s[first]), side=side, against=end
                )

        return None

    def _beyond(self, side: str, end: float, slack: float) -> NDArray[np.bool_]:
        return self.values > end - slack if side == "high" else self.values < end + slack

    def soon(self) -> AlarmFinding | None:
        """Out of its range, and on its way to a limit within the hour."""
        near = self.at_s >= self.last_s - TREND_S
        if int(near.sum()) < LEAST_TREND:
            return None
        hours = (self.at_s[near] - self.last_s) / 3600.0
        slope, now_at = (float(one) for one in np.polyfit(hours, self.values[near], 1))
        moves = np.diff(self.values[near]) / np.diff(hours)
        usual_move = float(np.median(moves))  # a door that is opened moves it once, not on and on
        slope = math.copysign(min(abs(slope), abs(usual_move)), usual_move)
        thirds = [float(one.mean()) for one in np.array_split(self.values[near], 3)]
        wanted, _ = self._in_force(self.last_s)

        for side, limit, end in (
            ("high", wanted.limit_high, wanted.high),
            ("low", wanted.limit_low, wanted.low),
        ):
            sign = 1 if side == "high" else -1

            if math.isnan(limit) or sign * slope < LEAST_SLOPE_H[self.channel.quantity]:
                continue

            is_out = math.isnan(end) or sign * (now_at - end) > self.told_apart
            minutes = (limit - now_at) / slope * 60
            steps = [sign * (b - a) for a, b in itertools.pairwise(thirds)]
            steady = min(steps) >= STEADY_SHARE * sum(steps) > 0  # a door opened falls once

            if is_out and steady and 0 <= minutes <= SOON_S / 60:
                return self._finding(
                    AlarmKind.SOON,
                    int(self.at_s[near][0]),
                    side=side,
                    against=limit,
                    minutes=minutes,
                )

        return None

    def _usual(self, at_s: int) -> tuple[float, float] | None:
        """The middle of the same hour of the days before and how far those lie apart; None where too
        few are known.
        """
        found = []

        for days in range(1, READ_BACK_S // DAY_S):
            at = at_s - days * DAY_S
            n = int(np.searchsorted(self.at_s, at))
            near = [k for k in (n - 1, n) if 0 <= k < len(self.at_s)]

            if near:
                k = min(near, key=lambda one: abs(int(self.at_s[one]) - at))
                if abs(int(self.at_s[k]) - at) <= max(self.step_s, 1800):
                    found.append(float(self.values[k]))

        if len(found) < USUAL_DAYS:
            return None
        middle = float(np.median(found))

        return middle, float(np.median(np.abs(np.array(found) - middle)))

    def lamp(self) -> AlarmFinding | None:
        """The lamps are on by their timer, and the place does not warm as on the days before."""

        if self.channel.quantity is not Quantity.TEMPERATURE or self.channel.place not in WARMED:
            return None
        hour = self._hour(self.last_s)
        span = next((one for one in self.channel.targets.lit if one[0] <= hour < one[1]), None)

        if span is None or hour - span[0] < LAMP_H:
            return None

        if hour - span[0] > LAMP_LAST_H and AlarmKind.LAMP not in self.open_kinds:
            return None
        on_s = self.last_s - int((hour - span[0]) * HOUR_S)
        begin = self._value_at(on_s)
        rises = []

        for days in range(1, READ_BACK_S // DAY_S):
            ends = [self._value_at(one - days * DAY_S) for one in (on_s, self.last_s)]

            if ends[0] is not None and ends[1] is not None:
                rises.append(ends[1] - ends[0])

        if len(rises) < USUAL_DAYS or begin is None:
            return None
        middle = float(np.median(rises))
        # the most of it, not the last: a door that is open is no lamp that is out
        rise = float(self.values[self.at_s >= on_s].max()) - begin
        share = LAMP_SHARE * (1.5 if AlarmKind.LAMP in self.open_kinds else 1.0)

        if middle < LAMP_RISE_K or rise >= share * middle:
            return None

        return self._finding(AlarmKind.LAMP, on_s, side="low", against=begin + middle)

    def _value_at(self, at_s: int) -> float | None:
        n = int(np.argmin(np.abs(self.at_s - at_s)))
        return float(self.values[n]) if abs(int(self.at_s[n]) - at_s) <= 1800 else None

    def of_device(self) -> AlarmFinding | None:
        """What a plug, a pump or a thermostat tells of itself."""
        if self.channel.place is SensorPlace.PLUG:
            return self.no_draw()
        if self.channel.place is SensorPlace.PUMP:
            return self.pump()
        found = full_heating(self.at_s, self.values)
        if found is None:
            return None
        return self._finding(AlarmKind.FULL, found.since_s, against=found.usual)

    def pump(self) -> AlarmFinding | None:
        """A misting pump that does not stop, or that did not run at its time."""
        going = runs_on(self.at_s, self.values)
        if going is not None:
            return self._finding(AlarmKind.RUNS_ON, going.begin_s, side="high")
        is_open = AlarmKind.MISTING in self.open_kinds
        missed = missed_run(self.at_s, self.values, self.channel.zone, is_open=is_open)
        if missed is None:
            return None
        return self._finding(AlarmKind.MISTING, missed.at_s, side="low")

    def no_draw(self) -> AlarmFinding | None:
        """Nothing draws power at a time at which something did on other days."""
        found = missing_draw(self.at_s, self.values)
        if found is None:
            return None
        return self._finding(AlarmKind.NO_DRAW, found.since_s, side="low", against=found.usual_w)

    def misting(self) -> AlarmFinding | None:
        """Humidity has not risen at the time at which it was misted on each of the days before."""
        if self.channel.quantity is not Quantity.HUMIDITY or self.channel.place not in MISTED:
            return None
        is_open = AlarmKind.MISTING in self.open_kinds
        found = missed_misting(self.at_s, self.values, self.channel.zone, is_open=is_open)
        if found is None:
            return None
        return self._finding(AlarmKind.MISTING, found.due_s, side="low", against=found.usual_pct)

    def hunting(self) -> AlarmFinding | None:
        """It swings up and down as a thermostat makes it that hunts."""
        if self.channel.quantity is not Quantity.TEMPERATURE:
            return None
        found = hunting(self.at_s, self.values, self.now_s)
        if found is None:
            return None
        return self._finding(AlarmKind.HUNTING, found.since_s, against=found.swing_k)

    def unusual(self) -> AlarmFinding | None:
        """Far from the same hour of the days before for half an hour, and out of its range."""
        usual = self._usual(self.last_s)
        first_s = self.last_s - UNUSUAL_S
        near = np.flatnonzero(self.at_s >= first_s)
        before = self._usual(int(self.at_s[near[0]]))

        if usual is None or before is None or len(near) < IN_A_ROW:
            return None
        far = max(UNUSUAL[self.channel.quantity], SPREAD_TIMES * usual[1]) + self.channel.margin

        if AlarmKind.UNUSUAL in self.open_kinds:
            far *= 0.6
        apart = self.values[near] - np.linspace(before[0], usual[0], len(near))
        side = "high" if (apart > far).all() else "low" if (apart < -far).all() else ""

        if not side:
            return None
        wanted, settled = self._in_force(self.last_s)
        end = wanted.high if side == "high" else wanted.low
        sign = 1 if side == "high" else -1

        if settled and not math.isnan(end) and sign * (self.last - end) <= 0:
            return None

        return self._finding(
            AlarmKind.UNUSUAL, int(self.at_s[near[0]]), side=side, against=usual[0]
        )

    def long(self) -> AlarmFinding | None:
        """Out of its range for most of two days."""
        shares: list[float] = []
        sides: list[tuple[float, float]] = []

        for days in (0, 1):
            own = (self.at_s > self.last_s - (days + 1) * DAY_S) & (
                self.at_s <= self.last_s - days * DAY_S
            )
            summary = summarise(
                self.at_s[own], self.values[own], self.channel.targets, self.channel.zone
            )
            known = [one for one in summary.phases if not math.isnan(one.in_range)]
            whole = sum(one.judged_h for one in known)
            if whole < 12:
                return None
            shares.append(sum(one.in_range * one.judged_h for one in known) / whole)
            sides.append(
                (
                    sum(one.below_degree_h for one in known),
                    sum(one.above_degree_h for one in known),
                )
            )

        still = AlarmKind.LONG in self.open_kinds and shares[0] < LONG_OVER
        if not still and max(shares) >= LONG_SHARE:
            return None
        below, above = (sum(one[n] for one in sides) for n in (0, 1))

        return self._finding(
            AlarmKind.LONG,
            self.last_s - 2 * DAY_S,
            side="low" if below > above else "high",
            against=shares[0],
        )


WARMED: Sequence[SensorPlace] = (SensorPlace.SURFACE, SensorPlace.WARM)
"""Places that a lamp warms within the hour."""
MISTED = (SensorPlace.WARM, SensorPlace.COOL, SensorPlace.MIDDLE, SensorPlace.HIDE)
"""Places that a misting wets."""
OF_DEVICES = (SensorPlace.PLUG, SensorPlace.PUMP, SensorPlace.THERMOSTAT)
"""Places at which a device tells of itself, and not of the enclosure."""
CAN_WAIT = {(SensorPlace.FRIDGE, "high"), (SensorPlace.EGGS, "low")}
"""Limits that harm over days: a rest that wakes, eggs that are slow (common practice)."""
