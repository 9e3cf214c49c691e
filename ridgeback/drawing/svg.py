"""The one writer of SVG.

On the page roles become classes, so that themes and print decide the look; for export they become
attributes.
"""

import itertools
from collections.abc import Iterable
from functools import singledispatch
from typing import Literal
from xml.sax.saxutils import escape, quoteattr

from ridgeback.drawing.primitives import (
    Circle,
    Drawing,
    Group,
    Line,
    Path,
    Rect,
    Shape,
    Text,
    number,
)

Mode = Literal["page", "export"]

# For export only; the page's own colours are in static/css. One row a role, without colour as the
# only code.
LOOK: dict[str, str] = {
    "inside": 'fill="#fffdf7"',
    "enclosure": 'fill="none" stroke="#23211c" stroke-width="3"',
    "substrate-soil": 'fill="#d8c8a6"',
    "substrate-sand": 'fill="#e6d9b4"',
    "substrate-paper": 'fill="#eeeade"',
    "substrate-tile": 'fill="#c9c3b6"',
    **{
        f"inside substrate-{substrate} plan": f'fill="{fill}" fill-opacity="0.45"'
        for substrate, fill in (
            ("soil", "#d8c8a6"),
            ("sand", "#e6d9b4"),
            ("paper", "#eeeade"),
            ("tile", "#c9c3b6"),
        )
    },
    "face-ring": 'fill="none" stroke="#b0401a" stroke-width="3"',
    "line": 'fill="none" stroke="#23211c" stroke-width="1.5"',
    "thin": 'fill="none" stroke="#6a6355" stroke-width="1"',
    "stone": 'fill="#c9c3b6" stroke="#23211c" stroke-width="1.6"',
    "hide": 'fill="#b98f63" stroke="#23211c" stroke-width="1.6"',
    "branch": 'fill="#a98a62" stroke="#23211c" stroke-width="1.4"',
    "coil": 'fill="none" stroke="#b3371b" stroke-width="1.6"',
    "mat": 'fill="#f3e3b5" stroke="#23211c" stroke-width="1.4"',
    "void": 'fill="#33291d"',
    "water": 'fill="#bcd9dc" stroke="#23211c" stroke-width="1.4"',
    "animal": 'fill="#4a4436" stroke="#fffdf7" stroke-width="1.2"',
    "lamp": 'fill="#f0d9a8" stroke="#23211c" stroke-width="1.6"',
    "face": 'fill="none" stroke="#b0401a" stroke-width="4"',
    "tube": 'fill="#cfc8ee" stroke="#5a4aa0" stroke-width="1.6"',
    "beam": 'fill="#e9b08a" fill-opacity="0.28"',
    "mesh": 'fill="none" stroke="#23211c" stroke-width="3" stroke-dasharray="3 3"',
    "isotherm": 'fill="none" stroke="#b0401a" stroke-width="1.5"',
    "uvi-line": 'fill="none" stroke="#5a4aa0" stroke-width="1.5" stroke-dasharray="7 4"',
    "tag": 'fill="#fffdf7"',
    "tag-heat": 'fill="#b0401a" font-size="12" font-weight="600"',
    "tag-uv": 'fill="#5a4aa0" font-size="12" font-weight="600"',
    "words": 'fill="#23211c" font-size="13"',
    "words-strong": 'fill="#23211c" font-size="13" font-weight="700"',
    "words-soft": 'fill="#6a6355" font-size="12"',
    "gap": 'fill="#f3efe6"',
    "title-block": 'fill="none" stroke="#23211c" stroke-width="1.2"',
    "tube-words": 'fill="#5a4aa0" font-size="11"',
    "plant": 'fill="#a9bd84" stroke="#23211c" stroke-width="1.2"',
    "felt": 'fill="#23211c" stroke="#fffdf7" stroke-width="1"',
    "lux-line": 'fill="none" stroke="#8a6a00" stroke-width="1.3" stroke-dasharray="1.5 4"',
    "tag-lux": 'fill="#6b5200" font-size="12" font-weight="600"',
    "probe": 'fill="#fffdf7" stroke="#23211c" stroke-width="2"',
    "grain": 'fill="none" stroke="#a9946a" stroke-width="1.8" stroke-linecap="round"',
    "pebble": 'fill="#a9946a"',
    "tick": 'fill="none" stroke="#23211c" stroke-width="1.6"',
    "scale-bar": 'fill="#23211c"',
    "axis": 'fill="none" stroke="#9a9a9a" stroke-width="1.4"',
    "target": 'fill="#d2d2d2"',
    "ends": 'fill="none" stroke="#23211c" stroke-width="2"',
    "limit": 'fill="none" stroke="#6a6355" stroke-width="1.4" stroke-dasharray="1 2.5"',
    "whisker": 'fill="none" stroke="#23211c" stroke-width="1.4"',
    "predicted": 'fill="#fffdf7" stroke="#23211c" stroke-width="2"',
    "measured": 'fill="#23211c"',
    "measured-wrong": 'fill="#23211c"',
    "stale": 'fill="none" stroke="#6a6355" stroke-width="1.4"',
    "floor": 'fill="none" stroke="#23211c" stroke-width="1.6" stroke-dasharray="2 2"',
    "thin-axis": 'fill="none" stroke="#9a9a9a" stroke-width="1"',
    "kind-target": 'fill="#e6dfcd"',
    "own-target": 'fill="#c9c8a8"',
    "own-line": 'fill="none" stroke="#4f5a14" stroke-width="2.4"',
    "stage-line": 'fill="none" stroke="#9a8f78" stroke-width="1" stroke-dasharray="2 3"',
    "today": 'fill="none" stroke="#23211c" stroke-width="1.8"',
    "words-today": 'fill="#23211c" font-size="12" font-weight="700"',
    "wanted": 'fill="#dfe3c4"',
    "spread spread-treatment-surface": 'fill="#b0401a" fill-opacity="0.18"',
    "spread spread-treatment-cool-air": 'fill="#2f6f78" fill-opacity="0.18"',
    "treatment-surface": 'fill="none" stroke="#b0401a" stroke-width="2"',
    "treatment-cool-air": 'fill="none" stroke="#2f6f78" stroke-width="2" stroke-dasharray="2 3"',
    "foreseen": 'fill="none" stroke="#23211c" stroke-width="1.4" stroke-dasharray="6 4"',
    "event": 'fill="#23211c"',
    "grid-line": 'fill="none" stroke="#d8d2c4" stroke-width="1"',
    "words-limit": 'fill="#8c1d1d" font-size="12"',
    "words-surface": 'fill="#b0401a" font-size="12" font-weight="600"',
    "words-cool-air": 'fill="#2f6f78" font-size="12" font-weight="600"',
    "fitted": 'fill="none" stroke="#4f5a14" stroke-width="1.6" stroke-dasharray="5 3"',
}


def inner(parts: Iterable[Shape]) -> str:
    """Shapes alone, to be put into a drawing that is on the page already."""
    return "".join(_shape(part, "page") for part in parts)


_ids = itertools.count(1)


def write(drawing: Drawing, mode: Mode = "page") -> str:
    """The drawing as an SVG element, with a title and a description for readers that do not see it."""
    if (
        drawing.kind != "sheet"
    ):  # small ones are remembered and meet in one page: they carry no ids
        return _small(drawing, mode)
    n = next(_ids)  # two drawings in one page must not share ids
    size = (
        ""
        if mode == "page"
        else f' width="{number(drawing.width)}" height="{number(drawing.height)}"'
    )
    look = (
        f' class="drawing drawing-{drawing.kind}"'
        if mode == "page"
        else ' font-family="sans-serif"'
    )
    description = (
        f'<desc id="d{n}-desc">{escape(drawing.description)}</desc>' if drawing.description else ""
    )
    labelled = f"d{n}-title" + (f" d{n}-desc" if drawing.description else "")
    body = "".join(_shape(part, mode) for part in drawing.parts)
    return (
        f'<svg{_namespace(mode)} viewBox="0 0 {number(drawing.width)}'
        f' {number(drawing.height)}"{size}{look} role="img" aria-labelledby="{labelled}"><title'
        f' id="d{n}-title">{escape(drawing.title)}</title>{description}{body}</svg>'
    )


def _namespace(mode: Mode) -> str:
    """What a file needs; in a page the element is known."""
    return "" if mode == "page" else ' xmlns="http://www.w3.org/2000/svg"'


def _small(drawing: Drawing, mode: Mode) -> str:
    size = (
        ""
        if mode == "page"
        else f' width="{number(drawing.width)}" height="{number(drawing.height)}"'
    )
    look = (
        f' class="drawing drawing-{drawing.kind}"'
        if mode == "page"
        else ' font-family="sans-serif"'
    )
    spoken = f"{drawing.title}: {drawing.description}" if drawing.description else drawing.title
    body = "".join(_shape(part, mode) for part in drawing.parts)
    return (
        f'<svg{_namespace(mode)} viewBox="0 0 {number(drawing.width)}'
        f' {number(drawing.height)}"{size}{look} role="img"'
        f" aria-label={quoteattr(spoken)}>{body}</svg>"
    )


def _look(shape: Shape, mode: Mode) -> str:
    return f' class="{shape.role}"' if mode == "page" else " " + LOOK.get(shape.role, "")


def _end(tag: str, shape: Shape) -> str:
    return f"><title>{escape(shape.title)}</title></{tag}>" if shape.title else "/>"


@singledispatch
def _shape(shape: Shape, mode: Mode) -> str:
    raise TypeError(f"no way to draw {type(shape).__name__}")


@_shape.register
def _(shape: Line, mode: Mode) -> str:
    (x1, y1) = shape.start
    (x2, y2) = shape.end
    return (
        "<path"
        f' d="M{number(x1)},{number(y1)}L{number(x2)},{number(y2)}"{_look(shape, mode)}{_end("path", shape)}'
    )


@_shape.register
def _(shape: Rect, mode: Mode) -> str:
    radius = f' rx="{number(shape.radius)}"' if shape.radius else ""
    return (
        f'<rect x="{number(shape.x)}" y="{number(shape.y)}" width="{number(max(shape.width, 0))}"'
        f' height="{number(max(shape.height, 0))}"'
        f"{radius}{_look(shape, mode)}{_end('rect', shape)}"
    )


@_shape.register
def _(shape: Circle, mode: Mode) -> str:
    return (
        f'<circle cx="{number(shape.x)}" cy="{number(shape.y)}"'
        f' r="{number(shape.radius)}"{_look(shape, mode)}{_end("circle", shape)}'
    )


@_shape.register
def _(shape: Path, mode: Mode) -> str:
    return f'<path d="{shape.d}"{_look(shape, mode)}{_end("path", shape)}'


@_shape.register
def _(shape: Text, mode: Mode) -> str:
    anchor = f' text-anchor="{shape.anchor}"' if shape.anchor != "start" else ""
    return (
        f'<text x="{number(shape.x)}"'
        f' y="{number(shape.y)}"{anchor}{_look(shape, mode)}>{escape(shape.words)}</text>'
    )


@_shape.register
def _(shape: Group, mode: Mode) -> str:
    layer = f" data-layer={quoteattr(shape.layer)}" if shape.layer and mode == "page" else ""
    layer += f" data-item={quoteattr(shape.item)}" if shape.item and mode == "page" else ""
    title = f"<title>{escape(shape.title)}</title>" if shape.title else ""
    return f"<g{_look(shape, mode)}{layer}>{title}{''.join(_shape(part, mode) for part in shape.parts)}</g>"
