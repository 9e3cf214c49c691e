"""Pictures of animals: small, without the camera's words, a household's own."""

import io

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.utils import timezone
from PIL import Image

from ridgeback.animals.models import Animal
from ridgeback.habitats.models import Habitat
from ridgeback.pictures.models import Picture

GPS, ORIENTATION = 0x8825, 0x0112


@pytest.fixture
def bramble(pip: Habitat) -> Animal:
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
    fields = {"file": file, "on": timezone.localdate().isoformat(), "note": "after the shed", **more}
    return client.post(f"/animals/{animal.pk}/pictures/", fields, follow=True).content.decode()


def test_a_picture_is_made_small_upright_and_without_its_place(client: Client, bramble: Animal) -> None:
    body = photo()
    assert len(body) > 1_000_000  # larger than any other upload may be
    assert "after the shed" in send(client, bramble, body)
    kept = Picture.objects.get()
    answer = client.get(f"/pictures/{kept.pk}.jpg")
    made = Image.open(io.BytesIO(answer.content))
    assert answer["Content-Type"] == "image/jpeg" and "private" in answer["Cache-Control"]
    assert made.size == (1067, 1600) and not made.getexif()  # turned, and nothing of the camera's
    assert max(Image.open(io.BytesIO(client.get(f"/pictures/{kept.pk}/small.jpg").content)).size) == 320


@pytest.mark.parametrize("body", [b"", b"<svg onload=alert(1)>", b"GIF89a" + b"0" * 60, b"\xff\xd8\xff\xe0" + b"0" * 500])
def test_what_is_no_picture_is_refused_and_the_note_stays(client: Client, bramble: Animal, body: bytes) -> None:
    text = send(client, bramble, body)
    assert 'role="alert"' in text and "after the shed" in text and not Picture.objects.exists()


def test_a_file_larger_than_any_picture_is_refused(client: Client, bramble: Animal) -> None:
    assert "larger than 12 MB" in send(client, bramble, b"0" * 12_500_000) and not Picture.objects.exists()


def test_a_bomb_is_not_opened(client: Client, bramble: Animal) -> None:
    out = io.BytesIO()
    Image.new("1", (20_000, 20_000)).save(out, "PNG")
    assert 'role="alert"' in send(client, bramble, out.getvalue()) and not Picture.objects.exists()


def test_wrong_days(client: Client, bramble: Animal) -> None:
    assert "still to come" in send(client, bramble, photo(60, 40), on="2999-01-01")
    assert "this day is before" in send(client, bramble, photo(60, 40), on="1999-01-01")


def test_another_household_sees_and_takes_nothing(client: Client, stranger: Client, bramble: Animal) -> None:
    send(client, bramble, photo(60, 40))
    pk = Picture.objects.get().pk
    for address in (f"/pictures/{pk}.jpg", f"/pictures/{pk}/small.jpg", f"/animals/{bramble.pk}/pictures/"):
        assert stranger.get(address).status_code == 404
    assert stranger.post(f"/pictures/{pk}/away/").status_code == 404 and Picture.objects.exists()
    client.post(f"/pictures/{pk}/away/")
    assert not Picture.objects.exists()


def test_a_veterinarian_is_shown_the_last_ones(client: Client, bramble: Animal) -> None:
    send(client, bramble, photo(60, 40))
    client.post(f"/animals/{bramble.pk}/signs/", {"other": "a wound"})
    assert (
        f"/pictures/{Picture.objects.get().pk}/small.jpg"
        in client.get(f"/animals/{bramble.pk}/signs/?noted=yes").content.decode()
    )
