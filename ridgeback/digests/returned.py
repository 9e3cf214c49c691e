"""Mail that came back: read from a mail server's report, and what follows of it.

A report is RFC 3464's (multipart/report, delivery-status). It counts only where it carries the mark of
a mail that was sent from here to that very address: a forged one stops nobody's alarms.
"""

import base64
import binascii
import datetime as dt
import email
import email.policy
import re
from collections.abc import Iterator
from dataclasses import dataclass
from email.message import EmailMessage, Message

from django.core.mail import EmailMessage as Mail
from django.core.signing import BadSignature, Signer
from django.db import transaction

from ridgeback.digests.models import ReturnedMail

SIGNER = Signer(salt="ridgeback.mail", sep=".")
MARK = re.compile(r"<([A-Za-z0-9_=-]+\.[A-Za-z0-9_-]+)@ridgeback>")
MOST_BYTES = 2_000_000
"""Of a report: it carries the mail it is of, at the most (design choice) [bytes]."""
MOST_RETURNS = 3
"""A full mailbox or a refusal so often in a row, and nothing more is mailed (common practice)."""
NO_SUCH = "5.1."
"""Status of an address that is none (RFC 3463, 3.2; from memory)."""


@dataclass(frozen=True)
class Returned:
    """A mail that was not delivered, for good."""

    address: str
    status: str
    """Such as 5.1.1 (RFC 3463)."""
    said: str
    """By the mail server, in its words."""


def send(subject: str, text: str, address: str) -> None:
    """Mail one person, with the mark by which a report of it is known.

    Raises `OSError` when the mail server does not take it.
    """
    mark = SIGNER.sign(base64.urlsafe_b64encode(address.lower().encode()).decode())
    Mail(subject, text, None, [address], headers={"Message-ID": f"<{mark}@ridgeback>"}).send()


def read_report(body: bytes) -> list[Returned]:
    """What a mail server's report says was not delivered for good; nothing for any other mail."""
    message = email.message_from_bytes(body[:MOST_BYTES], policy=email.policy.default)
    if not isinstance(message, EmailMessage) or message.get_content_type() != "multipart/report":
        return []
    sent_to = set(_marks(body[:MOST_BYTES].decode("ascii", "replace")))

    return [
        one
        for part in message.walk()
        if part.get_content_type() == "message/delivery-status"
        for one in _recipients(part)
        if one.address in sent_to
    ]


def _marks(text: str) -> Iterator[str]:
    """Addresses of mails that were sent from here and are quoted in a text."""
    for mark in MARK.findall(text):
        try:
            yield base64.urlsafe_b64decode(SIGNER.unsign(mark)).decode()
        except (BadSignature, binascii.Error, UnicodeDecodeError):
            continue


def _recipients(part: Message) -> Iterator[Returned]:
    """Recipients of a report that will never get the mail."""
    blocks = part.get_payload()
    for block in blocks if isinstance(blocks, list) else []:
        if not isinstance(block, Message):
            continue
        whom = str(block.get("Original-Recipient") or block.get("Final-Recipient") or "")
        status = str(block.get("Status") or "").strip()
        failed = str(block.get("Action") or "").strip().lower() == "failed"
        address = whom.partition(";")[2].strip().lower()
        if failed and status.startswith("5.") and address:
            said = " ".join(str(block.get("Diagnostic-Code") or "").partition(";")[2].split())
            yield Returned(address, status[:12], said[:200])


@transaction.atomic
def note_report(body: bytes, now: dt.datetime) -> list[ReturnedMail]:
    """Note what came back; an address that is none, or that refuses again and again, is closed."""
    found = []

    for one in read_report(body):
        row, _ = ReturnedMail.objects.select_for_update().get_or_create(
            address=one.address, defaults={"first_at": now, "last_at": now}
        )
        row.times += 1
        row.status, row.said, row.last_at = one.status, one.said, now
        row.is_closed = row.times >= MOST_RETURNS or one.status.startswith(NO_SUCH)
        row.save()
        found.append(row)

    return found


def closed(address: str) -> ReturnedMail | None:
    """Why nothing is mailed to an address; None where it is open."""
    return ReturnedMail.objects.filter(address=address.lower(), is_closed=True).first()


def open_again(address: str) -> None:
    """Its owner says that it works."""
    ReturnedMail.objects.filter(address=address.lower()).delete()
