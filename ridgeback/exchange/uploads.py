"""Uploads stay in memory and small: what is larger than any request is drained, never kept."""

import io
import tempfile
from typing import IO, Any

from django.core.files.uploadedfile import InMemoryUploadedFile
from django.core.files.uploadhandler import FileUploadHandler, SkipFile

from husbandry.errors import ImpossibleStateError

MOST_BYTES = 1_000_000
PICTURE_BYTES = 12_000_000
"""A phone's picture, before it is made small."""
ARCHIVE_BYTES = 300_000_000
"""A household, or an animal, as one file."""
LOGGER_BYTES = 60_000_000
"""A logger's file: a million lines and more."""
ARCHIVE_PATHS = frozenset({"/household/archive/", "/animals/take-in/"})
SPOOLED_BYTES = 8_000_000
"""Larger files wait on the disc, not in memory."""


def _bound(*, is_archive: bool, is_log: bool, is_photo: bool) -> int:
    """How much of a file is read, by where it is sent."""
    if is_archive:
        return ARCHIVE_BYTES
    if is_log:
        return LOGGER_BYTES
    return PICTURE_BYTES if is_photo else MOST_BYTES


class BoundedUpload(FileUploadHandler):
    """Reads a file up to a bound; beyond it the file is skipped and the request marked."""

    def new_file(self, *args: Any, **kwargs: Any) -> None:
        """A new file begins."""
        super().new_file(*args, **kwargs)
        path = self.request.path if self.request is not None else ""
        is_photo = path.startswith("/animals/") and path.endswith(("/photos/", "/papers/"))
        is_archive = path in ARCHIVE_PATHS
        is_log = path.startswith("/enclosures/") and path.endswith("/logger-files/")
        self._most = _bound(is_archive=is_archive, is_log=is_log, is_photo=is_photo)
        self._buffer: IO[bytes] = io.BytesIO()
        if is_archive or is_log:  # Django closes it with the request
            self._buffer = tempfile.SpooledTemporaryFile(max_size=SPOOLED_BYTES)  # noqa: SIM115

    def receive_data_chunk(self, raw_data: bytes, start: int) -> None:
        """Keep a part, or give up."""
        if start + len(raw_data) > self._most:
            if self.request is None:
                raise ImpossibleStateError("missing: self.request")
            self.request.META["ridgeback.too_large"] = True
            raise SkipFile
        self._buffer.write(raw_data)

    def file_complete(self, file_size: int) -> InMemoryUploadedFile:
        """The whole file."""
        self._buffer.seek(0)
        return InMemoryUploadedFile(
            self._buffer,
            self.field_name,
            self.file_name or "",
            self.content_type,
            file_size,
            self.charset,
            self.content_type_extra,
        )
