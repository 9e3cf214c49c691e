"""A spectrum on paper: the lamp's line, the sun's beside it, and where skin is burnt, over the
bands of ultraviolet.
"""

from collections.abc import Sequence

from husbandry.climate.spectra import SpectrumFound
from ridgeback.drawing.primitives import Drawing, Line, Path, Rect, Shape, Text, number

WIDTH, HEIGHT = 720.0, 240.0
LEFT, RIGHT, TOP, BOTTOM = 20.0, 700.0, 26.0, 204.0
LOW, HIGH = 250.0, 400.0
TARGETS = ((250.0, 280.0, "UVC"), (280.0, 315.0, "UVB"), (315.0, 400.0, "UVA"))


def _x(nm: float) -> float:
    return LEFT + (nm - LOW) / (HIGH - LOW) * (RIGHT - LEFT)


def chart(found: SpectrumFound, sun: Sequence[tuple[float, float]]) -> Drawing:
    """Each line over its own highest value: shapes are compared, not strengths."""
    parts: list[Shape] = [
        Rect(
            "spectrum-target" if n % 2 else "spectrum-pale",
            _x(low),
            TOP,
            _x(high) - _x(low),
            BOTTOM - TOP,
        )
        for n, (low, high, _) in enumerate(TARGETS)
    ]
    parts += [
        Text("words-soft", (_x(low) + _x(high)) / 2, TOP - 8, words, "middle")
        for low, high, words in TARGETS
    ]
    parts.append(_line("spectrum-sun", sun))
    parts.append(_line("spectrum-lamp", list(zip(found.nm, found.w_m2nm, strict=True))))
    parts.append(Line("axis", (LEFT, BOTTOM), (RIGHT, BOTTOM)))
    for nm in range(250, 401, 10):
        parts.append(Line("tick", (_x(nm), BOTTOM), (_x(nm), BOTTOM + (6 if nm % 50 == 0 else 3))))
        if nm % 50 == 0:
            parts.append(
                Text(
                    "words-soft",
                    _x(nm),
                    BOTTOM + 20,
                    f"{nm} nm" if nm == 250 else str(nm),
                    "middle" if nm > 250 else "start",
                )
            )
    said = (
        f"UV index {found.uvi.value:.2f}; UVB {found.uvb_w_m2 * 1000:.0f} mW/m², UVA"
        f" {found.uva_w_m2 * 1000:.0f} mW/m²."
    )
    return Drawing(
        WIDTH, HEIGHT, tuple(parts), "Spectrum of the lamp and of the sun", said, "spectrum"
    )


def _line(role: str, points: Sequence[tuple[float, float]]) -> Shape:
    inside = [(nm, max(value, 0.0)) for nm, value in points if LOW <= nm <= HIGH]
    top = max((value for _, value in inside), default=1.0) or 1.0
    body = "L".join(
        f"{number(_x(nm))},{number(BOTTOM - value / top * (BOTTOM - TOP - 6))}"
        for nm, value in inside
    )
    return Path(role, f"M{body}")
