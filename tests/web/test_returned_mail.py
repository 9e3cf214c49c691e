"""Mail that comes back: reports as mail servers write them, what they close, and forged ones."""

import io
import re
import sys

import pytest
from allauth.account.models import EmailAddress
from django.core import mail
from django.core.management import call_command
from django.test import Client

from ridgeback.clock import now
from ridgeback.digests.flows import confirmed_address
from ridgeback.digests.models import ReturnedMail
from ridgeback.digests.returned import MOST_RETURNS, note_report, read_report, send
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper

ADDRESS = "Ada@example.org"
REPORT = """From: MAILER-DAEMON@mail.example.net
To: ridgeback@example.net
Subject: Undelivered Mail Returned to Sender
MIME-Version: 1.0
Content-Type: multipart/report; report-type=delivery-status; boundary="b1"

--b1
Content-Type: text/plain

I'm sorry to have to inform you that your message could not be delivered.

--b1
Content-Type: message/delivery-status

Reporting-MTA: dns; mail.example.net
Arrival-Date: Mon, 30 Nov 2026 10:00:00 +0000

Final-Recipient: rfc822; {address}
Action: {action}
Status: {status}
Diagnostic-Code: smtp; 550 {status} <{address}>: no such
    user here

--b1
Content-Type: text/rfc822-headers

From: ridgeback@example.net
To: {address}
Message-ID: {mark}
Subject: Today

--b1--
"""
"""As RFC 3464 shows one (from memory of its appendix); the names are invented."""


@pytest.fixture
def ada(household: Household) -> Keeper:
    """The owner of the demo household, with an address that she confirmed."""
    keeper = household.memberships.get().keeper
    keeper.email = ADDRESS
    keeper.save()
    EmailAddress.objects.create(user=keeper, email=ADDRESS, verified=True, primary=True)
    return keeper


def mark() -> str:
    """The mark of a mail that was sent to Ada."""
    send("Today", "Nothing is due.", ADDRESS)
    return str(mail.outbox[-1].message()["Message-ID"])


def report(
    mark: str, *, status: str = "5.1.1", action: str = "failed", address: str = ADDRESS
) -> bytes:
    text = REPORT.format(address=address, status=status, action=action, mark=mark)
    return text.replace("\n", "\r\n").encode()


def test_an_address_that_is_none_is_closed_at_once(ada: Keeper) -> None:
    assert confirmed_address(ada) == ADDRESS
    (noted,) = note_report(report(mark()), now())
    assert noted.is_closed and noted.status == "5.1.1"
    assert noted.said == f"550 5.1.1 <{ADDRESS}>: no such user here"
    assert confirmed_address(ada) == ""


def test_a_full_mailbox_is_closed_at_the_third_time(ada: Keeper) -> None:
    own = mark()
    for n in range(MOST_RETURNS):
        assert confirmed_address(ada) == ADDRESS, n
        note_report(report(own, status="5.2.2"), now())
    assert confirmed_address(ada) == ""


@pytest.mark.parametrize(
    ("status", "action"), [("4.4.1", "delayed"), ("4.2.2", "failed"), ("2.0.0", "delivered")]
)
def test_what_may_still_arrive_is_not_noted(ada: Keeper, status: str, action: str) -> None:
    assert note_report(report(mark(), status=status, action=action), now()) == []
    assert confirmed_address(ada) == ADDRESS


def test_a_forged_report_stops_nobody(ada: Keeper) -> None:
    own = mark()
    forged = re.sub(r"\.[A-Za-z0-9_-]+@", ".AAAAAAAAAAAAAAAAAAAA@", own)
    for one in ("<no-mark@example.org>", forged):
        assert read_report(report(one)) == []
    assert read_report(report(own, address="bob@example.org")) == [], "of another's mail"
    assert ReturnedMail.objects.count() == 0


@pytest.mark.parametrize(
    "body", [b"", b"\x00\xff\xfe", b"Subject: hello\n\nI am away.", b"x" * 9000]
)
def test_any_other_mail_is_nothing(ada: Keeper, body: bytes) -> None:
    assert note_report(body, now()) == []


def test_its_owner_sees_it_and_opens_it_again(client: Client, ada: Keeper, pip: Enclosure) -> None:
    note_report(report(mark()), now())
    for page in ("/daily-email/", "/alarms/"):
        said = client.get(page).content.decode()
        assert "came back" in said and "no such user here" in said, page
    client.post("/daily-email/", {"again": "yes"})
    assert "came back" not in client.get("/alarms/").content.decode()
    assert confirmed_address(ada) == ADDRESS


def test_a_mail_server_pipes_it_in(ada: Keeper, monkeypatch: pytest.MonkeyPatch) -> None:
    class Piped:
        buffer = io.BytesIO(report(mark()))

    monkeypatch.setattr(sys, "stdin", Piped())
    said = io.StringIO()
    call_command("returned_mail", stdout=said)
    assert "1 noted, 1 closed" in said.getvalue()
