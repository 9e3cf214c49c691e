"""What the bench asks: an enclosure and its things as JSON, sometimes with a number that was typed, an hour of the day, or a patch to try."""

import dataclasses
import datetime as dt
import json
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from django.core import signing

from husbandry.box.equipment import HEATERS, UV_LAMPS
from husbandry.documents import read_json
from husbandry.errors import DocumentError, EntryError, Problem
from husbandry.planning import request as core
from husbandry.planning.request import PROBE, Request, Thing
from husbandry.quantity import Kind, Units, read
from ridgeback.habitats.choices import ENTRANCE_CHOICES, PLANT_CHOICES
from ridgeback.habitats.models import Habitat
from ridgeback.habitats.previews import as_tried
from ridgeback.habitats.probes import probe_choices, probe_said

MOST_BYTES = 200_000


class BadAskError(Exception):
    """Not a question at all: the page cannot have asked it."""


class UnsealedError(Exception):
    """Without the seal of this household and this enclosure: to whoever asks, there is no such enclosure."""


@dataclass(frozen=True)
class Row:
    """A number that can be typed: where it is kept, what it is called, in which quantity."""

    path: str
    label: str
    kind: Kind | None
    choices: tuple[tuple[str, str], ...] = ()
    """Value and words, of what is chosen rather than typed."""


MOSS = (("", "no"), ("yes", "yes"))


def rows_of(thing: Thing, probes: Iterable[str] = ()) -> list[Row]:
    """What can be typed or chosen of a thing, in an enclosure with those placed probes."""
    found = [
        Row("at_m/0", "From the left", Kind.LENGTH),
        Row("at_m/1", "From the front", Kind.LENGTH),
        Row("at_m/2", "Above the floor", Kind.LENGTH),
    ]
    if thing.kind == "heat_mat":
        found = [*found[:2], Row("size_m/0", "Length", Kind.LENGTH), Row("size_m/1", "Depth", Kind.LENGTH)]
    if thing.is_body:
        found += [
            Row("size_m/0", "Length", Kind.LENGTH),
            Row("size_m/1", "Depth", Kind.LENGTH),
            Row("size_m/2", "Height", Kind.LENGTH),
        ]
    if thing.kind == "hide":
        found.append(Row("moist", "Wet moss in it", None, MOSS))
        found.append(Row("entrance", "Entrance", None, ENTRANCE_CHOICES))
        found.append(Row("sheer", "Light comes through its sides", None, MOSS))
    if thing.kind == "plant":
        found.append(Row("plant", "Plant", None, PLANT_CHOICES))
    if thing.kind == "pool":
        found.append(Row("filter_l_h", "Its filter, an hour", Kind.VOLUME))
        found.append(Row("heater_w", "Heater in it", Kind.POWER))
        if thing.heater_w is not None:
            found.append(Row("held_c", "Water temperature held", Kind.TEMPERATURE))
    if thing.is_tube or thing.kind in core.LONG_KINDS:
        found.append(Row("length_m", "Nominal length", Kind.LENGTH))
    if thing.warms or thing.is_uv:
        found.append(Row("power_w", "Power", Kind.POWER))
    if thing.kind in HEATERS and HEATERS[thing.kind].beam_deg:
        found.append(Row("beam_deg", "Beam angle, ° if known", None))
    if thing.is_uv:
        found.append(Row("hours_run", "Hours run", Kind.HOURS))
    if thing.kind in HEATERS and HEATERS[thing.kind].dimmable:
        found.append(Row("thermostat/set_c", "Thermostat at", Kind.TEMPERATURE))
        if thing.thermostat is not None:
            found.append(Row("thermostat/probe", "Its probe", None, tuple(probe_choices(probes))))
    return found


@dataclass(frozen=True)
class Asked:
    """A question that was understood. `request` is None when the enclosure is not sound; `problems` say why, by JSON pointer."""

    state: dict[str, Any]
    request: Request | None
    problems: tuple[Problem, ...] = ()
    typed_wrong: str = ""
    """What is wrong with the number that was typed; the state is then the one before."""
    typed: bool = False
    chosen: str = ""
    hour: float | None = None
    light: bool = False
    """Whether lines of brightness are wanted as well."""
    damp: bool = False
    """And of humidity."""


def _typed(state: dict[str, Any], typed: dict[str, Any], units: Units) -> str:
    """Put a typed number into the state; a sentence when it cannot be read."""
    things = state.get("things")
    thing = (
        next((t for t in things if isinstance(t, dict) and t.get("id") == typed.get("thing")), None)
        if isinstance(things, list)
        else None
    )
    if thing is None:
        raise BadAskError
    try:
        known = Thing.model_validate(thing)
    except ValueError:
        known = None
    probes = [str(t.get("id")) for t in things or [] if isinstance(t, dict) and t.get("kind") == PROBE]
    path, text = str(typed.get("path", "")), str(typed.get("text", ""))[:60]
    row = next((row for row in rows_of(known, probes) if row.path == path), None) if known is not None else None
    if row is None:
        raise BadAskError
    parent, _, leaf = path.rpartition("/")
    if not text.strip() and path in {"beam_deg", "hours_run", "thermostat/set_c", "power_w", "filter_l_h", "heater_w"}:
        if path.startswith("thermostat"):
            thing.pop("thermostat", None)
        elif path == "heater_w":
            thing.pop("heater_w", None)
            thing.pop("held_c", None)
        else:
            thing.pop(path, None)
        return ""
    if row.choices:
        if text not in dict(row.choices):
            return "That is none of the choices."
        if path in {"moist", "sheer"}:
            thing[path] = bool(text)
            return ""
        if path in {"plant", "entrance"}:
            thing[path] = text or None
            return ""
        held = {**(thing.get("thermostat") or {}), **probe_said(text)}
        thing["thermostat"] = held if text else None
        return ""
    try:
        value = read(text, row.kind, units).value if row.kind is not None else float(text)
    except (EntryError, ValueError) as why:
        return str(why)
    if parent in {"at_m", "size_m"}:
        numbers = list(thing.get(parent) or [0.1, 0.1, 0.1])
        numbers[int(leaf)] = round(value, 4)
        thing[parent] = numbers
    elif parent == "thermostat":
        thing["thermostat"] = {
            "probe": "surface",
            "control": "dimming",
            **(thing.get("thermostat") or {}),
            "set_c": round(value, 2),
        }
    elif known is not None and known.is_tube and leaf == "length_m":  # tubes come in lengths: the nearest that is sold
        thing["power_w"], thing["length_m"] = UV_LAMPS[known.kind].nearest(value)
    else:
        thing[leaf] = round(value, 4)
        if leaf == "heater_w":  # a heater in water has a thermostat, at something until it is said
            thing["held_c"] = thing.get("held_c") or HELD_C
    return ""


HELD_C = 22.0
"""At which a water heater is set until somebody says (design choice) [°C]."""


SALT = "ridgeback.bench"
MOST_AGE_S = 3 * 24 * 3600


def sealed(habitat: Habitat, now: dt.datetime) -> str:
    """Everything a plan of this enclosure is made from but the enclosure itself, signed: each step of a drag brings it back, and no row is read."""
    assert habitat.head is not None  # an enclosure has a state from its first day
    data = habitat.request_data(now)
    whole = {"household": habitat.household_id, "habitat": habitat.pk, "request": data}
    return signing.dumps(json.loads(json.dumps(whole, default=str)), salt=SALT, compress=True)


def _opened(seal: Any, household: int, habitat: int) -> dict[str, Any]:
    try:
        whole = signing.loads(str(seal), salt=SALT, max_age=MOST_AGE_S)
    except signing.BadSignature:
        raise UnsealedError from None
    if (whole["household"], whole["habitat"]) != (household, habitat):
        raise UnsealedError
    found: dict[str, Any] = whole["request"]
    return found


def ask(body: bytes, household: int, habitat: int, units: Units) -> Asked:
    """Understand a question about an enclosure of a household, by the keys of both.

    Raises
    ------
    UnsealedError
        When it does not bring the seal of this enclosure.
    BadAskError
        When it brings it, and asks nothing that can be understood.
    """
    if len(body) > MOST_BYTES:
        raise BadAskError
    try:
        data = read_json(body.decode("utf-8"), "question")
    except (UnicodeDecodeError, DocumentError):
        raise UnsealedError from None
    if not isinstance(data, dict):
        raise UnsealedError
    known = _opened(data.get("seal"), household, habitat)
    if not isinstance(data.get("state"), dict):
        raise BadAskError
    state = {name: data["state"].get(name) for name in ("box", "things")}
    before = json.loads(json.dumps(state))
    typed = data.get("typed")
    wrong = _typed(state, typed, units) if isinstance(typed, dict) else ""
    if wrong:
        state = before
    hour = data.get("hour")
    chosen = str(data.get("chosen", ""))[:40]
    asked = Asked(
        state,
        None,
        typed_wrong=wrong,
        typed=isinstance(typed, dict),
        chosen=chosen,
        light=data.get("light") is True,
        damp=data.get("damp") is True,
        hour=float(hour) % 24 if isinstance(hour, int | float) and abs(hour) < 100 else None,
    )
    try:
        tried = core.from_data({**known, **state})
    except DocumentError as why:
        return dataclasses.replace(asked, problems=tuple(why.problems))
    stood = core.Earlier.model_validate({"revision": known["revision"], "box": known["box"], "things": known["things"]})
    kept = tried.model_copy(update={"box": stood.box, "things": stood.things})
    return dataclasses.replace(asked, request=as_tried(tried, kept))
