"""What the layout editor answers: the drawing of a tried enclosure, its needs, what is wrong with
it and what can be typed.
"""

import functools
import json
from dataclasses import dataclass
from typing import Any

from django.template.loader import render_to_string

from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data
from husbandry.documents.result import PlanSummary
from husbandry.documents.soundness import surroundings_of
from husbandry.errors import Problem
from husbandry.findings.furnishing import whole_furnishing
from husbandry.forecast.day_forecast import hours_of
from husbandry.items.base import Timed
from husbandry.items.furnishings import PlantedItem
from husbandry.items.union import CLASS_OF, Item, read_item
from husbandry.plan.plan import summary_with_prediction
from husbandry.predict.light import leaf_of, plants_for
from husbandry.predict.moisture import HALF_HOURS
from husbandry.predict.predict import Prediction
from husbandry.quantity import Kind, Units, show
from husbandry.setups.placing import clashes
from husbandry.species.needs import NEEDS, NeedKey
from ridgeback import sentences
from ridgeback.drawing import gauge
from ridgeback.drawing import layout as layout_drawing
from ridgeback.drawing.fields import grids, readable
from ridgeback.drawing.svg import inner, write
from ridgeback.enclosures import wording
from ridgeback.enclosures.probes import probe_chosen
from ridgeback.layout.questions import YES_NO, LayoutQuestion, NumberField, rows_of


def catalogue(request: Request) -> list[dict[str, Any]]:
    """List what can be put into this enclosure, by heading: each with a sound place to begin from."""
    timed = next((item for item in request.items if isinstance(item, Timed) and item.on), None)
    times = (timed.on, timed.off) if timed and timed.on and timed.off else ("08:00", "20:00")
    groups: dict[str, list[dict[str, Any]]] = {}
    for kind, cls in CLASS_OF.items():
        begun = cls.begin(kind, surroundings_of(request), times)
        if begun is not None:
            name = read_item({"id": "x", **begun}).name
            offered = {"label": name, "stem": cls.stem, "item": begun}
            groups.setdefault(cls.group, []).append(offered)
    return [{"title": title, "items": items} for title, items in groups.items()]


@dataclass(frozen=True)
class NeedLine:
    """A need beside the layout editor."""

    name: str
    value: str
    interval: str
    direction: str
    verdict: str
    svg: str


def _need_lines(seen: PlanSummary, units: Units) -> list[NeedLine]:
    found = []
    for need in seen.needs:
        speaks = need.measured if need.verdict.speaks == "measured" else None
        value = (
            speaks.value
            if speaks is not None
            else need.predicted.value
            if need.predicted
            else None
        )
        found.append(
            NeedLine(
                name=(
                    f"{need.name}{' at night' if need.phase == 'night' and 'ight' not in need.name else ''}"
                ),
                value=show(value, NEEDS[need.key].kind, units) if value is not None else "",
                interval=wording.interval(need, units) if speaks is None else "",
                direction=need.verdict.direction,
                verdict=wording.verdict(need, units),
                svg=write(gauge.small(need, units)),
            )
        )
    return found


def _shown(item: Item, row: NumberField, units: Units) -> str:
    """A number of an item as its field shows it."""
    if row.path == "thermostat/probe":
        return probe_chosen(item.held)
    if row.choices:
        value = getattr(item, row.path)
        return ("yes" if value else "") if row.choices == YES_NO else value or ""
    data: Any = item.model_dump(mode="json")
    for step in row.path.split("/"):
        data = data[int(step)] if isinstance(data, list) else (data or {}).get(step)
        if data is None:
            return ""
    return (
        f"{data:g}"
        if row.kind is None
        else show(float(data), row.kind, units, digits=1 if row.kind is Kind.LENGTH else None)
    )


def panel(request: Request | None, asked: LayoutQuestion, units: Units, says: str = "") -> str:
    """The chosen item's numbers, each to be typed."""
    items = request.items if request is not None else _loose(asked.state)
    item = next((t for t in items if t.id == asked.chosen), None)
    if item is None:
        return ""
    probes = [t.id for t in items if t.is_probe]
    rows = [
        {
            "row": row,
            "value": _shown(item, row, units),
            "id": "n-" + row.path.replace("/", "-"),
            "wrong": _wrong_at(row.path, item.id, asked.problems, asked.state.get("items") or []),
        }
        for row in rows_of(item, probes)
    ]
    return render_to_string(
        "layout/panel.html", {"item": item, "name": item.name, "rows": rows, "says": says}
    )


def _says(prediction: Prediction, chosen: str, units: Units) -> str:
    """What the model says of the chosen item itself."""
    item = next((t for t in prediction.request.items if t.id == chosen), None)
    if item is None:
        return ""
    if item.is_probe:
        felt = prediction.felt_by(item)
        holds = [t.name for t in prediction.request.items if t.held and t.held.probe_id == chosen]
        held = (
            f" It holds the {' and the '.join(holds)}."
            if holds
            else " No thermostat holds it yet: choose it at a heater."
        )
        low, high = (show(end, Kind.TEMPERATURE, units) for end in (felt.low_c, felt.high_c))
        return f"It feels {show(felt.temp_c, Kind.TEMPERATURE, units)} by day ({low} to {high}).{held}"
    if isinstance(item, PlantedItem):
        leaf = leaf_of(prediction, item)
        return f"Its crown gets {leaf:.1f} mol/m² of light a day: {plants_for(leaf)}."
    duty = next(
        (
            d
            for lamp, d in zip(prediction.day.heat_model.lamps, prediction.day.duties, strict=True)
            if lamp.item_id == chosen
        ),
        None,
    )
    if duty is not None and item.held is not None:
        return f"By day its thermostat leaves it {float(duty):.0%} of its power."
    return ""


def _loose(state: dict[str, Any]) -> list[Item]:
    """The items of an enclosure that is not sound, as far as each is an item."""
    found = []
    for data in state["items"] if isinstance(state.get("items"), list) else []:
        try:
            found.append(read_item(data))
        except ValueError:
            continue
    return found


def _item_of(problem: Problem, items: list[Any]) -> str:
    parts = problem.pointer.split("/")
    if (
        len(parts) > 2
        and parts[1] == "items"
        and parts[2].isdigit()
        and int(parts[2]) < len(items)
    ):
        named = items[int(parts[2])]
        return str(named.get("id", "")) if isinstance(named, dict) else ""
    return ""


def _marks(problems: tuple[Problem, ...], items: list[Any], stops: bool) -> list[dict[str, Any]]:
    return [
        {"item": _item_of(p, items), "text": _said(p, items, stops), "stops": stops}
        for p in problems
    ]


def _said(problem: Problem, items: list[Any], stops: bool) -> str:
    """What is wrong; of what makes no enclosure at all, with the name of its item before it."""
    slug = _item_of(problem, items) if stops else ""
    item = (
        next((one for one in _loose({"items": items}) if one.id == slug), None) if slug else None
    )
    if item is None:
        return sentences.sentence(problem.reason)
    return sentences.sentence(f"{item.name}: {problem.reason}")


def _wrong_at(path: str, chosen: str, problems: tuple[Problem, ...], items: list[Any]) -> str:
    """What is wrong with one of the chosen item's numbers; empty for one that is not."""
    for problem in problems:
        rest = "/".join(problem.pointer.split("/")[3:])
        if (
            _item_of(problem, items) == chosen
            and rest
            and (path == rest or path.startswith(f"{rest}/"))
        ):
            return sentences.sentence(problem.reason)
    return ""


@functools.lru_cache(maxsize=6)
def _hours(text: str) -> tuple[Prediction, ...]:
    """A day's half hours, remembered while the slider is moved."""
    return hours_of(from_data(json.loads(text)))


def answer(asked: LayoutQuestion, units: Units) -> dict[str, Any]:
    """The layout editor's answer, as JSON values."""
    listed = asked.state.get("items")
    items: list[Any] = listed if isinstance(listed, list) else []
    found: dict[str, Any] = {"typed_wrong": asked.typed_wrong}
    if asked.typed:  # else it is the one that was asked about
        found["state"] = asked.state
    if asked.request is None:
        found["panel"] = panel(None, asked, units)
        return {**found, "sound": False, "problems": _marks(asked.problems, items, True)}
    seen, prediction = summary_with_prediction(asked.request)
    found["panel"] = panel(asked.request, asked, units, _says(prediction, asked.chosen, units))
    beside = (*clashes(asked.request, units), *_furniture(asked.request, seen, prediction))
    marked = {_item_of(problem, items) for problem in beside}
    drawn = prediction
    moment = "lamps on, settled"
    if asked.hour is not None:
        n = round(asked.hour * 2) % HALF_HOURS
        drawn = _hours(asked.request.model_dump_json(exclude_none=True))[n]
        moment = _moment(drawn, n / 2, units)
    vapour_pa = _vapour(prediction, asked.hour) if asked.damp else None
    known = grids(drawn)
    lines = _need_lines(seen, units)
    return {
        **found,
        "sound": True,
        "problems": _marks(beside, items, False),
        "shapes": inner(
            layout_drawing.shapes(
                seen,
                drawn,
                units,
                marked,
                asked.chosen,
                known,
                light=asked.light,
                vapour_pa=vapour_pa,
            )
        ),
        "height": layout_drawing.layout(asked.request).height,
        "paper": layout_drawing.paper_data(asked.request),
        "moment": moment,
        "needs": render_to_string("layout/needs.html", {"needs": lines, "size": seen.size}),
        "values": {line.name: line.value for line in lines},
        "fields": readable(drawn, known, units, (4, 3), lux=asked.light, vapour_pa=vapour_pa),
    }


STANDING = frozenset(
    {
        "undermined",
        "clear sides",
        "few hides",
        "few dishes",
        "open stretch",
        "no pool",
        "substrate shallow",
        "substrate bare",
        "crew no substrate",
        "crew dry",
        "crew no litter",
    }
)
"""Said among an enclosure's notes: no place of an item mends it."""


def _furniture(request: Request, seen: PlanSummary, prediction: Prediction) -> list[Problem]:
    """What stands wrong for the largest animal, at its item."""
    found = whole_furnishing(request, seen.animals, prediction.warm_left)
    return [
        Problem(
            f"/items/{request.index(one.item_id)}" if one.item_id else "/items",
            one.text.removesuffix("."),
        )
        for one in found
        if one.slug not in STANDING
    ]


def _vapour(prediction: Prediction, hour: float | None) -> float | None:
    """The enclosure's vapour at an hour, or at the end of its day [Pa]; None where nobody said how
    it is kept damp.
    """
    damp = prediction.damp
    if damp is None:
        return None
    return damp.series.vapour_pa[damp.day_n if hour is None else round(hour * 2 - 1) % HALF_HOURS]


def _moment(then: Prediction, hour: float, units: Units) -> str:
    """What it is like at an hour, in words."""
    named = (
        (NeedKey.SURFACE_DAY, "surface"),
        (NeedKey.WARM_AIR_DAY, "warm air"),
        (NeedKey.COOL_AIR_DAY, "cool air"),
    )
    said = [
        f"{name} {show(value, Kind.TEMPERATURE, units)}"
        for key, name in named
        if (value := then.centre(key)) is not None
    ]
    return f"{int(hour):02d}:{'30' if hour % 1 else '00'}: {', '.join(said)}, UVI {then.uvi().uvi:.1f}"
