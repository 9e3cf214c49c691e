"""What a household's file holds beside its rows: drawings and sheets of its enclosures, its emergency card."""

import datetime as dt
from collections.abc import Iterator
from functools import partial

from django.utils.text import slugify

from husbandry.quantity import Units
from ridgeback.calculation import Failed, attempt
from ridgeback.drawing.sheet import Labels, front_view
from ridgeback.drawing.svg import write
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.planning import Planned, planned
from ridgeback.households.models import Household
from ridgeback.jobs.sheet import paper_html, sheet_html, sheet_pdf

MOST_SHEETS = 100
"""A sheet takes some seconds: of more enclosures the drawings alone go with the file (design choice)."""


def archive_papers(
    household: Household, units: Units, at: dt.datetime
) -> Iterator[tuple[str, bytes]]:
    """Names of files and what they hold, one after another; what cannot be calculated is left out."""
    rows = Enclosure.objects.of(household).in_use().for_planning().order_by("pk")

    for n, enclosure in enumerate(one for one in rows if one.present):
        made = attempt(partial(_planned, enclosure, at), "enclosure", enclosure.pk)
        if isinstance(made, Failed):
            continue
        name = f"{enclosure.pk}-{slugify(enclosure.name)[:60]}"
        labels = Labels(enclosure.name, "Lamp on, settled", f"{at:%-d %B %Y}")
        drawing = write(front_view(made.plan, made.prediction, units, labels), "export")
        yield f"drawings/{name}.svg", drawing.encode()
        if n < MOST_SHEETS:
            html = sheet_html(enclosure, made, units, at)
            yield f"sheets/{name}.pdf", sheet_pdf(html, household)

    card = {"paper": "card", "size": "A4"}
    yield "sheets/emergency-card.pdf", sheet_pdf(paper_html(household, card, units, at), household)


def _planned(enclosure: Enclosure, at: dt.datetime) -> Planned:
    return planned(enclosure.request_at(at))
