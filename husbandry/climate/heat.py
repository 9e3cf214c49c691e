"""Steady temperatures in an enclosure: solve the network, read the places that matter, and say how
far to trust them.
"""

import functools
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import cho_factor, cho_solve

from husbandry.climate.air import radiation_coefficient
from husbandry.climate.heat_model import HeatModel, HeatSource, Thermostat
from husbandry.climate.mats import down_w_m2k, peak_map, shared_m2, ways_out
from husbandry.climate.network import (
    ENVELOPE,
    LENGTHWISE,
    UPRIGHT,
    FilmCoefficients,
    LampDeposit,
    Network,
    NodeIndex,
    assemble,
    black_radiation,
    deposit,
    number_nodes,
    overlap,
    row_of,
)
from husbandry.climate.slab import CELLS, SPOT_M, HeatedSlab, excess_map, spot_weights
from husbandry.climate.strengths import (
    ENVELOPE_LN_SD,
    LENGTHWISE_LN_SD,
    UPRIGHT_LN_SD,
    SpotReading,
)
from husbandry.derivation import Z90
from husbandry.enclosure.equipment import EMISSIVITY
from husbandry.errors import ImpossibleStateError
from husbandry.memory import remembered

Array = NDArray[np.float64]

PICARD_ROUNDS = 3
"""Error against convergence at most 0.05 K on the surface at 150 W (a test says so) (checked by
tests/husbandry/climate/test_heat.py).
"""
STATES_REMEMBERED = 32
"""Solved enclosures that are kept, half a megabyte each (measured: 16 find six of ten asked again,
64 two thirds, and more cost the memory more than they save).
"""
GROUPS = (ENVELOPE, LENGTHWISE, UPRIGHT)
PRIOR_LN_SD = (ENVELOPE_LN_SD, LENGTHWISE_LN_SD, UPRIGHT_LN_SD)
ROOM_SD_K = 0.5
"""Of what a keeper says of the room (source: heat 5) [K]."""
MODEL_SD_SURFACE_K = 2.1
"""Of the model itself at a surface (design choice; source: heat 5 judges ± 2 to 3 K after readings) [K]."""
MODEL_SD_AIR_K = 0.7
"""Of the model itself in air (source: heat 5) [K]."""
MODEL_SD_HIGH_AIR_K = 1.0
"""Of the model itself in air under the lid (source: heat 5) [K]."""
SURFACE_EXCESS_K, AIR_EXCESS_K = 28.0, 3.0
"""Excess over the room from which the model errs by so much at a surface and in air; below it by so much
less: where hardly anything is warmer than the room there is little to be wrong about (design choice) [K]."""
LEAST_MODEL_SHARE = 0.4
"""Of the model's error, left where there is no excess: layers and corners (design choice) [1]."""
HIGH_AIR = 0.65
"""Share of the air's height above which its layers are less sure (source: heat 5: they were covered
0.82 to 0.90 of the time) [1].
"""
THERMOSTAT_SD_K = 0.5
"""Of what a thermostat holds about its set point (common practice, no source) [K]."""
LIES_M = 0.015
"""A probe so close to a face lies on it (design choice: half the thickness of a probe and its clip)
[m].
"""
AT_MAT = 0.25
"""Of the way from a mat to the face above it, the share over which the flux is still that of the mat
(compared with finite volumes: benchmarks/mats.py) [1].
"""
ROOM_TOLD_SHARE = 0.4
"""Left of what is not known of the room, once this enclosure was read (design choice) [1]."""


@dataclass(frozen=True)
class ModelReading:
    """An output as a linear function of the network: node weights, and what each lamp adds by
    itself [K/W].
    """

    nodes: Array
    lamps: Array
    model_sd_k: float
    """Of the model itself, where the excess over the room is at least the next [K]."""
    full_excess_k: float
    spot: Array | None = None
    """Of a surface: which cells of its map are the hottest spot, as weights; shape (CELLS, CELLS)."""


@dataclass(frozen=True)
class UncertainTemperature:
    """A predicted temperature and one standard deviation."""

    temp_c: float
    sd_k: float

    @property
    def low_c(self) -> float:
        """Lower end of the 90 % interval [°C]."""
        return self.temp_c - Z90 * self.sd_k

    @property
    def high_c(self) -> float:
        """Upper end of the 90 % interval [°C]."""
        return self.temp_c + Z90 * self.sd_k


@dataclass(frozen=True)
class SteadyState:
    """A solved enclosure."""

    heat_model: HeatModel
    nodes: NodeIndex
    films: FilmCoefficients
    network: Network
    factor: tuple[Array, bool]
    deposits: tuple[LampDeposit, ...]
    overlaps: list[Array]
    powers_w: Array
    """Mean electrical power of each lamp, after its thermostat [W]."""
    duties: Array
    temps_c: Array
    _cache: dict[str, ModelReading] = field(default_factory=dict, compare=False)

    # --- outputs ----------------------------------------------------------------------------------

    def surface(self, slab: int) -> ModelReading:
        """The hottest spot of a slab."""
        key = f"surface {slab}"
        if key not in self._cache:
            self._cache[key] = _surface_reading(
                self.heat_model, self.nodes, self.films, self.deposits, self.powers_w, slab
            )
        return self._cache[key]

    def hottest_slab(self, *, perches: bool | None = None) -> int | None:
        """The slab whose spot is hottest; None when there is none.

        Parameters
        ----------
        perches : bool or None
            True: of branches alone; False: of all but branches; None: of everything within reach.
        """
        among = [
            n
            for n, slab in enumerate(self.heat_model.slabs)
            if perches is None or slab.is_perch == perches
        ]
        return max(among, key=lambda n: self.value(self.surface(n)), default=None)

    def air(self, x_m: float, z_m: float) -> ModelReading:
        """Shielded air at a place, `z_m` above the enclosure's floor [m]."""
        return _air_reading(self.heat_model, self.nodes, x_m, z_m, len(self.deposits))

    def surface_at(self, x_m: float, y_m: float) -> ModelReading:
        """The face at a place: of the slab that lies there, else of the substrate in its column."""
        return _surface_at(self.heat_model, self.nodes, self.films, self.deposits, x_m, y_m)

    def felt_at(self, x_m: float, y_m: float, z_m: float) -> ModelReading:
        """What a small probe feels: the face that it lies on, else the air around it (shaded from
        the lamps).
        """
        return _felt_at(self.heat_model, self.nodes, self.films, self.deposits, (x_m, y_m, z_m))

    def value(self, reading: ModelReading) -> float:
        """An output [°C]."""
        return float(reading.nodes @ self.temps_c + reading.lamps @ self.powers_w)

    def mat_face(self, lamp: int) -> float | None:
        """The middle of a mat, between the substrate and the floor [°C]; None for what is no mat or
        has nothing above it.
        """
        mat = self.heat_model.lamps[lamp]
        over = [shared_m2(slab, mat) for slab in self.heat_model.slabs]

        if mat.size_m is None or not over or max(over) <= 0:
            return None
        n = int(np.argmax(over))
        slab = self.heat_model.slabs[n]
        own = slab.thickness_m / slab.conductivity_w_mk
        film = self.films.slab_convection[n] + self.films.slab_radiation[n] * EMISSIVITY
        peak = float(self.powers_w[lamp] * peak_map(self.heat_model, slab, mat, film).max())
        top, base = (
            float(self.temps_c[side[n]]) for side in (self.nodes.slab_top, self.nodes.slab_base)
        )
        # What rises from the mat's middle spreads on its way: it is more there than at the face.
        leaves = (base - top) / own + film * peak
        down = down_w_m2k(self.heat_model)
        begins = (
            self.powers_w[lamp] / (mat.size_m[0] * mat.size_m[1]) + down * self.heat_model.room_c
        )
        between = own + 1 / ways_out(self.heat_model, slab, mat).up
        face = top + peak + between * ((1 - AT_MAT) * leaves + AT_MAT * begins)

        return float(face / (1 + AT_MAT * between * down))

    def surface_map(self, slab: int) -> Array:
        """Temperatures of a slab's face [°C], shape (CELLS, CELLS); their mean is the network's
        node.
        """
        excess = np.tensordot(
            self.powers_w, _excess(self.heat_model, self.films, self.deposits, slab), axes=1
        )
        return np.asarray(self.temps_c[self.nodes.slab_top[slab]] + excess)

    def air_field(self) -> tuple[Array, Array, Array]:
        """Air cell middles x, z [m] and temperatures [°C], shapes (columns,), (rows,), (columns,
        rows).
        """
        interior = self.heat_model.interior
        columns = self.nodes.columns
        rows = self.nodes.rows
        x = (np.arange(columns) + 0.5) * interior.length_m / columns
        z = interior.substrate_depth_m + (np.arange(rows) + 0.5) * interior.air_height_m / rows
        return x, z, self.temps_c[self.nodes.air]

    def energy_residual_w(self) -> float:
        """Heat in less heat out to the room [W]; 0 to rounding."""
        out = float(self.network.room @ (self.temps_c - self.heat_model.room_c))
        given = sum(p * (1 - d.lost) for p, d in zip(self.powers_w, self.deposits, strict=True))
        return float(given - out)

    # --- uncertainty ------------------------------------------------------------------------------

    def spread(
        self, reading: ModelReading, told: SpotReading | None = None
    ) -> UncertainTemperature:
        """An output with its standard deviation: what is believed of the few uncertain strengths,
        carried through the network linearly, and what the model itself cannot say of one spot.

        Parameters
        ----------
        told : SpotReading or None
            What a reading of this very spot told.
        """
        gradient = self.gradient(reading)
        of_strengths = float(gradient @ self._covariance @ gradient)
        variance = of_strengths + self.model_sd_k(reading) ** 2
        if told is not None:
            variance = told.variance(of_strengths, variance)
        if self._controls:
            variance += THERMOSTAT_SD_K**2
        return UncertainTemperature(self.value(reading), float(np.sqrt(variance)))

    def model_sd_k(self, reading: ModelReading) -> float:
        """What the model itself cannot say of a place, whatever its strengths [K].

        It grows with the excess over the room, up to `full_excess_k` of the place.
        """
        excess_k = abs(self.value(reading) - self.heat_model.room_c)
        share = max(min(excess_k / reading.full_excess_k, 1.0), LEAST_MODEL_SHARE)
        return share * reading.model_sd_k

    def gradient(self, reading: ModelReading) -> Array:
        """Change of an output [K] by ln of the envelope, of the mixing lengthwise and upright, of
        each lamp, and by a kelvin of the room.
        """
        shifts, directs = self._sensitivities
        change = reading.nodes @ shifts + reading.lamps @ directs
        answer = self._thermostats_answer
        if answer is None:
            return np.asarray(change)
        lit, controlled, powers = answer
        own = reading.nodes @ lit + reading.lamps[controlled]
        return np.asarray(change + own @ powers)

    @property
    def _controls(self) -> list[tuple[int, HeatSource]]:
        return [
            (n, lamp)
            for n, lamp in enumerate(self.heat_model.lamps)
            if lamp.thermostat and 0 < self.duties[n] < 1
        ]

    @functools.cached_property
    def _covariance(self) -> Array:
        """Of the strengths and the room, in the order of `gradient`."""
        given = self.heat_model.strengths.covariance
        room_sd_k = ROOM_SD_K if given is None else ROOM_TOLD_SHARE * ROOM_SD_K
        if given is None:
            given = np.diag(
                np.square([*PRIOR_LN_SD, *(lamp.ln_sd for lamp in self.heat_model.lamps)])
            )
        whole = np.zeros((len(given) + 1, len(given) + 1))
        whole[:-1, :-1] = given
        whole[-1, -1] = room_sd_k**2

        return whole

    @functools.cached_property
    def _sensitivities(self) -> tuple[Array, Array]:
        """By each strength and the room, in the order of `gradient`: the shift of all nodes, shape
        (nodes, strengths), and the lamps' own factor, shape (lamps, strengths).
        """
        none = np.zeros(len(self.deposits))
        rows = [
            (-self.network.imbalance(self.temps_c, group, self.heat_model.room_c), none)
            for group in GROUPS
        ]
        for n, landed in enumerate(self.deposits):
            direct = none.copy()
            direct[n] = self.powers_w[n]
            rows.append((landed.aimed * self.powers_w[n], direct))
        rows.append((self.network.room, none))
        shifts = cho_solve(self.factor, np.array([row[0] for row in rows]).T, check_finite=False)

        return np.asarray(shifts), np.array([row[1] for row in rows]).T

    @functools.cached_property
    def _thermostats_answer(self) -> tuple[Array, list[int], Array] | None:
        """What working thermostats do when a strength moves: they hold their probes.

        Returns
        -------
        tuple or None
            What a watt of each controlled lamp does to the nodes, shape (nodes, controlled) [K/W];
            which lamps these are; the power that each adds by each strength, shape (controlled,
            strengths) [W]. None without any.
        """
        controlled = [n for n, _ in self._controls]

        if not controlled:
            return None
        shifts, directs = self._sensitivities
        probes = [self.probe(n) for n in controlled]
        heats = np.array([self.deposits[n].heat for n in controlled]).T
        lit = np.asarray(cho_solve(self.factor, heats, check_finite=False))
        nodes = np.array([probe.nodes for probe in probes])
        lamps = np.array([probe.lamps for probe in probes])
        gain = nodes @ lit + lamps[:, controlled]
        drift = nodes @ shifts + lamps @ directs
        # Two thermostats that hold the same probe cannot be told apart: they share the answer.
        powers = np.linalg.lstsq(gain, -drift, rcond=1e-9)[0]

        return lit, controlled, np.asarray(powers)

    def probe(self, lamp: int) -> ModelReading:
        """Where a lamp's thermostat measures."""
        held = self.heat_model.lamps[lamp]
        if held.thermostat is not None and _is_of_a_face(self.heat_model, held.thermostat):
            return self.surface(_nearest_slab(self.heat_model.slabs, held))
        return _probe(self.heat_model, self.nodes, self.films, self.deposits, self.powers_w, lamp)


def end_points(
    heat_model: HeatModel, back_m: float
) -> tuple[tuple[float, float], tuple[float, float]]:
    """The two places where end air is taken: one sixth of the length from each end, at the back of
    an animal standing there (x, z) [m].
    """
    interior = heat_model.interior
    places = []
    for x in (interior.length_m / 6, interior.length_m * 5 / 6):
        stands = max(
            [
                s.top_m
                for s in heat_model.slabs
                if abs(s.x_m - x) <= s.length_m / 2 and not s.is_perch
            ],
            default=interior.substrate_depth_m,
        )
        places.append((x, min(stands + back_m, interior.height_m)))

    return places[0], places[1]


def _air_reading(
    heat_model: HeatModel, nodes: NodeIndex, x_m: float, z_m: float, lamps: int
) -> ModelReading:
    interior = heat_model.interior
    columns = nodes.columns
    rows = nodes.rows
    up = (z_m - interior.substrate_depth_m) / interior.air_height_m
    fx = float(np.clip(x_m / interior.length_m * columns - 0.5, 0, columns - 1))
    fz = float(np.clip(up * rows - 0.5, 0, rows - 1))
    i = min(int(fx), columns - 2)
    k = min(int(fz), rows - 2)
    a = fx - i
    c = fz - k
    weights = np.zeros(nodes.count)
    around = nodes.air[i : i + 2, k : k + 2]
    along = [1 - a, a]
    upwards = [1 - c, c]
    weights[around] = np.outer(along, upwards)

    # through mesh the room's air sinks in where it likes: such layers are as unsure as those up high
    is_unsure = up > HIGH_AIR or heat_model.mesh_share > 0

    return ModelReading(
        weights,
        np.zeros(lamps),
        MODEL_SD_HIGH_AIR_K if is_unsure else MODEL_SD_AIR_K,
        AIR_EXCESS_K,
    )


def _excess(
    heat_model: HeatModel,
    films: FilmCoefficients,
    deposits: tuple[LampDeposit, ...],
    slab_index: int,
) -> Array:
    """How far each lamp lifts each point of a slab above its mean, per watt [K/W]; shape (lamps,
    CELLS, CELLS).
    """
    slab = heat_model.slabs[slab_index]
    film = films.slab_convection[slab_index] + films.slab_radiation[slab_index] * EMISSIVITY
    found = np.zeros((len(deposits), CELLS, CELLS))
    shone = [n for n, landed in enumerate(deposits) if landed.maps[slab_index].any()]

    if shone:
        maps = np.array([deposits[n].maps[slab_index] for n in shone])
        found[shone] = excess_map(maps, slab, film)

    for n, lamp in enumerate(heat_model.lamps):
        if n not in shone and lamp.size_m is not None:
            found[n] = peak_map(heat_model, slab, lamp, film)

    return found


def _surface_reading(
    heat_model: HeatModel,
    nodes: NodeIndex,
    films: FilmCoefficients,
    deposits: tuple[LampDeposit, ...],
    powers_w: Array,
    slab_index: int,
) -> ModelReading:
    excess = _excess(heat_model, films, deposits, slab_index)
    shown = np.tensordot(powers_w if powers_w.any() else np.ones(len(deposits)), excess, axes=1)
    weights = spot_weights(heat_model.slabs[slab_index], shown, SPOT_M)
    node = np.zeros(nodes.count)
    node[nodes.slab_top[slab_index]] = 1.0
    direct = np.tensordot(excess, weights, axes=2)

    return ModelReading(node, direct, MODEL_SD_SURFACE_K, SURFACE_EXCESS_K, weights)


def _slab_under(
    heat_model: HeatModel, x_m: float, y_m: float, z_m: float | None = None
) -> int | None:
    """The slab at a place of the floor; where a height is said, the one whose face is nearest."""
    here = [
        n
        for n, slab in enumerate(heat_model.slabs)
        if abs(x_m - slab.x_m) <= slab.length_m / 2 and abs(y_m - slab.y_m) <= slab.depth_m / 2
    ]
    if z_m is None:
        return next(iter(here), None)

    return min(here, key=lambda n: abs(z_m - heat_model.slabs[n].top_m), default=None)


def _surface_at(
    heat_model: HeatModel,
    nodes: NodeIndex,
    films: FilmCoefficients,
    deposits: tuple[LampDeposit, ...],
    x_m: float,
    y_m: float,
    z_m: float | None = None,
) -> ModelReading:
    node = np.zeros(nodes.count)
    lamps = np.zeros(len(deposits))
    n = _slab_under(heat_model, x_m, y_m, z_m)
    if n is not None:
        x, y = heat_model.slabs[n].cells()
        i = int(np.argmin(np.abs(x - x_m)))
        j = int(np.argmin(np.abs(y - y_m)))
        node[nodes.slab_top[n]] = 1.0
        lamps = _excess(heat_model, films, deposits, n)[:, i, j]
        return ModelReading(node, lamps, MODEL_SD_SURFACE_K, SURFACE_EXCESS_K)
    column = int(np.clip(x_m / heat_model.interior.length_m * nodes.columns, 0, nodes.columns - 1))
    node[nodes.inner["floor"][column]] = 1.0

    return ModelReading(node, lamps, MODEL_SD_SURFACE_K, SURFACE_EXCESS_K)


def _felt_at(
    heat_model: HeatModel,
    nodes: NodeIndex,
    films: FilmCoefficients,
    deposits: tuple[LampDeposit, ...],
    at_m: tuple[float, float, float],
) -> ModelReading:
    x, y, z = at_m
    n = _slab_under(heat_model, x, y, z)
    top = heat_model.slabs[n].top_m if n is not None else heat_model.interior.substrate_depth_m
    lies_on_it = n is not None and abs(z - top) <= LIES_M
    if lies_on_it or z <= heat_model.interior.substrate_depth_m + LIES_M:
        return _surface_at(heat_model, nodes, films, deposits, x, y, z)

    return _air_reading(heat_model, nodes, x, z, len(deposits))


def _nearest_slab(slabs: tuple[HeatedSlab, ...], lamp: HeatSource) -> int:
    """The slab under a lamp; of two that are as near, the higher one, which the lamp meets first.

    Over a mat it is the floor of the hide that stands there: the probe lies where the mat warms
    most (common practice).
    """
    long, deep = lamp.size_m or (0.0, 0.0)

    def away(n: int) -> tuple[float, float, float]:
        slab = slabs[n]
        x = max(abs(slab.x_m - lamp.x_m) - (slab.length_m + long) / 2, 0)
        y = max(abs(slab.y_m - lamp.y_m) - (slab.depth_m + deep) / 2, 0)
        covered = slab.cover_m2k_w if lamp.size_m is not None else 0.0
        return round(x + y, 4), -covered, -slab.top_m

    return min(range(len(slabs)), key=away)


def _is_of_a_face(heat_model: HeatModel, held: Thermostat) -> bool:
    """Whether a thermostat's probe lies on the face that its lamp warms."""
    return held.at_m is None and held.probe == "surface" and bool(heat_model.slabs)


def _probe(
    heat_model: HeatModel,
    nodes: NodeIndex,
    films: FilmCoefficients,
    deposits: tuple[LampDeposit, ...],
    powers_w: Array,
    lamp_index: int,
) -> ModelReading:
    lamp = heat_model.lamps[lamp_index]
    if lamp.thermostat is None:
        raise ImpossibleStateError("missing: lamp.thermostat")
    if lamp.thermostat.at_m is not None:
        return _felt_at(heat_model, nodes, films, deposits, lamp.thermostat.at_m)
    if _is_of_a_face(heat_model, lamp.thermostat):
        return _surface_reading(
            heat_model, nodes, films, deposits, powers_w, _nearest_slab(heat_model.slabs, lamp)
        )
    left, right = end_points(heat_model, 0.05)
    nearer_left = lamp.x_m <= heat_model.interior.length_m / 2
    warm, cool = (left, right) if nearer_left else (right, left)
    place = cool if lamp.thermostat.probe == "cool_air" else warm
    if lamp.thermostat.air_m is not None:
        place = place[0], lamp.thermostat.air_m

    return _air_reading(heat_model, nodes, *place, len(deposits))


def _routines(
    heat_model: HeatModel,
    nodes: NodeIndex,
    films: FilmCoefficients,
    deposits: tuple[LampDeposit, ...],
    factor: tuple[Array, bool],
    room: Array,
    nominal: Array,
) -> Array:
    """Share of its power that each lamp draws: 1 without a thermostat, else what holds its probe at
    the set point, clipped to 0..1.
    """
    duty = np.ones(len(deposits))
    controlled = [n for n, lamp in enumerate(heat_model.lamps) if lamp.thermostat is not None]
    if not controlled:
        return duty
    base = cho_solve(factor, room * heat_model.room_c, check_finite=False)
    lit = np.array(
        [
            cho_solve(factor, d.heat * p, check_finite=False)
            for d, p in zip(deposits, nominal, strict=True)
        ]
    )
    probes = [_probe(heat_model, nodes, films, deposits, nominal, n) for n in controlled]
    gain = np.array(
        [
            [p.nodes @ lit[m] + p.lamps[m] * nominal[m] for m in range(len(deposits))]
            for p in probes
        ]
    )
    rest = np.array([p.nodes @ base for p in probes])
    for _ in range(
        40
    ):  # each thermostat answers the others in turn; converges because each lamp warms its own probe most
        before = duty.copy()
        for row, n in enumerate(controlled):
            thermostat = heat_model.lamps[n].thermostat
            if thermostat is None:
                raise ImpossibleStateError("missing: thermostat")
            others = rest[row] + gain[row] @ duty - gain[row, n] * duty[n]
            duty[n] = float(np.clip((thermostat.set_c - others) / max(gain[row, n], 1e-9), 0, 1))
        if np.abs(duty - before).max() < 1e-9:
            break

    return duty


@remembered(STATES_REMEMBERED)
def solve(
    heat_model: HeatModel,
    *,
    iterations: int = PICARD_ROUNDS,
    start: FilmCoefficients | None = None,
) -> SteadyState:
    """Steady temperatures with the heating as given.

    A state is remembered by its content: a plan asks for the same one in two cases of three, for
    each of its judgements anew. Nobody may change what comes back.

    Parameters
    ----------
    heat_model : HeatModel
        The enclosure, its lamps and the room around it.
    iterations : int
        On the temperature-dependent films.
    start : FilmCoefficients, optional
        Films of a similar enclosure, to begin from.
    """
    nodes = number_nodes(len(heat_model.slabs), heat_model.laws)
    overlaps = [
        overlap(slab, nodes.columns, heat_model.interior.length_m) for slab in heat_model.slabs
    ]
    deposits = tuple(deposit(heat_model, lamp) for lamp in heat_model.lamps)
    nominal = np.array([lamp.power_w for lamp in heat_model.lamps])
    heat = np.array([d.heat for d in deposits]).reshape(len(deposits), nodes.count)
    if start is not None and len(start.slab_convection) == len(heat_model.slabs):
        films = start
    else:
        interior = heat_model.interior
        sides = 2 * (
            interior.footprint_m2 + (interior.length_m + interior.depth_m) * interior.air_height_m
        )
        films = FilmCoefficients.first_guess(len(heat_model.slabs), float(nominal.sum()) / sides)
    for n in range(iterations):
        network = assemble(heat_model, nodes, films, overlaps)
        factor = cho_factor(network.matrix, check_finite=False)
        duty = _routines(heat_model, nodes, films, deposits, factor, network.room, nominal)
        powers = nominal * duty
        temps = cho_solve(
            factor, network.room * heat_model.room_c + powers @ heat, check_finite=False
        )
        if n < iterations - 1:
            films = _next_films(heat_model, nodes, films, overlaps, temps)

    for array in (powers, duty, temps):
        array.setflags(write=False)  # what is remembered cannot be written into

    return SteadyState(
        heat_model, nodes, films, network, factor, deposits, overlaps, powers, duty, temps
    )


def _air_at(air: Array, slab: HeatedSlab, heat_model: HeatModel) -> Array:
    """Air that a slab's upper face meets in each column: of its row where it stands free, else of
    the whole column.
    """
    row = row_of(slab, heat_model.interior, air.shape[1])
    return np.asarray(air.mean(axis=1) if row is None else air[:, row])


def _next_films(
    heat_model: HeatModel,
    nodes: NodeIndex,
    films: FilmCoefficients,
    overlaps: list[Array],
    temps: Array,
) -> FilmCoefficients:
    air = temps[nodes.air]
    star = temps[nodes.star]
    convection = []
    radiation = []
    for n, (slab, share) in enumerate(zip(heat_model.slabs, overlaps, strict=True)):
        top = float(temps[nodes.slab_top[n]])
        above = float(_air_at(air, slab, heat_model) @ share)
        film = heat_model.laws.plate(top, above, slab.char_length_m)
        seen = radiation_coefficient(top, float(star @ share))
        left = slab.passes(film + seen)
        convection.append(film * left)
        radiation.append(seen * left)

    return FilmCoefficients(
        excess_k=max(float(air.mean()) - heat_model.room_c, 0.3),
        spread_k=max(0.5 * films.spread_k + 0.5 * float(air.max() - air.min()), 1.0),
        radiation_w_m2k=black_radiation(float(star.mean())),
        slab_convection=tuple(convection),
        slab_radiation=tuple(radiation),
    )


def resolve(known: SteadyState, lamps: tuple[HeatSource, ...]) -> SteadyState:
    """The same enclosure with other lamps, powers or heights at unchanged films: a few hundredths
    of a full solution's cost.

    Good for searching near the known state (0.6 K on the surface from 100 W to 50 W); what is
    promised is solved in full.
    """
    heat_model = replace(known.heat_model, lamps=lamps)
    deposits = tuple(deposit(heat_model, lamp) for lamp in lamps)
    nominal = np.array([lamp.power_w for lamp in lamps])
    duty = _routines(
        heat_model, known.nodes, known.films, deposits, known.factor, known.network.room, nominal
    )
    powers = nominal * duty
    heat = sum(
        (p * d.heat for p, d in zip(powers, deposits, strict=True)),
        known.network.room * heat_model.room_c,
    )
    temps = cho_solve(known.factor, heat, check_finite=False)

    return replace(
        known,
        heat_model=heat_model,
        deposits=deposits,
        powers_w=powers,
        duties=duty,
        temps_c=temps,
        _cache={},
    )
