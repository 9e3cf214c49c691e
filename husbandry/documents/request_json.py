"""Requests read from JSON and written to it."""

from typing import Any

import jsonpatch
from pydantic import ValidationError

from husbandry.documents.request import Request
from husbandry.documents.soundness import conflicts
from husbandry.errors import DocumentError, Problem
from husbandry.items.union import KINDS
from husbandry.json_text import read_json
from husbandry.species.profile import problems_of


def from_data(data: Any) -> Request:
    """Read a request from parsed JSON.

    Raises
    ------
    DocumentError
        With every problem found, by JSON pointer.
    """
    try:
        request = Request.model_validate(data)
    except ValidationError as why:
        problems = [_pointed(problem) for problem in problems_of(why)]
        raise DocumentError("request", problems) from None
    problems = conflicts(request)
    if problems:
        raise DocumentError("request", problems)
    return request


def _pointed(problem: Problem) -> Problem:
    """Take the kind out of a pointer into an item: it is where the union looked, not a key."""
    parts = problem.pointer.split("/")
    for place, part in enumerate(parts):
        if part == "items" and len(parts) > place + 2 and parts[place + 2] in KINDS:
            del parts[place + 2]
    return Problem("/".join(parts), problem.reason)


def from_text(text: str) -> Request:
    """Read a request from JSON text. Raises as `from_data`."""
    return from_data(read_json(text, "request"))


def to_data(request: Request) -> dict[str, Any]:
    """Write the request as JSON values."""
    return request.model_dump(mode="json", exclude_none=True)


def apply_patch(request: Request, patch: tuple[dict[str, Any], ...]) -> Request:
    """Apply a JSON Patch (RFC 6902), such as a change carries.

    Raises `DocumentError` when the result is not sound.
    """
    whole = request.model_dump(mode="json")
    return from_data(jsonpatch.apply_patch(whole, list(patch), in_place=True))
