"""Writes about who may come in."""

import datetime as dt
import logging
from collections.abc import Sequence

from django.core.mail import send_mail
from django.db import IntegrityError, transaction
from django.db.models import QuerySet
from django.template.loader import render_to_string

from ridgeback.animals.models import Animal
from ridgeback.households.models import Household, Keeper, Membership
from ridgeback.people.models import (
    INVITED_FOR,
    Invitation,
    PersonalLink,
    hash_of,
    hash_of_code,
    new_code,
    new_secret,
)

log = logging.getLogger("ridgeback.people")
security = logging.getLogger("ridgeback.security")
"""Who was let in, as what, and who out: by keys, never by names."""


class PeopleError(Exception):
    """What cannot be done, in a sentence for whoever asked."""


def invite(
    household: Household,
    role: str,
    *,
    keeper: Keeper,
    now: dt.datetime,
    email: str = "",
    days: tuple[dt.date, dt.date] | None = None,
) -> tuple[Invitation, str]:
    """Make an invitation; its code is returned once and kept as its hash."""
    code = new_code()
    first, last = days or (None, None)
    made = Invitation.objects.create(
        household=household,
        role=role,
        email=email,
        code_hash=hash_of_code(code),
        from_on=first,
        until_on=last,
        made_by=keeper,
        made_at=now,
        expires_at=now + INVITED_FOR,
    )
    return made, code


def send_invitation(invitation: Invitation, address: str) -> bool:
    """Send the link of an invitation by email. False where the mail server is away."""
    inviter = invitation.made_by.first_name or invitation.made_by.username
    context = {"invitation": invitation, "address": address, "inviter": inviter}
    text = render_to_string("people/email/invitation.txt", context)
    subject = f"{inviter} invites you to {invitation.household.name}"
    try:
        send_mail(subject, text, None, [invitation.email])
    except OSError:
        log.exception("invitation not sent", extra={"invitation": invitation.pk})
        return False
    return True


def find_invitation(code: str) -> Invitation | None:
    """Find the invitation of a code; None where there is none."""
    rows = Invitation.objects.select_related("household", "made_by")
    return rows.filter(code_hash=hash_of_code(code)).first()


def why_closed(invitation: Invitation, keeper: Keeper, now: dt.datetime) -> str:
    """Why an invitation does not let a keeper in; empty where it does."""
    if Membership.objects.filter(household=invitation.household, keeper=keeper).exists():
        return f"You are in {invitation.household.name} already."
    if invitation.used_at is not None:
        return "This invitation was used. Each is for one person: ask for another."
    if invitation.revoked_at is not None:
        return "This invitation was taken back."
    if invitation.expires_at <= now:
        return f"This invitation ran out on {invitation.expires_at:%-d %B}: ask for another."
    return ""


@transaction.atomic
def join(invitation: Invitation, keeper: Keeper, *, now: dt.datetime) -> Membership:
    """Let a keeper in, once. Raises `PeopleError`."""
    locked = (
        Invitation.objects.select_for_update().select_related("household").get(pk=invitation.pk)
    )
    why = why_closed(locked, keeper, now)
    if why:
        raise PeopleError(why)
    try:
        with transaction.atomic():
            made = Membership.objects.create(
                household=locked.household,
                keeper=keeper,
                role=locked.role,
                from_on=locked.from_on,
                until_on=locked.until_on,
            )
    except IntegrityError:
        raise PeopleError(f"You are in {locked.household.name} already.") from None
    locked.used_at = now
    locked.used_by = keeper
    locked.save(update_fields=["used_at", "used_by"])
    security.info("joined", extra=_keys(made))
    return made


def revoke(invitation: Invitation, *, now: dt.datetime) -> None:
    """Take an invitation back."""
    Invitation.objects.filter(pk=invitation.pk, used_at__isnull=True).update(revoked_at=now)


def _locked(household: Household) -> QuerySet[Membership]:
    """The memberships of a household, locked: two owners cannot leave at once."""
    Household.objects.select_for_update().get(pk=household.pk)
    return Membership.objects.filter(household=household)


def _keep_an_owner(rows: QuerySet[Membership], member: Membership) -> None:
    owners = rows.filter(role=Membership.Role.OWNER).exclude(pk=member.pk)
    if member.role == Membership.Role.OWNER and not owners.exists():
        raise PeopleError("It would be left without an owner: make somebody else an owner first.")


@transaction.atomic
def change_role(
    member: Membership, role: str, days: tuple[dt.date, dt.date] | None = None
) -> None:
    """Give a member another role. Raises `PeopleError`."""
    rows = _locked(member.household)
    member = rows.get(pk=member.pk)
    if role != Membership.Role.OWNER:
        _keep_an_owner(rows, member)
    member.role = role
    member.from_on, member.until_on = days or (None, None)
    member.save(update_fields=["role", "from_on", "until_on"])
    security.info("role changed", extra=_keys(member))


@transaction.atomic
def remove(member: Membership) -> None:
    """Take a member out; what they logged stays. Raises `PeopleError`."""
    rows = _locked(member.household)
    member = rows.get(pk=member.pk)
    _keep_an_owner(rows, member)
    security.info("left or removed", extra=_keys(member))
    member.delete()


def _keys(member: Membership) -> dict[str, int | str]:
    return {"account": member.keeper_id, "household": member.household_id, "role": member.role}


@transaction.atomic
def add_link(
    household: Household,
    kind: str,
    name: str,
    days: tuple[dt.date, dt.date],
    *,
    animals: Sequence[Animal] = (),
    keeper: Keeper,
    now: dt.datetime,
) -> tuple[PersonalLink, str]:
    """Make a personal link; its secret is returned once and kept as its hash."""
    secret = new_secret()
    made = PersonalLink.objects.create(
        household=household,
        kind=kind,
        name=name,
        secret_hash=hash_of(secret),
        from_on=days[0],
        until_on=days[1],
        made_by=keeper,
        made_at=now,
    )
    made.animals.set(animals)
    keys = {"account": keeper.pk, "household": household.pk, "link": made.pk}
    security.info("link made", extra=keys)
    return made, secret


def revoke_link(link: PersonalLink, *, now: dt.datetime) -> None:
    """Close a personal link at once."""
    PersonalLink.objects.filter(pk=link.pk, revoked_at__isnull=True).update(revoked_at=now)
    security.info("link closed", extra={"household": link.household_id, "link": link.pk})
