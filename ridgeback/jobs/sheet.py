"""The A4 sheet of an enclosure: drawing, gauges that need no colour, plan and cautions, as PDF."""

import datetime as dt
from typing import Any

from django.template.loader import render_to_string
from django.utils.safestring import mark_safe

from husbandry.documents.request_json import from_data
from husbandry.quantity import Units
from ridgeback.animals.models import Animal
from ridgeback.building.shopping import BuildWork, totals_of, what_of
from ridgeback.drawing import gauge
from ridgeback.drawing.build import gantt
from ridgeback.drawing.sheet import WIDE, Labels, front_view
from ridgeback.drawing.svg import write
from ridgeback.enclosure_pages.presenting import enclosure_view
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.planning import Planned
from ridgeback.households.models import Household
from ridgeback.papers.care_sheet import care_sheet
from ridgeback.papers.labels import labels_of
from ridgeback.papers.sheets import emergency_card, sitter_sheet
from ridgeback.papers.summary import vet_summary
from ridgeback.papers.transfer import transfer_bill
from ridgeback.reviews.flows import judged
from ridgeback.reviews.models import EnclosureReview
from ridgeback.reviews.presenting import correction_view, review_view
from ridgeback.tasks.meal_history import as_logged


def sheet_html(enclosure: Enclosure, made: Planned, units: Units, at: Any) -> str:
    """The sheet as the document that is set into PDF."""
    made = as_logged(made, enclosure)
    view = enclosure_view(made, units, at, name=enclosure.name)
    state = (
        "planned"
        if enclosure.head and enclosure.head.state == "planned"
        else f"plan {made.plan.revision}"
    )
    drawing = write(
        front_view(
            made.plan,
            made.prediction,
            units,
            Labels(enclosure.name, "Lamp on, settled", state),
            WIDE,
        ),
        "export",
    )
    needs = [
        {
            "view": shown,
            "gauge": mark_safe(write(gauge.large(need, units), "export")),
        }  # our own writer escapes
        for need, shown in zip(
            made.plan.needs,
            [next(v for v in view.needs if v.key == n.key.value) for n in made.plan.needs],
            strict=True,
        )
    ]
    context = {
        "enclosure": enclosure,
        "view": view,
        "drawing": mark_safe(drawing),
        "needs": needs,
        "at": at,
    }
    return render_to_string("sheets/enclosure.html", context)


def build_html(enclosure: Enclosure, asked: dict[str, Any], units: Units, at: dt.datetime) -> str:
    """The sheet of a build as it was asked for: its days, steps, cautions and shopping list."""
    works = BuildWork.again(from_data(asked["request"]), asked)
    household = enclosure.household
    made = works.build()
    chart = mark_safe(write(gantt(made, works.asked.today), "export"))  # our own writer escapes
    lines = works.lines(household.euro_rate, units, household.currency)
    context = {
        "enclosure": enclosure,
        "build": made,
        "steps": [(step, what_of(step.task, units)) for step in made.steps],
        "chart": chart,
        "lines": [line for line in lines if line.to_buy],
        "owned": [line for line in lines if line.owned],
        "totals": totals_of(lines, household.currency),
        "currency": household.currency,
        "at": at,
        "change": works.old is not None,
    }
    return render_to_string("sheets/build.html", context)


PAGES = {
    "A4": ("A4", "13mm", 9.5),
    "letter": ("letter", "0.5in", 9.5),
    "wallet": ("86mm 54mm", "3mm", 5.2),
}
"""Sizes of paper: page, margin, and size of the type [pt]."""


def paper_html(household: Household, asked: dict[str, str], units: Units, at: dt.datetime) -> str:
    """A paper of the household, as it is when a worker makes it."""
    size, margin, points = PAGES[asked["size"]]
    small = round(0.75 * points, 1)
    context: dict[str, Any] = {
        "size": size,
        "margin": margin,
        "points": points,
        "small": small,
        "at": at,
        "printed": True,
    }
    if asked["paper"] == "sitter":
        first, last = (dt.date.fromisoformat(asked[name]) for name in ("first", "last"))
        context |= {
            "title": f"Sitter’s sheet of {household.name}",
            "body": "papers/sheet_body.html",
            "sheet": sitter_sheet(household, first, last, at, units),
        }
    elif asked["paper"] == "summary":
        animal = _animal(household, asked)
        first, last = (dt.date.fromisoformat(asked[name]) for name in ("first", "last"))
        context |= {
            "title": f"Summary of {animal.name}",
            "body": "papers/summary_body.html",
            "summary": vet_summary(animal, first, last, at, units, printed=True),
        }
    elif asked["paper"] == "care":
        animal = _animal(household, asked)
        context |= {
            "title": f"How to keep {animal.name}",
            "body": "papers/care_sheet_body.html",
            "sheet": care_sheet(animal, at, units),
        }
    elif asked["paper"] == "transfer":
        animal = _animal(household, asked)
        context |= {
            "title": f"Bill of transfer of {animal.name}",
            "body": "papers/transfer_body.html",
            "bill": transfer_bill(animal, at, units),
        }
    elif asked["paper"] == "review":
        context |= _review(household, asked, units)
    elif asked["paper"] == "labels":
        context |= {
            "title": f"Labels of {household.name}",
            "body": "papers/labels_body.html",
            "labels": labels_of(household, asked["root"], units),
        }
    else:
        context |= {
            "title": f"Emergency card of {household.name}",
            "body": "papers/card_body.html",
            "card": emergency_card(household, at, units),
        }
    return render_to_string("papers/paper.html", context)


def _review(household: Household, asked: dict[str, str], units: Units) -> dict[str, Any]:
    """A review with its correction, for paper."""
    rows = EnclosureReview.objects.of(household).light().select_related("household")
    own = rows.get(pk=int(asked["review"]))
    made = judged(own, correct=True)
    return {
        "title": f"Second look: {own.title}",
        "body": "reviews/paper_body.html",
        "review": own,
        "made": made,
        "view": review_view(own, made, units),
        "correction": correction_view(own, made, units),
    }


def _animal(household: Household, asked: dict[str, str]) -> Animal:
    rows = Animal.objects.of(household).select_related("household")
    return rows.prefetch_related("weighings", "lengths", "condition_periods").get(
        pk=int(asked["animal"])
    )


def sheet_pdf(html: str, household: Household) -> bytes:
    """Set the document: about a second, so it is done by a worker."""
    from ridgeback.jobs.pdf import write_pdf  # slow to import, and only workers need it

    return write_pdf(html, household)
