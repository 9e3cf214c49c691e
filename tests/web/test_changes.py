"""Writing: applying, undoing, keeping a try, and readings.

Nothing is overwritten, nothing typed is lost.
"""

import datetime as dt
import zoneinfo

import pytest
from django.db import IntegrityError, transaction
from django.test import Client
from django.utils import timezone
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from ridgeback.animals.models import Animal, Weighing
from ridgeback.demo import household as demo
from ridgeback.enclosures.models import Enclosure, Occupancy, Reading
from ridgeback.households.models import Household, Room
from tests.web.conftest import fields, last_lit


def again(enclosure: Enclosure) -> Enclosure:
    return Enclosure.objects.for_planning().get(pk=enclosure.pk)


def apply_first(client: Client, enclosure: Enclosure) -> None:
    change = client.get(f"/enclosures/{enclosure.pk}/").context["view"].changes[0]
    head = again(enclosure).head
    assert head is not None
    client.post(
        f"/enclosures/{enclosure.pk}/apply/",
        {"change": f"{change.kind}/{change.item_id}", "revision": head.number},
    )


def test_applying_makes_a_revision_with_the_quoted_effect(client: Client, pip: Enclosure) -> None:
    before = client.get(f"/enclosures/{pip.pk}/").context["view"]
    quoted = before.changes[0].effects[0]
    apply_first(client, pip)
    now = again(pip)
    assert now.head is not None and (now.head.number, now.revisions.count()) == (2, 2)
    assert now.head.reason == "Lower the halogen flood 22 cm"
    after = client.get(f"/enclosures/{pip.pk}/").context["view"]
    surface = next(need for need in after.needs if need.key == "surface_day")
    assert surface.predicted is not None and quoted.endswith(f"→ {surface.predicted.text}")
    assert (
        surface.direction == "right" and not surface.judged and "before the change" in surface.age
    )


def test_undo_goes_back_step_by_step_and_keeps_everything(client: Client, pip: Enclosure) -> None:
    first = again(pip).head
    assert first is not None
    apply_first(client, pip)
    data = fields(client, again(pip), **{"item-lamp-1-power": "35 W"})
    client.post(f"/enclosures/{pip.pk}/save/", data)
    assert again(pip).revisions.count() == 3
    for _ in range(2):
        head = again(pip).head
        assert head is not None
        client.post(f"/enclosures/{pip.pk}/undo/", {"revision": head.number})
    now = again(pip)
    assert (
        now.head is not None
        and now.head.number == 5
        and now.head.spec == first.spec
        and now.head.previous is None
    )
    response = client.post(f"/enclosures/{pip.pk}/undo/", {"revision": 5}, follow=True)
    assert "nothing before" in response.content.decode()


def test_two_tabs_do_not_overwrite_each_other(client: Client, pip: Enclosure) -> None:
    stale = fields(client, pip, **{"item-lamp-1-power": "35 W"})
    apply_first(client, pip)
    response = client.post(f"/enclosures/{pip.pk}/save/", stale)
    assert (
        "changed meanwhile" in response.content.decode()
        and 'value="35 W"' in response.content.decode()
    )
    assert again(pip).revisions.count() == 2
    response = client.post(f"/enclosures/{pip.pk}/undo/", {"revision": "1"}, follow=True)
    assert "changed meanwhile" in response.content.decode()


@pytest.mark.parametrize("revision", ["", "x", "-1", "9" * 30, "²"])
def test_a_broken_revision_number_is_only_stale(
    client: Client, pip: Enclosure, revision: str
) -> None:
    assert (
        "changed meanwhile"
        in client.post(
            f"/enclosures/{pip.pk}/undo/", {"revision": revision}, follow=True
        ).content.decode()
    )


def test_a_change_that_is_not_on_the_list_is_not_made(client: Client, pip: Enclosure) -> None:
    response = client.post(
        f"/enclosures/{pip.pk}/apply/",
        {"change": "larger_enclosure/lamp-1", "revision": 1},
        follow=True,
    )
    assert (
        "no longer on the list" in response.content.decode() and again(pip).revisions.count() == 1
    )


def test_a_preview_keeps_nothing(client: Client, pip: Enclosure) -> None:
    data = fields(client, pip, **{"item-lamp-1-z": "29 cm"})
    html = client.post(
        f"/enclosures/{pip.pk}/preview/", data, HTTP_HX_REQUEST="true"
    ).content.decode()
    assert "Not saved yet" in html and 'id="needs"' in html and 'hx-swap-oob="true"' in html
    assert again(pip).revisions.count() == 1


def test_what_was_measured_before_does_not_speak_for_a_try(client: Client, pip: Enclosure) -> None:
    data = fields(client, pip, **{"item-lamp-1-z": "29 cm"})
    view = client.post(f"/enclosures/{pip.pk}/preview/", data, HTTP_HX_REQUEST="true").context[
        "view"
    ]
    surface = next(need for need in view.needs if need.key == "surface_day")
    assert surface.direction == "right" and surface.verdict.startswith("predicted")


def test_an_unchanged_form_is_as_kept_to_the_last_digit(client: Client, pip: Enclosure) -> None:
    for units in ({}, {"units_system": "us", "units_temperature": "f"}):
        client.post("/preferences/", units)
        response = client.post(f"/enclosures/{pip.pk}/save/", fields(client, pip), follow=True)
        assert "Nothing differs" in response.content.decode()
    assert again(pip).revisions.count() == 1


def test_saving_writes_enclosure_and_animal_in_one_go(client: Client, pip: Enclosure) -> None:
    typed = {
        "enclosure-length": "4 ft",
        "item-lamp-1-power": "75",
        "animal-0-mass": "4 oz",
        "animal-0-feeding-pace": "eager",
    }
    client.post(f"/enclosures/{pip.pk}/save/", fields(client, pip, **typed))
    now = again(pip)
    assert now.head is not None
    assert (
        now.head.spec["enclosure"]["inside_m"]["length"] == pytest.approx(1.2192)
        and now.head.spec["items"][0]["power_w"] == 75
    )
    animal = now.present[0].animal
    assert animal.mass_g() == pytest.approx(113.398, abs=1e-3) and animal.approaches == {
        "feeding-pace": "eager"
    }
    assert Weighing.objects.filter(animal=animal).count() == 7


def test_a_tile_is_not_as_thick_as_a_bed(client: Client, pip: Enclosure) -> None:
    """The depth of the soil stayed when a tile was chosen: “a tile 5 cm thick”."""
    typed = fields(client, pip, **{"enclosure-substrate": "tile"})
    html = client.post(f"/enclosures/{pip.pk}/save/", typed).content.decode()
    assert "Tile is about 10 mm thick" in html and again(pip).head == pip.head
    client.post(f"/enclosures/{pip.pk}/save/", {**typed, "enclosure-substrate_depth": "1 cm"})
    head = again(pip).head
    assert head is not None and head.spec["enclosure"]["substrate"]["depth_m"] == pytest.approx(
        0.01
    )


@pytest.mark.parametrize(("typed", "rises"), [({}, 0.1), ({"item-lamp-1-z": "95 cm"}, None)])
def test_what_stands_above_the_lid_rises_with_it(
    client: Client, household: Household, typed: dict[str, str], rises: float | None
) -> None:
    """A lamp on the mesh stayed behind, inside, when the enclosure was made higher."""
    enclosure = next(
        one
        for one in Enclosure.objects.for_planning().filter(household=household)
        if one.head and any(item.get("above_lid") for item in one.head.spec["items"])
    )
    assert enclosure.head is not None
    before = {item["id"]: item for item in enclosure.head.spec["items"]}
    higher = enclosure.head.spec["enclosure"]["inside_m"]["height"] + 0.1
    client.post(
        f"/enclosures/{enclosure.pk}/save/",
        fields(client, enclosure, **{"enclosure-height": f"{higher:.3f} m", **typed}),
    )
    now = again(enclosure)
    assert now.head is not None and now.head.number == enclosure.head.number + 1
    for item in now.head.spec["items"]:
        was = before[item["id"]]
        if not was.get("above_lid"):
            continue
        z = 0.95 if rises is None and item["id"] == "lamp-1" else was["at_m"][2] + 0.1
        assert item["above_lid"] and item["at_m"][2] == pytest.approx(z, abs=1e-3)


def test_a_lamp_may_be_on_several_times_a_day(client: Client, pip: Enclosure) -> None:
    data = fields(client, pip, **{"item-tube-1-also_on": "17:00 to 18:00, 20:00–20:15"})
    client.post(f"/enclosures/{pip.pk}/save/", data)
    tube = again(pip).request_at(timezone.now()).item("tube-1")
    assert tube.also_on == ("17:00-18:00", "20:00-20:15")  # type: ignore[union-attr]
    assert fields(client, pip)["item-tube-1-also_on"] == "17:00–18:00, 20:00–20:15"


@pytest.mark.parametrize(
    ("field", "typed", "said"),
    [
        ("enclosure-length", "90 °C", "is not a unit of length"),
        ("enclosure-length", "110 m", "did you mean 110 cm or 110 in"),
        ("enclosure-length", "", "Write a length inside"),
        ("enclosure-substrate_depth", "50 cm", "leaves too little"),
        ("item-lamp-1-z", "70 cm", "above the lid"),
        ("item-lamp-1-z", "9 cm", "in or under the stone"),
        ("item-lamp-1-x", "3 m", "outside the enclosure"),
        ("item-lamp-1-power", "10 kW", "did you mean 10 W?"),
        ("item-lamp-1-power", "0", "not possible"),
        ("item-tube-1-x", "1 m", "does not fit"),
        ("item-tube-1-off", "", "both its times"),
        ("item-tube-1-also_on", "evening", "is no span of a day"),
        ("item-tube-1-also_on", "17:00-17:00", "ends as it begins"),
        ("animal-0-mass", "🦎", "cannot be read as a mass"),
        ("animal-0-mass", "", "Write a mass"),
        ("animal-0-mass", "0", "not possible"),
        ("animal-0-fed", "2999-01-01", "still to come"),
        ("item-lamp-1-set", "40 C", None),
        ("item-lamp-1-probe", "surface", None),
        ("item-stone-1-size2", "0", "from 1 mm to 5 m"),
        ("item-tube-1-hours", "-5 h", "at least 0"),
        ("animal-0-born", "2999-01-01", "still to come"),
        ("animal-0-mass", "9" * 500, "at most 60"),
        ("enclosure-front", "cheese", "not one of the available choices"),
    ],
)
def test_wrong_entry_is_said_beside_its_field_and_kept(
    client: Client, pip: Enclosure, field: str, typed: str, said: str | None
) -> None:
    data = fields(client, pip, **{field: typed})
    preview = client.post(
        f"/enclosures/{pip.pk}/preview/", data, HTTP_HX_REQUEST="true"
    ).content.decode()
    if said is None:  # half a thermostat: the other half is asked for, beside it
        other = {
            "item-lamp-1-set": ("probe", "Say where its probe is"),
            "item-lamp-1-probe": ("set", "Write the temperature"),
        }
        field, said = f"item-lamp-1-{other[field][0]}", other[field][1]
    slot = preview[preview.index(f'id="slot-{field}"') :][:600]
    assert said.replace("'", "&#x27;") in slot, slot
    page = client.post(f"/enclosures/{pip.pk}/save/", data)
    form = page.context["layout"]
    assert form.errors[field] and all(
        form[name].value() == text
        for name, text in data.items()
        if name in form.fields and text != "on"
    )
    assert again(pip).revisions.count() == 1


@settings(
    max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
@given(
    st.dictionaries(
        st.sampled_from(
            [
                "enclosure-length",
                "enclosure-share",
                "item-lamp-1-power",
                "item-tube-1-z",
                "item-lamp-1-set",
                "animal-0-mass",
                "animal-0-born",
                "item-lamp-1-on",
            ]
        ),
        st.text(max_size=40),
    )
)
def test_no_text_breaks_the_layout(client: Client, pip: Enclosure, typed: dict[str, str]) -> None:
    data = fields(client, pip, **typed)
    assert (
        client.post(f"/enclosures/{pip.pk}/preview/", data, HTTP_HX_REQUEST="true").status_code
        == 200
    )


def test_a_mass_a_hundred_times_off_is_asked(client: Client, pip: Enclosure) -> None:
    data = fields(client, pip, **{"animal-0-mass": "96 kg"})
    preview = client.post(
        f"/enclosures/{pip.pk}/preview/", data, HTTP_HX_REQUEST="true"
    ).content.decode()
    assert "A mass of 96 kg is not likely: did you mean 96 g?" in preview


def test_undo_names_no_measure_in_foreign_units(client: Client, pip: Enclosure) -> None:
    apply_first(client, pip)
    client.get(f"/enclosures/{pip.pk}/")
    client.post("/preferences/", {"units_system": "us", "units_temperature": "f"})
    html = client.get(f"/enclosures/{pip.pk}/").content.decode()
    assert "Undo the last change" in html and "21 cm" not in html


# --- readings -------------------------------------------------------------------------------------


def reading(**more: str) -> dict[str, str]:
    return {
        "need": "surface_day",
        "value": "38.4",
        "at": last_lit(),
        "instrument": "infrared",
        "offset": "",
        "lamp_on": "",
        **more,
    }


def test_a_reading_is_logged_and_speaks(client: Client, pip: Enclosure) -> None:
    response = client.post(f"/enclosures/{pip.pk}/readings/", reading(offset="0.4"), follow=True)
    assert "Logged: Surface, under the lamp, 38.4 °C." in response.content.decode()
    latest = pip.readings.order_by("-pk").first()
    assert latest is not None and (latest.value, latest.offset, latest.revision) == (
        38.4,
        0.4,
        again(pip).head,
    )
    surface = next(n for n in response.context["view"].needs if n.key == "surface_day")
    assert (
        surface.verdict == "in range, likely"
        and surface.measured is not None
        and surface.measured.text == "38.0 °C"
    )


def test_lamp_on_since_becomes_hours(client: Client, pip: Enclosure) -> None:
    yesterday = (timezone.now() - dt.timedelta(days=1)).strftime("%Y-%m-%d")
    client.post(
        f"/enclosures/{pip.pk}/readings/", reading(at=f"{yesterday}T09:30", lamp_on="07:30")
    )
    latest = pip.readings.order_by("-pk").first()
    assert latest is not None and latest.lamp_on_h == pytest.approx(2.0)
    client.post(
        f"/enclosures/{pip.pk}/readings/", reading(at=f"{yesterday}T01:00", lamp_on="19:00")
    )
    latest = pip.readings.order_by("-pk").first()
    assert latest is not None and latest.lamp_on_h == pytest.approx(6.0)


def test_what_its_hour_or_another_reading_excludes_is_asked_before_it_counts(
    client: Client, pip: Enclosure
) -> None:
    address = f"/enclosures/{pip.pk}/readings/"
    before = Reading.objects.filter(enclosure=pip).count()
    yesterday = timezone.now().astimezone(zoneinfo.ZoneInfo(demo.ZONE)).date() - dt.timedelta(
        days=1
    )
    night = f"{yesterday}T02:30"
    asked = client.post(address, reading(at=night)).content.decode()
    assert "off by their own timers" in asked and "It is correct as typed" in asked
    assert 'value="38.4"' in asked and Reading.objects.filter(enclosure=pip).count() == before
    client.post(address, reading(at=night, confirm="38.4"))
    assert Reading.objects.filter(enclosure=pip).count() == before + 1
    client.post(address, reading(value="38"))
    asked = client.post(address, reading(value="55")).content.decode()
    assert "one of the two is wrong" in asked and "38" in asked


def test_ninety_degrees_is_asked_before_it_is_believed(client: Client, pip: Enclosure) -> None:
    count = Reading.objects.count()
    asked = client.post(f"/enclosures/{pip.pk}/readings/", reading(value="90"))
    html = asked.content.decode()
    assert "did you mean 90 °F = 32 °C?" in html and 'value="90"' in html and "Yes, 90 °F" in html
    assert Reading.objects.count() == count
    client.post(f"/enclosures/{pip.pk}/readings/", reading(value="90", confirm="90"))
    assert Reading.objects.count() == count + 1
    client.post(f"/enclosures/{pip.pk}/readings/", reading(value="90 °F", confirm="90 °F"))
    assert Reading.objects.order_by("-pk").first().value == pytest.approx(32.22, abs=0.01)  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ({"value": "400 °C", "confirm": "400 °C"}, "not possible"),
        ({"value": "warm"}, "cannot be read"),
        ({"value": ""}, "required"),
        ({"at": "2999-01-01T10:00"}, "still to come"),
        ({"at": "soon"}, "valid date"),
        ({"need": "mood"}, "not one of the available"),
        ({"offset": "50"}, "No instrument"),
        ({"offset": "x"}, "cannot be read"),
    ],
)
def test_a_wrong_reading_is_said_and_kept(
    client: Client, pip: Enclosure, typed: dict[str, str], said: str
) -> None:
    count = Reading.objects.count()
    page = client.post(f"/enclosures/{pip.pk}/readings/", reading(**typed))
    form = page.context["reading"]
    assert said in str(form.errors) and Reading.objects.count() == count
    assert form["value"].value() == typed.get("value", "38.4")


@pytest.mark.parametrize(
    ("need", "instrument", "said"),
    [
        ("warm_air_day", "infrared", "reads surfaces, not air"),
        ("surface_day", "uv", "A UV meter shows the UV index and nothing else."),
        ("uvi_day", "probe", "Only a UV meter shows the UV index."),
        ("humidity_day", "infrared", "Humidity is read with a hygrometer."),
    ],
)
def test_an_instrument_that_cannot_read_it(
    client: Client, pip: Enclosure, need: str, instrument: str, said: str
) -> None:
    count = Reading.objects.count()
    html = client.post(
        f"/enclosures/{pip.pk}/readings/", reading(need=need, value="3", instrument=instrument)
    ).content.decode()
    assert said in html and 'value="3"' in html and Reading.objects.count() == count


def test_ends_exchanged_are_named_beside_both(client: Client, pip: Enclosure) -> None:
    for need, value in (("warm_air_day", "23"), ("cool_air_day", "28.5")):
        client.post(
            f"/enclosures/{pip.pk}/readings/", reading(need=need, value=value, instrument="probe")
        )
    html = client.get(f"/enclosures/{pip.pk}/").content.decode()
    assert html.count("Measure it again first.") == 2 and "exchanged?" in html


def test_an_odd_reading_is_taken_again_before_anything_is_changed(
    client: Client, pip: Enclosure
) -> None:
    """More heat after a false reading burns; less heat past the upper limit is safe, whatever the
    instrument.
    """
    client.post(f"/enclosures/{pip.pk}/readings/", reading(value="24"))
    client.post(
        f"/enclosures/{pip.pk}/readings/",
        reading(need="warm_air_day", value="27", instrument="probe"),
    )
    first = client.get(f"/enclosures/{pip.pk}/").context["view"].first
    assert (first.title, first.kind) == ("Measure it again before you change anything", "")
    assert first.problem.startswith("Surface") and first.direction == "below"
    client.post(f"/enclosures/{pip.pk}/readings/", reading(value="70", confirm="70"))
    client.post(
        f"/enclosures/{pip.pk}/readings/",
        reading(need="cool_air_day", value="24.5", instrument="probe"),
    )
    view = client.get(f"/enclosures/{pip.pk}/").context["view"]
    assert (
        next(need.odd for need in view.needs if need.key == "surface_day")
        and view.first.direction == "above"
    )
    assert view.first.title != "Measure it again before you change anything"


def test_a_forms_address_opened_by_hand_leads_to_the_enclosure(
    client: Client, pip: Enclosure
) -> None:
    for action in ("readings", "save", "apply", "undo", "preview"):
        assert (
            client.get(f"/enclosures/{pip.pk}/{action}/")["Location"] == f"/enclosures/{pip.pk}/"
        )
    failed = client.post(f"/enclosures/{pip.pk}/readings/", reading(value="warm")).content.decode()
    assert f'name="next" value="/enclosures/{pip.pk}/"' in failed


def test_fahrenheit_is_read_when_the_reader_reads_it(client: Client, pip: Enclosure) -> None:
    client.post("/preferences/", {"units_temperature": "f"})
    client.post(f"/enclosures/{pip.pk}/readings/", reading(value="100", offset="1.8"))
    latest = pip.readings.order_by("-pk").first()
    assert (
        latest is not None
        and latest.value == pytest.approx(37.78, abs=0.01)
        and latest.offset == pytest.approx(1.0)
    )


# --- what the database itself refuses -------------------------------------------------------------


def test_an_animal_lives_in_one_enclosure_at_a_time(household: Household, pip: Enclosure) -> None:
    other = Enclosure.objects.get(name="Sable’s enclosure")
    present = pip.occupancies.get()
    with pytest.raises(IntegrityError), transaction.atomic():
        Occupancy.objects.create(enclosure=other, animal=present.animal, since=timezone.now())
    present.until = timezone.now()
    present.save()
    Occupancy.objects.create(enclosure=other, animal=present.animal, since=present.until)


def test_impossible_rows_are_refused(household: Household, pip: Enclosure) -> None:
    animal = Animal.objects.get(name="Pip")
    room = pip.room
    for make in (
        lambda: Weighing.objects.create(animal=animal, on=dt.date(2026, 1, 1), mass_g=-1),
        lambda: Enclosure.objects.create(household=household, room=room, name=pip.name),
        lambda: Room.objects.filter(pk=room.pk).update(rh_pct=140),
        lambda: Reading.objects.filter(enclosure=pip).update(need="mood"),
        lambda: Household.objects.create(name="Second demo", demo_day=dt.date(2026, 1, 1)),
    ):
        with pytest.raises(IntegrityError), transaction.atomic():
            make()


# --- the demo -------------------------------------------------------------------------------------


def test_the_demo_is_loaded_once_and_moves_with_the_days(
    household: Household, pip: Enclosure
) -> None:
    later = timezone.now() + dt.timedelta(days=40)
    newest = Reading.objects.filter(enclosure=pip).latest("at").at
    assert demo.load(later).pk == household.pk
    assert Household.objects.count() == 1 and Enclosure.objects.count() == 4
    assert Reading.objects.filter(enclosure=pip).latest("at").at - newest == dt.timedelta(days=40)
    demo.load(later)
    assert Reading.objects.filter(enclosure=pip).latest("at").at - newest == dt.timedelta(days=40)


def test_the_demo_has_months_of_weights(household: Household) -> None:
    for animal in household.animals.all():
        days = [w.on for w in animal.weighings.all()]
        assert len(days) >= 4 and (max(days) - min(days)).days > 80


def test_sides_covered_from_outside_are_kept_and_changed(client: Client, pip: Enclosure) -> None:
    """Saving anything else dropped what a suggested setup had covered."""
    client.post(
        f"/enclosures/{pip.pk}/save/", fields(client, pip, **{"enclosure-covered": "back,left"})
    )
    pip = Enclosure.objects.for_planning().get(pk=pip.pk)
    assert pip.head is not None and pip.head.spec["enclosure"]["covered"] == ["back", "left"]
    typed = fields(client, pip, **{"enclosure-length": "111 cm"})
    assert typed["enclosure-covered"] == "back,left"
    client.post(f"/enclosures/{pip.pk}/save/", typed)
    pip = Enclosure.objects.for_planning().get(pk=pip.pk)
    assert pip.head is not None and pip.head.spec["enclosure"]["covered"] == ["back", "left"]


def test_hours_of_a_night_that_nobody_types_stay(client: Client, pip: Enclosure) -> None:
    """A night from 22:00 to 06:00, brought by a file, became 20:00 to 08:00 with the next save."""
    assert pip.head is not None
    items = pip.head.spec["items"]
    held = {"set_c": 38, "night_set_c": 20, "night_from": "22:00", "night_to": "06:00"}
    items[0] |= {"thermostat": held}
    pip.head.save(update_fields=["spec"])
    typed = fields(client, pip, **{"enclosure-length": "111 cm"})
    client.post(f"/enclosures/{pip.pk}/save/", typed)
    kept = again(pip).head
    assert kept is not None
    now = kept.spec["items"][0]["thermostat"]
    assert (now["night_set_c"], now["night_from"], now["night_to"]) == (20, "22:00", "06:00")


def test_a_finding_is_answered_by_apply_and_comes_back_by_undo(
    client: Client, pip: Enclosure
) -> None:
    page = client.get(f"/enclosures/{pip.pk}/")
    change = next(one for one in page.context["view"].for_findings if one.kind == "supports")
    assert change.title == "Set the stone on supports from the floor" and not change.safety
    assert change.answers not in page.context["view"].cares
    head = again(pip).head
    assert head is not None
    answer = client.post(
        f"/enclosures/{pip.pk}/apply/",
        {"change": f"{change.kind}/{change.item_id}", "revision": head.number},
        follow=True,
    )
    assert "supports" in answer.content.decode()
    after = again(pip).head
    assert after is not None
    assert any(item.get("supported") for item in after.spec["items"])
    assert "supports" not in {one.kind for one in answer.context["view"].changes}
    client.post(f"/enclosures/{pip.pk}/undo/", {"revision": after.number})
    undone = again(pip).head
    assert undone is not None and undone.spec["items"] == head.spec["items"]


def test_vents_are_set_in_either_unit_and_questioned(client: Client, pip: Enclosure) -> None:
    typed = fields(client, pip, **{"enclosure-vent_low": "12 sq in", "enclosure-vent_high": "90"})
    client.post(f"/enclosures/{pip.pk}/save/", typed)
    kept = again(pip).head
    assert kept is not None
    vents = kept.spec["enclosure"]["vents"]
    assert round(vents["low_cm2"], 1) == 77.4 and vents["high_cm2"] == 90
    typed = fields(client, again(pip), **{"enclosure-vent_low": "20000 cm2"})
    refused = client.post(f"/enclosures/{pip.pk}/save/", typed)
    assert "vent area of 20000 cm² is not possible" in refused.content.decode()
