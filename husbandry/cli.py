"""The command line: `python -m husbandry plan FILE.json`, `compute NAME ARG=VALUE ...`, `methods`,
`schemas`, `audit`, `life-plan`, `starter SPECIES`, `closure`, `review FILE`.

Exit status: 0 done; 1 the library has findings; 2 the document cannot be used (JSON pointers and
reasons on standard error); 3 an argument is out of range.
"""

import argparse
import json
import sys
from argparse import ArgumentParser, _SubParsersAction
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

import jsonpointer

from husbandry import methods, schemas
from husbandry.audit import report
from husbandry.cli_refusal import refuse
from husbandry.cli_review import add_review_command, run_review_command
from husbandry.cli_setups import add_setup_commands, run_setup_command
from husbandry.climate.spectra import SPECTRAL_UNITS, look_over, read_spectrum
from husbandry.documents.request import Request
from husbandry.documents.request_json import from_text
from husbandry.documents.result import to_json
from husbandry.errors import DocumentError, HusbandryError, OutOfRangeError, Problem
from husbandry.life_plan.enclosure_purchases import buying
from husbandry.life_plan.future_body import future
from husbandry.life_plan.rows import life_plan_of
from husbandry.plan.plan import plan

_MAX_BYTES = 5_000_000
"""No request is larger (design choice) [bytes]."""
T = TypeVar("T")


def main(arguments: list[str] | None = None) -> int:
    """Run one command and return its exit status."""
    parser = argparse.ArgumentParser(
        prog="python -m husbandry", description="The core of Ridgeback on the command line."
    )
    commands = parser.add_subparsers(dest="command", required=True)
    planning = commands.add_parser("plan", help="print the plan of a request as JSON")
    planning.add_argument("file", help="a request as JSON; - reads standard input")
    planning.add_argument(
        "--number", metavar="POINTER", help="print only the value at this JSON pointer of the plan"
    )
    _add_commands(commands)
    judging = commands.add_parser(
        "spectrum", help="judge a lamp's spectrum: UV index, vitamin D3, hazard"
    )
    judging.add_argument("file", help="two columns: wavelength in nm, irradiance")
    judging.add_argument(
        "--unit", default="W/m²/nm", choices=list(SPECTRAL_UNITS), help="of the second column"
    )
    add_setup_commands(commands)
    add_review_command(commands)
    given = parser.parse_args(arguments)
    if given.command in {"starter", "closure"}:
        return run_setup_command(given)
    if given.command == "review":
        return run_review_command(given)
    if given.command == "spectrum":
        return _spectrum(given.file, given.unit)
    if given.command == "life-plan":
        return _path(given.file, given.animal)
    if given.command == "plan":
        return _plan(given.file, given.number)
    if given.command == "compute":
        return _compute(given.name, given.values)
    if given.command == "schemas":
        return _schemas(given.folder)
    if given.command == "audit":
        return report.main(given.folder, given.check_values, as_json=given.json)
    return _methods(given.pages)


def _add_commands(commands: "_SubParsersAction[ArgumentParser]") -> None:
    """Add the commands that compute, list and write."""
    computing = commands.add_parser(
        "compute", help="compute a named method and print its derivation as JSON"
    )
    computing.add_argument("name")
    computing.add_argument("values", nargs="*", metavar="ARG=VALUE")
    listing = commands.add_parser("methods", help="list the named methods with their arguments")
    listing.add_argument(
        "--pages", metavar="FOLDER", help="write a page for each into a folder instead"
    )
    formats = commands.add_parser("schemas", help="list the JSON formats, or write their schemas")
    formats.add_argument("--folder", help="write the JSON Schemas into this folder")
    looking = commands.add_parser(
        "audit", help="look over the profiles: coverage, origins, consistency, check values"
    )
    looking.add_argument(
        "--folder", help="read profiles from this folder instead of the shipped ones"
    )
    looking.add_argument(
        "--check-values",
        metavar="FILE",
        help="compare with a CSV file of check values, row by row",
    )
    looking.add_argument("--json", action="store_true", help="print the report as JSON")
    going = commands.add_parser(
        "life-plan", help="print an animal's life plan and its enclosures as JSON"
    )
    going.add_argument("file", help="a request as JSON; - reads standard input")
    going.add_argument(
        "--animal",
        type=int,
        default=0,
        metavar="N",
        help="which animal of the request, counted from 0",
    )


def _text(file: str, encoding: str) -> str:
    """A file's text, or standard input's for `-`."""
    if file == "-":
        return sys.stdin.read(_MAX_BYTES + 1)
    if Path(file).stat().st_size > _MAX_BYTES:
        raise DocumentError(
            "file", [Problem("", f"{file} is larger than anything that is read here")]
        )
    return Path(file).read_text(encoding=encoding)


def _read(file: str, work: Callable[[str], T], encoding: str = "utf-8") -> T | int:
    """What is made of a file's text, or the exit status after saying why it cannot be used."""
    try:
        return work(_text(file, encoding))
    except OSError as why:
        return refuse([Problem("", f"{file} cannot be read: {why.strerror}")])
    except UnicodeDecodeError:
        return refuse([Problem("", f"{file} is not UTF-8 text")])
    except DocumentError as why:
        return refuse(why.problems)


def _request(file: str) -> Request | int:
    """The request in a file, or the exit status after saying why it cannot be used."""
    return _read(file, from_text)


def _spectrum(file: str, unit: str) -> int:
    found = _read(file, lambda text: look_over(read_spectrum(text, unit)), "utf-8-sig")
    if isinstance(found, int):
        return found
    print(found.model_dump_json(exclude_none=True, exclude={"nm", "w_m2nm"}, indent=2))
    return 0


def _path(file: str, n: int) -> int:
    request = _request(file)
    if isinstance(request, int):
        return request
    if not 0 <= n < len(request.animals):
        return refuse(
            [
                Problem(
                    "/animals", f"there is no animal {n}: the request has {len(request.animals)}"
                )
            ]
        )
    animal = request.animals[n]
    life = future(
        animal,
        request.profiles[animal.species],
        approaches=request.approaches_of(n),
        company=len(request.animals),
        today=request.today,
    )
    life_plan = life_plan_of(life, request.today, uvb=any(item.is_uv for item in request.items))
    found = {
        "life_plan": life_plan,
        "buying": buying(life, request.today, coming=life_plan.milestones),
    }
    parts = {
        name: document.model_dump(mode="json", exclude_none=True)
        for name, document in found.items()
    }
    print(json.dumps(parts, ensure_ascii=False, indent=2))
    return 0


ADVISED = ("/changes", "/notes")
"""Parts of a plan that stand on what may be changed: for others nothing is looked for."""


def _plan(file: str, number: str | None) -> int:
    request = _request(file)
    if isinstance(request, int):
        return request
    result = plan(request, advise=number is None or number.startswith(ADVISED))
    if number is None:
        print(to_json(result))
        return 0
    try:
        print(
            json.dumps(
                jsonpointer.resolve_pointer(
                    result.model_dump(mode="json", exclude_none=True), number
                ),
                ensure_ascii=False,
            )
        )
    except jsonpointer.JsonPointerException as why:
        return refuse([Problem(number, f"the plan has nothing there: {why}")])
    return 0


def _compute(name: str, values: list[str]) -> int:
    given: dict[str, float | str] = {}
    for word in values:
        key, equals, value = word.partition("=")
        if not equals:
            return refuse([Problem("", f"“{word}” is not ARG=VALUE")])
        given[key] = value
    try:
        print(methods.compute(name, given).model_dump_json(exclude_none=True, indent=2))
    except OutOfRangeError as why:
        details = {
            "name": why.name,
            "value": why.value,
            "unit": why.unit,
            "low": why.low,
            "high": why.high,
            "reason": str(why),
        }
        json.dump({"out_of_range": details}, sys.stderr, ensure_ascii=False, indent=2)
        sys.stderr.write("\n")
        return 3
    except HusbandryError as why:
        return refuse([Problem("", str(why))])
    return 0


def _schemas(folder: str | None) -> int:
    for name, text in schemas.files().items():
        if folder is None:
            print(name)
            continue
        Path(folder).mkdir(parents=True, exist_ok=True)
        (Path(folder) / name).write_text(text, encoding="utf-8")
    return 0


def _methods(folder: str | None) -> int:
    if folder is not None:
        Path(folder).mkdir(parents=True, exist_ok=True)
        for name, text in methods.pages().items():
            (Path(folder) / name).write_text(text, encoding="utf-8")
        return 0
    for name, method in methods.all_methods().items():
        arguments = ", ".join(
            f"{key} [{argument.unit}]" if argument.unit else key
            for key, argument in method.arguments.items()
        )
        print(f"{name}({arguments}) -> [{method.unit}]\n    {method.rule}\n    {method.source}")
    return 0
