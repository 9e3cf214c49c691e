"""A body as it looks at each of five conditions, by its form.

Drawn by us, after what the words of the core say.
"""

import functools

from django.utils.safestring import SafeString, mark_safe

from husbandry.feeding.condition import FORMS, SCORE_WORDS, Form
from ridgeback.drawing.primitives import (
    Circle,
    Drawing,
    Line,
    Path,
    Place,
    Shape,
    polyline,
    smooth,
)
from ridgeback.drawing.svg import write

WIDTH, HEIGHT = 132.0, 96.0
Stations = tuple[Place, ...]

# A snake in cross-section, right half, substrate at 0: spine, shoulder, widest, belly. A groove
# stands where the shoulder is above the spine.
_SECTIONS: tuple[Stations, ...] = (
    ((0.00, 1.00), (0.09, 0.80), (0.26, 0.44), (0.40, 0.20), (0.34, 0.02)),
    ((0.00, 0.95), (0.14, 0.84), (0.36, 0.54), (0.48, 0.27), (0.38, 0.02)),
    ((0.00, 0.86), (0.24, 0.80), (0.47, 0.58), (0.55, 0.34), (0.40, 0.02)),
    ((0.00, 0.86), (0.30, 0.83), (0.56, 0.62), (0.64, 0.38), (0.48, 0.02)),
    ((0.00, 0.74), (0.28, 0.90), (0.62, 0.72), (0.76, 0.40), (0.58, 0.02)),
)
_SPINE_AT = (0.90, 0.82, 0.70, 0.66, 0.56)
# From above, snout at 0, end of the drawn tail at 1: place along the body and half its width.
_BELLY = (0.075, 0.095, 0.118, 0.145, 0.178)
_TAIL_STORE = (0.028, 0.055, 0.090, 0.125, 0.168)
_ROOT = (0.022, 0.042, 0.062, 0.082, 0.108)
_FLANK = (0.17, 0.22, 0.28, 0.35, 0.44)
_THIGH = (0.035, 0.055, 0.08, 0.10, 0.125)
_LIMB = (0.085, 0.115, 0.145, 0.185, 0.235)


def _above(stations: Stations, *, left: float = 6.0, long: float = WIDTH - 12) -> str:
    middle = HEIGHT / 2
    upper = [(left + x * long, middle - half * long) for x, half in stations]
    lower = [(left + x * long, middle + half * long) for x, half in reversed(stations)]
    return smooth([*upper, *lower], closed=True)


def _legs(
    places: tuple[tuple[float, float], ...],
    reach: float,
    left: float = 6.0,
    long: float = WIDTH - 12,
) -> list[Shape]:
    middle = HEIGHT / 2
    found: list[Shape] = []
    for x, half in places:
        for side in (-1, 1):
            foot = (left + (x + 0.05) * long, middle + side * (half + reach) * long)
            found.append(
                Path(
                    "limb", polyline([(left + x * long, middle + side * half * 0.6 * long), foot])
                )
            )
    return found


def _bones(n: int, x: float, half: float) -> list[Shape]:
    """Hip bones that show, of the thin."""
    if n > 1:
        return []
    left = 6.0
    long = WIDTH - 12
    middle = HEIGHT / 2
    role = "bone" if n == 0 else "bone faint"
    found: list[Shape] = [Line(role, (left + 0.22 * long, middle), (left + x * long, middle))]
    found += [
        Line(
            role,
            (left + (x - 0.03) * long, middle + side * 0.2 * half * long),
            (left + (x + 0.015) * long, middle + side * 0.75 * half * long),
        )
        for side in (-1, 1)
    ]
    return found


def _section(n: int) -> list[Shape]:
    middle = WIDTH / 2
    floor = HEIGHT - 10
    unit = HEIGHT - 22
    right = [(middle + x * unit, floor - y * unit) for x, y in _SECTIONS[n]]
    left = [(middle - x * unit, floor - y * unit) for x, y in reversed(_SECTIONS[n][1:])]
    return [
        Path("flesh", smooth([*right, *left], closed=True)),
        Circle("spine", middle, floor - _SPINE_AT[n] * unit, 5.0),
        Line("axis", (10, floor + 1), (WIDTH - 10, floor + 1)),
    ]


def _tail(n: int) -> list[Shape]:
    belly = _BELLY[n]
    tail = _TAIL_STORE[n]
    stations = (
        (0.0, 0.004),
        (0.04, 0.07),
        (0.11, 0.105),
        (0.18, 0.078),
        (0.22, 0.07),
        (0.29, 0.088),
        (0.40, belly),
        (0.52, 0.8 * belly),
        (0.58, 0.05),
        (0.62, 0.4 * tail + 0.016),
        (0.72, tail),
        (0.84, 0.8 * tail),
        (0.94, 0.35 * tail),
        (1.0, 0.004),
    )
    return [
        *_legs(((0.29, 0.09), (0.53, 0.09)), 0.09),
        Path("flesh", _above(stations)),
        *_bones(n, 0.55, 0.09),
    ]


def _lizard(n: int) -> list[Shape]:
    belly = _BELLY[n]
    root = _ROOT[n]
    stations = (
        (0.0, 0.004),
        (0.04, 0.055),
        (0.11, 0.082),
        (0.17, 0.062),
        (0.21, 0.06 + 0.25 * root),
        (0.28, 0.075),
        (0.38, belly),
        (0.48, 0.85 * belly),
        (0.55, 0.058),
        (0.60, root),
        (0.70, 0.6 * root + 0.008),
        (0.85, 0.3 * root + 0.005),
        (1.0, 0.003),
    )
    return [
        *_legs(((0.28, 0.08), (0.52, 0.08)), 0.1),
        Path("flesh", _above(stations)),
        *_bones(n, 0.54, 0.08),
    ]


def _salamander(n: int) -> list[Shape]:
    belly = 0.95 * _BELLY[n] - 0.008
    root = _ROOT[n]
    stations = (
        (0.0, 0.01),
        (0.05, 0.085),
        (0.11, 0.1),
        (0.17, 0.07),
        (0.24, 0.075),
        (0.36, belly),
        (0.48, 0.92 * belly),
        (0.56, 0.045 + 0.3 * root),
        (0.62, 0.9 * root + 0.008),
        (0.80, 0.5 * root + 0.01),
        (1.0, 0.004),
    )
    return [
        *_legs(((0.25, 0.07), (0.53, 0.07)), 0.08),
        Path("flesh", _above(stations)),
        *_bones(n, 0.53, 0.06),
    ]


def _frog(n: int) -> list[Shape]:
    flank = _FLANK[n]
    thigh = _THIGH[n]
    long = HEIGHT - 6
    left = (WIDTH - HEIGHT) / 2 + 2
    middle = HEIGHT / 2
    stations = (
        (0.0, 0.04),
        (0.06, 0.17),
        (0.16, 0.24),
        (0.27, 0.24),
        (0.36, 0.5 * flank + 0.12),
        (0.55, flank),
        (0.76, 0.8 * flank),
        (0.92, 0.09),
        (0.97, 0.01),
    )
    parts: list[Shape] = []
    for side in (-1, 1):
        knee, hip = (
            (left + 0.55 * long, middle + side * (0.25 + flank * 0.5) * long),
            (left + 0.9 * long, middle + side * 0.08 * long),
        )
        across = thigh * long
        parts.append(
            Path(
                "flesh",
                smooth(
                    [
                        hip,
                        (hip[0] - 0.04 * long, hip[1] + side * across * 1.6),
                        (knee[0] + across, knee[1] + side * across * 0.6),
                        knee,
                        (knee[0] + across * 0.6, knee[1] - side * across),
                    ],
                    closed=True,
                ),
            )
        )
        parts.append(
            Path(
                "limb",
                polyline(
                    [
                        (left + 0.3 * long, middle + side * 0.22 * long),
                        (left + 0.16 * long, middle + side * 0.4 * long),
                    ]
                ),
            )
        )
    parts.append(Path("flesh", _above(stations, left=left, long=long)))
    return _frog_legs(left, long, middle, n, parts)


def _frog_legs(left: float, long: float, middle: float, n: int, parts: list[Shape]) -> list[Shape]:
    """Draw what of a frog stands beside its body."""
    parts += [
        Circle("spine", left + 0.14 * long, middle + side * 0.17 * long, 3.0) for side in (-1, 1)
    ]
    if n < 2:
        role = "bone" if n == 0 else "bone faint"
        hips = [(left + 0.9 * long, middle), (left + 0.66 * long, middle + 0.11 * long)]
        parts += [
            Line(role, hips[0], hips[1]),
            Line(role, hips[0], (hips[1][0], 2 * middle - hips[1][1])),
        ]
        if n == 0:
            parts.append(Line(role, (left + 0.3 * long, middle), (left + 0.7 * long, middle)))
    if n == 4:
        parts += [
            Path(
                "bone",
                smooth(
                    [
                        (left + 0.6 * long, middle + s * 0.36 * long),
                        (left + 0.72 * long, middle + s * 0.3 * long),
                        (left + 0.8 * long, middle + s * 0.2 * long),
                    ]
                ),
            )
            for s in (-1, 1)
        ]
    return parts


def _shell(n: int) -> list[Shape]:
    middle = WIDTH / 2
    floor = HEIGHT - 14
    wide = 52.0
    high = 58.0
    dome = [
        (middle - wide, floor - 14),
        (middle - 0.86 * wide, floor - 0.6 * high),
        (middle - 0.45 * wide, floor - 0.95 * high),
        (middle, floor - high - 4),
    ]
    dome += [(2 * middle - x, y) for x, y in reversed(dome[:-1])]
    parts: list[Shape] = [Path("shell", smooth([*dome, (middle, floor - 9)], closed=True))]
    opening = [
        (middle - 0.84 * wide, floor - 16),
        (middle - 0.5 * wide, floor - 30),
        (middle, floor - 37),
        (middle + 0.5 * wide, floor - 30),
        (middle + 0.84 * wide, floor - 16),
        (middle, floor - 10),
    ]
    parts.append(Path("hollow", smooth(opening, closed=True)))
    limb = _LIMB[n] * wide
    for side in (-1, 1):
        x = middle + side * 0.56 * wide
        parts.append(
            Path(
                "flesh",
                smooth(
                    [
                        (x - limb, floor - 16),
                        (x, floor - 17 - limb * 0.9),
                        (x + limb, floor - 16),
                        (x + 0.6 * limb + 2, floor),
                        (x - 0.6 * limb - 2, floor),
                    ],
                    closed=True,
                ),
            )
        )
        if n >= 3:
            parts.append(
                Circle("flesh", middle + side * 0.3 * wide, floor - 21, 3.0 + 2.6 * (n - 2))
            )
    parts.append(Circle("flesh", middle, floor - 22, 10.0 + 1.1 * (n - 2)))
    parts += [
        Circle("spine", middle + side * 4.5, floor - 24, 1.6 if n else 2.6) for side in (-1, 1)
    ]
    parts.append(Line("axis", (8, floor + 1), (WIDTH - 8, floor + 1)))
    return parts


_FORMS = {
    "snake": _section,
    "tail": _tail,
    "lizard": _lizard,
    "shell": _shell,
    "frog": _frog,
    "salamander": _salamander,
}


def condition(form: Form, score: int) -> Drawing:
    """A body of a form at a score from 1 to 5."""
    parts = tuple(_FORMS[form](score - 1))
    return Drawing(
        WIDTH,
        HEIGHT,
        parts,
        f"{score} of 5, {SCORE_WORDS[score]}",
        FORMS[form].scores[score - 1],
        "condition",
    )


@functools.lru_cache(maxsize=64)
def condition_svg(form: Form, score: int) -> SafeString:
    """The same, written once a process."""
    return mark_safe(write(condition(form, score)))  # our own writer escapes
