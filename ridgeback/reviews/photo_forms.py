"""Forms of a review's photo: one added later, and its scale."""

from typing import Any

from django import forms

from husbandry.errors import EntryError
from husbandry.quantity import Kind, Units, read, show
from ridgeback.reviews.forms import DescriptionForm
from ridgeback.reviews.photo_scale import NEAREST, PhotoScale, Point
from ridgeback.submissions.forms import OnceForm

KINDS = (
    ("corners", "the lower front corners of the enclosure"),
    ("thing", "the ends of something else whose length I know"),
)
POINTS = ("first", "second", "corner")
LENGTHS_M = (0.02, 5.0)
"""Of what a photo of an enclosure may be measured by (design choice) [m]."""


def _share() -> forms.FloatField:
    return forms.FloatField(
        min_value=0,
        max_value=100,
        required=False,
        widget=forms.NumberInput(attrs={"step": "0.1", "min": "0", "max": "100"}),
    )


class ReviewPhotoForm(OnceForm):
    """A photo for a review that has none, or another one."""

    photo = forms.FileField(
        label="Photo",
        help_text="JPEG, PNG or WebP.",
        widget=forms.FileInput(attrs={"accept": "image/jpeg,image/png,image/webp"}),
        error_messages={"required": "Choose a photo."},
    )
    clean_photo = DescriptionForm.clean_photo


class PhotoScaleForm(forms.Form):
    """Two points of a photo and the length between them. Points are in percent of its sides."""

    kind = forms.ChoiceField(label="I tapped", choices=KINDS, initial="corners")
    length = forms.CharField(label="Length between them", max_length=20)
    first_x = _share()
    first_y = _share()
    second_x = _share()
    second_y = _share()
    corner_x = _share()
    corner_y = _share()
    scale: PhotoScale | None = None

    def __init__(self, *args: Any, units: Units, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.units = units

    def points(self) -> list[tuple[str, forms.BoundField, forms.BoundField]]:
        """The points with their names, for those who type them."""
        names = ("First point", "Second point", "Lower left front corner")
        return [
            (name, self[f"{point}_x"], self[f"{point}_y"])
            for name, point in zip(names, POINTS, strict=True)
        ]

    def clean_length(self) -> float:
        """In metres."""
        try:
            value = read(self.cleaned_data["length"], Kind.LENGTH, self.units).value
        except EntryError as why:
            raise forms.ValidationError(str(why)) from None
        low, high = LENGTHS_M
        if not low <= value <= high:
            ends = (show(end, Kind.LENGTH, self.units) for end in LENGTHS_M)
            raise forms.ValidationError(f"Between {' and '.join(ends)}.")

        return value

    def clean(self) -> dict[str, Any]:
        """Points far enough apart; a corner where the points are none."""
        data: dict[str, Any] = super().clean() or {}

        if self.errors:
            return data
        first, second, corner = (_point(data, name) for name in POINTS)
        thing = data["kind"] == "thing"

        if first is None or second is None:
            self.add_error(None, "Tap two points of the photo.")
        elif max(abs(first[0] - second[0]), abs(first[1] - second[1])) < NEAREST:
            self.add_error(None, "These two points are too near each other to tell a scale.")
        elif thing and corner is None:
            self.add_error(None, "Tap a third point: the lower left front corner.")
        else:
            self.scale = PhotoScale(
                data["kind"], (first, second), data["length"], corner if thing else None
            )

        return data


def _point(data: dict[str, Any], name: str) -> Point | None:
    x, y = data[f"{name}_x"], data[f"{name}_y"]
    return None if x is None or y is None else (x / 100, y / 100)
