"""Where the bytes of pictures are: in the database, or in an S3-like store that `PICTURES_STORE` names.

In a store each is an object named by its SHA-256: never changed, written before the row that names it,
and taken away at night once no row names it. Rows hold its name in place of the bytes.
"""

import datetime as dt
import functools
import hashlib
import re
import urllib.parse
from collections.abc import Iterator
from typing import Any, Protocol

from django.apps import apps
from django.conf import settings
from django.db import connection, models

MARK = b"\x00ridgeback-object:"
"""Begins what a row holds of an object; no picture and no PDF begins so."""
NAME = re.compile(r"[0-9a-f]{64}")
SPARED = dt.timedelta(days=1)
"""An object so young may belong to a row that is being written (design choice)."""
TIMEOUT_S = 10
"""That a store may take (design choice) [s]."""


class ObjectStore(Protocol):
    """Holds bytes by their names."""

    def put(self, name: str, body: bytes) -> None:
        """Write an object; one that is there stays."""

    def get(self, name: str) -> bytes:
        """Read an object. Raises `OSError` when it cannot be had."""

    def delete(self, name: str) -> None:
        """Take an object away."""

    def names(self) -> Iterator[tuple[str, dt.datetime]]:
        """Every object, and when it was written."""


class S3Store:
    """A bucket, or a folder of one, of any service that speaks S3.

    Parameters
    ----------
    address : str
        `s3://bucket/folder?endpoint=https://host&region=name`; keys come from the environment
        (`AWS_ACCESS_KEY_ID`, `AWS_SECRET_ACCESS_KEY`) or the machine's role.
    """

    def __init__(self, address: str) -> None:
        import boto3
        from botocore.config import Config

        read = urllib.parse.urlsplit(address)
        if read.scheme != "s3" or not read.netloc:
            raise ValueError("PICTURES_STORE is not of the form s3://bucket/folder?endpoint=…")
        asked = dict(urllib.parse.parse_qsl(read.query))
        self.bucket = read.netloc
        self.folder = read.path.strip("/")
        self.client: Any = boto3.client(
            "s3",
            endpoint_url=asked.get("endpoint"),
            region_name=asked.get("region", "us-east-1"),
            config=Config(
                connect_timeout=TIMEOUT_S,
                read_timeout=TIMEOUT_S,
                retries={"max_attempts": 3, "mode": "standard"},
                s3={"addressing_style": "path" if "endpoint" in asked else "auto"},
            ),
        )

    def _key(self, name: str) -> str:
        return f"{self.folder}/{name}" if self.folder else name

    def put(self, name: str, body: bytes) -> None:
        """Write an object."""
        with _as_os_errors():
            self.client.put_object(Bucket=self.bucket, Key=self._key(name), Body=body)

    def get(self, name: str) -> bytes:
        """Read an object. Raises `OSError`."""
        with _as_os_errors():
            found = self.client.get_object(Bucket=self.bucket, Key=self._key(name))
            return bytes(found["Body"].read())

    def delete(self, name: str) -> None:
        """Take an object away."""
        with _as_os_errors():
            self.client.delete_object(Bucket=self.bucket, Key=self._key(name))

    def names(self) -> Iterator[tuple[str, dt.datetime]]:
        """Every object of ours, and when it was written."""
        with _as_os_errors():
            pages = self.client.get_paginator("list_objects_v2")
            for page in pages.paginate(Bucket=self.bucket, Prefix=self._key("")):
                for one in page.get("Contents", []):
                    name = one["Key"].rpartition("/")[2]
                    if NAME.fullmatch(name):
                        yield name, one["LastModified"]


class _as_os_errors:  # read as a word of a with statement
    """What the client raises, as `OSError`: to whoever asks, a store is a disc that fails."""

    def __enter__(self) -> None:
        return None

    def __exit__(self, kind: Any, why: BaseException | None, trace: Any) -> None:
        from botocore.exceptions import BotoCoreError, ClientError

        if isinstance(why, BotoCoreError | ClientError):
            raise OSError(f"the store of pictures: {type(why).__name__}") from why


@functools.cache
def _store(address: str) -> ObjectStore:
    return S3Store(address)


def store() -> ObjectStore | None:
    """The store by the setting; None: bytes stay in the database."""
    return _store(settings.PICTURES_STORE) if settings.PICTURES_STORE else None


class StoredBytesField(models.BinaryField):
    """Bytes that are in the store where there is one; read and written as any others."""

    def get_db_prep_value(self, value: Any, connection: Any, prepared: bool = False) -> Any:
        """Write the bytes to the store first: a row never names what is not there."""
        kept = store()
        if value is None or kept is None:
            return super().get_db_prep_value(value, connection, prepared)
        body = bytes(value)
        name = hashlib.sha256(body).hexdigest()
        kept.put(name, body)
        return super().get_db_prep_value(MARK + name.encode(), connection, prepared)

    def from_db_value(self, value: Any, expression: Any, connection: Any) -> Any:
        """Read the bytes, wherever they are: rows from before a store was set hold them."""
        if value is None or bytes(value[: len(MARK)]) != MARK:
            return value
        kept = store()
        if kept is None:
            raise OSError("This picture is in a store, and PICTURES_STORE names none.")
        return kept.get(bytes(value)[len(MARK) :].decode())


def _named() -> set[str]:
    """Objects that some row names."""
    found: set[str] = set()
    for model in apps.get_models():
        for field in model._meta.concrete_fields:
            if not isinstance(field, StoredBytesField):
                continue
            with connection.cursor() as cursor:
                cursor.execute(
                    f'SELECT "{field.column}" FROM "{model._meta.db_table}"'  # our own names
                    f' WHERE substring("{field.column}" FROM 1 FOR %s) = %s',
                    [len(MARK), MARK],
                )
                found |= {bytes(row[0])[len(MARK) :].decode() for row in cursor.fetchall()}
    return found


def sweep(now: dt.datetime) -> int:
    """Take away the objects that no row names; how many they were."""
    kept = store()
    if kept is None:
        return 0
    old = [name for name, at in kept.names() if now - at > SPARED]
    gone = set(old) - _named()  # asked for last: what a row names by now stays
    for name in sorted(gone):
        kept.delete(name)
    return len(gone)
