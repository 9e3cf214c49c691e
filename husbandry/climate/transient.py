"""The enclosure in time: heat capacities, exact steps of the network, thermostats that switch and
dim. Method and checks: docs/methods/heat.md, "Time".

The network of `network.py` with a capacity at each node is C dT/dt = −G T + g_room T_room + B P. In
the modes of C^−½ G C^−½ a step with constant
inputs is exact whatever its length, so that nodes almost without mass do no harm. Films are those
of the steady state given: good to half a
kelvin from full power to none.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import eigh

from husbandry.climate.air import AIR_HEAT_CAPACITY_J_KGK, air_at
from husbandry.climate.heat import ModelReading, SteadyState
from husbandry.climate.heat_model import HeatModel
from husbandry.climate.network import NodeIndex
from husbandry.errors import CannotCalculateError

Array = NDArray[np.float64]

STAR_J_K = 1.0
"""Of a radiant node, which stands for no mass (design choice) [J/K]."""
FAST = 12.0
"""Modes that decay by e^−12 within a step are taken as settled (design choice) [1]."""
HYSTERESIS_K = 0.5
"""An on/off thermostat switches so far below and above its set point (common practice) [K]."""
PROBE_LAG_S = 60.0
"""Of a thermostat's probe (common practice) [s]."""
BED_SHARE = 0.25
"""Of the substrate under a slab that moves with the slab's underside; the rest with the floor
(design choice, a test against fine layers) [1].
"""


def capacities(heat_model: HeatModel, nodes: NodeIndex, overlaps: Sequence[Array]) -> Array:
    """Heat capacity of every node [J/K]."""
    interior = heat_model.interior
    panels = heat_model.panels
    height = interior.air_height_m
    dx = interior.length_m / nodes.columns
    found = np.zeros(nodes.count)
    found[nodes.air] = (
        air_at(heat_model.room_c + 5).density_kg_m3
        * AIR_HEAT_CAPACITY_J_KGK
        * interior.footprint_m2
        * height
        / nodes.air.size
    )
    found[nodes.star] = STAR_J_K
    areas = {
        "front": dx * height,
        "back": dx * height,
        "left": interior.depth_m * height,
        "right": interior.depth_m * height,
    }
    areas["top"] = dx * interior.depth_m * max(1 - heat_model.mesh_share, 1e-4)
    for name, area in areas.items():
        material = getattr(panels, name)
        half = (
            material.density_kg_m3 * material.heat_capacity_j_kgk * material.thickness_m * area / 2
        )
        found[nodes.inner[name]] = half
        found[nodes.outer[name]] = half
    substrate = heat_model.substrate
    bottom = panels.bottom
    floor = dx * interior.depth_m
    covered = np.zeros(nodes.columns)
    per_m2 = (
        substrate.density_kg_m3
        * substrate.heat_capacity_j_kgk
        * max(interior.substrate_depth_m, 1e-3)
    )
    for n, (slab, share) in enumerate(zip(heat_model.slabs, overlaps, strict=True)):
        own = slab.density_kg_m3 * slab.heat_capacity_j_kgk * slab.thickness_m * slab.area_m2
        found[nodes.slab_top[n]] = found[nodes.slab_base[n]] = own / 2
        if slab.below:
            rest = (
                sum(layer.thickness_m for layer in slab.below[:-1])
                / max(interior.substrate_depth_m, 1e-3)
                * per_m2
                * slab.area_m2
            )
            found[nodes.slab_base[n]] += BED_SHARE * rest
            found[nodes.outer["floor"]] += (1 - BED_SHARE) * rest * share
            covered += share * slab.area_m2
    free = np.clip(floor - covered, 0.02 * floor, None)
    found[nodes.inner["floor"]] += per_m2 * free / 2
    found[nodes.outer["floor"]] += (
        per_m2 * free / 2
        + bottom.density_kg_m3 * bottom.heat_capacity_j_kgk * bottom.thickness_m * floor
    )
    return found


def spot_lag_s(steady: SteadyState, slab: int) -> float:
    """Time in which a spot's excess over its slab follows the beam [s]: the slab's mass over what
    carries the excess away.
    """
    one = steady.heat_model.slabs[slab]
    mass = one.density_kg_m3 * one.heat_capacity_j_kgk * one.thickness_m
    film = steady.films.slab_convection[slab] + steady.films.slab_radiation[slab]
    wave = math.pi / max(one.length_m, one.depth_m)
    sideways = one.conductivity_w_mk * wave * math.tanh(wave * one.thickness_m)
    return mass / (film + sideways)


@dataclass(frozen=True)
class NetworkModes:
    """The network in its own time constants."""

    rates_1_s: Array
    vectors: Array
    scale: Array
    """C^−½ [(K/J)^½]."""

    @classmethod
    def of(cls, matrix: Array, capacity: Array) -> "NetworkModes":
        """Of a network's matrix [W/K] and its capacities [J/K].

        Raises
        ------
        CannotCalculateError
            Where parts are so unlike in mass that rounding would let the network gain heat.
        """
        scale = 1 / np.sqrt(capacity)
        rates, vectors = eigh(
            matrix * scale[:, None] * scale[None, :], driver="evd", check_finite=False
        )
        if not rates[0] > 0:
            raise CannotCalculateError("its parts differ too much in mass to be followed in time")
        return cls(rates, vectors, scale)

    def of_state(self, temps_c: Array) -> Array:
        """The modes of a state of all nodes."""
        return np.asarray(self.vectors.T @ (temps_c / self.scale))

    def to_state(self, modes: Array) -> Array:
        """All nodes [°C] from every mode."""
        return np.asarray(self.scale * (self.vectors @ modes))

    @property
    def slowest_h(self) -> float:
        """The longest time constant [h]."""
        return float(1 / self.rates_1_s[0] / 3600)


@dataclass(frozen=True)
class Stepper:
    """Exact steps of one length, for inputs that are constant within a step."""

    decay: Array
    gain: Array
    """Of the kept modes, by input: the room's temperature first, then each lamp's power."""
    rows: Array
    """Outputs from the kept modes."""
    through: Array
    """Outputs from the inputs, by the modes that settle within a step and by what lamps add
    directly.
    """
    keep: NDArray[np.bool_]
    settled: Array
    """The modes that settle within a step, by input."""
    modes: NetworkModes

    @classmethod
    def of(cls, modes: NetworkModes, inputs: Array, outputs: Array, step_s: float) -> "Stepper":
        """For inputs (nodes × inputs) [W per unit] and outputs (outputs × nodes)."""
        driven = modes.vectors.T @ (modes.scale[:, None] * inputs)
        seen = (outputs * modes.scale) @ modes.vectors
        keep = modes.rates_1_s * step_s < FAST
        slow = modes.rates_1_s[keep]
        gain = (-np.expm1(-slow * step_s) / slow)[:, None] * driven[keep]
        settled = driven[~keep] / modes.rates_1_s[~keep, None]
        return cls(
            np.exp(-slow * step_s),
            gain,
            np.ascontiguousarray(seen[:, keep]),
            seen[:, ~keep] @ settled,
            keep,
            settled,
            modes,
        )

    def begin(self, temps_c: Array) -> Array:
        """The kept modes of a state of all nodes."""
        return self.modes.of_state(temps_c)[self.keep]

    def whole(self, kept: Array, inputs: Array) -> Array:
        """Every mode, from the kept ones and the inputs of the last step."""
        found = np.empty(len(self.keep))
        found[self.keep] = kept
        found[~self.keep] = self.settled @ inputs
        return found


@dataclass(frozen=True)
class WatchedTemperature:
    """A temperature to be followed, and the lag of what lamps add to it directly."""

    name: str
    reading: ModelReading
    lag_s: float = 0.0


@dataclass(frozen=True)
class Control:
    """What holds a lamp: nothing, a thermostat that dims, one that switches, or a fault."""

    set_c: float | Callable[[float], float] | None = None
    """What it holds, or what it holds at an hour of the day [°C]."""
    probe: ModelReading | None = None
    switches: bool = False
    stuck: float | None = None
    """Share of its power that it gives whatever the probe says [1]."""
    probe_in_room: bool = False
    """The probe has fallen out and feels the room."""

    def held_c(self, hour: float) -> float | None:
        """What it holds at an hour of the day [°C]."""
        return self.set_c(hour) if callable(self.set_c) else self.set_c


@dataclass(frozen=True)
class TransientRun:
    """What happened."""

    hours: Array
    """Since the beginning [h], shape (steps,)."""
    values: dict[str, Array]
    """Each watched temperature [°C]."""
    room_c: Array
    powers_w: Array
    """Shape (steps, lamps) [W]."""
    end: Array
    """Every mode at the end, to go on from with steps of any length."""
    step_s: float = 30.0

    def energy_kwh(self) -> float:
        """Drawn by all lamps over the run [kWh]."""
        return float(self.powers_w.sum() * self.step_s / 3.6e6)


@dataclass
class TransientEnclosure:
    """An enclosure that can be run from moment to moment.

    Lamps follow `lit`; thermostats their probes.
    """

    steady: SteadyState
    watches: Sequence[WatchedTemperature]
    capacity: Array = field(init=False)
    modes: NetworkModes = field(init=False)

    def __post_init__(self) -> None:
        self.capacity = capacities(self.steady.heat_model, self.steady.nodes, self.steady.overlaps)
        self.modes = NetworkModes.of(self.steady.network.matrix, self.capacity)

    def _stepper(self, step_s: float, outputs: Array) -> Stepper:
        heat = np.array([landed.heat for landed in self.steady.deposits]).reshape(
            len(self.steady.deposits), self.steady.nodes.count
        )
        return Stepper.of(
            self.modes, np.column_stack([self.steady.network.room, heat.T]), outputs, step_s
        )

    def run(
        self,
        *,
        hours: float,
        room_c: Callable[[float], float],
        lit: Callable[[int, float], bool],
        controls: Sequence[Control],
        start_h: float = 0.0,
        state: Array | None = None,
        step_s: float = 30.0,
    ) -> TransientRun:
        """Run for so many hours.

        Parameters
        ----------
        room_c : callable
            The room's temperature at an hour of the day, which may pass 24 [°C].
        lit : callable
            Whether a lamp's timer has it on at an hour of the day.
        state : array, optional
            Every mode at the beginning, such as an earlier run's end; None: everything at the
            room's temperature.
        """
        lamps = self.steady.heat_model.lamps
        watched = [watch.reading for watch in self.watches]
        probes = [control.probe for control in controls]
        rows = [*watched, *(probe for probe in probes if probe is not None)]
        outputs = np.array([reading.nodes for reading in rows]).reshape(
            len(rows), self.steady.nodes.count
        )
        direct = np.array([reading.lamps for reading in rows]).reshape(len(rows), len(lamps))
        lags = np.array(
            [
                *(watch.lag_s for watch in self.watches),
                *(0.0 for probe in probes if probe is not None),
            ]
        )
        follow = np.where(lags > 0, 1 - np.exp(-step_s / np.maximum(lags, 1e-9)), 1.0)
        stepper = self._stepper(step_s, outputs)
        whole = (
            self.modes.of_state(np.full(self.steady.nodes.count, room_c(start_h)))
            if state is None
            else state
        )
        modes = whole[stepper.keep]
        place: dict[int, int] = {}
        for n, probe in enumerate(probes):
            if probe is not None:
                place[n] = len(watched) + len(place)
        steps = round(hours * 3600 / step_s)
        nominal = np.array([lamp.power_w for lamp in lamps])
        inputs = np.zeros(1 + len(lamps))
        values, powers, rooms = (
            np.empty((steps, len(rows))),
            np.empty((steps, len(lamps))),
            np.empty(steps),
        )
        excess = np.zeros(len(rows))
        felt = stepper.rows @ modes
        on = np.zeros(len(lamps))
        lag = 1 - math.exp(-step_s / PROBE_LAG_S)
        reach = stepper.rows @ stepper.gain + stepper.through
        for t in range(steps):
            hour = start_h + t * step_s / 3600
            inputs[0] = rooms[t] = room_c(hour)
            inputs[1:] = 0.0
            for n, control in enumerate(controls):
                if not lit(n, hour):
                    on[n] = 0.0
                    continue
                share = _share(
                    n,
                    control,
                    hour,
                    place,
                    felt,
                    on,
                    inputs,
                    modes,
                    stepper,
                    reach,
                    direct,
                    nominal,
                )
                inputs[1 + n] = share * nominal[n]
            modes = stepper.decay * modes + stepper.gain @ inputs
            excess += follow * (direct @ inputs[1:] - excess)
            now = stepper.rows @ modes + stepper.through @ inputs + excess
            felt = felt + lag * (now - felt)
            values[t] = now
            powers[t] = inputs[1:]
        names = [watch.name for watch in self.watches]
        told = {name: values[:, n] for n, name in enumerate(names)}
        return TransientRun(
            (np.arange(steps) + 1) * step_s / 3600,
            told,
            rooms,
            powers,
            stepper.whole(modes, inputs),
            step_s,
        )


def _share(
    n: int,
    control: Control,
    hour: float,
    place: dict[int, int],
    felt: Array,
    on: Array,
    inputs: Array,
    modes: Array,
    stepper: Stepper,
    reach: Array,
    direct: Array,
    nominal: Array,
) -> float:
    """The share of its power that a lamp gets now."""
    if control.stuck is not None:
        return control.stuck
    set_c = control.held_c(hour)
    if set_c is None or control.probe is None:
        return 1.0
    row = place[n]
    if control.probe_in_room:
        return 1.0 if inputs[0] < set_c else 0.0
    if control.switches:
        if felt[row] < set_c - HYSTERESIS_K:
            on[n] = 1.0
        elif felt[row] > set_c + HYSTERESIS_K:
            on[n] = 0.0
        return float(on[n])
    # Dimming: the share that brings the probe to its set point by the end of the step, with what
    # the others give.
    without = (
        stepper.rows[row] @ (stepper.decay * modes)
        + reach[row] @ inputs
        + direct[row] @ inputs[1:]
    )
    effect = (reach[row, 1 + n] + direct[row, n]) * nominal[n]
    return float(min(max((set_c - without) / max(effect, 1e-9), 0.0), 1.0))


def rise_times_h(
    hours: Array, values: Array, shares: Sequence[float] = (0.25, 0.5, 0.9)
) -> tuple[float, ...]:
    """When a rising temperature has made these shares of its rise to its last value [h]."""
    rise = (values - values[0]) / (values[-1] - values[0])
    return tuple(float(np.interp(share, np.maximum.accumulate(rise), hours)) for share in shares)
