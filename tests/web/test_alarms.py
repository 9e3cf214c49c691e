"""Alarms: one event is one, who is told when, answers, silence, false ones, power, faults in time."""

import datetime as dt
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from allauth.account.models import EmailAddress
from django.core import mail
from django.test import Client

from husbandry.records.channels import Quantity, SensorPlace
from ridgeback.alarms import flows, messages
from ridgeback.alarms.models import (
    ESCALATE_MIN,
    Alarm,
    AlarmMessage,
    AlarmPreferences,
    ChannelWatch,
)
from ridgeback.animals.models import Animal
from ridgeback.breeding.models import Clutch
from ridgeback.clock import now
from ridgeback.devices.flows import add, bind, revoke
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper, Membership
from ridgeback.records.models import Channel
from ridgeback.records.store import ensure_months, write_samples
from ridgeback.seasons.models import Brumation


def minutes(n: float) -> dt.datetime:
    return now() + dt.timedelta(minutes=n)


@pytest.fixture
def channel(pip: Enclosure) -> Channel:
    """Warm-end air of Pip's enclosure, sent by a device."""
    device, _ = add(pip.household, name="Shelf", keeper=None, now=now())
    return bind(device, pip, Quantity.TEMPERATURE, SensorPlace.WARM).channel


def log(channel: Channel, values: list[float], *, until: float = 0, step: int = 5) -> None:
    """Values of the last minutes, the latest last."""
    end = int(minutes(until).timestamp())
    at_s = np.array([end - 60 * step * n for n in range(len(values) - 1, -1, -1)], dtype=np.int64)
    ensure_months(at_s)
    write_samples(channel, at_s, np.array(values), None)
    channel.refresh_from_db()


def person(household: Household, name: str, role: str, **more: object) -> Membership:
    keeper = Keeper.objects.create(username=name, email=f"{name}@example.org", first_name=name)
    EmailAddress.objects.create(user=keeper, email=keeper.email, verified=True, primary=True)
    return Membership.objects.create(household=household, keeper=keeper, role=role, **more)


@pytest.fixture
def owner(household: Household) -> Membership:
    """The owner, with an address."""
    member = household.memberships.get()
    member.keeper.email = "owner@example.org"
    member.keeper.save()
    EmailAddress.objects.create(
        user=member.keeper, email="owner@example.org", verified=True, primary=True
    )
    return member


def hot(channel: Channel) -> Alarm:
    log(channel, [60.0, 61.0, 62.0])
    found = flows.watch_channel(channel, now())
    assert found is not None
    return found


def test_a_danger_begins_goes_on_and_ends_as_one(channel: Channel) -> None:
    first = hot(channel)
    assert (first.kind, first.severity, first.side) == ("limit", "danger", "high")
    log(channel, [63.0], until=5)
    again = flows.watch_channel(channel, minutes(5))
    assert again is not None and again.pk == first.pk and again.value == 63.0
    log(channel, [27.0, 27.0], until=15)
    assert flows.watch_channel(channel, minutes(15)) is None
    first.refresh_from_db()
    assert first.ended_at is not None and Alarm.objects.count() == 1


def test_one_that_grows_graver_wakes_again(channel: Channel, owner: Membership) -> None:
    log(channel, [25.0, 25.0, 25.0])
    alarm = Alarm.objects.create(
        household=channel.enclosure.household,
        channel=channel,
        group="enclosure",
        kind="unusual",
        severity="care",
        began_at=minutes(-40),
        changed_at=minutes(-40),
    )
    flows.acknowledge(alarm, owner.keeper, "looking", now())
    log(channel, [60.0, 61.0], until=10)
    found = flows.watch_channel(channel, minutes(10))
    assert found is not None and found.pk == alarm.pk and found.severity == "danger"
    assert found.acknowledged_at is None and found.note == "looking"
    assert messages.send_due(minutes(10)) == 1


def test_the_owner_is_told_at_once_with_what_to_do(channel: Channel, owner: Membership) -> None:
    alarm = hot(channel)
    assert messages.send_due(now()) == 1 and messages.send_due(now()) == 0
    sent = mail.outbox[0]
    assert sent.subject.startswith("DANGER: Too hot") and sent.to == ["owner@example.org"]
    assert "Switch the heat and the lamps off at the plug" in sent.body
    assert f"/alarms/{alarm.pk}/" in sent.body and "62.0 °C; the limit is" in sent.body


def test_nobody_answers_and_the_next_are_told(channel: Channel, owner: Membership) -> None:
    household = channel.enclosure.household
    person(household, "ben", Membership.Role.KEEPER)
    day = household.day_of(now())
    past = {"from_on": day - dt.timedelta(days=9), "until_on": day - dt.timedelta(days=2)}
    person(household, "cleo", Membership.Role.SITTER, **past)
    hot(channel)
    told = []
    for after in (0, ESCALATE_MIN - 1, ESCALATE_MIN, 2 * ESCALATE_MIN):
        messages.send_due(minutes(after))
        told.append([one.to[0] for one in mail.outbox])
    assert told[0] == told[1] == ["owner@example.org"]
    assert told[2] == told[3] == ["owner@example.org", "ben@example.org"]


def test_who_looks_after_them_today_is_told_at_once(channel: Channel, owner: Membership) -> None:
    household = channel.enclosure.household
    day = household.day_of(now())
    person(household, "dora", Membership.Role.SITTER, from_on=day, until_on=day)
    hot(channel)
    messages.send_due(now())
    assert {one.to[0] for one in mail.outbox} == {"owner@example.org", "dora@example.org"}


def test_who_has_it_in_hand_lets_others_sleep(
    client: Client, channel: Channel, owner: Membership
) -> None:
    person(channel.enclosure.household, "ben", Membership.Role.KEEPER)
    alarm = hot(channel)
    client.post(f"/alarms/{alarm.pk}/acknowledge/", {"note": "door open"})
    assert messages.send_due(minutes(60)) == 0
    page = client.get(f"/alarms/{alarm.pk}/").content.decode()
    assert "has it" in page and "door open" in page


@pytest.mark.parametrize(("hour", "mailed"), [(3, 0), (12, 1), (23, 0)])
def test_what_can_wait_waits_for_the_morning(
    channel: Channel, owner: Membership, hour: int, mailed: int
) -> None:
    local = now().astimezone(dt.UTC).replace(hour=hour, minute=30)
    zone = channel.enclosure.household.time_zone
    offset = local.hour - local.astimezone(ZoneInfo(zone)).hour
    at = local + dt.timedelta(hours=offset)
    Alarm.objects.create(
        household=channel.enclosure.household,
        channel=channel,
        group="enclosure",
        kind="long",
        severity="care",
        began_at=at - dt.timedelta(hours=2),
        changed_at=at - dt.timedelta(hours=2),
    )
    assert messages.send_due(at) == mailed


def test_a_care_is_told_once_it_has_lasted(channel: Channel, owner: Membership) -> None:
    AlarmPreferences.objects.create(membership=owner, quiet_from=0, quiet_to=0)
    Alarm.objects.create(
        household=channel.enclosure.household,
        channel=channel,
        group="instrument",
        kind="silent",
        severity="instrument",
        began_at=minutes(-40),
        changed_at=now(),
    )
    assert messages.send_due(minutes(29)) == 0 and messages.send_due(minutes(31)) == 1


def test_a_mail_server_that_is_away_is_tried_again(
    channel: Channel, owner: Membership, monkeypatch: pytest.MonkeyPatch
) -> None:
    hot(channel)

    def away(*_: object, **__: object) -> None:
        raise OSError

    with monkeypatch.context() as patch:
        patch.setattr(messages, "send", away)
        assert messages.send_due(now()) == 0
    message = AlarmMessage.objects.get()
    assert message.mailed_at is None and message.tries >= 1
    assert messages.send_due(minutes(1)) == 1 and len(mail.outbox) == 1
    assert messages.send_due(minutes(2)) == 0


def test_what_must_hold_is_said_with_its_working(client: Client, channel: Channel) -> None:
    alarm = hot(channel)
    answer = client.get(f"/alarms/{alarm.pk}/")
    wanted = dict(answer.context["wanted"])
    assert wanted["by day at most"].rule and "32" in wanted["by day at most"].text
    assert "Target range and limits" in answer.content.decode()


def test_no_address_no_mail_and_the_page_has_it(client: Client, channel: Channel) -> None:
    alarm = hot(channel)
    assert messages.send_due(now()) == 0 and not mail.outbox
    page = client.get("/alarms/").content.decode()
    assert "Too hot: beyond the animal’s limit" in page
    assert f"/alarms/{alarm.pk}/" in client.get("/today/").content.decode()
    assert (
        f"/alarms/{alarm.pk}/"
        in client.get(f"/enclosures/{channel.enclosure_id}/").content.decode()
    )


def test_it_is_snoozed_with_a_reason(client: Client, channel: Channel, owner: Membership) -> None:
    alarm = hot(channel)
    bare = client.post(f"/alarms/{alarm.pk}/snooze/", {"minutes": "60", "reason": ""})
    assert "Say why" in bare.context["snooze"].errors["reason"][0]
    assert messages.send_due(now()) == 1
    client.post(f"/alarms/{alarm.pk}/snooze/", {"minutes": "60", "reason": "bulb ordered"})
    assert messages.send_due(minutes(59)) == 0
    assert messages.send_due(minutes(61)) == 1


def test_a_channel_is_silent_while_it_is_cleaned(client: Client, channel: Channel) -> None:
    alarm = hot(channel)
    client.post(f"/alarms/{alarm.pk}/silence/", {"minutes": "60", "reason": "cleaned"})
    alarm.refresh_from_db()
    assert alarm.ended_at is not None
    assert flows.watch_channel(channel, minutes(30)) is None
    assert "cleaned" in client.get("/alarms/").content.decode()
    client.post(f"/channels/{channel.pk}/watch/")
    assert flows.watch_channel(channel, now()) is not None


def test_a_false_alarm_teaches_when_that_is_wanted(client: Client, channel: Channel) -> None:
    alarm = hot(channel)
    client.post(f"/alarms/{alarm.pk}/false/")
    alarm.refresh_from_db()
    assert alarm.was_false and not ChannelWatch.objects.exists(), "never silently"
    client.post(f"/alarms/{alarm.pk}/false/", {"less": "yes"})
    assert ChannelWatch.objects.get().margin == 1.0


def test_everything_silent_is_the_power(channel: Channel, pip: Enclosure) -> None:
    other_home = pip.household.enclosures.exclude(pk=pip.pk).order_by("pk")[0]
    device, _ = add(pip.household, name="Window", keeper=None, now=now())
    other = bind(device, other_home, Quantity.TEMPERATURE, SensorPlace.WARM).channel
    for one in (channel, other):
        log(one, [27.0, 27.1, 27.0])
    assert not [one for one in flows.watch_household(pip.household, now()) if one.kind == "power"]
    flows.watch_household(pip.household, minutes(45))
    power = Alarm.objects.get(kind="power")
    assert power.severity == "danger" and power.channel is None
    log(other, [27.0], until=50)
    flows.watch_household(pip.household, minutes(50))
    power.refresh_from_db()
    assert power.ended_at is not None
    assert Alarm.objects.going().get().channel == channel, "the other one alone is still silent"


def test_wishes(client: Client, channel: Channel, owner: Membership) -> None:
    client.post("/alarms/", {"quiet_from": "21", "quiet_to": "8"})
    wish = AlarmPreferences.objects.get()
    assert (wish.by_mail, wish.quiet_from, wish.quiet_to) == (False, 21, 8)
    hot(channel)
    assert messages.send_due(now()) == 0
    bad = client.post("/alarms/", {"quiet_from": "25", "quiet_to": "8"})
    assert "quiet_from" in bad.context["form"].errors


def test_a_sitter_sees_and_answers(client: Client, channel: Channel, household: Household) -> None:
    alarm = hot(channel)
    day = household.day_of(now())
    household.memberships.update(role=Membership.Role.SITTER, from_on=day, until_on=day)
    assert client.get("/alarms/").status_code == 200
    assert client.post(f"/alarms/{alarm.pk}/acknowledge/", {"note": ""}).status_code == 302
    assert client.post(f"/alarms/{alarm.pk}/silence/", {}).status_code == 403


def test_another_household_sees_and_answers_nothing(stranger: Client, channel: Channel) -> None:
    alarm = hot(channel)
    assert "Too hot" not in stranger.get("/alarms/").content.decode()
    for way in ("", "acknowledge/", "snooze/", "silence/", "false/"):
        assert stranger.post(f"/alarms/{alarm.pk}/{way}").status_code in {404, 405}
    assert stranger.post(f"/channels/{channel.pk}/watch/").status_code == 404
    alarm.refresh_from_db()
    assert alarm.acknowledged_at is None


def test_one_channel_that_cannot_be_looked_at_keeps_no_other_back(
    channel: Channel, pip: Enclosure, monkeypatch: pytest.MonkeyPatch
) -> None:
    device = channel.binding.device
    second = bind(device, pip, Quantity.TEMPERATURE, SensorPlace.COOL).channel
    for one in (channel, second):
        log(one, [60.0, 61.0])
    real = flows.targets_of

    def breaks(one: Channel, *rest: object) -> object:
        if one.pk == channel.pk:
            raise ZeroDivisionError
        return real(one, *rest)  # type: ignore[arg-type]

    monkeypatch.setattr(flows, "targets_of", breaks)
    found = flows.watch_household(pip.household, now())
    assert [one.channel_id for one in found] == [second.pk]


def test_at_night_the_right_one_is_woken_and_for_the_first_alone(
    pip: Enclosure, owner: Membership, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A thermostat sticks at 02:10; a mister's tank is empty; a sensor's battery dies."""
    household = pip.household
    person(household, "ben", Membership.Role.KEEPER)
    zone = ZoneInfo(pip.room.time_zone)
    night = now().astimezone(zone).replace(hour=2, minute=10, second=0, microsecond=0)
    device, _ = add(household, name="Shelf", keeper=None, now=night)
    warm = bind(device, pip, Quantity.TEMPERATURE, SensorPlace.WARM).channel
    damp = bind(device, pip, Quantity.HUMIDITY, SensorPlace.COOL).channel
    cool = bind(device, pip, Quantity.TEMPERATURE, SensorPlace.COOL).channel
    end = int((night + dt.timedelta(minutes=40)).timestamp())
    at_s = np.arange(end - 8 * 86_400, end + 1, 300, dtype=np.int64)
    ensure_months(at_s)
    noise = np.random.default_rng(1).normal(0, 0.1, len(at_s))
    stuck = np.clip((at_s - night.timestamp()) / 3600, 0, 1) * 30
    write_samples(warm, at_s, np.round(20 + noise + stuck, 1), None)
    dry = np.where(at_s > end - 3 * 3600, 8.0, 50.0)
    write_samples(damp, at_s, np.round(dry + 3 * noise, 1), None)
    alive = at_s < end - 2 * 3600
    write_samples(cool, at_s[alive], np.round(20 + noise[alive], 1), None)
    at = night + dt.timedelta(minutes=40)
    found = {one.channel_id: one for one in flows.watch_household(household, at)}
    assert found[warm.pk].severity == "danger" and found[warm.pk].side == "high"
    assert found[cool.pk].kind == "silent" and found[damp.pk].severity != "danger"
    messages.send_due(at)
    assert [one.to[0] for one in mail.outbox] == ["owner@example.org"]
    assert mail.outbox[0].subject.startswith("DANGER: Too hot")
    messages.send_due(at + dt.timedelta(minutes=ESCALATE_MIN))
    assert [one.to[0] for one in mail.outbox] == ["owner@example.org", "ben@example.org"]
    morning = night.replace(hour=8)
    messages.send_due(morning)
    told = {one.alarm.channel_id for one in AlarmMessage.objects.select_related("alarm")}
    assert told == {warm.pk, damp.pk, cool.pk}, "the others in the morning"


def test_an_alarm_ends_with_its_device(channel: Channel) -> None:
    alarm = hot(channel)
    assert flows.end_unwatched(now()) == 0
    revoke(channel.binding.device, now())
    assert flows.end_unwatched(now()) == 1
    alarm.refresh_from_db()
    assert alarm.ended_at is not None


# --- kept outside the enclosure -----------------------------------------------------------------


def elsewhere(pip: Enclosure, place: SensorPlace) -> Channel:
    device, _ = add(pip.household, name="Cellar", keeper=None, now=now())
    return bind(device, pip, Quantity.TEMPERATURE, place).channel


def test_a_fridge_that_freezes_wakes_somebody_while_the_animal_rests(
    pip: Enclosure, owner: Membership
) -> None:
    channel = elsewhere(pip, SensorPlace.FRIDGE)
    log(channel, [5.0] * 20 + [0.5, 0.4])
    assert flows.watch_channel(channel, now()) is None, "nobody rests"
    today = pip.household.day_of(now())
    resting = pip.present[0].animal
    Animal.objects.filter(pk=resting.pk).update(species="Testudo hermanni")
    resting.refresh_from_db()
    Brumation.objects.create(
        animal=resting, begins_on=today - dt.timedelta(days=10), weeks=10, kept_at=now()
    )
    alarm = flows.watch_channel(channel, now())
    assert alarm is not None and (alarm.kind, alarm.severity, alarm.side) == (
        "limit",
        "danger",
        "low",
    )
    assert messages.send_due(now()) == 1
    assert "in the brumation fridge" in mail.outbox[0].body
    assert "Open the fridge" in mail.outbox[0].body


def test_an_incubator_is_held_against_its_clutch_and_says_whose_limit(
    client: Client, pip: Enclosure
) -> None:
    channel = elsewhere(pip, SensorPlace.EGGS)
    Clutch.objects.filter(household=pip.household).delete()
    Clutch.objects.create(
        household=pip.household,
        species="Eublepharis macularius",
        laid_on=pip.household.day_of(now()),
        set_c=28.0,
    )
    log(channel, [28.0] * 20 + [34.5, 34.6])
    alarm = flows.watch_channel(channel, now())
    assert alarm is not None and alarm.severity == "danger"
    page = client.get(f"/alarms/{alarm.pk}/").content.decode()
    assert "beyond the eggs’ limit" in page and "Do not turn the eggs" in page
    chart = client.get(f"/enclosures/{pip.pk}/charts/?channel={channel.pk}&span=day")
    ends = chart.context["view"].phases[-1].ends
    assert ends == (("27.0", ""), ("29.0 °C", "")), "no part of the plan has them"


def test_a_misting_that_stays_away_says_when_it_was_due(client: Client, pip: Enclosure) -> None:
    device, _ = add(pip.household, name="Damp", keeper=None, now=now())
    channel = bind(device, pip, Quantity.HUMIDITY, SensorPlace.COOL).channel
    end = int(now().timestamp())
    at_s = np.arange(end - 5 * 86_400, end, 300, dtype=np.int64)
    values = 55 + np.random.default_rng(2).normal(0, 0.4, len(at_s))
    for day in range(1, 5):
        since = (at_s - (end - day * 86_400 - 2 * 3600)) / 3600
        values += np.where(since >= 0, 30 * 0.5 ** np.maximum(since, 0), 0)
    ensure_months(at_s)
    write_samples(channel, at_s, np.round(values, 1), None)
    channel.refresh_from_db()
    alarm = flows.watch_channel(channel, now())
    assert alarm is not None and (alarm.kind, alarm.severity) == ("misting", "care")
    page = client.get(f"/alarms/{alarm.pk}/").content.decode()
    due = now().astimezone(ZoneInfo(pip.room.time_zone)) - dt.timedelta(hours=2)
    assert "It was not misted" in page and "mister’s tank has water" in page
    assert f"after {due:%H:%M}" in page or f"after {due - dt.timedelta(minutes=5):%H:%M}" in page


def test_who_sent_lately_was_looked_at_with_its_batch(
    channel: Channel, monkeypatch: pytest.MonkeyPatch
) -> None:
    looked: list[int] = []
    monkeypatch.setattr(flows, "watch_channel", lambda one, at: looked.append(one.pk))
    log(channel, [25.0, 25.0])
    flows.watch_household(channel.enclosure.household, now(), only_quiet=True)
    assert looked == []
    flows.watch_household(channel.enclosure.household, minutes(20), only_quiet=True)
    assert looked == [channel.pk], "it may be silent"
    flows.watch_household(channel.enclosure.household, now())
    assert looked == [channel.pk] * 2
