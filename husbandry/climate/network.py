"""The network of heat flows in an enclosure: nodes, links and where each watt of a lamp lands.

Air is 12 cells along the length by 4 in height. Each column has an inner and an outer node for
front, back, lid and floor and one radiant
node that stands for the walls' mutual radiation; the ends have a pair each; each slab an upper and
a lower node. All links are reciprocal,
so the matrix is symmetric and positive definite. Method, constants and their sources:
docs/methods/heat.md.
"""

import functools
import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.air import (
    AIR_HEAT_CAPACITY_J_KGK,
    GRAVITY_M_S2,
    STEFAN_BOLTZMANN_W_M2K4,
    ZERO_C_K,
    air_at,
)
from husbandry.climate.beam import beam_of
from husbandry.climate.heat_model import (
    BASE_FILM_M2K_W,
    SIDE_FILM_M2K_W,
    TOP_FILM_M2K_W,
    HeatModel,
    HeatSource,
)
from husbandry.climate.laws import LAWS, ModelConstants
from husbandry.climate.mats import shared_m2, ways_out
from husbandry.climate.slab import CELLS, HeatedSlab
from husbandry.climate.strengths import AS_BUILT
from husbandry.enclosure.equipment import EMISSIVITY, SKY_FREE_EMISSIVITY
from husbandry.enclosure.geometry import Interior
from husbandry.memory import remembered

Array = NDArray[np.float64]
Ints = NDArray[np.intp]

GLASS_ESCAPE = 0.8
"""Share of scattered light that leaves through a clear panel it meets (source: heat 2) [1]."""

DEPOSITS_REMEMBERED = 256
"""Lamps in their enclosures whose watts are known, some twenty kilobytes each (measured: of a plan's
every second is asked for again).
"""

# Groups of links whose common strength is uncertain (docs/methods/heat.md, "Uncertainty").
ENVELOPE, LENGTHWISE, UPRIGHT, FIXED = range(4)


@dataclass(frozen=True)
class NodeIndex:
    """Index of every node."""

    air: Ints
    """Shape (columns, rows)."""
    inner: dict[str, Ints]
    outer: dict[str, Ints]
    star: Ints
    slab_top: Ints
    slab_base: Ints
    count: int

    @property
    def columns(self) -> int:
        """Air cells along the length."""
        return int(self.air.shape[0])

    @property
    def rows(self) -> int:
        """Air cells in the height."""
        return int(self.air.shape[1])


@functools.lru_cache(maxsize=64)
def number_nodes(slabs: int, laws: ModelConstants = LAWS) -> NodeIndex:
    """Lay the nodes out in one vector."""
    columns = laws.columns
    rows = laws.rows
    at = columns * rows
    inner = {}
    outer = {}
    for name, size in (
        ("front", columns),
        ("back", columns),
        ("top", columns),
        ("floor", columns),
        ("left", 1),
        ("right", 1),
    ):
        inner[name] = np.arange(at, at + size)
        outer[name] = np.arange(at + size, at + 2 * size)
        at += 2 * size
    star = np.arange(at, at + columns)
    at += columns
    top = at + 2 * np.arange(slabs)

    return NodeIndex(
        np.arange(columns * rows).reshape(columns, rows),
        inner,
        outer,
        star,
        top,
        top + 1,
        at + 2 * slabs,
    )


@dataclass(frozen=True)
class FilmCoefficients:
    """The temperature-dependent coefficients that the iteration settles."""

    excess_k: float
    """Mean air above the room [K]."""
    spread_k: float
    """Warmest less coolest air [K]."""
    radiation_w_m2k: float
    slab_convection: tuple[float, ...]
    slab_radiation: tuple[float, ...]

    @classmethod
    def first_guess(cls, slabs: int, flux_w_m2: float = 20.0) -> "FilmCoefficients":
        """Where the iteration ends up for an enclosure with that much power per area of its sides,
        within a tenth: it saves a round.

        Fitted to 50 to 150 W in enclosures of 0.9 to 2.4 m (docs/methods/heat.md, "Speed").
        """
        warmth = max(flux_w_m2, 0.5)
        return cls(
            0.28 * warmth,
            0.76 * warmth**0.7,
            5.7 + 0.02 * warmth,
            (4.0 + 0.033 * warmth,) * slabs,
            (6.0 + 0.03 * warmth,) * slabs,
        )


@dataclass(frozen=True)
class _Wiring:
    """Which nodes are linked with which: the same for every enclosure of as many slabs that lie
    alike, whatever its measures and films.
    """

    shapes: tuple[tuple[int, ...], ...]
    """Of each group of links, in the order in which they are made."""
    i: Ints
    j: Ints
    group: Ints
    at: Ints
    """Place of each link in the matrix, laid out in one row."""


class _Links:
    """Conductances of links between nodes, and to the room.

    The first of a kind of enclosure writes down which nodes they join; all later ones only fill in
    how strongly.
    """

    def __init__(self, count: int, wiring: _Wiring | None) -> None:
        self.count = count
        self.wiring = wiring
        self.room = np.zeros(count)
        self.parts: list[tuple[Ints, Ints, int]] = []
        self.g: list[Array] = []

    def add(self, i: Ints, j: Ints, g: Array | float, group: int = FIXED) -> None:
        if self.wiring is None:
            self.parts.append((i, j, group))
            shape = np.broadcast(i, j, g).shape
        else:
            shape = self.wiring.shapes[len(self.g)]
        filled: Array = np.empty(
            shape
        )  # five times faster than broadcast_to for pieces this small
        filled[...] = g
        self.g.append(filled)

    def wired(self) -> _Wiring:
        """Which nodes are linked with which."""
        if self.wiring is not None:
            return self.wiring
        shapes = tuple(g.shape for g in self.g)
        i, j = (
            np.concatenate(
                [
                    np.broadcast_to(part[end], shape).ravel()
                    for part, shape in zip(self.parts, shapes, strict=True)
                ]
            )
            for end in (0, 1)
        )
        group = np.repeat([part[2] for part in self.parts], [math.prod(shape) for shape in shapes])
        return _Wiring(shapes, i, j, group, i * self.count + j)


_WIRINGS: dict[tuple[int, int, int, int | None, tuple[int | None, ...]], _Wiring] = {}
"""By columns, rows, nodes, rows of the plume and in which row of air each slab stands; a few dozen
at the most.
"""


@dataclass(frozen=True)
class Network:
    """The assembled system G T = g_room T_room + heat."""

    matrix: Array
    room: Array
    """Conductance of each node to the room [W/K]; all of it belongs to the envelope."""
    i: Ints
    j: Ints
    g: Array
    group: Ints

    def imbalance(self, temps_c: Array, group: int, room_c: float) -> Array:
        """What a group of links takes out of each node at these temperatures [W]: the derivative of
        the balance by its ln strength.
        """
        chosen = self.group == group
        i = self.i[chosen]
        j = self.j[chosen]
        flow = self.g[chosen] * (temps_c[i] - temps_c[j])
        out: Array = (
            np.zeros(len(temps_c))
            + np.bincount(i, flow, len(temps_c))
            - np.bincount(j, flow, len(temps_c))
        )
        if group == ENVELOPE:
            out = out + self.room * (temps_c - room_c)
        return np.asarray(out)


def overlap(slab: HeatedSlab, columns: int, length_m: float) -> Array:
    """Share of the slab that lies in each of the columns of an enclosure, summing to 1; shape
    (columns,).
    """
    edges = np.arange(columns + 1) * length_m / columns
    low = max(slab.x_m - slab.length_m / 2, 0.0)
    high = min(slab.x_m + slab.length_m / 2, length_m)
    share = np.clip(np.minimum(edges[1:], high) - np.maximum(edges[:-1], low), 0, None)

    return np.asarray(share / share.sum())


def row_of(slab: HeatedSlab, interior: Interior, rows: int) -> int | None:
    """The row of air cells in which a slab with air below it stands; None for one on the ground."""
    if not slab.stands_free:
        return None
    up = (slab.top_m - interior.substrate_depth_m) / interior.air_height_m
    return min(max(int(up * rows), 0), rows - 1)


def assemble(
    heat_model: HeatModel, nodes: NodeIndex, films: FilmCoefficients, overlaps: list[Array]
) -> Network:
    """Build the network at the given films."""
    interior, panels, laws, strengths = (
        heat_model.interior,
        heat_model.panels,
        heat_model.laws,
        heat_model.strengths,
    )
    columns = nodes.columns
    rows = nodes.rows
    height = interior.air_height_m
    dx = interior.length_m / columns
    dz = height / rows
    floor_area = dx * interior.depth_m
    kind = (
        columns,
        rows,
        nodes.count,
        laws.plume_rows,
        (
            *(row_of(slab, interior, rows) for slab in heat_model.slabs),
            -sum(lamp.size_m is not None for lamp in heat_model.lamps),
        ),
    )
    links = _Links(nodes.count, _WIRINGS.get(kind))
    air = nodes.air
    star = nodes.star
    rho_cp = air_at(heat_model.room_c + films.spread_k).density_kg_m3 * AIR_HEAT_CAPACITY_J_KGK
    radiation = films.radiation_w_m2k * SKY_FREE_EMISSIVITY

    # Mixing of the air, and radiation along the enclosure (long duct, 8 r / 3 L (from memory)).
    speed = math.sqrt(GRAVITY_M_S2 / 300 * films.spread_k * height)
    along, up = (
        c * rho_cp * height * speed for c in (laws.mixing_lengthwise, laws.mixing_upright)
    )
    links.add(air[1:], air[:-1], along * interior.depth_m * dz / dx, LENGTHWISE)
    links.add(air[:, 1:], air[:, :-1], up * interior.depth_m * dx / dz, UPRIGHT)
    hydraulic = 2 * interior.depth_m * height / (interior.depth_m + height)
    links.add(star[1:], star[:-1], radiation * 4 / 3 * hydraulic * interior.depth_m * height / dx)

    def panel(
        name: str, area: float, cells: Ints, film: float, stars: Ints, outside: float
    ) -> None:
        material = getattr(panels, name)
        inner = nodes.inner[name]
        outer = nodes.outer[name]
        area *= 1 - material.open_share
        links.add(inner, outer, material.conductivity_w_mk * area / material.thickness_m, ENVELOPE)
        links.add(inner, stars, radiation * area, ENVELOPE)
        links.add(
            np.repeat(inner, cells.shape[1]), cells.ravel(), film * area / cells.shape[1], ENVELOPE
        )
        links.room[outer] += area / outside

    panel("front", dx * height, air, laws.wall_film_w_m2k, star, SIDE_FILM_M2K_W)
    panel("back", dx * height, air, laws.wall_film_w_m2k, star, SIDE_FILM_M2K_W)
    panel(
        "left", interior.depth_m * height, air[:1], laws.wall_film_w_m2k, star[:1], SIDE_FILM_M2K_W
    )
    panel(
        "right",
        interior.depth_m * height,
        air[-1:],
        laws.wall_film_w_m2k,
        star[-1:],
        SIDE_FILM_M2K_W,
    )
    solid = max(1 - heat_model.mesh_share, 1e-4)
    panel("top", floor_area * solid, air[:, -1:], laws.ceiling_film_w_m2k, star, TOP_FILM_M2K_W)

    # Floor: the substrate's free surface above, the floor panel below. Slabs lie on a column of
    # substrate of their own.
    covered = np.zeros(columns)
    for slab, share in zip(heat_model.slabs, overlaps, strict=True):
        if slab.below:
            covered += share * slab.area_m2
    free = np.clip(floor_area - covered, 0.02 * floor_area, None)
    inner = nodes.inner["floor"]
    outer = nodes.outer["floor"]
    half_panel = panels.bottom.thickness_m / panels.bottom.conductivity_w_mk / 2
    substrate = max(interior.substrate_depth_m, 1e-3) / heat_model.substrate.conductivity_w_mk
    links.add(inner, outer, free / (substrate + half_panel), ENVELOPE)
    links.room[outer] += floor_area / (half_panel + BASE_FILM_M2K_W)
    links.add(inner, star, radiation * free)

    # Warm faces feed the whole column (a plume), not the bottom cell alone: else the floor air
    # comes out too hot.
    fed = air if laws.plume_rows is None else air[:, : laws.plume_rows]
    links.add(inner[:, None], fed, laws.floor_film_w_m2k * free[:, None] / fed.shape[1])

    # Air exchange.
    links.room[: columns * rows] += (
        heat_model.through_m3_s(films.excess_k) * rho_cp / (columns * rows)
    )
    if heat_model.mesh_share > 0:
        opening = interior.footprint_m2 * heat_model.mesh_share * heat_model.mesh_open
        links.room[air[:, -1]] += heat_model.top_m3_s(films.excess_k) * rho_cp / columns
        links.room[star] += opening * radiation / columns

    if heat_model.open_sides_m2 > 0:
        links.room[star] += heat_model.open_sides_m2 * radiation / columns

    mats = [lamp for lamp in heat_model.lamps if lamp.size_m is not None]
    for n, (slab, share) in enumerate(zip(heat_model.slabs, overlaps, strict=True)):
        top = nodes.slab_top[n : n + 1]
        base = nodes.slab_base[n : n + 1]
        area = slab.area_m2
        row = row_of(slab, interior, rows)
        plume = fed if row is None else air[:, row:]
        links.add(
            top[:, None], plume, films.slab_convection[n] * area * share[:, None] / plume.shape[1]
        )
        links.add(top, star, films.slab_radiation[n] * area * EMISSIVITY * share)
        links.add(top, base, slab.conductivity_w_mk * area / slab.thickness_m)
        if slab.below:
            bed = (
                sum(
                    layer.contact_m2k_w + layer.thickness_m / layer.conductivity_w_mk
                    for layer in slab.below[:-1]
                )
                + half_panel
            )
            over_mats = 0.0
            for mat in mats:
                shared = shared_m2(slab, mat)
                ways = ways_out(heat_model, slab, mat)
                over_mats += shared
                links.room[base] += shared * ways.up * ways.down / ways.total
                around = shared * ways.up * ways.aside / ways.total
                links.add(base, inner, around * near_mat(nodes, interior, mat))
            links.add(base, outer, max(area - over_mats, 0.02 * area) * share / bed)
        else:
            # Half of what a free underside gives away goes by radiation, half by its air.
            under = slab.base_film_w_m2k / 2 if slab.is_perch else laws.wall_film_w_m2k
            seen = slab.base_film_w_m2k / 2 if slab.is_perch else radiation
            links.add(base, air[:, 0 if row is None else row], under * area * share)
            links.add(base, star, seen * area * share)

    wiring = _WIRINGS[kind] = links.wired()
    g = np.concatenate([part.ravel() for part in links.g])

    # What readings say of this enclosure: all links of a group are stronger or weaker together.
    g *= np.array([strengths.envelope, strengths.lengthwise, strengths.upright, 1.0])[wiring.group]
    links.room *= strengths.envelope
    count = nodes.count
    one_way: Array = np.asarray(
        np.bincount(wiring.at, g, count * count).reshape(count, count), dtype=np.float64
    )
    matrix = one_way + one_way.T
    own = matrix.sum(axis=1) + links.room
    np.negative(matrix, out=matrix)
    np.fill_diagonal(matrix, own)

    return Network(matrix, links.room, wiring.i, wiring.j, g, wiring.group)


@dataclass(frozen=True)
class LampDeposit:
    """Where one watt of a lamp lands."""

    heat: Array
    """Into each node [1]; sums with `lost` to 1."""
    aimed: Array
    """The part that depends on how strong the beam is on its target; sums to 0 [1]."""
    lost: float
    """Straight to the room: through glass, mesh and from the lamp's body above the lid [1]."""
    maps: tuple[Array, ...]
    """Absorbed flux on each slab's cells [1/m²], shape (CELLS, CELLS)."""


def deposit(heat_model: HeatModel, lamp: HeatSource) -> LampDeposit:
    """Account for every watt of a lamp: slabs, substrate, walls, air, and what leaves the
    enclosure.

    It is the same in every room and at every power, so it is found once for them all.
    """
    bare = replace(heat_model, lamps=(), room_c=0.0, strengths=AS_BUILT)

    return _deposit(bare, replace(lamp, power_w=1.0, thermostat=None))


@remembered(DEPOSITS_REMEMBERED)
def _deposit(heat_model: HeatModel, lamp: HeatSource) -> LampDeposit:
    nodes = number_nodes(len(heat_model.slabs), heat_model.laws)
    if lamp.size_m is not None:
        return _laid(heat_model, nodes, lamp, lamp.size_m)
    interior = heat_model.interior
    panels = heat_model.panels
    heater = lamp.heater
    columns = nodes.columns
    rows = nodes.rows
    height = interior.air_height_m
    dx = interior.length_m / columns
    middle = (np.arange(columns) + 0.5) * dx
    beam = beam_of(heater, mesh=lamp.mesh_open, beam_deg=lamp.beam_deg, lobe=heat_model.laws.lobe)
    catch = heat_model.laws.wall_catch
    heat = np.zeros(nodes.count)
    nearby = (
        1 / (1 + np.square((middle - lamp.x_m) / (0.5 * height))) ** 1.5
    )  # where scattered radiation first lands
    nearby /= nearby.sum()
    scattered = 0.0
    maps: list[Array] = []

    # 1. The beam on slabs, then on the substrate that no slab covers.
    caught = 0.0
    for n, slab in enumerate(heat_model.slabs):
        x, y = slab.cells()
        flux = np.zeros((CELLS, CELLS))
        if lamp.z_m > slab.top_m + 1e-3:
            flux = beam.irradiance(
                lamp.z_m - slab.top_m, np.hypot(x[:, None] - lamp.x_m, y[None, :] - lamp.y_m)
            )
        absorbed = slab.absorptivity_light if heater.is_light else slab.emissivity
        hit = float(flux.mean()) * slab.area_m2
        caught += hit
        heat[nodes.slab_top[n]] += absorbed * hit
        scattered += (1 - absorbed) * hit
        maps.append(absorbed * flux)
    if beam.share > 0:
        strips = 12
        dy = interior.depth_m / strips
        across: Array = np.asarray((np.arange(strips) + 0.5) * dy, dtype=np.float64)
        on_substrate: Array = beam.irradiance(
            lamp.z_m - interior.substrate_depth_m,
            np.hypot(middle[:, None] - lamp.x_m, across[None, :] - lamp.y_m),
        )
        for slab in (
            heat_model.slabs
        ):  # shares of cells, so that nothing jumps when a slab moves by a millimetre
            in_x = np.clip(
                np.minimum(middle + dx / 2, slab.x_m + slab.length_m / 2)
                - np.maximum(middle - dx / 2, slab.x_m - slab.length_m / 2),
                0,
                None,
            )
            in_y = np.clip(
                np.minimum(across + dy / 2, slab.y_m + slab.depth_m / 2)
                - np.maximum(across - dy / 2, slab.y_m - slab.depth_m / 2),
                0,
                None,
            )
            on_substrate = on_substrate * (1 - in_x[:, None] / dx * in_y[None, :] / dy)
        onto = on_substrate.sum(axis=1) * dx * dy
        onto *= min(1.0, max(beam.share - caught, 0.0) / max(float(onto.sum()), 1e-12))
        absorbed = heat_model.substrate.absorptivity_light if heater.is_light else EMISSIVITY
        heat[nodes.inner["floor"]] += absorbed * onto
        missed = max(beam.share - caught - float(onto.sum()), 0.0)
        scattered += (1 - absorbed) * float(onto.sum()) + (1 - catch) * missed
        heat[nodes.star] += catch * missed * nearby

    # 2. Scattered light: part leaves by clear panels and mesh, the rest warms the walls.
    areas = {
        "front": interior.length_m * height,
        "back": interior.length_m * height,
        "left": interior.depth_m * height,
        "right": interior.depth_m * height,
        "top": interior.footprint_m2,
    }
    inner_m2 = sum(areas.values()) + interior.footprint_m2
    clear = sum(
        area * (1 - getattr(panels, name).open_share)
        for name, area in areas.items()
        if getattr(panels, name).passes_light and not (name == "top" and heat_model.mesh_share)
    )
    opening = interior.footprint_m2 * heat_model.mesh_share * heat_model.mesh_open
    escape = (
        GLASS_ESCAPE * clear / inner_m2 * heater.is_light
        + (opening + heat_model.open_sides_m2) / inner_m2
    )
    heat[nodes.star] += scattered * (1 - escape) * nearby
    lost = scattered * escape

    # A stronger beam on the target is taken from what the lamp scatters: calibration must not
    # create heat.
    aimed = np.zeros(nodes.count)
    aimed[nodes.slab_top] = heat[nodes.slab_top]
    aimed[nodes.inner["floor"]] = heat[nodes.inner["floor"]]
    aimed[nodes.star] -= float(aimed.sum()) * nearby
    heat += (lamp.strength - 1) * aimed
    aimed *= lamp.strength  # its own derivative by ln(strength)
    maps = [lamp.strength * flux for flux in maps]

    # 3. The lamp's own body.
    stopped = heater.beam_share * (1 - lamp.mesh_open)
    if lamp.above_lid:
        inwards = 0.25 * stopped + 0.4 * lamp.mesh_open * heater.diffuse_share
        heat[nodes.star] += inwards * nearby
        lost += 1 - beam.share - inwards
    else:
        heat[nodes.star] += (heater.diffuse_share + 0.5 * stopped) * nearby
        along = np.linspace(-0.5, 0.5, 9) * lamp.length_m if lamp.length_m else np.zeros(1)
        plume = np.exp(
            -0.5 * np.square((middle[:, None] - lamp.x_m - along) / (0.08 + 0.10 * height))
        ).mean(axis=1)
        dz = height / rows
        lamp_above_substrate = min(lamp.z_m - interior.substrate_depth_m, height - 0.25 * dz)
        above = np.clip(((np.arange(rows) + 1) * dz - lamp_above_substrate) / dz, 0, 1)
        heat[nodes.air] += (
            (heater.convective_share + 0.5 * stopped)
            * (plume / plume.sum())[:, None]
            * (above / above.sum())[None, :]
        )

    return _read_only(LampDeposit(heat, aimed, lost, tuple(maps)))


def _read_only(deposit: LampDeposit) -> LampDeposit:
    """What is remembered cannot be written into."""
    for array in (deposit.heat, deposit.aimed, *deposit.maps):
        array.setflags(write=False)
    return deposit


def _laid(
    heat_model: HeatModel, nodes: NodeIndex, lamp: HeatSource, size_m: tuple[float, float]
) -> LampDeposit:
    """A mat between the floor panel and the substrate: its heat enters where the two meet, and
    finds its own way up and down.
    """
    interior = heat_model.interior
    near = near_mat(nodes, interior, lamp)
    whole = size_m[0] * size_m[1]
    heat = np.zeros(nodes.count)
    lost = 0.0
    bare = 1.0
    for n, slab in enumerate(heat_model.slabs):
        under = min(shared_m2(slab, lamp) / whole, bare)
        if under <= 0:
            continue
        ways = ways_out(heat_model, slab, lamp)
        heat[nodes.slab_base[n]] += under * ways.up / ways.total
        heat[nodes.inner["floor"]] += under * ways.aside / ways.total * near
        lost += under * ways.down / ways.total
        bare -= under
    heat[nodes.outer["floor"]] += max(bare, 0.0) * near  # what no face lies over that is looked at
    none = tuple(np.zeros((CELLS, CELLS)) for _ in heat_model.slabs)

    return _read_only(LampDeposit(heat, np.zeros(nodes.count), lost, none))


def near_mat(nodes: NodeIndex, interior: Interior, mat: HeatSource) -> Array:
    """Share of a mat that lies in each column, summing to 1; shape (columns,)."""
    long_m = mat.size_m[0] if mat.size_m is not None else 0.0
    edges = np.arange(nodes.columns + 1) * interior.length_m / nodes.columns
    low = max(mat.x_m - long_m / 2, 0.0)
    high = min(mat.x_m + long_m / 2, interior.length_m)
    share = np.clip(np.minimum(edges[1:], high) - np.maximum(edges[:-1], low), 0, None)

    return np.asarray(share / share.sum())


def black_radiation(temp_c: float) -> float:
    """4 σ T³ [W/m²K]."""
    return 4 * STEFAN_BOLTZMANN_W_M2K4 * (temp_c + ZERO_C_K) ** 3
