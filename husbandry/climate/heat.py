"""Steady temperatures in a box: solve the network, read the places that matter, and say how far to trust them."""

from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import cho_factor, cho_solve

from husbandry.box.equipment import EMISSIVITY
from husbandry.climate.air import plate_convection, radiation_coefficient
from husbandry.climate.enclosure import Enclosure, HeatLamp
from husbandry.climate.network import (
    COLUMNS,
    ENVELOPE,
    LENGTHWISE,
    ROWS,
    UPRIGHT,
    Deposit,
    Films,
    Network,
    Nodes,
    assemble,
    black_radiation,
    deposit,
    number_nodes,
    overlap,
)
from husbandry.climate.slab import CELLS, SPOT_M, Slab, excess_map, spot_weights
from husbandry.worked import Z90

Array = NDArray[np.float64]

PICARD_ROUNDS = 3
"""Error against convergence at most 0.05 K on the surface at 150 W (a test says so)."""
PRIOR_LN_SD = {ENVELOPE: 0.25, LENGTHWISE: 0.6, UPRIGHT: 0.5}
ROOM_SD_K = 0.5
MODEL_SD_SURFACE_K = 1.5
MODEL_SD_AIR_K = 0.7
THERMOSTAT_SD_K = 0.5


@dataclass(frozen=True)
class Reading:
    """An output as a linear function of the network: node weights, and what each lamp adds by itself [K/W]."""

    nodes: Array
    lamps: Array
    model_sd_k: float
    spot: Array | None = None
    """Of a surface: which cells of its map are the hottest spot, as weights; shape (CELLS, CELLS)."""


@dataclass(frozen=True)
class Spread:
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
class Steady:
    """A solved box."""

    enclosure: Enclosure
    nodes: Nodes
    films: Films
    network: Network
    factor: tuple[Array, bool]
    deposits: tuple[Deposit, ...]
    overlaps: list[Array]
    powers_w: Array
    """Mean electrical power of each lamp, after its thermostat [W]."""
    duties: Array
    temps_c: Array
    _cache: dict[str, Reading] = field(default_factory=dict, compare=False)

    # --- outputs ------------------------------------------------------------------------------------------------------

    def surface(self, slab: int) -> Reading:
        """The hottest spot of a slab."""
        key = f"surface {slab}"
        if key not in self._cache:
            self._cache[key] = _surface_reading(self.enclosure, self.nodes, self.films, self.deposits, self.powers_w, slab)
        return self._cache[key]

    def hottest_slab(self) -> int | None:
        """The slab whose spot is hottest; None when nothing is lit."""
        if not self.enclosure.slabs:
            return None
        return int(np.argmax([self.value(self.surface(n)) for n in range(len(self.enclosure.slabs))]))

    def air(self, x_m: float, z_m: float) -> Reading:
        """Shielded air at a place, `z_m` above the box's floor [m]."""
        return _air_reading(self.enclosure, self.nodes, x_m, z_m, len(self.deposits))

    def value(self, reading: Reading) -> float:
        """An output [°C]."""
        return float(reading.nodes @ self.temps_c + reading.lamps @ self.powers_w)

    def surface_map(self, slab: int) -> Array:
        """Temperatures of a slab's face [°C], shape (CELLS, CELLS); their mean is the network's node."""
        excess = np.tensordot(self.powers_w, _excess(self.enclosure, self.films, self.deposits, slab), axes=1)
        return np.asarray(self.temps_c[self.nodes.slab_top[slab]] + excess)

    def air_field(self) -> tuple[Array, Array, Array]:
        """Air cell middles x, z [m] and temperatures [°C], shapes (COLUMNS,), (ROWS,), (COLUMNS, ROWS)."""
        box = self.enclosure.box
        x = (np.arange(COLUMNS) + 0.5) * box.length_m / COLUMNS
        z = box.ground_depth_m + (np.arange(ROWS) + 0.5) * box.air_height_m / ROWS
        return x, z, self.temps_c[self.nodes.air]

    def energy_residual_w(self) -> float:
        """Heat in less heat out to the room [W]; 0 to rounding."""
        out = float(self.network.room @ (self.temps_c - self.enclosure.room_c))
        given = sum(p * (1 - d.lost) for p, d in zip(self.powers_w, self.deposits, strict=True))
        return float(given - out)

    # --- uncertainty --------------------------------------------------------------------------------------------------

    def spread(self, reading: Reading) -> Spread:
        """An output with its standard deviation: priors of the few uncertain strengths, carried through the network linearly."""
        variance = reading.model_sd_k**2
        controls = [(n, lamp) for n, lamp in enumerate(self.enclosure.lamps) if lamp.thermostat and 0 < self.duties[n] < 1]
        for sd, shift, direct in self._sensitivities:
            variance += (sd * self._respond(reading, shift, direct, controls)) ** 2
        if controls:
            variance += THERMOSTAT_SD_K**2
        return Spread(self.value(reading), float(np.sqrt(variance)))

    @property
    def _sensitivities(self) -> list[tuple[float, Array, Array]]:
        """Per uncertain strength: its prior, the shift of all nodes, and the lamps' own factor."""
        known = self.__dict__.get("_sens")
        if known is None:
            none = np.zeros(len(self.deposits))
            rows = [
                (sd, -self.network.imbalance(self.temps_c, group, self.enclosure.room_c), none)
                for group, sd in PRIOR_LN_SD.items()
            ]
            for n, (lamp, landed) in enumerate(zip(self.enclosure.lamps, self.deposits, strict=True)):
                direct = none.copy()
                direct[n] = self.powers_w[n]
                rows.append((lamp.ln_sd, landed.aimed * self.powers_w[n], direct))
            rows.append((ROOM_SD_K, self.network.room, none))
            shifts = cho_solve(self.factor, np.array([row[1] for row in rows]).T, check_finite=False)
            known = [(sd, shifts[:, n], direct) for n, (sd, _, direct) in enumerate(rows)]
            self.__dict__["_sens"] = known
        return known

    def _respond(self, reading: Reading, shift: Array, direct: Array, controls: list[tuple[int, HeatLamp]]) -> float:
        """Change of an output when a strength moves, with working thermostats holding their probes."""
        change = float(reading.nodes @ shift + reading.lamps @ direct)
        if not controls:
            return change
        probes = [self.probe(n) for n, _ in controls]
        lit = np.array([self._unit_response(n) for n, _ in controls]).T
        gain = np.array([[p.nodes @ lit[:, c] + p.lamps[n] for c, (n, _) in enumerate(controls)] for p in probes])
        drift = np.array([p.nodes @ shift + p.lamps @ direct for p in probes])
        # Two thermostats that hold the same probe cannot be told apart: they share the answer.
        power = np.linalg.lstsq(gain, -drift, rcond=1e-9)[0]
        own = np.array([reading.nodes @ lit[:, c] + reading.lamps[n] for c, (n, _) in enumerate(controls)])
        return change + float(own @ power)

    def _unit_response(self, lamp: int) -> Array:
        return np.asarray(cho_solve(self.factor, self.deposits[lamp].heat, check_finite=False))

    def probe(self, lamp: int) -> Reading:
        """Where a lamp's thermostat measures."""
        return _probe(self.enclosure, self.nodes, self.films, self.deposits, self.powers_w, lamp)


def end_points(enclosure: Enclosure, back_m: float) -> tuple[tuple[float, float], tuple[float, float]]:
    """The two places where end air is taken: one sixth of the length from each end, at the back of an animal standing there (x, z) [m]."""
    box = enclosure.box
    places = []
    for x in (box.length_m / 6, box.length_m * 5 / 6):
        stands = max([s.top_m for s in enclosure.slabs if abs(s.x_m - x) <= s.length_m / 2], default=box.ground_depth_m)
        places.append((x, min(stands + back_m, box.height_m)))
    return places[0], places[1]


def _air_reading(enclosure: Enclosure, nodes: Nodes, x_m: float, z_m: float, lamps: int) -> Reading:
    box = enclosure.box
    fx = float(np.clip(x_m / box.length_m * COLUMNS - 0.5, 0, COLUMNS - 1))
    fz = float(np.clip((z_m - box.ground_depth_m) / box.air_height_m * ROWS - 0.5, 0, ROWS - 1))
    i, k = min(int(fx), COLUMNS - 2), min(int(fz), ROWS - 2)
    a, c = fx - i, fz - k
    weights = np.zeros(nodes.count)
    weights[nodes.air[i : i + 2, k : k + 2]] = np.outer([1 - a, a], [1 - c, c])
    return Reading(weights, np.zeros(lamps), MODEL_SD_AIR_K)


def _excess(enclosure: Enclosure, films: Films, deposits: tuple[Deposit, ...], slab_index: int) -> Array:
    """How far each lamp lifts each point of a slab above its mean, per watt [K/W]; shape (lamps, CELLS, CELLS)."""
    slab = enclosure.slabs[slab_index]
    film = films.slab_convection[slab_index] + films.slab_radiation[slab_index] * EMISSIVITY
    found = np.zeros((len(deposits), CELLS, CELLS))
    for n, landed in enumerate(deposits):
        if landed.maps[slab_index].any():
            found[n] = excess_map(landed.maps[slab_index], slab, film)
    return found


def _surface_reading(
    enclosure: Enclosure, nodes: Nodes, films: Films, deposits: tuple[Deposit, ...], powers_w: Array, slab_index: int
) -> Reading:
    excess = _excess(enclosure, films, deposits, slab_index)
    shown = np.tensordot(powers_w if powers_w.any() else np.ones(len(deposits)), excess, axes=1)
    weights = spot_weights(enclosure.slabs[slab_index], shown, SPOT_M)
    node = np.zeros(nodes.count)
    node[nodes.slab_top[slab_index]] = 1.0
    return Reading(node, np.tensordot(excess, weights, axes=2), MODEL_SD_SURFACE_K, weights)


def _nearest_slab(slabs: tuple[Slab, ...], lamp: HeatLamp) -> int:
    return int(
        np.argmin([max(abs(s.x_m - lamp.x_m) - s.length_m / 2, 0) + max(abs(s.y_m - lamp.y_m) - s.depth_m / 2, 0) for s in slabs])
    )


def _probe(
    enclosure: Enclosure, nodes: Nodes, films: Films, deposits: tuple[Deposit, ...], powers_w: Array, lamp_index: int
) -> Reading:
    lamp = enclosure.lamps[lamp_index]
    assert lamp.thermostat is not None
    if lamp.thermostat.probe == "surface" and enclosure.slabs:
        return _surface_reading(enclosure, nodes, films, deposits, powers_w, _nearest_slab(enclosure.slabs, lamp))
    left, right = end_points(enclosure, 0.05)
    nearer_left = lamp.x_m <= enclosure.box.length_m / 2
    warm, cool = (left, right) if nearer_left else (right, left)
    place = cool if lamp.thermostat.probe == "cool_air" else warm
    if lamp.thermostat.air_m is not None:
        place = place[0], lamp.thermostat.air_m
    return _air_reading(enclosure, nodes, *place, len(deposits))


def _duties(
    enclosure: Enclosure,
    nodes: Nodes,
    films: Films,
    deposits: tuple[Deposit, ...],
    factor: tuple[Array, bool],
    room: Array,
    nominal: Array,
) -> Array:
    """Share of its power that each lamp draws: 1 without a thermostat, else what holds its probe at the set point, clipped to 0..1."""
    duty = np.ones(len(deposits))
    controlled = [n for n, lamp in enumerate(enclosure.lamps) if lamp.thermostat is not None]
    if not controlled:
        return duty
    base = cho_solve(factor, room * enclosure.room_c, check_finite=False)
    lit = np.array([cho_solve(factor, d.heat * p, check_finite=False) for d, p in zip(deposits, nominal, strict=True)])
    probes = [_probe(enclosure, nodes, films, deposits, nominal, n) for n in controlled]
    gain = np.array([[p.nodes @ lit[m] + p.lamps[m] * nominal[m] for m in range(len(deposits))] for p in probes])
    rest = np.array([p.nodes @ base for p in probes])
    for _ in range(40):  # each thermostat answers the others in turn; converges because each lamp warms its own probe most
        before = duty.copy()
        for row, n in enumerate(controlled):
            thermostat = enclosure.lamps[n].thermostat
            assert thermostat is not None
            others = rest[row] + gain[row] @ duty - gain[row, n] * duty[n]
            duty[n] = float(np.clip((thermostat.set_c - others) / max(gain[row, n], 1e-9), 0, 1))
        if np.abs(duty - before).max() < 1e-9:
            break
    return duty


def solve(enclosure: Enclosure, *, rounds: int = PICARD_ROUNDS, start: Films | None = None) -> Steady:
    """Steady temperatures with the heating as given.

    Parameters
    ----------
    enclosure : Enclosure
    rounds : int
        Rounds of the iteration on the temperature-dependent films.
    start : Films
        Films of a similar box, to begin from.
    """
    nodes = number_nodes(len(enclosure.slabs))
    overlaps = [overlap(slab, enclosure.box.length_m / COLUMNS, enclosure.box.length_m) for slab in enclosure.slabs]
    deposits = tuple(deposit(enclosure, nodes, lamp) for lamp in enclosure.lamps)
    nominal = np.array([lamp.power_w for lamp in enclosure.lamps])
    heat = np.array([d.heat for d in deposits]).reshape(len(deposits), nodes.count)
    if start is not None and len(start.slab_convection) == len(enclosure.slabs):
        films = start
    else:
        box = enclosure.box
        sides = 2 * (box.footprint_m2 + (box.length_m + box.depth_m) * box.air_height_m)
        films = Films.first_guess(len(enclosure.slabs), float(nominal.sum()) / sides)
    for round_ in range(rounds):
        network = assemble(enclosure, nodes, films, overlaps)
        factor = cho_factor(network.matrix, check_finite=False)
        duty = _duties(enclosure, nodes, films, deposits, factor, network.room, nominal)
        powers = nominal * duty
        temps = cho_solve(factor, network.room * enclosure.room_c + powers @ heat, check_finite=False)
        if round_ < rounds - 1:
            films = _next_films(enclosure, nodes, films, overlaps, temps)
    return Steady(enclosure, nodes, films, network, factor, deposits, overlaps, powers, duty, temps)


def _next_films(enclosure: Enclosure, nodes: Nodes, films: Films, overlaps: list[Array], temps: Array) -> Films:
    air, star = temps[nodes.air], temps[nodes.star]
    convection, radiation = [], []
    for n, (slab, share) in enumerate(zip(enclosure.slabs, overlaps, strict=True)):
        top = float(temps[nodes.slab_top[n]])
        convection.append(plate_convection(top, float(air.mean(axis=1) @ share), slab.char_length_m))
        radiation.append(radiation_coefficient(top, float(star @ share)))
    return Films(
        excess_k=max(float(air.mean()) - enclosure.room_c, 0.3),
        spread_k=max(0.5 * films.spread_k + 0.5 * float(air.max() - air.min()), 1.0),
        radiation_w_m2k=black_radiation(float(star.mean())),
        slab_convection=tuple(convection),
        slab_radiation=tuple(radiation),
    )


def resolve(known: Steady, lamps: tuple[HeatLamp, ...]) -> Steady:
    """The same box with other lamps, powers or heights at unchanged films: a few hundredths of a full solution's cost.

    Good for searching near the known state (0.6 K on the surface from 100 W to 50 W); what is promised is solved in full.
    """
    enclosure = replace(known.enclosure, lamps=lamps)
    deposits = tuple(
        d if replace(old, power_w=new.power_w, thermostat=new.thermostat) == new else deposit(enclosure, known.nodes, new)
        for old, new, d in zip(known.enclosure.lamps, lamps, known.deposits, strict=True)
    )
    nominal = np.array([lamp.power_w for lamp in lamps])
    duty = _duties(enclosure, known.nodes, known.films, deposits, known.factor, known.network.room, nominal)
    powers = nominal * duty
    heat = sum((p * d.heat for p, d in zip(powers, deposits, strict=True)), known.network.room * enclosure.room_c)
    temps = cho_solve(known.factor, heat, check_finite=False)
    return replace(known, enclosure=enclosure, deposits=deposits, powers_w=powers, duties=duty, temps_c=temps, _cache={})
