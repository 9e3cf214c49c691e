"""Writes about devices, and what a batch of theirs does."""

import csv
import datetime as dt
import hashlib
import io
import logging
import math
import secrets
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from django.db import transaction

from husbandry.records.channels import QUANTITY_WORDS, Quantity, SensorPlace, is_possible
from ridgeback.background import defer
from ridgeback.devices.models import Device, DeviceChannel
from ridgeback.devices.scale import note_weights
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper
from ridgeback.records.flows import channel_for
from ridgeback.records.models import Channel
from ridgeback.records.store import ensure_months, write_samples

MOST_ROWS = 5_000
"""Of one batch (design choice)."""
OLDEST = dt.timedelta(days=400)
"""A device may send what it held back, and no further (design choice)."""
CLOCK_AHEAD = dt.timedelta(minutes=5)
"""A device's clock may be ahead by so much (design choice)."""
MOST_DEVICES, MOST_CHANNELS = 100, 32
"""Of a household, and of a device (design choice)."""
PREFIX = "rb_"
security = logging.getLogger("ridgeback.security")
"""Keys that were made and closed: by their rows, never by names."""


def hash_of(token: str) -> str:
    """What is kept of a token: it is long and random, so a plain hash holds."""
    return hashlib.sha256(token.encode()).hexdigest()


@transaction.atomic
def add(
    household: Household, *, name: str, keeper: Keeper | None, now: dt.datetime
) -> tuple[Device, str]:
    """Make a device; it, and its token, which nobody sees again."""
    token = PREFIX + secrets.token_urlsafe(32)
    device = Device.objects.create(
        household=household, name=name, token_hash=hash_of(token), made_at=now, by=keeper
    )
    security.info("device key made", extra=_keys(device))

    return device, token


@transaction.atomic
def renew(device: Device) -> str:
    """Give a device another token: the old one opens nothing from now on."""
    token = PREFIX + secrets.token_urlsafe(32)
    device.token_hash = hash_of(token)
    device.save(update_fields=["token_hash"])
    security.info("device key changed", extra=_keys(device))

    return token


@transaction.atomic
def bind(
    device: Device, enclosure: Enclosure, quantity: Quantity, place: SensorPlace
) -> DeviceChannel:
    """Let a device write to a channel."""
    channel = channel_for(enclosure, quantity, place.value, device.name)
    known = DeviceChannel.objects.filter(channel=channel).first()
    if known is not None and known.device_id == device.pk:
        return known
    if known is not None:  # of a device of that name that was revoked
        known.delete()
    code = f"{quantity.value}-{place.value}"
    taken = set(device.bindings.values_list("code", flat=True))
    if code in taken:
        code = f"{code}-{enclosure.pk}"
    Channel.objects.filter(pk=channel.pk).update(is_live=True)

    return DeviceChannel.objects.create(device=device, channel=channel, code=code)


@transaction.atomic
def unbind(binding: DeviceChannel) -> None:
    """A device no longer writes to a channel; what it wrote stays."""
    Channel.objects.filter(pk=binding.channel_id).update(is_live=False)
    binding.delete()


@transaction.atomic
def revoke(device: Device, now: dt.datetime) -> None:
    """A device's token opens nothing any more; what it wrote stays."""
    Channel.objects.filter(binding__device=device).update(is_live=False)
    device.bindings.all().delete()
    Device.objects.filter(pk=device.pk).update(revoked_at=now)
    security.info("device key closed", extra=_keys(device))


def _keys(device: Device) -> dict[str, int]:
    return {"household": device.household_id, "device": device.pk}


def known_by(token: str) -> Device | None:
    """The device of a token; None for one that opens nothing."""
    if not token.startswith(PREFIX) or len(token) > 100:
        return None
    rows = Device.objects.trusted().select_related("household")
    return rows.filter(token_hash=hash_of(token)).first()


@dataclass
class Taken:
    """What came of a batch."""

    new: int = 0
    known: int = 0
    """Sent before: a batch may be sent again."""
    refused: list[tuple[int, str]] = field(default_factory=list)
    """Rows that were not taken, from 1, and why."""


def take(device: Device, rows: Sequence[dict[str, Any]], now: dt.datetime) -> Taken:
    """Take a batch: each row is read by itself, and those that can be are written at once."""
    bindings = {one.code: one.channel for one in device.bindings.select_related("channel")}
    found = Taken()
    by_channel: dict[Channel, dict[int, float]] = {}

    for n, row in enumerate(rows, 1):
        if n > MOST_ROWS:
            found.refused.append((n, f"a batch has at most {MOST_ROWS} rows: send it in the next"))
            continue
        try:
            channel, at_s, value = _row(row, bindings, now)
        except ValueError as why:
            found.refused.append((n, str(why)))
            continue

        own = by_channel.setdefault(channel, {})
        if at_s in own:
            found.known += 1
        own.setdefault(at_s, value)

    _write(by_channel, found)
    for channel, own in by_channel.items():
        if channel.quantity == Quantity.MASS:
            note_weights(channel, own)
    problem = f"{len(found.refused)} rows refused: {found.refused[0][1]}" if found.refused else ""
    Device.objects.filter(pk=device.pk).update(seen_at=now, problem=problem[:200])
    if found.new:
        defer("watch_channels", channels=[one.pk for one in by_channel])
    return found


def _write(by_channel: dict[Channel, dict[int, float]], found: Taken) -> None:
    """Write each channel's rows; all or none."""
    ensure_months(*(np.array(list(own), dtype=np.int64) for own in by_channel.values()))
    with transaction.atomic():
        for channel in sorted(by_channel, key=lambda one: one.pk):
            own = by_channel[channel]
            at_s = np.array(sorted(own), dtype=np.int64)
            values = np.array([own[int(one)] for one in at_s])
            new = write_samples(channel, at_s, values, None)
            found.new += new
            found.known += len(at_s) - new


def _row(
    row: dict[str, Any], bindings: dict[str, Channel], now: dt.datetime
) -> tuple[Channel, int, float]:
    """A row's channel, its time and its value. Raises `ValueError` with a sentence."""
    channel = bindings.get(str(row.get("channel", "")))

    if channel is None:
        known = ", ".join(bindings) or "none"
        raise ValueError(
            f"this device has no channel “{str(row.get('channel', ''))[:40]}”; it has {known}"
        )

    at = _moment(row.get("at"))
    if at > now + CLOCK_AHEAD:
        ahead = (at - now).total_seconds() / 60
        raise ValueError(f"its time is {ahead:,.0f} minutes ahead: set the device’s clock")
    if at < now - OLDEST:
        raise ValueError("its time is more than 400 days ago: set the device’s clock")
    quantity = Quantity(channel.quantity)
    value = _number(row.get("value"))
    scaled = SHOWN_IN.get(quantity, 1.0)
    unit = str(row.get("unit") or "").strip().lstrip("°").upper()

    if quantity is Quantity.TEMPERATURE and unit == "F":
        value = (value - 32.0) / 1.8
    elif unit not in UNITS[quantity]:
        raise ValueError(f"“{unit[:10]}” is no unit of {QUANTITY_WORDS[quantity]}")
    value *= 1000.0 if unit == "KG" else scaled

    if not is_possible(quantity, value):
        raise ValueError(f"{value / scaled:g} is no {QUANTITY_WORDS[quantity]} that can be")
    return (
        channel,
        int(at.timestamp()),
        min(value, 100.0) if quantity is Quantity.HUMIDITY else value,
    )


UNITS = {
    Quantity.TEMPERATURE: {"", "C", "F"},
    Quantity.HUMIDITY: {"", "%", "%RH"},
    Quantity.UVI: {"", "UVI"},
    Quantity.POWER: {"", "W"},
    Quantity.HEATING: {"", "%"},
    Quantity.MASS: {"", "G", "KG"},
}
SHOWN_IN = {Quantity.HEATING: 0.01}
"""What a value counts as, where a device sends another unit than the channel's: percent of full
heating [1]."""


def _number(value: Any) -> float:
    try:
        found = float(value)
    except (TypeError, ValueError, OverflowError):
        raise ValueError(f"“{str(value)[:20]}” is no number") from None
    if isinstance(value, bool) or not math.isfinite(found):
        raise ValueError(f"“{str(value)[:20]}” is no number")
    return found


def _moment(value: Any) -> dt.datetime:
    """A time: ISO 8601 with its zone, or seconds since 1970."""
    try:
        if isinstance(value, int | float) and not isinstance(value, bool):
            return dt.datetime.fromtimestamp(float(value), dt.UTC)
        text = str(value).strip()
        if text.replace(".", "", 1).isdigit():
            return dt.datetime.fromtimestamp(float(text), dt.UTC)
        found = dt.datetime.fromisoformat(text)
    except (ValueError, OverflowError, OSError):
        raise ValueError(
            f"“{str(value)[:40]}” is no time: write 2026-11-25T14:30:00Z, or seconds since 1970"
        ) from None

    if found.tzinfo is None:
        raise ValueError(f"“{str(value)[:40]}” says no zone: write Z or +01:00 after it")
    return found


def rows_of_csv(text: str) -> list[dict[str, Any]]:
    """Rows of “channel,at,value,unit”, with or without a head."""
    names = ["channel", "at", "value", "unit"]
    rows: Iterable[list[str]] = csv.reader(io.StringIO(text))
    found = [
        dict(zip(names, (cell.strip() for cell in row), strict=False)) for row in rows if any(row)
    ]
    if found and found[0].get("channel") == "channel":
        found = found[1:]
    return found
