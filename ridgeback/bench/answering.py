"""What the bench answers: the drawing of a tried enclosure, its needs, what is wrong with it and what can be typed."""

import functools
import json
from dataclasses import dataclass
from typing import Any

from django.template.loader import render_to_string

from husbandry.box.equipment import HEATERS, UV_LAMPS
from husbandry.errors import Problem
from husbandry.planning.day import HALF_HOURS, hours_of
from husbandry.planning.furnishing import whole_furnishing
from husbandry.planning.light import leaf_of, plants_for
from husbandry.planning.naming import thing_name
from husbandry.planning.placing import clashes
from husbandry.planning.plan import glance_with_outcome
from husbandry.planning.predict import Outcome
from husbandry.planning.request import LONG_KINDS, Request, Thing, from_data
from husbandry.planning.result import Glance
from husbandry.quantity import Kind, Units, show
from husbandry.species.needs import NEEDS, NeedKey
from ridgeback.bench.asking import Asked, Row, rows_of
from ridgeback.drawing import gauge, workbench
from ridgeback.drawing.fields import grids, readable
from ridgeback.drawing.svg import inner, write
from ridgeback.habitats import wording
from ridgeback.habitats.probes import probe_chosen

KINDS: tuple[tuple[str, tuple[str, ...]], ...] = (
    (
        "Heat",
        (
            "halogen_flood",
            "halogen_spot",
            "incandescent_reflector",
            "infrared_projector",
            "ceramic_emitter",
            "infrared_panel",
            "heat_mat",
            "tube_heater",
        ),
    ),
    ("Ultraviolet", ("t5_6", "t5_12", "t5_14", "t8_6", "t8_12", "compact_5", "compact_10", "uv_flood")),
    ("Light", ("led_bar",)),
    ("Furniture", ("slab", "hide", "dish", "pool", "branch", "plant")),
    ("Thermostats", ("probe",)),
)
STEMS = {
    "heat_mat": "mat",
    "tube_heater": "heater",
    "led_bar": "light",
    "slab": "stone",
    "hide": "hide",
    "dish": "dish",
    "pool": "pool",
    "branch": "branch",
    "plant": "plant",
    "probe": "probe",
}
SIZES = {
    "slab": (0.3, 0.25, 0.03),
    "hide": (0.2, 0.16, 0.1),
    "dish": (0.14, 0.12, 0.03),
    "pool": (0.3, 0.25, 0.08),
    "branch": (0.4, 0.04, 0.04),
    "plant": (0.18, 0.18, 0.22),
}


def catalogue(request: Request) -> list[dict[str, Any]]:
    """What can be put into this enclosure: each with a sound place to begin from."""
    inside, ground = request.box.inside_m, request.box.ground.depth_m
    timed = next((t for t in request.things if t.on and t.off), None)
    times = {"on": timed.on, "off": timed.off} if timed else {"on": "08:00", "off": "20:00"}
    middle = [round(inside.length / 2, 3), round(inside.depth / 2, 3)]
    groups = []
    for title, kinds in KINDS:
        items = []
        for kind in kinds:
            thing: dict[str, Any] = {"kind": kind, "at_m": [*middle, round(inside.height - 0.05, 3)]}
            if kind in SIZES:
                size = [
                    min(SIZES[kind][0], inside.length),
                    min(SIZES[kind][1], inside.depth),
                    min(SIZES[kind][2], inside.height - ground),
                ]
                thing |= {"size_m": [round(s, 3) for s in size], "at_m": [*middle, ground]}
                if kind == "pool":  # let into the substrate, as far as that goes
                    thing["at_m"] = [*middle, round(max(ground - size[2], 0.0), 3)]
                if kind == "branch":
                    thing["at_m"] = [*middle, round(ground + 0.4 * (inside.height - ground), 3)]
            elif kind == "probe":
                thing["at_m"] = [*middle, round(ground + 0.08, 3)]
            elif kind in UV_LAMPS and UV_LAMPS[kind].is_tube:
                fitting = [pair for pair in UV_LAMPS[kind].lengths if pair[1] <= inside.length]
                if not fitting:
                    continue
                watts, length = min(fitting, key=lambda pair: abs(pair[1] - 0.55 * inside.length))
                thing |= {"power_w": watts, "length_m": length, "hours_run": 100, **times}
            else:
                sold = HEATERS[kind].watts
                thing |= {"power_w": sold[len(sold) // 3], **times}
                if kind in UV_LAMPS:
                    thing["hours_run"] = 100
                if kind == "heat_mat":  # on all day; its thermostat holds it
                    size = [min(0.28, inside.length), min(0.36, inside.depth), 0.002]
                    held = {"set_c": 32, "probe": "surface"}
                    thing = {
                        "kind": kind,
                        "power_w": thing["power_w"],
                        "at_m": [*middle, 0.0],
                        "size_m": size,
                        "thermostat": held,
                    }
                if kind in LONG_KINDS:
                    thing["length_m"] = round(min(0.6, inside.length), 3)
                if kind == "tube_heater":
                    thing["at_m"] = [*middle, round(ground + 0.06, 3)]
            named = thing_name(Thing.model_validate({"id": "x", **thing}))
            stem = STEMS.get(kind, "tube" if kind in UV_LAMPS and UV_LAMPS[kind].is_tube else "lamp")
            items.append({"label": named, "stem": stem, "thing": thing})
        groups.append({"title": title, "items": items})
    return groups


@dataclass(frozen=True)
class NeedLine:
    """A need beside the bench."""

    name: str
    value: str
    interval: str
    direction: str
    verdict: str
    svg: str


def _need_lines(seen: Glance, units: Units) -> list[NeedLine]:
    found = []
    for need in seen.needs:
        speaks = need.measured if need.verdict.speaks == "measured" else None
        value = speaks.value if speaks is not None else need.predicted.value if need.predicted else None
        found.append(
            NeedLine(
                name=f"{need.name}{' at night' if need.phase == 'night' and 'ight' not in need.name else ''}",
                value=show(value, NEEDS[need.key].kind, units) if value is not None else "",
                interval=wording.interval(need, units) if speaks is None else "",
                direction=need.verdict.direction,
                verdict=wording.verdict(need, units),
                svg=write(gauge.small(need, units)),
            )
        )
    return found


def _shown(thing: Thing, row: Row, units: Units) -> str:
    """A number of a thing as its field shows it."""
    if row.choices:
        own = {"moist": "yes" if thing.moist else "", "plant": thing.plant or ""}
        return own[row.path] if row.path in own else probe_chosen(thing.thermostat)
    data: Any = thing.model_dump(mode="json")
    for step in row.path.split("/"):
        data = data[int(step)] if isinstance(data, list) else (data or {}).get(step)
        if data is None:
            return ""
    return f"{data:g}" if row.kind is None else show(float(data), row.kind, units, digits=1 if row.kind is Kind.LENGTH else None)


def panel(request: Request | None, asked: Asked, units: Units, says: str = "") -> str:
    """The chosen thing's numbers, each to be typed."""
    things = request.things if request is not None else _loose(asked.state)
    thing = next((t for t in things if t.id == asked.chosen), None)
    if thing is None:
        return ""
    probes = [t.id for t in things if t.is_probe]
    rows = [
        {
            "row": row,
            "value": _shown(thing, row, units),
            "id": "n-" + row.path.replace("/", "-"),
            "wrong": _wrong_at(row.path, thing.id, asked.problems, asked.state.get("things") or []),
        }
        for row in rows_of(thing, probes)
    ]
    return render_to_string("bench/panel.html", {"thing": thing, "name": thing_name(thing), "rows": rows, "says": says})


def _says(outcome: Outcome, chosen: str, units: Units) -> str:
    """What the model says of the chosen thing itself."""
    thing = next((t for t in outcome.request.things if t.id == chosen), None)
    if thing is None:
        return ""
    if thing.is_probe:
        felt = outcome.felt_by(thing)
        holds = [thing_name(t) for t in outcome.request.things if t.thermostat and t.thermostat.probe_id == chosen]
        held = f" It holds the {' and the '.join(holds)}." if holds else " No thermostat holds it yet: choose it at a heater."
        low, high = (show(end, Kind.TEMPERATURE, units) for end in (felt.low_c, felt.high_c))
        return f"It feels {show(felt.temp_c, Kind.TEMPERATURE, units)} by day ({low} to {high}).{held}"
    if thing.kind == "plant":
        leaf = leaf_of(outcome, thing)
        return f"Its crown gets {leaf:.1f} mol/m² of light a day: {plants_for(leaf)}."
    duty = next(
        (d for lamp, d in zip(outcome.day.enclosure.lamps, outcome.day.duties, strict=True) if lamp.thing_id == chosen), None
    )
    if duty is not None and thing.thermostat is not None:
        return f"By day its thermostat leaves it {float(duty):.0%} of its power."
    return ""


def _loose(state: dict[str, Any]) -> list[Thing]:
    """The things of an enclosure that is not sound, as far as each is a thing."""
    found = []
    for data in state["things"] if isinstance(state.get("things"), list) else []:
        try:
            found.append(Thing.model_validate(data))
        except ValueError:
            continue
    return found


def _thing_of(problem: Problem, things: list[Any]) -> str:
    parts = problem.pointer.split("/")
    if len(parts) > 2 and parts[1] == "things" and parts[2].isdigit() and int(parts[2]) < len(things):
        named = things[int(parts[2])]
        return str(named.get("id", "")) if isinstance(named, dict) else ""
    return ""


def _marks(problems: tuple[Problem, ...], things: list[Any], stops: bool) -> list[dict[str, Any]]:
    return [{"thing": _thing_of(p, things), "text": _said(p, things, stops), "stops": stops} for p in problems]


def _said(problem: Problem, things: list[Any], stops: bool) -> str:
    """What is wrong; of what makes no enclosure at all, with the name of its thing before it."""
    slug = _thing_of(problem, things) if stops else ""
    thing = next((one for one in _loose({"things": things}) if one.id == slug), None) if slug else None
    if thing is None:
        return wording.sentence(problem.reason)
    return wording.sentence(f"{thing_name(thing)}: {problem.reason}")


def _wrong_at(path: str, chosen: str, problems: tuple[Problem, ...], things: list[Any]) -> str:
    """What is wrong with one of the chosen thing's numbers; empty for one that is not."""
    for problem in problems:
        rest = "/".join(problem.pointer.split("/")[3:])
        if _thing_of(problem, things) == chosen and rest and (path == rest or path.startswith(f"{rest}/")):
            return wording.sentence(problem.reason)
    return ""


@functools.lru_cache(maxsize=6)
def _hours(text: str) -> tuple[Outcome, ...]:
    """A day's half hours, remembered while the slider is moved."""
    return hours_of(from_data(json.loads(text)))


def answer(asked: Asked, units: Units) -> dict[str, Any]:
    """The bench's answer, as JSON values."""
    listed = asked.state.get("things")
    things: list[Any] = listed if isinstance(listed, list) else []
    found: dict[str, Any] = {"typed_wrong": asked.typed_wrong}
    if asked.typed:  # else it is the one that was asked about
        found["state"] = asked.state
    if asked.request is None:
        found["panel"] = panel(None, asked, units)
        return {**found, "sound": False, "problems": _marks(asked.problems, things, True)}
    seen, outcome = glance_with_outcome(asked.request)
    found["panel"] = panel(asked.request, asked, units, _says(outcome, asked.chosen, units))
    beside = (*clashes(asked.request, units), *_furniture(asked.request, seen, outcome))
    marked = {_thing_of(problem, things) for problem in beside}
    drawn, moment = outcome, "lamps on, settled"
    if asked.hour is not None:
        n = round(asked.hour * 2) % HALF_HOURS
        drawn = _hours(asked.request.model_dump_json(exclude_none=True))[n]
        moment = _moment(drawn, n / 2, units)
    vapour_pa = _vapour(outcome, asked.hour) if asked.damp else None
    known, lines = grids(drawn), _need_lines(seen, units)
    return {
        **found,
        "sound": True,
        "problems": _marks(beside, things, False),
        "shapes": inner(
            workbench.shapes(seen, drawn, units, marked, asked.chosen, known, light=asked.light, vapour_pa=vapour_pa)
        ),
        "height": workbench.layout(asked.request).height,
        "paper": workbench.paper_data(asked.request),
        "moment": moment,
        "needs": render_to_string("bench/needs.html", {"needs": lines, "size": seen.size}),
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
"""Said among an enclosure's notes: no place of a thing mends it."""


def _furniture(request: Request, seen: Glance, outcome: Outcome) -> list[Problem]:
    """What stands wrong for the largest animal, at its thing."""
    found = whole_furnishing(request, seen.animals, outcome.warm_left)
    return [
        Problem(f"/things/{request.index(one.thing_id)}" if one.thing_id else "/things", one.text.removesuffix("."))
        for one in found
        if one.slug not in STANDING
    ]


def _vapour(outcome: Outcome, hour: float | None) -> float | None:
    """The enclosure's vapour at an hour, or at the end of its day [Pa]; None where nobody said how it is kept damp."""
    damp = outcome.damp
    if damp is None:
        return None
    return damp.course.vapour_pa[damp.day_n if hour is None else round(hour * 2 - 1) % HALF_HOURS]


def _moment(then: Outcome, hour: float, units: Units) -> str:
    """What it is like at an hour, in words."""
    named = ((NeedKey.SURFACE_DAY, "surface"), (NeedKey.WARM_AIR_DAY, "warm air"), (NeedKey.COOL_AIR_DAY, "cool air"))
    said = [f"{name} {show(value, Kind.TEMPERATURE, units)}" for key, name in named if (value := then.centre(key)) is not None]
    return f"{int(hour):02d}:{'30' if hour % 1 else '00'}: {', '.join(said)}, UVI {then.uvi().uvi:.1f}"
