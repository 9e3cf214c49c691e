"""The humidity of an enclosure through its months: the span of a day's course at the cool end,
against the day's marks, with the room's own beside it.
"""

from husbandry.forecast.moisture_year import MoistureYear
from ridgeback.drawing.primitives import Drawing, Path, Rect, Shape, Text, percent_axis, polyline

WIDTH, HEIGHT = 720.0, 230.0
LEFT, RIGHT, TOP, FOOT, BAR = 44.0, 60.0, 14.0, 30.0, 22.0


def year_chart(seen: MoistureYear, names: tuple[str, ...], title: str, said: str) -> Drawing:
    """A bar for each month; those that leave their marks for hours are filled, the others outlined."""
    bottom = HEIGHT - FOOT
    right = WIDTH - RIGHT

    def x(month: float) -> float:
        return LEFT + (month - 0.5) / 12 * (right - LEFT)

    def y(percent: float) -> float:
        return bottom - percent / 100 * (bottom - TOP)

    parts: list[Shape] = [
        Rect(
            "target",
            LEFT,
            y(seen.day_high_pct),
            right - LEFT,
            y(seen.day_low_pct) - y(seen.day_high_pct),
        )
    ]
    parts += percent_axis(LEFT, right, y)
    for one in seen.months:
        role = "year-off" if one.below_h or one.above_h else "year-on"
        tall = max(y(one.low_pct) - y(one.high_pct), 3.0)
        parts.append(Rect(role, x(one.month) - BAR / 2, y(one.high_pct), BAR, tall, 3))
        parts.append(Text("words-soft", x(one.month), bottom + 19, names[one.month - 1], "middle"))
    parts.append(
        Path("room-line", polyline([(x(one.month), y(one.room_pct)) for one in seen.months]))
    )
    parts.append(Text("words-moist", right + 6, y(seen.months[-1].room_pct) + 4, "room"))
    return Drawing(WIDTH, HEIGHT, tuple(parts), title, said, "day")
