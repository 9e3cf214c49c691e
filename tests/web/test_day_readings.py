"""Logged days become readings: they judge the plan and calibrate it, once, and can be taken back."""

import datetime as dt
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from django.test import Client

from husbandry.predict.light import lit_spans
from husbandry.records.channels import Quantity
from husbandry.species.needs import NeedKey
from ridgeback.clock import now
from ridgeback.enclosures.models import Enclosure, Reading
from ridgeback.enclosures.planning import planned
from ridgeback.records.day_readings import BACK_DAYS, read_all, read_days
from ridgeback.records.flows import channel_for
from ridgeback.records.models import Channel, DayReading
from ridgeback.records.store import ensure_months, write_samples


@pytest.fixture
def logged(pip: Enclosure) -> Channel:
    """Five days at the warm end: 29 °C at the end of the day, 20.5 °C at that of the night."""
    pip.readings.all().delete()
    channel = channel_for(pip, Quantity.TEMPERATURE, "warm", "A")
    end = int(now().timestamp())
    at_s = np.arange(end - 5 * 86_400, end, 600, dtype=np.int64)
    ensure_months(at_s)
    zone = ZoneInfo(pip.room.time_zone)
    (begin, off), *_ = lit_spans(pip.request_at(now()))
    hours = np.array(
        [(one := dt.datetime.fromtimestamp(int(s), zone)).hour + one.minute / 60 for s in at_s]
    )
    write_samples(channel, at_s, np.where((hours >= begin + 2) & (hours <= off), 29.0, 20.5), None)
    channel.refresh_from_db()
    return channel


def of(pip: Enclosure, need: NeedKey) -> list[Reading]:
    return list(Reading.objects.filter(enclosure=pip, need=need.value).order_by("at"))


def test_each_day_is_one_reading_for_each_need(pip: Enclosure, logged: Channel) -> None:
    made = read_days(pip.pk, now())
    days, nights = of(pip, NeedKey.WARM_AIR_DAY), of(pip, NeedKey.AIR_NIGHT)
    assert made == len(days) + len(nights) and 3 <= len(days) <= BACK_DAYS
    assert {one.value for one in days} == {29.0} and {one.value for one in nights} == {20.5}
    assert all(one.lamp_on_h and one.lamp_on_h > 6 and one.instrument == "probe" for one in days)
    assert all(one.lamp_on_h is None for one in nights)
    assert read_days(pip.pk, now()) == 0, "each day once"
    assert not of(pip, NeedKey.COOL_AIR_DAY)


def test_the_plan_is_judged_by_it(pip: Enclosure, logged: Channel) -> None:
    read_days(pip.pk, now())
    enclosure = Enclosure.objects.for_planning().get(pk=pip.pk)
    need = planned(enclosure.request_at(now()), keep=False).plan.need(NeedKey.WARM_AIR_DAY)
    assert need is not None and need.measured is not None
    assert need.measured.value == pytest.approx(29.0)
    assert planned(enclosure.request_at(now()), keep=False).plan.calibration is not None


def test_its_error_is_taken_off_and_corrected_later(
    client: Client, pip: Enclosure, logged: Channel
) -> None:
    read_days(pip.pk, now())
    client.post(f"/channels/{logged.pk}/edit/", {"name": "A", "place": "warm", "offset": "1.0"})
    assert {one.offset for one in of(pip, NeedKey.WARM_AIR_DAY)} == {1.0}
    assert {one.value for one in of(pip, NeedKey.WARM_AIR_DAY)} == {29.0}, "as it was shown"


def test_one_that_was_moved_tells_nothing_of_where_it_was(
    client: Client, pip: Enclosure, logged: Channel
) -> None:
    read_days(pip.pk, now())
    client.post(f"/channels/{logged.pk}/edit/", {"name": "A", "place": "cool", "offset": ""})
    assert not of(pip, NeedKey.WARM_AIR_DAY)
    read_days(pip.pk, now())
    assert of(pip, NeedKey.COOL_AIR_DAY) and not of(pip, NeedKey.AIR_NIGHT)


def test_what_a_keeper_deletes_stays_deleted(
    client: Client, pip: Enclosure, logged: Channel
) -> None:
    read_days(pip.pk, now())
    gone = of(pip, NeedKey.WARM_AIR_DAY)[0]
    client.post(f"/enclosures/{pip.pk}/records/reading/", {"reading": gone.pk})
    count = Reading.objects.filter(enclosure=pip).count()
    read_days(pip.pk, now())
    assert Reading.objects.filter(enclosure=pip).count() == count
    assert DayReading.objects.filter(reading__isnull=True).count() == 1


def test_a_channel_goes_with_its_readings(client: Client, pip: Enclosure, logged: Channel) -> None:
    read_days(pip.pk, now())
    client.post(f"/channels/{logged.pk}/delete/", {"sure": "yes"})
    assert not Reading.objects.filter(enclosure=pip).exists()


def test_days_before_the_last_change_do_not_count(pip: Enclosure, logged: Channel) -> None:
    pip.revisions.update(made_at=now() - dt.timedelta(days=1))
    read_days(pip.pk, now())
    assert len(of(pip, NeedKey.WARM_AIR_DAY)) <= 1


def test_a_logger_in_the_room_tells_its_temperature(pip: Enclosure, logged: Channel) -> None:
    room = channel_for(pip, Quantity.TEMPERATURE, "room", "A")
    end = int(now().timestamp())
    at_s = np.arange(end - 5 * 86_400, end, 600, dtype=np.int64)
    write_samples(room, at_s, np.full(len(at_s), 16.4), None)
    read_days(pip.pk, now())
    rooms = [one.room_c for one in of(pip, NeedKey.AIR_NIGHT)]
    assert rooms == pytest.approx([16.4] * len(rooms))


def test_old_ones_go_and_an_enclosure_without_anybody_has_none(
    pip: Enclosure, logged: Channel
) -> None:
    read_days(pip.pk, now())
    read_all([pip.pk, 999_999], now() + dt.timedelta(days=40))
    assert not Reading.objects.filter(enclosure=pip).exists()
    pip.occupancies.all().delete()
    assert read_days(pip.pk, now()) == 0
