"""A person's own account: another address, sessions that are ended, and an end with a week's grace."""

import datetime as dt
import re
from pathlib import Path

import allauth
import pytest
from allauth.account.models import EmailAddress
from allauth.mfa.totp.internal import auth as totp_auth
from allauth.usersessions.models import UserSession
from django.core import mail
from django.template.loader import get_template
from django.test import Client
from django.utils import timezone

import ridgeback
from ridgeback.accounts import flows
from ridgeback.animals.models import Animal
from ridgeback.households.models import Household, Keeper, Membership
from ridgeback.operations.security_log import EVENTS, FAILURES

WORD = "a-long-passphrase-7"


@pytest.fixture
def ada(household: Household) -> Keeper:
    """The owner, with an address and a password."""
    keeper = household.memberships.get().keeper
    keeper.set_password(WORD)
    keeper.email = "ada@saltmarsh.example"
    keeper.save()
    EmailAddress.objects.create(user=keeper, email=keeper.email, primary=True, verified=True)
    return keeper


def signed_in(keeper: Keeper, agent: str = "a phone") -> Client:
    client = Client(headers={"user-agent": agent})
    client.post("/sign-in/", {"login": keeper.email, "password": WORD})
    assert client.get("/account/").status_code == 200
    return client


def test_sessions_are_listed_and_ended(ada: Keeper) -> None:
    here = signed_in(ada, "Mozilla/5.0 (X11; Linux x86_64; rv:1) Gecko/1 Firefox/1")
    phone = "Mozilla/5.0 (Linux; Android 15) AppleWebKit/1 (KHTML, like Gecko) Chrome/1 Safari/1"
    there = signed_in(ada, phone)
    page = here.get("/account/").content.decode()
    assert "Firefox on Linux" in page and "Chrome on Android" in page
    other = UserSession.objects.get(user_agent=phone)
    here.post("/account/sessions/end/", {"session": other.pk})
    assert "/sign-in/" in there.get("/account/")["Location"]
    assert here.get("/account/").status_code == 200


def test_all_other_sessions_are_ended_at_once(ada: Keeper) -> None:
    here = signed_in(ada)
    others = [signed_in(ada, f"browser {n}") for n in range(3)]
    here.post("/account/sessions/end/")
    assert all(one.get("/account/").status_code == 302 for one in others)
    assert here.get("/account/").status_code == 200


def test_nobody_ends_the_session_of_another(ada: Keeper, stranger: Client) -> None:
    signed_in(ada)
    mine = UserSession.objects.get(user=ada)
    stranger.post("/account/sessions/end/", {"session": mine.pk})
    assert UserSession.objects.filter(pk=mine.pk).exists()


def test_another_address_counts_once_its_link_was_opened(ada: Keeper) -> None:
    client = signed_in(ada)
    posted = {"email": "new@saltmarsh.example", "action_add": "yes"}
    asked = client.post("/account/email/", posted)
    client.post(asked["Location"], {"password": WORD})
    assert EmailAddress.objects.get_primary(ada).email == "ada@saltmarsh.example"
    sent = next(one for one in mail.outbox if one.to == ["new@saltmarsh.example"])
    link = re.search(r"http://testserver(/account/email/[^\s]+)", sent.body)
    assert link is not None
    client.post(link[1])
    assert EmailAddress.objects.get_primary(ada).email == "new@saltmarsh.example"
    told = [one for one in mail.outbox if one.to == ["ada@saltmarsh.example"]]
    assert told, "the old address is told"


def test_another_address_asks_for_the_password_and_loses_nothing(ada: Keeper) -> None:
    client = signed_in(ada)
    posted = {"email": "new@saltmarsh.example", "action_add": "yes"}
    asked = client.post("/account/email/", posted)
    assert asked.status_code == 302 and asked["Location"].startswith("/account/again/")
    assert "Your password, once more" in client.get(asked["Location"]).content.decode()
    client.post(asked["Location"], {"password": "a wrong word 99"})
    assert not any(one.to == ["new@saltmarsh.example"] for one in mail.outbox)
    client.post(asked["Location"], {"password": WORD})
    assert any(one.to == ["new@saltmarsh.example"] for one in mail.outbox), (
        "what was typed goes on"
    )


@pytest.mark.parametrize("email", ["nobody", "", "a@b"])
def test_what_is_no_address_is_said(ada: Keeper, email: str) -> None:
    answer = signed_in(ada).post("/account/email/", {"email": email, "action_add": "yes"})
    assert answer.status_code == 200 and answer.context["form"].errors["email"]


def test_an_account_ends_after_a_week_with_what_is_its_own(
    ada: Keeper, household: Household
) -> None:
    client = signed_in(ada)
    client.post("/account/close/", {"password": WORD})
    ada.refresh_from_db()
    assert ada.closes_at is not None and "ends on" in client.get("/account/").content.decode()
    assert flows.close_due(timezone.now() + dt.timedelta(days=6)) == 0
    assert Animal.objects.filter(household=household).exists()
    assert flows.close_due(timezone.now() + dt.timedelta(days=8)) == 1
    assert not Keeper.objects.filter(pk=ada.pk).exists()
    assert not Household.objects.filter(pk=household.pk).exists()


def test_the_end_is_taken_back(ada: Keeper) -> None:
    client = signed_in(ada)
    client.post("/account/close/", {"password": WORD})
    client.post("/account/keep/")
    assert flows.close_due(timezone.now() + dt.timedelta(days=30)) == 0


def test_a_wrong_password_ends_nothing(ada: Keeper) -> None:
    answer = signed_in(ada).post("/account/close/", {"password": "guess"})
    assert "not your password" in answer.content.decode()
    ada.refresh_from_db()
    assert ada.closes_at is None


def test_the_last_owner_hands_the_household_over_first(ada: Keeper, household: Household) -> None:
    other = Keeper.objects.create_user("other")
    member = Membership.objects.create(household=household, keeper=other, role="keeper")
    answer = signed_in(ada).post("/account/close/", {"password": WORD})
    assert "make one of them an owner first" in answer.content.decode()
    member.role = "owner"
    member.save()
    flows.ask_to_close(ada, timezone.now())
    assert flows.close_due(timezone.now() + dt.timedelta(days=8)) == 1
    assert Household.objects.filter(pk=household.pk).exists(), "others are in it"


def test_who_was_joined_meanwhile_is_not_deleted_with_it(
    ada: Keeper, household: Household
) -> None:
    flows.ask_to_close(ada, timezone.now())
    other = Keeper.objects.create_user("other")
    Membership.objects.create(household=household, keeper=other, role="keeper")
    assert flows.close_due(timezone.now() + dt.timedelta(days=8)) == 0
    assert Household.objects.filter(pk=household.pk).exists()


def test_the_demo_has_sessions_and_no_password(client: Client, household: Household) -> None:
    page = client.get("/account/").content.decode()
    assert "trying the demo" in page or "End my account" in page


def code_now(secret: str) -> str:
    """What an authenticator app shows now (RFC 6238)."""
    return totp_auth.format_hotp_value(totp_auth.hotp_value(secret, next(iter(counters()))))


def counters() -> list[int]:
    found: list[int] = totp_auth.yield_hotp_counters_from_time()
    return list(found)


def test_the_second_step_is_set_up_asked_for_and_taken_off(
    ada: Keeper, monkeypatch: pytest.MonkeyPatch
) -> None:
    client = signed_in(ada)
    asked = client.get("/account/second-step/totp/activate/")
    again = client.post(asked["Location"], {"password": WORD})
    assert again["Location"] == "/account/second-step/totp/activate/"
    page = client.get("/account/second-step/totp/activate/")
    secret = page.context["form"].secret
    assert "data:image/svg+xml" in page.content.decode()
    wrong = client.post("/account/second-step/totp/activate/", {"code": "000000"})
    assert wrong.status_code == 200 and wrong.context["form"].errors["code"]
    with monkeypatch.context() as at_once:  # the test's own transaction is never committed
        flows_of = "allauth.mfa.totp.internal.flows.transaction.on_commit"
        at_once.setattr(flows_of, lambda send: send())
        told = client.post("/account/second-step/totp/activate/", {"code": code_now(secret)})
    assert told["Location"] == "/account/second-step/recovery-codes/"
    codes = client.get(told["Location"]).context["unused_codes"]
    assert len(codes) == 10
    assert any("authenticator" in one.body.lower() for one in mail.outbox), "told by email"
    other = Client()
    asked = other.post("/sign-in/", {"login": ada.email, "password": WORD})
    assert asked["Location"].startswith("/account/second-step/authenticate/")
    assert other.get("/account/").status_code == 302, "a password alone lets nobody in"
    assert "second step" in other.get(asked["Location"]).content.decode()
    other.post(asked["Location"], {"code": codes[0]})
    assert other.get("/account/").status_code == 200, "a recovery code does, once"
    third = Client()
    asked = third.post("/sign-in/", {"login": ada.email, "password": WORD})
    third.post(asked["Location"], {"code": codes[0]})
    assert third.get("/account/").status_code == 302
    client.post("/account/second-step/totp/deactivate/")
    assert "Set it up" in client.get("/account/").content.decode()


def test_what_happens_to_an_account_is_logged_without_its_address(
    ada: Keeper, caplog: pytest.LogCaptureFixture
) -> None:
    """By its key; whoever guesses is counted."""
    caplog.set_level("INFO", logger="ridgeback.security")
    client = signed_in(ada)
    Client().post("/sign-in/", {"login": ada.email, "password": "a wrong word 99"})
    asked = {"oldpassword": WORD, "password1": f"{WORD}x", "password2": f"{WORD}x"}
    client.post("/password/", asked)
    client.post("/sign-out/")
    told = [(one.getMessage(), getattr(one, "account", None)) for one in caplog.records]
    assert [one for one in told if one[0] in EVENT_NAMES] == [
        ("signed in", ada.pk),
        ("sign-in failed", None),
        ("password changed", ada.pk),
        ("signed out", ada.pk),
    ]
    assert ada.email not in caplog.text and WORD not in caplog.text


EVENT_NAMES = {name for _, name in (*EVENTS, *FAILURES)}


UNUSED = ("login_code", "password_reset_code")
"""Letters of ways in that are not offered."""


@pytest.mark.parametrize("package", ["account", "mfa"])
def test_every_letter_of_the_account_is_in_our_words(package: str) -> None:
    kept = Path(allauth.__file__).parent / "templates" / package / "email"
    for letter in kept.glob("*.txt"):
        if letter.name.startswith(UNUSED):
            continue
        name = f"{package}/email/{letter.name}"
        used = get_template(name).origin.name  # type: ignore[attr-defined]
        includes_ours = "confirmation_signup" in name
        assert includes_ours or Path(used).is_relative_to(Path(ridgeback.__file__).parent), name
