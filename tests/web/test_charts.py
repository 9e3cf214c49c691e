"""Charts of channels: bounded points that lose no extreme, ranges by the plan, errors taken off once."""

import datetime as dt
from xml.etree import ElementTree

import numpy as np
import pytest
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext

from husbandry.predict.light import lit_spans
from husbandry.records.channels import Quantity
from husbandry.records.moments import local_offsets
from ridgeback.clock import now
from ridgeback.drawing import records as drawn
from ridgeback.enclosures.models import Enclosure, Revision
from ridgeback.households.models import Household
from ridgeback.records.flows import channel_for
from ridgeback.records.models import Channel, Sample
from ridgeback.records.reading import MOST_POINTS, points_of, values_of
from ridgeback.records.store import ensure_months, write_samples


@pytest.fixture
def warm(pip: Enclosure) -> Channel:
    """Sixty days of ten minutes at the warm end, with one spike."""
    channel = channel_for(pip, Quantity.TEMPERATURE, "warm", "A")
    end_s = int(now().timestamp())
    at_s = np.arange(end_s - 60 * 86_400, end_s, 600, dtype=np.int64)
    ensure_months(at_s)
    values = 24 + 4 * np.sin(at_s / 86_400 * 2 * np.pi)
    values[4000] = 61.5
    write_samples(channel, at_s, np.round(values, 1), None)
    channel.refresh_from_db()
    return channel


@pytest.mark.parametrize("days", [1, 7, 8, 30, 60, 365, 1826])
def test_no_extreme_is_lost_however_long_the_chart(warm: Channel, days: int) -> None:
    last = now() + dt.timedelta(hours=1)
    first = last - dt.timedelta(days=days)
    found = points_of(warm, first, last)
    rows = warm.samples.filter(at__gte=first, at__lt=last).values_list("value", flat=True)
    assert len(found) <= MOST_POINTS + 1 and np.all(np.diff(found.at_s) > 0)
    slack = 6 if days > 8 else 0  # whole hours at the edges
    assert abs(found.count - len(rows)) <= slack
    assert found.high.max() == max(rows)
    assert float((found.mean).mean()) == pytest.approx(float(np.mean(list(rows))), abs=0.5)


def test_an_error_is_taken_off_once_and_judges_anew(client: Client, warm: Channel) -> None:
    page = f"/enclosures/{warm.enclosure_id}/charts/?span=month"
    before = client.get(page).context["view"].phases
    posted = {"name": "A", "place": "warm", "offset": "1.5"}
    client.post(f"/channels/{warm.pk}/edit/", posted)
    warm.refresh_from_db()
    assert warm.offset == 1.5
    after = client.get(page).context["view"].phases

    def degrees(text: str) -> float:
        return float(text.split(" ")[0])

    for was, now_is in zip(before, after, strict=True):
        assert degrees(was.mean) - degrees(now_is.mean) == pytest.approx(1.5, abs=0.11)
    assert Sample.objects.filter(channel=warm).first() is not None
    at_s, values = values_of(warm, now() - dt.timedelta(days=2), now())
    raw = list(warm.samples.order_by("at").values_list("value", flat=True))[-len(values) :]
    assert values == pytest.approx([one - 1.5 for one in raw]) and len(at_s) == len(values)


def test_the_page_says_what_is_needed_by_the_plan(client: Client, warm: Channel) -> None:
    answer = client.get(f"/enclosures/{warm.enclosure_id}/charts/")
    view, text = answer.context["view"], answer.content.decode()
    plan = answer.context["enclosure"].request_at(now())
    assert plan and {one.phase for one in view.phases} == {"day", "night"}
    assert all("to" in one.needed or "or" in one.needed for one in view.phases)
    assert 'class="wanted"' in text and 'class="foreseen"' in text
    for row in view.phases:
        for _, pointer in row.ends:
            derivation = client.get(f"/enclosures/{warm.enclosure_id}/calculation/?at={pointer}")
            assert derivation.status_code == 200, "every number has its derivation"
    assert view.read_out and "°C" in view.read_out[0][1]
    client.post("/preferences/", {"units_temperature": "f"})
    us = client.get(f"/enclosures/{warm.enclosure_id}/charts/").context["view"]
    assert "°F" in us.phases[0].needed and "°F" in us.read_out[0][1]


def test_two_channels_are_compared_and_others_are_not(client: Client, warm: Channel) -> None:
    other = channel_for(warm.enclosure, Quantity.TEMPERATURE, "cool", "A")
    damp = channel_for(warm.enclosure, Quantity.HUMIDITY, "cool", "A")
    at_s = np.array([int(now().timestamp()) - 3600 * n for n in range(48, 0, -1)])
    for channel in (other, damp):
        write_samples(channel, at_s, np.full(48, 21.0), None)
    page = f"/enclosures/{warm.enclosure_id}/charts/?channel={warm.pk}&with="
    assert client.get(page + str(other.pk)).context["other"] == other
    assert client.get(page + str(damp.pk)).context["other"] is None
    assert client.get(page + "x").context["other"] is None


@pytest.mark.parametrize(
    "asked",
    ["span=week&to=2026-02-31", "span=never", "to=9999-12-31", "to=0001-01-01", "channel=x"],
)
def test_a_time_that_cannot_be_shows_the_usual_one(
    client: Client, warm: Channel, asked: str
) -> None:
    answer = client.get(f"/enclosures/{warm.enclosure_id}/charts/?{asked}")
    assert answer.status_code == 200


def test_a_time_without_values_says_so(client: Client, warm: Channel) -> None:
    page = client.get(f"/enclosures/{warm.enclosure_id}/charts/?to=2020-01-01")
    assert "Nothing was measured in this time" in page.content.decode()


def test_an_enclosure_without_anybody_has_its_chart(client: Client, warm: Channel) -> None:
    warm.enclosure.occupancies.all().delete()
    answer = client.get(f"/enclosures/{warm.enclosure_id}/charts/")
    assert {one.needed for one in answer.context["view"].phases} == {"no range"}


def test_no_channel_leads_to_the_files(client: Client, pip: Enclosure) -> None:
    page = client.get(f"/enclosures/{pip.pk}/charts/").content.decode()
    assert f"/enclosures/{pip.pk}/logger-files/" in page


def test_the_values_come_as_a_table(client: Client, warm: Channel) -> None:
    answer = client.get(f"/channels/{warm.pk}/values.csv?span=day")
    lines = answer.content.decode("utf-8-sig").splitlines()
    assert lines[0] == "time,mean,low,high" and len(lines) > 50
    assert "attachment" in answer["Content-Disposition"]


def test_the_chart_comes_as_a_file_of_its_own(client: Client, warm: Channel) -> None:
    answer = client.get(f"/channels/{warm.pk}/chart.svg?span=week")
    tree = ElementTree.fromstring(answer.content)
    assert (
        tree.tag == "{http://www.w3.org/2000/svg}svg" and "class=" not in answer.content.decode()
    )
    assert (
        answer["Content-Type"] == "image/svg+xml" and "attachment" in answer["Content-Disposition"]
    )
    shapes = list(tree.iter("{http://www.w3.org/2000/svg}path"))
    assert any(one.get("stroke-dasharray") == "6 4" for one in shapes), "what is predicted"


def test_what_is_wrong_is_said_and_nothing_changes(client: Client, warm: Channel) -> None:
    channel_for(warm.enclosure, Quantity.TEMPERATURE, "cool", "A")
    for posted, said in (
        ({"name": "", "place": "warm", "offset": ""}, "required"),
        ({"name": "A", "place": "roof", "offset": ""}, "roof"),
        ({"name": "A", "place": "warm", "offset": "warm"}, "warm"),
        ({"name": "A", "place": "cool", "offset": ""}, "Another channel of that name"),
    ):
        page = client.post(f"/channels/{warm.pk}/edit/", posted, follow=True).content.decode()
        assert "Not saved." in page and said in page, posted
    warm.refresh_from_db()
    assert (warm.name, warm.place, warm.offset) == ("A", "warm", 0)


def test_a_channel_goes_with_its_values_when_that_is_meant(client: Client, warm: Channel) -> None:
    client.post(f"/channels/{warm.pk}/delete/")
    assert Sample.objects.exists()
    client.post(f"/channels/{warm.pk}/delete/", {"sure": "yes"})
    assert not Sample.objects.exists() and not Channel.objects.filter(pk=warm.pk).exists()


def test_another_household_sees_and_takes_nothing(stranger: Client, warm: Channel) -> None:
    assert stranger.get(f"/enclosures/{warm.enclosure_id}/charts/").status_code == 404
    assert stranger.get(f"/channels/{warm.pk}/values.csv").status_code == 404
    assert stranger.get(f"/channels/{warm.pk}/chart.svg").status_code == 404
    for way in ("edit", "delete"):
        assert stranger.post(f"/channels/{warm.pk}/{way}/", {"sure": "yes"}).status_code == 404
    assert Sample.objects.exists()


def test_years_cost_no_more_queries_than_a_day(client: Client, warm: Channel) -> None:
    counts = []
    for span in ("day", "all"):
        client.get(f"/enclosures/{warm.enclosure_id}/charts/?span={span}")
        with CaptureQueriesContext(connection) as made:
            client.get(f"/enclosures/{warm.enclosure_id}/charts/?span={span}")
        counts.append(len(made))
    assert counts[1] <= counts[0]


def test_a_line_breaks_where_nothing_was_measured() -> None:
    at_s = np.array([0, 600, 1200, 90_000, 90_600], dtype=np.int64)
    values = np.array([20.0, 21, 22, 23, 24])
    line = drawn.ChartLine("", at_s, values, values, values, 600)
    assert [list(values[run]) for run in drawn._runs(line)] == [[20, 21, 22], [23, 24]]


def test_a_week_tells_when_it_is_warm_and_a_month_does_not(client: Client, pip: Enclosure) -> None:
    channel = channel_for(pip, Quantity.TEMPERATURE, "warm", "B")
    end_s = int(now().timestamp())
    at_s = np.arange(end_s - 7 * 86_400, end_s, 300, dtype=np.int64)
    ensure_months(at_s)
    local = at_s + local_offsets(at_s, pip.room.time_zone)
    hours = (local % 86_400) / 3600
    lit = (hours >= 8) & (hours < 20)
    values = np.where(lit, 30 - 9 * np.exp(-np.maximum(hours - 8, 0)), 21.0)
    write_samples(channel, at_s, np.round(values, 1), None)
    page = f"/enclosures/{pip.pk}/charts/?channel={channel.pk}&span="
    week, month = (client.get(page + span).context["view"].rhythm for span in ("week", "month"))
    assert any("after the lamps come on" in one for one in week)
    assert month == ()


def test_a_channel_of_another_enclosure_is_drawn_beside_it(
    client: Client, warm: Channel, household: Household
) -> None:
    other = Enclosure.objects.filter(household=household).exclude(pk=warm.enclosure_id).first()
    assert other is not None
    second = channel_for(other, Quantity.TEMPERATURE, "cool", "B")
    end_s = int(now().timestamp())
    at_s = np.arange(end_s - 3 * 86_400, end_s, 600, dtype=np.int64)
    write_samples(second, at_s, np.full(len(at_s), 21.5), None)
    page = f"/enclosures/{warm.enclosure_id}/charts/?channel={warm.pk}&with={second.pk}"
    answer = client.get(page)
    assert answer.context["other"] == second
    drawn_texts = ElementTree.fromstring(answer.context["view"].chart).itertext()
    assert other.name in " ".join(drawn_texts)


def test_a_channel_of_another_household_is_not_offered_beside_it(
    client: Client, warm: Channel, stranger: Client
) -> None:
    elsewhere = Household.objects.get(name="Elsewhere")
    theirs = Enclosure.objects.exclude(pk=warm.enclosure_id)[0]
    Enclosure.objects.filter(pk=theirs.pk).update(household=elsewhere)
    foreign = channel_for(theirs, Quantity.TEMPERATURE, "cool", "B")
    answer = client.get(
        f"/enclosures/{warm.enclosure_id}/charts/?channel={warm.pk}&with={foreign.pk}"
    )
    assert answer.context["other"] is None and foreign not in answer.context["alike"]


def test_a_lamp_that_grows_weak_is_named_on_the_chart(client: Client, pip: Enclosure) -> None:
    Revision.objects.filter(enclosure=pip).update(made_at=now() - dt.timedelta(days=200))
    channel = channel_for(pip, Quantity.TEMPERATURE, "warm", "A")
    end_s = int(now().timestamp())
    at_s = np.arange(end_s - 60 * 86_400, end_s, 3600, dtype=np.int64)
    zone = pip.room.time_zone
    hours = ((at_s + local_offsets(at_s, zone)) % 86_400) / 3600
    fall = np.linspace(1, 0.75, len(at_s))
    noise = np.random.default_rng(1).normal(0, 0.1, len(at_s))
    ensure_months(at_s)
    lit = lit_spans(pip.request_at(now()))
    during = np.zeros(len(at_s), dtype=bool)
    for begin, end in lit:
        during |= (hours >= begin) & (hours < end)
    values = 21 + 12 * fall * during + noise
    write_samples(channel, at_s, np.round(values, 1), None)
    page = f"/enclosures/{pip.pk}/charts/?channel={channel.pk}"
    view = client.get(page).context["view"]
    assert "What the lamps add to the night’s warmth has fallen by" in view.drift
    assert "replace the bulb" in view.drift
    Revision.objects.filter(enclosure=pip).update(made_at=now() - dt.timedelta(days=5))
    assert client.get(page).context["view"].drift == ""


def test_a_plug_says_energy_and_cost_beside_what_is_predicted(
    client: Client, pip: Enclosure
) -> None:
    channel = channel_for(pip, Quantity.POWER, "plug", "Plug 1")
    end_s = int(now().timestamp())
    at_s = np.arange(end_s - 5 * 86_400, end_s, 600, dtype=np.int64)
    ensure_months(at_s)
    write_samples(channel, at_s, np.full(len(at_s), 50.0), None)
    answer = client.get(f"/enclosures/{pip.pk}/charts/?channel={channel.pk}")
    (said,) = answer.context["view"].rhythm
    assert said.startswith("It used 1.20 kWh a day in the mean, about ")
    assert (
        "The plan predicts" in said
        and "W in the mean over 24 h" in said
        and answer.status_code == 200
    )
