"""Writing a household into one file: JSON of every row, tables for spreadsheets, its photos."""

import datetime as dt
import io
import json
import uuid
import zipfile
from collections.abc import Iterable, Iterator
from typing import Any

from django.db import models
from django.db.models import Q

from ridgeback.animals.models import Animal
from ridgeback.archive.tables import OF_AN_ANIMAL, TABLES, ArchiveTable
from ridgeback.households.models import Household, Keeper
from ridgeback.log.models import LogEntry
from ridgeback.records.copying import samples_csv
from ridgeback.records.models import Channel
from ridgeback.spreadsheets import csv_text

FORMAT = "ridgeback-household/1"
HOUSEHOLD_FIELDS = ("name", "currency", "euro_rate", "kwh_price", "bags")
"""What of the household itself is kept."""
README = """A household of Ridgeback.

household.json  every row, by table; docs/formats/household.md says how it is read
logs/           the same, each table for a spreadsheet
samples/        what loggers and devices wrote, by channel: seconds since 1970, value
pictures/       the photos and scans that household.json names
drawings/       each enclosure as it was planned on the day of this file
sheets/         the same as sheets to print, and the emergency card

It is taken in again under Household, Restore. Numbers are in metres, grams, litres and degrees Celsius.
"""


def rows_of(table: ArchiveTable, household: Household) -> Iterator[models.Model]:
    """Every row of a table that is the household's, by its key."""
    mine = Q()
    for way in table.household:
        mine |= Q(**{way: household})
    rows = table.model._default_manager.filter(mine).order_by("pk").distinct()
    yield from rows.iterator(chunk_size=500)


def _plain(value: Any) -> Any:
    """A value as JSON has it."""
    if isinstance(value, dt.datetime | dt.date | dt.time):
        return value.isoformat()
    return str(value) if isinstance(value, uuid.UUID) else value


def _name(keeper: Keeper | None) -> str:
    return "" if keeper is None else keeper.first_name or keeper.username


class KeeperNames:
    """Names of keepers by their keys, each asked for once."""

    def __init__(self) -> None:
        self._known: dict[int, str] = {}

    def of(self, key: int | None) -> str:
        """The name of a keeper; empty for none."""
        if key is None:
            return ""
        if key not in self._known:
            self._known[key] = _name(Keeper.objects.filter(pk=key).first())
        return self._known[key]


def row_data(row: models.Model, files: dict[str, bytes], people: KeeperNames) -> dict[str, Any]:
    """A row as JSON: keys of other rows as they are here, people by name, files by theirs.

    Parameters
    ----------
    files : dict
        Gets the row's files, by name.
    """
    data: dict[str, Any] = {"id": row.pk}
    for field in row._meta.concrete_fields:
        if field.primary_key or field.related_model is Household:
            continue
        value = getattr(row, field.attname)
        if field.related_model is Keeper:
            data[field.name] = people.of(value)
        elif isinstance(field, models.BinaryField):
            ending = "pdf" if field.name.startswith("pdf") else "jpg"
            name = f"pictures/{row.pk}-{field.name}.{ending}"
            data[field.name] = name if value is not None else None
            if value is not None:
                files[name] = bytes(value)
        else:
            data[field.name] = _plain(value)
    if isinstance(row, LogEntry):
        data["by_name"] = data.pop("by") or data["by_name"]
    return data


def household_data(household: Household, files: dict[str, bytes]) -> dict[str, Any]:
    """The whole household as JSON; its files are put into `files`."""
    people = KeeperNames()
    return {
        "format": FORMAT,
        "household": {name: getattr(household, name) for name in HOUSEHOLD_FIELDS},
        "tables": {
            table.name: [row_data(row, files, people) for row in rows_of(table, household)]
            for table in TABLES
        },
    }


ANIMAL_FORMAT = "ridgeback-animal/1"
ANIMAL_README = """An animal of Ridgeback, with its history.

animal.json  what is known of it, by table; docs/formats/household.md says how it is read
pictures/    the photos that animal.json names

Its next keeper takes it in under Add, An animal with its history.
"""


def animal_data(animal: Animal, files: dict[str, bytes]) -> dict[str, Any]:
    """One animal with its history as JSON; its photos are put into `files`."""
    people = KeeperNames()
    tables: dict[str, list[dict[str, Any]]] = {}
    for table in TABLES:
        if table.name in OF_AN_ANIMAL:
            own = table.model._default_manager.filter(**{OF_AN_ANIMAL[table.name]: animal.pk})
            tables[table.name] = [row_data(row, files, people) for row in own.order_by("pk")]
    return {"format": ANIMAL_FORMAT, "from": animal.household.name, "tables": tables}


def animal_archive(animal: Animal) -> bytes:
    """One animal with its history as one zip, for its next keeper."""
    files: dict[str, bytes] = {}
    data = animal_data(animal, files)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("README.txt", ANIMAL_README)
        archive.writestr("animal.json", json.dumps(data, ensure_ascii=False, indent=1))
        for name, body in files.items():
            archive.writestr(zipfile.ZipInfo(name), body)
    return out.getvalue()


def _csv(rows: list[dict[str, Any]], names: dict[str, dict[int, str]]) -> str:
    """Rows as a table for a spreadsheet, animals and enclosures by their names."""
    head = [name for name in rows[0] if name != "id"]
    return csv_text(
        [head, *([_cell(row[name], names.get(name)) for name in head] for row in rows)]
    )


def _cell(value: Any, names: dict[int, str] | None) -> Any:
    if names is not None:
        return names.get(value, "")
    return json.dumps(value) if isinstance(value, list | dict) else value


def _write_logs(archive: zipfile.ZipFile, tables: dict[str, list[dict[str, Any]]]) -> None:
    """Every table that has rows, for a spreadsheet."""
    names = {
        kind: {row["id"]: row["name"] for row in tables[f"{kind}s"]}
        for kind in ("animal", "enclosure")
    }
    for table, rows in tables.items():
        if rows:
            archive.writestr(f"logs/{table}.csv", _csv(rows, names))


def archive_of(household: Household, papers: Iterable[tuple[str, bytes]] = ()) -> bytes:
    """The whole household as one zip.

    Parameters
    ----------
    papers : iterable of (str, bytes)
        Drawings and sheets that go with it: their names and what they hold.
    """
    files: dict[str, bytes] = {}
    data = household_data(household, files)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("README.txt", README)
        archive.writestr("household.json", json.dumps(data, ensure_ascii=False, indent=1))
        _write_logs(archive, data["tables"])
        for channel in Channel.objects.of(household).order_by("pk"):
            archive.writestr(f"samples/{channel.pk}.csv", samples_csv(channel))
        for name, body in (*files.items(), *papers):
            archive.writestr(zipfile.ZipInfo(name), body)  # a photo is small already
    return out.getvalue()
