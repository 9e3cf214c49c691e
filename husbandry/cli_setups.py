"""The commands that find first setups: `starter SPECIES ...` prints a complete request, `closure`
runs the table of all species, stages and rooms.
"""

import argparse
import datetime as dt
import json
import sys
from argparse import ArgumentParser, Namespace, _SubParsersAction
from pathlib import Path
from typing import Any

from husbandry.cli_refusal import refuse
from husbandry.documents.request_json import to_data
from husbandry.errors import DocumentError, HusbandryError, Problem
from husbandry.setups.closure import NOW, ROOMS, RoomCase, closure, data_of
from husbandry.setups.first_choices import write_first_choices
from husbandry.setups.owned_use import means_of, with_owned
from husbandry.setups.owned_words import OwnedFitting, read_owned
from husbandry.setups.starter import start
from husbandry.species.library import find, library
from husbandry.species.profile import Profile

USUAL_ROOM = RoomCase(21.0, 18.0, 28.0, 50.0)
"""The room of a setup where none is said."""


def add_setup_commands(commands: "_SubParsersAction[ArgumentParser]") -> None:
    """Add `starter` and `closure`."""
    starting = commands.add_parser(
        "starter", help="print a complete first setup for an animal as a request"
    )
    starting.add_argument("species", help="scientific or common name")
    starting.add_argument("--stage", help="life stage; the last one where nothing is said")
    starting.add_argument("--mass", type=float, metavar="G", help="body mass in grams")
    starting.add_argument("--length", type=float, metavar="MM", help="body length in millimetres")
    starting.add_argument("--born", type=dt.date.fromisoformat, metavar="DATE")
    starting.add_argument("--sex", choices=("female", "male", "unknown"), default="unknown")
    starting.add_argument("--count", type=int, default=1, metavar="N", help="animals of that kind")
    starting.add_argument(
        "--room", type=float, nargs=4, metavar=("DAY", "NIGHT", "SUMMER", "RH"), default=USUAL_ROOM
    )
    starting.add_argument("--enclosure", metavar="FILE", help="an enclosure as in a request, JSON")
    starting.add_argument(
        "--own",
        metavar="FILE",
        help="lamps and heaters owned: items as JSON, or words such as “75 W halogen flood”",
    )
    starting.add_argument(
        "--approach", action="append", default=[], metavar="Q=A", help="an approach that is chosen"
    )
    closing = commands.add_parser(
        "closure", help="judge the first setup of every species, stage and room"
    )
    closing.add_argument("--species", action="append", help="only this one; may be repeated")
    closing.add_argument(
        "--rooms",
        action="append",
        metavar="DAY/NIGHT/SUMMER/RH",
        type=_room,
        help="only this room; may be repeated",
    )
    closing.add_argument("--workers", type=int, default=2)
    closing.add_argument("--json", action="store_true", help="print every case as JSON")
    closing.add_argument(
        "--first-choices",
        metavar="FILE",
        help="write down which enclosure was right in each room, to be tried first",
    )


def _room(text: str) -> RoomCase:
    """A room written as 21/18/28/50."""
    try:
        day, night, summer, rh = (float(part) for part in text.split("/"))
    except ValueError as why:
        raise argparse.ArgumentTypeError("write DAY/NIGHT/SUMMER/RH, such as 21/18/28/50") from why
    return RoomCase(day, night, summer, rh)


def run_setup_command(given: Namespace) -> int:
    """Run one of the commands and return its exit status."""
    try:
        return _starter(given) if given.command == "starter" else _closure(given)
    except DocumentError as why:
        return refuse(why.problems)
    except HusbandryError as why:
        return refuse([Problem("", str(why))])
    except OSError as why:
        return refuse([Problem("", f"{why.filename} cannot be read: {why.strerror}")])
    except json.JSONDecodeError as why:
        return refuse([Problem("", f"not JSON: {why.msg} in line {why.lineno}")])


def _named(name: str) -> Profile:
    """A profile by its scientific or common name."""
    for profile in library().values():
        if name.lower() in {profile.species.lower(), profile.name.lower(), profile.slug}:
            return profile
    return find(name)


def _request_data(given: Namespace) -> dict[str, Any]:
    """A request without enclosure, from the arguments."""
    profile = _named(given.species)
    stage = given.stage or profile.stages[-1].slug
    known = [one.slug for one in profile.stages]
    if stage not in known:
        reason = f"there is no stage “{stage}”; there are {', '.join(known)}"
        raise DocumentError("stage", [Problem("", reason)])
    data = data_of(profile, stage, RoomCase(*given.room))
    animal = data["animals"][0]
    if given.born or given.mass or given.length:
        animal.pop("mass_g")
        animal.pop("born_on")
    if given.mass:
        animal["mass_g"] = given.mass
    if given.length:
        animal["length_mm"] = {profile.body.length_kind: given.length}
    if given.born:
        animal["born_on"] = given.born.isoformat()
        data["now"] = max(NOW, _noon(given.born)).isoformat()
    animal["sex"] = given.sex
    animal["approaches"] = dict(_pair(text) for text in given.approach)
    data["animals"] = [{**animal, "name": f"animal {n + 1}"} for n in range(given.count)]
    return data


def _noon(day: dt.date) -> dt.datetime:
    return dt.datetime.combine(day, dt.time(12), tzinfo=dt.UTC)


def _pair(text: str) -> tuple[str, str]:
    question, equals, answer = text.partition("=")
    if not equals:
        raise DocumentError("approach", [Problem("", f"“{text}” is not Q=A")])
    return question, answer


def _starter(given: Namespace) -> int:
    enclosure = None
    if given.enclosure:
        enclosure = json.loads(Path(given.enclosure).read_text(encoding="utf-8"))
    owned = _owned(Path(given.own)) if given.own else ()
    found = start(_request_data(given), enclosure=enclosure, means=means_of(owned))
    found, uses = with_owned(found, owned)
    for use in uses:
        sys.stderr.write(f"{use.fitting.words}: {use.why}\n")
    for reason in found.reasons:
        sys.stderr.write(f"{reason}\n")
    if found.best is None:
        return refuse([Problem("", "no enclosure holds this animal with heat and light")])
    print(json.dumps(to_data(found.best.judged.request), ensure_ascii=False, indent=2))
    return 0


def _owned(path: Path) -> tuple[OwnedFitting, ...]:
    """Lamps and heaters that are there: items as JSON, or ordinary words."""
    text = path.read_text(encoding="utf-8")
    if text.lstrip().startswith("["):
        return tuple(
            OwnedFitting(item["kind"], float(item.get("power_w", 0)), item["kind"])
            for item in json.loads(text)
        )
    found, missed = read_owned(text)
    if missed:
        reason = (
            f"“{missed[0].words}” is not understood: class and power, such as “75 W halogen flood”"
        )
        raise DocumentError("own", [Problem("", reason)])
    return found


def _closure(given: Namespace) -> int:
    species = [_named(name).species for name in given.species] if given.species else None
    table = closure(species, given.rooms or ROOMS, workers=given.workers)
    if given.first_choices:
        right = [one for one in table.cases if one.closed]
        write_first_choices(
            Path(given.first_choices),
            [(one.species, one.stage, one.room, one.choice, one.clear) for one in right],
        )
    if given.json:
        print(table.model_dump_json(indent=2))
    else:
        print("\n".join(table.lines()))
    return 0
