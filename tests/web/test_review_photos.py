"""A photo under the drawing, by a length that is known in it."""

import io
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.utils.safestring import SafeString
from PIL import Image

from ridgeback.drawing.paper import NARROW, View
from ridgeback.reviews import flows
from ridgeback.reviews.models import EnclosureReview
from ridgeback.reviews.photo_scale import PhotoScale, laid_over
from tests.web.test_reviews import added

pytestmark = pytest.mark.usefixtures("pip")
POINTS = {"first_x": "10", "first_y": "80", "second_x": "90", "second_y": "80"}


def jpeg() -> bytes:
    """A photo of 1000 by 500 pixels."""
    kept = io.BytesIO()
    Image.new("RGB", (1000, 500), (90, 120, 60)).save(kept, "JPEG")
    return kept.getvalue()


def with_photo(client: Client) -> EnclosureReview:
    """A review whose photo was added later and made small."""
    own = added(client)
    sent = {"photo": SimpleUploadedFile("v.jpg", jpeg(), "image/jpeg")}
    assert client.post(f"/second-look/{own.pk}/photo/add/", sent).status_code == 302
    flows.make_photo_small(own.pk)
    return own


def test_eight_hundred_pixels_of_eighty_centimetres_are_a_thousand_a_metre() -> None:
    scale = PhotoScale("corners", ((0.9, 0.8), (0.1, 0.8)), 0.8)
    assert scale.pixels_per_metre((1000, 500)) == pytest.approx(1000)
    assert scale.begins() == (0.1, 0.8)
    assert scale.turned_deg((1000, 500)) == 0


def test_a_photo_held_askew_turns_the_drawing() -> None:
    scale = PhotoScale("corners", ((0.1, 0.6), (0.5, 1.0)), 1.0)  # 400 px right, 200 px down
    assert scale.turned_deg((1000, 500)) == pytest.approx(26.565, abs=0.001)  # atan(1/2)


def test_another_length_scales_and_its_own_corner_places() -> None:
    scale = PhotoScale("thing", ((0.2, 0.1), (0.2, 0.5)), 0.2, (0.05, 0.9))
    view = View(NARROW, 34.0, 274.0, 250.0, 1.0)
    over = laid_over(SafeString('<svg viewBox="0 0 360 300"></svg>'), view, scale, (1000, 500))
    # 200 px of 0.2 m are 1000 px/m, four times the drawing's 250: its corner comes to 50, 450
    assert 'x="-86.0" y="-646.0" width="1440.0" height="1200.0"' in over
    assert "rotate(0.00 50.0 450.0)" in over


def test_the_drawing_lies_over_the_photo_once_its_scale_is_known(client: Client) -> None:
    own = with_photo(client)
    url = f"/second-look/{own.pk}/photo/scale/"
    first = client.get(url)
    assert first.context["setting"]
    assert first.context["form"]["length"].value() == "88 cm"  # inside
    sent = {"kind": "corners", "length": "36 in", **POINTS}
    assert client.post(url, sent)["Location"] == url
    own.refresh_from_db()
    assert own.photo_scale["length_m"] == pytest.approx(0.9144)
    shown = client.get(url)
    assert shown.context["pixels_per_metre"] == pytest.approx(800 / 0.9144, abs=0.01)
    assert "<g transform=" in shown.content.decode()
    assert client.get(f"{url}?anew=1").context["setting"]


@pytest.mark.parametrize(
    ("changed", "field"),
    [
        ({"length": "far"}, "length"),
        ({"length": "9 m"}, "length"),
        ({"second_x": ""}, "__all__"),
        ({"second_x": "10.5"}, "__all__"),
        ({"first_x": "140"}, "first_x"),
        ({"kind": "thing"}, "__all__"),
    ],
)
def test_what_tells_no_scale_is_refused(client: Client, changed: Any, field: str) -> None:
    own = with_photo(client)
    sent = {"kind": "corners", "length": "90 cm", **POINTS, **changed}
    answer = client.post(f"/second-look/{own.pk}/photo/scale/", sent)
    assert field in answer.context["form"].errors
    own.refresh_from_db()
    assert own.photo_scale is None


def test_another_photo_has_no_scale_yet(client: Client) -> None:
    own = with_photo(client)
    url = f"/second-look/{own.pk}/photo/scale/"
    client.post(url, {"kind": "corners", "length": "90 cm", **POINTS})
    flows.add_photo(EnclosureReview.objects.get(pk=own.pk), jpeg())
    own.refresh_from_db()
    assert own.photo_scale is None


def test_a_scale_that_was_set_meanwhile_goes_with_its_photo(client: Client) -> None:
    own = with_photo(client)
    flows.add_photo(EnclosureReview.objects.get(pk=own.pk), jpeg())
    sent = {"kind": "corners", "length": "90 cm", **POINTS}
    client.post(f"/second-look/{own.pk}/photo/scale/", sent)
    flows.make_photo_small(own.pk)
    own.refresh_from_db()
    assert own.photo_scale is None


def test_a_length_is_refused_in_the_readers_units(client: Client) -> None:
    own = with_photo(client)
    client.post("/preferences/", {"units_system": "us"})
    sent = {"kind": "corners", "length": "900 in", **POINTS}
    answer = client.post(f"/second-look/{own.pk}/photo/scale/", sent)
    assert " in and " in answer.context["form"].errors["length"][0]


def test_what_is_no_photo_is_refused(client: Client) -> None:
    own = added(client)
    sent = {"photo": SimpleUploadedFile("v.jpg", b"no picture", "image/jpeg")}
    answer = client.post(f"/second-look/{own.pk}/photo/add/", sent, follow=True)
    assert "no photo that can be read" in answer.content.decode()
    assert client.get(f"/second-look/{own.pk}/photo/scale/").status_code == 404


def test_a_form_that_was_meddled_with_is_refused_with_a_sentence(client: Client) -> None:
    own = added(client)
    sent = {"photo": SimpleUploadedFile("v.jpg", jpeg(), "image/jpeg"), "form_key": "no key"}
    answer = client.post(f"/second-look/{own.pk}/photo/add/", sent, follow=True)
    assert answer.status_code == 200
    own.refresh_from_db()
    assert own.photo_original is None


def test_another_households_photo_is_not_there(client: Client, stranger: Client) -> None:
    own = with_photo(client)
    assert stranger.get(f"/second-look/{own.pk}/photo/scale/").status_code == 404
    assert stranger.post(f"/second-look/{own.pk}/photo/add/", {}).status_code == 404
