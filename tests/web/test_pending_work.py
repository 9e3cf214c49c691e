"""The page of a change to an enclosure that stands: its steps, what it takes, and from which state."""

import csv
import io
import json
import subprocess
from pathlib import Path
from typing import Any

import icalendar
import pytest
from django.test import Client
from django.utils import timezone

from ridgeback.building.pending_work import CHANGES_KEPT, kept_with
from ridgeback.enclosures import flows
from ridgeback.enclosures.models import Commissioning, Enclosure, Revision
from ridgeback.jobs import tasks
from tests import clocks


def changed(pip: Enclosure, *, power_w: float = 100.0) -> Enclosure:
    """The enclosure with a stronger lamp, as its layout editor would keep it."""
    assert pip.head is not None
    spec = json.loads(json.dumps(pip.head.spec))
    lamp = next(
        item
        for item in spec["items"]
        if item.get("power_w") and item["kind"].startswith("halogen")
    )
    lamp["power_w"] = power_w
    flows.revise(
        pip, spec, previous=pip.head, reason="stronger lamp", keeper=None, now=timezone.now()
    )
    return Enclosure.objects.for_planning().get(pk=pip.pk)


def page(client: Client, pip: Enclosure, query: str = "") -> Any:
    return client.get(f"/enclosures/{pip.pk}/build/{query}")


def sent(client: Client, pip: Enclosure, query: str = "", **more: str) -> Any:
    shown = page(client, pip, query).context
    form = shown["form"]
    data = {
        name: form[name].value() for name in form.fields if form[name].value() not in (None, False)
    }
    return client.post(
        f"/enclosures/{pip.pk}/build/{query}", {**data, "seal": shown["seal"], **more}
    )


def test_a_change_says_when_its_animal_is_out_and_back(client: Client, pip: Enclosure) -> None:
    assert page(client, pip).context["since"] is None  # nothing changed yet: the whole enclosure
    pip = changed(pip)
    shown = page(client, pip)
    html = shown.content.decode()
    assert (
        shown.context["since"].number == 1
        and "<h1>Change Pip’s enclosure</h1>" in html
        and "Out and back in on" in html
    )
    assert [row["line"].item.count for row in shown.context["rows"]] == [
        1
    ] and "100 W" in shown.context["rows"][0]["line"].name
    assert (
        "Unplug, let cool and take out" in html
        and "Check it again" in html
        and 'id="id_foam"' not in html
    )
    whole = page(client, pip, "?since=whole")
    assert whole.context["since"] is None and "It is built as planned" in whole.content.decode()
    assert page(client, pip, "?since=77").context["since"].number == 1  # a state that never was


def test_what_is_said_of_a_change_stays_with_it(client: Client, pip: Enclosure) -> None:
    pip = changed(pip)
    today = clocks.today().isoformat()
    bought = next(iter(row["line"].item.slug for row in page(client, pip).context["rows"]))
    assert sent(client, pip, **{"done-out": today, f"own-{bought}": "1"}).status_code == 302
    after = page(client, pip).context
    assert after["build"].steps[0].done_on is not None and after["totals"].all.value == 0
    kept = Enclosure.objects.get(pk=pip.pk).build
    assert set(kept) == {"changes"} and kept["changes"]["1"]["done"] == {"out": today}
    assert page(client, pip, "?since=whole").context["build"].steps[0].done_on is None
    sent(client, pip, "?since=whole", **{"price-stand": "80"})
    kept = Enclosure.objects.get(pk=pip.pk).build
    assert kept["each"] == {"stand": 80.0} and kept["changes"]["1"]["done"] == {"out": today}


def test_a_change_is_reckoned_from_the_last_commissioning(client: Client, pip: Enclosure) -> None:
    first = changed(pip)
    Commissioning.objects.create(
        enclosure=first,
        revision=first.revisions.get(number=1),
        signed_at=timezone.now(),
        readings={},
        checks=[],
    )
    second = changed(first, power_w=120.0)
    assert page(client, second).context["since"].number == 1
    assert {state.number for state in page(client, second).context["states"]} == {1, 2}
    assert page(client, second, "?since=2").context["since"].number == 2
    assert second.head is not None
    Commissioning.objects.create(
        enclosure=second, revision=second.head, signed_at=timezone.now(), readings={}, checks=[]
    )
    assert (
        page(client, second).context["since"] is None
    )  # verified as it stands: nothing is left to do


def test_what_was_undone_or_only_planned_is_no_change(client: Client, pip: Enclosure) -> None:
    one = changed(pip)
    assert one.head is not None
    flows.revise(
        one,
        one.revisions.get(number=1).spec,
        previous=None,
        reason="undone",
        keeper=None,
        now=timezone.now(),
    )
    shown = page(client, one).context
    assert shown["since"] is None and [state.number for state in shown["states"]] == [
        2
    ]  # it can still be looked at
    Revision.objects.filter(enclosure=pip).exclude(number=3).update(state="planned")
    assert page(client, one).context["states"] == ()


def test_a_done_day_that_cannot_be_is_said_and_stays(client: Client, pip: Enclosure) -> None:
    html = sent(client, changed(pip), **{"done-wire": "2999-01-01"}).content.decode()
    assert (
        "This day is still to come." in html
        and "2999-01-01" in html
        and Enclosure.objects.get(pk=pip.pk).build == {}
    )


def test_a_change_is_taken_along(client: Client, pip: Enclosure, tmp_path: Path) -> None:
    pip = changed(pip)
    steps = page(client, pip).context["build"].steps
    table = list(
        csv.reader(
            io.StringIO(
                client.get(f"/enclosures/{pip.pk}/build.csv?since=1").content.decode("utf-8-sig")
            )
        )
    )
    assert {row[0].split(": ")[0] for row in table if row} >= {step.task.title for step in steps}
    events = list(
        icalendar.Calendar.from_ical(
            client.get(f"/enclosures/{pip.pk}/build.ics?since=1").content
        ).walk("VEVENT")
    )
    whole = icalendar.Calendar.from_ical(
        client.get(f"/enclosures/{pip.pk}/build.ics?since=whole").content
    ).walk("VEVENT")
    assert len(events) == len(steps) and not {str(one["UID"]) for one in events} & {
        str(one["UID"]) for one in whole
    }
    job = int(client.post(f"/enclosures/{pip.pk}/build/sheet/?since=1")["Location"].split("/")[2])
    tasks.make_sheet(job)
    (tmp_path / "change.pdf").write_bytes(client.get(f"/jobs/{job}/sheet.pdf").content)
    words = subprocess.run(
        ["pdftotext", "-layout", "change.pdf", "-"],
        cwd=tmp_path,
        capture_output=True,
        text=True,
        check=True,
    ).stdout
    assert "Change Pip" in words and "Done by" in words and "Unplug, let cool" in words


def test_only_the_latest_changes_are_kept() -> None:
    kept: dict[str, Any] = {"owned": {"enclosure": 1}}
    for number in (3, 20, 100, 4, 5, 6, 7, 8):
        kept = kept_with(kept, Revision(number=number), {"done": {}})
    assert (
        kept["owned"] == {"enclosure": 1}
        and len(kept["changes"]) == CHANGES_KEPT
        and {"100", "20", "8"} <= kept["changes"].keys()
    )


@pytest.mark.parametrize("query", ["?since=-1", "?since=%00", "?since=" + "9" * 40])
def test_a_state_that_cannot_be_is_nothing(client: Client, pip: Enclosure, query: str) -> None:
    assert page(client, changed(pip), query).status_code == 200


def test_what_was_applied_leads_to_what_it_takes(client: Client, pip: Enclosure) -> None:
    change = client.get(f"/enclosures/{pip.pk}/").context["view"].changes[0]
    data = {"change": f"{change.kind}/{change.item_id}", "revision": 1}
    html = client.post(f"/enclosures/{pip.pk}/apply/", data, follow=True).content.decode()
    assert f'<a href="/enclosures/{pip.pk}/build/">What you need</a>' in html
    shown = page(client, pip)
    assert (
        shown.context["since"].number == 1
        and "22 cm down" in shown.content.decode()
        and shown.context["rows"] == []
    )
    client.post("/preferences/", {"units_system": "us", "units_temperature": "f"})
    assert "in down" in page(client, pip).content.decode()
