"""What the heat model is given: an enclosure with its panels, lid, substrate, slabs and heaters in
a room. Plain values, no trade rules.
"""

import math
from dataclasses import dataclass, replace

from husbandry.climate.laws import LAWS, ModelConstants
from husbandry.climate.mesh import mesh_transmission
from husbandry.climate.slab import SPOT_M, HeatedSlab, SlabLayer
from husbandry.climate.strengths import AS_BUILT, Strengths
from husbandry.climate.ventilation import (
    fan_and_stack,
    side_exchange,
    stack_ventilation,
    top_exchange,
)
from husbandry.enclosure.equipment import EMISSIVITY, Heater, Material, MeshType
from husbandry.enclosure.geometry import Interior

CONTACT_M2K_W = 0.02
"""Of a slab laid on loose substrate (common practice, no source) [m²K/W]."""
BASE_FILM_M2K_W = 0.17
"""Film resistance below a floor (ISO 6946, from memory; source: heat 3) [m²K/W]."""
SIDE_FILM_M2K_W = 0.13
"""Film resistance beside a wall (ISO 6946, from memory; source: heat 3) [m²K/W]."""
TOP_FILM_M2K_W = 0.10
"""Outside films of a floor, a wall and a lid [m²K/W]: ISO 6946 (from memory)."""
COVER_M2K_W = 0.12
"""Of a hide that stands on the substrate: still air below its roof, two films and its shell (from
memory: a closed air layer by ISO 6946 is 0.16) [m²K/W].
"""
PATCH_M = 0.30
"""Side of the piece of bare substrate that is mapped under a lamp without a slab (design choice)
[m].
"""
ROUND_FILM_W_M2K = (math.pi - 1) * 11.0
"""What the round of a branch gives away below its upper face: its girth but for the width that the
beam meets, by 5 W/m²K of convection (horizontal cylinder of 4 cm, Morgan 1975, from memory) and 6
of radiation; per width [W/m²K].
"""
Extent = tuple[float, float, float, float]
"""A rectangle on the ground: left, right, front, back [m]."""


@dataclass(frozen=True)
class Panels:
    """What each side is made of."""

    front: Material
    back: Material
    left: Material
    right: Material
    top: Material
    bottom: Material


@dataclass(frozen=True)
class Vents:
    """Openings in the sides, and what leaks besides."""

    low_area_m2: float
    high_area_m2: float
    height_m: float
    leak_per_h: float = 0.5
    fan_m3_s: float = 0.0
    """Air that fans draw through the vents [m³/s]."""


@dataclass(frozen=True)
class Thermostat:
    """Holds a heater's probe at a set point by giving it a share of its power."""

    set_c: float
    probe: str
    """surface, warm_air, cool_air or placed."""
    air_m: float | None = None
    """Height of an air probe above the floor; None: 5 cm above what lies there [m]."""
    at_m: tuple[float, float, float] | None = None
    """Of a placed probe [m]."""


@dataclass(frozen=True)
class HeatSource:
    """A heater in place, pointing down. `z_m` is its face."""

    item_id: str
    heater: Heater
    power_w: float
    x_m: float
    y_m: float
    z_m: float
    above_lid: bool = False
    mesh_open: float = 1.0
    """Share of the beam that the mesh under it passes [1]."""
    beam_deg: float | None = None
    """From its data sheet, when known [°]."""
    thermostat: Thermostat | None = None
    size_m: tuple[float, float] | None = None
    """Of a mat that lies under the substrate: length, depth [m]."""
    length_m: float = 0.0
    """Of a heater that is a tube along the enclosure [m]."""
    strength: float = 1.0
    """Of its beam on its target over that of its class, as readings tell; what is added there is
    taken from what it scatters [1].
    """

    @property
    def ln_sd(self) -> float:
        """Standard deviation of ln(irradiance on the target): less when the data sheet's beam angle
        is known.
        """
        return min(self.heater.beam_sd, 0.20) if self.beam_deg else self.heater.beam_sd


@dataclass(frozen=True)
class HeatModel:
    """Everything that decides the temperatures, at one moment of the day."""

    interior: Interior
    panels: Panels
    mesh_share: float
    """Share of the top that is mesh [1]."""
    mesh: MeshType | None
    substrate: Material
    vents: Vents
    slabs: tuple[HeatedSlab, ...]
    lamps: tuple[HeatSource, ...]
    room_c: float
    strengths: Strengths = AS_BUILT
    laws: ModelConstants = LAWS

    def through_m3_s(self, excess_k: float) -> float:
        """Air that comes in low and leaves high, with what leaks [m³/s]."""
        vents = self.vents
        volume = self.interior.footprint_m2 * self.interior.air_height_m
        flow = stack_ventilation(
            vents.low_area_m2, vents.high_area_m2, vents.height_m, excess_k, self.room_c
        )
        flow = fan_and_stack(flow, vents.fan_m3_s)
        return flow + vents.leak_per_h * volume / 3600 + self.side_m3_s(excess_k)

    def side_m3_s(self, excess_k: float) -> float:
        """Air that passes sides of mesh [m³/s]."""
        open_m2 = self.open_sides_m2
        if open_m2 <= 0:
            return 0.0
        return side_exchange(open_m2, self.interior.air_height_m, excess_k, self.room_c)

    @property
    def open_sides_m2(self) -> float:
        """Open area of the sides that are mesh [m²]."""
        panels = self.panels
        height = self.interior.air_height_m
        wide = self.interior.length_m * (panels.front.open_share + panels.back.open_share)
        deep = self.interior.depth_m * (panels.left.open_share + panels.right.open_share)
        return (wide + deep) * height

    def top_m3_s(self, excess_k: float) -> float:
        """Air that is exchanged through a mesh in the lid [m³/s]."""
        if self.mesh_share <= 0:
            return 0.0
        return top_exchange(
            self.interior.footprint_m2 * self.mesh_share * self.mesh_open, excess_k, self.room_c
        )

    def changes_per_h(self, excess_k: float) -> float:
        """How often an hour its air is renewed when it is that much warmer than the room [1/h]: the
        one figure for heat and for moisture.
        """
        return (
            (self.through_m3_s(excess_k) + self.top_m3_s(excess_k))
            * 3600
            / (self.interior.footprint_m2 * self.interior.air_height_m)
        )

    @property
    def mesh_open(self) -> float:
        """Open share of the mesh itself [1]."""
        return (
            0.0 if self.mesh is None else mesh_transmission(self.mesh.wire_mm, self.mesh.pitch_mm)
        )


def slab_on_ground(
    material: Material,
    *,
    item_id: str,
    middle_m: tuple[float, float],
    size_m: tuple[float, float, float],
    interior: Interior,
    substrate: Material,
    floor: Material,
    raised_m: float = 0.0,
) -> HeatedSlab:
    """A laid slab, one on supports, or one let into the substrate.

    Parameters
    ----------
    size_m : tuple
        Length, depth, thickness [m].
    raised_m : float
        Air under it; below 0 what it is let into the substrate [m].
    """
    free = raised_m > 0.02
    below = (
        ()
        if free
        else (
            SlabLayer(
                substrate.conductivity_w_mk,
                max(interior.substrate_depth_m + min(raised_m, 0.0), 1e-3),
                CONTACT_M2K_W,
            ),
            SlabLayer(floor.conductivity_w_mk, floor.thickness_m),
        )
    )
    return HeatedSlab(
        x_m=middle_m[0],
        y_m=middle_m[1],
        top_m=interior.substrate_depth_m + raised_m + size_m[2],
        length_m=size_m[0],
        depth_m=size_m[1],
        thickness_m=size_m[2],
        conductivity_w_mk=material.conductivity_w_mk,
        density_kg_m3=material.density_kg_m3,
        heat_capacity_j_kgk=material.heat_capacity_j_kgk,
        absorptivity_light=material.absorptivity_light,
        emissivity=EMISSIVITY,
        below=below,
        base_film_w_m2k=7.5 if free else 1 / BASE_FILM_M2K_W,
        item_id=item_id,
    )


def branch(
    material: Material,
    *,
    item_id: str,
    middle_m: tuple[float, float],
    size_m: tuple[float, float, float],
    bottom_m: float,
) -> HeatedSlab:
    """A branch as the body that lies on it meets it: a bar of its length, depth and thickness, with
    air all round.

    Of its round, the upper face takes up the beam; the rest gives heat away like an underside.
    """
    return HeatedSlab(
        x_m=middle_m[0],
        y_m=middle_m[1],
        top_m=bottom_m + size_m[2],
        length_m=size_m[0],
        depth_m=size_m[1],
        thickness_m=size_m[2],
        conductivity_w_mk=material.conductivity_w_mk,
        density_kg_m3=material.density_kg_m3,
        heat_capacity_j_kgk=material.heat_capacity_j_kgk,
        absorptivity_light=material.absorptivity_light,
        emissivity=EMISSIVITY,
        below=(),
        base_film_w_m2k=ROUND_FILM_W_M2K,
        item_id=item_id,
        is_perch=True,
    )


def _extent(x_m: float, y_m: float, length_m: float, depth_m: float) -> Extent:
    return x_m - length_m / 2, x_m + length_m / 2, y_m - depth_m / 2, y_m + depth_m / 2


def _within(rect: Extent, interior: Interior) -> Extent:
    return (
        max(rect[0], 0.0),
        min(rect[1], interior.length_m),
        max(rect[2], 0.0),
        min(rect[3], interior.depth_m),
    )


def _overlap(one: Extent, other: Extent) -> bool:
    left, right, front, back = one
    other_left, other_right, other_front, other_back = other
    along = left < other_right and other_left < right
    across = front < other_back and other_front < back
    return along and across


def _joined(one: Extent, other: Extent) -> Extent:
    return (
        min(one[0], other[0]),
        max(one[1], other[1]),
        min(one[2], other[2]),
        max(one[3], other[3]),
    )


def _area_m2(rect: Extent) -> float:
    return (rect[1] - rect[0]) * (rect[3] - rect[2])


def _bare(rect: Extent, covers: list[Extent]) -> Extent | None:
    """The largest rectangle of a warmed one that no slab covers; None where less than a spot is
    bare.
    """
    pieces = [rect]
    for cover in covers:
        left: list[Extent] = []
        for piece in pieces:
            left += _around(piece, cover) if _overlap(piece, cover) else [piece]
        pieces = left
    wide = [p for p in pieces if p[1] - p[0] >= SPOT_M and p[3] - p[2] >= SPOT_M]
    return max(wide, key=_area_m2, default=None)


def _around(rect: Extent, cover: Extent) -> list[Extent]:
    """What of a rectangle lies left, right, before and behind another one that overlaps it."""
    x1, x2, y1, y2 = rect
    left = (x1, cover[0], y1, y2)
    right = (cover[1], x2, y1, y2)
    front = (x1, x2, y1, cover[2])
    back = (x1, x2, cover[3], y2)
    return [
        piece
        for piece in (left, right, front, back)
        if piece[0] < piece[1] and piece[2] < piece[3]
    ]


def substrate_patches(
    lamps: tuple[HeatSource, ...],
    slabs: tuple[HeatedSlab, ...],
    interior: Interior,
    substrate: Material,
    floor: Material,
    hides: tuple[Extent, ...] = (),
) -> tuple[HeatedSlab, ...]:
    """The bare substrate that a lamp or a mat warms, so that each warm surface within reach is
    predicted.

    A slab under a lamp's middle is that lamp's surface. Substrate beside a slab that covers a mat
    or a
    lamp's spot in part only has a patch of its own, as has a mat that no slab covers. Patches that
    would overlap are joined; none lies under a slab that lies on the ground. What of a mat lies
    under a hide is a patch with a cover.
    """
    half = PATCH_M / 2
    broad = [slab for slab in slabs if not slab.is_perch]
    covers = [_extent(s.x_m, s.y_m, s.length_m, s.depth_m) for s in broad]
    laid = [cover for cover, slab in zip(covers, broad, strict=True) if slab.below]
    warmed: list[tuple[Extent, bool]] = []  # where, and whether any of it comes from above
    for lamp in lamps:
        middle = _extent(lamp.x_m, lamp.y_m, 0.0, 0.0)
        if lamp.size_m is None and (
            lamp.heater.beam_share == 0 or any(_overlap(middle, cover) for cover in covers)
        ):
            continue
        sides = (2 * half, 2 * half) if lamp.size_m is None else lamp.size_m
        rect = _within(_extent(lamp.x_m, lamp.y_m, *sides), interior)
        lit = lamp.size_m is None
        apart = []
        for other, other_lit in warmed:
            if _overlap(rect, other):
                rect = _joined(rect, other)
                lit = lit or other_lit
            else:
                apart.append((other, other_lit))
        warmed = [*apart, (rect, lit)]
    # A raised slab shades the substrate below it, and leaves it bare above a mat.
    under = [piece for rect, lit in warmed if not lit for piece in _common(rect, hides)]
    found = [_bare(rect, covers if lit else [*laid, *under]) for rect, lit in warmed]
    hidden = [_bare(piece, laid) for piece in under]
    return (
        *_patch_slabs(floor, found, interior, substrate),
        *(
            replace(patch, cover_m2k_w=COVER_M2K_W)
            for patch in _patch_slabs(floor, hidden, interior, substrate)
        ),
    )


def _common(rect: Extent, others: tuple[Extent, ...]) -> list[Extent]:
    """What a rectangle shares with others, where that is as large as a spot."""
    shared = [
        (
            max(rect[0], other[0]),
            min(rect[1], other[1]),
            max(rect[2], other[2]),
            min(rect[3], other[3]),
        )
        for other in others
    ]
    return [p for p in shared if p[1] - p[0] >= SPOT_M and p[3] - p[2] >= SPOT_M]


def _patch_slabs(
    floor: Material,
    found: list[tuple[float, float, float, float] | None],
    interior: Interior,
    substrate: Material,
) -> tuple[HeatedSlab, ...]:
    """Lay the bare patches under lamps as slabs of substrate."""
    enclosures = [bare for bare in found if bare is not None]
    top = min(0.03, max(interior.substrate_depth_m, 2e-3))
    rest = max(interior.substrate_depth_m - top, 1e-3)
    return tuple(
        HeatedSlab(
            x_m=(x1 + x2) / 2,
            y_m=(y1 + y2) / 2,
            top_m=interior.substrate_depth_m,
            length_m=x2 - x1,
            depth_m=y2 - y1,
            thickness_m=top,
            conductivity_w_mk=substrate.conductivity_w_mk,
            density_kg_m3=substrate.density_kg_m3,
            heat_capacity_j_kgk=substrate.heat_capacity_j_kgk,
            absorptivity_light=substrate.absorptivity_light,
            emissivity=EMISSIVITY,
            below=(
                SlabLayer(substrate.conductivity_w_mk, rest),
                SlabLayer(floor.conductivity_w_mk, floor.thickness_m),
            ),
            base_film_w_m2k=1 / BASE_FILM_M2K_W,
            item_id="substrate",
            is_substrate=True,
        )
        for x1, x2, y1, y2 in enclosures
    )
