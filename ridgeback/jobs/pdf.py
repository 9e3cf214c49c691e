"""The one writer of PDF: what stands in a document and what it may fetch."""

from pathlib import Path
from typing import Any

from django.conf import settings
from weasyprint import HTML
from weasyprint.urls import URLFetcher, URLFetcherResponse

from ridgeback.households.models import Household
from ridgeback.photos.models import Picture

FONTS = Path(settings.ROOT) / "ridgeback" / "static" / "vendor"


class OwnFiles(URLFetcher):
    """Fetches the fonts that ship with the application (`fonts:/name.woff2`) and a household's own
    photos by their keys (`photo:7`); nothing else.
    """

    def __init__(self, household: Household) -> None:
        super().__init__(allowed_protocols=())
        self.household = household

    def fetch(self, url: str, headers: Any = None) -> URLFetcherResponse:
        """Find the file. Raises `ValueError`, on which the writer leaves it out."""
        scheme, _, name = url.partition(":")
        if scheme == "photo" and name.isdecimal():
            own = Picture.objects.of(self.household).ready().filter(pk=int(name)).first()
            if own is not None:
                return URLFetcherResponse(
                    url, bytes(own.body or b""), {"Content-Type": "image/jpeg"}
                )
        file = FONTS / name.rsplit("/", 1)[-1]
        if scheme != "fonts" or not file.is_file() or file.suffix != ".woff2":
            raise ValueError("a sheet fetches nothing from outside")
        return URLFetcherResponse(url, file.read_bytes(), {"Content-Type": "font/woff2"})


def write_pdf(html: str, household: Household) -> bytes:
    """Set a document of a household as tagged PDF (PDF/UA-1)."""
    pdf: bytes = HTML(string=html, url_fetcher=OwnFiles(household)).write_pdf(
        pdf_variant="pdf/ua-1"
    )
    return pdf
