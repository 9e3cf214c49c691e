"""A scan that came as PDF made ours: its pages alone, without scripts, forms, files and links.

`look_at` reads its head in the request; `rewrite` reads all of it, in a worker.
"""

import io
from typing import IO

from pypdf import PdfReader, PdfWriter
from pypdf.errors import PyPdfError

HEAD, HEAD_BYTES = b"%PDF-", 1024
"""A PDF says so within its first kilobyte (PDF 1.7, ISO 32000-1, annex H; from memory)."""
MOST_PAGES = 40
"""Of a paper that is scanned (design choice)."""
ACTIVE = ("/AA", "/Annots", "/A", "/JS", "/Metadata", "/PieceInfo", "/Thumb")
"""What a page may do or carry beside what is printed on it."""


class NoPdfError(Exception):
    """What was sent is no PDF that can be read; says so in a sentence."""


def is_pdf(stream: IO[bytes]) -> bool:
    """Whether a file says that it is a PDF."""
    head = stream.read(HEAD_BYTES)
    stream.seek(0)
    return HEAD in head


def rewrite(body: bytes) -> bytes:
    """The pages of a PDF as a new one.

    Raises
    ------
    NoPdfError
        When it cannot be read, is locked, has no page or too many.
    """
    try:
        read = PdfReader(io.BytesIO(body))
        if read.is_encrypted:
            raise NoPdfError("This PDF is locked by a password: send one without.")
        count = len(read.pages)
        if count > MOST_PAGES:
            raise NoPdfError(f"This PDF has {count} pages: at most {MOST_PAGES} are stored.")
        written = PdfWriter()
        for page in read.pages:
            for name in ACTIVE:
                page.pop(name, None)
            written.add_page(page)
        if not count:
            raise NoPdfError("This PDF has no page.")
        out = io.BytesIO()
        written.write(out)
    except (
        PyPdfError,
        ValueError,
        KeyError,
        TypeError,
        AttributeError,
        IndexError,
        RecursionError,
    ):
        raise NoPdfError("This PDF cannot be read: it is damaged or cut off.") from None
    except (OSError, OverflowError, NotImplementedError, AssertionError, MemoryError):
        raise NoPdfError("This PDF cannot be read: it is damaged or cut off.") from None
    return out.getvalue()
