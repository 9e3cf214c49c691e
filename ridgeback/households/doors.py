"""Which pages each role may open: one table, asked by the middleware alone.

A role that is not named here may open nothing. `docs/people.md` says it in words.
"""

from typing import Literal

from ridgeback.households.models import Membership

Access = Literal["nothing", "read", "write"]
"""“read” is GET and HEAD; “write” is every method."""
SAFE = frozenset({"GET", "HEAD", "OPTIONS"})
EVERYBODY = frozenset(
    {
        "",  # assets and addresses without a name
        "favicon",
        "health",
        "ready",
        "live",
        "metrics",
        "households:preferences",
        "households:begin",
        "people:join",
        "people:switch",
        "people:leave",
        "people:sitter",
        "people:sitter-log",
        "people:shown",
        "people:shown-photo",
        "reviews:shown",
        "demo:open",
        "today:feed",
    }
)
"""Open whatever the role: they are of the person, or carry a secret of their own."""
OWN_KEY_APPS = frozenset({"device_api"})
"""Opened by a key of their own, whoever is signed in."""
PERSONAL_APPS = frozenset({"practice"})
"""Of the person and of no household: open whatever the role."""
PUBLIC_APPS = frozenset({"help", "species_guide", "calculators"})
"""Knowledge that belongs to no household; a keeper alone may write there."""
ACCOUNT = ("account_", "mfa_", "usersessions_", "accounts:")
"""Views of a person's own account begin so."""
OWNER_ONLY = frozenset(
    {
        "people:people",
        "people:invite",
        "people:revoke",
        "people:change-role",
        "people:remove",
        "people:add-link",
        "people:revoke-link",
        "archive:page",
        "jobs:ask-archive",
        "households:remove-room",
    }
)
"""Who comes in, and what takes a whole room away."""
OWNER_WRITES = frozenset({"households:household"})
"""Read by keepers; changed by owners."""
SITTER: dict[str, Access] = {
    "today:page": "read",
    "today:card": "read",
    "today:changes": "read",
    "today:log-task": "write",
    "today:log-shelf": "write",
    "today:undo": "write",
    "today:week": "read",
    "today:illness-signs": "read",
    "today:behaviour": "write",
    "enclosures:list": "read",
    "enclosures:page": "read",
    "enclosures:add-reading": "write",
    "animals:list": "read",
    "animals:page": "read",
    "photos:list": "write",
    "photos:photo": "read",
    "photos:small": "read",
    "alarms:list": "write",
    "alarms:alarm": "read",
    "alarms:acknowledge": "write",
    "papers:sheet": "read",
    "papers:card": "read",
    "papers:summary": "read",
}
"""A sitter: tasks, readings, photos, notes, and the sheet."""


def access_of(role: str, view: str) -> Access:
    """Find what a role may do with a view, by its full name such as “today:page”.

    The empty role is that of somebody who is in no household.
    """
    app = view.partition(":")[0]
    if view in EVERYBODY or view.startswith(ACCOUNT) or app in OWN_KEY_APPS | PERSONAL_APPS:
        return "write"
    if app in PUBLIC_APPS:
        return "write" if role in {Membership.Role.OWNER, Membership.Role.KEEPER} else "read"
    if role == Membership.Role.OWNER:
        return "write"
    if role == Membership.Role.KEEPER:
        if view in OWNER_ONLY:
            return "nothing"
        return "read" if view in OWNER_WRITES else "write"
    if role == Membership.Role.SITTER:
        return SITTER.get(view, "nothing")
    return "nothing"


def may(role: str, view: str, method: str) -> bool:
    """Whether a role may send a request of that method to a view."""
    access = access_of(role, view)
    return access == "write" or (access == "read" and method in SAFE)
