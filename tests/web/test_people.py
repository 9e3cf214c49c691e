"""Members, invitations, roles, personal links: who comes in, and what each may open."""

import datetime as dt
import re
from typing import Any

import pytest
from django.core import mail
from django.db import IntegrityError, transaction
from django.test import Client
from django.utils import timezone

from ridgeback.enclosures.models import Enclosure
from ridgeback.households import doors
from ridgeback.households import flows as household_flows
from ridgeback.households.models import Household, Keeper, Membership
from ridgeback.log.models import LogEntry
from ridgeback.people import flows
from ridgeback.people.models import Invitation, PersonalLink, hash_of_code, new_code
from tests import clocks
from tests.web.test_access import addresses

ROLES = ("owner", "keeper", "sitter")


def day(n: int) -> str:
    return (clocks.today() + dt.timedelta(days=n)).isoformat()


def owner_of(household: Household) -> Keeper:
    found = household.memberships.get(role="owner").keeper
    assert isinstance(found, Keeper)
    return found


def dated(typed: dict[str, Any]) -> dict[str, Any]:
    """Days that are written as “day 3”, by the clock of the test and not of its collection."""
    return {
        name: day(int(value.split()[1])) if str(value).startswith("day ") else value
        for name, value in typed.items()
    }


def member(household: Household, role: str, *, first: int = -1, last: int = 5) -> Client:
    """A new person of that role, signed in."""
    keeper = Keeper.objects.create_user(f"{role}{Keeper.objects.count()}", first_name=role.title())
    dates = {}
    if role == "sitter":
        dates = {
            "from_on": clocks.today() + dt.timedelta(days=first),
            "until_on": clocks.today() + dt.timedelta(days=last),
        }
    Membership.objects.create(household=household, keeper=keeper, role=role, **dates)
    client = Client()
    client.force_login(keeper)
    return client


def invited(client: Client, **typed: str) -> Any:
    usual = {"role": "keeper", "email": "", "from_on": "", "until_on": ""}
    return client.post("/household/people/invite/", usual | dated(typed), follow=True)


def code_of(answer: Any) -> str:
    return str(answer.context["shown"]["code"])


# --- the table of doors --------------------------------------------------------------------------


def test_every_door_of_the_table_leads_somewhere(pip: Enclosure) -> None:
    """A view that was renamed would open or close without anybody noticing."""
    known = {name for name, _ in addresses(pip.pk, pip.room_id, pip.present[0].animal_id)}
    named = set(doors.SITTER) | doors.OWNER_ONLY | doors.OWNER_WRITES
    assert named - known == set()


@pytest.mark.parametrize("method", ["get", "post"])
@pytest.mark.parametrize("role", ROLES)
def test_each_role_opens_its_doors_and_no_others(
    household: Household, pip: Enclosure, role: str, method: str
) -> None:
    """All addresses, both methods, every role: what the table closes answers 403."""
    client = member(household, role)
    every = addresses(pip.pk, pip.room_id, pip.present[0].animal_id)
    checked = 0
    for name, address in every:
        view = name.removeprefix(":").replace("None", "")
        if view in {"account_logout", "demo:open"} or doors.may(role, view, method.upper()):
            continue
        answer = getattr(client, method)(address)
        assert answer.status_code == 403, f"{role} {method} {name}: {answer.status_code}"
        checked += 1
    assert checked == 0 if role == "owner" else checked > 5


def test_a_sitter_sees_tasks_and_none_of_the_tools(household: Household, pip: Enclosure) -> None:
    client = member(household, "sitter")
    page = client.get("/today/").content.decode()
    assert "Pip’s enclosure" in page and "/supplies/" not in page and "/add/" not in page
    assert client.get(f"/enclosures/{pip.pk}/").status_code == 200
    assert client.post(f"/enclosures/{pip.pk}/apply/").status_code == 403


@pytest.mark.parametrize(("first", "last"), [(1, 5), (-9, -1)])
def test_a_sitter_comes_in_on_the_days_agreed_alone(
    household: Household, pip: Enclosure, first: int, last: int
) -> None:
    client = member(household, "sitter", first=first, last=last)
    for path in ("/today/", f"/enclosures/{pip.pk}/"):
        assert client.get(path)["Location"] == "/household/begin/"
    said = client.get("/household/begin/").content.decode()
    assert f"{household.name} is open to you from" in said


# --- invitations ---------------------------------------------------------------------------------


def test_an_invitation_lets_one_person_in_once(
    client: Client, household: Household, pip: Enclosure
) -> None:
    code = code_of(invited(client))
    newcomer = Client()
    newcomer.force_login(Keeper.objects.create_user("new", first_name="Nell"))
    assert "invites you to" in newcomer.get(f"/join/{code}/").content.decode()
    assert household.memberships.count() == 1, "a link that is only looked at changes nothing"
    newcomer.post(f"/join/{code}/", {"sure": "yes"})
    made = household.memberships.get(keeper__username="new")
    assert made.role == "keeper" and newcomer.get(f"/enclosures/{pip.pk}/").status_code == 200
    third = Client()
    third.force_login(Keeper.objects.create_user("third"))
    answer = third.post(f"/join/{code}/", {"sure": "yes"})
    assert "was used" in answer.content.decode() and household.memberships.count() == 2


def test_a_code_is_read_however_it_is_typed(client: Client, household: Household) -> None:
    code = code_of(invited(client))
    newcomer = Client()
    newcomer.force_login(Keeper.objects.create_user("new"))
    typed = f" {code.lower().replace('-', ' ')} "
    assert "invites you to" in newcomer.post("/join/", {"code": typed}).content.decode()
    assert hash_of_code(typed) == hash_of_code(code)


def test_an_invitation_by_email_carries_its_link(client: Client, household: Household) -> None:
    invited(client, email="nell@example.org")
    (sent,) = mail.outbox
    found = re.search(r"http://testserver(/join/[A-Z0-9-]+/)", sent.body)
    assert sent.to == ["nell@example.org"] and found is not None
    assert Invitation.objects.get().code_hash not in sent.body


def test_the_demo_sends_no_email(client: Client, household: Household) -> None:
    Household.objects.filter(pk=household.pk).update(visit_ends=timezone.now())
    answer = invited(client, email="nell@example.org")
    assert "sends no email" in str(answer.context["invite"].errors) and not mail.outbox


def test_who_has_no_account_yet_signs_up_and_comes_back(
    client: Client, household: Household
) -> None:
    code = code_of(invited(client))
    newcomer = Client()
    door = newcomer.get(f"/join/{code}/", follow=True)
    link = re.search(r'href="(/sign-up/\?next=[^"]+)"', door.content.decode())
    assert link is not None
    facts = {"email": "nell@example.org", "password1": "a-long-passphrase-7", "first_name": "Nell"}
    answer = newcomer.post(
        link[1].replace("&amp;", "&"), {**facts, "household": "Newfield", "next": f"/join/{code}/"}
    )
    assert answer["Location"] == f"/join/{code}/"


def test_what_ran_out_or_was_taken_back_lets_nobody_in(
    client: Client, household: Household
) -> None:
    newcomer = Client()
    newcomer.force_login(Keeper.objects.create_user("new"))
    late = code_of(invited(client))
    Invitation.objects.update(expires_at=timezone.now() - dt.timedelta(minutes=1))
    assert "ran out" in newcomer.post(f"/join/{late}/", {"sure": "yes"}).content.decode()
    Invitation.objects.all().delete()
    taken = code_of(invited(client))
    client.post("/household/people/revoke/", {"invitation": Invitation.objects.get().pk})
    assert "taken back" in newcomer.post(f"/join/{taken}/", {"sure": "yes"}).content.decode()
    assert household.memberships.count() == 1


def test_nobody_is_invited_into_where_they_are(client: Client, household: Household) -> None:
    code = code_of(invited(client))
    assert "already" in client.get(f"/join/{code}/").content.decode()


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"role": "sitter"}, "from_on"),
        ({"role": "sitter", "from_on": "day 3", "until_on": "day 1"}, "until_on"),
        ({"role": "sitter", "from_on": "day -9", "until_on": "day -5"}, "until_on"),
        ({"role": "sitter", "from_on": "day 0", "until_on": "day 900"}, "until_on"),
        ({"role": "emperor"}, "role"),
        ({"email": "nobody"}, "email"),
    ],
)
def test_a_wrong_invitation_is_answered_beside_its_field(
    client: Client, household: Household, typed: dict[str, str], field: str
) -> None:
    assert field in invited(client, **typed).context["invite"].errors
    assert not Invitation.objects.exists()


def test_oneself_is_not_invited(client: Client, household: Household) -> None:
    owner = owner_of(household)
    owner.email = "me@example.org"
    owner.save()
    answer = invited(client, email="ME@example.org")
    assert "your own address" in str(answer.context["invite"].errors)


def test_guessing_codes_is_slowed_down(client: Client, household: Household) -> None:
    for _ in range(5):
        assert client.post("/join/", {"code": new_code()}).status_code == 404
    assert client.post("/join/", {"code": new_code()}).status_code == 429


# --- roles ---------------------------------------------------------------------------------------


def test_the_last_owner_stays(client: Client, household: Household) -> None:
    mine = household.memberships.get()
    client.post("/household/leave/")
    client.post("/household/people/role/", {"member": mine.pk, "role": "keeper"})
    client.post("/household/people/remove/", {"member": mine.pk})
    assert household.memberships.get().role == "owner"


def test_who_is_let_in_and_out_is_logged_by_keys(
    household: Household, caplog: pytest.LogCaptureFixture
) -> None:
    caplog.set_level("INFO", logger="ridgeback.security")
    keeper = Keeper.objects.create_user("joined", first_name="Nell")
    owner = household.memberships.get().keeper
    invitation, _ = flows.invite(household, "keeper", keeper=owner, now=timezone.now())
    member = flows.join(invitation, keeper, now=timezone.now())
    flows.change_role(member, "owner")
    flows.remove(member)
    told = [(one.getMessage(), getattr(one, "role", "")) for one in caplog.records]
    assert told == [("joined", "keeper"), ("role changed", "owner"), ("left or removed", "owner")]
    assert "Nell" not in caplog.text


def test_a_household_is_handed_over(client: Client, household: Household) -> None:
    other = member(household, "keeper")
    theirs = household.memberships.get(role="keeper")
    client.post("/household/people/role/", {"member": theirs.pk, "role": "owner"})
    client.post("/household/leave/")
    assert household.memberships.get() == theirs
    assert other.get("/household/people/").status_code == 200
    assert client.get("/household/people/")["Location"] == "/household/begin/"


def test_who_is_in_no_household_is_led_to_begin_one(client: Client, household: Household) -> None:
    other = member(household, "keeper")
    other.post("/household/leave/")
    for path in ("/", "/today/", "/animals/", "/household/", "/second-look/"):
        assert other.get(path)["Location"] == "/household/begin/"
    for path in ("/account/", "/join/", "/practice/", "/species/", "/help/", "/household/begin/"):
        assert other.get(path).status_code == 200, path
    empty = other.post("/household/begin/", {"name": " "})
    assert empty.context["form"].errors["name"]
    Keeper.objects.filter(username__startswith="keeper").update(email="nell@saltmarsh.example")
    begun = other.post("/household/begin/", {"name": "Reed House"})
    assert begun["Location"] == "/add/"
    assert other.get("/household/").context["household"].name == "Reed House"
    assert Household.objects.get(name="Reed House").memberships.get().role == "owner"


def test_households_of_one_owner_are_bounded_and_the_demo_keeps_to_its_own(
    client: Client, household: Household, monkeypatch: pytest.MonkeyPatch
) -> None:
    owner = household.memberships.get().keeper
    for email, most in (("ada@saltmarsh.example", 1), ("", 20)):
        Keeper.objects.filter(pk=owner.pk).update(email=email)
        monkeypatch.setattr(household_flows, "OWN_MOST", most)
        answer = client.post("/household/begin/", {"name": "One more"})
        assert answer.context["form"].non_field_errors()
    assert not Household.objects.filter(name="One more").exists()


def test_a_member_is_removed_at_once(client: Client, household: Household, pip: Enclosure) -> None:
    other = member(household, "keeper")
    assert other.get(f"/enclosures/{pip.pk}/").status_code == 200
    theirs = household.memberships.get(role="keeper")
    client.post("/household/people/remove/", {"member": theirs.pk})
    assert other.get(f"/enclosures/{pip.pk}/")["Location"] == "/household/begin/"


def test_a_member_of_another_household_is_nobody_here(
    client: Client, stranger: Client, household: Household
) -> None:
    mine = household.memberships.get()
    for act in ("role/", "remove/"):
        answer = stranger.post(f"/household/people/{act}", {"member": mine.pk, "role": "keeper"})
        assert answer.status_code == 404
    assert household.memberships.get().role == "owner"


def test_two_owners_cannot_leave_at_once(household: Household) -> None:
    """The second finds itself the last."""
    member(household, "owner")
    first, second = household.memberships.all()
    flows.remove(first)
    with pytest.raises(flows.PeopleError, match="without an owner"):
        flows.remove(second)


def test_who_is_in_two_households_changes_between_them(
    client: Client, household: Household
) -> None:
    other = Household.objects.create(name="Second House")
    Membership.objects.create(household=other, keeper=owner_of(household), role="keeper")
    page = client.get("/household/").content.decode()
    assert "Second House" in page and household.name in page
    client.post("/household/switch/", {"household": other.pk})
    assert client.get("/household/").context["household"] == other
    client.post("/household/switch/", {"household": 999_999})
    assert client.get("/household/").context["household"] == other


# --- personal links ------------------------------------------------------------------------------


def linked(client: Client, **typed: Any) -> Any:
    usual = {"kind": "sitter", "name": "Jo next door", "from_on": day(0), "until_on": day(9)}
    return client.post("/household/people/links/", usual | dated(typed), follow=True)


def path_of(answer: Any) -> str:
    return str(answer.context["shown"]["address"]).removeprefix("http://testserver")


def test_a_sitter_without_an_account_does_todays_tasks(
    client: Client, household: Household, pip: Enclosure
) -> None:
    path = path_of(linked(client))
    nobody = Client()
    page = nobody.get(path)
    assert page.status_code == 200 and "Pip’s enclosure" in page.content.decode()
    card = next(one for one in page.context["cards"] if one.enclosure == pip)
    task = next(one for one in card.tasks if one.kind == "water")
    sent = {"task": task.name, "log_request": task.log_request, "outcome": "done"}
    assert nobody.post(f"{path}{pip.pk}/", sent).status_code == 302
    entry = LogEntry.objects.get(enclosure=pip, stem="water", on=clocks.today())
    assert entry.by is None and entry.by_name == "Jo next door"
    assert "Jo next door" in client.get("/log/").content.decode(), "who did it is visible"
    again = nobody.post(f"{path}{pip.pk}/", sent)
    assert again.status_code == 200 and "done already" in again.content.decode()


def test_a_link_opens_nothing_else(client: Client, household: Household, pip: Enclosure) -> None:
    path = path_of(linked(client))
    nobody = Client()
    nobody.get(path)
    for address in ("/today/", f"/enclosures/{pip.pk}/", "/household/"):
        assert "/sign-in/" in nobody.get(address)["Location"]
    assert nobody.get(path.replace("/sitter/", "/shown/")).status_code == 404


def test_a_link_is_closed_at_once(client: Client, household: Household) -> None:
    path = path_of(linked(client))
    client.post("/household/people/links/close/", {"link": PersonalLink.objects.get().pk})
    answer = Client().get(path)
    assert answer.status_code == 403 and "link is closed" in answer.content.decode()


@pytest.mark.parametrize(
    ("first", "last", "said"), [(2, 9, "It opens on"), (-9, -1, "open until")]
)
def test_a_link_opens_on_its_days_alone(
    client: Client, household: Household, first: int, last: int, said: str
) -> None:
    path = path_of(linked(client))
    PersonalLink.objects.update(
        from_on=clocks.today() + dt.timedelta(days=first),
        until_on=clocks.today() + dt.timedelta(days=last),
    )
    answer = Client().get(path)
    assert answer.status_code == 403 and said in answer.content.decode()


def test_a_viewer_sees_the_animals_that_were_chosen_and_no_others(
    client: Client, household: Household
) -> None:
    chosen = household.animals.get(name="Bramble")
    path = path_of(linked(client, kind="viewer", animals=[chosen.pk]))
    page = Client().get(path).content.decode()
    assert "Bramble" in page and "Fathom" not in page
    assert Client().post(path).status_code == 405


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"name": " "}, "name"),
        ({"from_on": "day -9", "until_on": "day -3"}, "until_on"),
        ({"from_on": ""}, "from_on"),
        ({"kind": "viewer"}, "animals"),
        ({"kind": "viewer", "animals": ["999999"]}, "animals"),
    ],
)
def test_a_wrong_link_is_answered_beside_its_field(
    client: Client, household: Household, typed: dict[str, Any], field: str
) -> None:
    assert field in linked(client, **typed).context["link"].errors
    assert not PersonalLink.objects.exists()


def test_secrets_are_kept_as_their_hashes(client: Client, household: Household) -> None:
    path = path_of(linked(client))
    kept = PersonalLink.objects.get().secret_hash
    assert kept not in path and len(kept) == 64
    assert path not in client.get("/household/people/").content.decode(), "shown once"


@pytest.mark.parametrize("secret", ["x", "' or 1=1", "%00", "a" * 500])
def test_a_wrong_secret_is_not_found(household: Household, secret: str) -> None:
    for kind in ("sitter", "shown"):
        assert Client().get(f"/{kind}/{secret}/").status_code == 404


def test_the_database_refuses_undated_sitters(household: Household) -> None:
    with pytest.raises(IntegrityError), transaction.atomic():
        Membership.objects.create(
            household=household, keeper=Keeper.objects.create_user("x"), role="sitter"
        )
