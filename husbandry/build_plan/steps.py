"""Building a planned enclosure: the steps in their order with their waits, to the day it may move
in. Method: docs/methods/build-plan.md.

Durations are from memory or common practice: the label on the tin wins.
"""

import datetime as dt
import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

from husbandry.documents.request import Request
from husbandry.items.furnishings import PlantedItem, Pool, Slab

SEALANT_MM = 4.0
"""Depth of a usual seam (common practice, no source) [mm]."""


LACQUER_DAYS, ROOTING_DAYS, CREW_DAYS, RUN_DAYS, HOLDS_WATER_DAYS, CYCLE_DAYS = 7, 21, 28, 7, 7, 35
"""Cure of lacquer, rooting of plants, settling of a crew, dry run, cure of a seam that holds
water, nitrogen cycle (source: substrate B4) [days].
"""
MITES_DAYS = 3
"""Of airing after a treatment against mites (common practice; the label wins) [days]."""
RENDER_DAYS, GROUT_DAYS = 18, 3
"""Of curing, rooting, settling and running, of a seam that holds water, of a filter that comes
alive; of cement and of set tiles; middle of their ranges
(source: substrate B4: from memory and common practice) [days].
"""
STEP_WORDS: dict[str, tuple[str, str, str]] = {
    "stand": (
        "Set up the stand, level and anchored",
        "spirit level, screws for the wall",
        "Two people lift; mind pipes and cables in the wall.",
    ),
    "strip": (
        "Strip, disinfect, rinse and dry",
        "veterinary disinfectant, gloves",
        (
            "Gloves and air; never two cleaners together. What cannot be disinfected goes, and old"
            " heat mats are never used again."
        ),
    ),
    "mites": (
        "Treat against mites, and air",
        "mite treatment made for reptile rooms, gloves",
        (
            "Empty, with the animal elsewhere, by its label; aired until nothing smells. No flea"
            " spray, no strip: they kill reptiles. Wood that can be is frozen or baked instead."
        ),
    ),
    "holes": (
        "Drill holes for cables and vents",
        "drill, file, grommets",
        "Goggles; unplug what hangs near.",
    ),
    "foam": (
        "Foam and carve a background",
        "foam, knife",
        "Gloves and open windows, no layer over 4 cm; a dust mask when carving.",
    ),
    "render": (
        "Render with cement, and leach it",
        "render, brush, pH strips",
        (
            "Gloves and goggles, wet cement burns; a mask for its dust. Rinsed until the water"
            " stays below pH 8.5."
        ),
    ),
    "tiles": (
        "Set tiles, and grout them",
        "tile adhesive, grout, spacers",
        "Gloves; a mask and goggles when cutting.",
    ),
    "coat": (
        "Coat timber or background, twice",
        "waterborne lacquer, brush",
        "Open windows; cured is when nothing smells, whatever the tin says.",
    ),
    "seal": (
        "Seal the seams",
        "sealant without fungicide, gun, tape",
        "Gloves and open windows: it gives off acid until it is cured.",
    ),
    "liner": (
        "Line the bottom under moist substrate",
        "pond liner or foil, knife, sealant",
        "Up the sides to above the substrate: board that drinks swells, and rots unseen.",
    ),
    "wire": (
        "Hang lamps, guards, thermostats, timers",
        "screwdriver, cable clips, drip loops",
        "Unplugged while working; fixed wiring is a licensed electrician’s.",
    ),
    "test": (
        "Test the electrics and each thermostat",
        "second thermometer, warm hand",
        "Residual current by its button; stand by while it first warms.",
    ),
    "supports": (
        "Set stones and platforms on supports",
        "blocks, aquarium sealant",
        "From the floor: what a digger can undermine falls on it.",
    ),
    "drain": (
        "Lay the drained layer and its mesh",
        "expanded clay, mesh",
        "Rinse it first: its dust is for no lung.",
    ),
    "substrate": (
        "Fill the substrate layer by layer",
        "bucket, scoop, water",
        "Wetted and pressed; damp it before pouring, for dust. Lift in halves.",
    ),
    "cover": ("Lay the substrate", "", ""),
    "plants": (
        "Rinse and plant",
        "washed plants, two weeks from the shop",
        "Known, harmless species only; free of sprays.",
    ),
    "crew": ("Let the clean-up crew in", "springtails, woodlice, leaves", ""),
    "fill": (
        "Fill it, and look for leaks for a day",
        "hose, conditioner, a rule at the level",
        "A litre weighs a kilogram: stand and floor first. Mains above and drip loops, hands dry.",
    ),
    "cycle": (
        "Let its filter come alive",
        "test kit, a little food or ammonia",
        "Ready is a week with no ammonia and no nitrite, never a date.",
    ),
    "furniture": (
        "Put in hides, branches and water",
        "",
        "Wedge or screw: nothing may roll or fall.",
    ),
    "run": ("Let it run: heat, light, mist, timers", "", "Look in every day; smell it."),
    "commission": ("Commissioning check", "thermometers, hygrometer, UV meter", ""),
    "move in": (
        "Move it in, and leave it a week",
        "",
        (
            "A new animal after 30 to 90 days of quarantine, unless this enclosure is simple and is"
            " its quarantine. Hands washed before and after."
        ),
    ),
}
"""Title, tools and caution of each step."""


def sealant_days(depth_mm: float, *, cold_or_dry: bool = False) -> float:
    """How long acetoxy sealant cures through: (d/3)² days, a day at the least, twice that below 15
    °C or 30 % (from memory; the label wins) [days].
    """
    return max((depth_mm / 3) ** 2, 1.0) * (2 if cold_or_dry else 1)


@dataclass(frozen=True)
class Choices:
    """What the keeper says of the build."""

    second_hand: bool = False
    coated: bool = False
    """Timber is lacquered, or a background of foam is made and coated."""
    foam: bool = False
    rendered: bool = False
    """A background is rendered with cement."""
    tiled: bool = False
    """Tiles are set in adhesive, not laid loose."""
    planted: bool = False
    """Live plants are to root before it moves in."""
    crew: bool = False
    """A clean-up crew is to settle."""


class ItemShift(NamedTuple):
    """How far an item is moved."""

    name: str
    right_m: float
    back_m: float
    up_m: float


class BuildTask(NamedTuple):
    """A step of the build."""

    slug: str
    title: str
    hours: float
    """Of work."""
    wait_days: float
    """After the work, until the next step may begin."""
    after: tuple[str, ...]
    tools: str
    caution: str
    what: str = ""
    """Of what, where the title does not say it."""
    shifts: tuple[ItemShift, ...] = ()
    """Of what is moved."""


@dataclass(frozen=True)
class BuildStep:
    """A step with its days."""

    task: BuildTask
    begin: dt.date
    ready: dt.date
    """When what follows it may begin."""
    slack_days: int
    """By which it may slip without moving the last day."""
    done_on: dt.date | None = None

    @property
    def critical(self) -> bool:
        """It decides the last day."""
        return self.slack_days == 0


@dataclass(frozen=True)
class Build:
    """All of it."""

    steps: tuple[BuildStep, ...]
    move_in: dt.date
    """The earliest day."""

    @property
    def critical(self) -> tuple[BuildStep, ...]:
        """The steps that decide the day."""
        return tuple(step for step in self.steps if step.critical)


def is_slow(request: Request) -> bool:
    """What cures in its room takes twice as long: cold, or dry."""
    return request.room.night_c < 15 or request.room.rh_pct < 30


def is_tank(request: Request) -> bool:
    """It is full of the water that its animals live in."""
    return any(profile.habit == "aquatic" for profile in request.profiles.values()) and any(
        isinstance(item, Pool) for item in request.items
    )


@dataclass
class _StepList:
    """Steps as they are found: each waits for those before it that there are."""

    found: list[BuildTask] = field(default_factory=list)

    def add(self, slug: str, hours: float, wait: float, after: tuple[str, ...] = ()) -> None:
        """A step of so many hours, with a wait of so many days."""
        known = {task.slug for task in self.found}
        title, tools, caution = STEP_WORDS[slug]
        waits_for = tuple(one for one in after if one in known)
        self.found.append(BuildTask(slug, title, hours, wait, waits_for, tools, caution))


SHELL = ("stand", "strip", "mites", "holes", "foam", "render", "coat", "seal", "liner")
"""Steps of the bare enclosure."""


def tasks_of(request: Request, choices: Choices) -> tuple[BuildTask, ...]:
    """The steps of this enclosure, in an order in which they can be done."""
    steps = _StepList()
    _build_shell(steps, request, choices)
    _build_inside(steps, request, choices)
    _bring_to_life(steps, request, choices)
    return tuple(steps.found)


def _build_shell(steps: _StepList, request: Request, choices: Choices) -> None:
    """Stand, holes, walls and seams."""
    enclosure = request.enclosure
    cold = 2 if is_slow(request) else 1
    steps.add("stand", 2, 0)
    if choices.second_hand:
        steps.add("strip", 3, 2)
        steps.add("mites", 1, MITES_DAYS, ("strip",))
    steps.add("holes", 1, 0, ("strip", "mites"))
    bare: tuple[str, ...] = ("strip", "mites", "holes")
    # What is foamed over is out of reach afterwards; lacquer does not stick to sealant.
    is_sealed_first = choices.foam or choices.rendered
    if is_sealed_first:
        _seal(steps, request, bare)
        bare = (*bare, "seal")
    if choices.foam:
        steps.add("foam", 4, 1, bare)
    if choices.rendered:
        steps.add("render", 3, RENDER_DAYS * cold, (*bare, "foam"))
    if choices.coated:
        steps.add("coat", 2, LACQUER_DAYS * cold, (*bare, "foam", "render"))
    if not is_sealed_first:
        _seal(steps, request, (*bare, "coat"))
    if enclosure.panels.bottom == "wood" and _stays_moist(request):
        steps.add("liner", 0.5, 0, ("seal", "coat", "render", "foam"))


def _seal(steps: "_StepList", request: Request, after: tuple[str, ...]) -> None:
    """Seal the seams of what is of timber, holds water or is kept damp."""
    enclosure = request.enclosure
    sides = ("back", "left", "right", "bottom")
    timber = any(getattr(enclosure.panels, side) == "wood" for side in sides)
    if not (timber or is_tank(request) or enclosure.wetting is not None):
        return
    cures = sealant_days(SEALANT_MM, cold_or_dry=is_slow(request))
    holds = max(cures, HOLDS_WATER_DAYS) if is_tank(request) else cures
    steps.add("seal", 1.5, holds, after)


def _stays_moist(request: Request) -> bool:
    """Whether the substrate is kept damp, on its floor at least."""
    wetting = request.enclosure.wetting
    wet = wetting is not None and wetting.substrate != "dry"
    return request.enclosure.substrate.is_loose and wet


def _build_inside(steps: _StepList, request: Request, choices: Choices) -> None:
    """Electrics, supports, drainage and what is poured or laid: after the bare enclosure."""
    substrate = request.enclosure.substrate
    cold = 2 if is_slow(request) else 1
    if any(item.warms or item.is_uv for item in request.items):
        steps.add("wire", 3, 0, ("stand", "holes", "foam", "render", "coat", "seal"))
        steps.add("test", 1, 0, ("wire",))
    if choices.tiled and substrate.material == "tile":
        steps.add("tiles", 3, GROUT_DAYS * cold, ("seal", "coat"))
    if any(isinstance(item, Slab) for item in request.items):
        steps.add("supports", 1, 0, ("stand", "seal", "coat", "tiles"))
    if substrate.is_drained:
        steps.add("drain", 0.5, 0, ("seal", "supports"))
    after = (*SHELL, "supports", "drain", "wire", "tiles")
    if substrate.is_loose:
        steps.add("substrate", 2, 1, after)
    else:
        steps.add("cover", 0.3, 0, after)


def _bring_to_life(steps: _StepList, request: Request, choices: Choices) -> None:
    """Plants, crew, furnishings and water; then it runs, is checked, and something moves in."""
    laid = "substrate" if request.enclosure.substrate.is_loose else "cover"
    if choices.planted or any(isinstance(item, PlantedItem) for item in request.items):
        steps.add("plants", 1.5, ROOTING_DAYS if choices.planted else 0, (laid,))
    if choices.crew or request.enclosure.substrate.crew:
        steps.add("crew", 0.3, CREW_DAYS, (laid, "plants"))
    steps.add("furniture", 1, 0, (laid, "plants"))
    pools = [item for item in request.items if isinstance(item, Pool)]
    if pools:
        steps.add("fill", 1, 1, ("seal", laid, "furniture"))
        if any(pool.filter_l_h is not None for pool in pools):
            steps.add("cycle", 0.5, CYCLE_DAYS, ("fill",))
    steps.add("run", 0.5, RUN_DAYS, ("test", "furniture", "plants", "fill"))
    steps.add("commission", 2, 2, ("run", "crew", "cycle"))
    steps.add("move in", 0.5, 0, ("commission",))


def schedule(
    tasks: tuple[BuildTask, ...],
    start: dt.date,
    done: Mapping[str, dt.date] | None = None,
    hours_a_day: float = 4.0,
    *,
    today: dt.date | None = None,
) -> Build:
    """The days of each step: as early as its forerunners allow, and how far it may slip.

    Parameters
    ----------
    done : mapping, optional
        Steps that were done, and on which day: what follows them moves with it.
    hours_a_day : float
        That the keeper works [h].
    today : date, optional
        What is not done yet is not planned for days that are gone.

    Notes
    -----
    A step takes whole days of work and whole days of waiting, rounded up. The critical path is what
    has no slack.
    """
    done = done or {}
    gone = max((today - start).days, 0) if today is not None else 0
    begins: dict[str, int] = {}
    readies: dict[str, int] = {}

    for task in tasks:
        earliest = max([*(readies[one] for one in task.after), gone])
        lasts = math.ceil(task.hours / hours_a_day - 1e-9) - 1 + math.ceil(task.wait_days - 1e-9)
        if task.slug in done:
            finished = (done[task.slug] - start).days
            begins[task.slug], readies[task.slug] = (
                finished,
                finished + math.ceil(task.wait_days - 1e-9),
            )
        else:
            begins[task.slug] = earliest
            readies[task.slug] = earliest + lasts
    last = readies[tasks[-1].slug]
    latest = {task.slug: last for task in tasks}

    for task in reversed(tasks):
        for one in task.after:
            latest[one] = min(
                latest[one], latest[task.slug] - (readies[task.slug] - begins[task.slug])
            )
    steps = []

    for task in tasks:
        begin = begins[task.slug]
        ready = readies[task.slug]
        slack = max(latest[task.slug] - ready, 0)
        days = start + dt.timedelta(days=begin), start + dt.timedelta(days=ready)
        steps.append(BuildStep(task, *days, slack, done.get(task.slug)))
    return Build(tuple(steps), start + dt.timedelta(days=last))
