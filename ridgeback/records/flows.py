"""Taking in a logger's file: as it is sent, as it is answered, as a worker reads it, and back."""

import datetime as dt
import hashlib
import zlib
from typing import Any, NamedTuple

from django.db import transaction
from django.db.models import F

from husbandry.errors import DocumentError
from husbandry.records.channels import Quantity
from husbandry.records.logger_file import LoggerRead, LoggerValues, read_file, sentences
from husbandry.records.logger_layout import LoggerLayout, decode, layout_of
from ridgeback import clock
from ridgeback.background import deadline, defer
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper
from ridgeback.records import store
from ridgeback.records.day_readings import withdraw
from ridgeback.records.models import Channel, FileShape, LoggerFile

TASK = "read_logger_file"
READ_S = 600.0
"""A file that takes longer ends its worker (design choice) [s]."""
MOST_TRIES = 3
"""So often a file is begun: one that ended its worker each time is given up (design choice)."""
TOO_LONG = "The import took too long. Split the file in two and import both."


class Target(NamedTuple):
    """Where a column's values belong."""

    enclosure: int
    place: str


@transaction.atomic
def send(
    enclosure: Enclosure, body: bytes, *, name: str, keeper: Keeper | None, now: dt.datetime
) -> LoggerFile:
    """Keep a file and tell how it is laid out; nothing is imported yet.

    Raises
    ------
    DocumentError
        For what is no text, or holds no line with a time and a value.
    """
    layout = layout_of(decode(body))
    known = FileShape.objects.filter(
        household=enclosure.household, signature=layout.signature
    ).first()
    return LoggerFile.objects.create(
        household=enclosure.household,
        enclosure=enclosure,
        name=name[:120],
        sha256=hashlib.sha256(body).hexdigest(),
        body=zlib.compress(body, 1),
        layout=layout.model_dump(mode="json"),
        targets=known.answers if known is not None else {},
        by=keeper,
        sent_at=now,
    )


def text_of(file: LoggerFile) -> str:
    """The file as it was sent; empty once it is gone."""
    return decode(zlib.decompress(bytes(file.body))) if file.body is not None else ""


@transaction.atomic
def answer(file: LoggerFile, layout: LoggerLayout, answers: dict[str, Any]) -> None:
    """Keep what was said about the columns, remember it for files of this shape, and queue the
    import.
    """
    file.layout = layout.model_dump(mode="json")
    file.targets = answers
    file.clock = answers["clock"]
    file.state = LoggerFile.State.WAITING
    file.save(update_fields=["layout", "targets", "clock", "state"])
    FileShape.objects.update_or_create(
        household=file.household, signature=layout.signature, defaults={"answers": answers}
    )
    defer(TASK, lock=f"files-{file.household_id}", file=file.pk)


def read_waiting(pk: int) -> None:
    """Import a file that waits: all of it or nothing, once, however often it runs."""
    rows = LoggerFile.objects.filter(pk=pk, state__in=_GOING, body__isnull=False)
    file = rows.first()
    if file is None:
        return
    if file.tries >= MOST_TRIES:
        rows.update(state=LoggerFile.State.FAILED, problems=[TOO_LONG], body=None)
        return
    rows.update(tries=F("tries") + 1)
    with deadline(READ_S, "logger file", pk):
        _read(file)


def _read(file: LoggerFile) -> None:
    pk = file.pk
    _progress(file, 10)
    layout = LoggerLayout.model_validate(file.layout)

    try:
        read = read_file(
            text_of(file),
            layout,
            zone=file.enclosure.room.time_zone,
            clock=file.clock,  # type: ignore[arg-type]  # one of three, by the table's constraint
            now=clock.now(),
        )
    except DocumentError as why:
        LoggerFile.objects.filter(pk=pk, state__in=_GOING).update(
            state=LoggerFile.State.FAILED, problems=list(sentences(why)), body=None
        )
        return

    if not _progress(file, 60):
        return
    spans = [(int(one.at_s[0]), int(one.at_s[-1])) for one in read.channels]
    first = store.moment(min((one[0] for one in spans), default=0))
    last = store.moment(max((one[1] for one in spans), default=0))
    store.ensure_months(*(one.at_s for one in read.channels))
    with transaction.atomic():
        held = LoggerFile.objects.select_for_update().filter(pk=pk, state__in=_GOING).first()
        if held is None:  # it was stopped, or another worker was faster
            return
        written = [_write(held, one) for one in read.channels]
        held.found = _found(read, sum(new for _, new in written))
        held.found["channels"] = sorted({channel for channel, _ in written})
        held.problems = [f"{one.pointer}: {one.reason}" for one in read.problems]
        held.state, held.progress_pct, held.body = LoggerFile.State.DONE, 100, None
        if spans:
            held.first_at, held.last_at = first, last
        held.save()
        homes = {one["enclosure"] for one in held.targets["columns"].values()}
        defer("read_days", enclosures=sorted(homes))


_GOING = (LoggerFile.State.WAITING, LoggerFile.State.RUNNING)


def _progress(file: LoggerFile, percent: int) -> bool:
    """Note how far it is; False when somebody stopped it."""
    known = LoggerFile.objects.filter(pk=file.pk, state__in=_GOING)
    return bool(known.update(state=LoggerFile.State.RUNNING, progress_pct=percent))


def _found(read: LoggerRead, new: int) -> dict[str, Any]:
    values = sum(len(one.values) for one in read.channels)
    return {
        "lines": read.lines,
        "refused": read.refused,
        "repeated": read.repeated,
        "missing": read.missing,
        "values": values,
        "new": new,
        "known": values - new,
        "sorted": read.is_sorted,
        "skipped_hour": read.has_skipped_hour,
    }


def _write(file: LoggerFile, found: LoggerValues) -> tuple[int, int]:
    """Write one column; the key of its channel, and how many values were new."""
    target = file.targets["columns"][str(found.column)]
    enclosure = Enclosure.objects.of(file.household).get(pk=target["enclosure"])
    channel = channel_for(enclosure, found.quantity, target["place"], file.targets["instrument"])

    return channel.pk, store.write_samples(channel, found.at_s, found.values, file.pk)


def channel_for(enclosure: Enclosure, quantity: Quantity, place: str, name: str) -> Channel:
    """The channel of an instrument at a place, made where there is none yet."""
    made, _ = Channel.objects.get_or_create(
        enclosure=enclosure, quantity=quantity.value, place=place, name=name
    )
    return made


@transaction.atomic
def stop(file: LoggerFile) -> bool:
    """Give up a file that is not in yet; False when it was in already."""
    waiting = (LoggerFile.State.ASKED, *_GOING)
    known = LoggerFile.objects.filter(pk=file.pk, state__in=waiting)
    return bool(known.update(state=LoggerFile.State.STOPPED, body=None))


@transaction.atomic
def take_back(file: LoggerFile) -> int:
    """Delete what came in a file, as one; how many values they were."""
    held = LoggerFile.objects.select_for_update().get(pk=file.pk)
    if held.state != LoggerFile.State.DONE or held.first_at is None or held.last_at is None:
        return 0
    channels = Channel.objects.of(held.household).filter(pk__in=held.found["channels"])
    withdraw(list(channels))
    defer("read_days", enclosures=sorted({one.enclosure_id for one in channels}))
    gone = store.remove_file(held.pk, list(channels), held.first_at, held.last_at)
    held.state = LoggerFile.State.TAKEN_BACK
    held.save(update_fields=["state"])

    return gone


def sent_before(file: LoggerFile) -> LoggerFile | None:
    """The same file, where it was imported before."""
    rows = LoggerFile.objects.of(file.household).light().filter(sha256=file.sha256)
    return rows.filter(state=LoggerFile.State.DONE).exclude(pk=file.pk).first()


def files_of(household: Household, enclosure: Enclosure) -> list[LoggerFile]:
    """The last files of an enclosure."""
    rows = LoggerFile.objects.of(household).light().filter(enclosure=enclosure)
    return list(rows.select_related("by")[:SHOWN])


SHOWN = 20
"""Files of an enclosure that its page lists (design choice)."""
