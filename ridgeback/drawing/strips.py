"""Along the floor: warmth, ultraviolet and the body as three strips of one length."""

from husbandry.findings.zones import Zones, ZoneStretch
from husbandry.quantity import Kind, Units, show
from ridgeback.drawing.animals import extent, side_view
from ridgeback.drawing.primitives import Drawing, Path, Rect, Shape, Text

WIDTH, LEFT = 560.0, 66.0
ROLES = {
    "basking": "strip-basking",
    "warm": "strip-warm",
    "between": "strip-between",
    "cool": "strip-cool",
    "too strong": "strip-over",
    "in range": "strip-sun",
    "weak": "strip-weak",
    "shade": "strip-shade",
}


def strips(zones: Zones, outline: str, nose_to_tail_m: float, units: Units) -> Drawing:
    """The strips, each stretch with its name where it has room for it."""
    scale = (WIDTH - LEFT) / zones.length_m
    parts: list[Shape] = [Text("words-soft", 0, 19, "warmth"), *_strip(zones.warmth, 4, scale)]
    y = 34

    if zones.light:
        parts += [Text("words-soft", 0, y + 15, "UV"), *_strip(zones.light, y, scale)]
        y += 30
    length = nose_to_tail_m * scale
    wide = min(extent(outline) * length, WIDTH - LEFT - 70)
    parts.append(Text("words-soft", 0, y + 20, "body"))
    parts += [Path("animal", d) for d in side_view(outline, LEFT, y + 24, wide / extent(outline))]
    parts.append(
        Text("words-soft", LEFT + wide + 8, y + 20, show(nose_to_tail_m, Kind.LENGTH, units))
    )
    said = "; ".join(
        f"{s.kind} from {show(s.from_m, Kind.LENGTH, units)} to {show(s.to_m, Kind.LENGTH, units)}"
        for s in (*zones.warmth, *zones.light)
    )

    return Drawing(WIDTH, y + 30, tuple(parts), "Along the floor", said, "strips")


def _strip(stretches: tuple[ZoneStretch, ...], y: float, scale: float) -> list[Shape]:
    parts: list[Shape] = []
    for one in stretches:
        left = LEFT + one.from_m * scale
        width = (one.to_m - one.from_m) * scale
        parts.append(Rect(ROLES[one.kind], left, y, width, 22, title=one.kind))
        if width > 7.2 * len(one.kind) + 8:
            role = (
                "words-on-dark" if one.kind in {"basking", "in range", "too strong"} else "words"
            )
            parts.append(Text(role, left + width / 2, y + 16, one.kind, "middle"))
    return parts
