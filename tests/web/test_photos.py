"""Pictures of animals: small, without the camera's words, a household's own."""

import io
import time

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.utils import timezone
from PIL import Image, ImageFile

from ridgeback.animals.models import Animal
from ridgeback.enclosures.models import Enclosure
from ridgeback.jobs import tasks
from ridgeback.photos import views
from ridgeback.photos.models import Picture
from tests import clocks

GPS, ORIENTATION = 0x8825, 0x0112


@pytest.fixture
def bramble(pip: Enclosure) -> Animal:
    """The gecko."""
    return Animal.objects.get(name="Bramble")


def photo(width: int = 3000, height: int = 2000, form: str = "JPEG") -> bytes:
    """A picture as a phone sends it: lying on its side, with its place."""
    made = Image.effect_noise((width, height), 60).convert("RGB")
    exif = Image.Exif()
    exif[ORIENTATION] = 6
    exif.get_ifd(GPS)[1] = "N"
    out = io.BytesIO()
    made.save(out, form, exif=exif)
    return out.getvalue()


def send(client: Client, animal: Animal, body: bytes, **more: str) -> str:
    file = SimpleUploadedFile("IMG_1.jpg", body, "image/jpeg")
    fields = {"file": file, "on": clocks.today().isoformat(), "note": "after the shed", **more}
    text = client.post(f"/animals/{animal.pk}/photos/", fields, follow=True).content.decode()
    for waiting in Picture.objects.waiting():
        tasks.shrink_picture(waiting.pk)
    return text


def test_a_picture_is_made_small_upright_and_without_its_place(
    client: Client, bramble: Animal
) -> None:
    body = photo()
    assert len(body) > 1_000_000  # larger than any other upload may be
    assert "after the shed" in send(client, bramble, body)
    kept = Picture.objects.get()
    answer = client.get(f"/photos/{kept.pk}.jpg")
    made = Image.open(io.BytesIO(answer.content))
    assert answer["Content-Type"] == "image/jpeg" and "private" in answer["Cache-Control"]
    assert made.size == (1067, 1600) and not made.getexif()  # turned, and nothing of the camera's
    assert (
        max(Image.open(io.BytesIO(client.get(f"/photos/{kept.pk}/small.jpg").content)).size) == 320
    )


@pytest.mark.parametrize(
    "body",
    [b"", b"<svg onload=alert(1)>", b"GIF89a" + b"0" * 60, b"\xff\xd8\xff\xe0" + b"0" * 500],
)
def test_what_is_no_picture_is_refused_and_the_note_stays(
    client: Client, bramble: Animal, body: bytes
) -> None:
    text = send(client, bramble, body)
    assert 'role="alert"' in text and "after the shed" in text and not Picture.objects.exists()


def test_a_file_larger_than_any_picture_is_refused(client: Client, bramble: Animal) -> None:
    assert (
        "larger than 12 MB" in send(client, bramble, b"0" * 12_500_000)
        and not Picture.objects.exists()
    )


def png(width: int, height: int) -> bytes:
    """A picture of one colour: large to decode, and small as a file."""
    out = io.BytesIO()
    Image.new("1", (width, height)).save(out, "PNG")
    return out.getvalue()


@pytest.mark.parametrize(
    ("width", "height", "said"),
    [
        (20_000, 20_000, "24 megapixels"),
        (1, 59_000, "59,000 pixels"),
        (12_000, 2_001, "24 megapixels"),
        (5_000, 5_000, "25 megapixels"),
    ],
)
def test_what_is_too_large_to_decode_is_refused_by_its_head(
    client: Client, bramble: Animal, width: int, height: int, said: str
) -> None:
    """A file of 112 KB with 59 million pixels took 1.9 GB and a thread for 80 seconds."""
    began = time.monotonic()
    text = send(client, bramble, png(width, height))
    assert said in text and not Picture.objects.exists() and time.monotonic() - began < 5


def test_no_photo_is_decoded_in_a_request(
    client: Client, bramble: Animal, monkeypatch: pytest.MonkeyPatch
) -> None:
    def decode(*_: object, **__: object) -> None:
        raise AssertionError("decoded")

    fields = {
        "file": SimpleUploadedFile("a.jpg", photo(600, 400)),
        "on": bramble.day_of(timezone.now()).isoformat(),
    }
    with monkeypatch.context() as patched:
        patched.setattr(Image.Image, "load", decode)
        assert client.post(f"/animals/{bramble.pk}/photos/", fields).status_code == 302
    assert "Being made smaller" in client.get(f"/animals/{bramble.pk}/photos/").content.decode()
    waiting = Picture.objects.get()
    assert client.get(f"/photos/{waiting.pk}.jpg").status_code == 404
    tasks.shrink_picture(waiting.pk)
    tasks.shrink_picture(waiting.pk)  # taken over from a worker that died: once is enough
    assert client.get(f"/photos/{waiting.pk}.jpg").status_code == 200
    assert Picture.objects.get().original is None


def test_a_photo_that_is_cut_off_says_so_and_can_be_deleted(
    client: Client, bramble: Animal, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(ImageFile, "LOAD_TRUNCATED_IMAGES", True)  # as it is once a PDF was made
    send(client, bramble, photo(900, 600)[:3000])
    html = client.get(f"/animals/{bramble.pk}/photos/").content.decode()
    assert "cut off" in html and "Delete" in html
    assert Picture.objects.get().original is None


def test_a_household_sends_so_many_at_a_time(
    client: Client, bramble: Animal, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(views, "MOST_WAITING", 2)
    facts = {"on": bramble.day_of(timezone.now()).isoformat()}
    address = f"/animals/{bramble.pk}/photos/"
    answers = [
        client.post(
            address, {**facts, "file": SimpleUploadedFile("a.jpg", photo(60, 40))}, follow=True
        ).content.decode()
        for _ in range(3)
    ]
    assert "send more in a minute" in answers[-1] and Picture.objects.count() == 2


def test_a_photo_is_asked_for_again_and_sent_once(client: Client, bramble: Animal) -> None:
    send(client, bramble, photo(60, 40))
    address = f"/photos/{Picture.objects.get().pk}.jpg"
    first = client.get(address)
    assert first["Cache-Control"] == "private, no-cache"
    again = client.get(address, headers={"If-None-Match": first["ETag"]})
    assert again.status_code == 304 and not again.content


def test_wrong_days(client: Client, bramble: Animal) -> None:
    assert "still to come" in send(client, bramble, photo(60, 40), on="2999-01-01")
    assert "this day is before" in send(client, bramble, photo(60, 40), on="1999-01-01")


def test_another_household_sees_and_takes_nothing(
    client: Client, stranger: Client, bramble: Animal
) -> None:
    send(client, bramble, photo(60, 40))
    pk = Picture.objects.get().pk
    for address in (
        f"/photos/{pk}.jpg",
        f"/photos/{pk}/small.jpg",
        f"/animals/{bramble.pk}/photos/",
    ):
        assert stranger.get(address).status_code == 404
    assert stranger.post(f"/photos/{pk}/delete/").status_code == 404 and Picture.objects.exists()
    client.post(f"/photos/{pk}/delete/")
    assert not Picture.objects.exists()


def test_a_veterinarian_is_shown_the_last_ones(client: Client, bramble: Animal) -> None:
    send(client, bramble, photo(60, 40))
    client.post(f"/animals/{bramble.pk}/illness-signs/", {"other": "a wound"})
    assert (
        f"/photos/{Picture.objects.get().pk}/small.jpg"
        in client.get(f"/animals/{bramble.pk}/illness-signs/?noted=yes").content.decode()
    )
