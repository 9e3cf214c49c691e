"""Changing an enclosure that stands: what is to be done in which order, where its animals are
meanwhile, what it takes, and what is verified again.

Durations are from memory or common practice, as those of a build: the label on the tin wins.
Method: docs/methods/build-plan.md.
"""

import datetime as dt
import math
from collections import Counter
from collections.abc import Collection
from dataclasses import replace

from husbandry.build_plan.shopping import (
    ENCLOSURE_EUR_M2,
    LITRE_EUR,
    ShoppingLine,
    shopping,
    slug_of,
)
from husbandry.build_plan.steps import (
    CYCLE_DAYS,
    GROUT_DAYS,
    HOLDS_WATER_DAYS,
    LACQUER_DAYS,
    RUN_DAYS,
    SEALANT_MM,
    STEP_WORDS,
    Build,
    BuildTask,
    Choices,
    ItemShift,
    is_slow,
    is_tank,
    sealant_days,
    tasks_of,
)
from husbandry.commissioning.readings import affected
from husbandry.documents.request import EarlierState, Request
from husbandry.documents.version_comparison import Difference, difference
from husbandry.items.containers import DigBox, FoodDish
from husbandry.items.dividers import Divider
from husbandry.items.drippers import Dripper
from husbandry.items.fans import Fan
from husbandry.items.furnishings import Branch, Dish, Hide, PlantedItem, Pool, Slab
from husbandry.items.instruments import Thermometer
from husbandry.items.screens import GuardScreen
from husbandry.items.union import Item
from husbandry.species.needs import NEEDS, NeedKey, in_sentence

REFIT_WORDS: dict[str, tuple[str, str, str]] = {
    "out": (
        "Take it out, into an enclosure of its own",
        "a spare enclosure with warmth, a hide and water",
        (
            "Escape-proof and at the warmth of its cool end; out of sight and sound, for days and"
            " not for weeks."
        ),
    ),
    "take": (
        "Unplug, let cool and take out",
        "gloves",
        (
            "A lamp burns skin for half an hour after it went out. Worn tubes are waste of their"
            " own kind, and break."
        ),
    ),
    "panels": (
        "Make and fit the sides anew",
        "saw or glass cut to size, screws, a second person for glass",
        "Goggles, gloves and a mask when sawing; nothing may be left sharp inside.",
    ),
    "bed out": (
        "Take out the old substrate",
        "scoop, bags, mask",
        (
            "Damp it first: its dust carries germs. Hands and tools are washed after; eggs and"
            " young are looked for."
        ),
    ),
    "move": (
        "Move, and secure anew",
        "screwdriver, cable clips, a rule",
        (
            "Unplugged and cold; what hangs hangs by more than its cable, what lies cannot be"
            " undermined."
        ),
    ),
    "nozzles": (
        "Hang what mists: nozzles, pump, tank",
        "hose, cutter, drip loops",
        "Water and mains apart: pump and plugs above the tank, on a residual-current device.",
    ),
    "set": ("Set thermostats and timers", "the manuals", "Write down what they stood at."),
    "wet": (
        "Bring the substrate to its damp",
        "watering can, hygrometer",
        "In thirds over three days: damp is not wet, and dry is not dust.",
    ),
    "fit": (
        "Fit, or take off: thermostat, heater, filter, moss",
        "cable clips, suckers, drip loops",
        (
            "Unplug everything before a hand goes into water; a heater of the water cools in it,"
            " never in the air."
        ),
    ),
    "warm": (
        "Read the basking surface, after six hours",
        "infrared thermometer, a shaded probe",
        "It is kept from basking until then: what is too hot burns in minutes.",
    ),
    "commission": ("Check it again", "the usual instruments", ""),
    "back": ("It goes back in", "", "Look at it after an hour and in the evening. Wash hands."),
}
"""Title, tools and caution of the steps that only a change has (common practice)."""


def named(items: tuple[Item, ...]) -> str:
    """Items in a sentence, alike ones counted."""
    counts: dict[str, int] = {}
    for item in items:
        name = item.name + (f", {item.watts:g} W" if item.watts else "")
        counts[name] = counts.get(name, 0) + 1
    return "; ".join(f"{count} × {name}" if count > 1 else name for name, count in counts.items())


def refit_tasks(
    old: EarlierState, request: Request, choices: Choices, needs: Collection[NeedKey]
) -> tuple[BuildTask, ...]:
    """The steps from an earlier state of an enclosure to the one that is asked for, in an order in
    which they can be done; none where nothing differs.

    Parameters
    ----------
    needs : collection
        What is asked of the enclosure: what of it the change can have moved is verified again.

    Notes
    -----
    Another size is another enclosure: then all steps of a build, with the animal in its old one
    until the new one is verified.
    """
    apart = difference(old, request)
    if not apart.any:
        return ()
    if apart.size:
        return tasks_of(request, choices)
    steps = _Steps()
    moved_needs = affected(old, request.enclosure, request.items) & frozenset(needs)
    _take_down(steps, apart)
    mended = _mend(steps, apart, request, choices)
    _put_in(steps, apart, old, request)
    _let_back(steps, apart, moved_needs, mended=mended)
    return tuple(steps.tasks)


class _Steps:
    """Steps in the order of doing; each comes after the one before it."""

    def __init__(self) -> None:
        self.tasks: list[BuildTask] = []

    def __contains__(self, slug: str) -> bool:
        return any(task.slug == slug for task in self.tasks)

    def add(
        self,
        slug: str,
        hours: float,
        wait_days: float = 0,
        what: str = "",
        shifts: tuple[ItemShift, ...] = (),
    ) -> None:
        title, tools, caution = REFIT_WORDS.get(slug) or STEP_WORDS[slug]
        last = (self.tasks[-1].slug,) if self.tasks else ()
        self.tasks.append(
            BuildTask(slug, title, hours, wait_days, last, tools, caution, what, shifts)
        )


def _in_its_way(item: Item) -> bool:
    """A hand in the enclosure is needed for it, for longer than its animal hides from."""
    return not item.hangs_above_lid and (
        item.warms or item.is_uv or item.is_probe or isinstance(item, Pool | Slab)
    )


def _take_down(steps: _Steps, apart: Difference) -> None:
    if (
        apart.sides
        or apart.substrate
        or apart.topped
        or apart.mister
        or any(
            _in_its_way(item) for item in apart.handled if item not in apart.fitted or item.warms
        )
    ):
        steps.add("out", 0.5)
    if apart.gone:
        steps.add("take", 0.5, what=named(apart.gone))


def _mend(steps: _Steps, apart: Difference, request: Request, choices: Choices) -> bool:
    """Sides, seams and substrate; whether anything of it is to air and dry before an animal
    breathes it.
    """
    slow = is_slow(request)
    if apart.sides:
        steps.add("panels", 2 + 0.5 * len(apart.sides), what=", ".join(apart.sides))
        wooden = any(
            side not in {"lid", "vents"} and getattr(request.enclosure.panels, side) == "wood"
            for side in apart.sides
        )
        if wooden and choices.coated:
            steps.add("coat", 2, LACQUER_DAYS * (2 if slow else 1))
        if set(apart.sides) - {"lid", "vents"}:
            cures = sealant_days(SEALANT_MM, cold_or_dry=slow)
            steps.add("seal", 1.5, max(cures, HOLDS_WATER_DAYS) if is_tank(request) else cures)
    if apart.substrate:
        steps.add("bed out", 1)
        if request.enclosure.substrate.is_drained:
            steps.add("drain", 0.5)
        if choices.tiled and request.enclosure.substrate.material == "tile":
            steps.add("tiles", 3, GROUT_DAYS * (2 if slow else 1))
        loose = request.enclosure.substrate.is_loose
        steps.add("substrate" if loose else "cover", 2 if loose else 0.3, 1 if loose else 0)
    elif apart.topped:
        steps.add("substrate", 1, what="more of the same")
    return bool(apart.sides) or (apart.substrate and request.enclosure.substrate.is_loose)


def _shift(old: EarlierState, item: Item) -> ItemShift:
    was = next(one for one in old.items if one.id == item.id)
    return ItemShift(
        named((item,)), *(now - then for now, then in zip(item.at_m, was.at_m, strict=True))
    )


def _new_filter(old: EarlierState, item: Item) -> bool:
    if not isinstance(item, Pool) or item.filter_l_h is None:
        return False
    before = (one for one in old.items if isinstance(one, Pool) and one.id == item.id)
    return all(one.filter_l_h is None for one in before)


def _put_in(steps: _Steps, apart: Difference, old: EarlierState, request: Request) -> None:
    put = apart.come
    lamps = tuple(item for item in put if item.warms or item.is_uv or item.is_probe)
    stones = tuple(item for item in put if isinstance(item, Slab))
    plants = tuple(item for item in put if isinstance(item, PlantedItem))
    furniture = tuple(
        item
        for item in put
        if isinstance(item, Branch | DigBox | Dish | Divider | FoodDish | Hide)
    )
    pools = tuple(item for item in put if isinstance(item, Pool))
    fitted = tuple(
        item for item in put if isinstance(item, Dripper | Fan | GuardScreen | Thermometer)
    )
    electric = tuple(item for item in apart.moved if item.warms or item.is_uv or item.is_probe)
    if lamps:
        steps.add("wire", 0.5 + 0.5 * len(lamps), what=named(lamps))
    if apart.moved:
        steps.add(
            "move",
            0.25 * len(apart.moved),
            shifts=tuple(_shift(old, item) for item in apart.moved),
        )
    if apart.mister:
        steps.add("nozzles", 1)
    if apart.fitted or fitted:
        parts = (*apart.fitted, *fitted)
        steps.add("fit", 0.5 * len(parts), what=named(parts))
    if stones:
        steps.add("supports", 0.5 * len(stones), what=named(stones))
    if plants:
        steps.add("plants", 0.5 * len(plants), what=named(plants))
    if furniture:
        steps.add("furniture", 0.25 * len(furniture), what=named(furniture))
    if pools:
        steps.add("fill", 1, 1)
    if any(pool.filter_l_h is not None for pool in pools) or any(
        _new_filter(old, item) for item in apart.fitted
    ):
        steps.add("cycle", 0.5, CYCLE_DAYS)
    if apart.crew:
        steps.add("crew", 0.3)
    if apart.dampness:
        steps.add("wet", 0.5, 2)
    plugged = any(item.held or (isinstance(item, Pool) and item.heater_w) for item in apart.fitted)
    if apart.settings or plugged or any(item.held or item.timer for item in lamps):
        steps.add("set", 0.5)
    if lamps or electric or plugged or apart.settings:
        steps.add("test", 0.5)


def _let_back(
    steps: _Steps, apart: Difference, moved: frozenset[NeedKey], *, mended: bool
) -> None:
    """What has smelt of anything runs a week and is verified before its animal is back; another
    lamp is read after six hours, and verified around it.
    """
    out = "out" in steps
    needs = ", ".join(
        dict.fromkeys(in_sentence(NEEDS[key].name) for key in NeedKey if key in moved)
    )
    if mended:
        steps.add("run", 0.5, RUN_DAYS)
    elif NeedKey.SURFACE_DAY in moved and (
        apart.topped
        or apart.settings
        or any(item.is_heater or isinstance(item, Slab) for item in apart.handled)
    ):
        steps.add("warm", 1)
    if out and not mended:
        steps.add("back", 0.5)
    if needs:
        by_night = (
            0 if moved == {NeedKey.UVI_DAY} else 1
        )  # ultraviolet is read once its lamps have burned an hour
        steps.add("commission", 0.25 * len(moved), by_night, what=needs)
    if out and mended:
        steps.add("back", 0.5)


def away(build: Build) -> tuple[dt.date, dt.date] | None:
    """From when to when its animals live elsewhere; None where they stay."""
    days = {step.task.slug: step for step in build.steps}
    return (days["out"].begin, days["back"].ready) if {"out", "back"} <= days.keys() else None


def refit_shopping(old: EarlierState, request: Request) -> tuple[ShoppingLine, ...]:
    """What the change takes beyond what the earlier state had: new items, a side by its area,
    substrate by what is more of it.
    """
    apart = difference(old, request)
    before = {
        line.slug: line
        for line in shopping(
            request.model_copy(update={"enclosure": old.enclosure, "items": old.items})
        )
    }
    renewed = Counter(slug_of(item) for item in apart.come)
    found = _sides_bought(apart, request)
    for line in shopping(request):
        had = before.get(line.slug)
        if apart.substrate and (line.slug == "loose" or line.slug.startswith("bag-")):
            found.append(line)  # the old substrate is taken out
        elif had is None:
            found.append(line)
        elif line.slug in {"enclosure", "stand"}:
            if apart.size and (line.slug == "enclosure" or line.each_eur > had.each_eur):
                found.append(line)
        elif line.slug == "loose":
            found += _loose_bought(line, had)
        else:
            more = max(line.count - had.count, renewed[line.slug])
            if more > 0:
                found.append(replace(line, count=more))
    return tuple(found)


def _sides_bought(apart: Difference, request: Request) -> list[ShoppingLine]:
    inside = request.enclosure.inside_m
    front, left, lid = (
        inside.length * inside.height,
        inside.depth * inside.height,
        inside.length * inside.depth,
    )
    areas_m2 = {
        "front": front,
        "back": front,
        "left": left,
        "right": left,
        "bottom": lid,
        "lid": lid,
    }
    made = [side for side in apart.sides if side in areas_m2]
    if apart.size or not made:
        return []
    rule = f"{ENCLOSURE_EUR_M2:g} € for each square metre of {', '.join(made)}"
    each = float(math.ceil(ENCLOSURE_EUR_M2 * sum(areas_m2[side] for side in made)))
    return [
        ShoppingLine("sides", f"new {', '.join(made)}", 1, waits=False, each_eur=each, rule=rule)
    ]


def _loose_bought(line: ShoppingLine, had: ShoppingLine) -> list[ShoppingLine]:
    """Substrate by the litre: what is more of the same."""
    more = line.each_eur - had.each_eur
    return (
        [
            replace(
                line,
                name=f"{line.name.split(',')[0]}, some {more / LITRE_EUR:g} l loose",
                each_eur=more,
            )
        ]
        if more > 0
        else []
    )
