"""What each part of a request allows, but all together do not."""

import datetime as dt
from collections.abc import Iterator

from husbandry import bounds
from husbandry.documents.enclosure import EnclosureSpec, Lid, MoistureControl
from husbandry.documents.request import Request
from husbandry.documents.room import Room
from husbandry.errors import DocumentError, Problem, UnknownNameError
from husbandry.items.base import LAMP_CLEAR_M, Surroundings
from husbandry.items.furnishings import Slab
from husbandry.items.timers import hour_of
from husbandry.readings import value_problem
from husbandry.species.needs import NeedKey
from husbandry.species.variant import profile_with

LAST_DAY = dt.date(bounds.LAST_YEAR - 1, 12, 31)
"""No day after it is recorded (design choice)."""
MOST_OF_HEIGHT = 0.7
"""Of an enclosure that its substrate may fill (design choice) [1]."""
LAYERS_OFF_M = 0.005
"""By so much the layers together may differ from the depth that was said (design choice) [m]."""
LEAST_APART_MIN = 15
"""Two mistings closer together are one (design choice) [min]."""
MOST_WATER_SHARE = 0.03
"""Of the volume of an enclosure that a day of mistings may bring: more stands on the floor (design
choice) [1].
"""


def conflicts(request: Request) -> list[Problem]:
    """Find what cannot be together: items outside the enclosure, a tube longer than it, two of one
    name.
    """
    return [
        *_of_room(request.room),
        *_of_animals(request),
        *_of_readings(request),
        *_of_edits(request),
        *_of_substrate(request.enclosure),
        *_of_lid(request.enclosure.lid),
        *_of_moisture(request.enclosure, request.enclosure.wetting),
        *_of_items(request),
        *_of_lamps_and_stones(request),
    ]


def _of_room(room: Room) -> Iterator[Problem]:
    """Seasons in the wrong order."""
    if room.summer_max_c < room.day_c:
        reason = f"the hottest day ({room.summer_max_c:g} °C) is cooler than a usual day"
        yield Problem("/room/summer_max_c", f"{reason} ({room.day_c:g} °C)")
    if room.winter_day_c is not None and room.winter_day_c > room.day_c:
        reason = f"a winter's day ({room.winter_day_c:g} °C) is warmer than a usual day"
        yield Problem("/room/winter_day_c", f"{reason} ({room.day_c:g} °C)")


def _of_animals(request: Request) -> Iterator[Problem]:
    """Days that cannot have been."""
    for n, animal in enumerate(request.animals):
        at = f"/animals/{n}"
        if animal.born_on and (reason := bounds.birth_problem(animal.born_on, request.today)):
            yield Problem(f"{at}/born_on", reason)
        for name, day in animal.recorded_days.items():
            if reason := bounds.day_problem(day, LAST_DAY):
                yield Problem(f"{at}/{name}", reason)
        if animal.born_on and animal.came_on and animal.came_on < animal.born_on:
            reason = f"it came on {animal.came_on}, before it was born on {animal.born_on}"
            yield Problem(f"{at}/came_on", reason)


def _of_readings(request: Request) -> Iterator[Problem]:
    """Readings that cannot have been taken."""
    for n, reading in enumerate(request.readings):
        if reason := value_problem(reading.need, reading.value):
            yield Problem(f"/readings/{n}/value", reason)
        if reading.at > request.now + bounds.CLOCK_SLACK:
            reason = "it was taken after the request's own moment"
            yield Problem(f"/readings/{n}/at", reason)
        if reading.moment and reading.need is not NeedKey.HUMIDITY_DAY:
            reason = "only the humidity of the day is read before and after a misting"
            yield Problem(f"/readings/{n}/moment", reason)


def _of_edits(request: Request) -> Iterator[Problem]:
    """Own values that make no profile."""
    for species, edits in request.edits.items():
        try:
            profile_with(species, edits)
        except DocumentError as why:
            for problem in why.problems:
                yield Problem(f"/edits/{species}", f"{problem.pointer}: {problem.reason}")
        except UnknownNameError as why:
            yield Problem(f"/edits/{species}", str(why))


def _of_substrate(enclosure: EnclosureSpec) -> Iterator[Problem]:
    """Substrate that leaves no room, layers that do not add up, a slope below the floor."""
    at = "/enclosure/substrate"
    substrate = enclosure.substrate
    depth_m = substrate.depth_m
    height_m = enclosure.inside_m.height
    slope = substrate.slope
    if depth_m > MOST_OF_HEIGHT * height_m:
        reason = f"{depth_m:g} m of substrate leaves too little of {height_m:g} m of height"
        yield Problem(f"{at}/depth_m", reason)
    layers_m = sum(layer.depth_m for layer in substrate.layers)
    if substrate.layers and abs(layers_m - depth_m) > LAYERS_OFF_M:
        reason = f"its layers are {layers_m:g} m together, the substrate {depth_m:g} m"
        yield Problem(f"{at}/layers", reason)
    if slope is not None and slope.rise_m > depth_m:
        reason = f"it rises more than its mean of {depth_m:g} m"
        yield Problem(f"{at}/slope/rise_m", f"{reason}: the other side would lie below the floor")
    elif slope is not None and depth_m + slope.rise_m > MOST_OF_HEIGHT * height_m:
        reason = f"its deep side leaves too little of {height_m:g} m of height"
        yield Problem(f"{at}/slope/rise_m", reason)


def _of_lid(lid: Lid) -> Iterator[Problem]:
    """A mesh without its share, or a share without its mesh."""
    if (lid.mesh is None) != (lid.mesh_share == 0):
        reason = "a mesh has a share of the lid, and a share needs a mesh"
        yield Problem("/enclosure/lid/mesh_share", reason)
    if lid.mesh is None and lid.mesh_passes is not None:
        reason = "there is no mesh of which it could be measured"
        yield Problem("/enclosure/lid/mesh_passes", reason)


def _of_moisture(enclosure: EnclosureSpec, wetting: MoistureControl | None) -> Iterator[Problem]:
    """A mist every minute, and more water than an enclosure takes."""
    if wetting is None:
        return
    at = "/enclosure/wetting/mistings"
    inside = enclosure.inside_m
    minutes = [round(60 * hour_of(misting.at)) for misting in wetting.mistings]
    for n, minute in enumerate(minutes):
        gaps = [abs(minute - other) for other in minutes[:n]]
        if any(min(gap, 1440 - gap) < LEAST_APART_MIN for gap in gaps):
            reason = f"two mistings less than {LEAST_APART_MIN} minutes apart are one"
            yield Problem(f"{at}/{n}/at", f"{reason}: nothing has dried in between")
    litres = 1000 * inside.length * inside.depth * inside.height
    day_ml = sum(misting.ml for misting in wetting.mistings)
    if day_ml > 1000 * MOST_WATER_SHARE * litres:
        reason = f"{day_ml:g} ml a day stand on the floor of an enclosure of {litres:.0f} l"
        yield Problem(f"{at}/{len(minutes) - 1}/ml", reason)


def surroundings_of(request: Request) -> Surroundings:
    """Describe what the items of a request must fit into."""
    inside = request.enclosure.inside_m
    return Surroundings(
        length_m=inside.length,
        depth_m=inside.depth,
        height_m=inside.height,
        substrate_m=request.enclosure.substrate.depth_m,
        has_mesh=request.enclosure.lid.mesh is not None,
        probes=frozenset(request.probes),
    )


def _of_items(request: Request) -> Iterator[Problem]:
    """Two of one name, and what each item finds wrong with its place."""
    around = surroundings_of(request)
    seen: set[str] = set()
    for n, item in enumerate(request.items):
        if item.id in seen:
            yield Problem(f"/items/{n}/id", f"the id “{item.id}” is used twice")
        seen.add(item.id)
        yield from item.problems(f"/items/{n}", around)


def _of_lamps_and_stones(request: Request) -> Iterator[Problem]:
    """A lamp inside a stone."""
    slabs = [item for item in request.items if isinstance(item, Slab)]
    for n, lamp in enumerate(request.items):
        if not lamp.is_hung:
            continue
        for slab in slabs:
            over = all(
                abs(lamp.at_m[axis] - slab.at_m[axis]) < slab.size_m[axis] / 2 for axis in (0, 1)
            )
            if over and lamp.at_m[2] <= slab.top_m + LAMP_CLEAR_M:
                yield Problem(f"/items/{n}/at_m/2", "the lamp is in or under the stone")
