"""Calibration: readings tell the few strengths that nobody can look up.

Method: docs/methods/calibration.md.

The readings of each state of the enclosure are fitted with that state's own lamps and heights, all
states together, so that what was learned
before a change still holds after it. Without readings everything stays at its prior.
"""

import datetime as dt
import functools
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

from husbandry.calibration.implausible_readings import APART_TEXT, odd_readings
from husbandry.climate.beam import beam_of
from husbandry.climate.heat import ModelReading, SteadyState, solve
from husbandry.climate.strengths import SpotReading
from husbandry.climate.uv import LN_SD_FIELD, shaded_uvi
from husbandry.documents.request import EarlierState, ReadingSpec, Request
from husbandry.predict.exposure import DAY_HOUR, NIGHT_HOUR, uv_lit
from husbandry.predict.need_states import AnimalNeeds, need_states
from husbandry.predict.predict import (
    AnimalPosition,
    EnclosurePoint,
    Prediction,
    heat_model_of,
    predict,
    uv_source,
)
from husbandry.predict.predictions import predictions
from husbandry.predict.strengths import (
    ENCLOSURE_LN_SD,
    ENCLOSURE_STRENGTHS,
    UNLEARNED,
    Key,
    KnownStrengths,
    Learned,
    ReadSpot,
    StrengthShare,
    beam_key,
    heat_ways,
    uv_key,
)
from husbandry.readings import corrected_reading
from husbandry.species.needs import NEEDS, NeedKey

Array = NDArray[np.float64]
TEMPERATURES = (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY, NeedKey.AIR_NIGHT)
"""Needs whose readings tell of warmth."""
TELLS_LESS, FACE_TELLS_LESS = 1.4, 3.0
"""A reading of air, and of a face, at a place of its own tells less of the needs' places: neither the layers
of the air nor the shape of a beam are among the strengths (design choice) [1]."""
TELLS_LESS_LN_SD = 0.25
"""The same for ultraviolet, by the lamp's lobe and its distance law (design choice) [1]."""
OFFSET_SHARE = 0.9
"""Of an instrument's error, that it shows at every reading: no further reading with it takes that away
(common practice, no source) [1]."""
BARE_PROBE_K_M2_W = 0.0132
"""What a beam adds to a probe of which nobody said that it was shaded, as its root mean square: 0.005 to
0.02, evenly (source: heat 2.3) [K m²/W]."""
STATES_MOST = 8
"""How many states of an enclosure are fitted together: the last ones (design choice)."""
ROOM_STEP_K = 0.5
"""Readings whose rooms differ by less are answered by one solution (design choice) [K]."""
APART_SD = 3.0
"""Standard deviations from which a reading that the fitted model cannot come near is left out and
named (design choice) [1].
"""
LEFT_OUT_MOST = 2
"""Readings that are left out at the most where others contradict them (design choice)."""
FAR = 2.0
"""Prior standard deviations from which a strength is worth a warning [1]."""
_ROUNDS = 2
"""Fits, each with the thermostats answered anew (design choice)."""


@dataclass(frozen=True)
class MeasuredState:
    """The enclosure as it stood when some of the readings were taken."""

    request: Request
    position: AnimalPosition
    uncalibrated: Prediction
    """By the model before any reading."""


@dataclass(frozen=True)
class Observation:
    """A reading as the model may answer it."""

    state: int
    need: NeedKey
    value: float
    """Corrected, and carried on to the settled enclosure."""
    sd: float
    """Of the instrument and of the one spot together [K; ln for UVI]."""
    spot_sd: float
    """What the model cannot say of the one spot [K; ln for UVI]."""
    revision: int
    at: dt.datetime
    at_m: tuple[float, float, float] | None = None


@dataclass(frozen=True)
class CalibrationResult:
    """What was learned, and from what."""

    learned: Learned = UNLEARNED
    told: tuple[Observation, ...] = ()
    apart: tuple[Observation, ...] = ()
    """Left out: no strengths bring the model near them and the others."""
    odd: dict[NeedKey, str] = field(default_factory=dict)
    """What is odd about readings of the present state, before anything is learned from them."""
    far: tuple[Key, ...] = ()
    """Strengths that came out further from usual than two of their priors."""

    def odd_now(self, revision: int) -> dict[NeedKey, str]:
        """What is odd about readings of the present state, before and after learning."""
        left = {
            one.need: APART_TEXT
            for one in self.apart
            if one.revision == revision and one.at_m is None
        }

        return left | self.odd


def learn(request: Request, looked: AnimalNeeds) -> CalibrationResult:
    """Fit the strengths to all readings of this enclosure that may be believed.

    Parameters
    ----------
    request : Request
    looked : AnimalNeeds
        Who lives there: readings are of places at the animal.
    """
    if not request.readings:
        return CalibrationResult()
    read = {reading.revision for reading in request.readings}
    # An enclosure that is only being tried was never read: what is tried in it changes nothing of
    # what was learned before.
    parts = {"now", "readings", "earlier", "room", "animals", "edits", "place"} | (
        {"enclosure", "items"} if request.revision in read else set()
    )

    return _learned(
        _Asked(request.model_dump_json(include=parts), request.revision in read, request, looked)
    )


@dataclass(frozen=True)
class _Asked:
    """A question that is the same when its content is."""

    key: str
    present: bool
    request: Request = field(compare=False)
    looked: AnimalNeeds = field(compare=False)


@functools.lru_cache(maxsize=256)
def _learned(asked: _Asked) -> CalibrationResult:
    """The fit, remembered by what it was made from: every step of a drag asks for the same one."""
    states, told, odd = _gather(asked.request, asked.looked)
    warm = [one for one in told if one.need is not NeedKey.UVI_DAY]
    known, kept, apart, far, left = _fit_warmth(states, warm)
    uv, lit, far_uv, left_uv = _fit_uv(
        states, [one for one in told if one.need is NeedKey.UVI_DAY]
    )
    spots = (*_spots(states, kept, left), *_spots(states, lit, left_uv))
    ways = frozenset(heat_ways(one.request.enclosure) for one in states)
    learned = Learned(known, uv, spots, ways)

    return CalibrationResult(learned, (*kept, *lit), tuple(apart), odd, (*far, *far_uv))


def _spots(
    states: Sequence[MeasuredState], kept: Sequence[Observation], left: Sequence[float]
) -> tuple[ReadSpot, ...]:
    """What the readings told of the needs' own places, each with the enclosure as it stood."""
    found = []
    for one, off in zip(kept, left, strict=True):
        if one.at_m is not None:
            continue
        stood = states[one.state].request
        whole = math.sqrt(max(one.sd**2 - one.spot_sd**2, 0.0))
        told = SpotReading(whole, OFFSET_SHARE * NEEDS[one.need].reading_sd, one.spot_sd, off)
        found.append(ReadSpot(one.need, told, stood.enclosure, stood.items))

    return tuple(found)


# --- which readings, of which state ---------------------------------------------------------------


def _groups(request: Request) -> Iterator[tuple[Request, list[ReadingSpec]]]:
    """The enclosure as it stood for each group of readings, oldest first: by revision, by day or
    night, and by the room's temperature.
    """
    specs: dict[int, EarlierState | Request] = {one.revision: one for one in request.earlier}
    specs[request.revision] = request
    groups: dict[tuple[int, bool, float | None], list[ReadingSpec]] = {}

    for reading in request.readings:
        if reading.revision in specs and reading.at <= request.now:
            night = reading.need is NeedKey.AIR_NIGHT
            room = (
                None
                if reading.room_c is None
                else round(reading.room_c / ROOM_STEP_K) * ROOM_STEP_K
            )
            groups.setdefault((reading.revision, night, room), []).append(reading)
    last = sorted(groups.items(), key=lambda entry: max(reading.at for reading in entry[1]))[
        -STATES_MOST:
    ]

    for (revision, night, room), readings in sorted(last, key=lambda entry: entry[0][0]):
        spec = specs[revision]
        rooms = {}
        if room is not None:
            rooms["night_c" if night else "day_c"] = sum(
                reading.room_c or 0.0 for reading in readings
            ) / len(readings)
        stood = request.model_copy(
            update={
                "enclosure": spec.enclosure,
                "items": spec.items,
                "revision": revision,
                "readings": tuple(reading for reading in readings if reading.judges),
                "room": request.room.model_copy(update=rooms),
                "now": max(reading.at for reading in readings),
            }
        )
        yield stood, [reading for reading in readings if reading.at_m is not None]


def _gather(
    request: Request, looked: AnimalNeeds
) -> tuple[list[MeasuredState], list[Observation], dict[NeedKey, str]]:
    states: list[MeasuredState] = []
    told: list[Observation] = []
    odd_now: dict[NeedKey, str] = {}

    for stood, elsewhere in _groups(request):
        position = looked.position(stood)
        state = MeasuredState(stood, position, predict(stood, position))
        predicted = predictions(
            state.uncalibrated, stood, looked.profile, looked.targets, needs_only=True
        )
        needs = need_states(stood, state.uncalibrated, looked.targets, predicted)
        odd = odd_readings(needs, stood.room)
        if stood.revision == request.revision:
            odd_now |= odd
        n = len(states)
        states.append(state)

        for need in needs:
            believed = need.measured is not None and need.measured.judged and need.key not in odd
            if (
                believed
                and need.measured is not None
                and _can_tell(need.key, need.measured.value, state.uncalibrated)
            ):
                spot = _spot_sd(need.key, state.uncalibrated)
                x, z = _air_place(need.key, state.uncalibrated)
                bare = _bare_sd_k(need.key, need.measured.instrument, state, (x, z))
                sd = math.hypot(need.measured.sd, spot, bare)
                told.append(
                    Observation(
                        n,
                        need.key,
                        need.measured.value,
                        sd,
                        spot,
                        stood.revision,
                        need.measured.at,
                    )
                )
        told += _told_elsewhere(n, state, elsewhere)

    return states, told, odd_now


def _told_elsewhere(
    n: int, state: MeasuredState, readings: Sequence[ReadingSpec]
) -> Iterator[Observation]:
    """The latest reading of each need at each place of its own."""
    ordered = sorted(readings, key=lambda reading: reading.at)
    latest = {(reading.need, reading.at_m): reading for reading in ordered}

    for reading in latest.values():
        value = corrected_reading(reading.value, reading.offset)
        if reading.at_m is None or not _can_tell(reading.need, value, state.uncalibrated):
            continue
        less = FACE_TELLS_LESS if reading.need is NeedKey.SURFACE_DAY else TELLS_LESS
        spot = (
            TELLS_LESS_LN_SD
            if reading.need is NeedKey.UVI_DAY
            else less * _spot_sd(reading.need, state.uncalibrated)
        )
        place = (reading.at_m[0], reading.at_m[2])
        bare = _bare_sd_k(reading.need, reading.instrument, state, place)
        sd = math.hypot(NEEDS[reading.need].reading_sd, spot, bare)
        revision = state.request.revision

        yield Observation(n, reading.need, value, sd, spot, revision, reading.at, reading.at_m)


def _spot_sd(need: NeedKey, prediction: Prediction) -> float:
    """What the model cannot say of a need's own place [K; ln for UVI]."""
    if need is NeedKey.UVI_DAY:
        return LN_SD_FIELD
    read = prediction.reading_of(need)
    return 0.0 if read is None else read[0].model_sd_k(read[1])


def _air_place(need: NeedKey, prediction: Prediction) -> tuple[float, float]:
    """Where the air of a need is read, along the length and up [m]."""
    return prediction.cool_point if need is NeedKey.COOL_AIR_DAY else prediction.warm_point


def _bare_sd_k(
    need: NeedKey, instrument: str, state: MeasuredState, place: tuple[float, float]
) -> float:
    """What the light of the lamps may add to a probe that may hang in it [K]."""
    if need not in {NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY} or instrument == "shaded_probe":
        return 0.0
    x, z = place
    day = state.uncalibrated.day
    found = 0.0

    for lamp, power in zip(day.heat_model.lamps, day.powers_w, strict=True):
        below = lamp.z_m - z
        if lamp.heater.beam_share and below > 0.02 and lamp.length_m == 0:
            mesh = lamp.mesh_open if lamp.above_lid else 1.0
            beam = beam_of(lamp.heater, mesh=mesh, beam_deg=lamp.beam_deg)
            found += float(power) * float(beam.irradiance(below, np.array([abs(x - lamp.x_m)]))[0])

    return BARE_PROBE_K_M2_W * found


def _can_tell(need: NeedKey, value: float, prediction: Prediction) -> bool:
    """Whether a reading of a need says anything of a strength."""
    if need is NeedKey.UVI_DAY:
        return value > 0 and bool(prediction.uv)
    if need is NeedKey.AIR_NIGHT:
        return prediction.night is not None
    return need in TEMPERATURES and bool(prediction.day.heat_model.lamps)


# --- warmth ---------------------------------------------------------------------------------------


@dataclass
class _Prior:
    """The strengths that are fitted, with what is not known of them before."""

    keys: list[Key] = field(default_factory=lambda: list(ENCLOSURE_STRENGTHS))
    rows: list[StrengthShare] = field(
        default_factory=lambda: [StrengthShare(None, 0.0, sd) for sd in ENCLOSURE_LN_SD]
    )

    def add(self, key: Key, ln_sd: float) -> None:
        """A strength that is met for the first time: a bulb of a class that was there before is its
        kin.
        """
        if key not in self.keys:
            self.rows.append(KnownStrengths(tuple(self.keys)).row(key, ln_sd))
            self.keys.append(key)

    def residuals(self, ln: Array) -> Array:
        """How far each lies from its prior, in standard deviations [1]."""
        kin = np.array(
            [row.share * ln[row.of] if row.of is not None else 0.0 for row in self.rows]
        )

        return np.asarray((ln - kin) / [row.rest_ln_sd for row in self.rows])

    def jacobian(self) -> Array:
        """Of `residuals`."""
        found = np.eye(len(self.rows))

        for n, row in enumerate(self.rows):
            if row.of is not None:
                found[n, row.of] = -row.share
        return np.asarray(found / np.array([row.rest_ln_sd for row in self.rows])[:, None])

    def ln_sds(self) -> Array:
        """Each by itself, kin or not [1]."""
        inverse = np.linalg.inv(self.jacobian())

        return np.asarray(np.sqrt(np.square(inverse).sum(axis=1)))


class _Answers:
    """The model's answers to the readings, and how they move with the strengths."""

    def __init__(
        self, states: Sequence[MeasuredState], told: Sequence[Observation], prior: _Prior
    ) -> None:
        self.states = states
        self.told = told
        self.prior = prior
        self.phases = sorted({(one.state, one.need is NeedKey.AIR_NIGHT) for one in told})
        self._films = {
            (n, night): steady.films
            for n, night in self.phases
            if (steady := states[n].uncalibrated.night if night else states[n].uncalibrated.day)
            is not None
        }
        self._at: bytes = b""
        self._solved: dict[tuple[int, bool], SteadyState] = {}

    def _solve(self, ln: Array) -> dict[tuple[int, bool], SteadyState]:
        if self._at != ln.tobytes():
            learned = Learned(
                KnownStrengths(tuple(self.prior.keys), ln, np.zeros((len(ln), len(ln))))
            )

            for n, night in self.phases:
                stood = self.states[n].request
                position = self.states[n].position
                hour, room_c = (
                    (NIGHT_HOUR, stood.room.night_c) if night else (DAY_HOUR, stood.room.day_c)
                )
                heat_model = heat_model_of(stood, hour, room_c, position, learned)
                self._solved[n, night] = solve(
                    heat_model, start=self._films[n, night], iterations=_ROUNDS
                )
                self._films[n, night] = self._solved[n, night].films
            self._at = ln.tobytes()
        return self._solved

    def reading(self, one: Observation, steady: SteadyState) -> ModelReading:
        """The place of a reading in a solved enclosure."""
        uncalibrated = self.states[one.state].uncalibrated
        if one.at_m is not None:
            x, y, z = one.at_m

            return steady.surface_at(x, y) if one.need is NeedKey.SURFACE_DAY else steady.air(x, z)
        if one.need is NeedKey.SURFACE_DAY:
            slab = uncalibrated.basking_slab

            return steady.air(*uncalibrated.warm_point) if slab is None else steady.surface(slab)

        return steady.air(
            *(
                uncalibrated.cool_point
                if one.need is NeedKey.COOL_AIR_DAY
                else uncalibrated.warm_point
            )
        )

    def residuals(self, ln: Array) -> Array:
        """Model less reading in standard deviations, then the priors."""
        solved = self._solve(ln)
        off = []

        for one in self.told:
            steady = solved[one.state, one.need is NeedKey.AIR_NIGHT]
            off.append((steady.value(self.reading(one, steady)) - one.value) / one.sd)
        return np.concatenate([off, self.prior.residuals(ln)])

    def jacobian(self, ln: Array) -> Array:
        """Of `residuals`, with the films held: they move the answers less than the strengths do."""
        solved = self._solve(ln)
        rows = np.zeros((len(self.told), len(ln)))

        for r, one in enumerate(self.told):
            steady = solved[one.state, one.need is NeedKey.AIR_NIGHT]
            gradient = steady.gradient(self.reading(one, steady))
            stood = self.states[one.state].request
            keys = [
                *ENCLOSURE_STRENGTHS,
                *(beam_key(stood.item(lamp.item_id)) for lamp in steady.heat_model.lamps),
            ]

            for key, slope in zip(keys, gradient, strict=False):  # the last is the room's
                rows[r, self.prior.keys.index(key)] += slope / one.sd

        return np.vstack([rows, self.prior.jacobian()])


def _fit_warmth(
    states: Sequence[MeasuredState], told: list[Observation]
) -> tuple[KnownStrengths, list[Observation], list[Observation], tuple[Key, ...], list[float]]:
    apart: list[Observation] = []
    while told:
        prior = _Prior()

        for n in sorted({one.state for one in told}):
            for steady in (states[n].uncalibrated.day, states[n].uncalibrated.night):
                for lamp in steady.heat_model.lamps if steady is not None else ():
                    prior.add(beam_key(states[n].request.item(lamp.item_id)), lamp.ln_sd)
        answers = _Answers(states, told, prior)
        sds = prior.ln_sds()
        fitted = least_squares(
            answers.residuals,
            np.zeros(len(sds)),
            jac=answers.jacobian,
            x_scale=sds,
            xtol=1e-3,
            ftol=1e-4,
            max_nfev=12,
        )
        off = np.abs(answers.residuals(fitted.x)[: len(told)])
        worst = int(np.argmax(off))
        if off[worst] > APART_SD and len(told) >= 3 and len(apart) < LEFT_OUT_MOST:
            apart.append(told[worst])
            told = [one for n, one in enumerate(told) if n != worst]
            continue
        slopes = answers.jacobian(fitted.x)
        far = tuple(
            key
            for key, ln, sd in zip(prior.keys, fitted.x, sds, strict=True)
            if abs(ln) > FAR * sd
        )
        last = answers.residuals(fitted.x)[: len(told)]
        left = [-float(value) * one.sd for value, one in zip(last, told, strict=True)]
        known = KnownStrengths(tuple(prior.keys), fitted.x, _inverse(slopes))

        return known, told, apart, far, left

    return KnownStrengths(), [], apart, (), []


def _inverse(slopes: Array) -> Array:
    """Covariance of what was fitted, from the slopes of its residuals."""
    return np.asarray(np.linalg.inv(slopes.T @ slopes), dtype=np.float64)


# --- ultraviolet ----------------------------------------------------------------------------------


def _fit_uv(
    states: Sequence[MeasuredState], told: Sequence[Observation]
) -> tuple[KnownStrengths, tuple[Observation, ...], tuple[Key, ...], list[float]]:
    """Every lamp's strength from UV readings: what a lamp adds at a place is its strength times
    what its class would.
    """
    if not told:
        return KnownStrengths(), (), (), []
    prior = _Prior([], [])
    shares: list[dict[Key, float]] = []

    for one in told:
        state = states[one.state]
        place = EnclosurePoint(*one.at_m) if one.at_m is not None else state.uncalibrated.basking
        adds: dict[Key, float] = {}

        for item in uv_lit(state.request):
            source = replace(uv_source(item, state.request), strength=1.0)
            prior.add(uv_key(item), source.ln_sd)
            found = shaded_uvi(
                source,
                np.array(place.x_m),
                place.y_m,
                np.array(place.z_m),
                state.uncalibrated.blockers,
            )
            adds[uv_key(item)] = float(found)
        shares.append(adds)
    seen = [n for n, adds in enumerate(shares) if sum(adds.values()) > 0]
    if not seen:
        return KnownStrengths(), (), (), []
    table = np.array([[shares[n].get(key, 0.0) for key in prior.keys] for n in seen])
    wanted = np.log([told[n].value for n in seen])
    sd = np.array([told[n].sd for n in seen])

    def residuals(ln: Array) -> Array:
        return np.concatenate([(np.log(table @ np.exp(ln)) - wanted) / sd, prior.residuals(ln)])

    def jacobian(ln: Array) -> Array:
        parts = table * np.exp(ln)

        return np.vstack([parts / parts.sum(axis=1)[:, None] / sd[:, None], prior.jacobian()])

    fitted = least_squares(residuals, np.zeros(len(prior.keys)), jac=jacobian)
    slopes = jacobian(fitted.x)
    left = wanted - np.log(table @ np.exp(fitted.x))
    far = tuple(
        key
        for key, ln, sd in zip(prior.keys, fitted.x, prior.ln_sds(), strict=True)
        if abs(ln) > FAR * sd
    )

    return (
        KnownStrengths(tuple(prior.keys), fitted.x, _inverse(slopes)),
        tuple(told[n] for n in seen),
        far,
        [float(one) for one in left],
    )
