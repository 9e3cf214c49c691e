"""Sign-up, sign-in, passwords, limits; the household and its rooms."""

import re
import secrets
from typing import Any

import pytest
from django.core import mail
from django.core.cache import cache
from django.core.exceptions import ImproperlyConfigured
from django.http import HttpRequest, HttpResponse
from django.test import Client, RequestFactory

from ridgeback.animals.models import Animal
from ridgeback.digests.flows import confirmed_address
from ridgeback.enclosures.models import Enclosure
from ridgeback.households import slow_down
from ridgeback.households.models import Household, Keeper, Membership, Room
from ridgeback.households.proxies import TrustedProxies, client_of, networks_of
from ridgeback.settings.secret import required_secret

WORD = "a-long-passphrase-of-five"
ADA = {
    "email": "ada@saltmarsh.example",
    "password1": WORD,
    "first_name": "Ada",
    "household": "Reed Cottage",
}


@pytest.fixture
def ada(db: object) -> Client:
    """Just signed up."""
    cache.clear()
    browser = Client()
    assert browser.post("/sign-up/", ADA)["Location"] == "/add/"
    return browser


def test_signing_up_makes_a_person_a_household_and_their_bond(ada: Client) -> None:
    keeper = Keeper.objects.get(email=ADA["email"])
    membership = Membership.objects.get(keeper=keeper)
    assert (membership.role, membership.household.name, keeper.first_name) == (
        "owner",
        "Reed Cottage",
        "Ada",
    )
    html = ada.get("/").content.decode()
    assert "No enclosure yet" in html and "What do you have?" in html
    assert "Reed Cottage" in ada.get("/household/").content.decode()


def test_who_is_invited_is_told_so_and_needs_no_name_for_a_household(db: object) -> None:
    cache.clear()
    browser = Client()
    for path in ("/sign-in/", "/sign-up/"):
        said = "You are invited to a household"
        assert said in browser.get(f"{path}?next=/join/ABCDE/").content.decode()
        assert said not in browser.get(path).content.decode()
    sent = ADA | {"household": "", "next": "/join/ABCDE/"}
    assert browser.post("/sign-up/", sent)["Location"] == "/join/ABCDE/"
    assert Membership.objects.get(keeper__email=ADA["email"]).household.name == "Ada’s animals"


def test_signing_in_and_out(ada: Client) -> None:
    assert ada.post("/sign-out/").status_code == 302 and ada.get("/").status_code == 302
    browser = Client()
    wrong = browser.post("/sign-in/", {"login": ADA["email"], "password": "no"})
    assert (
        wrong.status_code == 200
        and b'value="ada@saltmarsh.example"' in wrong.content
        and b'role="alert"' in wrong.content
    )
    assert (
        browser.post(
            "/sign-in/", {"login": ADA["email"], "password": WORD, "next": "/household/"}
        )["Location"]
        == "/household/"
    )


@pytest.mark.parametrize(
    ("field", "value", "said"),
    [
        ("email", "no address", "valid email"),
        ("email", "", "required"),
        ("password1", "short", "too short"),
        ("password1", "123456654321", "too common"),
        ("household", "x" * 81, "at most 80"),
        ("first_name", "", "required"),
    ],
)
def test_a_wrong_sign_up_is_said_beside_the_field_and_kept(
    db: object, field: str, value: str, said: str
) -> None:
    cache.clear()
    response = Client().post("/sign-up/", {**ADA, field: value})
    assert response.status_code == 200 and said in response.content.decode()
    assert not Keeper.objects.exclude(username="demo").exists()
    assert not Household.objects.filter(demo_day__isnull=True).exists()
    assert (
        ADA["household"] if field != "household" else ADA["email"]
    ) in response.content.decode()


def test_a_forgotten_password_is_set_anew_by_a_digest_once(ada: Client) -> None:
    browser = Client()
    browser.post("/password/forgotten/", {"email": ADA["email"]})
    digest = mail.outbox[-1]
    found = re.search(r"https?://[^/]+(/password/new/\S+)", digest.body)
    assert found and digest.to == [ADA["email"]] and "Ridgeback" in digest.subject
    form = browser.get(found[1], follow=True)
    address = form.redirect_chain[-1][0]
    new = "another-long-passphrase"
    assert browser.post(address, {"password1": new, "password2": new}).status_code == 302
    assert Client().post("/sign-in/", {"login": ADA["email"], "password": new}).status_code == 302
    assert "used already" in Client().get(found[1], follow=True).content.decode()


def test_an_unknown_address_is_answered_alike(db: object) -> None:
    cache.clear()
    known = Client().post(
        "/password/forgotten/", {"email": "nobody@saltmarsh.example"}, follow=True
    )
    assert "If the address belongs to an account" in known.content.decode()


def test_a_password_is_changed_with_the_old_one(ada: Client) -> None:
    new = "another-long-passphrase"
    wrong = ada.post("/password/", {"oldpassword": "no", "password1": new, "password2": new})
    assert wrong.status_code == 200 and b'role="alert"' in wrong.content
    assert (
        ada.post("/password/", {"oldpassword": WORD, "password1": new, "password2": new})[
            "Location"
        ]
        == "/household/"
    )
    assert Keeper.objects.get(email=ADA["email"]).check_password(new)


def test_the_demos_keeper_has_no_password_to_set(client: Client) -> None:
    assert client.get("/password/", follow=True).status_code == 404


def guess(source: str, word: str = "a wrong one") -> Any:
    """One try to sign in as Ada, from an address."""
    return Client(REMOTE_ADDR=source).post("/sign-in/", {"login": ADA["email"], "password": word})


def test_guessing_slows_down_its_source_and_nobody_else(
    ada: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Eight wrong passwords from anywhere once locked the owner out."""
    clock = [1_000_000.0]
    monkeypatch.setattr(slow_down, "_now_s", lambda: clock[0])
    for _ in range(slow_down.FREE_TRIES):
        assert "Too many wrong" not in guess("203.0.113.9").content.decode()
    slowed = guess("203.0.113.9", WORD)
    assert slowed.status_code == 200 and "Wait 2 seconds" in slowed.content.decode()
    assert guess("198.51.100.4", WORD).status_code == 302  # the owner, elsewhere
    clock[0] += 3
    assert guess("203.0.113.9", WORD).status_code == 302  # the right word, after the wait


def test_a_password_set_by_email_enters_at_once(ada: Client) -> None:
    for _ in range(12):
        guess("203.0.113.9")
    browser = Client(REMOTE_ADDR="203.0.113.9")
    browser.post("/password/forgotten/", {"email": ADA["email"]})
    found = re.search(r"https?://[^/]+(/password/new/\S+)", mail.outbox[-1].body)
    assert found
    address = browser.get(found[1], follow=True).redirect_chain[-1][0]
    new = "another-long-passphrase"
    assert browser.post(address, {"password1": new, "password2": new}).status_code == 302
    assert browser.get("/household/").status_code == 200  # signed in with it
    assert guess("203.0.113.9", new).status_code == 302


def test_sign_up_does_not_tell_who_exists(ada: Client) -> None:
    again = Client().post("/sign-up/", ADA)
    fresh = Client().post("/sign-up/", {**ADA, "email": "grace@saltmarsh.example"})
    assert (again.status_code, again["Location"]) == (fresh.status_code, fresh["Location"])
    assert Keeper.objects.filter(email=ADA["email"]).count() == 2


def confirm(browser: Client) -> None:
    """Follow the link of the last email, and press its button."""
    found = re.search(r"https?://[^/]+(/account/email/\S+)", mail.outbox[-1].body)
    assert found
    assert browser.get(found[1]).status_code == 200
    assert browser.post(found[1]).status_code == 302


def test_an_address_is_confirmed_by_its_owner_before_daily_emails_go_there(ada: Client) -> None:
    keeper = Keeper.objects.get(email=ADA["email"])
    assert mail.outbox[-1].to == [ADA["email"]] and "confirm" in mail.outbox[-1].body
    assert confirmed_address(keeper) == ""
    assert "not confirmed yet" in ada.get("/household/").content.decode()
    confirm(ada)
    assert confirmed_address(keeper) == ADA["email"]
    assert "not confirmed yet" not in ada.get("/household/").content.decode()


def test_a_second_account_of_a_confirmed_address_is_told_by_email_alone(ada: Client) -> None:
    confirm(ada)
    cache.clear()  # one such email in three minutes
    sent = len(mail.outbox)
    Client().post("/sign-up/", ADA)
    (digest,) = mail.outbox[sent:]
    assert digest.to == [ADA["email"]] and "already" in digest.body


def test_a_confirmation_is_sent_again_on_request(ada: Client) -> None:
    cache.clear()
    sent = len(mail.outbox)
    ada.post("/account/email/again/")
    assert len(mail.outbox) == sent + 1


@pytest.mark.parametrize(
    ("peer", "forwarded", "client"),
    [
        ("10.0.0.2", "203.0.113.9", "203.0.113.9"),  # our proxy passed it on
        ("10.0.0.2", "1.2.3.4, 203.0.113.9", "203.0.113.9"),  # what the client wrote stands first
        ("10.0.0.2", "203.0.113.9, 10.0.0.3", "203.0.113.9"),  # two proxies of ours
        ("198.51.100.7", "203.0.113.9", "198.51.100.7"),  # nobody's proxy
        ("10.0.0.2", "", "10.0.0.2"),
        ("10.0.0.2", "no address", "10.0.0.2"),
        ("", "203.0.113.9", ""),
    ],
)
def test_only_trusted_proxies_tell_the_clients_address(
    peer: str, forwarded: str, client: str
) -> None:
    assert client_of(peer, forwarded, networks_of(["10.0.0.0/8"])) == client


def test_the_scheme_is_believed_of_trusted_proxies_alone(settings: Any) -> None:
    settings.TRUSTED_PROXIES = ["10.0.0.0/8"]
    seen: list[dict[str, Any]] = []

    def answer(request: HttpRequest) -> HttpResponse:
        seen.append(dict(request.META))
        return HttpResponse()

    for peer in ("10.0.0.2", "198.51.100.7"):
        meta = {
            "REMOTE_ADDR": peer,
            "HTTP_X_FORWARDED_PROTO": "https",
            "HTTP_X_FORWARDED_FOR": "203.0.113.9",
        }
        request = RequestFactory().get("/", **meta)
        TrustedProxies(answer)(request)
    assert seen[0]["HTTP_X_FORWARDED_PROTO"] == "https" and seen[0]["REMOTE_ADDR"] == "203.0.113.9"
    assert "HTTP_X_FORWARDED_PROTO" not in seen[1] and seen[1]["REMOTE_ADDR"] == "198.51.100.7"


@pytest.mark.parametrize("name", ["10.0.0.0/99", "proxy.example"])
def test_a_proxy_that_is_no_address_stops_the_start(name: str) -> None:
    with pytest.raises(ImproperlyConfigured, match="TRUSTED_PROXIES"):
        networks_of([name])


@pytest.mark.parametrize(
    ("secret", "said"),
    [
        ("", "is missing"),
        ("short-and-sweet", "15 characters"),
        ("ab" * 40, "2 different characters"),
        ("django-insecure-" + "x8Kq" * 20, "examples"),
        ("only-for-tests" + "x8Kq" * 20, "examples"),
    ],
)
def test_a_weak_secret_stops_the_start(secret: str, said: str) -> None:
    with pytest.raises(ImproperlyConfigured, match=said):
        required_secret(secret)


def test_a_secret_of_ones_own_starts() -> None:
    made = secrets.token_urlsafe(50)
    assert required_secret(made) == made


def test_private_pages_are_stored_by_nobody(client: Client, pip: Enclosure) -> None:
    for address in (
        "/",
        f"/enclosures/{pip.pk}/",
        f"/enclosures/{pip.pk}/request.json",
        "/household/",
        "/sign-in/",
    ):
        assert "no-store" in client.get(address)["Cache-Control"]


def test_a_flood_of_sign_ups_is_stopped(db: object) -> None:
    cache.clear()
    answers = [Client().post("/sign-up/", {**ADA, "email": "x"}).status_code for _ in range(24)]
    assert answers[0] == 200 and answers[-1] == 429


ROOM = {
    "name": "Attic",
    "time_zone": "Europe/Lisbon",
    "latitude_deg": "38.7",
    "longitude_deg": "-9.1",
    "day_c": "72 F",
    "night_c": "17",
    "summer_max_c": "31",
    "rh_pct": "60",
}


def test_a_room_is_made_changed_and_removed(client: Client, household: Household) -> None:
    assert client.post("/rooms/new/", ROOM).status_code == 302
    room = Room.objects.get(name="Attic")
    assert (
        room.household == household
        and room.day_c == pytest.approx(22.22, abs=0.01)
        and room.rh_pct == 60
    )
    client.post("/preferences/", {"units_temperature": "f"})
    page = client.get(f"/rooms/{room.pk}/").content.decode()
    assert 'value="72 °F"' in page
    client.post(
        f"/rooms/{room.pk}/", {**ROOM, "day_c": "72 °F", "night_c": "63 F", "summer_max_c": "88 F"}
    )
    assert Room.objects.get(pk=room.pk).day_c == pytest.approx(22.22, abs=0.01)
    client.post(f"/rooms/{room.pk}/remove/")
    assert not Room.objects.filter(name="Attic").exists()


def test_a_room_with_enclosures_stays(client: Client, pip: Enclosure) -> None:
    said = client.post(f"/rooms/{pip.room_id}/remove/", follow=True).content.decode()
    assert "Enclosures stand in" in said and Room.objects.filter(pk=pip.room_id).exists()


@pytest.mark.parametrize(
    ("field", "value", "said"),
    [
        ("name", "Back room", "already"),
        ("time_zone", "Atlantis/Capital", "not a time zone"),
        ("latitude_deg", "north", "number"),
        ("latitude_deg", "95", ""),
        ("day_c", "95", "°F"),
        ("day_c", "warm", "number"),
        ("summer_max_c", "10 C", "no cooler"),
        ("rh_pct", "150", ""),
        ("longitude_deg", "400", ""),
    ],
)
def test_a_wrong_room_is_said_beside_the_field(
    client: Client, field: str, value: str, said: str
) -> None:
    response = client.post("/rooms/new/", {**ROOM, field: value})
    html = response.content.decode()
    assert (
        response.status_code == 200
        and 'role="alert"' in html
        and said in html
        and f'value="{value}"' in html
    )
    assert not Room.objects.filter(name="Attic").exists()


def test_a_household_is_renamed_and_its_room_changes_its_plans(
    client: Client, household: Household, pip: Enclosure
) -> None:
    client.post("/household/", {"name": "Marsh House"})
    assert Household.objects.get(pk=household.pk).name == "Marsh House"
    assert client.post("/household/", {"name": ""}).status_code == 200
    client.get("/")
    room = pip.room
    told = {
        "name": room.name,
        "time_zone": room.time_zone,
        "latitude_deg": "52.9",
        "longitude_deg": "-3.4",
        "rh_pct": "55",
    }
    client.post(
        f"/rooms/{room.pk}/", {**told, "day_c": "12", "night_c": "8", "summer_max_c": "26"}
    )
    assert set(Enclosure.objects.values_list("looked_on", flat=True)) == {None}
    assert client.get(f"/enclosures/{pip.pk}/").context["view"].needs[0].predicted.text < "30"


def test_animals_stay_with_their_household(ada: Client, household: Household) -> None:
    assert Animal.objects.filter(household=household).count() == 4
    assert "Pip" not in ada.get("/").content.decode()
