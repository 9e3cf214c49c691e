"""Watching channels: alarms that begin, change and end, by what the core tells of the last days."""

import datetime as dt
import math
from functools import partial

from django.db import transaction
from django.db.models import F

from husbandry.records.channels import Quantity, SensorPlace
from husbandry.records.watch import READ_BACK_S, AlarmFinding, AlarmKind, WatchedChannel, watch
from ridgeback.alarms.models import Alarm, ChannelWatch
from ridgeback.calculation import attempt
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper
from ridgeback.records.models import Channel
from ridgeback.records.reading import values_of
from ridgeback.records.targets import request_of, targets_of

STOPPED = dt.timedelta(days=2)
"""A channel that has been silent for so long is watched no more: its alarm says so (design choice)."""
QUIET = dt.timedelta(minutes=15)
"""Half of what silence takes at the least: who sent within it is not silent (design choice)."""
POWER_MIN = 20
"""Devices that fell silent within so many minutes did so together (design choice) [min]."""
FALSE_MARGIN = {
    Quantity.TEMPERATURE: 1.0,
    Quantity.HUMIDITY: 5.0,
    Quantity.UVI: 0.5,
    Quantity.POWER: 5.0,
    Quantity.HEATING: 0.1,
    Quantity.MASS: 0.0,
}
"""What a false alarm may add to what is unusual (design choice) [unit]."""
ORDER = {"instrument": 0, "care": 1, "danger": 2}


def watch_channel(channel: Channel, now: dt.datetime) -> Alarm | None:
    """Look at a channel and bring its alarms up to date; the one that goes on."""
    settings = ChannelWatch.objects.filter(channel=channel).first()
    going = {one.group: one for one in channel.alarms.going()}
    if settings is not None and settings.silent_until is not None and now < settings.silent_until:
        return None
    enclosure = Enclosure.objects.for_planning().filter(pk=channel.enclosure_id).get()
    request = request_of(enclosure, now)
    at_s, values = values_of(channel, now - dt.timedelta(seconds=READ_BACK_S), now)
    watched = WatchedChannel(
        quantity=Quantity(channel.quantity),
        place=SensorPlace(channel.place),
        at_s=at_s,
        values=values,
        targets=targets_of(channel, request, enclosure, now),
        zone=enclosure.room.time_zone,
        is_live=channel.is_live,
        margin=settings.margin if settings is not None else 0.0,
    )

    kinds = frozenset(AlarmKind(one.kind) for one in going.values() if one.kind != "power")
    found = watch(watched, int(now.timestamp()), kinds) if len(at_s) else ()

    return _settle(channel, found[0] if found else None, now)


@transaction.atomic
def _settle(channel: Channel, found: AlarmFinding | None, now: dt.datetime) -> Alarm | None:
    """Begin, change or end the alarms of a channel: one of the enclosure, one of the instrument."""
    Channel.objects.select_for_update().get(pk=channel.pk)
    group = None
    if found is not None:
        is_instrument = found.severity == "instrument"
        group = Alarm.Group.INSTRUMENT if is_instrument else Alarm.Group.ENCLOSURE
    kept = None

    for alarm in channel.alarms.going().select_for_update():
        if alarm.group == group and found is not None:
            kept = _change(alarm, found, now)
        elif group != Alarm.Group.INSTRUMENT or alarm.group == Alarm.Group.INSTRUMENT:
            # what an instrument cannot tell has not ended
            alarm.ended_at = max(now, alarm.began_at)
            alarm.save(update_fields=["ended_at"])

    if kept is None and found is not None and group is not None:
        kept = Alarm.objects.create(
            household_id=channel.enclosure.household_id,
            channel=channel,
            group=group,
            began_at=min(now, dt.datetime.fromtimestamp(found.since_s, dt.UTC)),
            changed_at=now,
            **_facts(found),
        )

    return kept


def _change(alarm: Alarm, found: AlarmFinding, now: dt.datetime) -> Alarm:
    """Bring an alarm up to date; one that grew graver is new to whoever had it in hand."""
    graver = ORDER[found.severity] > ORDER[alarm.severity]
    if alarm.kind != found.kind.value:
        alarm.changed_at = now
    if graver:
        alarm.acknowledged_at = alarm.acknowledged_by = alarm.snoozed_until = None
    for name, value in _facts(found).items():
        setattr(alarm, name, value)
    alarm.save()

    return alarm


def _facts(found: AlarmFinding) -> dict[str, object]:
    numbers = {"value": found.value, "against": found.against, "minutes": found.minutes}
    return {
        "kind": found.kind.value,
        "severity": found.severity,
        "side": found.side,
        **{name: None if math.isnan(one) else one for name, one in numbers.items()},
    }


def watch_household(
    household: Household, now: dt.datetime, *, only_quiet: bool = False
) -> list[Alarm]:
    """Look at every channel that a device sends; one that cannot be looked at keeps no other back.

    Parameters
    ----------
    only_quiet : bool
        Only at those that sent nothing lately: the others were looked at with their last batch.
    """
    rows = Channel.objects.of(household).filter(is_live=True, binding__isnull=False)
    rows = rows.exclude(quantity=Quantity.MASS)  # a scale is used now and then
    live = list(rows.select_related("enclosure").order_by("pk"))
    found = []

    for channel in live:
        if only_quiet and channel.last_at is not None and now - channel.last_at < QUIET:
            continue
        made = attempt(partial(watch_channel, channel, now), "channel", channel.pk)
        if isinstance(made, Alarm):
            found.append(made)

    _watch_power(household, live, now)

    return found


@transaction.atomic
def _watch_power(household: Household, live: list[Channel], now: dt.datetime) -> None:
    """Everything silent at once is the power or the network: one alarm in place of many."""
    Household.objects.select_for_update().get(pk=household.pk)
    own = Alarm.objects.of(household).going()
    power = own.filter(group=Alarm.Group.POWER).first()
    silent = list(own.filter(kind=AlarmKind.SILENT.value).select_related("channel"))
    heard = [one.last_at for one in live if one.last_at is not None]
    devices = {one.binding.device_id for one in live}
    all_at_once = (
        len(devices) > 1
        and len(silent) == len(heard) > 1
        and (max(heard) - min(heard)) <= dt.timedelta(minutes=POWER_MIN)
    )

    if power is None and all_at_once:
        Alarm.objects.create(
            household=household,
            group=Alarm.Group.POWER,
            kind="power",
            severity="danger",
            began_at=max(heard),
            changed_at=now,
        )
    elif power is not None and len(silent) < len(heard):
        power.ended_at = now
        power.save(update_fields=["ended_at"])


def end_unwatched(now: dt.datetime) -> int:
    """End the alarms of channels that no device sends any more; how many they were."""
    rows = Alarm.objects.going().filter(channel__isnull=False, channel__binding__isnull=True)
    return rows.update(ended_at=now)


def watched_households(now: dt.datetime) -> list[Household]:
    """Those with a channel that a device sends, or sent until lately."""
    rows = Household.objects.filter(
        enclosures__channels__is_live=True,
        enclosures__channels__binding__isnull=False,
        enclosures__channels__last_at__gt=now - STOPPED,
    )
    return list(rows.distinct().order_by("pk"))


@transaction.atomic
def acknowledge(alarm: Alarm, keeper: Keeper, note: str, now: dt.datetime) -> None:
    """Somebody has it in hand: nobody else is woken."""
    held = Alarm.objects.select_for_update().get(pk=alarm.pk)
    if held.acknowledged_at is None:
        held.acknowledged_at, held.acknowledged_by = now, keeper
    held.note = note[:300]
    held.save(update_fields=["acknowledged_at", "acknowledged_by", "note"])


@transaction.atomic
def snooze(alarm: Alarm, until: dt.datetime, reason: str) -> None:
    """Say it again later."""
    Alarm.objects.filter(pk=alarm.pk).update(
        snoozed_until=until, snoozes=F("snoozes") + 1, note=reason[:300]
    )


@transaction.atomic
def silence(channel: Channel, until: dt.datetime | None, reason: str, now: dt.datetime) -> None:
    """Watch a channel no more until then, such as while it is cleaned; None watches it again."""
    facts = {"silent_until": until, "reason": reason[:200]}
    ChannelWatch.objects.update_or_create(channel=channel, defaults=facts)
    if until is not None:
        channel.alarms.going().update(ended_at=now)


@transaction.atomic
def was_false(alarm: Alarm, *, less_sensitive: bool) -> None:
    """It was no alarm; its channel takes more for usual when its keeper wants that."""
    Alarm.objects.filter(pk=alarm.pk).update(was_false=True)
    if less_sensitive and alarm.channel is not None:
        held, _ = ChannelWatch.objects.get_or_create(channel=alarm.channel)
        added = FALSE_MARGIN[Quantity(alarm.channel.quantity)]
        ChannelWatch.objects.filter(pk=held.pk).update(margin=min(held.margin + added, 30))


def look_again(channels: list[int], now: dt.datetime) -> None:
    """Look at some channels that just got values."""
    rows = Channel.objects.filter(pk__in=channels).select_related("enclosure")
    for channel in rows.order_by("pk"):
        attempt(partial(watch_channel, channel, now), "channel", channel.pk)
