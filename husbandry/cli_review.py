"""The command that judges a described enclosure: `review FILE|-`, from text or from JSON."""

import datetime as dt
import sys
from argparse import ArgumentParser, Namespace, _SubParsersAction
from pathlib import Path

from pydantic import ValidationError

from husbandry.cli_refusal import refuse
from husbandry.errors import DocumentError, EntryError, Problem
from husbandry.json_text import read_json
from husbandry.quantity import METRIC, Units
from husbandry.review.describe import described
from husbandry.review.description import TEXT_MOST, Description
from husbandry.review.letter import letter
from husbandry.review.review import Review, review
from husbandry.review.tried_fixes import try_fixes, tryable
from husbandry.species.profile import problems_of

US = Units("us", "f")
BYTES_MOST = 20 * TEXT_MOST
"""No description is larger (design choice) [bytes]."""


def add_review_command(commands: "_SubParsersAction[ArgumentParser]") -> None:
    """Add `review`."""
    judging = commands.add_parser(
        "review", help="judge an enclosure from what was said of it; prints JSON"
    )
    judging.add_argument("file", help="a description as text, or as JSON; - reads standard input")
    judging.add_argument("--letter", action="store_true", help="print a text to send instead")
    judging.add_argument("--imperial", action="store_true", help="°F and inches in the letter")
    judging.add_argument(
        "--quick", action="store_true", help="do not look for the corrected enclosure"
    )
    judging.add_argument(
        "--try",
        dest="fixes",
        action="append",
        default=[],
        metavar="SLUG",
        help="judge it with this finding put right, and no other; several may be given",
    )


def run_review_command(given: Namespace) -> int:
    """Judge a description and return the exit status: 2 where it cannot be used."""
    try:
        said = _said(_read(given.file))
    except EntryError as why:
        return refuse([Problem("", str(why))])
    except DocumentError as why:
        return refuse(why.problems)
    except (OSError, UnicodeDecodeError) as why:
        return refuse([Problem("", f"{given.file} cannot be read as text: {why}")])
    now = dt.datetime.now(dt.UTC)
    found = review(said, now, correct=not given.quick)

    if given.fixes:
        return _tried(found, given.fixes, now)

    if given.letter:
        print(letter(found, US if given.imperial else METRIC), end="")
    else:
        print(found.model_dump_json(exclude_none=True, indent=2))
    return 0


def _tried(made: Review, slugs: list[str], now: dt.datetime) -> int:
    """Print the enclosure with these fixes; 2 where one of them cannot be tried."""
    able = tryable(made)
    unable = [Problem(slug, "no finding that can be tried") for slug in slugs if slug not in able]
    tried = try_fixes(made, slugs, now) if not unable else None

    if tried is None:
        return refuse(
            unable or [Problem("", "no corrected enclosure is known: leave out --quick")]
        )
    print(tried.model_dump_json(exclude_none=True, indent=2))

    return 0


def _read(file: str) -> str:
    if file == "-":
        return sys.stdin.read(BYTES_MOST + 1)
    with Path(file).open(encoding="utf-8") as stream:
        return stream.read(BYTES_MOST + 1)


def _said(text: str) -> Description:
    """A description from its JSON, or read from words."""
    if not text.lstrip().startswith("{"):
        return described(text)
    try:
        return Description.model_validate(read_json(text, "description"))
    except ValidationError as why:
        raise DocumentError("description", problems_of(why)) from why
