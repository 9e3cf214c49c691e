"""An enclosure at a glance: its shape, its substrate, what is in it and its animal, to scale and
without a word.
"""

from husbandry.documents.request import Request
from husbandry.documents.result import BaskingPlace, Occupant
from ridgeback.drawing.animals import extent, side_view, tallness
from ridgeback.drawing.items import bodies_in_order, body_shapes, lid_shapes
from ridgeback.drawing.primitives import Drawing, Line, Path, Rect, Shape, polyline
from ridgeback.drawing.sheet import Paper, View

WIDTH, HEIGHT = 132.0, 84.0
_PAPER = Paper(WIDTH, 4, 4, 6, HEIGHT - 16, narrow=True)


def thumbnail(
    request: Request, occupants: tuple[Occupant, ...], basking: BaskingPlace, name: str
) -> Drawing:
    """The small drawing for lists: every one fits the same frame, so that proportions are seen."""
    inside = request.enclosure.inside_m
    substrate = request.enclosure.substrate
    scale = min((WIDTH - 8) / inside.length, (HEIGHT - 16) / inside.height)
    view = View(_PAPER, (WIDTH - inside.length * scale) / 2, HEIGHT - 4, scale, inside.length)
    left = view.x(0)
    right = view.x(inside.length)
    roof = view.y(inside.height)
    floor = view.floor
    parts: list[Shape] = [Rect("inside", left, roof, right - left, floor - roof)]

    if substrate.depth_m > 0:
        top = view.y(substrate.depth_m)
        parts.append(Rect(f"substrate-{substrate.material}", left, top, right - left, floor - top))

    for item in bodies_in_order(request.items):
        parts += body_shapes(item, view)

    for item in request.items:
        x, y = view.at(item.at_m[0], item.at_m[2])

        if item.is_body or item.is_probe:
            continue
        if item.is_tube:
            half = (item.long_m or 0.5) / 2 * scale
            parts.append(Rect("tube", x - half, y - 2, 2 * half, 4, 2))
        else:
            parts.append(
                Path(
                    "lamp",
                    polyline(
                        [(x - 3, y - 7), (x + 3, y - 7), (x + 6, y), (x - 6, y)], closed=True
                    ),
                )
            )
            parts.append(Line("face", (x - 6, y), (x + 6, y)))

    if occupants:
        largest = max(occupants, key=lambda occupant: occupant.length_m)
        profile = request.profiles[largest.species]
        outline = profile.body.outline
        length = profile.nose_to_tail_m(largest.length_m) * scale
        wide = extent(outline) * length
        place = min(
            max(view.x(basking.x_m) - 0.42 * wide, left + 1), max(left + 1, right - 1 - wide)
        )
        stands = view.y(basking.z_m - profile.body.back_height_bl * largest.length_m)
        if tallness(outline) * length > 2:
            parts += [Path("animal", d) for d in side_view(outline, place, stands, length)]
    parts += lid_shapes(request, view)
    parts.append(
        Path("enclosure", polyline([(left, roof), (left, floor), (right, floor), (right, roof)]))
    )

    return Drawing(WIDTH, HEIGHT, tuple(parts), f"{name}, from the front", kind="thumbnail")
