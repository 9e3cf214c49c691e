"""Writing and mailing daily emails: once a day each, whoever tries."""

import datetime as dt
import logging

from allauth.account.models import EmailAddress
from django.db import IntegrityError, transaction

from ridgeback import clock
from ridgeback.digests.composing import compose
from ridgeback.digests.models import Digest, DigestSubscription
from ridgeback.digests.returned import closed, send
from ridgeback.households.models import Keeper, Membership

log = logging.getLogger("ridgeback.digests")


def confirmed_address(keeper: Keeper) -> str:
    """The address that emails may go to: one whose owner said so and from which none came back;
    empty where there is none.
    """
    own = EmailAddress.objects.filter(user=keeper, verified=True, email__iexact=keeper.email)
    found = own.values_list("email", flat=True).first() or ""
    return "" if found and closed(found) is not None else found


def write(membership: Membership, now: dt.datetime, *, again: bool = False) -> Digest | None:
    """Today's daily email, mailed where there is an address.

    None when it was written before; `again` writes it anew, without mailing.

    The row is committed before the mail goes: a worker that dies in between leaves a daily email
    that was not mailed, never two mails.
    """
    subject, text, day = compose(membership.household, membership.keeper.units, now)
    facts = {"subject": subject[:200], "text": text, "written_at": now}
    if again:
        return Digest.objects.update_or_create(membership=membership, on=day, defaults=facts)[0]
    try:
        with transaction.atomic():
            digest = Digest.objects.create(membership=membership, on=day, **facts)
    except IntegrityError:
        return None
    address = confirmed_address(membership.keeper)
    if address:
        try:
            send(subject, text, address)
        except OSError:  # the mail server is away: the page has the daily email
            log.exception("daily email not mailed", extra={"digest": digest.pk})
            return digest
        digest.mailed_at = now
        digest.save(update_fields=["mailed_at"])
    return digest


def write_due(now: dt.datetime) -> int:
    """Every daily email whose hour has come today and that is not written yet: how many were."""
    written = 0
    wishes = DigestSubscription.objects.select_related(
        "membership__household", "membership__keeper"
    )
    for wish in wishes:
        local = clock.local(now, wish.membership.household.time_zone)
        there = Digest.objects.filter(membership=wish.membership, on=local.date()).exists()
        if local.hour < wish.hour or there:
            continue
        try:
            written += write(wish.membership, now) is not None
        except Exception:  # one household that cannot be told keeps nobody else's daily email back
            log.exception("daily email not written", extra={"membership": wish.membership_id})
    return written
