"""From the linear programme to a setup that the full model agrees with: choose, look in full,
linearise there, choose again.

Method: docs/methods/setup-solver.md.
"""

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from husbandry.advise.lamps_and_timers import CUT_AIR_K, CUT_SURFACE_K
from husbandry.climate.heat import SteadyState
from husbandry.climate.heat_model import Thermostat
from husbandry.documents.request import Request
from husbandry.documents.result import NeedState, Note, Plan, Verdict
from husbandry.documents.room import Room
from husbandry.errors import DocumentError, ImpossibleStateError
from husbandry.findings.hazards import seen_hazards
from husbandry.findings.reach import reach_notes
from husbandry.plan.notes import FAULT_ADDS_K
from husbandry.plan.plan import plan_with_prediction
from husbandry.predict.chance import chance_of_all
from husbandry.predict.light import BRIGHT_LX, BRIGHT_SHARE
from husbandry.predict.need_states import AnimalNeeds, look
from husbandry.predict.predict import FailedOn, Prediction, failed_on, hot_day, predict
from husbandry.setups.candidates import (
    ANYTHING,
    DAY,
    NIGHT,
    HeaterCandidate,
    Means,
    UvCandidate,
    heater_candidates,
    uv_candidates,
)
from husbandry.setups.finishing import with_moisture, with_screen, with_water_heater
from husbandry.setups.programme import (
    GOALS,
    MARGIN_HELD_K,
    Answer,
    ChoiceProblem,
    Goal,
    Linearised,
    Slack,
    choose,
    linear_values,
)
from husbandry.setups.responses import OUTPUTS, Responses
from husbandry.setups.room_limits import warm_enough_to_dry
from husbandry.setups.site import Site
from husbandry.species.needs import NeedKey
from husbandry.targets.verdicts import judge as judge_value

Array = NDArray[np.float64]
ROUNDS = 4
"""Times that an enclosure is looked at in full (design choice)."""
STANDING = frozenset(
    {
        "fire",
        "electricity",
        "commission",
        "species",
        "treated water",
        "unproven uvi_day",
        "unproven surface_day",
        "unproven humidity_day",
        "unproven humidity_night",
        "unproven cool_air_day",
        "unproven warm_air_day",
        "ahead of its age",
        "energy",
        "contact",
        "fogger",
        "water heater",
        "dries fast",
        "hot day",
        "mat",
    }
)
"""Cautions that hold for every enclosure of its kind, however well it is built."""
MARGIN_BY_ROUND = (1.0, 0.3, *[0.1] * 5)
"""What is wished for weighs less by the round: right comes before firm (design choice) [1]."""
FIRM_K, FIRMER_K = 0.10, 0.06
"""Inside each range at first, and more by each round (design choice) [K]."""
RUNS = 0.02
"""A heater with less of its power is off (design choice) [1]."""
FLAT_OUT, OVER_K = 0.97, 3.0
"""From that share on a heater runs all the time, and its set point lies so much above (design
choice) [1, K].
"""
POLISH_ROUNDS = 2
"""The same, for more than is needed (design choice)."""
TUNED = 3
"""Times that the powers of the same lamps are found anew (design choice)."""
GLANCE_SD = 1e-3
"""Of a centre that is looked at without its interval (design choice) [K, %, 1]."""
LIMITS = frozenset((key, "failed on") for key in OUTPUTS)
"""Bounds that cut-outs keep where powers do not."""
FIRMER_TURNS = 2
"""Times that what is right is drawn further inside (design choice)."""
FILM_LAMP_W, FILM_EMITTER_W = 30.0, 20.0
"""Powers with which the first films are found (design choice) [W]."""
FILM_MAT_W, FILM_MAT_M = 7.0, (0.15, 0.15)
"""The same where only a mat has room: its power, length and depth (design choice) [W, m, m]."""
CUT_UNDER_K, CUT_LEAST_K = 0.5, 1.0
"""Under a limit, and over what is held at the least (design choice) [K]."""
NIGHT_OFF_K = 0.3
"""By how much a night is warmer than the set point of a heater that only stands by (design choice)
[K].
"""
SET_RANGE_C = (5.0, 70.0)
"""Set points that a thermostat has (common practice) [°C]."""
MORE_LIGHT = 1.1
"""Of the light that is lacking, for what furniture shades (design choice) [1]."""
FOLLOWED_M = 0.1
"""An animal that moved by so much is lit anew (design choice) [m]."""
HOT_SPOT = 0.45
"""Upper part of its range in which a spot is held that is to be warm over a whole body (design choice)
[1].
"""
LAMPS_MOST = 3
"""In a row over one basking place (design choice)."""


@dataclass(frozen=True)
class Judged:
    """What the plan says of a setup."""

    request: Request
    wrong: Mapping[NeedKey, tuple[str, float]]
    """Needs out of range: below or above, and by how much [the need's unit]."""
    breached: int
    dangers: tuple[str, ...]
    cares: tuple[str, ...]
    missed: float
    """By how much needs are out of range, added up [the needs' units]."""
    chance: float = 0.0
    """Probability that all needs hold, before any reading; 0 where it was not asked [1]."""
    lamps: int = 1
    """In a row over the basking place, as many as warm the whole body."""
    dim_lx: float = 0.0
    """Light that its basking place lacks [lx]."""
    edged: int = 0
    """Needs that lie beside their range by less than an instrument tells."""

    @property
    def findings(self) -> tuple[str, ...]:
        """What could be better, beside the cautions that every enclosure has."""
        return tuple(slug for slug in self.cares if slug not in STANDING)

    @property
    def right(self) -> bool:
        """Whether every need that is predicted is in range."""
        return not self.wrong

    @property
    def closed(self) -> bool:
        """Right, no limit passed, and no danger."""
        return self.right and not self.breached and not self.dangers

    @property
    def inside(self) -> bool:
        """Closed, with every need inside its range and not at its edge."""
        return self.closed and not self.edged


@dataclass(frozen=True)
class Fitted:
    """The best setup of a site."""

    site: Site
    answer: Answer
    judged: Judged
    problem: ChoiceProblem
    """What it was chosen from in the end: to tell why not."""
    rounds: int

    @property
    def rank(self) -> tuple[bool, int, int, int, float, float]:
        """Less is better."""
        judged = self.judged
        return (
            not judged.closed,
            judged.breached + len(judged.dangers),
            len(judged.wrong) + judged.edged,
            len(judged.findings),
            judged.missed,
            -judged.chance,
        )


def judge(request: Request) -> Judged:
    """What `plan` says of a request: the only judge."""
    made, prediction = plan_with_prediction(request, advise=False)
    wrong = {
        state.key: (state.verdict.direction, state.verdict.by)
        for state in made.needs
        if state.verdict.direction in {"below", "above"}
    }

    return Judged(
        request,
        wrong,
        sum(state.verdict.limit == "breached" for state in made.needs),
        tuple(note.slug for note in made.notes if _never_left(note)),
        tuple(note.slug for note in made.notes if note.severity == "care"),
        sum(by for _, by in wrong.values()),
        chance_of_all(prediction, look(request).targets),
        max((int(note.values["lamps"]) for note in made.notes if note.slug == "patch"), default=1),
        max((_lacks_lx(note) for note in made.notes if note.slug == "dim basking"), default=0.0),
        _edged(made.needs),
    )


def _never_left(note: Note) -> bool:
    """Whether no suggested setup may have it: every danger, and a limit passed by a fault, though
    that is but a care in a setup that keepers have.
    """
    return note.severity == "danger" or note.slug == "thermostat failed on"


def _lacks_lx(dim: Note) -> float:
    """Light that a dim basking place lacks [lx]."""
    return BRIGHT_SHARE * BRIGHT_LX - float(dim.values["lux"])


def is_fit(made: Plan) -> bool:
    """Whether an enclosure as it is needs no change: every need right, no limit passed, no danger."""
    wrong = any(need.verdict.direction in {"below", "above"} for need in made.needs)
    breached = any(need.verdict.limit == "breached" for need in made.needs)
    return not (wrong or breached or any(note.severity == "danger" for note in made.notes))


def _edged(needs: Iterable[NeedState]) -> int:
    """Needs at the edge of their range."""
    return sum(need.verdict.direction == "right" and need.verdict.by > 0 for need in needs)


def _off_or(power_w: float, share: float) -> float:
    return power_w * share if share > RUNS else 0.0


def dimmed_items(answer: Answer) -> list[dict[str, Any]]:
    """The answer's lamps at the power of each part of the day, without thermostats."""
    found: list[dict[str, Any]] = []
    for n, (one, shares) in enumerate(answer.heaters.items()):
        for part, share, (on, off) in zip("dn", shares, (DAY, NIGHT), strict=True):
            power = _off_or(one.power_w, share)
            if power:
                found += one.items(f"c{n}-{part}", power, on=on, off=off)
    for n, lamp in enumerate(answer.uv):
        found += lamp.items(f"uv-{n + 1}")

    return found


@dataclass(frozen=True)
class SetPoints:
    """Of one heater, by day and by night; None where it is off or not held [°C]."""

    day_c: float | None = None
    night_c: float | None = None


def _cut_out(held_c: float, one: HeaterCandidate, needs: AnimalNeeds) -> float:
    """Where a cut-out takes the power away: over what is held, under the limit of a surface."""
    if one.probe != "surface":
        return _settable(held_c + CUT_AIR_K)
    target = needs.targets.get(NeedKey.SURFACE_DAY)
    most = held_c + CUT_SURFACE_K
    if target is not None and target.limit_high is not None:
        most = min(most, target.limit_high.value - CUT_UNDER_K)
    return _settable(max(most, held_c + CUT_LEAST_K))


def held_items(
    answer: Answer, sets: dict[int, SetPoints], needs: AnimalNeeds, *, cut_outs: bool = False
) -> list[dict[str, Any]]:
    """The answer as it is built: every heater at its full power, each on its thermostat; with an
    independent cut-out on each where that is asked for.
    """
    found: list[dict[str, Any]] = []

    for n, (one, (day, night)) in enumerate(answer.heaters.items()):
        points = sets.get(n, SetPoints())
        more: dict[str, Any] = {}
        stands_by = day > RUNS and night <= RUNS and points.night_c is not None

        if (day <= RUNS or night <= RUNS) and not stands_by:
            on, off = DAY if day > RUNS else NIGHT
            more |= {"on": on, "off": off}
        held = points.day_c if day > RUNS else points.night_c

        if held is not None and one.dims:
            more["thermostat"] = {"set_c": _settable(held), "probe": one.probe or "warm_air"}

            if day > RUNS and points.night_c is not None:
                more["thermostat"]["night_set_c"] = _settable(points.night_c)

            if cut_outs:
                highest = max(held, points.night_c or held)
                more["thermostat"]["cut_out_c"] = _cut_out(highest, one, needs)
        found += one.items(_name(one, n, answer), **more)

    for n, lamp in enumerate(answer.uv):
        found += lamp.items(f"tube-{n + 1}" if lamp.length_m else f"uv-lamp-{n + 1}")

    return found


def _settable(held_c: float) -> float:
    return round(min(max(held_c, SET_RANGE_C[0]), SET_RANGE_C[1]), 1)


def _name(one: HeaterCandidate, n: int, answer: Answer) -> str:
    """An id that says what it is for."""
    if one.night_only:
        return "night-heat"
    stem = {"surface": "lamp", "warm_air": "air-heat", "cool_air": "cool-heat"}.get(
        one.probe, "light"
    )
    return "mat" if one.kind == "heat_mat" else stem


def set_points(prediction: Prediction, answer: Answer, needs: AnimalNeeds) -> dict[int, SetPoints]:
    """What each probe feels at the solution: there its thermostat is set."""
    found = {}
    floor = None if _warmed_at_night(answer) else _night_floor(prediction, needs)
    for n, (one, shares) in enumerate(answer.heaters.items()):
        pair: list[float | None] = [None, None]
        parts = ((prediction.day, shares[0]), (prediction.night, shares[1]))
        for part, (steady, share) in enumerate(parts):
            if steady is not None and share > RUNS and one.dims:
                felt = _felt(prediction, steady, one, f"c{n}-{'dn'[part]}-1")
                pair[part] = felt + OVER_K * (share > FLAT_OUT)
        if pair[1] is None and pair[0] is not None and one.dark and one.probe == "warm_air":
            pair[1] = floor
        found[n] = SetPoints(*pair)

    return found


def _warmed_at_night(answer: Answer) -> bool:
    return any(night > RUNS for _, night in answer.heaters.values())


def _night_floor(prediction: Prediction, needs: AnimalNeeds) -> float | None:
    """What an air heater that is off at night is set to then, for colder nights than this one [°C].

    None where the night is so near the lower end already that it would run.
    """
    target = needs.targets.get(NeedKey.AIR_NIGHT)
    night_c = prediction.centre(NeedKey.AIR_NIGHT)
    if target is None or night_c is None or not math.isfinite(target.low_value):
        return None
    floor = min(target.low_value + MARGIN_HELD_K, night_c - NIGHT_OFF_K)
    return floor if floor > target.low_value else None


def _felt(
    prediction: Prediction, steady: SteadyState, one: HeaterCandidate, item_id: str
) -> float:
    """What the probe of a heater's thermostat would feel [°C]."""
    model = steady.heat_model
    n = next(n for n, lamp in enumerate(model.lamps) if lamp.item_id == item_id)
    perch = prediction.position.perch
    height = perch.z_m + prediction.position.back_m if perch else None
    held = Thermostat(40.0, one.probe or "warm_air", height)
    lamps = tuple(
        replace(lamp, thermostat=held) if k == n else lamp for k, lamp in enumerate(model.lamps)
    )

    return steady.value(replace(steady, heat_model=replace(model, lamps=lamps)).probe(n))


@dataclass
class _Search:
    """The state of a site's search."""

    site: Site
    needs: AnimalNeeds
    heaters: tuple[HeaterCandidate, ...]
    lamps: tuple[UvCandidate, ...]
    goal: Goal
    devices_most: int
    means: Means
    prediction: Prediction
    night: SteadyState
    stuck: FailedOn | None = None
    answer: Answer | None = None
    responses: Responses = field(default_factory=Responses)
    lamps_least: int = 1
    light_least_lx: float = 0.0
    dropped: frozenset[Slack] = frozenset()
    """Bounds that the choice of powers alone was seen not to keep."""
    banned: set[HeaterCandidate] = field(default_factory=set)
    cuts: list[frozenset[HeaterCandidate | UvCandidate]] = field(default_factory=list)
    seen: dict[frozenset[HeaterCandidate | UvCandidate], int] = field(default_factory=dict)
    short: int = 0
    """Rounds in a row in which the programme itself could not do it."""

    def __post_init__(self) -> None:
        self._first = self.prediction, self.night
        self._lit_x_m = self.prediction.basking.x_m

    def follow(self) -> None:
        """Hang ultraviolet where the animal is now: without a basking place it goes with the warmth."""
        target = self.needs.targets.get(NeedKey.UVI_DAY)
        back = self.prediction.basking

        if target is None or abs(back.x_m - self._lit_x_m) < FOLLOWED_M:
            return
        self.lamps = tuple(uv_candidates(self.site, target, back, self.means))
        self._lit_x_m = back.x_m
        self.answer = None  # it knows other lamps

    def anew(self, lamps_least: int, light_least_lx: float, *, hotter: bool = False) -> "_Search":
        """The same from the beginning, with so many lamps and so much light at the least; and with the basking
        spot in the upper part of its range where that is asked for.
        """
        prediction, night = self._first
        return _Search(
            self.site,
            _with_hot_spot(self.needs) if hotter else self.needs,
            self.heaters,
            self.lamps,
            self.goal,
            self.devices_most,
            self.means,
            prediction,
            night,
            responses=self.responses,
            lamps_least=lamps_least,
            light_least_lx=light_least_lx,
        )

    @property
    def room(self) -> Room:
        """The room around it."""
        return self.prediction.request.room

    def linearised(self) -> Linearised:
        """Gains at the last full solution, with what that solution says beyond them."""
        gains = self.responses.gains
        day = gains(self.prediction, self.prediction.day, self.site.basking_id, self.heaters)
        uv = gains(self.prediction, self.prediction.day, self.site.basking_id, self.lamps)
        uv = uv * [not one.times.also_on for one in self.lamps]  # off when the day is judged
        night = gains(self.prediction, self.night, self.site.basking_id, self.heaters)[1]
        plain = Linearised(day, night, uv)
        if self.answer is None:
            return plain
        said = linear_values(self.answer, self.heaters, self.lamps, self.room, plain)
        keys = (*OUTPUTS, NeedKey.AIR_NIGHT)
        full = np.array([self.prediction.centre(key) or 0.0 for key in keys])

        return replace(plain, offset=full - said, failed_on=self._rise_scale(plain))

    def _rise_scale(self, plain: Linearised) -> Array:
        """Rise at full power in the full solution over the linear one."""
        scale = np.ones(3)

        if self.stuck is None or self.answer is None:
            return scale
        rise = np.zeros(3)
        column = {one.place: k for k, one in enumerate(self.heaters)}

        for one, (by_day, _) in self.answer.heaters.items():
            if by_day > RUNS:
                rise = rise + plain.day[:, column[one.place]] * one.power_w

        for lamp in self.answer.uv:
            rise = rise + plain.uv[:, self.lamps.index(lamp)] * lamp.power_w
        stuck = np.array([self.stuck.surface_c, self.stuck.warm_air_c, self.stuck.cool_air_c])
        found = np.clip((stuck - self.room.summer_max_c) / np.maximum(rise, 1e-6), 0.6, 1.3)

        return np.asarray(np.where(rise > 1, found, scale))

    def problem(self, turn: int) -> ChoiceProblem:
        """What is to be chosen in this round."""
        return ChoiceProblem(
            self.heaters,
            self.lamps,
            warm_enough_to_dry(self.needs.targets, self.room),
            self.room,
            self.linearised(),
            replace(self.goal, margin_eur=self.goal.margin_eur * MARGIN_BY_ROUND[turn]),
            self.site.basks_in_light,
            self.devices_most,
            frozenset(self.banned),
            tuple(self.cuts),
            FIRM_K + FIRMER_K * turn,
            dropped=self.dropped,
            owned=self.means.owned,
            must=self.means.must,
            lamps_least=self.lamps_least,
            light_least_lx=self.light_least_lx,
        )

    def ban_rivals(self) -> None:
        """Let no dark heater warm a patch of ground more than the basking place."""
        day = self.prediction.day
        hot = self.prediction.basking_slab
        if hot is None or day.heat_model.slabs[hot].item_id == self.site.basking_id:
            return
        patch = day.heat_model.slabs[hot]
        rivals = {"ceramic_emitter", "infrared_panel", "led_bar"}
        self.banned |= {
            one
            for one in self.heaters
            if one.probe != "surface"
            and one.kind in rivals
            and abs(one.x_m - patch.x_m) < patch.length_m / 2
        }

    def remember(self, answer: Answer) -> None:
        """Not a third time the same set; and give up what the programme itself cannot do."""
        self.seen[answer.chosen] = self.seen.get(answer.chosen, 0) + 1
        if self.seen[answer.chosen] >= 2:
            self.cuts.append(answer.chosen)
        missed = any(by > 0.2 for (_, word), by in answer.slacks.items() if word != "failed on")
        self.short = self.short + 1 if missed else 0


def fit(
    site: Site,
    needs: AnimalNeeds,
    *,
    goal: str = "balanced",
    devices_most: int = 4,
    means: Means = ANYTHING,
    rounds: int = ROUNDS,
    responses: Responses | None = None,
) -> Fitted | None:
    """Fit a furnished enclosure with heat and light.

    Parameters
    ----------
    goal : str
        One of `GOALS`.
    means : Means
        What it may be made of.
    responses : Responses, optional
        Of an earlier fit of the same site.
    """
    search = _begun(site, needs, GOALS[goal], devices_most, means)
    search.responses = responses or search.responses
    best = _refined(search, rounds)
    if best is None or not best.judged.inside:
        return best
    return _polished(search, best, rounds)


def _polished(search: _Search, best: Fitted, rounds: int) -> Fitted:
    """The same with the whole body warmed, and bright where it basks, where that is wanting.

    A hotter spot is warm over more of the stone: so more lamps are tried with the spot in the upper part
    of its range first, then anywhere in it.
    """
    dim = best.judged.dim_lx * MORE_LIGHT
    short = "patch" in best.judged.cares
    lamps = min(best.judged.lamps, LAMPS_MOST)
    ways = [(lamps, dim, True), (1, dim, True), (lamps, 0.0, True)] if short else []
    ways += [(lamps, dim, False), (lamps, 0.0, False), (1, dim, False)]
    for least, lights, hotter in dict.fromkeys(ways):
        if (least, lights, hotter) == (1, 0.0, False):
            continue
        again = search.anew(least, lights, hotter=hotter)
        found = _refined(again, min(rounds, POLISH_ROUNDS))
        if found is not None and found.rank < best.rank:
            best = found
            break

    return best


def _with_hot_spot(needs: AnimalNeeds) -> AnimalNeeds:
    """The same needs with the lower end of the basking spot raised into its range."""
    spot = needs.targets.get(NeedKey.SURFACE_DAY)
    if spot is None or spot.low is None or spot.high is None:
        return needs
    low = spot.high.value - HOT_SPOT * (spot.high.value - spot.low.value)
    hot = replace(spot, low=spot.low.model_copy(update={"value": low}))
    return replace(needs, targets={**needs.targets, NeedKey.SURFACE_DAY: hot})


def _refined(search: _Search, rounds: int) -> Fitted | None:
    """Choose, look in full, choose again; then settle water and damp, and judge."""
    best: Fitted | None = None
    for turn in range(rounds):
        problem, answer = _chosen(search, search.problem(turn))
        for again in range(TUNED):
            if answer is None:
                break
            found = _looked_at(search, problem, answer, turn + 1)
            if found is None:
                break
            if best is None or found.rank < best.rank:
                best = found
            if found.judged.inside:
                return _settled(_firmer(search, found, turn), search.needs)
            # The same lamps again, with the films as they are under them.
            problem, answer = _chosen(
                search, _same_lamps(search.problem(turn + again + 1), answer)
            )
        if answer is not None:
            search.ban_rivals()
            search.remember(answer)
            search.follow()
        if search.short >= 2 and turn >= 2:
            break

    return None if best is None else _settled(best, search.needs)


def _firmer(search: _Search, found: Fitted, turn: int) -> Fitted:
    """The same lamps with the powers found anew under their own films, as far inside as they go."""
    for again in range(FIRMER_TURNS):
        problem = replace(_same_lamps(search.problem(turn), found.answer), goal=search.goal)
        problem, answer = _chosen(search, problem)
        if answer is None or answer.missed():
            break
        other = _looked_at(search, problem, answer, turn + again + 1)
        if other is None or not other.judged.inside:
            break
        found = other
    return found


def _chosen(search: _Search, problem: ChoiceProblem) -> tuple[ChoiceProblem, Answer | None]:
    """An answer; where a limit cannot be kept by the choice of powers, a cut-out is left to do it,
    in this site's later rounds too.
    """
    answer = choose(problem)
    if answer is None or any(word == "failed on" for _, word in answer.missed()):
        search.dropped = LIMITS
        problem = replace(problem, dropped=LIMITS)
        answer = choose(problem)
    return problem, answer


def _same_lamps(problem: ChoiceProblem, answer: Answer) -> ChoiceProblem:
    """The problem with the chosen places alone."""
    places = {one.place for one in answer.chosen}
    return replace(
        problem,
        heaters=tuple(one for one in problem.heaters if one.place in places),
        lamps=tuple(one for one in problem.lamps if one.place in places),
        linear=problem.linear.only(
            [n for n, one in enumerate(problem.heaters) if one.place in places],
            [n for n, one in enumerate(problem.lamps) if one.place in places],
        ),
        cuts=(),
    )


def _looked_at(
    search: _Search, problem: ChoiceProblem, answer: Answer, turn: int
) -> Fitted | None:
    """An answer in full: as it is built, on its thermostats; None where the core refuses it."""
    site = search.site
    needs = search.needs
    try:
        dimmed = site.request(dimmed_items(answer))
    except DocumentError:  # such as a lamp in a stone
        search.cuts.append(answer.chosen)
        return None
    search.answer = answer
    search.prediction = predict(dimmed, needs.position(dimmed))
    search.night = search.prediction.night or search.night
    sets = set_points(search.prediction, answer, needs)
    judged, prediction = _glanced(site.request(held_items(answer, sets, needs)), needs)
    search.stuck = failed_on(prediction)
    risky = _past_limits(search.stuck, needs)
    if risky:
        request = site.request(held_items(answer, sets, needs, cut_outs=True))
        judged, prediction = _glanced(request, needs)
        risky = _still_past(prediction, needs)
    risky += tuple(f"hazard {hazard.slug}" for hazard in seen_hazards(prediction))
    reached = reach_notes(prediction, needs.profile, needs.targets)
    risky += tuple(note.slug for note in reached if note.severity == "danger")

    return Fitted(site, answer, replace(judged, dangers=risky), problem, turn)


def _settled(best: Fitted, needs: AnimalNeeds) -> Fitted:
    """With its water and its moisture, judged by the plan."""
    request = with_water_heater(best.judged.request, needs)
    request, _ = with_moisture(request, needs)
    request = with_screen(request)
    return replace(best, judged=judge(request))


def _past_limits(stuck: FailedOn, needs: AnimalNeeds) -> tuple[str, ...]:
    """Limits that are passed with the thermostats failed on."""
    found = []
    for key, value in (
        (NeedKey.SURFACE_DAY, stuck.surface_c),
        (NeedKey.COOL_AIR_DAY, stuck.cool_air_c),
    ):
        target = needs.targets.get(key)
        if target is not None and target.limit_high and value > target.limit_high.value:
            found.append(f"failed on {key.value}")

    return tuple(found)


def _still_past(prediction: Prediction, needs: AnimalNeeds) -> tuple[str, ...]:
    """Limits that are passed though there are cut-outs, and not by the room alone."""
    stuck = failed_on(prediction)
    working = hot_day(prediction)
    more = max(stuck.surface_c - working.surface_c, stuck.cool_air_c - working.cool_air_c)
    if _past_limits(working, needs) and more <= FAULT_ADDS_K:
        return ()
    return _past_limits(stuck, needs)


def _glanced(request: Request, needs: AnimalNeeds) -> tuple[Judged, Prediction]:
    """Right or not by the centres alone, without intervals and advice: quick.

    The verdict of a prediction is decided by its centre; the plan has the last word.
    """
    prediction = predict(request, needs.position(request))
    verdicts: dict[NeedKey, Verdict] = {}
    for key, target in needs.targets.items():
        value = prediction.centre(key)
        if value is not None:
            verdicts[key] = judge_value(target, value, GLANCE_SD, speaks="predicted")
    wrong = {
        key: (verdict.direction, verdict.by)
        for key, verdict in verdicts.items()
        if verdict.direction in {"below", "above"}
    }
    breached = sum(verdict.limit == "breached" for verdict in verdicts.values())
    edged = sum(verdict.direction == "right" and verdict.by > 0 for verdict in verdicts.values())
    missed = sum(by for _, by in wrong.values())

    return Judged(request, wrong, breached, (), (), missed, edged=edged), prediction


def _begun(site: Site, needs: AnimalNeeds, goal: Goal, devices_most: int, means: Means) -> _Search:
    """A first full solution with a lamp over the basking place and an emitter for the night."""
    request = site.request(_film_mat(site) if site.is_low else _film_lamps(site))
    prediction = predict(request, needs.position(request))
    if prediction.night is None:
        raise ImpossibleStateError("a heater warms it at night")
    heaters = tuple(heater_candidates(site, means))
    target = needs.targets.get(NeedKey.UVI_DAY)
    lamps = tuple(uv_candidates(site, target, prediction.basking, means))

    return _Search(
        site, needs, heaters, lamps, goal, devices_most, means, prediction, prediction.night
    )


def _film_lamps(site: Site) -> list[dict[str, Any]]:
    """A lamp over the basking place by day and an emitter by night."""
    long, deep, high = site.inside
    spot = site.spot
    tight = site.has_mesh and high - spot.z_m < site.back_m + 0.26
    z = high + 0.05 if tight else site.ceiling_m
    lamp = {
        "id": "film-1",
        "kind": "halogen_flood",
        "power_w": FILM_LAMP_W,
        "at_m": [spot.x_m, spot.y_m, round(max(z, spot.z_m + 0.06), 3)],
        "above_lid": z > high,
        "on": DAY[0],
        "off": DAY[1],
    }
    emitter = {
        "id": "film-2",
        "kind": "ceramic_emitter",
        "power_w": FILM_EMITTER_W,
        "at_m": [round(0.35 * long, 3), round(0.5 * deep, 3), round(site.ceiling_m, 3)],
        "on": NIGHT[0],
        "off": NIGHT[1],
    }

    return [lamp, emitter]


def _film_mat(site: Site) -> list[dict[str, Any]]:
    """A mat by day and by night, where no lamp has room."""
    long, deep, _ = site.inside
    sides = [
        round(min(side, 0.4 * reach), 3)
        for side, reach in zip(FILM_MAT_M, (long, deep), strict=True)
    ]
    at = [round(max(site.spot.x_m, sides[0] / 2 + 0.005), 3), round(site.spot.y_m, 3), 0]
    size = [*sides, 0.005]

    return [
        {"id": "film-1", "kind": "heat_mat", "power_w": FILM_MAT_W, "at_m": at, "size_m": size}
    ]
