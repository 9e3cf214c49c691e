"""The steps of a build over their days: work, waiting, slack, and the path that decides the last
day.
"""

import datetime as dt

from husbandry.build_plan.steps import Build
from ridgeback.drawing.primitives import Circle, Drawing, Line, Path, Rect, Shape, Text, number

WIDTH, ROW, LEFT, RIGHT, TOP = 900.0, 26.0, 318.0, 30.0, 26.0


def gantt(build: Build, today: dt.date) -> Drawing:
    """One row a step; bars are from its first day to when the next may begin."""
    first = min(step.begin for step in build.steps)
    days = max((build.move_in - first).days, 1) + 1
    height = TOP + ROW * len(build.steps) + 10

    def x(day: dt.date) -> float:
        return LEFT + (day - first).days / days * (WIDTH - LEFT - RIGHT)

    one = (WIDTH - LEFT - RIGHT) / days
    parts: list[Shape] = []
    monday = first + dt.timedelta(days=-first.weekday() % 7)
    each = 7 if days <= 90 else 28
    while monday <= build.move_in:
        parts.append(Line("grid-line", (x(monday), TOP - 6), (x(monday), height - 8)))
        parts.append(Text("words-soft", x(monday) + 3, TOP - 10, f"{monday:%-d %b}"))
        monday += dt.timedelta(days=each)
    for n, step in enumerate(build.steps):
        top = TOP + ROW * n
        parts.append(
            Text(
                "words-strong" if step.critical else "words-soft",
                LEFT - 12,
                top + 17,
                step.task.title,
                "end",
            )
        )
        wide = max((step.ready - step.begin).days * one, one)
        if step.slack_days:
            parts.append(
                Line(
                    "limit",
                    (x(step.begin) + wide, top + 13),
                    (x(step.begin) + wide + step.slack_days * one, top + 13),
                )
            )
        role = "bar-done" if step.done_on else "bar-critical" if step.critical else "bar"
        parts.append(Rect(role, x(step.begin), top + 5, wide, 15, 2))
        if step.task.wait_days:  # the last of it is waiting
            waits = min(step.task.wait_days * one, wide)
            parts.append(Rect("bar-wait", x(step.begin) + wide - waits, top + 5, waits, 15, 2))
        if step.done_on:
            at = x(step.begin) + 7
            parts.append(Path("tick", f"M{number(at - 4)},{number(top + 12)}l3,4l6,-8"))
    if first <= today <= build.move_in:
        parts.append(Line("today", (x(today), TOP - 4), (x(today), height - 8)))
    parts.append(
        Circle(
            "measured", x(build.move_in) + one / 2, TOP + ROW * (len(build.steps) - 1) + 12.5, 5
        )
    )
    said = (
        f"From {first:%-d %B} to {build.move_in:%-d %B %Y}; deciding:"
        f" {', '.join(step.task.title.lower() for step in build.critical)}"
    )
    return Drawing(WIDTH, height, tuple(parts), "Build plan by day", said, "day")
