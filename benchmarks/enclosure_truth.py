"""A hidden enclosure by physics of its own, for judging calibration: it shares no law with the model.

- Conduction in stones, substrate and floor: finite volumes on a grid of 4 cm, in layers, sideways too.
- Long waves: radiosity between some seven hundred patches, each seen from each.
- The beam: two lobes from a point somewhere behind the face, reflected on and on by what it strikes.
- Air: 10 cm cells; one loop of circulation from the hot column to either end, vents that draw upwards,
  mixing upwards where it is unstable. Films by Churchill and Chu's and by Lloyd and Moran's laws (from
  memory: heat-transfer textbooks).
- Ultraviolet: a power of the distance and a power of the cosine, each drawn.

What nobody told the model is drawn by a seed, and more widely than it believes: how the watts are
shared, how the beam spreads, what stone, soil and panels let through, contacts, leaks, vents, where
the lamp really hangs.
"""

import functools
import math
import zlib
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.linalg import spsolve

from husbandry.documents.request import Request
from husbandry.enclosure.equipment import MATERIALS
from husbandry.items.furnishings import Slab
from husbandry.items.heaters import HeatMat
from husbandry.items.union import Item
from husbandry.predict.predict import EnclosurePoint

Array = NDArray[np.float64]
FLOOR_M, WALL_M = 0.04, 0.1
"""Sides of the patches of the floor, and of walls, lid and air cells [m]."""
STONE_LAYERS = SOIL_LAYERS = 3
SIGMA, G = 5.670374e-8, 9.81
ROUNDS, NEAR_K = 150, 0.01
"""Rounds of the whole balance at the most, and the change at which it has settled [1, K]."""
MESH_OPEN = 0.65
"""Of mesh that is open [1]."""
STEP = 0.7
"""Of each round's change that is taken [1]."""
UV_AT_M = 0.3
"""Distance at which the drawn ultraviolet lamp is as strong as its class [m]."""
CLASS_UVI = {"t5_6": 1.4, "t5_12": 3.2}
"""Index at that distance of a tube of its class (from memory: meters' readings of new tubes)."""


class Hidden(NamedTuple):
    """What is really so, and written nowhere."""

    beam: float
    diffuse: float
    """Shares of a lamp's watts in its beam and around it; the rest warms the air [1]."""
    beam_deg: float
    halo: float
    """Share of the beam in a wide second lobe [1]."""
    apex_m: float
    """How far behind the face the beam begins [m]."""
    stone_w_mk: float
    soil_w_mk: float
    """Factors on the tables' conductivities [1]."""
    contact_m2k_w: float
    panel: float
    """Factor on the panels' conductivity [1]."""
    outside_m2k_w: float
    light_taken: float
    """Factor on absorptivities [1]."""
    leak_per_h: float
    vents: float
    """Factor on the vents' areas [1]."""
    loop: float
    """Speed of the circulation over that of free fall [1]."""
    upright_w_mk: float
    """Mixing of the air upwards where it is stable [W/mK]."""
    film: float
    """Factor on the films of the air [1]."""
    off_m: tuple[float, float, float]
    """How far the lamp hangs from where it was said [m]."""
    uv: float
    uv_power: float
    uv_cosine: float
    """Strength against the class, powers of distance and cosine [1]."""


def hidden(seed: int, lamp: str) -> Hidden:
    """Draw what is hidden; what belongs to a lamp is the same for the same lamp."""
    draw = np.random.default_rng([seed, 101])
    own = np.random.default_rng([seed, 103, zlib.crc32(lamp.encode())])
    kin = np.random.default_rng([seed, 107])

    def around(generator: np.random.Generator, ln_sd: float) -> float:
        return math.exp(ln_sd * float(np.clip(generator.standard_normal(), -2.2, 2.2)))

    # the class of a bulb is told once, each bulb of it differs a little besides
    beam = min(0.5 * around(kin, 0.22) * around(own, 0.08), 0.78)

    return Hidden(
        beam=beam,
        diffuse=(1 - beam) * float(kin.uniform(0.3, 0.6)),
        beam_deg=float(np.clip(58 * around(kin, 0.25) * around(own, 0.05), 30, 100)),
        halo=float(kin.uniform(0.0, 0.35)),
        apex_m=float(kin.uniform(0.02, 0.09)),
        stone_w_mk=around(draw, 0.25),
        soil_w_mk=around(draw, 0.3),
        contact_m2k_w=0.02 * around(draw, 0.6),
        panel=around(draw, 0.2),
        outside_m2k_w=0.13 * around(draw, 0.2),
        light_taken=around(draw, 0.1),
        leak_per_h=0.6 * around(draw, 0.6),
        vents=around(draw, 0.3),
        loop=0.06 * around(draw, 0.6),
        upright_w_mk=0.4 * around(draw, 0.7),
        film=around(draw, 0.12),
        off_m=(
            float(draw.normal(0, 0.01)),
            float(draw.normal(0, 0.01)),
            float(draw.normal(0, 0.007)),
        ),
        uv=around(draw, 0.3),
        uv_power=float(draw.uniform(1.05, 1.45)),
        uv_cosine=float(draw.uniform(0.7, 1.6)),
    )


@dataclass(frozen=True)
class _Patches:
    """Faces of an enclosure's inside: the floor's first, then front, back, left, right and lid."""

    at_m: Array
    facing: Array
    area_m2: Array
    cell: NDArray[np.int64]
    """The air cell that each faces."""
    side: NDArray[np.str_]


@dataclass(frozen=True)
class _Links:
    """Conductances between nodes, and what is fixed."""

    rows: list[NDArray[np.int64]]
    columns: list[NDArray[np.int64]]
    values: list[Array]
    leaves: list[tuple[NDArray[np.int64], Array]]
    """Nodes from which heat goes to the room, and how easily: kept for the balance [W/K]."""

    def join(self, one: NDArray[np.int64], other: NDArray[np.int64], w_k: Array) -> None:
        """Let heat flow either way [W/K]."""
        for row, column, sign in (
            (one, one, 1.0),
            (other, other, 1.0),
            (one, other, -1.0),
            (other, one, -1.0),
        ):
            self.add(row, column, sign * w_k)

    def leave(self, node: NDArray[np.int64], w_k: Array, source: Array, room_c: float) -> None:
        """Let heat flow to the room."""
        self.add(node, node, w_k)
        self.leaves.append((node, w_k))
        source[node] += w_k * room_c

    def add(self, row: NDArray[np.int64], column: NDArray[np.int64], w_k: Array) -> None:
        """Add to the matrix alone."""
        self.rows.append(row)
        self.columns.append(column)
        self.values.append(w_k)


@dataclass(frozen=True)
class VolumeTruth:
    """An enclosure that is really there, solved for its settled day."""

    request: Request
    seed: int
    room_c: float

    def _lamp_key(self, item: Item) -> str:
        return f"{item.kind} {item.watts}"

    def _hidden(self, item: Item | None = None) -> Hidden:
        return hidden(self.seed, "" if item is None else self._lamp_key(item))

    @functools.cached_property
    def _slab(self) -> Slab | None:
        return next((item for item in self.request.items if isinstance(item, Slab)), None)

    @property
    def _thick_m(self) -> float:
        return 0.0 if self._slab is None else self._slab.size_m[2]

    @functools.cached_property
    def _heaters(self) -> list[Item]:
        return [item for item in self.request.items if item.warms]

    @functools.cached_property
    def _grid(self) -> tuple[Array, Array, NDArray[np.bool_]]:
        """Middles of the floor's patches along length and depth, and where the stone lies."""
        inside = self.request.enclosure.inside_m
        count = max(round(inside.length / FLOOR_M), 8), max(round(inside.depth / FLOOR_M), 6)
        x = (np.arange(count[0]) + 0.5) * inside.length / count[0]
        y = (np.arange(count[1]) + 0.5) * inside.depth / count[1]
        stone = self._slab
        if stone is None:
            return x, y, np.zeros((count[0], count[1]), dtype=bool)
        on_x = np.abs(x - stone.at_m[0]) <= stone.size_m[0] / 2
        on_y = np.abs(y - stone.at_m[1]) <= stone.size_m[1] / 2

        return x, y, on_x[:, None] & on_y[None, :]

    @functools.cached_property
    def _cells(self) -> tuple[int, int]:
        """Air cells along the length and in the height."""
        inside = self.request.enclosure.inside_m
        high = inside.height - self.request.enclosure.substrate.depth_m

        return max(round(inside.length / WALL_M), 4), max(round(high / WALL_M), 3)

    @functools.cached_property
    def _patches(self) -> _Patches:
        inside, depth = self.request.enclosure.inside_m, self.request.enclosure.substrate.depth_m
        x, y, stone = self._grid
        columns, rows = self._cells
        high = inside.height - depth
        at, facing, area, cell, side = [], [], [], [], []

        def column(place: Array) -> NDArray[np.int64]:
            found = (place / inside.length * columns).astype(np.int64)

            return np.asarray(np.minimum(found, columns - 1))

        floor_x, floor_y = (one.ravel() for one in np.meshgrid(x, y, indexing="ij"))
        floor_z = depth + np.where(stone.ravel(), self._thick_m, 0.0)
        at.append(np.stack((floor_x, floor_y, floor_z), axis=1))
        facing.append(np.tile([0.0, 0.0, 1.0], (len(floor_x), 1)))
        area.append(np.full(len(floor_x), inside.length * inside.depth / len(floor_x)))
        cell.append(column(floor_x) * rows)
        side.append(np.full(len(floor_x), "floor"))

        wall_x = (np.arange(columns) + 0.5) * inside.length / columns
        wall_z = depth + (np.arange(rows) + 0.5) * high / rows
        wall_y = (np.arange(max(round(inside.depth / WALL_M), 3)) + 0.5) / max(
            round(inside.depth / WALL_M), 3
        )
        wall_y = wall_y * inside.depth

        for name, along, up, normal in (
            ("front", wall_x, wall_z, (0.0, 1.0, 0.0)),
            ("back", wall_x, wall_z, (0.0, -1.0, 0.0)),
            ("left", wall_y, wall_z, (1.0, 0.0, 0.0)),
            ("right", wall_y, wall_z, (-1.0, 0.0, 0.0)),
            ("lid", wall_x, wall_y, (0.0, 0.0, -1.0)),
        ):
            first, second = (one.ravel() for one in np.meshgrid(along, up, indexing="ij"))
            fixed = {"front": 0.0, "back": inside.depth, "left": 0.0, "right": inside.length}
            if name in {"front", "back"}:
                place = np.stack((first, np.full_like(first, fixed[name]), second), axis=1)
            elif name in {"left", "right"}:
                place = np.stack((np.full_like(first, fixed[name]), first, second), axis=1)
            else:
                place = np.stack((first, second, np.full_like(first, inside.height)), axis=1)
            whole = {
                "front": inside.length * high,
                "back": inside.length * high,
                "left": inside.depth * high,
                "right": inside.depth * high,
                "lid": inside.length * inside.depth,
            }[name]
            level = np.minimum(((place[:, 2] - depth) / high * rows).astype(int), rows - 1)
            at.append(place)
            facing.append(np.tile(normal, (len(first), 1)))
            area.append(np.full(len(first), whole / len(first)))
            cell.append(column(np.clip(place[:, 0], 0, inside.length - 1e-9)) * rows + level)
            side.append(np.full(len(first), name))

        return _Patches(
            np.concatenate(at),
            np.concatenate(facing),
            np.concatenate(area),
            np.concatenate(cell),
            np.concatenate(side),
        )

    @functools.cached_property
    def _sees(self) -> Array:
        """View factors between the patches: by their middles, made whole and reciprocal."""
        patches = self._patches
        apart = patches.at_m[None, :, :] - patches.at_m[:, None, :]
        square = (apart**2).sum(axis=2) + 0.25 * (
            patches.area_m2[None, :] + patches.area_m2[:, None]
        ) / 2
        leaves = np.clip(np.einsum("ijk,ik->ij", apart, patches.facing), 0, None)
        meets = np.clip(-np.einsum("ijk,jk->ij", apart, patches.facing), 0, None)
        both = leaves * meets / square**2 / math.pi
        both *= patches.area_m2[:, None] * patches.area_m2[None, :]
        np.fill_diagonal(both, 0.0)

        for _ in range(60):
            scale = np.sqrt(patches.area_m2 / both.sum(axis=1))
            both *= scale[:, None] * scale[None, :]
        return np.asarray(both / patches.area_m2[:, None])

    # --- what the lamps give ---------------------------------------------------------------------

    def _struck(self, item: Item) -> tuple[Array, Array]:
        """What a lamp's beam and its warm body send to each patch [W/m²]."""
        own, patches = self._hidden(item), self._patches
        base = self._hidden()
        face = np.array(item.at_m) + np.array(base.off_m)
        apex = face + np.array([0.0, 0.0, own.apex_m])
        ray = patches.at_m - apex
        far = np.linalg.norm(ray, axis=1)
        down = np.clip(-ray[:, 2] / far, 0, 1)
        meets = np.clip(-(ray * patches.facing).sum(axis=1) / far, 0, 1)
        angle = np.arccos(down)
        half = math.radians(own.beam_deg) / 2
        lobe = (1 - own.halo) * np.exp(-math.log(2) * (angle / half) ** 2)
        wide = own.halo * np.exp(-math.log(2) * (angle / (1.9 * half)) ** 2) / 1.9**2
        power = item.watts or 0.0
        beam = np.where(patches.at_m[:, 2] < face[2], (lobe + wide) * meets / far**2, 0.0)
        beam *= own.beam * power / (beam * patches.area_m2).sum()

        ray = patches.at_m - face
        far = np.maximum(np.linalg.norm(ray, axis=1), 0.05)
        body = np.clip(-(ray * patches.facing).sum(axis=1) / far, 0, 1) / far**2
        body *= own.diffuse * power / (body * patches.area_m2).sum()

        return beam, body

    def _taken(self) -> Array:
        """Light's share that each patch takes [1]."""
        patches, spec, base = self._patches, self.request.enclosure, self._hidden()
        taken = np.empty(len(patches.area_m2))
        _, _, stone = self._grid
        ground = MATERIALS[spec.substrate.material].absorptivity_light or 0.7
        laid = self._slab
        top = ground if laid is None else MATERIALS[laid.material].absorptivity_light or 0.7
        count = stone.size
        taken[:count] = np.where(stone.ravel(), top, ground)

        for name in ("front", "back", "left", "right", "lid"):
            material = spec.lid.material if name == "lid" else getattr(spec.panels, name)
            known = MATERIALS[material].absorptivity_light
            taken[patches.side == name] = 0.12 if known is None else known
        return np.clip(taken * base.light_taken, 0.05, 0.95)

    def _passes(self) -> Array:
        """Light's share that leaves through each patch: glass [1]."""
        patches, spec = self._patches, self.request.enclosure
        lost = np.zeros(len(patches.area_m2))

        for name in ("front", "back", "left", "right"):
            if MATERIALS[getattr(spec.panels, name)].passes_light:
                lost[patches.side == name] = 0.78
        return lost

    # --- the balance -----------------------------------------------------------------------------

    @functools.cached_property
    def _open_lid(self) -> NDArray[np.bool_]:
        """Patches of the lid that are mesh: in its middle."""
        patches, lid = self._patches, self.request.enclosure.lid
        share = lid.mesh_share if lid.mesh is not None else 0.0
        length = self.request.enclosure.inside_m.length
        near = np.abs(patches.at_m[:, 0] - length / 2) <= share * length / 2

        return np.asarray((patches.side == "lid") & near)

    @functools.cached_property
    def _settled(self) -> tuple[Array, Array, float]:
        """Temperatures of patches and air cells [°C], and heat that comes in less what goes out [W]."""
        patches = self._patches
        faces = len(patches.area_m2)
        columns, rows = self._cells
        ground, below = self._ground(faces)
        total = faces + below + columns * rows
        air = faces + below + np.arange(columns * rows)

        light, warm, into_air = self._heat()
        # through mesh the room is seen between the wires; air goes through it, not along it
        emissive = np.where(self._open_lid, MESH_OPEN, 0.92)
        temps = np.full(total, self.room_c + 4.0)
        lost = 0.0
        solve_light = np.linalg.inv(np.eye(faces) - (1 - emissive)[:, None] * self._sees)

        for _ in range(ROUNDS):
            links = _Links(list(ground.rows), list(ground.columns), list(ground.values), [])
            source = np.zeros(total)
            face_k = temps[:faces] + 273.15
            emitted = emissive * SIGMA * face_k**4
            arrives = self._sees @ (solve_light @ emitted)
            slope = 4 * emissive * SIGMA * face_k**3 * patches.area_m2
            net = (emissive * arrives - emitted) * patches.area_m2 + slope * temps[:faces]
            every = np.arange(faces)
            links.add(every, every, slope)
            source[:faces] += net + light + warm
            self._edges(links, source, temps, faces)
            film = self._film(temps[:faces], temps[air][patches.cell]) * patches.area_m2
            links.join(every, air[patches.cell], film)
            self._moves(links, source, temps[air], air)
            source[air] += into_air
            matrix = coo_matrix(
                (
                    np.concatenate(links.values),
                    (np.concatenate(links.rows), np.concatenate(links.columns)),
                ),
                shape=(total, total),
            ).tocsc()
            new = spsolve(matrix, source)
            change = float(np.abs(new - temps).max())
            lost = sum(
                float((w_k * (new[node] - self.room_c)).sum()) for node, w_k in links.leaves
            )
            temps = temps + STEP * (new - temps)
            if change < NEAR_K:
                break

        given = float(light.sum() + warm.sum() + into_air.sum() + self._mat_w().sum())

        return temps[:faces], temps[air], given - lost

    @property
    def imbalance_w(self) -> float:
        """Heat that comes in less what goes out [W]: nothing, but for what has not settled."""
        return self._settled[2]

    def _heat(self) -> tuple[Array, Array, Array]:
        """What lamps and mats give: to the patches as light and as warmth, and to the air [W]."""
        patches = self._patches
        columns, rows = self._cells
        light = np.zeros(len(patches.area_m2))
        warm = np.zeros(len(patches.area_m2))
        into_air = np.zeros(columns * rows)
        taken, lost = self._taken(), self._passes()
        turned = np.clip(1 - taken - lost, 0, 1)

        for item in self.request.items:
            if isinstance(item, HeatMat) or not item.warms:
                continue
            own = self._hidden(item)
            beam, body = self._struck(item)
            if item.is_tube:  # half of it warms the air above it, half goes round about
                body, beam = body * 0.5 / max(own.diffuse, 1e-9), beam * 0.0
                airs = 0.5 * (item.watts or 0.0)
            else:
                airs = (1 - own.beam - own.diffuse) * (item.watts or 0.0)
            again = np.linalg.solve(
                np.eye(len(turned)) - turned[:, None] * self._sees, turned * beam
            )
            light += taken * (beam + self._sees @ again) * patches.area_m2
            warm += body * patches.area_m2
            self._plume(item, airs, into_air)

        return light, warm, into_air

    def _plume(self, item: Item, watts: float, into_air: Array) -> None:
        """What warms the air goes up from the lamp and spreads under the lid."""
        inside, depth = self.request.enclosure.inside_m, self.request.enclosure.substrate.depth_m
        columns, rows = self._cells
        column = min(int(item.at_m[0] / inside.length * columns), columns - 1)
        high = inside.height - depth
        first = min(int((item.at_m[2] - depth) / high * rows), rows - 1)
        levels = np.arange(max(first - 1, 0), rows)

        for level in levels:
            into_air[column * rows + level] += watts / len(levels)

    def _ground(self, faces: int) -> tuple[_Links, int]:
        """Conduction below the floor's patches down to its underside; how many nodes it has."""
        x, y, stone = self._grid
        spec, base = self.request.enclosure, self._hidden()
        cells = stone.size
        wide, deep = x[1] - x[0], y[1] - y[0]
        area = wide * deep
        soil_w_mk = MATERIALS[spec.substrate.material].conductivity_w_mk * base.soil_w_mk
        laid = self._slab
        made_of = MATERIALS["stone" if laid is None else laid.material]
        stone_w_mk = made_of.conductivity_w_mk * base.stone_w_mk
        thick = np.where(stone.ravel(), self._thick_m, 0.0)
        links = _Links([], [], [], [])
        number = np.arange(cells).reshape(stone.shape)
        surface = np.arange(cells)
        stones = faces + np.arange(cells * STONE_LAYERS).reshape(STONE_LAYERS, cells)
        below = faces + cells * STONE_LAYERS
        soils = below + np.arange(cells * SOIL_LAYERS).reshape(SOIL_LAYERS, cells)

        # where there is no stone its layers are nothing: a link without resistance
        step = np.maximum(thick / STONE_LAYERS, 1e-4)
        through = np.where(stone.ravel(), stone_w_mk, 50.0) / step * area
        links.join(surface, stones[0], 2 * through)

        for n in range(STONE_LAYERS - 1):
            links.join(stones[n], stones[n + 1], through)
        layer = max(spec.substrate.depth_m, 0.002) / SOIL_LAYERS
        contact = np.where(stone.ravel(), base.contact_m2k_w, 1e-4)
        to_soil = area / (contact + step / 2 / np.where(stone.ravel(), stone_w_mk, 50.0))
        links.join(stones[-1], soils[0], 1 / (1 / to_soil + layer / 2 / soil_w_mk / area))

        for n in range(SOIL_LAYERS - 1):
            links.join(soils[n], soils[n + 1], np.full(cells, soil_w_mk / layer * area))

        for rows, depth_m, w_mk, here in (
            (stones, thick / STONE_LAYERS, stone_w_mk, stone),
            (soils, np.full(cells, layer), soil_w_mk, np.ones_like(stone)),
        ):
            for axis, (far, across) in enumerate(((wide, deep), (deep, wide))):
                one = number[:-1] if axis == 0 else number[:, :-1]
                other = number[1:] if axis == 0 else number[:, 1:]
                both = here.ravel()[one.ravel()] & here.ravel()[other.ravel()]
                pair = one.ravel()[both], other.ravel()[both]
                w_k = w_mk * depth_m[pair[0]] * across / far

                for level in rows:
                    links.join(level[pair[0]], level[pair[1]], w_k)

        return links, cells * (STONE_LAYERS + SOIL_LAYERS)

    def _edges(self, links: _Links, source: Array, temps: Array, faces: int) -> None:
        """What goes out through walls, lid and floor."""
        patches, spec, base = self._patches, self.request.enclosure, self._hidden()

        for name in ("front", "back", "left", "right", "lid"):
            here = np.flatnonzero(patches.side == name)
            material = MATERIALS[
                spec.lid.material if name == "lid" else getattr(spec.panels, name)
            ]
            wall = material.thickness_m / (material.conductivity_w_mk * base.panel)
            out = patches.area_m2[here] / (wall + base.outside_m2k_w)
            out = np.where(self._open_lid[here], 1e3, out)
            links.leave(here, out, source, self.room_c)

        cells = self._grid[2].size
        under = faces + cells * (STONE_LAYERS + SOIL_LAYERS - 1) + np.arange(cells)
        bottom = MATERIALS[spec.panels.bottom]
        layer = max(spec.substrate.depth_m, 0.002) / SOIL_LAYERS
        soil = MATERIALS[spec.substrate.material].conductivity_w_mk * base.soil_w_mk
        wall = bottom.thickness_m / (bottom.conductivity_w_mk * base.panel)
        area = float(patches.area_m2[0])
        out_w_k = area / (layer / 2 / soil + wall + 1.3 * base.outside_m2k_w)
        links.leave(under, np.full(cells, out_w_k), source, self.room_c)
        source[under] += self._mat_w()

    def _mat_w(self) -> Array:
        """What mats under the substrate give to the cells over them [W]."""
        x, y, stone = self._grid
        given = np.zeros(stone.shape)

        for item in self.request.items:
            if isinstance(item, HeatMat):
                over = (np.abs(x - item.at_m[0]) <= item.size_m[0] / 2)[:, None] & (
                    np.abs(y - item.at_m[1]) <= item.size_m[1] / 2
                )[None, :]
                given[over] += (item.watts or 0.0) / max(int(over.sum()), 1)
        return given.ravel()

    def _film(self, face_c: Array, air_c: Array) -> Array:
        """Films of the air on each patch [W/m²K]."""
        patches = self._patches
        apart = face_c - air_c
        middle_k = (face_c + air_c) / 2 + 273.15
        conducts, slides = (
            0.0242 + 7.2e-5 * (middle_k - 273.15),
            1.33e-5 + 9.2e-8 * (middle_k - 273.15),
        )
        high = self.request.enclosure.inside_m.height
        long = np.where(patches.side == "floor", 0.12, high)
        rayleigh = G * np.abs(apart) * long**3 / middle_k / slides**2 * 0.71 + 1.0
        upright = (0.825 + 0.387 * rayleigh ** (1 / 6) / (1.193)) ** 2
        rises = 0.54 * rayleigh**0.25
        lies = 0.27 * rayleigh**0.25
        warm_up = np.where(patches.side == "lid", -apart, apart) > 0
        flat = np.where(warm_up, rises, lies)
        nusselt = np.where(np.isin(patches.side, ("floor", "lid")), flat, upright)
        films = np.maximum(self._hidden().film * nusselt * conducts / long, 0.5)

        return np.where(self._open_lid, 1e-6, films)

    def _moves(self, links: _Links, source: Array, air_c: Array, air: NDArray[np.int64]) -> None:
        """Air that circulates, mixes and is changed."""
        inside, base, spec = (
            self.request.enclosure.inside_m,
            self._hidden(),
            self.request.enclosure,
        )
        columns, rows = self._cells
        high = inside.height - spec.substrate.depth_m
        grid = air_c.reshape(columns, rows)
        index = air.reshape(columns, rows)
        mean_k = float(air_c.mean()) + 273.15
        heat = 353.0 / mean_k * 1006.0  # of a cubic metre [J/K]

        flat_m2 = inside.length / columns * inside.depth
        turns = np.clip((grid[:, :-1] - grid[:, 1:]) / 0.5, 0, 1)  # warm air below cold rises
        mixing = (1 + 24 * turns) * base.upright_w_mk * flat_m2 / (high / rows)
        links.join(index[:, :-1].ravel(), index[:, 1:].ravel(), mixing.ravel())

        self._circulate(links, grid, index, heat)

        excess = max(float(air_c.mean()) - self.room_c, 0.05)
        low, top = (base.vents * area / 1e4 for area in (spec.vents.low_cm2, spec.vents.high_cm2))
        drawn = 0.0
        if low > 0 and top > 0:
            both = low * top / math.hypot(low, top)
            drawn = 0.6 * both * math.sqrt(2 * G * spec.vents.rise_m * excess / mean_k)
        volume = inside.length * inside.depth * high
        through = heat * (drawn + base.leak_per_h * volume / 3600) / columns

        for column in index:
            links.add(column, column, np.full(rows, through))
            links.add(column[1:], column[:-1], np.full(rows - 1, -through))
            source[column[0]] += through * self.room_c
            links.leaves.append((column[-1:], np.array([through])))

        if spec.lid.mesh is not None:
            open_m2 = MESH_OPEN * base.vents * spec.lid.mesh_share * inside.length * inside.depth
            swap = 0.055 * (4 * open_m2 / math.pi) ** 1.25 * math.sqrt(G * excess / mean_k)
            tops = index[:, -1]
            links.leave(tops, np.full(columns, heat * swap / columns), source, self.room_c)

    def _circulate(
        self, links: _Links, grid: Array, index: NDArray[np.int64], heat_j_m3k: float
    ) -> None:
        """A loop to either end: from the hot column along the top, down there, and back below."""
        inside, depth = self.request.enclosure.inside_m, self.request.enclosure.substrate.depth_m
        high = inside.height - depth
        columns, rows = grid.shape
        heater = max(self._heaters, key=lambda item: item.watts or 0.0)
        hot = min(int(heater.at_m[0] / inside.length * columns), columns - 1)
        right = np.zeros((columns + 1, rows))  # through each wall of the columns, to the right
        upper = rows // 2
        shares = np.where(
            np.arange(rows) >= upper, 1 / (rows - upper), -1 / upper if upper else 0.0
        )

        for end, begin, stop, sign in (
            (0, 1, hot + 1, -1.0),
            (columns - 1, hot + 1, columns, 1.0),
        ):
            apart = max(float(grid[hot].mean() - grid[end].mean()), 0.05)
            speed = self._hidden().loop * math.sqrt(G * high * apart / (grid.mean() + 273.15))
            flow = heat_j_m3k * speed * inside.depth * high / 2
            right[begin:stop] += sign * flow * shares

        upward = np.cumsum(right[:-1] - right[1:], axis=1)

        for column in range(1, columns):
            for row in range(rows):
                self._carry(links, index[column - 1, row], index[column, row], right[column, row])
        for column in range(columns):
            for row in range(rows - 1):
                self._carry(links, index[column, row], index[column, row + 1], upward[column, row])

    @staticmethod
    def _carry(links: _Links, here: np.int64, there: np.int64, flow_w_k: float) -> None:
        """Air that goes from one cell to the next brings its warmth along; back where it is negative."""
        begin, end = (here, there) if flow_w_k >= 0 else (there, here)
        one, other = np.array([begin]), np.array([end])
        links.add(other, one, np.array([-abs(flow_w_k)]))
        links.add(other, other, np.array([abs(flow_w_k)]))

    # --- what is read of it ----------------------------------------------------------------------

    def surface_c(self, x_m: float, y_m: float) -> float:
        """The face of stone or ground at a place, over a spot of 5 cm [°C]."""
        patches = self._patches
        _, _, stone = self._grid
        cells = stone.size
        away = np.hypot(patches.at_m[:cells, 0] - x_m, patches.at_m[:cells, 1] - y_m)
        weight = np.exp(-0.5 * (away / 0.02) ** 2)
        nearest = int(np.argmin(away))
        weight = np.where(stone.ravel() == stone.ravel()[nearest], weight, 0.0)

        return float((weight * self._settled[0][:cells]).sum() / weight.sum())

    def air_c(self, x_m: float, z_m: float, *, night: bool = False) -> float:
        """Shielded air [°C]."""
        if night:
            return self.room_c
        inside, depth = self.request.enclosure.inside_m, self.request.enclosure.substrate.depth_m
        columns, rows = self._cells
        grid = self._settled[1].reshape(columns, rows)
        along = np.clip(x_m / inside.length * columns - 0.5, 0, columns - 1)
        up = np.clip((z_m - depth) / (inside.height - depth) * rows - 0.5, 0, rows - 1)
        left, low = min(int(along), columns - 2), min(int(up), rows - 2)
        dx, dz = along - left, up - low

        return float(
            grid[left, low] * (1 - dx) * (1 - dz)
            + grid[left + 1, low] * dx * (1 - dz)
            + grid[left, low + 1] * (1 - dx) * dz
            + grid[left + 1, low + 1] * dx * dz
        )

    def uvi(self, point: EnclosurePoint) -> float:
        """The UV index on an upward-looking receiver."""
        base, found = self._hidden(), 0.0

        for item in self.request.items:
            if not item.is_uv:
                continue
            long = item.long_m or 0.0
            along = np.linspace(-long / 2, long / 2, 15) + item.at_m[0]
            dz = max(item.at_m[2] + base.off_m[2] - point.z_m, 0.05)
            away = np.sqrt((along - point.x_m) ** 2 + (item.at_m[1] - point.y_m) ** 2 + dz**2)
            part = (UV_AT_M / away) ** base.uv_power * (dz / away) ** base.uv_cosine
            found += CLASS_UVI[item.kind] * base.uv * float(part.mean())
        return found

    def kappa_c(self, x_m: float, z_m: float) -> float:
        """By how much a probe in the beam reads too high there [K]."""
        lamp = next(item for item in self.request.items if item.warms and not item.is_tube)
        own = self._hidden(lamp)
        dz = max(lamp.at_m[2] + own.apex_m - z_m, 0.05)
        across = math.hypot(x_m - lamp.at_m[0], dz)
        half = math.radians(own.beam_deg) / 2
        angle = math.atan2(abs(x_m - lamp.at_m[0]), dz)
        shape = math.exp(-math.log(2) * (angle / half) ** 2)
        solid = math.pi * math.sin(half) ** 2 / math.log(2)

        return 0.012 * own.beam * (lamp.watts or 0.0) * shape / solid / across**2

    def put(self, request: Request) -> "VolumeTruth":
        """The same room and hidden facts with the enclosure changed."""
        return replace(self, request=request)
