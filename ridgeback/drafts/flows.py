"""Saving and finding drafts.

A page saves a draft while somebody types, and then submits. Requests overtake each other, so each
page has a key and counts its drafts: an older draft never replaces a newer one, and none that
arrives after its page was submitted is saved at all. `hold` makes writers of one draft wait for
each other, also where there is no row yet or no more.
"""

import uuid
from collections.abc import Iterable, Mapping
from typing import Any

from django import forms
from django.db import connection, transaction

from husbandry.errors import EntryError
from husbandry.quantity import Units, read, show
from ridgeback.drafts.models import Draft
from ridgeback.fields import QuantityField
from ridgeback.households.models import Household, Keeper
from ridgeback.submissions.forms import KEY, key_posted
from ridgeback.submissions.models import Submission
from ridgeback.units import spelled, unspelled

MOST_FIELDS, LONGEST = 1000, 300
WHOLE = {"suggestion": 30_000}
"""Fields that hold more than a line: what was suggested, as JSON [characters]."""
SEQUENCE = "draft_seq"
"""Field of a page in which it counts what was typed."""
UNTYPED = frozenset({"csrfmiddlewaretoken", "revision", KEY, SEQUENCE, "animals_seen"})
"""Fields of a page that nobody types."""


def hold(household: Household, keeper: Keeper, subject: str) -> None:
    """Wait until nobody else writes this draft, until the end of the transaction."""
    with connection.cursor() as cursor:
        name = f"draft {household.pk} {keeper.pk} {subject}"
        cursor.execute("select pg_advisory_xact_lock(hashtextextended(%s, 0))", [name])


def close(household: Household, page: uuid.UUID | None) -> None:
    """Note that a page was submitted or given up: drafts of it that are still on their way are
    late.
    """
    if page is not None:
        Submission.objects.bulk_create(
            [Submission(household=household, key=page)], ignore_conflicts=True
        )


@transaction.atomic
def keep_typed(
    household: Household,
    keeper: Keeper,
    subject: str,
    part: str,
    typed: Mapping[str, str],
    units: Units,
) -> Draft | None:
    """Save the draft that a page sent while somebody types; None when it comes too late."""
    hold(household, keeper, subject)
    page = key_posted(typed)
    count = _count(typed)
    if page is not None and Submission.objects.filter(household=household, key=page).exists():
        return None
    before = find(household, keeper, subject)
    known = before.data.get(part, {}) if before is not None else {}
    if page is not None and known.get("page") == str(page) and known.get("count", 0) > count:
        return None
    draft = keep(household, keeper, subject, part, typed, units)
    draft.data[part] |= {"page": str(page), "count": count}
    draft.save()
    return draft


def _count(typed: Mapping[str, str]) -> int:
    text = typed.get(SEQUENCE, "")
    return int(text) if text.isdecimal() and len(text) < 9 else 0


@transaction.atomic
def keep(
    household: Household,
    keeper: Keeper,
    subject: str,
    part: str,
    typed: Mapping[str, Any],
    units: Units,
    *,
    suggested: bool = False,
) -> Draft:
    """Save what was typed in one part of a draft, as it was typed.

    What is longer than any field is cut, not refused. `suggested` marks what nobody typed: it is
    dropped when a part before it changes.
    """
    draft, _ = Draft.objects.select_for_update().get_or_create(
        household=household, keeper=keeper, subject=subject
    )
    fields = {
        str(name)[:LONGEST]: str(value)[: WHOLE.get(name, LONGEST)].replace("\x00", "")
        for name, value in list(typed.items())[:MOST_FIELDS]
        if name not in UNTYPED
    }
    draft.data = {
        **draft.data,
        part: {"units": spelled(units), "fields": fields, "suggested": suggested},
    }
    draft.save()
    return draft


@transaction.atomic
def forget(
    household: Household,
    keeper: Keeper,
    subject: str,
    parts: Iterable[str],
    *,
    suggested_only: bool = False,
) -> None:
    """Drop parts of a draft, or only what in them was suggested, so that it is worked out anew."""
    draft = (
        Draft.objects.select_for_update()
        .filter(household=household, keeper=keeper, subject=subject)
        .first()
    )
    if draft is None:
        return
    gone = {
        part for part in parts if not suggested_only or draft.data.get(part, {}).get("suggested")
    }
    draft.data = {part: kept for part, kept in draft.data.items() if part not in gone}
    draft.save()


def find(household: Household | None, keeper: Keeper, subject: str) -> Draft | None:
    """The draft, if there is one."""
    return (
        Draft.objects.filter(household=household, keeper=keeper, subject=subject).first()
        if household
        else None
    )


def drop(household: Household, keeper: Keeper, subject: str) -> None:
    """Away with it: it was kept for good, or given up."""
    Draft.objects.filter(household=household, keeper=keeper, subject=subject).delete()


def typed_in(
    draft: Draft | None, part: str, form: forms.Form, units: Units
) -> dict[str, str] | None:
    """What was typed in a part, respelled in the reader's present units; None when nothing was.

    A bare number means the unit that stood beside the field when it was typed, so it is read in the
    old units and written in the new.
    """
    kept = draft.data.get(part) if draft else None
    if not kept:
        return None
    old = unspelled(kept["units"])
    found = dict(kept["fields"])
    if old != units:
        for name, field in form.fields.items():
            full = form.add_prefix(name)
            if isinstance(field, QuantityField) and found.get(full):
                found[full] = _respelled(found[full], field, old, units)
    return found


def _respelled(text: str, field: QuantityField, old: Units, new: Units) -> str:
    try:
        value = read(text, field.kind, old, small=field.small).value
    except EntryError:
        return text
    return show(value, field.kind, new, small=field.small)
