"""Taking a household in again: every row and every file, or nothing.

The file may come from anywhere: it is read by its own list of names, bounded in size, and each
value is cleaned by its column before it is written.
"""

import datetime as dt
import io
import json
import re
import uuid
import zipfile
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from typing import Any, NamedTuple

from django.core.exceptions import ValidationError
from django.db import DataError, IntegrityError, models, transaction

from ridgeback.animals.models import Animal
from ridgeback.archive.tables import OF_AN_ANIMAL, TABLES, ArchiveTable
from ridgeback.archive.writing import ANIMAL_FORMAT, FORMAT, HOUSEHOLD_FIELDS
from ridgeback.enclosures.models import Enclosure, Occupancy, Revision
from ridgeback.households.models import Household, Keeper, Membership
from ridgeback.log.models import LastDone, LogEntry
from ridgeback.permits.pdf_scans import NoPdfError, rewrite
from ridgeback.photos.shrinking import NoPictureError, look_at
from ridgeback.posting import plain_words
from ridgeback.records.copying import take_in_csv
from ridgeback.records.models import Channel

MOST_OPENED_BYTES = 1_500_000_000
"""Of all files of an archive when they are opened (design choice) [bytes]."""
MOST_JSON_BYTES = 200_000_000
MOST_SAMPLES_BYTES = 400_000_000
"""Of one channel: ten years of minutes and more (design choice) [bytes]."""
MOST_FILES = 20_000
"""Files of an archive at the most: each photo is two (design choice)."""
MOST_ROWS = 2_000_000
"""Rows of a table at the most (design choice)."""
NAMES = re.compile(
    r"household\.json|animal\.json|README\.txt|logs/[a-z_]+\.csv|samples/\d+\.csv|pictures/\d+-(?:body|small|original|photo|photo_original)\.jpg"
    r"|pictures/\d+-(?:pdf|pdf_original)\.pdf|drawings/[a-z0-9-]+\.svg|sheets/[a-z0-9-]+\.pdf"
)
BATCH = 500


class ArchiveError(Exception):
    """Why a file cannot be taken in, in a sentence."""


class Restored(NamedTuple):
    """A household that was taken in."""

    household: Household
    counts: dict[str, int]
    """Rows of each table."""


def _open(body: bytes, wanted: str, kind: str) -> tuple[dict[str, Any], zipfile.ZipFile]:
    """Look at a file without trusting it. Raises `ArchiveError`.

    Parameters
    ----------
    wanted : str
        The name of its JSON.
    kind : str
        Its format.
    """
    try:
        archive = zipfile.ZipFile(io.BytesIO(body))
        infos = archive.infolist()
    except (zipfile.BadZipFile, ValueError, NotImplementedError):
        raise ArchiveError("This is no zip, or it is cut off. Fetch the file again.") from None
    strange = next((one.filename for one in infos if not NAMES.fullmatch(one.filename)), None)
    if strange is not None:
        raise ArchiveError("This zip holds files that no household has: it was not made here.")
    if len(infos) > MOST_FILES or sum(one.file_size for one in infos) > MOST_OPENED_BYTES:
        raise ArchiveError("This zip is too large when it is opened.")
    names = [one.filename for one in infos]
    if len(set(names)) != len(names):
        raise ArchiveError("This zip holds one file twice.")
    if wanted not in names:
        raise ArchiveError(f"This zip holds no {wanted.removesuffix('.json')}.")
    if archive.getinfo(wanted).file_size > MOST_JSON_BYTES:
        raise ArchiveError("This zip is too large when it is opened.")
    try:
        data = json.loads(_file(archive, wanted, MOST_JSON_BYTES))
    except (ValueError, RecursionError):
        raise ArchiveError(f"Its {wanted} cannot be read.") from None
    if not isinstance(data, dict) or not isinstance(data.get("tables"), dict):
        raise ArchiveError(f"Its {wanted} cannot be read.")
    if data.get("format") != kind:
        raise ArchiveError(f"It is of another format than {kind}.")
    return data, archive


def _file(archive: zipfile.ZipFile, name: str, most: int) -> bytes:
    """A file's content, never more than its bound whatever its head says."""
    try:
        with archive.open(name) as stream:
            body = stream.read(most + 1)
    except (KeyError, zipfile.BadZipFile, RuntimeError, NotImplementedError, EOFError, OSError):
        raise ArchiveError(f"{name} is missing, or cut off.") from None
    if len(body) > most:
        raise ArchiveError("This zip is too large when it is opened.")
    return body


class _Restorer:
    """Writes the tables of one archive into a new household."""

    def __init__(
        self,
        household: Household,
        keeper: Keeper,
        data: dict[str, Any],
        files: zipfile.ZipFile,
        tables: Sequence[ArchiveTable] = TABLES,
    ) -> None:
        self.household = household
        self.tables = tables
        self.keeper = keeper
        self.data = data
        self.files = files
        self.known: dict[type[models.Model], Mapping[int, int]] = {}
        """The new key of each old one, by model."""
        self.counts: dict[str, int] = {}

    def table(self, table: ArchiveTable) -> None:
        """Write one table."""
        rows = self.data["tables"].get(table.name, [])
        if not isinstance(rows, list) or len(rows) > MOST_ROWS:
            raise ArchiveError(f"Its table {table.name} cannot be read.")
        made = [self._row(table, n, row) for n, row in enumerate(rows)]
        # moments that the database would set to now are put back to what they were
        stamps = [
            field.attname
            for field in table.model._meta.concrete_fields
            if getattr(field, "auto_now_add", False) or getattr(field, "auto_now", False)
        ]
        were = [[getattr(one, name) for name in stamps] for one in made]
        table.model._default_manager.bulk_create(made, batch_size=BATCH)
        for one, values in zip(made, were, strict=True):
            for name, value in zip(stamps, values, strict=True):
                setattr(one, name, value)
        if stamps and made:
            table.model._default_manager.bulk_update(made, stamps, batch_size=BATCH)
        keys = [row["id"] for row in rows]
        if len(set(keys)) != len(keys):
            raise ArchiveError(f"Its table {table.name} holds one row twice.")
        self.known[table.model] = {old: one.pk for old, one in zip(keys, made, strict=True)}
        self.counts[table.name] = len(made)

    def _row(self, table: ArchiveTable, n: int, row: Any) -> models.Model:
        where = f"row {n + 1} of {table.name}"
        if not isinstance(row, dict) or not isinstance(row.get("id"), int):
            raise ArchiveError(f"It cannot be read: {where}.")
        made = table.model()
        for field in made._meta.concrete_fields:
            if field.primary_key:
                continue
            if field.related_model is Household:
                setattr(made, field.attname, self.household.pk)
            elif field.name in row or field.name == "by":
                self._set(made, field, row.get(field.name), table, where)
        keys = [field.name for field in made._meta.concrete_fields if field.is_relation]
        blobs = [
            field.name
            for field in made._meta.concrete_fields
            if isinstance(field, models.BinaryField)
        ]
        try:
            made.clean_fields(exclude={*keys, *blobs})
        except (ValidationError, TypeError, ValueError, OverflowError) as why:
            said = "; ".join(why.messages) if isinstance(why, ValidationError) else str(why)
            raise ArchiveError(f"It cannot be: {where}: {said[:200]}") from None
        return made

    def _set(
        self, made: models.Model, field: Any, value: Any, table: ArchiveTable, where: str
    ) -> None:
        if field.related_model is Keeper:
            mine = value and value == (self.keeper.first_name or self.keeper.username)
            setattr(made, field.attname, self.keeper.pk if mine else None)
        elif field.is_relation:
            if value is None or field.name in table.later:
                return
            new = self.known.get(field.related_model, {}).get(value) if _is_key(value) else None
            if new is None:
                raise ArchiveError(f"It names a row that is not there: {where}, {field.name}.")
            setattr(made, field.attname, new)
        elif isinstance(field, models.BinaryField):
            if value is not None:
                setattr(made, field.attname, self._picture(str(value), where))
        else:
            try:
                setattr(made, field.attname, field.to_python(value))
            except ValidationError as why:
                raise ArchiveError(f"It cannot be: {where}: {why.messages[0][:200]}") from None

    def _picture(self, name: str, where: str) -> bytes:
        if not NAMES.fullmatch(name):
            raise ArchiveError(f"It names a file that no household has: {where}.")
        body = _file(self.files, name, 12_000_000)
        try:
            if name.endswith(".pdf"):
                return rewrite(body)
            look_at(io.BytesIO(body))
        except NoPictureError:
            raise ArchiveError(f"A photo cannot be read: {where}.") from None
        except NoPdfError:
            raise ArchiveError(f"A scan cannot be read: {where}.") from None
        return body

    def samples(self) -> None:
        """Write what loggers and devices wrote, channel by channel."""
        names = set(self.files.namelist())
        for old, new in self.known[Channel].items():
            name = f"samples/{old}.csv"
            if name not in names:
                continue
            body = _file(self.files, name, MOST_SAMPLES_BYTES)
            try:
                take_in_csv(Channel.objects.get(pk=new), body)
            except (ValueError, OverflowError, OSError):
                raise ArchiveError(f"{name} cannot be read.") from None

    def later(self) -> None:
        """Set the keys that point ahead, and those that stand inside words."""
        for table in self.tables:
            for name in table.later:
                self._point(table, name)
        made = {table.model for table in self.tables}
        if LogEntry in made:
            log = LogEntry.objects.filter(pk__in=list(self.known[LogEntry].values()))
            self._restem(log)
        if LastDone in made:
            self._restem(LastDone.objects.filter(pk__in=list(self.known[LastDone].values())))

    def _point(self, table: ArchiveTable, name: str) -> None:
        field: Any = table.model._meta.get_field(name)
        ahead = self.known.get(field.related_model, {})
        changed = []
        for row in self.data["tables"].get(table.name, []):
            if row.get(name) is None:
                continue
            if not _is_key(row[name]) or row[name] not in ahead:
                raise ArchiveError(f"It names a row that is not there: {table.name}, {name}.")
            one = table.model(pk=self.known[table.model][row["id"]])
            setattr(one, field.attname, ahead[row[name]])
            changed.append(one)
        table.model._default_manager.bulk_update(changed, [name], batch_size=BATCH)

    def _restem(self, rows: Any) -> None:
        """Keys of treatments, schedules, enclosures and animals inside stems and names of tasks."""
        changed = []
        fields = ["stem"]
        for row in rows:
            stem = self._stem(row.stem)
            was = (row.stem, getattr(row, "task", ""))
            if isinstance(row, LogEntry):
                fields = ["stem", "task"]
                row.task = self._task(row.task, row.stem, stem)
            row.stem = stem
            if (row.stem, getattr(row, "task", "")) != was:
                changed.append(row)
        rows.model._default_manager.bulk_update(changed, fields, batch_size=BATCH)

    def _stem(self, stem: str) -> str:
        kind, _, rest = stem.partition(" ")
        key, _, more = rest.partition(" ")
        for name in ("treatments", "task_schedules"):
            if kind == {"treatments": "treatment", "task_schedules": "own"}[name]:
                new = self._new(name, key)
                return " ".join(part for part in (kind, new, more) if part)
        return stem

    def _task(self, task: str, stem: str, new_stem: str) -> str:
        parts = task.split("/")
        if len(parts) < 3:
            return task
        enclosure, animal = self._new("enclosures", parts[0]), self._new("animals", parts[1])
        rest = "/".join(parts[2:])
        if stem and rest.startswith(stem):
            rest = new_stem + rest.removeprefix(stem)
        return f"{enclosure}/{animal}/{rest}"[:140]

    def _new(self, table: str, key: str) -> str:
        """A key inside words, as it is now; as it was where no row has it."""
        model = next(one.model for one in TABLES if one.name == table)
        return str(self.known.get(model, {}).get(int(key), key)) if key.isdecimal() else key


def _is_key(value: Any) -> bool:
    return isinstance(value, int) and not isinstance(value, bool)


def restore(body: bytes, keeper: Keeper) -> Restored:
    """Take a household in as a new one of this keeper's, whole or not at all.

    Raises `ArchiveError`.
    """
    data, archive = _open(body, "household.json", FORMAT)
    told = data.get("household")
    if not isinstance(told, dict):
        raise ArchiveError("Its household.json cannot be read.")
    try:
        with transaction.atomic(), archive:
            made = Household(**{name: told[name] for name in HOUSEHOLD_FIELDS if name in told})
            made.full_clean()
            made.save()
            Membership.objects.create(household=made, keeper=keeper, role=Membership.Role.OWNER)
            restorer = _Restorer(made, keeper, data, archive)
            for table in TABLES:
                restorer.table(table)
            restorer.later()
            restorer.samples()
            _check(made)
    except (ValidationError, TypeError) as why:
        said = "; ".join(why.messages) if isinstance(why, ValidationError) else str(why)
        raise ArchiveError(f"Its household cannot be: {said[:200]}") from None
    except (IntegrityError, DataError) as why:
        said = str(why).splitlines()[0]
        raise ArchiveError(f"Its rows do not fit together: {said[:200]}") from None
    return Restored(made, restorer.counts)


class _AllTo(Mapping[int, int]):
    """Every old key leads to the same new one: where an animal lived before is one place."""

    def __init__(self, key: int) -> None:
        self._key = key

    def __getitem__(self, old: int) -> int:
        return self._key

    def __iter__(self) -> Iterator[int]:
        return iter(())

    def __len__(self) -> int:
        return 0


def take_in_animal(
    body: bytes,
    household: Household,
    keeper: Keeper,
    *,
    name: str,
    came_on: dt.date,
    now: dt.datetime,
) -> Animal:
    """Take in one animal with its history, whole or not at all.

    What was logged of it stands at a place of its own, “… before”, which is archived: where it
    lived is not this household's.

    Parameters
    ----------
    name : str
        What it is called here; empty: as in the file.

    Raises
    ------
    ArchiveError
    """
    data, archive = _open(body, "animal.json", ANIMAL_FORMAT)
    row = _animal_row(data)
    room = household.rooms.order_by("pk").first()
    if room is None:
        raise ArchiveError("Add a room first: its history needs a place to stand at.")
    row |= {"gone": "", "gone_on": None, "whereabouts": "", "expected_on": None}
    row |= {"place_note": "", "came_on": came_on.isoformat(), "name": name or row.get("name")}
    tables = [table for table in TABLES if table.name in OF_AN_ANIMAL]
    try:
        with transaction.atomic(), archive:
            before = Enclosure.objects.create(
                household=household,
                room=room,
                name=_free(f"{str(row['name'])[:60]} before", household),
                archived_on=came_on,
            )
            _renew_log(data["tables"].get("log"), before)
            restorer = _Restorer(household, keeper, data, archive, tables)
            restorer.known[Enclosure] = _AllTo(before.pk)
            for table in tables:
                restorer.table(table)
            restorer.later()
            made = Animal.objects.get(pk__in=list(restorer.known[Animal].values()))
            _lived(made, before, data, now)
    except (IntegrityError, DataError) as why_not:
        said = str(why_not).splitlines()[0]
        raise ArchiveError(f"Its rows do not fit together: {said[:200]}") from None
    return made


def _animal_row(data: dict[str, Any]) -> dict[str, Any]:
    rows = data["tables"].get("animals")
    if not isinstance(rows, list) or len(rows) != 1 or not isinstance(rows[0], dict):
        raise ArchiveError("This file holds no animal, or more than one.")
    row: dict[str, Any] = rows[0]
    return row


def _renew_log(rows: Any, before: Enclosure) -> None:
    """Entries get requests of their own and name the place where they stand: they may be here
    already. A task that was done at two places on a day gets a number.
    """
    seen: Counter[str] = Counter()
    for row in rows if isinstance(rows, list) else ():
        if isinstance(row, dict):
            task = str(row.get("task", ""))
            row["log_request"] = str(uuid.uuid4())
            _, _, of_animal = task.partition("/")
            seen[of_animal] += 1
            row["task"] = f"{before.pk}/{of_animal or row['log_request']}"
            if seen[of_animal] > 1:
                row["task"] += f"/{seen[of_animal]}"


def _lived(animal: Animal, before: Enclosure, data: dict[str, Any], now: dt.datetime) -> None:
    """Note that it lived where its history stands; without a history there is no such place."""
    first = LogEntry.objects.filter(animal=animal).order_by("at").first()
    if first is None:
        before.delete()
        return
    since = min(first.at, now - dt.timedelta(minutes=1))
    why = f"with its former keeper{f', {_plain(data)}' if _plain(data) else ''}"
    Occupancy.objects.create(
        enclosure=before, animal=animal, since=since, until=now, reason=why[:200]
    )


def _plain(data: dict[str, Any]) -> str:
    """The household that a file comes from, as one line of words."""
    return plain_words(str(data.get("from", "")), 80)


def _free(name: str, household: Household) -> str:
    """That name, or the first that no enclosure of the household has."""
    taken = set(household.enclosures.values_list("name", flat=True))
    return next(one for one in (name, *(f"{name} {n}" for n in range(2, 999))) if one not in taken)


def _check(household: Household) -> None:
    """Nothing of it may belong to somebody else: heads are revisions of their own enclosure."""
    wrong = Enclosure.objects.filter(household=household, head__isnull=False).exclude(
        head__enclosure=models.F("pk")
    )
    odd = Revision.objects.filter(enclosure__household=household, previous__isnull=False).exclude(
        previous__enclosure=models.F("enclosure")
    )
    if wrong.exists() or odd.exists():
        raise ArchiveError("Its revisions do not fit its enclosures.")
