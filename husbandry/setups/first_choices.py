"""Which enclosure is tried first for a species and stage: the one that was right in the nearest room of
the closure's table.

The table decides the order, and when the search ends. What it names is fitted and judged like any other, so
that a row that has grown old costs time and no truth. `python -m husbandry closure --first-choices FILE`
writes it anew.
"""

import csv
import functools
from collections.abc import Iterable, Sequence
from dataclasses import replace
from pathlib import Path

from husbandry.documents.room import Room
from husbandry.setups.enclosure_choice import EnclosureChoice
from husbandry.tables import rows_of

RoomKey = tuple[float, float, float]
"""Air by day and by night [°C], and relative humidity [%]."""
LIKE_K, LIKE_PCT = 3.0, 15.0
"""Rooms that differ by so much are one step apart in the table (design choice) [K, %]."""
TABLE = "first_choices.csv"
LEFT = " *"
"""Behind an enclosure that was the best though something was left to say of it."""


Table = dict[tuple[str, str], dict[RoomKey, str]]
"""`EnclosureChoice.key` by species and stage, and by room."""


@functools.cache
def _table() -> Table:
    return read_first_choices(Path(__file__).with_name(TABLE))


def read_first_choices(path: Path) -> Table:
    """The table as it is kept: species, stage, and a column for each room."""
    found: Table = {}
    for row in rows_of(path):
        species, stage = row.pop("species"), row.pop("stage")
        found[species, stage] = {_room_key(name): key for name, key in row.items() if key}
    return found


def _room_key(name: str) -> RoomKey:
    day_c, night_c, rh_pct = (float(part) for part in name.split("/"))
    return day_c, night_c, rh_pct


def likely_first(
    choices: Sequence[EnclosureChoice], species: str, stage: str, room: Room
) -> list[EnclosureChoice]:
    """The choices with the one first that was right in the nearest room; the others stay in order.

    Parameters
    ----------
    choices : sequence of EnclosureChoice
    species : str
        Scientific name.
    stage : str
    room : Room
        In which the enclosure is to stand.
    """
    known = _table().get((species, stage))
    if not known:
        return list(choices)
    found = known[min(known, key=lambda one: _apart(one, room))]
    key, is_left = found.removesuffix(LEFT), found.endswith(LEFT)
    like = next((one for one in choices if _but_for_vents(one.key) == _but_for_vents(key)), None)
    if like is None:
        return list(choices)
    first = replace(like.vented_as(key), known="closed" if is_left else "clear")
    return [first, *(one for one in choices if one.key != first.key)]


def _but_for_vents(key: str) -> str:
    return key.rpartition("/")[0]


def _apart(key: RoomKey, room: Room) -> float:
    """How far a room of the table is from another [steps of the table]."""
    day_c, night_c, rh_pct = key
    warmth = abs(day_c - room.day_c) + abs(night_c - room.night_c)
    return warmth / LIKE_K + abs(rh_pct - room.rh_pct) / LIKE_PCT


def write_first_choices(
    path: Path, found: Iterable[tuple[str, str, tuple[float, float, float, float], str, bool]]
) -> None:
    """Write the table.

    Parameters
    ----------
    path : Path
    found : iterable of (species, stage, room, key, is_clear)
        What was right: the room as day, night, summer [°C] and humidity [%]; whether nothing was left
        to say of it.
    """
    table: dict[tuple[str, str], dict[str, str]] = {}
    names: dict[str, None] = {}
    for species, stage, (day_c, night_c, _, rh_pct), key, is_clear in found:
        name = f"{day_c:g}/{night_c:g}/{rh_pct:g}"
        names[name] = None
        table.setdefault((species, stage), {})[name] = key if is_clear or not key else key + LEFT
    with path.open("w", encoding="utf-8", newline="") as stream:
        writer = csv.DictWriter(stream, ["species", "stage", *sorted(names)], lineterminator="\n")
        writer.writeheader()
        for (species, stage), keys in table.items():
            writer.writerow({"species": species, "stage": stage} | keys)
