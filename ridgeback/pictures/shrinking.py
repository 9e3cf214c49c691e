"""An uploaded picture made ours: upright, small, JPEG, and without anything the camera wrote into it."""

import io
import warnings
from typing import IO

from PIL import Image, ImageOps, UnidentifiedImageError

FORMATS = ("JPEG", "PNG", "WEBP")
LARGE_PX, SMALL_PX = 1600, 320
MOST_PIXELS = 60_000_000
QUALITY = 82


class NoPictureError(Exception):
    """What was sent is no picture that can be read; says so in a sentence."""


def shrink(stream: IO[bytes]) -> tuple[bytes, bytes]:
    """A picture and its small one, as JPEG. Raises `NoPictureError`."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            read = Image.open(stream, formats=FORMATS)
            if read.width * read.height > MOST_PIXELS:
                raise NoPictureError("That picture is larger than any camera’s: send a smaller one.")
            upright = ImageOps.exif_transpose(read).convert("RGB")
    except NoPictureError:
        raise
    except (
        UnidentifiedImageError,
        Image.DecompressionBombError,
        Image.DecompressionBombWarning,
        OSError,
        ValueError,
        SyntaxError,
    ):
        raise NoPictureError("That is no picture that can be read: JPEG, PNG or WebP.") from None
    return _jpeg(upright, LARGE_PX), _jpeg(upright, SMALL_PX)


def _jpeg(picture: Image.Image, most_px: int) -> bytes:
    made = picture.copy()
    made.thumbnail((most_px, most_px))
    out = io.BytesIO()
    made.save(out, "JPEG", quality=QUALITY, optimize=True)
    return out.getvalue()
