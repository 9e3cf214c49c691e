"""Ending sessions, and closing an account after a week's grace."""

import datetime as dt
import logging

from allauth.usersessions.models import UserSession
from django.db import transaction

from ridgeback.archive.deleting import delete_household
from ridgeback.households.models import Household, Keeper, Membership

log = logging.getLogger("ridgeback.accounts")
GRACE = dt.timedelta(days=7)
"""Between asking for the end and the end, in which it is taken back (design choice)."""


class ClosingError(Exception):
    """Why an account cannot be closed yet, in a sentence."""


def alone_in(keeper: Keeper) -> list[Household]:
    """Households that nobody else is in: they end with the account."""
    mine = Household.objects.filter(memberships__keeper=keeper).order_by("pk")
    return [one for one in mine if one.memberships.count() == 1]


def last_owner_of(keeper: Keeper) -> list[Household]:
    """Households with other members whose only owner this is."""
    owned = Household.objects.filter(
        memberships__keeper=keeper, memberships__role=Membership.Role.OWNER
    )
    return [
        one
        for one in owned.order_by("pk")
        if one.memberships.count() > 1
        and one.memberships.filter(role=Membership.Role.OWNER).count() == 1
    ]


@transaction.atomic
def ask_to_close(keeper: Keeper, now: dt.datetime) -> dt.datetime:
    """Note that an account is to end. Raises `ClosingError`."""
    held = last_owner_of(keeper)
    if held:
        names = " and ".join(one.name for one in held)
        raise ClosingError(f"Others are in {names}: make one of them an owner first.")
    keeper.closes_at = now + GRACE
    keeper.save(update_fields=["closes_at"])
    return keeper.closes_at


def keep_open(keeper: Keeper) -> None:
    """Take the end back."""
    keeper.closes_at = None
    keeper.save(update_fields=["closes_at"])


def close_due(now: dt.datetime) -> int:
    """Delete the accounts whose grace is over, with the households that are theirs alone; how many."""
    closed = 0
    for keeper in Keeper.objects.filter(closes_at__lte=now).order_by("pk"):
        with transaction.atomic():
            known = Keeper.objects.select_for_update().filter(pk=keeper.pk).first()
            if known is None or known.closes_at is None or known.closes_at > now:
                continue
            if last_owner_of(known):  # somebody was invited meanwhile: it waits for an owner
                continue
            for household in alone_in(known):
                delete_household(household)
            known.delete()
            closed += 1
    if closed:
        log.info("accounts closed", extra={"accounts": closed})
    return closed


def end_sessions(keeper: Keeper, keep: str, only: int | None = None) -> int:
    """End sessions of a keeper: one of them, or all but the one that asks; how many."""
    rows = UserSession.objects.filter(user=keeper).exclude(session_key=keep)
    ended = 0
    for one in rows.filter(pk=only) if only is not None else rows:
        one.end()
        ended += 1
    return ended
