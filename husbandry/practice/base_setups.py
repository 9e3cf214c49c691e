"""Enclosures that are right, in the model and in a hidden truth: what cases are made from.

`python -m husbandry.practice.base_setups` makes `base_setups.json` anew, and
`python -m husbandry.practice.fault_strengths` completes it; seeds of cases are of the file that is
there.
"""

import functools
import json
import sys
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from importlib.resources import files
from pathlib import Path
from typing import Any

from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data, to_data
from husbandry.errors import DocumentError
from husbandry.practice.true_state import TrueState, is_right
from husbandry.setups.closure import RoomCase, data_of
from husbandry.setups.starter import start
from husbandry.species.library import library

SPECIES = (
    "Hemitheconyx caudicinctus",
    "Eublepharis macularius",
    "Pogona vitticeps",
    "Python regius",
    "Lampropeltis californiae",
    "Pantherophis guttatus",
    "Correlophus ciliatus",
    "Tiliqua scincoides",
    "Uromastyx ornata",
)
"""Animals of cases: kept by many, and of several ways of life (design choice)."""
ROOM = RoomCase(21.0, 18.0, 26.0, 50.0)
"""Their room (common practice)."""
TRUTHS_MOST, TRIED_MOST = 5, 60
"""Hidden truths for each, and how many are tried (design choice)."""
SMALL_SHARES = (0.6, 0.72)
"""Of each side, tried in this order, for an enclosure that is too small (design choice) [1]."""
FILE = "base_setups.json"


@dataclass(frozen=True)
class BaseSetup:
    """An enclosure that is right, with the seeds of truths in which it is."""

    species: str
    request: Request
    truth_seeds: tuple[int, ...]
    small: "BaseSetup | None" = None
    """The same animal, as warm and lit, in too small an enclosure."""
    strengths: Mapping[str, Sequence[float | None]] = field(default_factory=dict, compare=False)
    """By fault and truth, how hard it is made until it shows (`fault_strengths`)."""


@functools.cache
def base_setups() -> tuple[BaseSetup, ...]:
    """Those that ship with the core."""
    text = files("husbandry.practice").joinpath(FILE).read_text(encoding="utf-8")
    return tuple(_read(one) for one in json.loads(text))


def _read(one: dict[str, Any]) -> BaseSetup:
    small = one.get("small")
    return BaseSetup(
        one["species"],
        from_data(one["request"]),
        tuple(one["truth_seeds"]),
        _read({"species": one["species"], **small}) if small else None,
        one.get("strengths", {}),
    )


def made() -> list[dict[str, Any]]:
    """Make them: a solved setup for each species, and truths in which it stays right."""
    found = []

    for species in SPECIES:
        starter = start(data_of(library()[species], "adult", ROOM))
        if starter.best is None or not starter.best.judged.closed:
            continue
        request = starter.best.judged.request
        seeds = _right_seeds(request)
        if seeds:
            found.append({"species": species, "truth_seeds": seeds, "request": to_data(request)})

    return found


def _right_seeds(request: Request) -> list[int]:
    """Truths in which an enclosure stays right."""
    seeds = []

    for seed in range(TRIED_MOST):
        try:
            right = is_right(TrueState(request, seed))
        except DocumentError:
            break
        if right:
            seeds.append(seed)
        if len(seeds) == TRUTHS_MOST:
            break

    return seeds


def with_small(setups: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The same, each with its too small twin where one is right in heat, light and moisture."""
    found = []

    for one in setups:
        twins = (_small(one, share) for share in SMALL_SHARES)
        small = next((twin for twin in twins if twin is not None), None)
        found.append({**one, "small": small} if small is not None else one)

    return found


def _small(one: dict[str, Any], share: float) -> dict[str, Any] | None:
    """A setup solved anew in sides of that share."""
    spec = json.loads(json.dumps(one["request"]["enclosure"]))
    spec["inside_m"] = {name: round(share * side, 2) for name, side in spec["inside_m"].items()}
    spec["substrate"]["depth_m"] = min(spec["substrate"]["depth_m"], 0.06)
    data = data_of(library()[one["species"]], "adult", ROOM)
    starter = start(data, enclosure=spec)

    if starter.best is None or not starter.best.judged.closed:
        return None
    request = starter.best.judged.request
    seeds = _right_seeds(request)

    return {"truth_seeds": seeds, "request": to_data(request)} if seeds else None


if __name__ == "__main__":
    target = Path(__file__).with_name(FILE)
    target.write_text(
        json.dumps(with_small(made()), ensure_ascii=False, indent=1) + "\n", encoding="utf-8"
    )
    sys.stdout.write(f"{target.name}: {len(json.loads(target.read_text()))} setups\n")
