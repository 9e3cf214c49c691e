"""A room with all its enclosures: what hangs on which outlet and circuit."""

import pytest
from django.test import Client

from husbandry.forecast.power import hung_on
from ridgeback.clock import now
from ridgeback.enclosures.models import Enclosure


def data(pip: Enclosure, outlet: str = "Wall left", **circuits: str) -> dict[str, str]:
    enclosures = Enclosure.objects.filter(room=pip.room).order_by("pk")
    found = {}
    for n, enclosure in enumerate(enclosures):
        found |= {
            f"outlet-{enclosure.pk}": outlet,
            f"circuit-{enclosure.pk}": circuits.get(f"c{n}", "Fuse 2"),
        }
    return found


def test_outlets_are_kept_and_their_load_is_the_sum_of_their_enclosures(
    client: Client, pip: Enclosure
) -> None:
    said = client.post(f"/rooms/{pip.room_id}/circuits/", data(pip), follow=True)
    assert said.status_code == 200 and "Saved." in said.content.decode()
    view = said.context["view"]
    assert [one.name for one in view.outlets] == ["Wall left"] and [
        one.name for one in view.on_circuits
    ] == ["Fuse 2"]
    assert view.outlets[0].load.text == view.load.text
    assert set(Enclosure.objects.values_list("outlet", flat=True)) == {"Wall left"}


def test_one_outlet_hangs_on_one_circuit_and_nothing_typed_is_lost(
    client: Client, pip: Enclosure
) -> None:
    before = list(Enclosure.objects.order_by("pk").values_list("outlet", flat=True))
    page = client.post(f"/rooms/{pip.room_id}/circuits/", data(pip, c0="Fuse 7")).content.decode()
    assert "one outlet is on one circuit" in page and 'value="Fuse 7"' in page
    assert list(Enclosure.objects.order_by("pk").values_list("outlet", flat=True)) == before


def test_a_strip_that_carries_too_much_is_marked(client: Client, pip: Enclosure) -> None:
    client.post(f"/rooms/{pip.room_id}/circuits/", data(pip))
    query = {
        "volts": "120",
        "amps": "15",
        "strip": "10",
        "length": "4 m",
        "width": "3 m",
        "loss": "usual",
    }
    assert not client.get(f"/rooms/{pip.room_id}/power/", query).context["view"].outlets[0].over
    assert pip.head is not None
    pip.head.spec["items"][0]["power_w"] = 900
    pip.head.save()
    page = client.get(f"/rooms/{pip.room_id}/power/", query)
    assert page.context["view"].outlets[0].over and "too much for hours" in page.content.decode()


def test_loads_add_by_name_the_fullest_first() -> None:
    """1840 W on a 10 A strip at 230 V for hours: four fifths of 2300 W (arithmetic; common
    practice, no source).
    """
    loads = {"one": 1000.0, "two": 840.0, "three": 60.0, "four": 5.0}
    found = hung_on(loads, {"one": "a", "two": "a", "three": "b", "four": ""}, 230, 10)
    assert [(hung.name, hung.enclosures) for hung in found] == [
        ("a", ("one", "two")),
        ("b", ("three",)),
    ]
    assert found[0].load.value == 1840 and found[0].share.value == pytest.approx(1.0)
    assert len(found[0].load.inputs) == 2


def test_a_cat_of_the_house_reaches_the_plan(client: Client, pip: Enclosure) -> None:
    """Said of the room, it is known of each enclosure in it."""
    path = f"/rooms/{pip.room_id}/"
    form = client.get(path).context["form"]
    data = {name: form[name].value() for name in form.fields if form[name].value() is not None}
    client.post(path, data | {"has_cats": "on"})
    pip.room.refresh_from_db()
    assert pip.room.has_cats and not pip.room.has_dogs
    assert Enclosure.objects.for_planning().get(pk=pip.pk).request_at(now()).room.has_cats
