"""A strength that readings told: the line it could lie on before, the bar it lies on now, and the
model's own value as a stroke.
"""

import math

from husbandry.documents.result import LearnedStrength
from husbandry.errors import ImpossibleStateError
from ridgeback.drawing.primitives import Circle, Drawing, Line, Rect

WIDTH, HEIGHT = 150.0, 18.0


def strength(found: LearnedStrength) -> Drawing:
    """On a logarithmic scale about the model's own value, which is in the middle."""
    derivation = found.derivation
    if derivation.low is None or derivation.high is None:
        raise ImpossibleStateError("missing: derivation.low, derivation.high")
    ends = (found.before_low, found.before_high, derivation.low, derivation.high)
    most = 1.08 * max(abs(math.log(end)) for end in ends)

    def x(value: float) -> float:
        return WIDTH / 2 + math.log(value) / most * (WIDTH / 2 - 4)

    y = HEIGHT / 2
    parts = (
        Line("axis", (x(found.before_low), y), (x(found.before_high), y)),
        *(
            Line("ends", (x(end), y - 4), (x(end), y + 4))
            for end in (found.before_low, found.before_high)
        ),
        Rect("target", x(derivation.low), y - 4, x(derivation.high) - x(derivation.low), 8),
        Line("limit", (x(1.0), y - 8), (x(1.0), y + 8)),
        Circle("measured-wrong" if found.far else "measured", x(derivation.value), y, 3.6),
    )
    said = (
        f"{derivation.value:.2f} of the model’s own, {derivation.low:.2f} to {derivation.high:.2f};"
        f" before reading {found.before_low:.2f} to {found.before_high:.2f}"
    )
    return Drawing(WIDTH, HEIGHT, parts, found.name, said, "strength")
