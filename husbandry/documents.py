"""JSON text that becomes a document: what is no JSON, or what no database keeps, is refused with its reason."""

import json
from importlib.resources import files
from typing import Any

from husbandry.errors import DocumentError, Problem


def read_json(text: str, name: str) -> Any:
    """Parse JSON as RFC 8259 has it: numbers are finite, and no text holds the character zero.

    Parameters
    ----------
    name : str
        Of the document, for the error.

    Raises
    ------
    DocumentError
    """

    def no_number(word: str) -> None:
        raise DocumentError(name, [Problem("", f"“{word}” is not JSON: a number is finite")])

    try:
        data = json.loads(text, parse_constant=no_number)
    except json.JSONDecodeError as why:
        raise DocumentError(
            name, [Problem("", f"this is not JSON: {why.msg} in line {why.lineno}, column {why.colno}")]
        ) from None
    place = _zero(data)
    if place is not None:
        raise DocumentError(name, [Problem(place, "the text there holds the character zero, which is none")])
    return data


def _zero(part: Any, at: str = "") -> str | None:
    """Where a text holds the character zero."""
    if isinstance(part, str):
        return at if "\x00" in part else None
    pairs = part.items() if isinstance(part, dict) else enumerate(part) if isinstance(part, list) else ()
    for key, value in pairs:
        if "\x00" in str(key):
            return at
        found = _zero(value, f"{at}/{key}")
        if found is not None:
            return found
    return None


def data_text(package: str, name: str) -> str:
    """The text of a data file beside a package's code."""
    return files(package).joinpath(name).read_text(encoding="utf-8")
