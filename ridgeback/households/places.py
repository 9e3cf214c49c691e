"""Where on Earth a time zone lies: its chief place, as the tz database's own table has it.

Source: `zone.tab` and `tzdata.zi` of the tz database (public domain), shipped by the package
tzdata.
"""

import functools
import re
from importlib.resources import files
from typing import NamedTuple

_COORDINATES = re.compile(r"([+-])(\d{2})(\d{2})(\d{2})?([+-])(\d{3})(\d{2})(\d{2})?")
"""ISO 6709: degrees, minutes and perhaps seconds, north and east positive."""


class Coordinates(NamedTuple):
    """A place, north and east positive [degrees]."""

    latitude_deg: float
    longitude_deg: float


def _degrees(sign: str, degrees: str, minutes: str, seconds: str | None) -> float:
    value = int(degrees) + int(minutes) / 60 + int(seconds or 0) / 3600
    return round(-value if sign == "-" else value, 2)


def _table(name: str) -> list[str]:
    return files("tzdata").joinpath("zoneinfo", name).read_text(encoding="utf-8").splitlines()


@functools.cache
def _coordinates() -> dict[str, Coordinates]:
    found: dict[str, Coordinates] = {}
    for line in _table("zone.tab"):
        cells = line.split("\t")
        match = _COORDINATES.fullmatch(cells[1]) if len(cells) > 2 and line[0] != "#" else None
        if match is not None:
            parts = match.groups()
            found[cells[2]] = Coordinates(_degrees(*parts[:4]), _degrees(*parts[4:]))
    return found


@functools.cache
def _links() -> dict[str, str]:
    """Other names of zones, with the name that each stands for."""
    rows = (line.split() for line in _table("tzdata.zi") if line.startswith("L "))
    return {alias: target for _, target, alias in rows}


GREENWICH = Coordinates(51.48, 0.0)
"""Assumed for a zone that is no place (such as UTC) until somebody says where (design choice)."""


def assumed_place(zone: str) -> Coordinates:
    """Find where a room is taken to be when only its time zone is known."""
    return place_of(zone) or GREENWICH


def place_of(zone: str) -> Coordinates | None:
    """Find the chief place of a time zone.

    Returns
    -------
    Coordinates or None
        None for zones that are no place, such as UTC.

    Examples
    --------
    >>> place_of("Pacific/Auckland")
    Coordinates(latitude_deg=-36.87, longitude_deg=174.77)
    """
    known = _coordinates()
    return known.get(zone) or known.get(_links().get(zone, ""))
