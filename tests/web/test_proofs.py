"""The page that proves a box: readings, looks, the signature, and what a change asks for again."""

import datetime as dt

import pytest
from django.test import Client
from django.utils import timezone

from husbandry.planning.proving import CHECKS
from ridgeback.habitats import flows
from ridgeback.habitats.models import Habitat, Proof
from ridgeback.keepers.models import Household, Keeper

RIGHT = {"surface_day": 40.0, "warm_air_day": 30.0, "cool_air_day": 24.5, "air_night": 20.0, "uvi_day": 3.4, "humidity_day": 50.0}
ALL = list(CHECKS)


def read_all(pip: Habitat) -> None:
    keeper = Keeper.objects.get(username="demo")
    for need, value in RIGHT.items():
        flows.add_reading(
            pip,
            need=need,
            value=value,
            offset=0.0,
            at=timezone.now(),
            instrument="probe",
            lamp_on_h=8.0,
            keeper=keeper,
            room_c=21.0,
        )


def page(client: Client, pip: Habitat) -> str:
    return client.get(f"/habitats/{pip.pk}/prove/").content.decode()


def test_it_lists_what_is_to_be_read_and_leads_to_the_form(client: Client, pip: Habitat) -> None:
    html = page(client, pip)
    assert (
        "after six hours of lamps" in html
        and f"/habitats/{pip.pk}/?need=air_night#reading" in html
        and "Sign: it may move in" in html
    )
    assert client.get(f"/habitats/{pip.pk}/?need=air_night").context["reading"]["need"].value() == "air_night"


def test_it_is_signed_once_everything_is_proven(client: Client, pip: Habitat) -> None:
    said = client.post(f"/habitats/{pip.pk}/prove/", {"revision": 1, "checks": ALL}, follow=True).content.decode()
    assert "look at it again" in said and not Proof.objects.exists()  # nothing read yet
    read_all(pip)
    assert [line.direction for line in client.get(f"/habitats/{pip.pk}/prove/").context["lines"]] == ["right"] * len(RIGHT)
    said = client.post(f"/habitats/{pip.pk}/prove/", {"revision": 1, "checks": ALL}, follow=True).content.decode()
    assert "Signed." in said and "quiet week" in said
    proof = Proof.objects.get()
    assert proof.habitat == pip and proof.checks == ALL and set(proof.readings) == set(RIGHT)


def test_too_low_points_down(client: Client, pip: Habitat) -> None:
    lines = {line.key: line for line in client.get(f"/habitats/{pip.pk}/prove/").context["lines"]}
    assert lines["surface_day"].direction == "below" and "below its band" in lines["surface_day"].words


def test_what_is_left_out_needs_a_word(client: Client, pip: Habitat) -> None:
    read_all(pip)
    said = client.post(f"/habitats/{pip.pk}/prove/", {"revision": 1, "checks": ALL[:3]}).content.decode()
    assert "of what is left out, say why" in said and not Proof.objects.exists() and said.count("checked") == 3
    client.post(f"/habitats/{pip.pk}/prove/", {"revision": 1, "checks": ALL[:3], "note": "no thermostat in it"})
    assert Proof.objects.get().note == "no thermostat in it"


def test_a_change_makes_the_proof_one_of_then(client: Client, pip: Habitat) -> None:
    read_all(pip)
    client.post(f"/habitats/{pip.pk}/prove/", {"revision": 1, "checks": ALL})
    habitat = Habitat.objects.for_planning().get(pk=pip.pk)
    spec = flows.spec_of(habitat.request_at(timezone.now()))
    spec["things"][1]["hours_run"] = 350
    tried = habitat.request_at(timezone.now(), spec)
    flows.keep_bench(habitat, tried, seen=1, keeper=Keeper.objects.get(username="demo"), now=timezone.now())
    html = page(client, pip)
    assert "changed since" in html
    lines = client.get(f"/habitats/{pip.pk}/prove/").context["lines"]
    assert {line.key for line in lines if line.direction != "right"} == {"uvi_day"}


@pytest.mark.parametrize("revision", ["", "7", "x"])
def test_another_state_is_not_signed(client: Client, pip: Habitat, revision: str) -> None:
    read_all(pip)
    client.post(f"/habitats/{pip.pk}/prove/", {"revision": revision, "checks": ALL})
    assert not Proof.objects.exists()


def test_the_demos_instruments_read_a_whole_round(client: Client, pip: Habitat) -> None:
    frog = Habitat.objects.get(name__startswith="Sable")
    said = client.post(f"/habitats/{frog.pk}/simulate/", {"next": "prove"}, follow=True)
    assert "humidity" in said.content.decode() and said.redirect_chain[-1][0].endswith("/prove/")


def test_moving_in_waits_for_the_signature_and_begins_a_quiet_week(client: Client, pip: Habitat) -> None:
    said = client.post(f"/habitats/{pip.pk}/settle-in/", follow=True).content.decode()
    assert "not proven as it stands" in said and pip.occupancies.get().moved_in_at is None
    read_all(pip)
    client.post(f"/habitats/{pip.pk}/prove/", {"revision": 1, "checks": ALL})
    assert "Pip moves in now" in page(client, pip)
    said = client.post(f"/habitats/{pip.pk}/settle-in/", follow=True).content.decode()
    assert "7 quiet days" in said and "quiet until" in said and "moves in now" not in said
    assert "Quiet week until" in client.get(f"/habitats/{pip.pk}/").content.decode()
    stay = pip.occupancies.get()
    stay.moved_in_at = timezone.now() - dt.timedelta(days=9)
    stay.save()
    assert "Quiet week" not in client.get(f"/habitats/{pip.pk}/").content.decode()


def test_who_moves_in_unproven_leaves_a_reason(client: Client, household: Household, pip: Habitat) -> None:
    other = household.animals.exclude(occupancies__habitat=pip).first()
    assert other is not None
    asked = client.post(f"/habitats/{pip.pk}/move-in/", {"animal": other.pk}).content.decode()
    assert "Prove it first" in asked and not pip.occupancies.filter(animal=other).exists()
    client.post(f"/habitats/{pip.pk}/move-in/", {"animal": other.pk, "because": "  its own   box leaks "})
    stay = pip.occupancies.get(animal=other)
    assert stay.unproven_because == "its own box leaks" and stay.moved_in_at is not None
    assert "moved in unproven: its own box leaks" in client.get(f"/habitats/{pip.pk}/").content.decode()
