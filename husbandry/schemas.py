"""JSON Schemas (draft 2020-12) of what is read and written: profile, request, plan, description and
review.

Made from the models, so that they cannot drift.
"""

import json
from typing import Any

from husbandry.derivation import Document
from husbandry.documents.request import Request
from husbandry.documents.result import Plan
from husbandry.review.description import Description
from husbandry.review.review import Review
from husbandry.species.profile import Profile
from husbandry.species.variant import Variant

DIALECT = "https://json-schema.org/draft/2020-12/schema"
SCHEMAS: dict[str, tuple[type[Document], str]] = {
    "ridgeback-profile-3": (Profile, "A species: what it needs, with the origin of every value."),
    "ridgeback-variant-2": (Variant, "A keeper's own values of a profile, each with a reason."),
    "ridgeback-request-2": (
        Request,
        "Animals, an enclosure, a room and a moment: everything a plan is made from.",
    ),
    "ridgeback-plan-2": (
        Plan,
        "The answer to a request: needs, predictions, changes, food and notes.",
    ),
    "ridgeback-description-1": (
        Description,
        "What somebody said of an enclosure; a member that is missing was not said.",
    ),
    "ridgeback-review-1": (
        Review,
        "A described enclosure judged: findings in order, questions, and a correction.",
    ),
}
"""By file name: the format's name and its version."""
WRITTEN = (Plan, Review)
"""Formats that are written here and read elsewhere."""


def schema(name: str) -> dict[str, Any]:
    """The schema of a format.

    A reader of the plan should not mind members it does not know: later versions of the core add
    some.
    """
    model, title = SCHEMAS[name]
    mode: Any = "serialization" if model in WRITTEN else "validation"
    made = model.model_json_schema(mode=mode)
    if model in WRITTEN:
        _leave_out_nulls(made)
    return {"$schema": DIALECT, "$id": f"urn:{name}", **made, "title": title}


def _leave_out_nulls(part: Any) -> None:
    """A plan is written without what is empty, so members with a default may be missing."""
    if isinstance(part, dict):
        if "required" in part and "properties" in part:
            part["required"] = [
                name for name in part["required"] if not _may_be_null(part["properties"][name])
            ]
        for value in part.values():
            _leave_out_nulls(value)
    elif isinstance(part, list):
        for value in part:
            _leave_out_nulls(value)


def _may_be_null(member: dict[str, Any]) -> bool:
    return any(option.get("type") == "null" for option in member.get("anyOf", []))


def files() -> dict[str, str]:
    """Every schema by file name."""
    return {
        f"{name}.schema.json": json.dumps(schema(name), ensure_ascii=False, indent=1) + "\n"
        for name in SCHEMAS
    }
