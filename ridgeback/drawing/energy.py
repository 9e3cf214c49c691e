"""Energy of the planned meals beside what is plausible: a band and a diamond on a scale of
doublings.
"""

import math

from husbandry.derivation import Derivation
from ridgeback.drawing.primitives import Drawing, Line, Path, Rect, Shape, Text, polyline

WIDTH, HEIGHT, LEFT, RIGHT, MIDDLE = 460.0, 54.0, 10.0, 450.0, 18.0


def energy(derivation: Derivation) -> Drawing:
    """The band of plausible energy, and the plan's."""
    ends = {item.name: item.value for item in derivation.inputs if item.value is not None}
    low = ends["plausible from"]
    high = ends["plausible to"]
    value = max(derivation.value, 1e-6)
    bottom = math.log2(min(low, value)) - 0.7
    top = math.log2(max(high, value)) + 0.7

    def x(kilojoules: float) -> float:
        return LEFT + (math.log2(kilojoules) - bottom) / (top - bottom) * (RIGHT - LEFT)

    parts: list[Shape] = [
        Line("axis", (LEFT, MIDDLE), (RIGHT, MIDDLE)),
        Rect("target", x(low), MIDDLE - 7, x(high) - x(low), 14),
        Line("target-end", (x(low), MIDDLE - 9), (x(low), MIDDLE + 9)),
        Line("target-end", (x(high), MIDDLE - 9), (x(high), MIDDLE + 9)),
    ]
    at = x(value)
    parts.append(
        Path(
            "diamond",
            polyline(
                [(at, MIDDLE - 8), (at + 8, MIDDLE), (at, MIDDLE + 8), (at - 8, MIDDLE)],
                closed=True,
            ),
        )
    )
    parts += [
        Text("words-soft", x(low), HEIGHT - 8, f"{low:.3g}", "middle"),
        Text(
            "words-soft",
            x(high),
            HEIGHT - 8,
            f"{high:.3g} kJ a day",
            "middle" if x(high) < RIGHT - 60 else "end",
        ),
    ]
    said = f"Planned {value:.3g} kJ a day; plausible {low:.3g} to {high:.3g}."
    return Drawing(WIDTH, HEIGHT, tuple(parts), "Energy of its meals", said, "energy")
