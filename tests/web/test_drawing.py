"""Drawings as numbers: points, scales, contours and the writer's two modes."""

import math
from xml.etree import ElementTree

import numpy as np
import pytest

from husbandry.documents.request_json import from_text
from husbandry.forecast.day_forecast import TemperatureSeries
from husbandry.plan.plan import plan_with_prediction
from husbandry.quantity import Units
from ridgeback.drawing import gauge
from ridgeback.drawing.animals import side_view
from ridgeback.drawing.contours import even_levels, lines, refine
from ridgeback.drawing.day import chart
from ridgeback.drawing.primitives import (
    Drawing,
    Group,
    Rect,
    Text,
    number,
    overlaps,
    polyline,
    stepped,
)
from ridgeback.drawing.sheet import NARROW, WIDE, Labels, fit, front_view
from ridgeback.drawing.svg import LOOK, write
from tests.husbandry.conftest import SAMPLE

REQUEST = from_text(SAMPLE.read_text(encoding="utf-8"))
PLAN, OUTCOME = plan_with_prediction(REQUEST)


def test_a_circle_field_gives_a_circle() -> None:
    x = z = np.linspace(-1, 1, 81)
    field = np.hypot(*np.meshgrid(x, z, indexing="ij"))
    (found,) = lines(x, z, field, [0.5])
    assert all(math.hypot(*p) == pytest.approx(0.5, abs=0.01) for p in found.points)
    assert lines(x, z, field, [0.005]) == []  # scraps are left out


def test_refining_reaches_the_walls_and_keeps_the_values() -> None:
    x, z = np.array([0.25, 0.75]), np.array([0.2, 0.4])
    fx, fz, fine = refine(x, z, np.array([[1.0, 2.0], [3.0, 4.0]]), 5, 3, (0.0, 1.0, 0.1, 0.5))
    assert (fx[0], fx[-1], fz[0], fz[-1]) == (0.0, 1.0, 0.1, 0.5)
    assert fine[0, 0] == 1.0 and fine[-1, -1] == 4.0 and fine[2, 1] == pytest.approx(2.5)


@pytest.mark.parametrize(
    ("low", "high", "levels"),
    [(21.3, 26.8, [22, 23, 24, 25, 26]), (70, 95, [75, 80, 85, 90]), (20, 20.3, [])],
)
def test_levels_are_round(low: float, high: float, levels: list[float]) -> None:
    assert even_levels(low, high, 6) == levels


def test_the_enclosure_is_drawn_to_scale() -> None:
    view = fit(REQUEST, WIDE)
    assert view.x(1.5) - view.x(0) == pytest.approx(1.5 * view.scale) and view.y(0) - view.y(
        0.6
    ) == pytest.approx(0.6 * view.scale)
    assert view.x(1.5) <= WIDE.width - WIDE.right + 1e-6


def test_the_animal_is_as_long_as_it_is() -> None:
    paths = side_view("skink", 100, 300, 84)
    xs = [
        float(pair.split(",")[0])
        for d in paths
        for pair in d.replace("M", " ").replace("C", " ").replace("Z", "").split()
        if "," in pair
    ]
    assert min(xs) == pytest.approx(100, abs=1) and max(xs) == pytest.approx(184, abs=1)
    flipped = side_view("agama", 0, 100, 50, facing=1)
    assert flipped != side_view("agama", 0, 100, 50)


@pytest.mark.parametrize("paper", [WIDE, NARROW])
@pytest.mark.parametrize("units", [Units(), Units("us", "f")])
def test_labels_do_not_cover_each_other(paper: object, units: Units) -> None:
    sheet = front_view(PLAN, OUTCOME, units, Labels("Box", "now", "plan 1"), paper)  # type: ignore[arg-type]

    def tags(parts: tuple[object, ...]) -> list[Rect]:
        found: list[Rect] = []
        for part in parts:
            if isinstance(part, Group):
                found += tags(part.parts)
            elif isinstance(part, Rect) and part.role == "tag":
                found.append(part)
        return found

    found = tags(sheet.parts)
    assert len(found) >= 3
    assert not [(a, b) for n, a in enumerate(found) for b in found[n + 1 :] if overlaps(a, b, 0)]


def test_the_writer_has_two_modes_and_escapes() -> None:
    drawing = Drawing(
        100, 50, (Rect("inside", 0, 0, 10, 10), Text("words", 1, 2, "<b>&")), "A <title>"
    )
    page, export = write(drawing), write(drawing, "export")
    assert 'class="inside"' in page and "fill=" not in page
    assert "fill=" in export and "class=" not in export and 'width="100"' in export
    for text in (page, export):
        ElementTree.fromstring(text)
        assert "<b>" not in text


def test_every_role_of_a_sheet_has_an_export_look() -> None:
    for paper in (WIDE, NARROW):
        text = write(front_view(PLAN, OUTCOME, Units(), Labels("Box", "now", "plan 1"), paper))
        roles = {e.get("class") for e in ElementTree.fromstring(text).iter() if e.get("class")} - {
            None
        }
        plain = {"layer", "animal-group", "dimensions", "specks"}
        assert {r for r in roles if r and not r.startswith("drawing")} - plain <= set(LOOK)


def test_the_gauge_puts_values_where_they_belong() -> None:
    need = PLAN.needs[0]
    scale = gauge.scale_of(need, 10, 310)
    assert need.low is not None and need.high is not None and need.predicted is not None
    assert 10 < scale(need.low.value) < scale(need.high.value) < 310
    assert scale(scale.low) == 10 and scale(1e9) == 310
    assert scale((need.low.value + need.high.value) / 2) == pytest.approx(
        (scale(need.low.value) + scale(need.high.value)) / 2
    )


def test_the_gauge_speaks() -> None:
    words = gauge.describe(PLAN.needs[0], Units("us", "f"))
    assert (
        words.startswith("needed 100 to 109 °F") and "predicted" in words and "measured" in words
    )
    assert all("needed" in gauge.describe(need, Units()) for need in PLAN.needs)


def test_an_axis_has_few_marks_however_far_it_reaches() -> None:
    hours = (0.0, 12.0, 24.0)
    far = TemperatureSeries(
        hours=hours, surface=(20.0, 1e34, 0.0), warm_air=hours, cool_air=hours, room=hours
    )
    drawn = write(chart(far, Units(), "A day", "said"))
    assert 3 <= drawn.count("grid-line") <= 8


def test_numbers_are_short() -> None:
    assert [number(v) for v in (1.0, 1.25, -0.04, 100.0)] == ["1", "1.2", "0", "100"]
    assert polyline([(0, 0), (1.06, 2)], closed=True) == "M0,0L1.1,2Z"


@pytest.mark.parametrize(
    ("places", "said"),
    [
        ([(10.2, 20.0), (13.0, 24.4), (9.0, 21.0)], "M10,20l3,4-4-3"),
        ([(1.0, 1.0), (1.2, 1.3), (2.0, 1.0)], "M1,1l1,0"),
        ([(5.0, 6.0)], "M5,6"),
    ],
)
def test_a_stepped_line_tells_each_place_from_the_one_before(
    places: list[tuple[float, float]], said: str
) -> None:
    assert stepped(places) == said
