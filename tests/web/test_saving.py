"""Nothing typed is saved twice, and nothing saved is overwritten unseen."""

import threading
import uuid
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
from django.db import connection
from django.test import Client

from ridgeback.breeding.models import Clutch, EggLook
from ridgeback.clock import now
from ridgeback.demo import household as demo
from ridgeback.enclosures.models import Enclosure, Reading
from ridgeback.households.models import Household, Keeper, Room
from tests.web.conftest import fields, last_lit

CLIENTS = 8


def at_once(post: Callable[[Client, int], Any], clients: int = CLIENTS) -> list[Any]:
    """The answers to the same post, sent by so many browsers in the same moment."""
    gate = threading.Barrier(clients)
    keeper = Keeper.objects.get(username="demo")

    def send(n: int) -> Any:
        try:
            browser = Client(raise_request_exception=False)
            browser.force_login(keeper)
            gate.wait(20)
            return post(browser, n)
        finally:
            connection.close()

    with ThreadPoolExecutor(clients) as pool:
        return list(pool.map(send, range(clients)))


@pytest.fixture
def loaded(transactional_db: Any) -> Household:
    """The demo household, committed, for several connections."""
    return demo.load(now(), beginnings=False)


def test_eight_simultaneous_saves_make_one_revision(loaded: Household) -> None:
    """Once, whoever had waited for the lock read the head of before, and answered 500."""
    pip = Enclosure.objects.for_planning().get(name="Pip’s enclosure")
    browser = Client()
    browser.force_login(Keeper.objects.get(username="demo"))
    typed = fields(browser, pip)
    z = typed["item-lamp-1-z"]

    def save(client: Client, n: int) -> Any:
        data = {**typed, "item-lamp-1-z": f"{float(z.split()[0]) - 1 - 0.3 * n:.1f} cm"}
        return client.post(f"/enclosures/{pip.pk}/save/", data)

    answers = at_once(save)
    codes = [answer.status_code for answer in answers]
    assert sorted(codes) == [200] * (CLIENTS - 1) + [302]
    assert pip.revisions.count() == 2
    assert sum("changed meanwhile" in answer.content.decode() for answer in answers) == CLIENTS - 1


@pytest.mark.parametrize("action", ["undo", "built"])
def test_other_saves_of_an_enclosure_are_stale_and_no_error(
    loaded: Household, action: str
) -> None:
    pip = Enclosure.objects.get(name="Pip’s enclosure")
    answers = at_once(
        lambda client, n: client.post(f"/enclosures/{pip.pk}/{action}/", {"revision": "1"})
    )
    assert {answer.status_code for answer in answers} == {302}


def test_a_room_made_twice_at_once_is_one_room(loaded: Household) -> None:
    facts = {
        "name": "Attic",
        "time_zone": "Europe/Lisbon",
        "day_c": "21",
        "night_c": "18",
        "summer_max_c": "28",
        "rh_pct": "50",
    }
    answers = at_once(lambda client, n: client.post("/rooms/new/", facts))
    assert sorted(answer.status_code for answer in answers) == [200] * (CLIENTS - 1) + [302]
    assert loaded.rooms.filter(name="Attic").count() == 1


# --- sent twice -----------------------------------------------------------------------------------


def key() -> str:
    return str(uuid.uuid4())


def test_a_weight_sent_twice_is_one_weight(client: Client, household: Household) -> None:
    animal = household.animals.get(name="Pip")
    weight = {
        "mass": f"{animal.mass_g():g} g",
        "on": animal.day_of(now()).isoformat(),
        "form_key": key(),
    }
    before = animal.weighings.count()
    for _ in range(3):
        assert client.post(f"/animals/{animal.pk}/weigh/", weight).status_code == 302
    assert animal.weighings.count() == before + 1
    client.post(f"/animals/{animal.pk}/weigh/", {**weight, "form_key": key()})
    assert animal.weighings.count() == before + 2


def test_a_weight_sent_eight_times_at_once_is_one_weight(loaded: Household) -> None:
    animal = loaded.animals.get(name="Pip")
    weight = {
        "mass": f"{animal.mass_g():g} g",
        "on": animal.day_of(now()).isoformat(),
        "form_key": key(),
    }
    before = animal.weighings.count()
    answers = at_once(lambda client, n: client.post(f"/animals/{animal.pk}/weigh/", weight))
    assert {answer.status_code for answer in answers} == {302}
    assert animal.weighings.count() == before + 1


def test_a_length_sent_twice_is_one_length(client: Client, household: Household) -> None:
    animal = household.animals.get(name="Pip")
    kind, mm = max(animal.length_mm().items())
    length = {
        "length": f"{mm:g} mm",
        "kind": kind,
        "on": animal.day_of(now()).isoformat(),
        "form_key": key(),
    }
    before = animal.lengths.count()
    for _ in range(2):
        assert client.post(f"/animals/{animal.pk}/measure/", length).status_code == 302
    assert animal.lengths.count() == before + 1


def test_a_reading_sent_twice_is_one_reading(client: Client, pip: Enclosure) -> None:
    reading = {
        "need": "warm_air_day",
        "value": "27 °C",
        "at": last_lit(),
        "instrument": "probe",
        "form_key": key(),
    }
    before = Reading.objects.filter(enclosure=pip).count()
    for _ in range(2):
        assert client.post(f"/enclosures/{pip.pk}/readings/", reading).status_code == 302
    assert Reading.objects.filter(enclosure=pip).count() == before + 1


def test_a_clutch_and_its_checks_sent_twice_are_one(client: Client, household: Household) -> None:
    mother = household.animals.get(name="Bramble")
    today = household.day_of(now()).isoformat()
    clutch = {"mother": str(mother.pk), "laid_on": today, "count": "2", "form_key": key()}
    for _ in range(2):
        assert client.post("/breeding/", clutch).status_code == 302
    made = Clutch.objects.get()
    look = {"on": today, "good": "2", "form_key": key()}
    for _ in range(2):
        assert client.post(f"/breeding/{made.pk}/look/", look).status_code == 302
    assert EggLook.objects.count() == 1


PAGES = {
    "/animals/{animal}/growth/": ("weighing", "measuring"),
    "/breeding/": ("form",),
    "/animals/{animal}/treatments/": ("form",),
    "/animals/{animal}/photos/": ("form",),
}


@pytest.mark.parametrize("page", PAGES)
def test_every_form_that_adds_a_row_carries_a_key_of_its_own(
    client: Client, household: Household, page: str
) -> None:
    address = page.format(animal=household.animals.get(name="Pip").pk)
    one, two = client.get(address), client.get(address)
    for name in PAGES[page]:
        keys = [str(answer.context[name]["form_key"].value()) for answer in (one, two)]
        assert keys[0] != keys[1]
        assert f'value="{keys[0]}"' in one.content.decode()


# --- edited by two --------------------------------------------------------------------------------


def shown(client: Client, address: str, name: str) -> dict[str, str]:
    """A form as its page shows it."""
    form = client.get(address).context[name]
    values = {bound.html_name: bound.value() for bound in form}
    return {key: str(value) for key, value in values.items() if value not in (None, False)}


def test_a_room_is_not_overwritten_unseen(client: Client, household: Household) -> None:
    room = Room.objects.get(household=household)
    address = f"/rooms/{room.pk}/"
    mine, theirs = shown(client, address, "form"), shown(client, address, "form")
    assert client.post(address, {**theirs, "day_c": "23 °C"}).status_code == 302
    answer = client.post(address, {**mine, "day_c": "19 °C"})
    assert answer.status_code == 200
    (conflict,) = answer.context["form"].conflicts
    assert (conflict.saved, conflict.typed) == ("23.0 °C", "19 °C")
    room.refresh_from_db()
    assert room.day_c == 23
    # asked and answered: saved again, it is saved
    again = {bound.html_name: str(bound.value() or "") for bound in answer.context["form"]}
    assert client.post(address, again).status_code == 302
    room.refresh_from_db()
    assert room.day_c == 19


def test_the_same_value_from_two_people_is_no_conflict(
    client: Client, household: Household
) -> None:
    room = Room.objects.get(household=household)
    address = f"/rooms/{room.pk}/"
    mine = shown(client, address, "form")
    for _ in range(2):
        assert client.post(address, {**mine, "day_c": "23 °C"}).status_code == 302


def test_a_household_is_not_overwritten_unseen(client: Client, household: Household) -> None:
    mine, theirs = shown(client, "/household/", "form"), shown(client, "/household/", "form")
    client.post("/household/", {**theirs, "name": "Theirs"})
    answer = client.post("/household/", {**mine, "name": "Mine"})
    assert [(one.saved, one.typed) for one in answer.context["form"].conflicts] == [
        ("Theirs", "Mine")
    ]
    assert Household.objects.get(pk=household.pk).name == "Theirs"


def test_facts_of_an_animal_are_not_overwritten_unseen(
    client: Client, household: Household
) -> None:
    animal = household.animals.get(name="Pip")
    page = address = f"/animals/{animal.pk}/facts/"
    mine, theirs = shown(client, page, "facts"), shown(client, page, "facts")
    client.post(address, {**theirs, "sex": "male", "name": "Pippin"})
    answer = client.post(address, {**mine, "sex": "female"})
    found = {one.label: (one.saved, one.typed) for one in answer.context["facts"].conflicts}
    assert found["Name"] == ("Pippin", "Pip") and found["Sex"] == ("male", "female")
    animal.refresh_from_db()
    assert animal.name == "Pippin"


def test_facts_typed_on_the_layout_do_not_overwrite_newer_ones(
    client: Client, pip: Enclosure
) -> None:
    animal = pip.present[0].animal
    mine = {**fields(client, pip), "animals_seen": f"{animal.pk}:{animal.version}"}
    page = f"/animals/{animal.pk}/facts/"
    born = "2025-01-15"
    client.post(page, {**shown(client, page, "facts"), "born_on": born, "confirm_born": born})
    answer = client.post(f"/enclosures/{pip.pk}/save/", {**mine, "animal-0-born": "2025-03-01"})
    assert "changed meanwhile" in answer.content.decode()
    animal.refresh_from_db()
    assert animal.born_on.isoformat() == born


def test_outlets_are_not_overwritten_unseen(client: Client, pip: Enclosure) -> None:
    page, address = f"/rooms/{pip.room_id}/power/", f"/rooms/{pip.room_id}/circuits/"
    mine, theirs = shown(client, page, "circuit_form"), shown(client, page, "circuit_form")
    field = f"outlet-{pip.pk}"
    client.post(address, {**theirs, field: "Theirs", f"circuit-{pip.pk}": ""})
    answer = client.post(address, {**mine, field: "Mine", f"circuit-{pip.pk}": ""})
    found = answer.context["circuit_form"].conflicts
    assert [(one.label, one.saved, one.typed) for one in found] == [
        ("Pip’s enclosure: outlet or strip", "Theirs", "Mine")
    ]
    pip.refresh_from_db()
    assert pip.outlet == "Theirs"


def test_an_edit_of_the_room_is_no_part_of_trying_a_layout(client: Client, pip: Enclosure) -> None:
    """The room stood among the fields of one enclosure, and was saved for all of them."""
    page = client.get(f"/enclosures/{pip.pk}/")
    assert not [name for name in page.context["layout"].fields if name.startswith("room-")]
    assert "Bramble’s enclosure" in [one.name for one in page.context["touched"]]
    client.post(f"/enclosures/{pip.pk}/save/", {**fields(client, pip), "room-day": "30 °C"})
    assert Room.objects.get(pk=pip.room_id).day_c == 21
    names = [one.name for one in client.get(f"/rooms/{pip.room_id}/").context["touched"]]
    assert {"Pip’s enclosure", "Bramble’s enclosure"} <= set(names)
