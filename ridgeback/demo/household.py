"""The demo: one invented household with one room and three boxes of common blue-tongued skinks, each with its own story.

Everything here is made up. Dates are relative to the day it is loaded, and move along when the demo is started on a later day.
"""

import datetime as dt
import zoneinfo
from typing import Any

from django.db import transaction
from django.db.models import F

from husbandry.species.needs import NeedKey
from ridgeback.animals.models import Animal, Length, Weighing
from ridgeback.habitats import flows
from ridgeback.habitats.models import Habitat, Occupancy, Reading, Revision
from ridgeback.keepers.models import Household, Keeper, Membership, Room

SPECIES = "Tiliqua scincoides"
ZONE = "Europe/London"
DAY, UV_DAY = {"on": "07:30", "off": "19:30"}, {"on": "08:00", "off": "18:30"}


def _body(slug: str, kind: str, at: list[float], size: list[float], **more: Any) -> dict[str, Any]:
    return {"id": slug, "kind": kind, "at_m": at, "size_m": size, **more}


# Right: an adult in a roomy box, everything in its band and measured lately.
BRAMBLE = {
    "box": {
        "inside_m": {"length": 1.5, "depth": 0.6, "height": 0.6},
        "panels": {"front": "glass"},
        "lid": {"material": "wood"},
        "ground": {"material": "soil", "depth_m": 0.07},
    },
    "things": [
        {
            "id": "lamp-1",
            "kind": "halogen_flood",
            "at_m": [0.3, 0.3, 0.43],
            "power_w": 75,
            "beam_deg": 60,
            "thermostat": {"set_c": 40.5, "probe": "surface"},
            **DAY,
        },
        {
            "id": "tube-1",
            "kind": "t5_12",
            "at_m": [0.5, 0.36, 0.50],
            "length_m": 0.85,
            "power_w": 39,
            "reflector": True,
            "hours_run": 900,
            **UV_DAY,
        },
        _body("stone-1", "slab", [0.3, 0.3, 0.07], [0.4, 0.3, 0.03], material="slate"),
        _body("hide-1", "hide", [0.78, 0.38, 0.07], [0.32, 0.24, 0.12]),
        _body("hide-2", "hide", [1.16, 0.36, 0.07], [0.30, 0.24, 0.12]),
        _body("dish-1", "dish", [1.38, 0.2, 0.07], [0.18, 0.18, 0.05]),
    ],
}
# Too cold under the lamp: hung too high over a juvenile's stone.
PIP = {
    "box": {
        "inside_m": {"length": 1.1, "depth": 0.5, "height": 0.55},
        "panels": {"front": "glass"},
        "lid": {"material": "wood", "mesh": "quarter_inch", "mesh_share": 0.25},
        "ground": {"material": "soil", "depth_m": 0.05},
    },
    "things": [
        {"id": "lamp-1", "kind": "halogen_flood", "at_m": [0.24, 0.25, 0.50], "power_w": 50, **DAY},
        {
            "id": "tube-1",
            "kind": "t5_12",
            "at_m": [0.38, 0.31, 0.40],
            "length_m": 0.55,
            "power_w": 24,
            "reflector": True,
            "hours_run": 300,
            **UV_DAY,
        },
        _body("stone-1", "slab", [0.24, 0.25, 0.05], [0.28, 0.22, 0.03], material="stone"),
        _body("hide-1", "hide", [0.60, 0.32, 0.05], [0.20, 0.16, 0.08]),
        _body("hide-2", "hide", [0.86, 0.30, 0.05], [0.20, 0.16, 0.08]),
        _body("dish-1", "dish", [1.01, 0.14, 0.05], [0.12, 0.12, 0.03]),
    ],
}
# Ultraviolet too weak: the tube lies on the mesh instead of under it.
SABLE = {
    "box": {
        "inside_m": {"length": 1.4, "depth": 0.55, "height": 0.55},
        "panels": {"front": "glass", "back": "pvc_board", "left": "pvc_board", "right": "pvc_board", "bottom": "pvc_board"},
        "lid": {"material": "pvc_board", "mesh": "fly_screen", "mesh_share": 0.4},
        "ground": {"material": "soil", "depth_m": 0.06},
    },
    "things": [
        {
            "id": "lamp-1",
            "kind": "halogen_flood",
            "at_m": [0.28, 0.27, 0.37],
            "power_w": 75,
            "thermostat": {"set_c": 40.0, "probe": "surface"},
            **DAY,
        },
        {
            "id": "tube-1",
            "kind": "t5_12",
            "at_m": [0.45, 0.3, 0.58],
            "length_m": 0.85,
            "power_w": 39,
            "above_lid": True,
            "hours_run": 1400,
            **UV_DAY,
        },
        _body("stone-1", "slab", [0.28, 0.27, 0.06], [0.36, 0.28, 0.03], material="stone"),
        _body("hide-1", "hide", [0.74, 0.34, 0.06], [0.26, 0.2, 0.10]),
        _body("hide-2", "hide", [1.06, 0.34, 0.06], [0.26, 0.2, 0.10]),
        _body("dish-1", "dish", [1.28, 0.16, 0.06], [0.16, 0.16, 0.04]),
    ],
}

# name, shelf, spec, sex, months old, (days ago, g), (days ago, mm), fed days ago, (need, value, days ago, hour, instrument, offset, lamp on h)
STORIES: list[dict[str, Any]] = [
    {
        "name": "Bramble", "shelf": "Long wall", "spec": BRAMBLE, "sex": Animal.Sex.FEMALE, "months": 57, "fed": 2,
        "weights": [(170, 471), (142, 476), (113, 468), (84, 474), (55, 479), (27, 484), (4, 482)], "lengths": [(170, 505), (27, 510)],
        "readings": [
            (NeedKey.SURFACE_DAY, 40.9, 5, 15, "infrared", 0.6, 7.5), (NeedKey.WARM_AIR_DAY, 29.4, 5, 15, "probe", 0.0, 7.5),
            (NeedKey.COOL_AIR_DAY, 24.6, 5, 15, "probe", 0.0, 7.5), (NeedKey.AIR_NIGHT, 18.6, 4, 6, "probe", 0.0, None),
            (NeedKey.UVI_DAY, 3.1, 31, 13, "uv", 0.0, 5.0), (NeedKey.HUMIDITY_DAY, 47.0, 1, 14, "hygrometer", 2.0, 6.5),
            (NeedKey.SURFACE_DAY, 41.3, 63, 15, "infrared", 0.6, 7.0), (NeedKey.COOL_AIR_DAY, 24.9, 63, 15, "probe", 0.0, 7.0),
        ],
    },
    {
        "name": "Pip", "shelf": "Long wall", "spec": PIP, "sex": Animal.Sex.UNKNOWN, "months": 6.4, "fed": 1,
        "weights": [(96, 41), (75, 52), (54, 66), (33, 79), (19, 88), (5, 96)], "lengths": [(96, 205), (33, 262), (5, 282)],
        "readings": [
            (NeedKey.SURFACE_DAY, 33.4, 1, 16, "infrared", 0.6, 8.5), (NeedKey.COOL_AIR_DAY, 24.1, 1, 16, "probe", 0.0, 8.5),
            (NeedKey.WARM_AIR_DAY, 25.2, 2, 9, "probe", 0.0, 1.5), (NeedKey.UVI_DAY, 3.0, 20, 13, "uv", 0.0, 5.0),
        ],
    },
    {
        "name": "Sable", "shelf": "Window end", "spec": SABLE, "sex": Animal.Sex.MALE, "months": 14.5, "fed": 1,
        "weights": [(150, 148), (121, 171), (92, 189), (64, 207), (36, 226), (8, 243)], "lengths": [(150, 335), (64, 368), (8, 392)],
        "readings": [
            (NeedKey.SURFACE_DAY, 40.2, 6, 15, "infrared", 0.6, 7.5), (NeedKey.WARM_AIR_DAY, 28.0, 6, 15, "probe", 0.0, 7.5),
            (NeedKey.UVI_DAY, 0.7, 9, 13, "uv", 0.0, 5.0), (NeedKey.HUMIDITY_DAY, 52.0, 12, 14, "hygrometer", 2.0, 6.0),
        ],
    },
]  # fmt: skip


def _moment(today: dt.date, days_ago: float, hour: int) -> dt.datetime:
    day = today - dt.timedelta(days=days_ago)
    return dt.datetime(day.year, day.month, day.day, hour, 10, tzinfo=zoneinfo.ZoneInfo(ZONE))


@transaction.atomic
def load(now: dt.datetime) -> Household:
    """Make the demo household once. A second call returns the one that is there, its dates moved to today."""
    today = now.astimezone(zoneinfo.ZoneInfo(ZONE)).date()
    there = Household.objects.select_for_update().filter(demo_day__isnull=False).first()
    if there is not None:
        _move(there, today)
        return there
    household = Household.objects.create(name="Saltmarsh Lane", demo_day=today)
    keeper = Keeper(username="demo", first_name="Demo")
    keeper.set_unusable_password()
    keeper.save()
    Membership.objects.create(household=household, keeper=keeper, role=Membership.Role.OWNER)
    room = Room.objects.create(
        household=household,
        name="Back room",
        latitude_deg=52.9,
        longitude_deg=-3.4,
        time_zone=ZONE,
        day_c=21,
        night_c=18,
        summer_max_c=26,
        rh_pct=55,
    )
    for story in STORIES:
        _tell(story, household, room, keeper, today)
    return household


def _tell(story: dict[str, Any], household: Household, room: Room, keeper: Keeper, today: dt.date) -> None:
    animal = Animal.objects.create(
        household=household, name=story["name"], species=SPECIES, sex=story["sex"],
        born_on=today - dt.timedelta(days=round(story["months"] * 30.44)), fed_on=today - dt.timedelta(days=story["fed"]),
    )  # fmt: skip
    Weighing.objects.bulk_create(
        Weighing(animal=animal, on=today - dt.timedelta(days=ago), mass_g=grams) for ago, grams in story["weights"]
    )
    Length.objects.bulk_create(
        Length(animal=animal, on=today - dt.timedelta(days=ago), kind=Length.Kind.TOTAL, length_mm=mm)
        for ago, mm in story["lengths"]
    )
    since = _moment(today, max(ago for ago, _ in story["weights"]), 10)
    habitat = Habitat.objects.create(household=household, room=room, name=f"{story['name']}’s box", shelf=story["shelf"])
    Occupancy.objects.create(habitat=habitat, animal=animal, since=since)
    habitat = Habitat.objects.for_planning().get(pk=habitat.pk)
    sound = flows.spec_of(habitat.request_at(since, story["spec"]))  # the same check that every later change passes
    first = flows.begin(habitat, sound, keeper=keeper, now=since)
    Reading.objects.bulk_create(
        Reading(
            habitat=habitat, revision=first, need=need.value, value=value, offset=offset, at=_moment(today, ago, hour),
            instrument=instrument, lamp_on_h=lamp_on_h, taken_by=keeper,
        )
        for need, value, ago, hour, instrument, offset, lamp_on_h in story["readings"]
    )  # fmt: skip


def _move(household: Household, today: dt.date) -> None:
    """Move the demo's dates along, so that its readings do not grow stale on the shelf."""
    assert household.demo_day is not None
    days = dt.timedelta(days=(today - household.demo_day).days)
    if not days:
        return
    Weighing.objects.filter(animal__household=household).update(on=F("on") + days)
    Length.objects.filter(animal__household=household).update(on=F("on") + days)
    Animal.objects.filter(household=household, born_on__isnull=False).update(born_on=F("born_on") + days)
    Animal.objects.filter(household=household, fed_on__isnull=False).update(fed_on=F("fed_on") + days)
    Reading.objects.filter(habitat__household=household).update(at=F("at") + days)
    Revision.objects.filter(habitat__household=household).update(made_at=F("made_at") + days)
    Occupancy.objects.filter(habitat__household=household).update(since=F("since") + days, until=F("until") + days)
    household.demo_day = today
    household.save(update_fields=["demo_day"])
