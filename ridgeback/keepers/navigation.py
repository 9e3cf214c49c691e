"""Navigation: the places of every day, the tools beside them, and the pages of one enclosure or animal."""

from collections.abc import Sequence
from typing import NamedTuple

from django.urls import ResolverMatch


class Place(NamedTuple):
    """An entry of the navigation."""

    label: str
    view: str
    key: str
    """The key that leads there; empty where there is none."""
    within: frozenset[str]
    """Views that belong to it: an app's name for all of its views, or a view's full name."""


class Entry(NamedTuple):
    """A place, as the page that is shown sees it."""

    place: Place
    current: str
    """For aria-current: “page” on the place itself, “true” on a page within it, else empty."""


MAIN = (
    Place("Today", "rounds:round", "t", frozenset({"rounds"})),
    Place("Enclosures", "habitats:list", "e", frozenset({"habitats", "bench", "jobs", "exchange"})),
    Place(
        "Animals",
        "animals:list",
        "a",
        frozenset({"animals", "food", "courses", "handling", "pictures", "firstrun"}),
    ),
    Place("Coming up", "animals:outlook", "c", frozenset({"animals:outlook"})),
    Place("Species", "library:list", "s", frozenset({"library"})),
)
TOOLS = (
    Place("Food & supplies", "larder:larder", "f", frozenset({"larder"})),
    Place("Breeding", "eggs:eggs", "", frozenset({"eggs"})),
    Place("Light & seasons", "seasons:almanac", "", frozenset({"seasons"})),
    Place("Calculators", "sums:list", "x", frozenset({"sums"})),
    Place("Log", "rounds:log", "g", frozenset({"rounds:log"})),
    Place("Calendars", "rounds:feeds", "", frozenset({"rounds:feeds", "rounds:forget-feed"})),
    Place("Daily email", "reminders:letters", "", frozenset({"reminders"})),
    Place("Household", "keepers:household", "h", frozenset({"keepers", "habitats:room-power"})),
)


class Part(NamedTuple):
    """One of several pages under a tab."""

    label: str
    view: str


class Tab(NamedTuple):
    """A tab of an enclosure or an animal: its first part is where it leads."""

    label: str
    parts: tuple[Part, ...]
    within: frozenset[str] = frozenset()
    """Further views that belong to it, without an entry of their own."""


ENCLOSURE = (
    Tab("Status", (Part("Status", "habitats:page"),), frozenset({"habitats:working"})),
    Tab("Layout", (Part("Layout", "bench:page"),)),
    Tab(
        "Climate",
        (
            Part("24-hour forecast", "habitats:day"),
            Part("Humidity through the year", "habitats:damp-year"),
            Part("Hygrometer log", "habitats:log"),
        ),
    ),
    Tab(
        "Substrate & water",
        (Part("Substrate and weight", "habitats:ground"), Part("Water", "habitats:water")),
    ),
    Tab(
        "Build & check",
        (Part("Build plan", "habitats:build"), Part("Commissioning check", "habitats:prove")),
    ),
    Tab("History", (Part("History", "habitats:records"),)),
)
ANIMAL = (
    Tab("Overview", (Part("Overview", "animals:page"),)),
    Tab("Feeding", (Part("Feeding", "food:page"),)),
    Tab(
        "Care",
        (
            Part("Handling", "handling:page"),
            Part("Treatments", "courses:page"),
            Part("Brumation", "seasons:rest"),
            Part("Unwell?", "rounds:signs"),
        ),
    ),
    Tab("Life plan", (Part("Life plan", "animals:path"),)),
    Tab("Photos", (Part("Photos", "pictures:wall"),)),
)


class Local(NamedTuple):
    """The tabs of the enclosure or the animal that a page is of."""

    label: str
    tabs: tuple[Tab, ...]
    tab: Tab
    """The tab that the page belongs to."""
    view: str
    pk: int


def local(match: ResolverMatch | None) -> Local | None:
    """Find the tabs of a page of one enclosure or one animal; None on any other page."""
    if match is None or "pk" not in match.kwargs:
        return None
    for label, tabs in (("This enclosure", ENCLOSURE), ("This animal", ANIMAL)):
        for tab in tabs:
            views = {part.view for part in tab.parts} | tab.within
            if match.view_name in views:
                return Local(label, tabs, tab, match.view_name, match.kwargs["pk"])
    return None


def entries(match: ResolverMatch | None) -> tuple[Sequence[Entry], Sequence[Entry]]:
    """Mark the place that a page belongs to: the main places, then the tools.

    Parameters
    ----------
    match : ResolverMatch or None
        Of the page; None where the address leads nowhere.
    """
    here = _place_of(match)
    view = match.view_name if match else ""

    def marked(places: Sequence[Place]) -> list[Entry]:
        return [Entry(place, "" if place != here else "page" if view == place.view else "true") for place in places]

    return marked(MAIN), marked(TOOLS)


def _place_of(match: ResolverMatch | None) -> Place | None:
    """The place of a page: one that names its view goes before one that names its app."""
    if match is None:
        return None
    for name in (match.view_name, match.app_name):
        for place in (*MAIN, *TOOLS):
            if name and name in place.within:
                return place
    return None
