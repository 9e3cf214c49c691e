"""Logger files: sent, understood, corrected, imported once, taken back, out and in again."""

import datetime as dt
import random
from concurrent.futures import ThreadPoolExecutor
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client

from ridgeback.archive.reading import restore
from ridgeback.archive.writing import archive_of
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.jobs import tasks
from ridgeback.records import flows, store
from ridgeback.records.models import Channel, FileShape, HourSummary, LoggerFile, Sample

BEGIN = dt.datetime(2026, 6, 18, 0, 0)  # noqa: DTZ001  # a logger's own clock


def log_text(lines: int = 300, *, seed: int = 1, begin: dt.datetime = BEGIN) -> str:
    draw = random.Random(seed)
    rows = [
        f"{begin + dt.timedelta(minutes=10 * n):%Y-%m-%d %H:%M},{draw.uniform(20, 32):.2f},"
        f"{draw.uniform(40, 80):.1f}"
        for n in range(lines)
    ]
    return "time,temp °C,humidity %\n" + "\n".join(rows) + "\n"


def send(client: Client, pip: Enclosure, text: str, name: str = "warm-end.csv") -> LoggerFile:
    file = SimpleUploadedFile(name, text.encode(), "text/csv")
    answer = client.post(f"/enclosures/{pip.pk}/logger-files/", {"file": file})
    assert answer.status_code == 302, answer.context["form"].errors
    return LoggerFile.objects.latest("pk")


def answers(file: LoggerFile, client: Client, **more: str) -> dict[str, str]:
    """What the page suggests, as a browser sends it back."""
    form = client.get(f"/logger-files/{file.pk}/").context["form"]
    return {**{name: str(form[name].value() or "") for name in form.fields}, **more}


def take_in(client: Client, pip: Enclosure, text: str, **more: str) -> LoggerFile:
    file = send(client, pip, text)
    answer = client.post(f"/logger-files/{file.pk}/", answers(file, client, **more))
    assert answer.status_code == 302, answer.context["form"].errors
    tasks.read_logger_file(file.pk)
    file.refresh_from_db()
    return file


def test_a_file_is_understood_and_imported(client: Client, pip: Enclosure) -> None:
    text = log_text()
    file = take_in(client, pip, text)
    assert file.state == "done" and file.body is None and file.found["new"] == 600
    temp, damp = (pip.channels.get(quantity=one) for one in ("temperature", "humidity"))
    assert (temp.place, damp.place, temp.name) == ("warm", "cool", "warm-end")
    lines = [line.split(",") for line in text.splitlines()[1:]]
    values = list(temp.samples.order_by("at").values_list("value", flat=True))
    assert values == [float(one[1]) for one in lines]
    first = temp.samples.order_by("at").first()
    assert first is not None
    zone = pip.room.time_zone
    assert first.at.astimezone(ZoneInfo(zone)).replace(tzinfo=None) == BEGIN
    temp.refresh_from_db()
    assert temp.last_value == values[-1]
    page = client.get(f"/logger-files/{file.pk}/").content.decode()
    assert "600 new values from 300 lines" in page


def test_the_hours_are_the_samples_summed(client: Client, pip: Enclosure) -> None:
    """Against numpy, hour by hour."""
    take_in(client, pip, log_text())
    channel = pip.channels.get(quantity="temperature")
    rows = list(channel.samples.order_by("at").values_list("at", "value"))
    hours: dict[dt.datetime, list[float]] = {}
    for at, value in rows:
        hours.setdefault(at.replace(minute=0), []).append(value)
    for one in HourSummary.objects.filter(channel=channel):
        own = np.array(hours.pop(one.hour))
        assert (one.count, one.low, one.high) == (len(own), own.min(), own.max())
        assert one.mean == pytest.approx(own.mean())
    assert not hours


def test_a_file_twice_adds_nothing(client: Client, pip: Enclosure) -> None:
    take_in(client, pip, log_text())
    before = list(Sample.objects.order_by("channel_id", "at").values_list("at", "value"))
    again = send(client, pip, log_text())
    page = client.get(f"/logger-files/{again.pk}/").content.decode()
    assert "again it adds nothing" in page
    client.post(f"/logger-files/{again.pk}/", answers(again, client))
    tasks.read_logger_file(again.pk)
    again.refresh_from_db()
    assert again.found["new"] == 0 and again.found["known"] == 600
    after = list(Sample.objects.order_by("channel_id", "at").values_list("at", "value"))
    assert before == after
    client.post(f"/logger-files/{again.pk}/take-back/")
    assert Sample.objects.count() == 600, "the first file's values are its own"


def test_the_next_file_goes_on_where_the_last_ended(client: Client, pip: Enclosure) -> None:
    take_in(client, pip, log_text(200))
    file = take_in(client, pip, log_text(300))
    assert file.found["new"] == 200 and file.found["known"] == 400
    assert Channel.objects.filter(enclosure=pip).count() == 2
    assert FileShape.objects.filter(household=pip.household).count() == 1


def test_a_file_is_taken_back_as_one(client: Client, pip: Enclosure) -> None:
    first = take_in(client, pip, log_text(200))
    second = take_in(client, pip, log_text(300, seed=1))
    client.post(f"/logger-files/{second.pk}/take-back/")
    second.refresh_from_db()
    assert second.state == "taken back"
    assert set(Sample.objects.values_list("file", flat=True)) == {first.pk}
    assert Sample.objects.count() == 400
    total = sum(HourSummary.objects.values_list("count", flat=True))
    assert total == 400, "the hours follow"
    channel = pip.channels.get(quantity="temperature")
    latest = channel.samples.latest("at")
    assert (channel.last_at, channel.last_value) == (latest.at, latest.value)
    client.post(f"/logger-files/{second.pk}/take-back/")
    assert Sample.objects.count() == 400


def test_an_import_that_is_killed_is_done_once(client: Client, pip: Enclosure) -> None:
    """The worker dies after the samples and before its end; another runs the same again."""
    file = send(client, pip, log_text())
    client.post(f"/logger-files/{file.pk}/", answers(file, client))

    class KilledError(BaseException):
        pass

    def dies(*_: object) -> None:
        raise KilledError

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(flows, "_found", dies)
        with pytest.raises(KilledError):
            tasks.read_logger_file(file.pk)
    assert not Sample.objects.exists(), "nothing half done"
    tasks.read_logger_file(file.pk)
    tasks.read_logger_file(file.pk)
    assert Sample.objects.count() == 600


def test_an_import_that_ends_its_worker_each_time_is_given_up(
    client: Client, pip: Enclosure
) -> None:
    file = send(client, pip, log_text(lines=20))
    client.post(f"/logger-files/{file.pk}/", answers(file, client))
    LoggerFile.objects.filter(pk=file.pk).update(tries=flows.MOST_TRIES)
    tasks.read_logger_file(file.pk)
    file.refresh_from_db()
    assert file.state == LoggerFile.State.FAILED and file.body is None
    page = client.get(f"/logger-files/{file.pk}/").content.decode()
    assert "Split the file in two" in page


def test_several_sensors_in_several_enclosures(
    client: Client, pip: Enclosure, household: Household
) -> None:
    other = household.enclosures.exclude(pk=pip.pk).order_by("pk")[0]
    text = "time,Basking C,Cool C\n" + "".join(
        f"2026-06-18 {n // 6:02}:{n % 6}0,{38 + n % 3},{24 + n % 2}\n" for n in range(60)
    )
    file = send(client, pip, text)
    sent = answers(file, client)
    assert (sent["place_1"], sent["place_2"]) == ("surface", "cool"), "by the names of the columns"
    client.post(f"/logger-files/{file.pk}/", {**sent, "enclosure_2": str(other.pk)})
    tasks.read_logger_file(file.pk)
    assert pip.channels.get().place == "surface" and other.channels.get().place == "cool"


def test_wrong_answers_are_said_beside_their_field(client: Client, pip: Enclosure) -> None:
    file = send(client, pip, log_text())
    for more, field in (
        ({"role_2": "temperature C", "place_2": "warm"}, "place_2"),
        ({"place_2": "water"}, "place_2"),
        ({"role_0": "left out"}, "__all__"),
        ({"role_1": "left out", "role_2": "left out"}, "__all__"),
        ({"instrument": ""}, "instrument"),
        ({"place_1": "roof"}, "place_1"),
    ):
        answer = client.post(f"/logger-files/{file.pk}/", answers(file, client, **more))
        assert list(answer.context["form"].errors) == [field], more
    file.refresh_from_db()
    assert file.state == "asked"


def test_an_order_that_cannot_be_told_is_asked(client: Client, pip: Enclosure) -> None:
    text = "time,temp C\n03/04/2026 08:00,21.5\n03/04/2026 09:00,22\n"
    file = send(client, pip, text)
    answer = client.post(f"/logger-files/{file.pk}/", answers(file, client))
    assert list(answer.context["form"].errors) == ["order"]
    done = take_in(client, pip, text, order="month first")
    assert done.first_at is not None and done.first_at.month == 3


@pytest.mark.parametrize(
    ("body", "said"),
    [
        (b"\xff\xd8\xff\xe0 a photo", "no text"),
        (b"", "empty"),
        (b"hello\nworld\n", "no line has a time"),
        (b"time,temp\n", "no line has a time"),
    ],
)
def test_what_is_no_log_is_refused_beside_the_file(
    client: Client, pip: Enclosure, body: bytes, said: str
) -> None:
    file = SimpleUploadedFile("x.csv", body, "text/csv")
    answer = client.post(f"/enclosures/{pip.pk}/logger-files/", {"file": file})
    assert said in answer.context["form"].errors["file"][0]
    assert not LoggerFile.objects.exists()


def test_a_mixture_of_units_fails_whole(client: Client, pip: Enclosure) -> None:
    rows = "".join(f"2026-06-18 08:{n:02},{21.5 if n < 30 else 71.2}\n" for n in range(60))
    file = take_in(client, pip, "time,temp °C\n" + rows)
    assert file.state == "failed" and "line 32" in file.problems[0]
    assert not Sample.objects.exists()
    assert "Nothing of it was saved" in client.get(f"/logger-files/{file.pk}/").content.decode()


def test_it_is_stopped_before_it_is_in_and_not_after(client: Client, pip: Enclosure) -> None:
    file = send(client, pip, log_text())
    client.post(f"/logger-files/{file.pk}/", answers(file, client))
    client.post(f"/logger-files/{file.pk}/stop/")
    tasks.read_logger_file(file.pk)
    assert not Sample.objects.exists()
    done = take_in(client, pip, log_text())
    assert (
        "imported already"
        in client.post(f"/logger-files/{done.pk}/stop/", follow=True).content.decode()
    )


def test_another_household_sees_and_takes_nothing(
    client: Client, stranger: Client, pip: Enclosure
) -> None:
    file = take_in(client, pip, log_text(50))
    assert stranger.get(f"/enclosures/{pip.pk}/logger-files/").status_code == 404
    for way in ("", "stop/", "take-back/"):
        assert stranger.post(f"/logger-files/{file.pk}/{way}").status_code == 404
    assert Sample.objects.count() == 100


def test_a_year_is_cut_by_month(client: Client, pip: Enclosure) -> None:
    file = take_in(client, pip, log_text(200, begin=dt.datetime(2026, 1, 31, 12, 0)))  # noqa: DTZ001
    assert file.found["new"] == 400
    with connection.cursor() as cursor:
        cursor.execute("SELECT DISTINCT tableoid::regclass::text FROM records_sample ORDER BY 1")
        assert [one[0] for one in cursor.fetchall()] == [
            "records_sample_2026_01",
            "records_sample_2026_02",
        ]


def test_samples_go_out_and_in_again(client: Client, pip: Enclosure) -> None:
    take_in(client, pip, log_text())
    made = restore(archive_of(pip.household), pip.household.memberships.get().keeper).household
    own, other = (
        [
            list(one.samples.order_by("at").values_list("at", "value"))
            for one in Channel.objects.of(household).order_by("quantity")
        ]
        for household in (pip.household, made)
    )
    assert own == other and len(own[0]) == 300
    hours = HourSummary.objects.filter(channel__enclosure__household=made)
    assert sum(hours.values_list("count", flat=True)) == 600


def test_the_household_goes_with_its_samples(client: Client, pip: Enclosure) -> None:
    from ridgeback.archive.deleting import delete_household

    take_in(client, pip, log_text(50))
    delete_household(pip.household)
    assert not Sample.objects.exists() and not HourSummary.objects.exists()


def test_binary_rows_are_what_postgresql_reads(pip: Enclosure) -> None:
    """Times before 2000, negative values, a file and none."""
    channel = Channel.objects.create(enclosure=pip, name="A", quantity="temperature", place="warm")
    at_s = np.array([0, 946_684_800, 1_767_225_600], dtype=np.int64)
    store.ensure_months(at_s)
    values = np.array([-1.25, 0.0, 36.6])
    assert store.write_samples(channel, at_s, values, None) == 3
    assert store.write_samples(channel, at_s, values + 1, 7) == 0, "what is there stays"
    rows = list(channel.samples.order_by("at").values_list("at", "value", "file"))
    assert rows == [
        (dt.datetime.fromtimestamp(int(s), dt.UTC), v, None)
        for s, v in zip(at_s, values, strict=True)
    ]


def test_old_months_go_and_their_hours_stay(client: Client, pip: Enclosure) -> None:
    take_in(client, pip, log_text(200, begin=dt.datetime(2026, 1, 31, 12, 0)))  # noqa: DTZ001
    hours = HourSummary.objects.count()
    assert store.drop_months(dt.date(2026, 2, 20)) == ["records_sample_2026_01"]
    left = list(Sample.objects.values_list("at", flat=True))
    assert left and min(left) >= dt.datetime(2026, 2, 1, tzinfo=dt.UTC)
    assert HourSummary.objects.count() == hours
    assert store.drop_months(dt.date(2026, 2, 20)) == []


@pytest.mark.django_db
def test_months_are_made_where_samples_lie_and_no_more() -> None:
    """A clock that was never set makes no table for each month since 1970."""
    at_s = np.array([0, 1_767_225_600], dtype=np.int64)
    store.ensure_months(at_s, np.zeros(0, dtype=np.int64))
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT count(*) FROM pg_inherits WHERE inhparent = 'records_sample'::regclass"
        )
        assert cursor.fetchone()[0] == 2
    with pytest.raises(ValueError, match="look at the clock"):
        store.ensure_months(np.arange(0, 700 * 2_678_400, 2_678_400, dtype=np.int64))


@pytest.mark.django_db(transaction=True)
def test_several_devices_may_be_the_first_of_a_month() -> None:
    """Eight at once: one makes the table, and nobody fails."""
    gone = "DROP TABLE IF EXISTS records_sample_2017_01, records_sample_2017_03"
    with connection.cursor() as cursor:
        cursor.execute(gone)

    def make(_: int) -> None:
        try:
            store.ensure_months(np.array([1_483_228_800, 1_488_326_400], dtype=np.int64))
        finally:
            connection.close()

    with ThreadPoolExecutor(8) as pool:
        list(pool.map(make, range(8)))
    with connection.cursor() as cursor:
        cursor.execute("SELECT to_regclass('records_sample_2017_01') IS NOT NULL")
        assert cursor.fetchone()[0]
        cursor.execute(gone)
