"""Scales that send by themselves: whose weight it is is plain, or it is asked; each once."""

import datetime as dt

import pytest
from django.test import Client

from husbandry.records.channels import Quantity, SensorPlace
from ridgeback.animals.models import Animal, Weighing
from ridgeback.clock import now
from ridgeback.devices import flows
from ridgeback.devices.models import Device, ScaleWeight
from ridgeback.devices.scale import waiting_weights
from ridgeback.enclosures.models import Enclosure, Occupancy
from ridgeback.households.models import Household


@pytest.fixture
def scale(pip: Enclosure) -> Device:
    """A device that is a scale beside Pip's enclosure."""
    device, _ = flows.add(pip.household, name="Kitchen scale", keeper=None, now=now())
    flows.bind(device, pip, Quantity.MASS, SensorPlace.SCALE)
    return device


@pytest.fixture
def animal(pip: Enclosure) -> Animal:
    """Who lives there, with a last weight a week ago and none today."""
    living = Occupancy.objects.present().get(enclosure=pip)
    today = living.animal.day_of(now())
    last = living.animal.weighings.order_by("-on", "-pk")[0]
    living.animal.weighings.filter(on__gt=today - dt.timedelta(days=7)).delete()
    Weighing.objects.create(
        animal=living.animal, on=today - dt.timedelta(days=7), mass_g=last.mass_g
    )
    return living.animal


def last_g(animal: Animal) -> float:
    return float(animal.weighings.order_by("-on", "-pk")[0].mass_g)


def send(device: Device, value: object, minutes: float = 5, unit: str = "g") -> flows.Taken:
    at = (now() - dt.timedelta(minutes=minutes)).isoformat()
    rows = [{"channel": "mass-scale", "at": at, "value": value, "unit": unit}]
    return flows.take(device, rows, now())


def test_the_weight_of_whom_lives_there_alone_is_logged_once(
    scale: Device, animal: Animal
) -> None:
    mass_g = round(last_g(animal) * 1.03, 1)
    at = (now() - dt.timedelta(minutes=5)).isoformat()
    rows = [{"channel": "mass-scale", "at": at, "value": mass_g / 1000, "unit": "kg"}]
    for _ in range(2):
        flows.take(scale, rows, now())
    today = animal.day_of(now())
    assert [one.mass_g for one in animal.weighings.filter(on=today)] == [pytest.approx(mass_g)]
    assert ScaleWeight.objects.get().state == "logged"


def test_the_same_weight_a_minute_later_is_the_same_one(scale: Device, animal: Animal) -> None:
    mass_g = last_g(animal)
    send(scale, mass_g, minutes=6)
    send(scale, mass_g * 1.005, minutes=5)
    today = animal.day_of(now())
    assert animal.weighings.filter(on=today).count() == 1
    assert {one.state for one in ScaleWeight.objects.all()} == {"logged"}


def test_a_weight_that_cannot_be_is_asked_about(
    scale: Device, animal: Animal, client: Client
) -> None:
    send(scale, last_g(animal) * 6)
    found = waiting_weights(scale.household)
    assert len(found) == 1 and found[0].question
    page = client.get("/animals/weigh/")
    assert [one.weight for one in page.context["sent"]] == found
    path = f"/household/scale-weights/{found[0].pk}/"
    answer = client.post(path, {"animal": ""}, follow=True)
    assert "choose whose weight" in answer.content.decode()
    client.post(path, {"skip": "yes"})
    assert not waiting_weights(scale.household)
    assert not animal.weighings.filter(on=animal.day_of(now())).exists()


def test_several_animals_are_asked_about_and_chosen(
    scale: Device, animal: Animal, pip: Enclosure, client: Client
) -> None:
    other = Animal.objects.create(
        household=pip.household, name="Second", sex="female", species=animal.species
    )
    Occupancy.objects.create(enclosure=pip, animal=other, since=now() - dt.timedelta(days=30))
    send(scale, last_g(animal))
    found = waiting_weights(scale.household)[0]
    assert found.question == "Several animals live here."
    client.post(f"/household/scale-weights/{found.pk}/", {"animal": other.pk})
    assert last_g(other) == pytest.approx(found.mass_g)
    found.refresh_from_db()
    assert (found.state, found.animal) == ("logged", other)
    client.post(f"/household/scale-weights/{found.pk}/", {"animal": animal.pk})
    assert other.weighings.count() == 1, "what was logged stays whose it is"


def test_the_error_of_the_scale_is_taken_off(scale: Device, animal: Animal) -> None:
    channel = scale.bindings.get().channel
    channel.offset = 2.0
    channel.save()
    send(scale, last_g(animal) + 2)
    assert last_g(animal) == pytest.approx(ScaleWeight.objects.get().mass_g)


@pytest.mark.parametrize(
    ("value", "unit", "reason"),
    [(0, "g", "no weight that can be"), (-4, "g", "no weight"), (12, "lb", "no unit of weight")],
)
def test_what_is_no_weight_is_refused(scale: Device, value: float, unit: str, reason: str) -> None:
    taken = send(scale, value, unit=unit)
    assert reason in taken.refused[0][1] and not ScaleWeight.objects.exists()


def test_a_strangers_scale_is_not_here(scale: Device, animal: Animal, stranger: Client) -> None:
    send(scale, last_g(animal) * 6)
    found = ScaleWeight.objects.get()
    assert stranger.post(f"/household/scale-weights/{found.pk}/", {}).status_code in {302, 404}
    found.refresh_from_db()
    assert found.state == "waiting"


def test_before_somebody_moved_in_nothing_is_theirs(
    scale: Device, animal: Animal, household: Household
) -> None:
    Occupancy.objects.present().filter(animal=animal).update(since=now())
    send(scale, last_g(animal), minutes=600)
    assert waiting_weights(household)[0].question.startswith("It was measured before")


def test_a_thermostats_state_is_sent_in_percent(pip: Enclosure) -> None:
    device, _ = flows.add(pip.household, name="Thermostat", keeper=None, now=now())
    flows.bind(device, pip, Quantity.HEATING, SensorPlace.THERMOSTAT)
    at = (now() - dt.timedelta(minutes=5)).isoformat()
    rows = [
        {"channel": "heating-thermostat", "at": at, "value": 43},
        {"channel": "heating-thermostat", "at": at, "value": 143, "unit": "%"},
    ]
    taken = flows.take(device, rows, now())
    assert (taken.new, len(taken.refused)) == (1, 1) and "143 is no share" in taken.refused[0][1]
    channel = device.bindings.get().channel
    channel.refresh_from_db()
    assert channel.last_value == pytest.approx(0.43)
