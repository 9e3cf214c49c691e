"""The choice of lamps and heaters as a mixed-integer linear programme: which of them, and at what
share of their power by day and by night.

Method: docs/methods/setup-solver.md.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from husbandry.documents.room import Room
from husbandry.findings.reach import FAR_PAST
from husbandry.setups.candidates import HeaterCandidate, UvCandidate
from husbandry.setups.mixed_integer import Array, MixedInteger
from husbandry.setups.responses import OUTPUTS
from husbandry.species.needs import NeedKey
from husbandry.targets.verdicts import TargetRange

EUR_KWH = 0.35
"""A guide to the price of electricity, 2026 (common practice) [€/kWh]."""
HOURS_A_PART = 12.0
"""Of the day and of the night in a first setup (common practice) [h]."""
WITHOUT_THERMOSTAT_EUR = 60.0
"""Weight against a heater that no thermostat holds (design choice) [€]."""
INSTEAD_EUR = 100.0
"""Weight against each device that is bought where there are some already (design choice) [€]."""
COOL_END_EUR = 120.0
"""Weight against a heater that holds the cool end: the animal goes there to be cool (design
choice) [€].
"""
NO_BASKING_LIGHT_EUR = 400.0
"""Weight against a basker without a lamp over its place (design choice) [€]."""
DARK_BASKING_EUR = 250.0
"""Weight against a dark emitter over the stone of what basks in light (design choice) [€]."""
MISS_EUR = 15_000.0
"""Weight of a target range missed by its own width: before everything else (design choice) [€]."""
FAILED_ON_EUR = 1200.0
"""Weight of a limit passed by a kelvin with the thermostats failed on: after needs (design choice)
[€/K].
"""
FAILED_ON_WARM_EUR = 60.0
"""The same for warm air, where no verdict is made of it (design choice) [€/K]."""
NO_UV_EUR = 9000.0
"""Weight of an animal without the ultraviolet it needs (design choice) [€]."""
SHADE_EUR, SHADE_LEAST = 400.0, 0.25
"""Weight of a share of shade that is missing, and the share wanted (design choice) [€, 1]."""
COVER_EUR, COVER_LEAST = 60.0, 0.3
"""Weight of a share in range that is missing, and the share wanted (design choice) [€, 1]."""
REACHED_EUR, REACHED_FAR_EUR = 300.0, 3000.0
"""Weight of a lamp whose index is past the limit where it can climb to, and far past it (design
choice) [€].
"""
ROOM_OFF_K, MARGIN_SHARE = 1.5, 0.45
"""How far inside its range a value is drawn where no thermostat holds it: it moves with the room,
which may be so much colder or warmer; and of its width at most (design choice) [K, 1].
"""
MARGIN_HELD_K = 0.4
"""The same where a thermostat holds it (design choice) [K]."""
IN_HAND_MOST = 0.4
"""Of a heater's power, kept in hand for a room that is so much colder, at most (design choice) [1]."""
HELD_SHARE = 0.12
"""No more of the width is kept clear for what is not linear (design choice) [1]."""
LEAST_W = 0.3
"""What gives less is not there (design choice) [W]."""
GIVEN_LEAST = 0.2
"""A heater that gives less of its power is not worth buying (design choice) [1]."""
SPARE_SHARE = 0.88
"""At most so much of the power on a usual day, for colder ones (design choice) [1]."""
LIMIT_MARGIN_K = 0.25
"""Under a limit with the thermostats failed on (design choice) [K]."""
LOST = 0.05
"""A bound missed by more, with devices in parts, is lost (design choice) [the bound's unit]."""


@dataclass(frozen=True)
class Goal:
    """What is weighed against what."""

    buying: float
    """On the price [1]."""
    running: float
    """On a year's electricity [1]."""
    device_eur: float
    """On each device [€]."""
    margin_eur: float
    """On a kelvin of margin that is missing [€/K]."""


GOALS: dict[str, Goal] = {
    "balanced": Goal(1.0, 1.0, 15.0, 250.0),
    "cheapest to buy": Goal(3.0, 0.3, 10.0, 2.0),
    "cheapest to run": Goal(0.3, 4.0, 5.0, 2.0),
    "simplest": Goal(0.3, 0.3, 150.0, 1.0),
    "most headroom": Goal(0.3, 0.3, 2.0, 1000.0),
}
"""Weights by what a keeper asks for first (design choice)."""
PROBED = ("surface", "warm_air", "cool_air")
"""Probes of thermostats, in the order of `OUTPUTS`."""
Slack = tuple[NeedKey, str]
"""A bound that was not kept: the need, and below, above, failed on, or no lamp."""


@dataclass(frozen=True)
class Answer:
    """What was chosen, and which bounds it could not keep."""

    heaters: dict[HeaterCandidate, tuple[float, float]]
    """Share of the power by day and by night."""
    uv: tuple[UvCandidate, ...]
    slacks: dict[Slack, float]
    cost_eur: float

    def missed(self, least: float = 0.02) -> dict[Slack, float]:
        """Bounds missed by more than that."""
        return {name: by for name, by in self.slacks.items() if by > least}

    @property
    def chosen(self) -> frozenset[HeaterCandidate | UvCandidate]:
        """Every device, whatever its share."""
        return frozenset((*self.heaters, *self.uv))


@dataclass(frozen=True)
class Linearised:
    """The enclosure near one solution: gains [K/W], and what the full model says beyond them."""

    day: Array
    """Of heaters on surface, warm and cool air by day, shape (3, heaters)."""
    night: Array
    """Of heaters on warm air by night, shape (heaters,)."""
    uv: Array
    """Of ultraviolet lamps by day, shape (3, lamps)."""
    offset: Array = field(default_factory=lambda: np.zeros(4))
    """Full solution less linear one: three by day, one by night [K]."""
    failed_on: Array = field(default_factory=lambda: np.ones(3))
    """Rise at full power in the full solution over the linear one [1]."""

    def only(self, heaters: Sequence[int], lamps: Sequence[int]) -> "Linearised":
        """The same for some of the candidates."""
        return replace(
            self,
            day=self.day[:, list(heaters)],
            night=self.night[list(heaters)],
            uv=self.uv[:, list(lamps)],
        )


@dataclass(frozen=True)
class ChoiceProblem:
    """Everything a choice is made from."""

    heaters: tuple[HeaterCandidate, ...]
    lamps: tuple[UvCandidate, ...]
    targets: Mapping[NeedKey, TargetRange]
    room: Room
    linear: Linearised
    goal: Goal
    basks_in_light: bool
    devices_most: int = 4
    banned: frozenset[HeaterCandidate] = frozenset()
    cuts: tuple[frozenset[HeaterCandidate | UvCandidate], ...] = ()
    firm_k: float = 0.1
    """Inside each range by so much whatever it costs [K]."""
    dropped: frozenset[Slack] = frozenset()
    """Bounds left out, to tell what each costs."""
    owned: frozenset[tuple[str, float]] = frozenset()
    """Kind and power of what need not be bought."""
    must: frozenset[tuple[str, float]] = frozenset()
    """Of that, what has to be used."""
    lamps_least: int = 1
    """In a row over the basking place, where one does not warm the whole body."""
    light_least_lx: float = 0.0
    """That bars of white light bring to a basking place that is dim [lx]."""
    is_first: bool = False
    """Whether its films are a guess: then near the best is enough."""


def choose(problem: ChoiceProblem) -> Answer | None:
    """Choose with power in hand where that costs no need and no limit, else without.

    None where no choice keeps the limits with the thermostats failed on, unless these are dropped.
    """
    if not problem.heaters and not problem.lamps:
        return Answer({}, (), {}, 0.0)
    for most_share in (SPARE_SHARE, 1.0):
        programme = _Programme(problem, most_share)
        lost = programme.lost()
        last = most_share == 1.0
        if lost and not last:
            continue
        if "failed on" in lost:
            return None
        answer = programme.answer()
        if last or (answer is not None and not answer.missed()):
            return answer

    return None


def without(problem: ChoiceProblem, **changes: Any) -> Answer | None:
    """The same choice with something else allowed: to say what a bound costs."""
    return _Programme(replace(problem, **changes), 1.0).answer()


@dataclass(frozen=True)
class _Numbers:
    """Numbers of the variables of each candidate: bought, share by day, by night; lamps."""

    bought: list[int]
    rated: list[int]
    """Power of each [W]."""
    day: list[int]
    night: list[int]
    lamps: list[int]


class _Programme:
    """A choice as a programme, and its solution read back."""

    def __init__(self, problem: ChoiceProblem, most_share: float) -> None:
        self.problem = problem
        self.model = MixedInteger()
        self.numbers = _variables(self.model, problem)
        terms = (self.model, problem, self.numbers)
        _shares(*terms, most_share)
        _devices(*terms)
        self.slacks = {**_targets(*terms), **_limits(*terms), **_ultraviolet(*terms)}
        for kind, power in sorted(problem.must):
            _used(*terms, kind, power)
        for kept in problem.cuts:
            _cut(*terms, kept)
        self.relaxed = self.model.relaxed()

    def lost(self) -> set[str]:
        """Words of the bounds that no choice keeps, though devices came in parts."""
        if self.relaxed is None:
            return set()
        values = self.relaxed.values
        return {word for v, (_, word) in self.slacks.items() if values[v] > LOST}

    def answer(self) -> Answer | None:
        """The best choice; None where nothing is feasible."""
        solved = None
        if self.relaxed is not None:
            solved = self.model.solve(self.relaxed, rough=self.problem.is_first)

        if solved is None:
            return None
        problem = self.problem
        numbers = self.numbers
        values = solved.values
        heaters = {}

        for k, one in enumerate(problem.heaters):
            day = float(values[numbers.day[k]])
            night = float(values[numbers.night[k]])

            if values[numbers.bought[k]] > 0.5 and day + night > LEAST_W:
                sized = one.sized(float(values[numbers.rated[k]]))
                heaters[sized] = (day / sized.power_w, night / sized.power_w)
        lamps = tuple(one for n, one in enumerate(problem.lamps) if values[numbers.lamps[n]] > 0.5)
        found = {name: float(values[v]) for v, name in self.slacks.items() if values[v] > 1e-4}

        return Answer(heaters, lamps, found, solved.cost)


def _variables(model: MixedInteger, problem: ChoiceProblem) -> _Numbers:
    """A whole one for each device, and shares of its power."""
    goal = problem.goal
    year = goal.running * EUR_KWH * 365 * HOURS_A_PART / 1000
    bought_anew = INSTEAD_EUR if problem.owned else 0.0
    bought = []
    rated = []
    day = []
    night = []
    bright = any(one.probe == "surface" and not one.dark for one in problem.heaters)
    for one in problem.heaters:
        least = one.sized(0.0)
        price = 0.0 if one.owned else least.price_eur + bought_anew
        gloomy = problem.basks_in_light and one.dark and one.probe == "surface"
        cost = (
            goal.buying * price
            + goal.device_eur * one.count
            + DARK_BASKING_EUR * gloomy
            + WITHOUT_THERMOSTAT_EUR * (one.probe == "")
            + COOL_END_EUR * (one.probe == "cool_air")
        )
        short = one.probe == "surface" and one.count < problem.lamps_least and one.mat_m is None
        dark_basking = gloomy and bright
        allowed = 0 if short or dark_basking or one in problem.banned else 1
        per_w = 0.0 if one.owned else goal.buying * one.price_per_w
        bought.append(model.variable(cost, 0, allowed, whole=True))
        rated.append(model.variable(per_w, 0, one.power_w))
        running = year * one.count
        day.append(model.variable(running, 0, 0 if one.night_only else one.power_w))
        night.append(model.variable(running, 0, one.power_w if one.dark else 0))
    lamps = []
    for lamp in problem.lamps:
        is_owned = (lamp.kind, lamp.power_w) in problem.owned
        price = 0.0 if is_owned else lamp.price_eur + bought_anew
        cost = (
            goal.buying * price
            + goal.device_eur
            + year * lamp.power_w
            + WITHOUT_THERMOSTAT_EUR * (lamp.kind == "uv_flood")
            + SHADE_EUR * max(SHADE_LEAST - lamp.shade, 0)
            + COVER_EUR * max(COVER_LEAST - lamp.covered, 0)
            + REACHED_EUR * (lamp.reached > 1)
            + REACHED_FAR_EUR * (lamp.reached > FAR_PAST)
        )
        lamps.append(model.variable(cost, 0, 1, whole=True))

    return _Numbers(bought, rated, day, night, lamps)


def _shares(
    model: MixedInteger, problem: ChoiceProblem, numbers: _Numbers, most_share: float
) -> None:
    """What is not bought gives nothing; what does not dim gives all."""
    for k, one in enumerate(problem.heaters):
        bought = numbers.bought[k]
        rated = numbers.rated[k]
        day = numbers.day[k]
        night = numbers.night[k]
        model.row({rated: 1, bought: -one.power_w}, -np.inf, 0)
        model.row({rated: 1, bought: -one.sized(0.0).power_w}, 0, np.inf)
        if one.dims:
            model.row({day: 1, rated: -most_share}, -np.inf, 0)
            if most_share < 1:
                _in_hand(model, problem, numbers, k)
            model.row({day: 1, night: 1, rated: -GIVEN_LEAST}, 0, np.inf)
        else:
            model.row({day: 1, rated: -1}, 0, 0)
        model.row({night: 1, rated: -1}, -np.inf, 0)


def _in_hand(model: MixedInteger, problem: ChoiceProblem, numbers: _Numbers, k: int) -> None:
    """What holds a place holds it in a colder room too."""
    one = problem.heaters[k]
    if not one.night_only and one.probe in PROBED:
        output = PROBED.index(one.probe)
        gain = float(problem.linear.day[output, k])
        _keep_spare(model, numbers, k, numbers.day[k], gain, one)
    if one.probe == "warm_air" and one.dark:
        gain = float(problem.linear.night[k])
        _keep_spare(model, numbers, k, numbers.night[k], gain, one)


def _keep_spare(
    model: MixedInteger, numbers: _Numbers, k: int, part: int, gain: float, one: HeaterCandidate
) -> None:
    """The power by day or by night stays so far under what the heater has."""
    wanted = ROOM_OFF_K / max(gain, 1e-3)
    most = IN_HAND_MOST * one.power_w
    bought = numbers.bought[k]
    rated = numbers.rated[k]
    model.row({part: 1, rated: -1, bought: min(wanted, most)}, -np.inf, 0)


def _held_by(key: NeedKey) -> str:
    """The probe of a thermostat that holds an output by day or by night."""
    return "warm_air" if key is NeedKey.AIR_NIGHT else PROBED[OUTPUTS.index(key)]


def _devices(model: MixedInteger, problem: ChoiceProblem, numbers: _Numbers) -> None:
    """One thermostat a probe, one heater for the night alone, a lamp over what basks."""
    heaters = list(enumerate(problem.heaters))

    for probe in ("surface", "warm_air", "cool_air", ""):
        same = {
            numbers.bought[k]: 1.0
            for k, one in heaters
            if one.probe == probe and not one.night_only
        }

        if same:
            model.row(same, 0, 1)
    if problem.light_least_lx:
        lit = {numbers.bought[k]: one.lux for k, one in heaters if one.lux}
        model.row(lit, problem.light_least_lx, np.inf)
    _no_light_alone(model, problem, numbers)
    nightly = {numbers.bought[k]: 1.0 for k, one in heaters if one.night_only}

    if nightly:
        model.row(nightly, 0, 1)
    # An emitter for the night beside one that holds the same probe by day would be two for one.
    warm = {numbers.bought[k]: 1.0 for k, one in heaters if one.probe == "warm_air" and one.dark}

    if warm:
        model.row(warm, 0, 1)
    surface = problem.targets.get(NeedKey.SURFACE_DAY)

    if surface is not None and surface.low_value > problem.room.day_c + 3:
        over = {numbers.bought[k]: 1.0 for k, one in heaters if one.probe == "surface"}
        floods = [n for n, lamp in enumerate(problem.lamps) if lamp.kind == "uv_flood"]
        over |= {numbers.lamps[n]: 1.0 for n in floods}
        over[model.variable(NO_BASKING_LIGHT_EUR, 0, 1)] = 1.0
        model.row(over, 1, np.inf)
    count = {numbers.bought[k]: float(one.count) for k, one in heaters}
    count |= dict.fromkeys(numbers.lamps, 1.0)
    more = (problem.light_least_lx > 0) + max(problem.lamps_least - 2, 0)
    model.row(count, 0, problem.devices_most + more)


def _no_light_alone(model: MixedInteger, problem: ChoiceProblem, numbers: _Numbers) -> None:
    """A light bar comes only beside a heater or a combined lamp: its own warmth lands nowhere and is
    not regulated.
    """
    bars = [k for k, one in enumerate(problem.heaters) if one.kind == "led_bar"]
    beside = {
        numbers.bought[k]: -1.0 for k, one in enumerate(problem.heaters) if one.kind != "led_bar"
    }
    beside |= {
        numbers.lamps[n]: -1.0 for n, lamp in enumerate(problem.lamps) if lamp.kind == "uv_flood"
    }

    for k in bars:
        model.row({numbers.bought[k]: 1.0} | beside, -np.inf, 0)


def _holders(
    problem: ChoiceProblem, numbers: _Numbers, key: NeedKey, margin: float
) -> dict[int, float]:
    """Heaters whose thermostat holds an output, and what of the margin each makes needless [K]."""
    needless = margin - min(margin, MARGIN_HELD_K)
    probe = _held_by(key)
    by_night = key is NeedKey.AIR_NIGHT
    found = {}
    for k, one in enumerate(problem.heaters):
        if one.probe != probe or not one.dims:
            continue
        if one.night_only and not by_night:
            continue
        found[numbers.bought[k]] = needless

    return found


def _targets(model: MixedInteger, problem: ChoiceProblem, numbers: _Numbers) -> dict[int, Slack]:
    """Every range by day and by night, from both sides: a margin that is wished for, and a miss."""
    linear = problem.linear
    room = problem.room
    outputs: list[tuple[NeedKey, dict[int, float], float]] = []

    for i, key in enumerate(OUTPUTS):
        terms = {numbers.day[k]: linear.day[i, k] for k in range(len(problem.heaters))}
        terms |= {
            numbers.lamps[n]: lamp.power_w * linear.uv[i, n]
            for n, lamp in enumerate(problem.lamps)
        }
        outputs.append((key, terms, room.day_c + linear.offset[i]))
    night = {numbers.night[k]: linear.night[k] for k in range(len(problem.heaters))}
    outputs.append((NeedKey.AIR_NIGHT, night, room.night_c + linear.offset[3]))
    slacks: dict[int, Slack] = {}

    for key, terms, base in outputs:
        target = problem.targets.get(key)

        if target is None:
            continue
        margin = min(MARGIN_SHARE * target.width, ROOM_OFF_K)
        holders = _holders(problem, numbers, key, margin)
        held = min(problem.firm_k, HELD_SHARE * target.width)

        for sign, end, word in ((1, target.low_value, "below"), (-1, target.high_value, "above")):
            if not math.isfinite(end) or (key, word) in problem.dropped:
                continue
            near = model.variable(problem.goal.margin_eur, 0, margin)
            far = model.variable(MISS_EUR / target.width, 0, np.inf)
            slacks[far] = (key, word)
            signed = {v: sign * a for v, a in terms.items() if a}
            least = sign * (end - base) + margin + held
            model.row({**signed, **holders, near: 1, far: 1}, least, np.inf)
            model.row({**holders, near: 1}, -np.inf, margin)

    return slacks


def _limits(model: MixedInteger, problem: ChoiceProblem, numbers: _Numbers) -> dict[int, Slack]:
    """Everything of the day at full power in the hottest room stays under each limit."""
    slacks: dict[int, Slack] = {}
    weights = (FAILED_ON_EUR, FAILED_ON_WARM_EUR, FAILED_ON_EUR)
    for i, (key, weight) in enumerate(zip(OUTPUTS, weights, strict=True)):
        target = problem.targets.get(key)
        if target is None or target.limit_high is None or (key, "failed on") in problem.dropped:
            continue
        scale = problem.linear.failed_on[i]
        linear = problem.linear
        terms = {
            numbers.rated[k]: scale * linear.day[i, k]
            for k, one in enumerate(problem.heaters)
            if not one.night_only
        }
        terms |= {
            numbers.lamps[n]: scale * lamp.power_w * linear.uv[i, n]
            for n, lamp in enumerate(problem.lamps)
        }
        past = model.variable(weight, 0, np.inf)
        slacks[past] = (key, "failed on")
        limit = target.limit_high.value - LIMIT_MARGIN_K - problem.room.summer_max_c
        model.row({**terms, past: -1}, -np.inf, limit)

    return slacks


def _ultraviolet(
    model: MixedInteger, problem: ChoiceProblem, numbers: _Numbers
) -> dict[int, Slack]:
    """One lamp where the animal needs it, none else."""
    target = problem.targets.get(NeedKey.UVI_DAY)
    lamps: dict[int, float] = dict.fromkeys(numbers.lamps, 1.0)
    if target is not None and target.low_value > 0:
        none = model.variable(NO_UV_EUR, 0, 1)
        model.row({**lamps, none: 1.0}, 1, 1)
        return {none: (NeedKey.UVI_DAY, "no lamp")}
    if lamps:
        model.row(lamps, 0, 0)

    return {}


def _used(
    model: MixedInteger, problem: ChoiceProblem, numbers: _Numbers, kind: str, power_w: float
) -> None:
    """What is there of that kind and power is used at some place."""
    places: dict[int, float] = {}
    for k, one in enumerate(problem.heaters):
        if one.owned and one.kind == kind and one.power_w == power_w:
            places[numbers.bought[k]] = 1.0
    for n, lamp in enumerate(problem.lamps):
        if lamp.kind == kind and lamp.power_w == power_w:
            places[numbers.lamps[n]] = 1.0
    if places:
        model.row(places, 1, np.inf)


def _cut(
    model: MixedInteger,
    problem: ChoiceProblem,
    numbers: _Numbers,
    kept: frozenset[HeaterCandidate | UvCandidate],
) -> None:
    """Not this very set again."""
    places = {one.place for one in kept}
    chosen = [numbers.bought[k] for k, one in enumerate(problem.heaters) if one.place in places]
    chosen += [numbers.lamps[n] for n, one in enumerate(problem.lamps) if one.place in places]
    every = {*numbers.bought, *numbers.lamps}
    terms: dict[int, float] = dict.fromkeys(chosen, 1.0)
    terms |= dict.fromkeys(sorted(every - set(chosen)), -1.0)
    model.row(terms, -np.inf, len(chosen) - 1)


def linear_values(
    answer: Answer,
    heaters: Sequence[HeaterCandidate],
    lamps: Sequence[UvCandidate],
    room: Room,
    linear: Linearised,
) -> Array:
    """Surface, warm and cool air by day, and warm air by night, by the gains alone [°C]."""
    day = np.full(3, room.day_c)
    night = room.night_c
    for lamp in answer.uv:
        day = day + linear.uv[:, lamps.index(lamp)] * lamp.power_w
    column = {one.place: k for k, one in enumerate(heaters)}
    for one, (by_day, by_night) in answer.heaters.items():
        k = column[one.place]
        day = day + linear.day[:, k] * one.power_w * by_day
        night = night + linear.night[k] * one.power_w * by_night

    return np.array([*day, night])
