"""The keeper's own variant of a profile: single values edited, each with a reason.

The library's file is never changed.

An edit names its place by JSON pointer (RFC 6901) and remembers what the library said there, so
that a later library that says otherwise is seen.
Format: docs/formats/variant.md.
"""

import functools
import json
from collections.abc import Sequence
from typing import Annotated, Any, Literal

import jsonpointer
from pydantic import Field, ValidationError

from husbandry.derivation import Document
from husbandry.errors import DocumentError, Problem, UnknownNameError
from husbandry.json_text import read_json
from husbandry.species.library import find, library
from husbandry.species.profile import Profile, from_data, problems_of

FORMAT: Literal["ridgeback-variant/2"] = "ridgeback-variant/2"
KEEPERS_OWN = "keeper"
"""The origin that an edited value gets beside what it had."""
Reason = Annotated[str, Field(min_length=3, max_length=300)]


class Edit(Document):
    """One value of a profile, as the keeper wants it."""

    at: Annotated[str, Field(pattern=r"^/", max_length=200)]
    was: Any
    """What the library said when the edit was made."""
    value: Any
    reason: Reason


class Variant(Document):
    """A keeper's own variant, as it is exported."""

    format: Literal["ridgeback-variant/2"] = FORMAT
    species: str
    library_hash: str = ""
    """Of the profile that it was made from."""
    edits: Annotated[tuple[Edit, ...], Field(max_length=400)] = ()


FIXED = ("/format", "/species", "/origins", "/group")
"""Parts that are not a keeper's to edit: what the file is and where its values come from."""


def leaf(profile: Profile, at: str) -> Any:
    """The value at a pointer.

    Raises
    ------
    DocumentError
        When nothing is there, or something with parts of its own, or what cannot be edited.
    """
    if (
        at.startswith(FIXED)
        or at.endswith("/-")
        or at.rsplit("/", 1)[-1]
        in {"origin", "limit_origin", "slug", "stages", "question", "approach"}
        or "/origin/" in at
    ):
        raise DocumentError(
            "variant",
            [
                Problem(
                    at, "this cannot be edited: it says what the value is and where it comes from"
                )
            ],
        )
    try:
        value = jsonpointer.resolve_pointer(_data(profile), at)
    except jsonpointer.JsonPointerException:
        raise DocumentError("variant", [Problem(at, "the profile has nothing there")]) from None
    if isinstance(value, dict) or (
        isinstance(value, list) and value and isinstance(value[0], dict)
    ):
        raise DocumentError("variant", [Problem(at, "name one value, not a group of them")])
    return value


def _data(profile: Profile) -> Any:
    return profile.model_dump(mode="json")


def owner_of(profile: Profile, at: str) -> str:
    """Pointer of the part of the profile, with an origin of its own, that a value belongs to; empty
    for the profile's identity.
    """
    places = {path for path, _ in profile.walk()}
    parts = at.split("/")
    for n in range(len(parts), 1, -1):
        candidate = "/".join(parts[:n])
        if candidate in places:
            return candidate
    return ""


def apply(profile: Profile, edits: tuple[Edit, ...]) -> Profile:
    """The profile with a keeper's edits; each edited part has the keeper's reason among its
    origins.

    Raises
    ------
    DocumentError
        With the pointer of each edit that cannot be, or that makes the whole unsound.
    """
    if not edits:
        return profile
    return _applied(profile, json.dumps([edit.model_dump() for edit in edits], sort_keys=True))


@functools.lru_cache(maxsize=256)
def _applied(profile: Profile, edits_json: str) -> Profile:
    edits = [Edit.model_validate(row) for row in json.loads(edits_json)]
    data = _data(profile)
    problems: list[Problem] = []
    for n, edit in enumerate(edits):
        try:
            leaf(profile, edit.at)
        except DocumentError as why:
            problems += why.problems
            continue
        jsonpointer.set_pointer(data, edit.at, edit.value)
        owner = owner_of(profile, edit.at)
        if owner:
            key = f"{KEEPERS_OWN}-{n + 1}"
            data["origins"][key] = {
                "kind": "entered",
                "text": f"the keeper's own value: {edit.reason}",
            }
            part = jsonpointer.resolve_pointer(data, owner)
            part["origin"] = [key, *part["origin"]]
            if edit.at.rsplit("/", 1)[-1].startswith("limit_"):
                part["limit_origin"] = [key, *part["limit_origin"]]
    if problems:
        raise DocumentError("variant", problems)
    return from_data(data, f"variant of {profile.species}")


def profile_with(species: str, edits: tuple[Edit, ...]) -> Profile:
    """The library's profile of a species with edits. Raises `UnknownNameError` and as `apply`."""
    return apply(find(species), edits)


@functools.lru_cache(maxsize=512)
def _sound(species: str, rows_json: str) -> tuple[Edit, ...]:
    rows = tuple(json.loads(rows_json))
    try:
        edits = tuple(Edit.model_validate(row) for row in rows)
        apply(find(species), edits)
        return edits
    except UnknownNameError:
        return ()
    except (DocumentError, ValidationError):
        return take_in(find(species), (), rows, replace=True)[0]


def sound(species: str, rows: Sequence[Any]) -> tuple[Edit, ...]:
    """The kept edits that the library of today can take: one that a newer profile has no place for
    is left out.
    """
    return _sound(species, json.dumps(list(rows), sort_keys=True)) if rows else ()


class EditResult(Document):
    """What became of one edit of a file."""

    at: str
    outcome: Literal[
        "taken", "the same already", "your own value kept", "replaced your own", "refused"
    ]
    reason: str = ""
    """Why it was not accepted, or what to know."""


def read(text: str) -> Variant:
    """A variant from JSON text. Raises `DocumentError`."""
    data = read_json(text, "variant")
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise DocumentError(
            "variant", [Problem("/format", f"a variant says “format”: “{FORMAT}”")]
        )
    species = data.get("species")
    if not isinstance(species, str) or species not in library():
        raise DocumentError(
            "variant", [Problem("/species", f"there is no profile of “{species}”")]
        )
    rows = data.get("edits")
    if not isinstance(rows, list):
        raise DocumentError("variant", [Problem("/edits", "a variant has a list of edits")])
    return Variant.model_construct(
        format=FORMAT,
        species=data["species"],
        library_hash=str(data.get("library_hash", "")),
        edits=tuple(rows),
    )


def take_in(
    profile: Profile, own: tuple[Edit, ...], rows: tuple[Any, ...], *, replace: bool
) -> tuple[tuple[Edit, ...], tuple[EditResult, ...]]:
    """The edits that stand after a file was read, with what became of each of its lines.

    Nothing of the keeper's own is overwritten unless `replace` says so; a line that cannot be is
    refused and the others still count.
    """
    standing = {edit.at: edit for edit in own}
    lines: list[EditResult] = []
    for n, row in enumerate(rows):
        try:
            edit = Edit.model_validate(row)
        except ValidationError as why:
            said = "; ".join(f"{p.pointer or '/'}: {p.reason}" for p in problems_of(why))
            at = str(row.get("at", f"/edits/{n}")) if isinstance(row, dict) else f"/edits/{n}"
            lines.append(EditResult(at=at[:200], outcome="refused", reason=said))
            continue
        there = standing.get(edit.at)
        if there is not None and there.value == edit.value:
            lines.append(EditResult(at=edit.at, outcome="the same already"))
            continue
        if there is not None and not replace:
            lines.append(
                EditResult(
                    at=edit.at,
                    outcome="your own value kept",
                    reason=f"yours is {_said(there.value)}, the file says {_said(edit.value)}",
                )
            )
            continue
        tried = {**standing, edit.at: edit}
        try:
            now = leaf(profile, edit.at)
            apply(profile, tuple(tried.values()))
        except DocumentError as why:
            lines.append(
                EditResult(
                    at=edit.at, outcome="refused", reason="; ".join(p.reason for p in why.problems)
                )
            )
            continue
        standing = tried
        note = (
            "" if now == edit.was else f"the library now says {_said(now)}, not {_said(edit.was)}"
        )
        lines.append(
            EditResult(
                at=edit.at,
                outcome="replaced your own" if there is not None else "taken",
                reason=note,
            )
        )
    return tuple(standing.values()), tuple(lines)


def _said(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False)
