"""The page of an enclosure's substrate: calculated without being kept, kept as a revision, and
nothing typed is lost.
"""

from typing import Any

import pytest
from django.test import Client

from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household

ONE = {"depth0": "3 cm", "what0-0": "expanded_clay", "part0-0": "1"}
TWO = {
    **ONE,
    "depth1": "8 cm",
    "what1-0": "topsoil",
    "part1-0": "1",
    "what1-1": "sand",
    "part1-1": "0.5",
}


def post(client: Client, pip: Enclosure, **more: Any) -> Any:
    assert pip.head is not None
    return client.post(f"/enclosures/{pip.pk}/substrate/", {"revision": pip.head.number, **more})


def test_an_enclosure_without_layers_begins_with_a_suggestion(
    client: Client, pip: Enclosure
) -> None:
    page = client.get(f"/enclosures/{pip.pk}/substrate/")
    assert "No mix is recorded yet" in page.content.decode() and page.context[
        "view"
    ].total.text.endswith("kg")


def test_reckoning_keeps_nothing(client: Client, pip: Enclosure) -> None:
    page = post(client, pip, **TWO)
    assert [row["label"] for row in page.context["view"].amounts] == [
        "expanded clay",
        "topsoil without fertiliser",
        "washed sand",
    ]
    pip.refresh_from_db()
    assert (
        pip.head is not None and pip.head.number == 1 and 'value="3 cm"' in page.content.decode()
    )


def test_keeping_makes_a_revision_with_the_bed_the_bags_and_the_stand(
    client: Client, pip: Enclosure, household: Household
) -> None:
    more = {
        "bag-topsoil": "40 l",
        "price-topsoil": "7.5",
        "stand": "30 kg",
        "tall": "80 cm",
        "keep": "yes",
    }
    assert post(client, pip, **TWO, **more).status_code == 302
    kept = Enclosure.objects.for_planning().get(pk=pip.pk)
    assert kept.head is not None and kept.head.number == 2
    assert [layer["depth_m"] for layer in kept.head.spec["enclosure"]["substrate"]["layers"]] == [
        0.03,
        0.08,
    ]
    stone = next(item for item in kept.head.spec["items"] if item["id"] == "stone-1")
    assert stone["at_m"][2] == pytest.approx(0.11)
    household.refresh_from_db()
    assert (
        household.bags["topsoil"] == {"l": 40.0, "price": 7.5}
        and kept.stand_kg == 30
        and kept.stand_m == pytest.approx(0.8)
    )
    page = client.get(f"/enclosures/{pip.pk}/substrate/")
    assert (
        'value="40 l"' in page.content.decode()
        and "No mix is recorded yet" not in page.content.decode()
    )


def test_who_keeps_over_another_change_is_refused(client: Client, pip: Enclosure) -> None:
    said = client.post(
        f"/enclosures/{pip.pk}/substrate/", {"revision": 77, "keep": "yes", **TWO}, follow=True
    ).content.decode()
    assert "changed meanwhile" in said
    pip.refresh_from_db()
    assert pip.head is not None and pip.head.number == 1


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ({**ONE, "part0-0": "-1"}, "counted from nothing up"),
        ({**ONE, "part0-0": "0"}, "at least one part"),
        ({**ONE, "depth0": ""}, "Write how deep"),
        ({**ONE, "depth0": "soft"}, "cannot be read as a length"),
        ({"depth0": "4 cm"}, "Say what this layer is of"),
        ({"depth0": "4 cm", "part0-0": "2"}, "Say of what"),
        ({**ONE, "bag-expanded_clay": "0 l"}, "is not possible"),
        ({**ONE, "depth0": "45 cm"}, "leaves too little"),
    ],
)
def test_wrong_layers_are_said_beside_what_was_typed(
    client: Client, pip: Enclosure, typed: dict[str, str], said: str
) -> None:
    page = post(client, pip, keep="yes", **typed)
    assert page.status_code == 200 and said in page.content.decode()
    for value in typed.values():
        assert not value or f'value="{value}"' in page.content.decode()
    pip.refresh_from_db()
    assert pip.head is not None and pip.head.number == 1


def test_another_depth_on_the_boxs_own_page_keeps_the_mix(client: Client, pip: Enclosure) -> None:
    post(client, pip, keep="yes", **TWO)
    enclosure = Enclosure.objects.for_planning().get(pk=pip.pk)
    page = client.get(f"/enclosures/{pip.pk}/")
    form = {
        field.html_name: field.value()
        for field in page.context["layout"]
        if field.value() not in (None, False)
    }
    assert enclosure.head is not None
    client.post(
        f"/enclosures/{pip.pk}/save/",
        {**form, "enclosure-substrate_depth": "15 cm", "revision": enclosure.head.number},
    )
    kept = Enclosure.objects.get(pk=pip.pk).head
    assert kept is not None and [
        layer["depth_m"] for layer in kept.spec["enclosure"]["substrate"]["layers"]
    ] == [0.03, pytest.approx(0.12)]


def test_substrate_that_leaves_no_room_is_said_once_in_the_readers_units(
    client: Client, pip: Enclosure
) -> None:
    client.post("/preferences/", {"units_system": "us", "next": "/"})
    page = post(client, pip, **{**ONE, "depth0": "40"})
    html = page.content.decode()
    assert html.count(
        "40 in of substrate leaves too little of 21.7 in of height."
    ) == 1 and page.context["form"].errors.keys() == {"depth0"}
    assert "no deeper than" in html  # and on the drawing of the bed


def test_in_inches_and_pounds(client: Client, pip: Enclosure) -> None:
    client.post("/preferences/", {"units_system": "us", "next": "/"})
    page = post(client, pip, **{**ONE, "depth0": "2"})
    assert "lb" in page.content.decode() and "gal" in page.content.decode()


def test_a_bag_of_nothing_is_a_sentence(client: Client, pip: Enclosure) -> None:
    html = post(client, pip, **{**ONE, "bag-expanded_clay": "0 l"}).content.decode()
    assert "A bag of 0 l is not possible" in html and 'value="0 l"' in html
