"""Silhouettes of animals of length 1, from the side: snout at 0, tail tip at 1, ground at 0, upwards positive. Drawn by us."""

import math

from ridgeback.drawing.primitives import Place, smooth

# Body outlines as points; legs as short strokes of their own. Eyes and detail would only blur at the size they are drawn.
SKINK: tuple[Place, ...] = (
    (0.000, 0.040), (0.018, 0.058), (0.055, 0.072), (0.095, 0.070), (0.135, 0.062), (0.190, 0.078), (0.280, 0.090), (0.400, 0.092),
    (0.500, 0.080), (0.580, 0.062), (0.680, 0.042), (0.800, 0.024), (0.920, 0.011), (1.000, 0.005), (0.900, 0.003), (0.780, 0.006),
    (0.660, 0.013), (0.560, 0.018), (0.420, 0.014), (0.280, 0.014), (0.170, 0.020), (0.120, 0.028), (0.070, 0.028), (0.022, 0.028),
)  # fmt: skip
SKINK_LEGS: tuple[tuple[Place, ...], ...] = (
    ((0.165, 0.030), (0.150, 0.008), (0.158, 0.000), (0.190, 0.000), (0.198, 0.010), (0.210, 0.030)),
    ((0.505, 0.028), (0.495, 0.008), (0.505, 0.000), (0.540, 0.000), (0.548, 0.010), (0.560, 0.030)),
)
AGAMA: tuple[Place, ...] = (
    (0.000, 0.092), (0.012, 0.108), (0.045, 0.122), (0.085, 0.120), (0.110, 0.104), (0.160, 0.108), (0.240, 0.112), (0.330, 0.098),
    (0.400, 0.078), (0.480, 0.056), (0.620, 0.034), (0.800, 0.016), (1.000, 0.004), (0.800, 0.006), (0.620, 0.014), (0.500, 0.026),
    (0.400, 0.038), (0.300, 0.036), (0.210, 0.042), (0.130, 0.062), (0.090, 0.070), (0.050, 0.078), (0.015, 0.082),
)  # fmt: skip
AGAMA_LEGS: tuple[tuple[Place, ...], ...] = (
    ((0.150, 0.060), (0.128, 0.030), (0.128, 0.004), (0.165, 0.000), (0.168, 0.010), (0.152, 0.034), (0.185, 0.060)),
    ((0.350, 0.055), (0.310, 0.032), (0.330, 0.004), (0.375, 0.000), (0.378, 0.012), (0.350, 0.030), (0.400, 0.058)),
)
GECKO: tuple[Place, ...] = (
    (0.000, 0.052), (0.014, 0.068), (0.045, 0.080), (0.085, 0.086), (0.120, 0.076), (0.165, 0.072), (0.230, 0.084), (0.330, 0.088),
    (0.430, 0.080), (0.500, 0.064), (0.545, 0.052), (0.590, 0.058), (0.660, 0.062), (0.750, 0.050), (0.860, 0.028), (1.000, 0.006),
    (0.860, 0.004), (0.740, 0.010), (0.640, 0.016), (0.560, 0.022), (0.480, 0.026), (0.380, 0.022), (0.260, 0.022), (0.170, 0.034),
    (0.110, 0.044), (0.050, 0.040), (0.014, 0.040),
)  # fmt: skip
GECKO_LEGS: tuple[tuple[Place, ...], ...] = (
    ((0.195, 0.045), (0.165, 0.022), (0.168, 0.002), (0.205, 0.000), (0.206, 0.010), (0.196, 0.024), (0.235, 0.042)),
    ((0.455, 0.048), (0.420, 0.026), (0.430, 0.003), (0.470, 0.000), (0.472, 0.010), (0.455, 0.024), (0.500, 0.046)),
)
FROG: tuple[Place, ...] = (
    (0.000, 0.330), (0.030, 0.400), (0.100, 0.450), (0.150, 0.520), (0.210, 0.540), (0.260, 0.500), (0.340, 0.480), (0.480, 0.430),
    (0.640, 0.350), (0.800, 0.240), (0.920, 0.140), (1.000, 0.060), (0.960, 0.020), (0.820, 0.020), (0.640, 0.050), (0.480, 0.080),
    (0.360, 0.120), (0.240, 0.190), (0.120, 0.240), (0.030, 0.270),
)  # fmt: skip
FROG_LEGS: tuple[tuple[Place, ...], ...] = (
    ((0.300, 0.220), (0.255, 0.130), (0.235, 0.040), (0.160, 0.020), (0.160, 0.000), (0.280, 0.000), (0.310, 0.060), (0.350, 0.140)),
    ((0.900, 0.130), (0.700, 0.230), (0.560, 0.210), (0.540, 0.130), (0.640, 0.060), (0.520, 0.020), (0.520, 0.000), (0.900, 0.000),
     (0.980, 0.050)),
)  # fmt: skip


def _coils(turns: float = 3.0, extent: float = 0.46, sway: float = 0.032) -> tuple[Place, ...]:
    """A limbless body in resting bends: a tapered band along a wave. A body of length 1 takes `extent` of the floor."""
    steps = 60
    upper: list[Place] = []
    lower: list[Place] = []
    for n in range(steps + 1):
        along = n / steps
        x, y = extent * along, 0.018 + sway * (1 - math.cos(2 * math.pi * turns * along)) / 2
        slope = math.atan2(sway * math.pi * turns * math.sin(2 * math.pi * turns * along), extent)
        half = 0.012 * (0.55 + 0.45 * min(1.0, 8 * along)) * (1 - max(0.0, along - 0.55) / 0.5)
        if along < 0.05:
            half += 0.004 * math.sin(math.pi * along / 0.05)
        upper.append((x - half * math.sin(slope), y + half * math.cos(slope)))
        lower.append((x + half * math.sin(slope), y - half * math.cos(slope)))
    return (*upper, *reversed(lower))


SNAKE = _coils()
OUTLINES: dict[str, tuple[tuple[Place, ...], tuple[tuple[Place, ...], ...]]] = {
    "skink": (SKINK, SKINK_LEGS), "agama": (AGAMA, AGAMA_LEGS), "gecko": (GECKO, GECKO_LEGS), "frog": (FROG, FROG_LEGS), "snake": (SNAKE, ()),
}  # fmt: skip


def extent(outline: str) -> float:
    """How much of the floor a body of length 1 takes as it is drawn."""
    return max(x for x, _ in OUTLINES[outline][0])


def tallness(outline: str) -> float:
    """How high a body of length 1 stands as it is drawn."""
    return max(y for _, y in OUTLINES[outline][0])


def side_view(outline: str, left: float, ground: float, length: float, *, facing: int = -1) -> list[str]:
    """Path data of an animal of `length` on the paper, standing on `ground`, its snout at the left (facing −1) or the right (+1)."""
    body, legs = OUTLINES[outline]
    wide = extent(outline)

    def put(points: tuple[Place, ...]) -> list[Place]:
        return [(left + (x if facing < 0 else wide - x) * length, ground - y * length) for x, y in points]

    return [smooth(put(leg), closed=True) for leg in legs] + [smooth(put(body), closed=True)]
