"""What is signed when an animal changes hands: which animal it is, and what goes with it.

Names, addresses and the price are written on it by hand: they are nobody's to keep here.
"""

import datetime as dt
from dataclasses import dataclass

from husbandry.quantity import Kind, Units, show
from ridgeback.animals.models import Animal
from ridgeback.breeding.pedigree import Pedigree, pedigree_of
from ridgeback.permits.models import AnimalDocument
from ridgeback.species_guide.flows import profile_of


@dataclass(frozen=True)
class TransferBill:
    """All of it but what is written by hand."""

    animal: Animal
    kind: str
    on: dt.date
    body: str
    """What it weighed last, and when."""
    marks: tuple[AnimalDocument, ...]
    documents: tuple[AnimalDocument, ...]
    """Those that hold on the day; what has run out goes with nobody."""
    ended: tuple[AnimalDocument, ...]
    pedigree: Pedigree | None
    health: tuple[str, ...]
    """Treatments that go on, and conditions."""


def transfer_bill(animal: Animal, now: dt.datetime, units: Units) -> TransferBill:
    """Compose the bill of today; `animal` comes with its weights and periods."""
    today = animal.day_of(now)
    own = tuple(AnimalDocument.objects.of(animal.household).filter(animal=animal))
    papers = tuple(one for one in own if one.kind != AnimalDocument.Kind.MARK)
    last = max(animal.weighings.all(), key=lambda one: (one.on, one.pk), default=None)
    periods = [one for one in animal.condition_periods.all() if one.until is None]
    treatments = [
        one for one in animal.treatments.all() if one.stopped_on is None and one.ends >= today
    ]
    return TransferBill(
        animal=animal,
        kind=f"{profile_of(animal.household, animal.species).name} ({animal.species})",
        on=today,
        body=(
            f"{show(last.mass_g, Kind.MASS, units)} on {last.on:%-d %B %Y}"
            if last is not None
            else "never weighed here"
        ),
        marks=tuple(one for one in own if one.kind == AnimalDocument.Kind.MARK),
        documents=tuple(one for one in papers if one.state(today) != "ended"),
        ended=tuple(one for one in papers if one.state(today) == "ended"),
        pedigree=pedigree_of(animal),
        health=(
            *(f"{one.get_kind_display()} since {one.since:%-d %B %Y}" for one in periods),
            *(f"treated: {one.words}, until {one.ends:%-d %B %Y}" for one in treatments),
        ),
    )
