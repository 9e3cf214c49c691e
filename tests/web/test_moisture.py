"""How an enclosure is kept damp, on its page: said, predicted, drawn and mended."""

from typing import Any

import pytest
from django.test import Client

from ridgeback.enclosures.models import Enclosure


def page_form(client: Client, enclosure: Enclosure) -> dict[str, Any]:
    page = client.get(f"/enclosures/{enclosure.pk}/")
    form = {
        field.html_name: field.value()
        for field in page.context["layout"]
        if field.value() not in (None, False)
    }
    assert enclosure.head is not None
    return {**form, "revision": enclosure.head.number}


def test_an_enclosure_of_which_nothing_was_said_asks_for_it(
    client: Client, pip: Enclosure
) -> None:
    assert (
        "how damp its substrate is kept"
        in client.get(f"/enclosures/{pip.pk}/humidity/").content.decode()
    )


def test_what_is_said_is_predicted_at_once_and_kept(client: Client, pip: Enclosure) -> None:
    form = {
        **page_form(client, pip),
        "wet-substrate": "damp",
        "wet-at0": "09:00",
        "wet-ml0": "40 ml",
    }
    shown = client.post(
        f"/enclosures/{pip.pk}/preview/", form, HTTP_HX_REQUEST="true"
    ).content.decode()
    assert (
        "humidity-cool-end" in shown and "40 ml" in shown and "/predictions/water_given" in shown
    )
    client.post(f"/enclosures/{pip.pk}/save/", form)
    kept = Enclosure.objects.get(pk=pip.pk).head
    assert kept is not None and kept.spec["enclosure"]["wetting"] == {
        "substrate": "damp",
        "mistings": [{"at": "09:00", "ml": 40.0}],
        "mist_days": 1,
    }
    derivation = client.get(f"/enclosures/{pip.pk}/calculation/?at=/predictions/air_changes_day")
    assert derivation.status_code == 200 and b"Air renewed an hour" in derivation.content


def test_the_seconds_of_a_pump_open_to_their_working(client: Client, pip: Enclosure) -> None:
    form = {
        **page_form(client, pip),
        "wet-substrate": "damp",
        "wet-at0": "09:00",
        "wet-ml0": "40 ml",
        "wet-at1": "20:00",
        "wet-ml1": "40 ml",
    }
    shown = client.post(
        f"/enclosures/{pip.pk}/preview/", {**form, "wet-nozzles": "4 ml"}, HTTP_HX_REQUEST="true"
    ).content.decode()
    assert "Its pump runs at 09:00, 20:00" in shown and "10 s" in shown
    client.post(f"/enclosures/{pip.pk}/save/", {**form, "wet-nozzles": "4 ml"})
    derivation = client.get(
        f"/enclosures/{pip.pk}/calculation/?at=/damp/pulses/0/spray"
    ).content.decode()
    assert "over what the nozzles give" in derivation


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ({"wet-at0": "09:00"}, "Write how much"),
        ({"wet-ml0": "40 ml"}, "Write when"),
        (
            {"wet-at0": "09:00", "wet-ml0": "40 ml", "wet-substrate": ""},
            "all of its water, or not at all",
        ),
        (
            {"wet-at0": "09:00", "wet-ml0": "40 ml", "wet-at1": "09:05", "wet-ml1": "40 ml"},
            "nothing has dried in between",
        ),
        ({"wet-at0": "09:00", "wet-ml0": "a splash"}, "cannot be read as a volume"),
    ],
)
def test_halves_and_slips_are_said_at_their_fields(
    client: Client, pip: Enclosure, typed: dict[str, str], said: str
) -> None:
    form = {**page_form(client, pip), "wet-substrate": "damp", **typed}
    shown = client.post(f"/enclosures/{pip.pk}/save/", form).content.decode()
    assert said in shown
    kept = Enclosure.objects.get(pk=pip.pk).head
    assert kept is not None and kept.number == 1


def test_what_is_wrong_with_a_misting_is_said_where_it_was_typed(
    client: Client, pip: Enclosure
) -> None:
    form = {
        **page_form(client, pip),
        "wet-substrate": "damp",
        "wet-at1": "20:00",
        "wet-ml1": "40 ml",
        "wet-at3": "09:05",
        "wet-ml3": "40 ml",
    }
    layout = client.post(
        f"/enclosures/{pip.pk}/save/", {**form, "wet-at2": "20:05", "wet-ml2": "30 ml"}
    ).context["layout"]
    assert set(layout.errors) == {"wet-at2"}


def test_fluid_ounces(client: Client, pip: Enclosure) -> None:
    client.post("/preferences/", {"units_system": "us", "next": "/"})
    form = {**page_form(client, pip), "wet-substrate": "damp", "wet-at0": "09:00", "wet-ml0": "2"}
    client.post(f"/enclosures/{pip.pk}/save/", form)
    kept = Enclosure.objects.get(pk=pip.pk).head
    assert kept is not None and kept.spec["enclosure"]["wetting"]["mistings"][0][
        "ml"
    ] == pytest.approx(59.15, abs=0.01)
    assert ">2 fl oz</text>" in client.get(f"/enclosures/{pip.pk}/humidity/").content.decode()


def test_the_demos_frog_has_its_day_drawn(client: Client, pip: Enclosure) -> None:
    frog = Enclosure.objects.get(name__startswith="Sable")
    page = client.get(f"/enclosures/{frog.pk}/")
    view = page.context["view"].moisture
    assert (
        view is not None
        and view.direction in {"right", "below", "above"}
        and "The tank lasts" in {name for name, *_ in view.numbers}
    )


def test_a_year_of_humidity_follows_the_rooms_seasons(client: Client, pip: Enclosure) -> None:
    assert (
        "under “Moisture”" in client.get(f"/enclosures/{pip.pk}/moisture-year/").content.decode()
    )
    assert pip.head is not None
    pip.head.spec["enclosure"]["wetting"] = {
        "substrate": "dry top",
        "mistings": [{"at": "08:00", "ml": 30}],
    }
    pip.head.save()
    page = client.get(f"/enclosures/{pip.pk}/moisture-year/").content.decode()
    assert (
        page.count('<th scope="row">') == 12 and "January" in page and "say what yours is" in page
    )
    room = pip.room
    room.winter_day_c, room.winter_rh_pct, room.summer_rh_pct = 18.0, 20.0, 70.0
    room.save()
    told = client.get(f"/enclosures/{pip.pk}/moisture-year/").content.decode()
    assert "say what yours is" not in told and "18 °C, 20 %" in told


def test_a_winters_day_warmer_than_a_usual_one_is_refused(client: Client, pip: Enclosure) -> None:
    room = pip.room
    typed = {
        "name": room.name,
        "time_zone": room.time_zone,
        "latitude_deg": "50",
        "longitude_deg": "8",
        "day_c": "21 C",
        "night_c": "18 C",
        "summer_max_c": "28 C",
        "rh_pct": "50",
        "winter_day_c": "24 C",
        "winter_rh_pct": "30",
        "summer_rh_pct": "",
    }
    page = client.post(f"/rooms/{room.pk}/", typed).content.decode()
    assert "no warmer than a usual one" in page and 'value="24 C"' in page
    client.post(f"/rooms/{room.pk}/", {**typed, "winter_day_c": "19 C"})
    room.refresh_from_db()
    assert (room.winter_day_c, room.winter_rh_pct, room.summer_rh_pct) == (19.0, 30.0, None)
