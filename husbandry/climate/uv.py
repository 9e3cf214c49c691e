"""The ultraviolet index in an enclosure: every lamp with its own mesh, reflector and age, added up."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.mesh import oblique_transmission
from husbandry.climate.shadow import ShadowBody, could_be_shaded, seen
from husbandry.climate.strengths import SpotReading
from husbandry.climate.tube import line_factor, line_factor_mesh
from husbandry.derivation import Source
from husbandry.enclosure.equipment import TUBE_DARK_ENDS_M, UvLampClass
from husbandry.methods import Argument, Example, method

Array = NDArray[np.float64]

LN_SD_CLASS = 0.45
"""Standard deviation of ln UVI when only the class of the lamp is known: the classes span x/÷ 1.6
(design choice) [1].
"""
LN_SD_REFLECTOR = 0.20
"""What a reflector adds to the spread of ln UVI (design choice) [ln]."""
LN_SD_MESH = 0.08
"""What a mesh adds to the spread of ln UVI (design choice) [ln]."""
LN_SD_AGE = 0.15
"""What the age of a lamp adds to the spread of ln UVI (design choice) [ln]."""
REFLECTOR_CUT_DEG = 75.0
"""Angle from straight down beyond which a reflector shades (design choice) [°]."""
SHADOW_PARTS = 6
"""Parts of a tube that are seen or hidden as one: with 6 a half-hidden tube is right to a twelfth
of what it gives (design choice).
"""
MIN_DISTANCE_M = 0.10
"""Closer than this nothing is promised: heat, touching, and the law is then a fit only (design
choice) [m].
"""


@dataclass(frozen=True)
class UvSource:
    """One UVB lamp in place.

    A tube lies along x with its axis at the given height; a flood's height is its face.
    """

    lamp: UvLampClass
    x_m: float
    y_m: float
    z_m: float
    length_m: float = 0.0
    """Nominal length of a tube [m]."""
    reflector_gain: float = 1.0
    wire_share: float = 0.0
    """Of the mesh between lamp and animal; 0 for none [1]."""
    age_share: float = 1.0
    """What is left of the strength at 100 h [1]."""
    hours_known: bool = False
    strength: float = 1.0
    """Measured strength over that of the class's middle [1]."""
    item_id: str = ""

    @property
    def lit_length_m(self) -> float:
        """Of a tube, without the dark ends [m]."""
        return max(self.length_m - TUBE_DARK_ENDS_M, 0.05)

    @property
    def k(self) -> float:
        """Strength: UVI·m for tubes, UVI·m² for floods. The same class has the same strength per
        metre of tube.
        """
        lamp = self.lamp
        if lamp.is_tube:
            half = lamp.ref_length_m / 2
            reference = float(line_factor(-half, half, lamp.ref_distance_m))
        else:
            reference = 1 / (lamp.ref_distance_m + lamp.apex_m) ** 2
        return lamp.uvi_mid / reference * self.age_share * self.strength

    @property
    def ln_sd(self) -> float:
        """Standard deviation of ln UVI [1]."""
        parts = [LN_SD_CLASS]
        if self.reflector_gain != 1:
            parts.append(LN_SD_REFLECTOR)
        if self.wire_share:
            parts.append(LN_SD_MESH)
        if not self.hours_known or self.age_share < 1:
            parts.append(LN_SD_AGE)
        return math.hypot(*parts)


def uvi_at(source: UvSource, x_m: Array, y_m: float | Array, z_m: Array) -> Array:
    """UV index of one lamp on horizontal, upward-looking patches [UVI]; 0 at and above the lamp."""
    drop = source.z_m - z_m
    below = drop > 1e-3
    h = np.where(below, drop, 1.0)

    if source.lamp.is_tube:
        half = source.lit_length_m / 2
        sideways = source.y_m - y_m
        x1 = source.x_m - half - x_m
        x2 = source.x_m + half - x_m

        if source.wire_share:
            geometry = line_factor_mesh(x1, x2, h, sideways, source.wire_share)
        else:
            geometry = line_factor(x1, x2, h, sideways)

        if source.reflector_gain != 1:
            cos_psi = h / np.hypot(h, sideways)
            gain = 1 + (source.reflector_gain - 1) * np.square(cos_psi)
            geometry = geometry * np.where(
                cos_psi >= math.cos(math.radians(REFLECTOR_CUT_DEG)), gain, 0.0
            )
    else:
        exponent = math.log(0.5) / math.log(math.cos(math.radians(source.lamp.half_angle_deg)))
        depth = h + source.lamp.apex_m
        dx = x_m - source.x_m
        dy = y_m - source.y_m
        slant2 = np.square(depth) + np.square(dx) + dy * dy
        geometry = (depth / np.sqrt(slant2)) ** (exponent + 1) / slant2

        if source.wire_share:
            geometry = geometry * oblique_transmission(source.wire_share, dx / depth, dy / depth)

    return np.asarray(np.where(below, source.k * geometry, 0.0))


def shaded_uvi(
    source: UvSource, x_m: Array, y_m: float | Array, z_m: Array, blockers: Sequence[ShadowBody]
) -> Array:
    """As `uvi_at`, behind what stands in the way: a tube part by part [UVI]."""

    if not blockers:
        return uvi_at(source, x_m, y_m, z_m)
    total = uvi_at(source, x_m, y_m, z_m)
    low = could_be_shaded(z_m, source.z_m, blockers)

    if not low.any():
        return total
    x, y, z = (np.broadcast_to(values, np.shape(total))[low] for values in (x_m, y_m, z_m))

    if not source.lamp.is_tube:
        total[low] *= seen((x, y, z), (source.x_m, source.y_m, source.z_m), blockers)

        return total
    # Each part's share of what the whole tube gives there, before any mesh: its dimming differs
    # little from part to part.
    length = source.lit_length_m / SHADOW_PARTS
    middles: Array = (
        source.x_m
        + (np.arange(SHADOW_PARTS, dtype=np.float64)[:, None] + 0.5 - SHADOW_PARTS / 2) * length
    )
    height = np.maximum(source.z_m - z, 1e-3)
    sideways = source.y_m - y
    parts = line_factor(middles - length / 2 - x, middles + length / 2 - x, height, sideways)
    hidden = parts * seen((x, y, z), (middles, source.y_m, source.z_m), blockers)
    total[low] *= hidden.sum(axis=0) / np.maximum(parts.sum(axis=0), 1e-30)

    return total


def total_uvi(
    sources: tuple[UvSource, ...],
    x_m: Array,
    y_m: float | Array,
    z_m: Array,
    blockers: Sequence[ShadowBody] = (),
) -> Array:
    """UV index of all lamps together [UVI]: irradiances add."""
    shape = np.broadcast_shapes(np.shape(x_m), np.shape(z_m))
    total = np.zeros(shape)
    for source in sources:
        total = total + shaded_uvi(
            source, np.broadcast_to(x_m, shape), y_m, np.broadcast_to(z_m, shape), blockers
        )
    return np.asarray(total)


@dataclass(frozen=True)
class UvReading:
    """The UV index at one point with its 90 % interval."""

    uvi: float
    ln_sd: float


LN_SD_FIELD = 0.08
"""Of the shape of the field, when the strength was measured at one place and is believed at another
(design choice) [1].
"""


def uvi_with_spread(
    sources: tuple[UvSource, ...],
    x_m: float,
    y_m: float,
    z_m: float,
    covariance: Array | None = None,
    blockers: Sequence[ShadowBody] = (),
    told: SpotReading | None = None,
) -> UvReading:
    """UV index at a point and the spread of its logarithm.

    Without a `covariance` of the logarithms of the lamps' strengths they are independent, so their
    variances add. What a reading `told` of this very spot says more than the strengths do.
    """
    parts = [float(shaded_uvi(s, np.array(x_m), y_m, np.array(z_m), blockers)) for s in sources]
    total = sum(parts)
    if total <= 0:
        return UvReading(0.0, 0.0)
    if covariance is not None:
        weights = np.array(parts) / total
        of_strengths = float(weights @ covariance @ weights)
        variance = of_strengths + LN_SD_FIELD**2
        if told is not None:
            variance = told.variance(of_strengths, variance)
        return UvReading(total, math.sqrt(variance))
    spread = (
        math.hypot(*(part * source.ln_sd for part, source in zip(parts, sources, strict=True)))
        / total
    )
    return UvReading(total, spread)


@dataclass(frozen=True)
class UvCoverage:
    """How the UV index is spread along the enclosure at the animal's back."""

    in_range: float
    """Share of the length inside the target range [1]."""
    shade: float
    """Share of the length under 15 % of the middle of the target range [1]."""
    strongest_uvi: float


SHADE_SHARE = 0.15
"""Shade is under this share of the basking spot's target (design choice, docs/decisions.md) [1]."""


def coverage(
    sources: tuple[UvSource, ...],
    length_m: float,
    y_m: float,
    back_m: float,
    low: float,
    high: float,
    blockers: Sequence[ShadowBody] = (),
) -> UvCoverage:
    """Shares of the enclosure's length in the target range and in shade at back height."""
    cells = 400
    x = (np.arange(cells) + 0.5) * length_m / cells
    uvi = total_uvi(sources, x, y_m, np.full(cells, back_m), blockers)
    return UvCoverage(
        float(np.mean((uvi >= low) & (uvi <= high))),
        float(np.mean(uvi < SHADE_SHARE * (low + high) / 2)),
        float(uvi.max(initial=0.0)),
    )


@method(
    arguments={"hours": Argument("h", 0, 100_000), "t70_h": Argument("h", 200, 100_000)},
    unit="1",
    rule=(
        "Share of the strength at 100 h: 0.7^((t − 100)/(t70 − 100)); 12 % more when new, falling"
        " to 1 at 100 h."
    ),
    source=Source(
        kind="design choice",
        text="exponential ageing through 70 % at t70; burn-in of 10 to 15 % from memory",
    ),
    example=Example({"hours": 4500, "t70_h": 4500}, 0.7, 1e-9, "definition of t70"),
)
def uv_age_share(hours: float, t70_h: float) -> float:
    """What a UVB lamp still gives after that many hours of burning [1]."""
    if hours < 100:
        return 1 + 0.12 * (1 - hours / 100)
    return float(0.7 ** ((hours - 100) / (t70_h - 100)))


@method(
    arguments={
        "hours_run": Argument("h", 0, 100_000),
        "useful_h": Argument("h", 200, 100_000),
        "hours_a_day": Argument("h", 0.1, 24),
    },
    unit="days",
    rule="Hours that are left ÷ hours a day; none where it has burned past its useful time.",
    source=Source(
        kind="common practice", text="a lamp is replaced by its hours, or by a meter before them"
    ),
    example=Example(
        {"hours_run": 1000, "useful_h": 4600, "hours_a_day": 12}, 300.0, 1e-9, "by hand: 3600 / 12"
    ),
)
def lamp_days_left(hours_run: float, useful_h: float, hours_a_day: float) -> float:
    """Days until a lamp is to be replaced [days]."""
    return max(useful_h - hours_run, 0.0) / hours_a_day
