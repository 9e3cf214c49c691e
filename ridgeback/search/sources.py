"""Everything that the search box looks through."""

from collections.abc import Iterator

from django.urls import reverse

from husbandry.species.library import library
from ridgeback.animals.models import Animal
from ridgeback.calculators.catalogue import CALCULATORS
from ridgeback.enclosures.models import Enclosure
from ridgeback.help.terms import TERMS
from ridgeback.help.topics import TOPICS
from ridgeback.households.models import Household
from ridgeback.households.navigation import MAIN, TOOLS
from ridgeback.log.models import LogEntry
from ridgeback.search.matching import Entry

LOG_ENTRIES = 400
"""So many of the latest entries of the log are searched by their notes (design choice)."""


def entries_of(household: Household | None) -> Iterator[Entry]:
    """List what a household can find: its own first, then the guide, calculators and help."""
    if household is not None:
        yield from _animals(household)
        yield from _enclosures(household)
    yield from _species()
    for slug, one in CALCULATORS.items():
        address = reverse("calculators:calculator", args=[slug])
        yield Entry("Calculators", one.title, address, one.note)
    for topic in TOPICS:
        address = reverse("help:topic", args=[topic.slug])
        yield Entry("Help", topic.title, address, topic.words)
    for slug, term in TERMS.items():
        yield Entry("Help", term.name, f"{reverse('help:terms')}#{slug}", term.meaning)
    for place in (*MAIN, *TOOLS):
        yield Entry("Pages", place.label, reverse(place.view))
    if household is not None:
        yield from _log(household)


def _animals(household: Household) -> Iterator[Entry]:
    profiles = library()
    for animal in Animal.objects.of(household):
        known = profiles.get(animal.species)
        about = f"{known.name if known else ''} {animal.species}".strip()
        yield Entry("Animals", animal.name, reverse("animals:page", args=[animal.pk]), about)
        for label, view in (("Feeding", "feeding:page"), ("Handling", "handling:page")):
            if animal.gone_on is None:
                name = f"{label}: {animal.name}"
                yield Entry("Tasks", name, reverse(view, args=[animal.pk]), about)


def _enclosures(household: Household) -> Iterator[Entry]:
    for enclosure in Enclosure.objects.of(household).select_related("room"):
        about = ", ".join(part for part in (enclosure.room.name, enclosure.shelf) if part)
        address = reverse("enclosures:page", args=[enclosure.pk])
        yield Entry("Enclosures", enclosure.name, address, about)


def _species() -> Iterator[Entry]:
    for profile in library().values():
        also = " ".join((profile.species, *profile.other_names))
        address = reverse("species_guide:page", args=[profile.slug])
        yield Entry("Species", profile.name, address, also)


def _log(household: Household) -> Iterator[Entry]:
    noted = LogEntry.objects.of(household).standing().exclude(note="")
    for entry in noted.select_related("animal", "enclosure").order_by("-at")[:LOG_ENTRIES]:
        who = entry.animal or entry.enclosure
        address = f"{reverse('today:log')}?enclosure={entry.enclosure_id or ''}"
        yield Entry("Log", entry.note[:80], address, f"{who}, {entry.on:%-d %B %Y}")
