"""Silhouettes of animals of length 1, from the side: snout at 0, tail tip at 1, ground at 0, upwards positive. Drawn by us."""

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
OUTLINES = {"skink": (SKINK, SKINK_LEGS), "agama": (AGAMA, AGAMA_LEGS)}


def side_view(outline: str, left: float, ground: float, length: float, *, facing: int = -1) -> list[str]:
    """Path data of an animal of `length` on the paper, standing on `ground`, its snout at the left (facing −1) or the right (+1)."""
    body, legs = OUTLINES[outline]

    def put(points: tuple[Place, ...]) -> list[Place]:
        return [(left + (x if facing < 0 else 1 - x) * length, ground - y * length) for x, y in points]

    return [smooth(put(leg), closed=True) for leg in legs] + [smooth(put(body), closed=True)]
