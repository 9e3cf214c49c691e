"""The page of a build: said, kept, calculated again when a step slips, and taken along as table and
calendar.
"""

import csv
import datetime as dt
import io
import subprocess
from pathlib import Path
from typing import Any

import icalendar
import pytest
from django.test import Client

from ridgeback.enclosures.models import Enclosure, Reading
from ridgeback.jobs import tasks
from tests import clocks


def page(client: Client, pip: Enclosure) -> Any:
    return client.get(f"/enclosures/{pip.pk}/build/")


def sent(client: Client, pip: Enclosure, **more: str) -> Any:
    shown = page(client, pip).context
    form = shown["form"]
    data = {
        name: form[name].value() for name in form.fields if form[name].value() not in (None, False)
    }
    return client.post(f"/enclosures/{pip.pk}/build/", {**data, "seal": shown["seal"], **more})


def test_it_says_when_the_animal_may_move_in(client: Client, pip: Enclosure) -> None:
    planned(pip)
    html = page(client, pip).content.decode()
    assert (
        "Earliest move-in:" in html
        and "bar-critical" in html
        and "Thermostats, guards, thermometers" in html
    )


def test_choices_prices_and_what_is_owned_are_kept(client: Client, pip: Enclosure) -> None:
    planned(pip)
    before = page(client, pip).context
    prices = {row["line"].item.slug: row["line"].each for row in before["rows"]}
    assert (
        sent(
            client, pip, crew="on", **{"own-enclosure": "1", "own-timer": "1", "price-stand": "80"}
        ).status_code
        == 302
    )
    after = page(client, pip).context
    assert after["build"].move_in > before["build"].move_in
    left = (
        before["totals"].all.value - prices["enclosure"] - prices["timer"] - (prices["stand"] - 80)
    )
    assert after["totals"].all.value == pytest.approx(left)
    kept = Enclosure.objects.get(pk=pip.pk).build
    assert (
        kept["owned"]["enclosure"] == 1
        and kept["each"] == {"stand": 80.0}
        and kept["choices"] == ["crew"]
    )
    html = page(client, pip).content.decode()
    assert "What is not owned × the price of each" in html and "your own price" in html
    calculators = after["totals"]
    assert calculators.all.value == pytest.approx(calculators.now.value + calculators.later.value)
    assert sum(given.value or 0 for given in calculators.now.inputs) == pytest.approx(
        calculators.now.value, abs=0.1
    )
    assert "All of it less what can wait" in html


def planned(pip: Enclosure) -> None:
    """As if the enclosure did not stand yet."""
    assert pip.head is not None
    pip.head.state = "planned"
    pip.head.save()


def test_what_stands_is_not_on_the_bill(client: Client, pip: Enclosure) -> None:
    shown = page(client, pip)
    assert (
        shown.context["totals"].all.value == 0
        and "It is built as planned" in shown.content.decode()
    )
    planned(pip)
    assert page(client, pip).context["totals"].all.value > 300
    sent(client, pip)
    assert (
        Enclosure.objects.get(pk=pip.pk).build["owned"] == {}
    )  # what was only shown is not kept as said
    assert pip.head is not None
    pip.head.state = "built"
    pip.head.save()
    assert page(client, pip).context["totals"].all.value == 0


def test_an_own_price_that_is_cleared_is_the_guide_again(client: Client, pip: Enclosure) -> None:
    planned(pip)
    sent(client, pip, **{"price-stand": "80"})
    assert Enclosure.objects.get(pk=pip.pk).build["each"] == {"stand": 80.0}
    sent(client, pip)
    assert Enclosure.objects.get(pk=pip.pk).build["each"] == {"stand": 80.0}
    sent(client, pip, **{"price-stand": ""})
    assert Enclosure.objects.get(pk=pip.pk).build["each"] == {}


def test_an_instrument_of_the_household_is_not_bought_twice(
    client: Client, pip: Enclosure
) -> None:
    planned(pip)
    there = {row["line"].item.slug: row["line"].owned for row in page(client, pip).context["rows"]}
    assert there["infrared"] == 1 and there["hygrometer"] == 0
    Reading.objects.filter(instrument="infrared").delete()
    there = {row["line"].item.slug: row["line"].owned for row in page(client, pip).context["rows"]}
    assert there["infrared"] == 0


def test_a_build_that_was_kept_by_an_earlier_version_is_read(
    client: Client, pip: Enclosure
) -> None:
    planned(pip)
    pip.build = {"owned": ["timer"], "prices": {"timer": 30.0, "enclosure": 200.0}}
    pip.save()
    rows = {row["line"].item.slug: row["line"] for row in page(client, pip).context["rows"]}
    assert (
        rows["timer"].owned == rows["timer"].item.count == 2
        and rows["timer"].each == 15.0
        and rows["enclosure"].each == 200.0
    )
    sent(client, pip)
    kept = Enclosure.objects.get(pk=pip.pk).build
    assert kept["owned"]["timer"] == 2 and kept["each"]["enclosure"] == 200.0


@pytest.mark.parametrize(
    ("typed", "said"),
    [("3", "It takes 2"), ("some", "as a whole number"), ("-1", "None at the least")],
)
def test_so_many_cannot_be_owned(client: Client, pip: Enclosure, typed: str, said: str) -> None:
    planned(pip)
    html = sent(client, pip, **{"own-timer": typed}).content.decode()
    assert (
        said in html
        and f'value="{typed}"' in html
        and Enclosure.objects.get(pk=pip.pk).build == {}
    )


def test_a_step_that_slipped_moves_the_day(client: Client, pip: Enclosure) -> None:
    begin = clocks.today() - dt.timedelta(days=20)
    sent(client, pip, start=begin.isoformat())
    slipped = page(client, pip).context["build"]
    assert all(
        step.begin >= clocks.today() for step in slipped.steps
    )  # what is not done is not planned for days that are gone
    late = clocks.today() - dt.timedelta(days=1)
    sent(client, pip, **{"done-seal": late.isoformat()})
    sealed = page(client, pip).context["build"]
    assert (
        sealed.move_in < slipped.move_in
        and next(s for s in sealed.steps if s.task.slug == "seal").done_on == late
    )


@pytest.mark.parametrize(
    ("field", "days", "said"),
    [
        ("done-seal", 3, "still to come"),
        ("done-seal", -400, "before the build began"),
        ("start", None, "valid date"),
    ],
)
def test_days_that_cannot_be_are_said_at_their_field(
    client: Client, pip: Enclosure, field: str, days: int | None, said: str
) -> None:
    value = "soon" if days is None else (clocks.today() + dt.timedelta(days=days)).isoformat()
    html = sent(client, pip, **{field: value}).content.decode()
    assert said in html and value in html and Enclosure.objects.get(pk=pip.pk).build == {}


def test_the_table_and_the_calendar_have_every_step(client: Client, pip: Enclosure) -> None:
    steps = page(client, pip).context["build"].steps
    table = list(
        csv.reader(
            io.StringIO(client.get(f"/enclosures/{pip.pk}/build.csv").content.decode("utf-8-sig"))
        )
    )
    assert table[0][0] == "what" and {row[0] for row in table if row} >= {
        step.task.title for step in steps
    }
    calendar = icalendar.Calendar.from_ical(client.get(f"/enclosures/{pip.pk}/build.ics").content)
    events = list(calendar.walk("VEVENT"))
    assert len(events) == len(steps) and str(events[-1]["SUMMARY"]).endswith("leave it a week")
    assert events[-1].decoded("DTSTART") == steps[-1].begin


def test_what_somebody_else_kept_meanwhile_is_not_overwritten(
    client: Client, pip: Enclosure
) -> None:
    planned(pip)
    form = page(client, pip).context["form"]
    data = {
        name: form[name].value() for name in form.fields if form[name].value() not in (None, False)
    }
    mine = {**data, "seal": page(client, pip).context["seal"], "price-stand": "70"}
    sent(client, pip, **{"own-enclosure": "1"})
    told = client.post(f"/enclosures/{pip.pk}/build/", mine)
    html = told.content.decode()
    assert "Somebody else saved this build plan" in html and 'value="70"' in html
    assert Enclosure.objects.get(pk=pip.pk).build["owned"]["enclosure"] == 1
    again = client.post(
        f"/enclosures/{pip.pk}/build/",
        {**mine, "seal": told.context["seal"], "own-enclosure": "1"},
    )
    assert again.status_code == 302 and Enclosure.objects.get(pk=pip.pk).build["each"] == {
        "stand": 70.0
    }


def test_a_build_is_taken_along_as_pdf(client: Client, pip: Enclosure, tmp_path: Path) -> None:
    planned(pip)
    sent(client, pip, **{"own-enclosure": "1"})
    where = client.post(f"/enclosures/{pip.pk}/build/sheet/")["Location"]
    job = int(where.split("/")[2])
    tasks.make_sheet(job)
    pdf = client.get(f"/jobs/{job}/sheet.pdf")
    assert pdf.status_code == 200 and "build.pdf" in pdf["Content-Disposition"]
    (tmp_path / "build.pdf").write_bytes(pdf.content)
    words = subprocess.run(
        ["pdftotext", "-layout", "build.pdf", "-"],
        cwd=tmp_path,
        capture_output=True,
        text=True,
        check=True,
    ).stdout
    for said in (
        "Earliest move-in:",
        "Steps",
        "To buy",
        "Owned already",
        "electrician",
        "All of it",
    ):
        assert said in words, said
    assert (
        client.post(f"/enclosures/{pip.pk}/build/sheet/")["Location"] == where
    )  # the same is made once
