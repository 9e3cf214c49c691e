"""An uploaded photo made ours: upright, small, JPEG, and without what the camera wrote into it.

`look_at` reads its head alone, in the request; `shrink` decodes it, in a worker.
"""

import io
import warnings
from typing import IO

from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError

FORMATS = ("JPEG", "PNG", "WEBP")
LARGE_PX, SMALL_PX = 1600, 320
MOST_SIDE_PX = 12_000
"""Longest side that is decoded (design choice): no camera’s is longer."""
MOST_PIXELS = 24_000_000
"""So much is decoded in some 100 MB of memory (design choice)."""
QUALITY = 82
BROKEN = (
    UnidentifiedImageError,
    Image.DecompressionBombError,
    Image.DecompressionBombWarning,
    OSError,
    ValueError,
    SyntaxError,
)
"""What Pillow raises for a file that is none, or is cut off."""


class NoPictureError(Exception):
    """What was sent is no photo that can be read; says so in a sentence."""


def _opened(stream: IO[bytes]) -> Image.Image:
    """A photo whose head was read and whose size is bearable; nothing of it is decoded yet."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            read = Image.open(stream, formats=FORMATS)
    except (Image.DecompressionBombError, Image.DecompressionBombWarning):
        most = f"at most {MOST_PIXELS / 1e6:.0f} megapixels are read"
        raise NoPictureError(f"That photo is far too large: {most}.") from None
    except BROKEN:
        raise NoPictureError("That is no photo that can be read: JPEG, PNG or WebP.") from None
    if max(read.size) > MOST_SIDE_PX:
        raise NoPictureError(
            f"That photo has a side of {max(read.size):,} pixels: at most {MOST_SIDE_PX:,} are"
            " read."
        )
    if read.width * read.height > MOST_PIXELS:
        megapixels = read.width * read.height / 1e6
        raise NoPictureError(
            f"That photo has {megapixels:.0f} megapixels: at most {MOST_PIXELS / 1e6:.0f} are read."
            " Send a smaller copy."
        )
    return read


def look_at(stream: IO[bytes]) -> None:
    """Look at the head of a file. Raises `NoPictureError` when it is no photo, or too large."""
    _opened(stream)
    stream.seek(0)


def shrink(stream: IO[bytes]) -> tuple[bytes, bytes]:
    """Make a photo and its small one, as JPEG. Raises `NoPictureError`."""
    ImageFile.LOAD_TRUNCATED_IMAGES = False  # the PDF library sets it, for the whole process
    read = _opened(stream)
    try:
        read.thumbnail((LARGE_PX, LARGE_PX))  # of a JPEG only so much is decoded
        upright = ImageOps.exif_transpose(read).convert("RGB")
    except BROKEN:
        raise NoPictureError("That file is cut off, or is no photo.") from None
    return _jpeg(upright, LARGE_PX), _jpeg(upright, SMALL_PX)


def _jpeg(picture: Image.Image, most_px: int) -> bytes:
    made = picture.copy()
    made.thumbnail((most_px, most_px))
    out = io.BytesIO()
    made.save(out, "JPEG", quality=QUALITY, optimize=True)
    return out.getvalue()
