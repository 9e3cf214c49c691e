"""From the linear programme to a setup that the full model agrees with: choose, look in full,
linearise there, choose again.

Method: docs/methods/setup-solver.md.
"""

from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.heat import SteadyState
from husbandry.documents.request import Request
from husbandry.documents.result import Verdict
from husbandry.documents.room import Room
from husbandry.errors import DocumentError, ImpossibleStateError
from husbandry.findings.hazards import seen_hazards
from husbandry.findings.reach import reach_notes
from husbandry.plan.notes import FAULT_ADDS_K
from husbandry.predict.need_states import AnimalNeeds
from husbandry.predict.predict import FailedOn, Prediction, failed_on, hot_day, predict
from husbandry.predict.warm_patch import trunk_m
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
from husbandry.setups.judged import Judged, judge
from husbandry.setups.programme import (
    GOALS,
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
from husbandry.setups.thermostat_settings import RUNS, dimmed_items, held_items, set_points
from husbandry.species.needs import NeedKey
from husbandry.targets.verdicts import judge as judge_value

Array = NDArray[np.float64]
ROUNDS = 4
"""Times that an enclosure is looked at in full (design choice)."""
MARGIN_BY_ROUND = (1.0, 0.3, *[0.1] * 5)
"""What is wished for weighs less by the round: right comes before firm (design choice) [1]."""
FIRM_K, FIRMER_K = 0.10, 0.06
"""Inside each range at first, and more by each round (design choice) [K]."""
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
LONG_M = 0.25
"""Of what lies under a dark heater: more than one lamp warms (common practice) [m]."""
CUT_SHARES = (1.0, 0.4)
"""Of the usual distance of a cut-out over what is held: usual, and close (common practice: one to four
kelvins) [1].
"""
SHORT_K, FAR_SHORT_K = 0.2, 1.5
"""What the programme itself misses by, not to be mended by its next round, or even by two more (design
choice) [K].
"""
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
class Fitted:
    """The best setup of a site."""

    site: Site
    answer: Answer
    judged: Judged
    problem: ChoiceProblem
    """What it was chosen from in the end: to tell why not."""
    rounds: int

    @property
    def rank(self) -> tuple[bool, int, int, int, int, float, float]:
        """Less is better. A need at its edge and a finding count alike; of equals the one with less
        to say.
        """
        judged = self.judged
        return (
            not judged.closed,
            judged.breached + len(judged.dangers),
            len(judged.wrong),
            judged.edged + len(judged.findings),
            len(judged.findings),
            judged.missed,
            -judged.chance,
        )


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
    panels_only: bool = False
    """Over the basking place nothing but panels, which warm more of it, and what is owned."""
    dropped: frozenset[Slack] = frozenset()
    """Bounds that the choice of powers alone was seen not to keep."""
    banned: set[HeaterCandidate] = field(default_factory=set)
    cuts: list[frozenset[HeaterCandidate | UvCandidate]] = field(default_factory=list)
    seen: dict[frozenset[HeaterCandidate | UvCandidate], int] = field(default_factory=dict)
    short: int = 0
    """Rounds in a row in which the programme itself could not do it."""
    far: bool = False
    """Whether in the last two of them it was far from it."""

    def __post_init__(self) -> None:
        self._first = self.prediction, self.night
        self._lit_x_m = self.prediction.basking.x_m
        if self.panels_only:
            self.banned |= {
                one
                for one in self.heaters
                if one.probe == "surface" and one.kind != "infrared_panel" and not one.owned
            }

    def follow(self) -> None:
        """Hang ultraviolet where the animal is now: without a basking place it goes with the warmth."""
        target = self.needs.targets.get(NeedKey.UVI_DAY)
        back = self.prediction.basking

        if target is None or abs(back.x_m - self._lit_x_m) < FOLLOWED_M:
            return
        self.lamps = tuple(uv_candidates(self.site, target, back, self.means))
        self._lit_x_m = back.x_m
        self.answer = None  # it knows other lamps

    def anew(
        self,
        lamps_least: int = 1,
        light_least_lx: float = 0.0,
        *,
        hotter: bool = False,
        panels_only: bool = False,
    ) -> "_Search":
        """The same from the beginning, with so many lamps and so much light at the least; with the
        basking spot in the upper part of its range, and with panels only, where that is asked for.
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
            panels_only=panels_only or self.panels_only,
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
            is_first=self.answer is None,
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
        missed = [by for (_, word), by in answer.slacks.items() if word != "failed on"]
        self.short = self.short + 1 if any(by > SHORT_K for by in missed) else 0
        self.far = self.short >= 2 and max(missed) > FAR_SHORT_K


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
    if _is_long_in_the_dark(search):
        under = search.anew(panels_only=True)
        best = _refined(under, rounds)
        if best is not None and best.judged.inside:
            return _polished(under, best, rounds)
    if search.responses.lamps_in_a_row > 1 and goal != "simplest":
        row = search.anew(search.responses.lamps_in_a_row, hotter=True)
        best = _refined(row, rounds)
        if best is not None and best.judged.inside and "patch" not in best.judged.findings:
            return _polished(row, best, rounds)
    best = _refined(search, rounds)
    if best is None or not best.judged.inside:
        return best
    return _polished(search, best, rounds)


def _is_long_in_the_dark(search: _Search) -> bool:
    """Whether what is warmed without light is longer than one lamp warms."""
    length_m = search.needs.occupants[search.needs.lead].length_m
    trunk = trunk_m(search.site.profile, length_m)
    return not search.site.basks_in_light and search.site.profile.basks and trunk > LONG_M


def _polished(search: _Search, best: Fitted, rounds: int) -> Fitted:
    """The same with the whole body warmed, and bright where it basks, where that is wanting.

    A hotter spot is warm over more of the stone: so more lamps are tried with the spot in the upper part
    of its range first, then anywhere in it.
    """
    dim = best.judged.dim_lx * MORE_LIGHT
    short = "patch" in best.judged.cares
    if not short and not dim:
        return best
    seen = search.responses.lamps_in_a_row
    lamps = max(search.lamps_least, min(best.judged.lamps, seen if seen > 1 else LAMPS_MOST))
    hot = [(lamps, dim, True), (1, dim, True), (lamps, 0.0, True)] if short else []
    ways = sorted(hot) if search.panels_only else hot  # one panel warms as much as two lamps
    ways += [(lamps, dim, False), (lamps, 0.0, False), (1, dim, False)]
    tries = [
        search.anew(least, lights, hotter=hotter)
        for least, lights, hotter in dict.fromkeys(ways)
        if (least, lights, hotter) != (1, 0.0, False)
    ]
    if short and not search.site.basks_in_light and not search.panels_only:
        tries.insert(0, search.anew(hotter=True, panels_only=True))
    for again in tries:
        found = _refined(again, min(rounds, POLISH_ROUNDS))
        if found is not None and found.rank < best.rank:
            best = found
            if short and again.lamps_least > 1 and "patch" not in found.judged.findings:
                search.responses.warmed_by(again.lamps_least)
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
        if search.short >= 2 and (turn >= 2 or search.far):
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
    for share in CUT_SHARES if risky else ():
        request = site.request(held_items(answer, sets, needs, cut_share=share))
        judged, prediction = _glanced(request, needs)
        risky = _still_past(prediction, needs)
        if not risky:
            break
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
