"""An enclosure's page: what it shows, and that its numbers are the plan's."""

import json
import re
import subprocess
import sys
from pathlib import Path
from xml.etree import ElementTree

import pytest
from django.conf import settings
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext

from husbandry.cli import main
from husbandry.documents.request_json import from_text
from husbandry.plan.plan import plan
from ridgeback.enclosures.models import Enclosure, Reading, Revision
from ridgeback.households.models import Household
from tests.web.conftest import fields


def page(client: Client, enclosure: Enclosure) -> str:
    return client.get(f"/enclosures/{enclosure.pk}/").content.decode()


def edited(client: Client, enclosure: Enclosure) -> str:
    return client.get(f"/enclosures/{enclosure.pk}/edit/").content.decode()


def test_the_list_is_ordered_by_urgency_and_says_the_worst(client: Client) -> None:
    rows = client.get("/").context["enclosures"].rows
    assert [row.enclosure.name for row in rows][-1] == "Bramble’s enclosure"
    html = client.get("/").content.decode()
    assert (
        "Surface: 5.2 too low" in html
        and "UV index: 0.1 too low" in html
        and "Too small" in html
        and "In range as far as known" in html
    )


def test_the_four_stories_of_the_demo(client: Client, household: Household) -> None:
    stories = {
        h.name: client.get(f"/enclosures/{h.pk}/").context["view"]
        for h in household.enclosures.all()
    }
    assert stories["Bramble’s enclosure"].first.direction == "right"
    assert (
        stories["Pip’s enclosure"].first.problem.startswith("Surface")
        and "Lower the halogen flood" in stories["Pip’s enclosure"].first.title
    )
    assert (
        stories["Sable’s enclosure"].first.problem.startswith("UV index")
        and "new one of the same class" in stories["Sable’s enclosure"].first.title
    )
    assert "Move to an enclosure of" in stories["Fathom’s enclosure"].first.title
    assert {name for name, view in stories.items() if not view.size.enough} == {
        "Fathom’s enclosure"
    }


def test_drawings_are_well_formed_and_to_scale(client: Client, pip: Enclosure) -> None:
    view = client.get(f"/enclosures/{pip.pk}/").context["view"]
    for drawing in (view.wide, view.narrow, *(need.gauge for need in view.needs)):
        root = ElementTree.fromstring(drawing)
        assert root.tag.endswith("svg") and root.get("role") == "img"
        assert root.find("title") is not None or root.get("aria-label")
    inside = re.search(
        r'<rect x="([\d.]+)" y="([\d.]+)" width="([\d.]+)" height="([\d.]+)" class="inside"',
        view.wide,
    )
    assert inside is not None
    assert float(inside[3]) / float(inside[4]) == pytest.approx(1.1 / 0.55, rel=1e-3)


def test_two_drawings_on_a_page_share_no_id(client: Client, pip: Enclosure) -> None:
    ids = re.findall(r'\bid="([^"]+)"', page(client, pip))
    assert len(ids) == len(set(ids))


def test_us_units_everywhere(client: Client, pip: Enclosure) -> None:
    client.post("/preferences/", {"units_system": "us", "units_temperature": "f"})
    html = page(client, pip)
    assert "43.3 in" in html and "°F" in html
    assert not re.search(r"\d °C", html) and not re.search(
        r"\d cm\b", html.replace("accepted minimum", "")
    )


@pytest.mark.parametrize("units", [{}, {"units_system": "us", "units_temperature": "f"}])
def test_every_number_has_a_working(client: Client, pip: Enclosure, units: dict[str, str]) -> None:
    client.post("/preferences/", units)
    pointers = set(
        re.findall(r'href="(/enclosures/\d+/calculation/\?at=[^"]+)"', page(client, pip))
    )
    assert len(pointers) > 25
    for address in pointers:
        html = client.get(address).content.decode()
        assert "python -m husbandry" in html and "Source" in html


@pytest.mark.parametrize("name", ["Pip’s enclosure", "Bramble’s enclosure"])
def test_every_workings_command_gives_the_same_number(
    client: Client,
    household: Household,
    name: str,
    tmp_path: Path,
    capsys: pytest.CaptureFixture[str],
) -> None:
    enclosure = household.enclosures.get(name=name)
    file = tmp_path / f"enclosure-{enclosure.pk}.json"
    file.write_text(
        client.get(f"/enclosures/{enclosure.pk}/request.json").content.decode(), encoding="utf-8"
    )
    pointers = sorted(
        set(re.findall(r'href="[^"]+calculation/\?at=([^"]+)"', page(client, enclosure)))
    )
    assert len(pointers) > 25
    for pointer in pointers:
        shown = client.get(f"/enclosures/{enclosure.pk}/calculation/?at={pointer}")
        command = re.search(r"<code>python -m husbandry ([^<]+)</code>", shown.content.decode())
        assert command is not None, pointer
        words = command[1].replace(file.name, str(file)).split()
        assert main(words) == 0, pointer
        out = json.loads(capsys.readouterr().out)
        value = out if words[0] == "plan" else out["value"]
        assert value == pytest.approx(shown.context["derivation"].value, rel=1e-6), pointer


def test_a_command_runs_in_a_shell_of_its_own(
    client: Client, pip: Enclosure, tmp_path: Path
) -> None:
    file = tmp_path / "enclosure.json"
    file.write_text(
        client.get(f"/enclosures/{pip.pk}/request.json").content.decode(), encoding="utf-8"
    )
    words = [
        sys.executable,
        "-m",
        "husbandry",
        "plan",
        str(file),
        "--number",
        "/predictions/surface_day/value",
    ]
    out = subprocess.run(
        words, cwd=settings.ROOT, capture_output=True, text=True, check=True
    ).stdout
    shown = client.get(f"/enclosures/{pip.pk}/calculation/?at=/predictions/surface_day")
    assert float(out) == pytest.approx(shown.context["derivation"].value, rel=1e-9)


def test_only_intervals_are_called_nine_times_of_ten(client: Client, pip: Enclosure) -> None:
    """A profile's range or a target range of plausibility is not the interval of a prediction."""
    for pointer in set(re.findall(r'href="[^"]+calculation/\?at=([^"]+)"', page(client, pip))):
        html = client.get(f"/enclosures/{pip.pk}/calculation/?at={pointer}").content.decode()
        interval = pointer.startswith(("/predictions/", "/calibration/")) or pointer.endswith(
            ("/predicted", "/measured/derivation")
        )
        assert interval or "9 times of 10" not in html, pointer


@pytest.mark.parametrize(
    "pointer",
    [
        "",
        "/",
        "/nothing",
        "/needs",
        "/animals/9/diet",
        "/needs/0/low/value",
        "x",
        "/predictions/surface_day/inputs/0",
    ],
)
def test_a_working_that_is_not_there_is_not_found(
    client: Client, pip: Enclosure, pointer: str
) -> None:
    assert client.get(f"/enclosures/{pip.pk}/calculation/", {"at": pointer}).status_code == 404


def test_a_working_of_a_try_shows_the_try(client: Client, pip: Enclosure) -> None:
    data = fields(client, pip, **{"item-lamp-1-power": "75 W"})
    tried = client.post(
        f"/enclosures/{pip.pk}/calculation/?at=/predictions/surface_day",
        data,
        HTTP_HX_REQUEST="true",
    )
    kept = client.get(f"/enclosures/{pip.pk}/calculation/?at=/predictions/surface_day")
    assert tried.context["derivation"].value > kept.context["derivation"].value + 2
    assert (
        "Save this version first" in tried.content.decode()
        and "<html" not in tried.content.decode()
    )


def test_queries_do_not_grow_with_animals_or_readings(client: Client, pip: Enclosure) -> None:
    def count(address: str) -> int:
        assert client.get(address).status_code == 200  # now its plan is remembered
        with CaptureQueriesContext(connection) as seen:
            assert client.get(address).status_code == 200
        return len(seen)

    few = count(f"/enclosures/{pip.pk}/"), count("/")
    old = pip.readings.first()
    assert old is not None
    Reading.objects.bulk_create(
        Reading(
            enclosure=pip, revision=old.revision, need="surface_day", value=33 + n / 100, at=old.at
        )
        for n in range(60)
    )
    state = old.revision
    assert state.promised
    Revision.objects.bulk_create(
        Revision(
            enclosure=pip,
            number=100 + n,
            spec=state.spec,
            promised=state.promised,
            reason="tried",
            made_at=state.made_at,
        )
        for n in range(8)
    )
    assert (count(f"/enclosures/{pip.pk}/"), count("/")) == few
    assert few[0] <= 18 and few[1] <= 21


def test_the_exported_request_gives_the_pages_plan(client: Client, pip: Enclosure) -> None:
    response = client.get(f"/enclosures/{pip.pk}/request.json")
    assert (
        response["Content-Type"] == "application/json"
        and "attachment" in response["Content-Disposition"]
    )
    assert plan(from_text(response.content.decode())).changes[0].kind == "height"


def test_nothing_of_a_name_is_run(client: Client, pip: Enclosure) -> None:
    Enclosure.objects.filter(pk=pip.pk).update(name="<script>alert(1)</script>")
    pip.occupancies.first().animal.__class__.objects.filter(name="Pip").update(
        name='"><img src=x>'
    )  # type: ignore[union-attr]
    html = page(client, pip)
    assert "<script>alert" not in html and "<img" not in html


def test_a_try_is_found_again_after_a_reload_and_in_other_units(
    client: Client, pip: Enclosure
) -> None:
    lower = fields(client, pip, **{"item__lamp-1__z": "29"})
    client.post(f"/enclosures/{pip.pk}/preview/", lower)
    html = edited(client, pip)
    assert "Not saved yet" in html and 'value="29"' in html
    client.post("/preferences/", {"units_system": "us"})
    html = edited(client, pip)
    assert "Not saved yet" in html and 'value="11.4 in"' in html
    client.post(f"/enclosures/{pip.pk}/discard/")
    assert "Saved version" in edited(client, pip) and "not saved yet" not in edited(client, pip)


def test_what_cannot_be_read_yet_is_found_again_too(client: Client, pip: Enclosure) -> None:
    client.post(
        f"/enclosures/{pip.pk}/preview/", fields(client, pip, **{"item__lamp-1__z": "29 apples"})
    )
    html = edited(client, pip)
    assert 'value="29 apples"' in html and "not a unit of length" in html


def test_a_try_on_an_enclosure_that_changed_meanwhile_is_not_shown_as_if_it_fitted(
    client: Client, pip: Enclosure
) -> None:
    lower = fields(client, pip, **{"item__lamp-1__z": "29 cm"})
    client.post(f"/enclosures/{pip.pk}/preview/", lower)
    assert (
        client.post(
            f"/enclosures/{pip.pk}/save/", fields(client, pip, **{"item__lamp-1__z": "35 cm"})
        ).status_code
        == 302
    )
    assert "Saved version" in edited(client, pip)


def test_a_day_in_the_enclosure_with_its_hard_days(client: Client, pip: Enclosure) -> None:
    html = client.get(f"/enclosures/{pip.pk}/day/").content.decode()
    for said in (
        "24-hour forecast of Pip’s enclosure",
        "nine tenths of its rise",
        "EUR a month",
        "The power is cut",
        "A heat wave of 3 days",
        "licensed electrician",
    ):
        assert said in html, said
    bramble = Enclosure.objects.get(name="Bramble’s enclosure")
    assert (
        "sticks on, on the hottest day"
        in client.get(f"/enclosures/{bramble.pk}/day/").content.decode()
    )


def test_the_hard_days_may_be_asked_otherwise_and_what_cannot_be_is_said(
    client: Client, pip: Enclosure
) -> None:
    asked = {"cut": "12 h", "cold": "0 °C", "days": "5", "top": "34 °C"}
    html = client.get(f"/enclosures/{pip.pk}/day/", asked).content.decode()
    assert "cut for 12 h" in html and "heat wave of 5 days" in html
    html = client.get(
        f"/enclosures/{pip.pk}/day/", {**asked, "cut": "long", "top": "340 °C"}
    ).content.decode()
    assert (
        "cannot be read" in html
        and "not possible" in html
        and 'value="long"' in html
        and "cut for 6 h" in html
    )


def test_a_day_reads_in_fahrenheit(client: Client, pip: Enclosure) -> None:
    client.post("/preferences/", {"units_system": "us", "units_temperature": "f"})
    html = client.get(f"/enclosures/{pip.pk}/day/").content.decode()
    assert "°F" in html and "°C" not in html.split("</header>")[1]


def test_the_way_of_a_thermostat_is_kept(client: Client) -> None:
    bramble = Enclosure.objects.for_planning().get(name="Bramble’s enclosure")
    client.post(
        f"/enclosures/{bramble.pk}/save/",
        fields(client, bramble, **{"item-lamp-1-control": "on_off"}),
    )
    bramble = Enclosure.objects.for_planning().get(pk=bramble.pk)
    assert (
        bramble.head is not None
        and bramble.head.spec["items"][0]["thermostat"]["control"] == "on_off"
    )


def test_a_room_says_what_its_enclosures_draw_and_how_they_warm_it(
    client: Client, pip: Enclosure
) -> None:
    address = f"/rooms/{pip.room_id}/power/"
    html = client.get(address).content.decode()
    assert (
        "Back room and all its enclosures" in html
        and "warmer over a day" in html
        and "licensed electrician" in html
    )
    assert all(
        name in html
        for name in (
            "Pip’s enclosure",
            "Sable’s enclosure",
            "Fathom’s enclosure",
            "Bramble’s enclosure",
        )
    )
    small = {
        "length": "2 m",
        "width": "2 m",
        "loss": "well insulated",
        "volts": "120",
        "amps": "10",
    }
    assert "becomes" in client.get(address, small).content.decode()
    html = client.get(address, {**small, "length": "wide", "amps": "99"}).content.decode()
    assert (
        "cannot be read" in html and 'value="wide"' in html and "not one of the available" in html
    )


def test_a_room_takes_the_same_queries_for_few_and_for_many_enclosures(
    client: Client, pip: Enclosure, household: Household
) -> None:
    from tests.web.test_list import many

    counts = []
    for more in (0, 8):
        many(household, more)
        client.get(f"/rooms/{pip.room_id}/power/")
        with CaptureQueriesContext(connection) as queries:
            client.get(f"/rooms/{pip.room_id}/power/")
        counts.append(len(queries))
    assert counts[0] == counts[1]


def test_along_the_floor_says_where_warmth_and_ultraviolet_meet(
    client: Client, pip: Enclosure
) -> None:
    html = page(client, pip)
    assert (
        "Along the floor" in html
        and "Warmth and UV overlap over" in html
        and "Of the floor’s length" in html
    )
    sable = Enclosure.objects.get(name="Sable’s enclosure")
    assert "Along the floor" in page(client, sable)


def test_the_drawing_goes_out_as_an_svg_that_needs_no_style_sheet(
    client: Client, pip: Enclosure
) -> None:
    response = client.get(f"/enclosures/{pip.pk}/drawing.svg")
    assert (
        response["Content-Type"] == "image/svg+xml"
        and "attachment" in response["Content-Disposition"]
    )
    svg = response.content.decode()
    assert ElementTree.fromstring(svg).tag.endswith("svg")
    assert (
        "Pip’s enclosure" in svg and "class=" not in svg and " style=" not in svg and "1 : " in svg
    )


def test_the_light_of_an_enclosure_is_told_with_what_it_is_enough_for(
    client: Client, pip: Enclosure
) -> None:
    facts = {
        name: number.text
        for name, number in client.get(f"/enclosures/{pip.pk}/").context["view"].facts
    }
    assert facts["Light where it basks"].endswith(" lx") and facts["Lit"] == "12.0 h a day"
    assert facts["On a leaf"].endswith(("too dark for plants", "shade", "full light"))


def test_a_page_behind_a_guard_loads_its_enclosure_once(client: Client, pip: Enclosure) -> None:
    """The guard hands on what it has loaded, and its household was asked for."""
    with CaptureQueriesContext(connection) as asked:
        answer = client.get(f"/enclosures/{pip.pk}/animals/")
    assert answer.status_code == 200
    loads = [one["sql"] for one in asked if "proven_revision" in one["sql"]]
    assert len(loads) == 1
    assert f'"household_id" = {pip.household_id}' in loads[0]
