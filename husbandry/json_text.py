"""JSON text that becomes a document: what is no JSON, or what no database keeps, is refused with
its reason.
"""

import json
import math
from collections.abc import Iterable
from importlib.resources import files
from typing import Any

from husbandry.errors import DocumentError, Problem


def read_json(text: str, name: str) -> Any:
    """Parse JSON as RFC 8259 has it: numbers are finite, and every text can be stored as UTF-8.

    Parameters
    ----------
    name : str
        Of the document, for the error.

    Raises
    ------
    DocumentError
        For what is no JSON, for nesting deeper than any document, for numbers that are not finite
        or have thousands of digits, and for texts with the character zero or half a character.
    """

    def no_number(word: str) -> None:
        raise DocumentError(name, [Problem("", f"“{word}” is not JSON: a number is finite")])

    try:
        data = json.loads(text, parse_constant=no_number)
        problem = _unusable(data)
    except json.JSONDecodeError as why:
        place = f"line {why.lineno}, column {why.colno}"
        raise DocumentError(
            name, [Problem("", f"this is not JSON: {why.msg} in {place}")]
        ) from None
    except DocumentError:
        raise
    except ValueError:  # Python reads no whole number of more than 4300 digits
        raise DocumentError(name, [Problem("", "a number in it has too many digits")]) from None
    except RecursionError:
        reason = "it is nested deeper than any document"
        raise DocumentError(name, [Problem("", reason)]) from None
    if problem is not None:
        raise DocumentError(name, [problem])
    return data


def _unusable(part: Any, at: str = "") -> Problem | None:
    """The first value that JSON can write and no database can store."""
    if isinstance(part, str):
        reason = _unusable_text(part)
        return Problem(at, reason) if reason else None
    if isinstance(part, float) and not math.isfinite(part):
        return Problem(at, "the number there is not finite")
    pairs: Iterable[tuple[Any, Any]] = ()
    if isinstance(part, dict):
        pairs = part.items()
    elif isinstance(part, list):
        pairs = enumerate(part)
    for key, value in pairs:
        if isinstance(key, str) and (reason := _unusable_text(key)):
            return Problem(at, reason)
        found = _unusable(value, f"{at}/{key}")
        if found is not None:
            return found
    return None


def _unusable_text(text: str) -> str:
    if "\x00" in text:
        return "the text there holds the character zero, which is none"
    try:
        text.encode("utf-8")
    except UnicodeEncodeError:
        return "the text there holds half of a character"
    return ""


def data_text(package: str, name: str) -> str:
    """The text of a data file beside a package's code."""
    return files(package).joinpath(name).read_text(encoding="utf-8")
