"""Uploads stay in memory and small: what is larger than any request is drained, never kept."""

import io
from typing import Any

from django.core.files.uploadedfile import InMemoryUploadedFile
from django.core.files.uploadhandler import FileUploadHandler, SkipFile

from husbandry.errors import ImpossibleStateError

MOST_BYTES = 1_000_000
PICTURE_BYTES = 12_000_000
"""A phone's picture, before it is made small."""


class BoundedUpload(FileUploadHandler):
    """Reads a file up to a bound; beyond it the file is skipped and the request marked."""

    def new_file(self, *args: Any, **kwargs: Any) -> None:
        """A new file begins."""
        super().new_file(*args, **kwargs)
        self._buffer = io.BytesIO()
        path = self.request.path if self.request is not None else ""
        self._most = (
            PICTURE_BYTES
            if path.startswith("/animals/") and path.endswith("/photos/")
            else MOST_BYTES
        )

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
