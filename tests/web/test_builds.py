"""The page of a build: said, kept, reckoned again when a step slips, and taken along as table and calendar."""

import csv
import datetime as dt
import io
import subprocess
from pathlib import Path
from typing import Any

import icalendar
import pytest
from django.test import Client
from django.utils import timezone

from ridgeback.habitats.models import Habitat
from ridgeback.jobs import tasks


def page(client: Client, pip: Habitat) -> Any:
    return client.get(f"/habitats/{pip.pk}/build/")


def sent(client: Client, pip: Habitat, **more: str) -> Any:
    shown = page(client, pip).context
    form = shown["form"]
    data = {name: form[name].value() for name in form.fields if form[name].value() not in (None, False)}
    return client.post(f"/habitats/{pip.pk}/build/", {**data, "seal": shown["seal"], **more})


def test_it_says_when_the_animal_may_move_in(client: Client, pip: Habitat) -> None:
    html = page(client, pip).content.decode()
    assert "It may move in on" in html and "bar-critical" in html and "Thermostats, guards, thermometers" in html


def test_choices_prices_and_what_is_owned_are_kept(client: Client, pip: Habitat) -> None:
    before = page(client, pip).context
    assert sent(client, pip, crew="on", **{"own-box": "on", "price-stand": "80"}).status_code == 302
    after = page(client, pip).context
    assert after["build"].move_in > before["build"].move_in
    assert after["totals"].all == pytest.approx(before["totals"].all - 250 - 40)
    kept = Habitat.objects.get(pk=pip.pk).build
    assert kept["owned"] == ["box"] and kept["prices"] == {"stand": 80.0} and kept["choices"] == ["crew"]


def test_a_step_that_slipped_moves_the_day(client: Client, pip: Habitat) -> None:
    begin = timezone.localdate() - dt.timedelta(days=20)
    sent(client, pip, start=begin.isoformat())
    planned = page(client, pip).context["build"].move_in
    late = timezone.localdate() - dt.timedelta(days=1)
    sent(client, pip, **{"done-seal": late.isoformat()})
    assert page(client, pip).context["build"].move_in > planned


@pytest.mark.parametrize(
    ("field", "days", "said"),
    [("done-seal", 3, "still to come"), ("done-seal", -400, "before the build began"), ("start", None, "valid date")],
)
def test_days_that_cannot_be_are_said_at_their_field(
    client: Client, pip: Habitat, field: str, days: int | None, said: str
) -> None:
    value = "soon" if days is None else (timezone.localdate() + dt.timedelta(days=days)).isoformat()
    html = sent(client, pip, **{field: value}).content.decode()
    assert said in html and value in html and Habitat.objects.get(pk=pip.pk).build == {}


def test_the_table_and_the_calendar_have_every_step(client: Client, pip: Habitat) -> None:
    steps = page(client, pip).context["build"].steps
    table = list(csv.reader(io.StringIO(client.get(f"/habitats/{pip.pk}/build.csv").content.decode("utf-8-sig"))))
    assert table[0][0] == "what" and {row[0] for row in table if row} >= {step.task.title for step in steps}
    calendar = icalendar.Calendar.from_ical(client.get(f"/habitats/{pip.pk}/build.ics").content)
    events = list(calendar.walk("VEVENT"))
    assert len(events) == len(steps) and str(events[-1]["SUMMARY"]).endswith("leave it a week")
    assert events[-1].decoded("DTSTART") == steps[-1].begin


def test_what_somebody_else_kept_meanwhile_is_not_overwritten(client: Client, pip: Habitat) -> None:
    form = page(client, pip).context["form"]
    data = {name: form[name].value() for name in form.fields if form[name].value() not in (None, False)}
    mine = {**data, "seal": page(client, pip).context["seal"], "price-stand": "70"}
    sent(client, pip, **{"own-box": "on"})
    told = client.post(f"/habitats/{pip.pk}/build/", mine)
    html = told.content.decode()
    assert "Somebody else kept this build" in html and 'value="70"' in html
    assert Habitat.objects.get(pk=pip.pk).build["owned"] == ["box"]
    again = client.post(f"/habitats/{pip.pk}/build/", {**mine, "seal": told.context["seal"], "own-box": "on"})
    assert again.status_code == 302 and Habitat.objects.get(pk=pip.pk).build["prices"] == {"stand": 70.0}


def test_a_build_is_taken_along_as_pdf(client: Client, pip: Habitat, tmp_path: Path) -> None:
    sent(client, pip, **{"own-box": "on"})
    where = client.post(f"/habitats/{pip.pk}/build/sheet/")["Location"]
    job = int(where.split("/")[2])
    tasks.make_sheet(job)
    pdf = client.get(f"/jobs/{job}/sheet.pdf")
    assert pdf.status_code == 200 and "build.pdf" in pdf["Content-Disposition"]
    (tmp_path / "build.pdf").write_bytes(pdf.content)
    words = subprocess.run(
        ["pdftotext", "-layout", "build.pdf", "-"], cwd=tmp_path, capture_output=True, text=True, check=True
    ).stdout
    for said in ("It may move in on", "Steps", "To buy", "Owned already", "electrician", "All of it"):
        assert said in words, said
    assert client.post(f"/habitats/{pip.pk}/build/sheet/")["Location"] == where  # the same is made once
