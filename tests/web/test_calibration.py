"""Readings on the page: what they told, the model's record, a place of its own, and the demo's
simulated instruments.
"""

import pytest
from django.test import Client
from django.utils import timezone

from ridgeback.demo import household as demo
from ridgeback.enclosure_pages.calibration import record_of
from ridgeback.enclosures import flows
from ridgeback.enclosures.models import Enclosure, Reading
from ridgeback.households.models import Household, Keeper
from tests.web.conftest import fields, last_lit


def page(client: Client, enclosure: Enclosure) -> str:
    return client.get(f"/enclosures/{enclosure.pk}/").content.decode()


def reading(**more: str) -> dict[str, str]:
    usual = {"need": "warm_air_day", "value": "27 °C", "instrument": "probe"}
    return {**usual, "at": last_lit(), **more}


def test_the_page_says_what_readings_told(client: Client, pip: Enclosure) -> None:
    html = client.get(f"/enclosures/{pip.pk}/calibration/").content.decode()
    assert "What your readings changed" in html and "Halogen flood: beam on its target" in html
    told = client.get(f"/enclosures/{pip.pk}/").context["view"].told
    assert any("Surface ±" in words and "→" in words for words in told.narrowed)
    derivation = client.get(
        f"/enclosures/{pip.pk}/calculation/", {"at": told.strengths[0].pointer}
    ).content.decode()
    assert "readings fitted" in derivation and "× 0." in derivation


def test_without_readings_nothing_is_told(client: Client, pip: Enclosure) -> None:
    pip.readings.all().delete()
    html = page(client, pip)
    assert "What your readings changed" not in html and "How well the model predicted" not in html


def test_a_tried_enclosure_keeps_what_was_told(client: Client, pip: Enclosure) -> None:
    data = fields(client, pip, **{"item-lamp-1-z": "40 cm"})
    tried = client.post(f"/enclosures/{pip.pk}/preview/", data, headers={"HX-Request": "true"})
    told = tried.context["view"].told
    assert told is not None and any("beam on its target" in one.name for one in told.strengths)


def test_a_reading_with_a_place_of_its_own_is_logged_and_judges_nothing(
    client: Client, pip: Enclosure
) -> None:
    client.post(
        f"/enclosures/{pip.pk}/readings/",
        reading(from_left="30 cm", above_floor="18 in", room="70 °F"),
    )
    made = Reading.objects.order_by("-pk")[0]
    assert (made.at_x_m, made.at_z_m) == (
        pytest.approx(0.30),
        pytest.approx(0.4572),
    ) and made.room_c == pytest.approx(21.11, abs=0.01)
    html = page(client, pip)
    assert "Air, 30 cm from the left, 4" in html
    warm = next(
        need
        for need in client.get(f"/enclosures/{pip.pk}/").context["view"].needs
        if need.key == "warm_air_day"
    )
    assert warm.measured is None or "27.0" not in warm.measured.text


@pytest.mark.parametrize(
    ("more", "words"),
    [
        ({"from_left": "30 cm"}, "needs both"),
        ({"from_left": "3 m", "above_floor": "10 cm"}, "Outside the enclosure"),
        ({"from_left": "x", "above_floor": "10 cm"}, "not"),
        ({"room": "hot"}, "not"),
        ({"room": "90 °C"}, "no place for this enclosure"),
        (
            {
                "need": "humidity_day",
                "value": "60 %",
                "instrument": "hygrometer",
                "from_left": "30 cm",
                "above_floor": "10 cm",
            },
            "Only temperatures",
        ),
    ],
)
def test_a_place_or_a_room_that_cannot_be_is_named_beside_its_field(
    client: Client, pip: Enclosure, more: dict[str, str], words: str
) -> None:
    before = Reading.objects.count()
    html = client.post(f"/enclosures/{pip.pk}/readings/", reading(**more)).content.decode()
    assert words in html and Reading.objects.count() == before and 'class="more" open' in html


def test_the_layout_sends_a_place_to_the_form(client: Client, pip: Enclosure) -> None:
    html = client.get(
        f"/enclosures/{pip.pk}/", {"from_left": "42 cm", "above_floor": "30 cm"}
    ).content.decode()
    assert 'value="42 cm"' in html and 'class="more" open' in html


def test_simulated_instruments_read_demo_enclosures_only(client: Client, pip: Enclosure) -> None:
    before = Reading.objects.count()
    html = client.post(f"/enclosures/{pip.pk}/simulate/", follow=True).content.decode()
    assert "simulated instruments: surface" in html and Reading.objects.count() >= before + 4
    client.post(f"/enclosures/{pip.pk}/simulate/", {"from_left": "42 cm", "above_floor": "30 cm"})
    assert Reading.objects.order_by("-pk")[0].at_m == (
        pytest.approx(0.42),
        pytest.approx(0.25),
        pytest.approx(0.30),
    )
    Enclosure.objects.filter(pk=pip.pk).update(hidden_seed=None)
    assert client.post(f"/enclosures/{pip.pk}/simulate/").status_code == 404
    page(client, pip)
    assert "simulated" not in page(client, pip)


def test_promise_and_reading_make_the_record(
    client: Client, pip: Enclosure, household: Household
) -> None:
    keeper = Keeper.objects.get(username="demo")
    change = client.get(f"/enclosures/{pip.pk}/").context["view"].changes[0]
    client.post(
        f"/enclosures/{pip.pk}/apply/",
        {"change": f"{change.kind}/{change.item_id}", "revision": 1},
    )
    now = Enclosure.objects.for_planning().get(pk=pip.pk)
    assert now.head is not None
    promised = now.head.promised["surface_day"]
    shown = next(
        need
        for need in client.get(f"/enclosures/{pip.pk}/").context["view"].needs
        if need.key == "surface_day"
    )
    assert shown.predicted is not None and f"{promised['value']:.1f}" in shown.predicted.text
    flows.add_reading(
        now,
        need="surface_day",
        value=promised["value"] + 1.2,
        offset=0.0,
        at=timezone.now(),
        instrument="infrared",
        lamp_on_h=8.0,
        keeper=keeper,
    )
    found = record_of(Enclosure.objects.for_planning().get(pk=pip.pk))
    last = next(kept for kept in found.kept if kept.revision == 2)
    assert (
        last.off == pytest.approx(1.2)
        and last.inside
        and found.within is not None
        and found.within.value >= 1.2
    )
    html = client.get(f"/enclosures/{now.pk}/calibration/").content.decode()
    assert "How well the model predicted" in html and "within" in html and "+1.2 °C" in html


def test_the_demo_begins_with_a_record(empty: None) -> None:
    demo.load(timezone.now())
    bramble = Enclosure.objects.for_planning().get(name="Bramble’s enclosure")
    found = record_of(bramble)
    assert bramble.revisions.count() == 5 and found.changes == 5
    assert (
        found.within is not None
        and found.within.value < 3
        and found.inside >= 0.8 * len(found.kept)
    )
