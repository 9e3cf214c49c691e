"""What the layout editor asks: an enclosure and its items as JSON, sometimes with a number that
was typed, an hour of the day, or a patch to try.
"""

import dataclasses
import datetime as dt
import json
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from django.core import signing

from husbandry.documents.request import EarlierState, Request
from husbandry.documents.request_json import from_data
from husbandry.enclosure.equipment import UV_LAMPS
from husbandry.errors import DocumentError, EntryError, ImpossibleStateError, Problem
from husbandry.items.fields import HEIGHT, ItemField
from husbandry.items.furnishings import Pool
from husbandry.items.union import Item, read_item
from husbandry.items.uv_lamps import UvTube
from husbandry.json_text import read_json
from husbandry.quantity import Kind, Units, read
from ridgeback.enclosures.item_fields import night_label
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.previews import as_tried
from ridgeback.enclosures.probes import probe_choices, probe_said

MOST_BYTES = 200_000


class InvalidLayoutError(Exception):
    """Not a question at all: the page cannot have asked it."""


class UnsealedError(Exception):
    """Without the seal of this household and this enclosure: to whoever asks, there is no such
    enclosure.
    """


@dataclass(frozen=True)
class NumberField:
    """A number that can be typed: where it is kept, what it is called, in which quantity."""

    path: str
    label: str
    kind: Kind | None
    choices: tuple[tuple[str, str], ...] = ()
    """Value and words, of what is chosen rather than typed."""
    required: bool = True


YES_NO = (("", "no"), ("yes", "yes"))
LEFT_TO_THE_HAND = frozenset({"on", "off", "also_on", "above_lid", "material", "reflector"})
"""Fields that are set on the form below the drawing, not beside it."""


def rows_of(item: Item, probes: Iterable[str] = ()) -> list[NumberField]:
    """List what can be typed or chosen of an item, in an enclosure with those placed probes."""
    found: list[NumberField] = []
    fields: tuple[ItemField, ...] = item.fields
    if item.is_body:  # on the form it follows the substrate; here it may be raised
        fields = (*fields[:2], HEIGHT, *fields[2:])
    for field in fields:
        if field.path == "thermostat":
            found += _thermostat_rows(item, probes)
        elif field.path not in LEFT_TO_THE_HAND and not _is_idle(item, field.path):
            choices = YES_NO if field.is_flag else field.choices
            row = NumberField(field.path, field.label, field.quantity, choices, field.required)
            found.append(row)

    return found


def _is_idle(item: Item, path: str) -> bool:
    """Water is held at something only where there is a heater in it."""
    return path == "held_c" and isinstance(item, Pool) and item.heater_w is None


def _thermostat_rows(item: Item, probes: Iterable[str]) -> Iterator[NumberField]:
    yield NumberField("thermostat/set_c", "Thermostat at", Kind.TEMPERATURE, required=False)
    if item.held is not None:
        night = night_label(item.held)
        yield NumberField("thermostat/night_set_c", night, Kind.TEMPERATURE, required=False)
        cut = "Cut-out at"
        yield NumberField("thermostat/cut_out_c", cut, Kind.TEMPERATURE, required=False)
        yield NumberField("thermostat/probe", "Its probe", None, tuple(probe_choices(probes)))


@dataclass(frozen=True)
class LayoutQuestion:
    """A question that was understood.

    `request` is None when the enclosure is not sound; `problems` say why, by JSON pointer.
    """

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
    items = state.get("items")
    item = (
        next((t for t in items if isinstance(t, dict) and t.get("id") == typed.get("item")), None)
        if isinstance(items, list)
        else None
    )
    if item is None:
        raise InvalidLayoutError
    try:
        known: Item | None = read_item(item)
    except ValueError:
        known = None
    probes = [
        str(t.get("id")) for t in items or [] if isinstance(t, dict) and t.get("kind") == "probe"
    ]
    path = str(typed.get("path", ""))
    text = str(typed.get("text", ""))[:60]
    row = (
        next((row for row in rows_of(known, probes) if row.path == path), None)
        if known is not None
        else None
    )
    if row is None:
        raise InvalidLayoutError
    parent, _, leaf = path.rpartition("/")
    if not text.strip() and not row.required and not row.choices:
        if path in {"thermostat/night_set_c", "thermostat/cut_out_c"}:
            (item.get("thermostat") or {}).pop(leaf, None)
        elif path.startswith("thermostat"):
            item.pop("thermostat", None)
        elif path == "heater_w":
            item.pop("heater_w", None)
            item.pop("held_c", None)
        else:
            item.pop(path, None)
        return ""
    if row.choices:
        if text not in dict(row.choices):
            return "That is none of the choices."
        if row.choices == YES_NO:
            item[path] = bool(text)
            return ""
        if path != "thermostat/probe":
            item[path] = text or None
            return ""
        held = {**(item.get("thermostat") or {}), **probe_said(text)}
        item["thermostat"] = held if text else None
        return ""
    try:
        value = read(text, row.kind, units).value if row.kind is not None else float(text)
    except (EntryError, ValueError) as why:
        return str(why)

    return _put_number(item, known, leaf, parent, value)


def _put_number(
    item: dict[Any, Any], known: Item | None, leaf: str, parent: str, value: float
) -> str:
    """Put a number that was read into the item."""
    if parent in {"at_m", "size_m"}:
        numbers = list(item.get(parent) or [0.1, 0.1, 0.1])
        numbers[int(leaf)] = round(value, 4)
        item[parent] = numbers
    elif parent == "thermostat":
        item["thermostat"] = {
            "probe": "surface",
            "control": "dimming",
            **(item.get("thermostat") or {}),
            leaf: round(value, 2),
        }
    elif isinstance(known, UvTube) and leaf == "length_m":
        # Tubes come in lengths: the nearest that is sold.
        item["power_w"], item["length_m"] = UV_LAMPS[known.kind].nearest(value)
    else:
        item[leaf] = round(value, 4)
        if leaf == "heater_w":  # a heater in water has a thermostat, at something until it is said
            item["held_c"] = item.get("held_c") or HELD_C
    return ""


HELD_C = 22.0
"""At which a water heater is set until somebody says (design choice) [°C]."""


SALT = "ridgeback.layout"
MOST_AGE_S = 3 * 24 * 3600


def sealed(enclosure: Enclosure, now: dt.datetime) -> str:
    """Everything a plan of this enclosure is made from but the enclosure itself, signed: each step
    of a drag brings it back, and no row is read.
    """
    if enclosure.head is None:
        raise ImpossibleStateError("an enclosure has a state from its first day")
    data = enclosure.request_data(now)
    whole = {"household": enclosure.household_id, "enclosure": enclosure.pk, "request": data}
    return signing.dumps(json.loads(json.dumps(whole, default=str)), salt=SALT, compress=True)


def _opened(seal: Any, household: int, enclosure: int) -> dict[str, Any]:
    try:
        whole = signing.loads(str(seal), salt=SALT, max_age=MOST_AGE_S)
    except signing.BadSignature:
        raise UnsealedError from None
    if (whole["household"], whole["enclosure"]) != (household, enclosure):
        raise UnsealedError
    found: dict[str, Any] = whole["request"]
    return found


def ask(body: bytes, household: int, enclosure: int, units: Units) -> LayoutQuestion:
    """Understand a question about an enclosure of a household, by the keys of both.

    Raises
    ------
    UnsealedError
        When it does not bring the seal of this enclosure.
    BadAskError
        When it brings it, and asks nothing that can be understood.
    """
    if len(body) > MOST_BYTES:
        raise InvalidLayoutError
    try:
        data = read_json(body.decode("utf-8"), "question")
    except (UnicodeDecodeError, DocumentError):
        raise UnsealedError from None
    if not isinstance(data, dict):
        raise UnsealedError
    known = _opened(data.get("seal"), household, enclosure)
    if not isinstance(data.get("state"), dict):
        raise InvalidLayoutError
    state = {name: data["state"].get(name) for name in ("enclosure", "items")}
    before = json.loads(json.dumps(state))
    typed = data.get("typed")
    wrong = _typed(state, typed, units) if isinstance(typed, dict) else ""
    if wrong:
        state = before
    hour = data.get("hour")
    chosen = str(data.get("chosen", ""))[:40]
    asked = LayoutQuestion(
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
        tried = from_data({**known, **state})
    except DocumentError as why:
        return dataclasses.replace(asked, problems=tuple(why.problems))
    stood = EarlierState.model_validate(
        {"revision": known["revision"], "enclosure": known["enclosure"], "items": known["items"]}
    )
    kept = tried.model_copy(update={"enclosure": stood.enclosure, "items": stood.items})

    return dataclasses.replace(asked, request=as_tried(tried, kept))
