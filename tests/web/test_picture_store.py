"""Pictures in an S3-like store: a small one of our own on loopback, spoken to by the real client."""

import datetime as dt
import http.server
import threading
import urllib.parse
from collections.abc import Iterator
from xml.sax.saxutils import escape

import pytest
from django.db import connection
from django.test import Client

from ridgeback.animals.models import Animal
from ridgeback.archive.reading import restore
from ridgeback.archive.writing import archive_of
from ridgeback.clock import now
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Keeper
from ridgeback.photos import stores
from ridgeback.photos.flows import add, make_small
from ridgeback.photos.models import Picture
from tests import clocks
from tests.web.test_photos import photo


class Bucket:
    """What the store holds, and whether it is away."""

    def __init__(self) -> None:
        self.objects: dict[str, bytes] = {}
        self.is_away = False
        self.written = dt.datetime(2026, 1, 1, tzinfo=dt.UTC)


def serve(bucket: Bucket) -> http.server.ThreadingHTTPServer:
    """PUT, GET, DELETE and a list of one page: what the store is asked."""

    class Handler(http.server.BaseHTTPRequestHandler):
        protocol_version = "HTTP/1.1"

        def answer(self, status: int, body: bytes = b"", kind: str = "application/xml") -> None:
            self.send_response(status)
            self.send_header("Content-Type", kind)
            self.send_header("Content-Length", str(len(body)))
            self.end_headers()
            self.wfile.write(body)

        def key(self) -> str:
            return urllib.parse.unquote(urllib.parse.urlsplit(self.path).path).lstrip("/")

        def body(self) -> bytes:
            whole = self.rfile.read(int(self.headers.get("Content-Length", 0)))
            if "aws-chunked" not in self.headers.get("Content-Encoding", ""):
                return whole
            found, at = b"", 0
            while True:  # length in hex, the chunk, a line's end
                end = whole.index(b"\r\n", at)
                size = int(whole[at:end].split(b";")[0], 16)
                if not size:
                    return found
                found += whole[end + 2 : end + 2 + size]
                at = end + 4 + size

        def do_PUT(self) -> None:
            body = self.body()
            if bucket.is_away:
                return self.answer(503)
            bucket.objects[self.key()] = body
            return self.answer(200)

        def do_GET(self) -> None:
            if bucket.is_away:
                return self.answer(503)
            if "list-type=2" in self.path:
                rows = "".join(
                    f"<Contents><Key>{escape(key.partition('/')[2])}</Key><Size>1</Size>"
                    f"<LastModified>{bucket.written:%Y-%m-%dT%H:%M:%S.000Z}</LastModified></Contents>"
                    for key in sorted(bucket.objects)
                )
                text = (
                    f"<ListBucketResult><IsTruncated>false</IsTruncated>{rows}</ListBucketResult>"
                )
                return self.answer(200, text.encode())
            if self.key() not in bucket.objects:
                return self.answer(404)
            return self.answer(200, bucket.objects[self.key()], "application/octet-stream")

        def do_DELETE(self) -> None:
            bucket.objects.pop(self.key(), None)
            self.answer(204)

        def log_message(self, *given: object) -> None:
            """Say nothing."""

    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Handler)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    return server


@pytest.fixture
def bucket(settings: object, monkeypatch: pytest.MonkeyPatch) -> Iterator[Bucket]:
    """A store that is running and named by the setting."""
    held = Bucket()
    server = serve(held)
    monkeypatch.setenv("AWS_ACCESS_KEY_ID", "key")
    monkeypatch.setenv("AWS_SECRET_ACCESS_KEY", "secret")
    monkeypatch.setenv("AWS_EC2_METADATA_DISABLED", "true")
    endpoint = f"http://127.0.0.1:{server.server_port}"
    settings.PICTURES_STORE = f"s3://photos/ridgeback?endpoint={endpoint}"  # type: ignore[attr-defined]  # of pytest-django
    yield held
    server.shutdown()
    server.server_close()


@pytest.fixture
def animal(pip: Enclosure) -> Animal:
    """Pip."""
    return pip.present[0].animal


def taken(animal: Animal) -> Picture:
    keeper = animal.household.memberships.get().keeper
    made = add(animal, photo(600, 400), keeper=keeper, on=clocks.today(), note="By the water")
    make_small(made.pk)
    return Picture.objects.get(pk=made.pk)


def column(picture: Picture, name: str) -> bytes:
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT {name} FROM photos_picture WHERE id = %s", [picture.pk])
        return bytes(cursor.fetchone()[0])


def test_a_picture_is_an_object_and_its_row_names_it(
    client: Client, animal: Animal, bucket: Bucket
) -> None:
    picture = taken(animal)
    assert len(bucket.objects) == 2, "large and small"
    assert all(key.startswith("photos/ridgeback/") for key in bucket.objects)
    assert column(picture, "body").startswith(stores.MARK) and len(column(picture, "body")) < 100
    answer = client.get(f"/photos/{picture.pk}.jpg")
    assert answer.status_code == 200 and answer.content == bytes(picture.body or b"")
    assert bytes(picture.body or b"") in bucket.objects.values()


def test_pictures_from_before_stay_in_the_database(
    client: Client, animal: Animal, settings: object
) -> None:
    picture = taken(animal)
    settings.PICTURES_STORE = "s3://photos?endpoint=http://127.0.0.1:1"  # type: ignore[attr-defined]
    assert client.get(f"/photos/{picture.pk}.jpg").status_code == 200


def test_a_store_that_is_away_loses_nothing(
    client: Client, animal: Animal, bucket: Bucket
) -> None:
    picture = taken(animal)
    bucket.is_away = True
    answer = client.get(f"/photos/{picture.pk}.jpg")
    assert answer.status_code == 503 and answer["Retry-After"]
    assert client.get(f"/animals/{animal.pk}/photos/").status_code == 200, "the page stands"
    keeper = animal.household.memberships.get().keeper
    waiting = add(animal, photo(300, 200), keeper=keeper, on=clocks.today(), note="")
    with pytest.raises(OSError, match="store of pictures"):
        make_small(waiting.pk)
    waiting.refresh_from_db()
    assert waiting.original is not None, "a worker tries again"
    bucket.is_away = False
    make_small(waiting.pk)
    assert client.get(f"/photos/{waiting.pk}.jpg").status_code == 200


def test_what_no_row_names_goes_after_a_day(animal: Animal, bucket: Bucket) -> None:
    picture = taken(animal)
    stray = f"photos/ridgeback/{'0' * 64}"
    bucket.objects[stray] = b"left by a write that was rolled back"
    bucket.objects["photos/ridgeback/notes.txt"] = b"of somebody else"
    bucket.written = now()
    assert stores.sweep(now()) == 0, "it may be of a row that is being written"
    bucket.written = now() - dt.timedelta(days=2)
    assert stores.sweep(now()) == 1 and stray not in bucket.objects
    picture.delete()
    assert stores.sweep(now()) == 2
    assert list(bucket.objects) == ["photos/ridgeback/notes.txt"]


def test_a_household_goes_out_and_in_with_its_pictures(animal: Animal, bucket: Bucket) -> None:
    picture = taken(animal)
    keeper = Keeper.objects.create_user("next", password="a-long-passphrase")
    found = restore(archive_of(animal.household), keeper)
    again = Picture.objects.get(animal__household=found.household)
    assert bytes(again.body or b"") == bytes(picture.body or b"")
    assert len(bucket.objects) == 2, "the same bytes are one object"


@pytest.mark.parametrize("address", ["photos", "https://x/y", "s3://"])
def test_a_wrong_setting_is_said(address: str) -> None:
    with pytest.raises(ValueError, match="PICTURES_STORE"):
        stores.S3Store(address)
