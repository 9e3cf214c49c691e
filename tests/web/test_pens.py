"""Outdoor pens on the web: planned, described, put right, taken back, times outside, wrong input."""

import datetime as dt
from typing import Any

import pytest
from django.core.exceptions import ValidationError
from django.test import Client
from django.utils import timezone

from husbandry.pens.pen import PenSpec
from husbandry.pens.plan import PenClimate
from husbandry.quantity import METRIC
from ridgeback import clock
from ridgeback.animals.models import Animal
from ridgeback.history.events import of_animal
from ridgeback.households.models import Household, Membership, Room
from ridgeback.pens import flows
from ridgeback.pens.models import Outing, Pen

POOR = PenSpec(length_m=0.5, width_m=0.4, wall_m=0.2)


@pytest.fixture
def pip_outside(household: Household) -> Animal:
    """The skink, which likes the sun."""
    return Animal.objects.get(household=household, name="Pip")


@pytest.fixture
def pen(household: Household, pip_outside: Animal) -> Pen:
    """A pen that is wrong in many ways."""
    room = Room.objects.filter(household=household).first()
    made = flows.add(
        household,
        name="Lawn",
        room=room,
        animals=[pip_outside],
        is_planned=False,
        on=dt.date(2026, 7, 1),
    )
    flows.save(made, POOR, animals=[pip_outside])
    return Pen.objects.get(pk=made.pk)


def fields_of(form: Any) -> dict[str, Any]:
    """What a browser sends of a form that nobody touched."""
    values = {bound.html_name: bound.value() for bound in form}
    return {
        name: [getattr(one, "pk", one) for one in value] if isinstance(value, list) else value
        for name, value in values.items()
        if value is not None and value is not False
    }


def page_of(client: Client, pen: Pen, query: str = "") -> Any:
    return client.get(f"/pens/{pen.pk}/{query}")


def slugs(page: Any) -> set[str]:
    return {one.slug for one in page.context["wrong"]}


def test_a_pen_is_planned_right_for_who_goes_out(client: Client, pip_outside: Animal) -> None:
    form = client.get("/pens/new/").context["form"]
    sent = fields_of(form) | {"name": "Terrace", "animals": [pip_outside.pk], "begin": "plan"}
    page = client.post("/pens/new/", sent, follow=True)
    assert page.context["wrong"] == [] and page.context["animals"][0][0] == "Pip"
    assert "right for who goes out" in page.content.decode()
    again = client.post("/pens/new/", sent, follow=True)
    assert (
        again.context["pen"].name == "Terrace" and Pen.objects.filter(name="Terrace").count() == 1
    )


def test_a_pen_that_is_there_is_described_and_judged(client: Client, pip_outside: Animal) -> None:
    form = client.get("/pens/new/").context["form"]
    sent = fields_of(form) | {"name": "Yard", "animals": [pip_outside.pk], "begin": "own"}
    page = client.post("/pens/new/", sent, follow=True)
    form = page.context["form"]
    sent = fields_of(form) | {"length_m": "3 m", "width_m": "150", "top": "half_inch"}
    pen = Pen.objects.get(name="Yard")
    page = client.post(f"/pens/{pen.pk}/edit/", sent, follow=True)
    assert "climbs out" not in slugs(page) and "shade" in slugs(page)
    assert Pen.objects.get(pk=pen.pk).described.floor_m2 == pytest.approx(4.5)


def test_two_pens_have_two_names(client: Client, pen: Pen) -> None:
    form = client.get("/pens/new/").context["form"]
    page = client.post("/pens/new/", fields_of(form) | {"name": "Lawn", "begin": "own"})
    assert page.status_code == 200 and "There is a pen of this name" in page.content.decode()


def test_each_finding_has_its_change_and_one_step_back(client: Client, pen: Pen) -> None:
    before = slugs(page_of(client, pen))
    assert {"climbs out", "shade", "water", "floor"} <= before
    page = client.post(f"/pens/{pen.pk}/apply/", {"slug": "water"}, follow=True)
    assert slugs(page) == before - {"water"}
    page = client.post(f"/pens/{pen.pk}/undo/", follow=True)
    assert slugs(page) == before
    page = client.post(f"/pens/{pen.pk}/undo/", follow=True)
    assert slugs(page) == before  # only one step


def test_all_at_once_leaves_nothing_to_say(client: Client, pen: Pen) -> None:
    page = client.post(f"/pens/{pen.pk}/apply/", follow=True)
    assert slugs(page) == set()
    listed = client.get("/pens/").context["rows"]
    assert [row.direction for row in listed if row.pen == pen] == ["right"]


def test_who_cannot_go_out_is_said_without_a_button(client: Client, pen: Pen) -> None:
    gecko = Animal.objects.get(household=pen.household, name="Bramble")
    flows.save(pen, pen.described, animals=[gecko])
    page = page_of(client, pen)
    (told,) = [one for one in page.context["wrong"] if one.slug == "not outside"]
    assert told.does == "" and "Choose who goes out" in page.content.decode()


def test_the_forecast_decides_the_day(client: Client, pen: Pen) -> None:
    warm = page_of(client, pen, "?on=2026-07-15&warmest=27&coldest=15")
    cold = page_of(client, pen, "?on=2026-01-15&warmest=3&coldest=-4")
    assert warm.context["out"] and not cold.context["out"]
    assert warm.context["on"] == dt.date(2026, 7, 15)


def test_a_forecast_that_cannot_be_is_said_beside_its_field(client: Client, pen: Pen) -> None:
    page = page_of(client, pen, "?warmest=27&coldest=31")
    assert "warmer than the day" in page.content.decode() and page.status_code == 200
    page = page_of(client, pen, "?warmest=hot")
    assert page.context["day"].errors["warmest"] and 'value="hot"' in page.content.decode()


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"length_m": "0"}, "length_m"),
        ({"wall_m": "tall"}, "wall_m"),
        ({"shade_pct": "130"}, "shade_pct"),
        ({"hides": "1.5"}, "hides"),
        ({"warm_min_c": "30"}, "warm_min_c"),
        ({"cold_max_c": "28"}, "cold_max_c"),
        ({"name": ""}, "name"),
        ({"walls": "jelly"}, "walls"),
    ],
)
def test_wrong_input_is_said_beside_its_field_and_kept(
    client: Client, pen: Pen, typed: dict[str, str], field: str
) -> None:
    form = client.get(f"/pens/{pen.pk}/edit/").context["form"]
    page = client.post(f"/pens/{pen.pk}/edit/", fields_of(form) | typed)
    assert page.status_code == 200 and page.context["form"].errors[field]
    assert page.context["form"][field].value() == typed[field]
    assert Pen.objects.get(pk=pen.pk).described == POOR


def test_inches_and_fahrenheit(client: Client, pen: Pen) -> None:
    client.post("/preferences/", {"units_system": "us", "units_temperature": "f"})
    page = page_of(client, pen, "?on=2026-07-15&warmest=80&coldest=59")
    text = page.content.decode()
    assert "ft²" in text and "°F" in text and page.context["out"]
    form = client.get(f"/pens/{pen.pk}/edit/").context["form"]
    client.post(f"/pens/{pen.pk}/edit/", fields_of(form) | {"wall_m": "20 in"})
    assert Pen.objects.get(pk=pen.pk).described.wall_m == pytest.approx(0.508)


def test_times_outside_are_logged(client: Client, pen: Pen) -> None:
    page = client.post(f"/pens/{pen.pk}/out/", follow=True)
    assert page.context["is_out"] is not None
    client.post(f"/pens/{pen.pk}/out/")
    assert Outing.objects.filter(pen=pen).count() == 1
    page = client.post(f"/pens/{pen.pk}/in/", {"shade_c": "very"})
    assert page.context["come_in"].errors["shade_c"] and page.context["is_out"]
    page = client.post(f"/pens/{pen.pk}/in/", {"shade_c": "24.5"}, follow=True)
    (row,) = page.context["outings"]
    assert page.context["is_out"] is None and "24.5 °C in the shade" in row.measured
    client.post(f"/pens/{pen.pk}/in/", {"shade_c": ""})
    assert Outing.objects.filter(pen=pen).count() == 1


def test_an_animals_history_knows_its_times_outside(
    client: Client, pen: Pen, pip_outside: Animal
) -> None:
    """Whoever goes out into the pen later was not out then."""
    client.post(f"/pens/{pen.pk}/out/")
    client.post(f"/pens/{pen.pk}/in/", {"shade_c": ""})
    other = Animal.objects.get(household=pen.household, name="Bramble")
    flows.save(pen, pen.described, animals=[other])
    events = of_animal(pip_outside, METRIC)
    assert [one.text for one in events if one.text.startswith("outside, Lawn")]
    assert not [one for one in of_animal(other, METRIC) if one.text.startswith("outside")]


def test_coming_in_is_never_before_going_out(pen: Pen) -> None:
    """A clock that was set back."""
    now = timezone.now()
    assert flows.bring_out(pen, now, None)  # type: ignore[arg-type]  # nobody
    found = flows.bring_in(pen, now - dt.timedelta(hours=1), None)
    assert found is not None and found.lasted == dt.timedelta(0)


def test_a_pen_is_its_households_own(client: Client, stranger: Client, pen: Pen) -> None:
    for way in ("", "edit/"):
        assert stranger.get(f"/pens/{pen.pk}/{way}").status_code == 404
    for way in ("apply/", "undo/", "out/", "in/", "delete/"):
        assert stranger.post(f"/pens/{pen.pk}/{way}").status_code == 404
    assert stranger.get("/pens/").context["rows"] == []
    others = stranger.get("/pens/new/").context["form"].fields["animals"].queryset
    assert not others.exists()
    client.post(f"/pens/{pen.pk}/delete/")
    assert not Pen.objects.filter(pk=pen.pk).exists()


def test_a_pen_for_nobody_asks_who_goes_out(client: Client, pen: Pen) -> None:
    flows.save(pen, pen.described, animals=[])
    page = page_of(client, pen)
    assert "Nobody" in page.content.decode() and not page.context["animals"]


def test_the_climate_is_kept(client: Client, pen: Pen) -> None:
    form = client.get(f"/pens/{pen.pk}/edit/").context["form"]
    client.post(f"/pens/{pen.pk}/edit/", fields_of(form) | {"warm_max_c": "31"})
    kept = Pen.objects.get(pk=pen.pk).usual_climate
    assert kept == PenClimate(warm_max_c=31)


@pytest.mark.parametrize(("hour", "words"), [(13, "Look every half hour"), (23, "The sun is low")])
def test_today_says_who_is_outside(
    client: Client, pen: Pen, monkeypatch: pytest.MonkeyPatch, hour: int, words: str
) -> None:
    at = dt.datetime(2026, 7, 15, hour, tzinfo=dt.UTC)
    monkeypatch.setattr(clock, "now", lambda: at)
    flows.bring_out(pen, at - dt.timedelta(hours=2), None)  # type: ignore[arg-type]  # nobody
    text = client.get("/today/").content.decode()
    assert "Pip: outside since" in text and words in text
    pen.household.memberships.update(
        role=Membership.Role.SITTER,
        from_on=at.date() - dt.timedelta(days=2),
        until_on=at.date() + dt.timedelta(days=2),
    )
    sat = client.get("/today/").content.decode()
    assert "Pip: outside since" in sat and f"/pens/{pen.pk}/" not in sat


@pytest.mark.parametrize(
    ("name", "value"),
    [
        ("spec", {"length_m": -1}),
        ("spec", {"top": "curtain"}),
        ("previous", {"walls": "jelly"}),
        ("climate", {"cold_min_c": -60}),
    ],
)
def test_a_row_from_elsewhere_is_a_pen_or_refused(pen: Pen, name: str, value: Any) -> None:
    """A household's file may be written by hand: its rows are cleaned before they are taken in."""
    setattr(pen, name, value)
    with pytest.raises(ValidationError):
        pen.clean_fields()
