"""Navigation: the places of every day, the tools beside them, and the pages of one enclosure or
animal.
"""

from collections.abc import Sequence
from typing import NamedTuple

from django.urls import ResolverMatch


class NavigationPlace(NamedTuple):
    """An entry of the navigation."""

    label: str
    view: str
    key: str
    """The key that leads there; empty where there is none."""
    within: frozenset[str]
    """Views that belong to it: an app's name for all of its views, or a view's full name."""


class NavigationEntry(NamedTuple):
    """A place, as the page that is shown sees it."""

    place: NavigationPlace
    current: str
    """For aria-current: “page” on the place itself, “true” on a page within it, else empty."""


MAIN = (
    NavigationPlace("Today", "today:page", "t", frozenset({"today"})),
    NavigationPlace(
        "Enclosures",
        "enclosures:list",
        "e",
        frozenset(
            {
                "enclosures",
                "layout",
                "climate",
                "substrate",
                "building",
                "jobs",
                "pens",
                "exchange",
                "collection:add-enclosures",
                "collection:use",
            }
        ),
    ),
    NavigationPlace(
        "Animals",
        "animals:list",
        "a",
        frozenset(
            {
                "animals",
                "feeding",
                "treatments",
                "handling",
                "photos",
                "first_setup",
                "collection",
                "today:behaviour",
                "today:illness-signs",
            }
        ),
    ),
    NavigationPlace("Coming up", "animals:forecast", "c", frozenset({"animals:forecast"})),
    NavigationPlace("Species", "species_guide:list", "s", frozenset({"species_guide"})),
)
TOOLS = (
    NavigationPlace("Food & supplies", "supplies:list", "f", frozenset({"supplies"})),
    NavigationPlace("Breeding", "breeding:list", "", frozenset({"breeding"})),
    NavigationPlace("Light & seasons", "seasons:overview", "", frozenset({"seasons"})),
    NavigationPlace("Second look", "reviews:list", "w", frozenset({"reviews"})),
    NavigationPlace("Practice", "practice:overview", "", frozenset({"practice"})),
    NavigationPlace("Calculators", "calculators:list", "x", frozenset({"calculators"})),
    NavigationPlace("Alarms", "alarms:list", "", frozenset({"alarms"})),
    NavigationPlace("Log", "today:log", "g", frozenset({"today:log"})),
    NavigationPlace(
        "Calendars", "today:feeds", "", frozenset({"today:feeds", "today:delete-feed"})
    ),
    NavigationPlace("Daily email", "digests:list", "", frozenset({"digests"})),
    NavigationPlace(
        "Household",
        "households:household",
        "h",
        frozenset({"households", "rooms:power", "devices", "instruments"}),
    ),
)


class TabPage(NamedTuple):
    """One of several pages under a tab."""

    label: str
    view: str


class Tab(NamedTuple):
    """A tab of an enclosure or an animal: its first part is where it leads."""

    label: str
    parts: tuple[TabPage, ...]
    within: frozenset[str] = frozenset()
    """Further views that belong to it, without an entry of their own."""


ENCLOSURE = (
    Tab(
        "Status",
        (
            TabPage("Status", "enclosures:page"),
            TabPage("Animals", "enclosures:animals"),
            TabPage("Tasks and how often", "tasks:schedule"),
        ),
        frozenset({"enclosures:calculation"}),
    ),
    Tab("Layout", (TabPage("Layout", "layout:page"), TabPage("All settings", "enclosures:edit"))),
    Tab(
        "Climate",
        (
            TabPage("24-hour forecast", "climate:day"),
            TabPage("Humidity", "enclosures:humidity"),
            TabPage("Humidity through the year", "climate:moisture-year"),
            TabPage("Charts", "records:charts"),
            TabPage("Logger files", "records:files"),
            TabPage("Hygrometer log", "records:hygrometer"),
        ),
    ),
    Tab(
        "Substrate & water",
        (
            TabPage("Substrate and weight", "substrate:substrate"),
            TabPage("Water", "substrate:water"),
        ),
    ),
    Tab(
        "Build & check",
        (
            TabPage("Build plan", "building:build"),
            TabPage("Commissioning check", "building:commissioning"),
        ),
    ),
    Tab(
        "History",
        (
            TabPage("History", "history:enclosure"),
            TabPage("Records", "enclosures:records"),
            TabPage("Name and use", "collection:use"),
            TabPage("What your readings changed", "enclosures:calibration"),
        ),
    ),
)
ANIMAL = (
    Tab("Overview", (TabPage("Overview", "animals:page"),)),
    Tab("Feeding", (TabPage("Feeding", "feeding:page"),)),
    Tab(
        "Growth & body",
        (TabPage("Growth & body", "animals:growth"),),
        frozenset({"animals:weigh", "animals:measure"}),
    ),
    Tab(
        "Care",
        (
            TabPage("Handling", "handling:page"),
            TabPage("Treatments", "treatments:page"),
            TabPage("Brumation", "seasons:brumation"),
            TabPage("What it does", "today:behaviour"),
            TabPage("Unwell?", "today:illness-signs"),
            TabPage("Approaches", "animals:approaches"),
        ),
    ),
    Tab(
        "Life plan",
        (
            TabPage("Life plan", "animals:life-plan"),
            TabPage("Enclosures for life", "animals:enclosures"),
        ),
    ),
    Tab(
        "Records",
        (
            TabPage("Facts", "animals:facts"),
            TabPage("History", "history:animal"),
            TabPage("Move", "collection:move"),
            TabPage("Photos", "photos:list"),
            TabPage("Papers and permits", "permits:list"),
            TabPage("Veterinarian’s summary", "papers:summary"),
            TabPage("Care sheet", "papers:care-sheet"),
            TabPage("Bill of transfer", "papers:transfer"),
        ),
        frozenset({"animals:depart"}),
    ),
)


class LocalNavigation(NamedTuple):
    """The tabs of the enclosure or the animal that a page is of."""

    label: str
    tabs: tuple[Tab, ...]
    tab: Tab
    """The tab that the page belongs to."""
    view: str
    pk: int

    @property
    def title(self) -> str:
        """The page's own name, for the end of the breadcrumbs."""
        return next(
            (part.label for part in self.tab.parts if part.view == self.view), self.tab.label
        )


def local(match: ResolverMatch | None) -> LocalNavigation | None:
    """Find the tabs of a page of one enclosure or one animal; None on any other page."""
    if match is None or "pk" not in match.kwargs:
        return None
    for label, tabs in (("This enclosure", ENCLOSURE), ("This animal", ANIMAL)):
        for tab in tabs:
            views = {part.view for part in tab.parts} | tab.within
            if match.view_name in views:
                return LocalNavigation(label, tabs, tab, match.view_name, match.kwargs["pk"])
    return None


def entries(
    match: ResolverMatch | None,
) -> tuple[Sequence[NavigationEntry], Sequence[NavigationEntry]]:
    """Mark the place that a page belongs to: the main places, then the tools.

    Parameters
    ----------
    match : ResolverMatch or None
        Of the page; None where the address leads nowhere.
    """
    here = _place_of(match)
    view = match.view_name if match else ""

    def marked(places: Sequence[NavigationPlace]) -> list[NavigationEntry]:
        return [
            NavigationEntry(
                place, "" if place != here else "page" if view == place.view else "true"
            )
            for place in places
        ]

    return marked(MAIN), marked(TOOLS)


def _place_of(match: ResolverMatch | None) -> NavigationPlace | None:
    """The place of a page: one that names its view goes before one that names its app."""
    if match is None:
        return None
    for name in (match.view_name, match.app_name):
        for place in (*MAIN, *TOOLS):
            if name and name in place.within:
                return place
    return None
