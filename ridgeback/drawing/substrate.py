"""A cut through the bed of an enclosure, to scale: its layers with their depths and mixes."""

from collections.abc import Sequence

from husbandry.enclosure.substrate_layers import LOOSE_MATERIALS, SubstrateLayer
from husbandry.quantity import Kind, Units, show
from ridgeback.drawing.primitives import Circle, Drawing, Line, Rect, Shape, Text

WIDTH, WIDE = 560.0, 210.0
ROLE = {
    "sand": "substrate-sand",
    "gravel": "substrate-tile",
    "expanded_clay": "substrate-tile",
    "leaves": "litter",
    "moss": "plant",
}


def bed_section(
    layers: Sequence[SubstrateLayer], units: Units, most_m: float | None = None
) -> Drawing:
    """The layers, the lowest at the bottom; with a line where the enclosure has no room for more,
    when they pass it.
    """
    depth = sum(layer.depth_m for layer in layers)
    scale = min(150 / depth, 1400.0) if depth else 1.0
    least = 17.0
    heights = [max(layer.depth_m * scale, least) for layer in layers]
    height = sum(heights) + 24
    parts: list[Shape] = []
    top = 10.0
    for layer, tall in zip(reversed(layers), reversed(heights), strict=True):
        main = max(layer.parts, key=lambda name: layer.parts[name])
        parts.append(Rect(ROLE.get(main, "substrate-soil"), 46, top, WIDE, tall))
        if main in {"gravel", "expanded_clay"}:
            parts += [
                Circle(
                    "pebble", 46 + 8 + 13 * n + (n % 3), top + 6 + (n * 7) % max(tall - 10, 1), 2.6
                )
                for n in range(int(WIDE / 13))
            ]
        parts.append(Line("line", (46, top), (46 + WIDE, top)))
        parts.append(
            Text(
                "words",
                40,
                top + tall / 2 + 4,
                show(layer.depth_m, Kind.LENGTH, units, unit=False, digits=1),
                "end",
            )
        )
        parts.append(Text("words", 46 + WIDE + 12, top + tall / 2 + 4, mix_text(layer)))
        top += tall
    parts += [Rect("scale-bar", 40, top, WIDE + 12, 4)]
    if most_m is not None and depth > most_m:
        at = top - most_m / depth * (top - 10.0)
        parts += [
            Line("limit", (30, at), (46 + WIDE + 12, at)),
            Text(
                "words-strong",
                46 + WIDE + 18,
                at - 4,
                f"no deeper than {show(most_m, Kind.LENGTH, units)} in this enclosure",
            ),
        ]
    said = "; ".join(
        f"{show(layer.depth_m, Kind.LENGTH, units, digits=1)} of {mix_text(layer)}"
        for layer in layers
    )
    return Drawing(WIDTH, height, tuple(parts), "The bed, from below", said, "bed")


def mix_text(layer: SubstrateLayer) -> str:
    """A mix in words: its parts by number."""
    if len(layer.parts) == 1:
        return LOOSE_MATERIALS[next(iter(layer.parts))].label
    numbers = " : ".join(f"{part:g}" for part in layer.parts.values())
    return f"{', '.join(name.replace('_', ' ') for name in layer.parts)} {numbers}"
