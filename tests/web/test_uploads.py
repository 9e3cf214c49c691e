"""Sixteen kinds of files at every door that takes one: nothing breaks, nothing foreign is stored."""

import io
import zipfile
import zlib

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from ridgeback.animals.models import Animal
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.jobs import tasks
from ridgeback.permits.models import AnimalDocument
from ridgeback.photos.models import Picture
from tests.web.test_photos import photo


def zipped(**files: bytes) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, body in files.items():
            archive.writestr(name.replace("__", "/").replace("DOT", "."), body)
    return out.getvalue()


def png_of(width: int, height: int) -> bytes:
    """A PNG whose head claims a size; nothing follows it."""
    head = b"IHDR" + width.to_bytes(4, "big") + height.to_bytes(4, "big") + b"\x08\x02\x00\x00\x00"
    return (
        b"\x89PNG\r\n\x1a\n"
        + (len(head) - 4).to_bytes(4, "big")
        + head
        + zlib.crc32(head).to_bytes(4, "big")
    )


KINDS = {
    "nothing": b"",
    "zeros": b"\x00" * 4096,
    "a line of text": b"hello",
    "a page with a script": b"<html><script>alert('uploaded')</script></html>",
    "a drawing with a script": b"<svg xmlns='http://www.w3.org/2000/svg'><script>alert('uploaded')</script></svg>",
    "a picture of another format": b"GIF89a\x01\x00\x01\x00\x80\x00\x00\xff\xff\xff\x00\x00\x00;",
    "a photo that is cut off": photo(600, 400)[:900],
    "a picture that claims a square kilometre": png_of(60_000, 60_000),
    "a program": b"MZ\x90\x00" + b"\x00" * 600,
    "a script of a shell": b"#!/bin/sh\necho uploaded\n",
    "a PDF that is cut off": b"%PDF-1.7\n1 0 obj\n<<",
    "a zip of something": zipped(aDOTtxt=b"hello"),
    "a zip with a path outside": zipped(DOTDOT__DOTDOT__householdDOTjson=b"{}"),
    "a zip that swells": zipped(householdDOTjson=b" " * 3_000_000),
    "text of another coding": "time;humidity\n2026-11-30 08:00;62,5\n".encode("utf-16"),
    "a tower of brackets": b"[" * 20_000,
}


@pytest.fixture
def doors(household: Household, pip: Enclosure) -> list[str]:
    """Every address that takes a file."""
    animal = pip.present[0].animal
    return [
        f"/animals/{animal.pk}/photos/",
        f"/animals/{animal.pk}/papers/",
        "/animals/take-in/",
        "/household/archive/",
        f"/enclosures/{pip.pk}/logger-files/",
        "/import/",
        "/add/table/",
        "/second-look/",
        "/calculators/spectrum/",
        "/species/own/import/",
    ]


@pytest.mark.parametrize("kind", KINDS)
def test_a_file_of_any_kind_at_any_door(client: Client, doors: list[str], kind: str) -> None:
    before = Household.objects.count(), Animal.objects.count()
    answered = 0
    for address in doors:
        for name in ("upload.jpg", "upload.json", "../../etc/passwd"):
            sent = {field: SimpleUploadedFile(name, KINDS[kind]) for field in ("file", "photo")}
            answer = client.post(address, {**sent, "text": "", "name": "X"})
            assert answer.status_code < 500, (address, name)
            answered += answer.status_code != 404
            assert b"<script>alert('uploaded')" not in answer.content, (address, name)
    assert answered >= 24, "most doors are there"
    assert (Household.objects.count(), Animal.objects.count()) == before
    for picture in Picture.objects.waiting():
        tasks.shrink_picture(picture.pk)
    for paper in AnimalDocument.objects.all():
        tasks.rewrite_scan(paper.pk)
    assert not Picture.objects.ready().exists()
    assert not AnimalDocument.objects.filter(pdf__isnull=False).exists()


def test_there_are_sixteen_kinds() -> None:
    assert len(KINDS) == 16
