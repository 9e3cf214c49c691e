"""The demo: one invented household with one room and four enclosures, each with its own animal and
its own story.

Everything here is made up. Dates are relative to the day it is loaded, and move along when the demo
is started on a later day.
"""

import datetime as dt
import zoneinfo
from typing import Any

from django.db import transaction
from django.db.models import F

from husbandry.errors import ImpossibleStateError
from husbandry.species.library import find
from husbandry.species.needs import NeedKey
from ridgeback import clock
from ridgeback.animals.models import Animal, ConditionPeriod, Length, Weighing
from ridgeback.breeding.models import Clutch, EggLook
from ridgeback.demo.lives import tell_lives
from ridgeback.demo.log_history import log_rounds
from ridgeback.demo.loggers import move_samples, tell_loggers
from ridgeback.demo.pen import plan_pen
from ridgeback.demo.reviews import tell_reviews
from ridgeback.demo.tank import move_builds, plan_tank
from ridgeback.enclosures import flows
from ridgeback.enclosures.models import Enclosure, Occupancy, Reading, Revision
from ridgeback.enclosures.simulated_readings import ROUND, take_readings
from ridgeback.households.models import Household, Keeper, Membership, Room
from ridgeback.log.models import LastDone, LogEntry
from ridgeback.pens.models import Outing
from ridgeback.permits.models import AnimalDocument
from ridgeback.reviews.models import EnclosureReview
from ridgeback.supplies.models import Stock
from ridgeback.treatments.models import Treatment

ZONE = "Europe/London"
DAY, UV_DAY = {"on": "07:30", "off": "19:30"}, {"on": "08:00", "off": "18:30"}


def _body(slug: str, kind: str, at: list[float], size: list[float], **more: Any) -> dict[str, Any]:
    return {"id": slug, "kind": kind, "at_m": at, "size_m": size, **more}


# Right: a gecko of dusk in a roomy enclosure, everything in its target range and measured lately.
BRAMBLE = {
    "enclosure": {
        "inside_m": {"length": 1.0, "depth": 0.5, "height": 0.5},
        "panels": {"front": "glass"},
        "lid": {"material": "wood"},
        "substrate": {"material": "soil", "depth_m": 0.06},
        "wetting": {"substrate": "damp"},
    },
    "items": [
        {
            "id": "lamp-1",
            "kind": "halogen_flood",
            "at_m": [0.22, 0.24, 0.42],
            "power_w": 35,
            "thermostat": {"set_c": 32.5, "probe": "surface"},
            **DAY,
        },
        {
            "id": "tube-1",
            "kind": "t5_6",
            "at_m": [0.34, 0.3, 0.44],
            "length_m": 0.55,
            "power_w": 24,
            "hours_run": 700,
            **UV_DAY,
        },
        {
            "id": "night-heat-1",
            "kind": "ceramic_emitter",
            "at_m": [0.4, 0.3, 0.37],
            "power_w": 60,
            "on": "20:00",
            "off": "07:30",
            "thermostat": {"set_c": 22, "probe": "warm_air"},
        },
        _body("stone-1", "slab", [0.22, 0.24, 0.06], [0.28, 0.22, 0.02], material="slate"),
        _body("hide-1", "hide", [0.48, 0.34, 0.06], [0.16, 0.14, 0.07]),
        _body("hide-2", "hide", [0.67, 0.34, 0.06], [0.16, 0.14, 0.08], moist=True),
        _body("hide-3", "hide", [0.88, 0.34, 0.06], [0.16, 0.14, 0.07]),
        _body("dish-1", "dish", [0.78, 0.13, 0.06], [0.1, 0.1, 0.02]),
    ],
}
# Too cold under the lamp: hung too high over a juvenile's stone.
PIP = {
    "enclosure": {
        "inside_m": {"length": 1.1, "depth": 0.5, "height": 0.55},
        "panels": {"front": "glass"},
        "lid": {"material": "wood", "mesh": "quarter_inch", "mesh_share": 0.25},
        "substrate": {"material": "soil", "depth_m": 0.05},
    },
    "items": [
        {
            "id": "lamp-1",
            "kind": "halogen_flood",
            "at_m": [0.24, 0.25, 0.50],
            "power_w": 50,
            **DAY,
        },
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
        _body("dish-1", "dish", [1.01, 0.14, 0.05], [0.12, 0.12, 0.02]),
    ],
}
# Ultraviolet too weak: a worn tube lies on fine mesh, far above the frog's branch.
SABLE = {
    "enclosure": {
        "inside_m": {"length": 0.6, "depth": 0.45, "height": 0.75},
        "panels": {
            "front": "glass",
            "back": "glass",
            "left": "glass",
            "right": "glass",
            "bottom": "glass",
        },
        "lid": {"material": "pvc_board", "mesh": "insect", "mesh_share": 0.4},
        "substrate": {"material": "soil", "depth_m": 0.08},
        "wetting": {
            "substrate": "damp",
            "mistings": [{"at": "08:00", "ml": 40}, {"at": "18:00", "ml": 60}],
            "nozzles_ml_s": 3,
            "tank_l": 4,
        },
    },
    "items": [
        {
            "id": "lamp-1",
            "kind": "incandescent_reflector",
            "at_m": [0.15, 0.22, 0.80],
            "power_w": 100,
            "above_lid": True,
            **DAY,
        },
        {
            "id": "tube-1",
            "kind": "t5_6",
            "at_m": [0.3, 0.25, 0.79],
            "length_m": 0.55,
            "power_w": 24,
            "above_lid": True,
            "hours_run": 6200,
            **UV_DAY,
        },
        _body("branch-1", "branch", [0.3, 0.24, 0.36], [0.42, 0.03, 0.03]),
        _body("branch-2", "branch", [0.36, 0.28, 0.22], [0.4, 0.03, 0.03]),
        _body("hide-1", "hide", [0.47, 0.3, 0.08], [0.14, 0.12, 0.1]),
        _body("plant-1", "plant", [0.11, 0.34, 0.08], [0.18, 0.18, 0.34]),
        _body("plant-2", "plant", [0.5, 0.1, 0.08], [0.16, 0.16, 0.2]),
        _body("dish-1", "dish", [0.32, 0.12, 0.08], [0.16, 0.16, 0.03]),
    ],
}
# Outgrown: a kingsnake still in the enclosure of its youth.
FATHOM = {
    "enclosure": {
        "inside_m": {"length": 0.8, "depth": 0.45, "height": 0.45},
        "panels": {"front": "glass"},
        "lid": {"material": "wood", "mesh": "quarter_inch", "mesh_share": 0.2},
        "substrate": {"material": "soil", "depth_m": 0.05},
    },
    "items": [
        {
            "id": "panel-1",
            "kind": "infrared_panel",
            "at_m": [0.18, 0.22, 0.43],
            "power_w": 40,
            "thermostat": {"set_c": 31.5, "probe": "placed", "probe_id": "probe-1"},
            **DAY,
        },
        {"id": "probe-1", "kind": "probe", "at_m": [0.2, 0.22, 0.07]},
        {
            "id": "tube-1",
            "kind": "t5_6",
            "at_m": [0.34, 0.32, 0.40],
            "length_m": 0.55,
            "power_w": 24,
            "hours_run": 400,
            **UV_DAY,
        },
        _body("stone-1", "slab", [0.18, 0.22, 0.05], [0.24, 0.22, 0.02], material="slate"),
        _body("hide-1", "hide", [0.40, 0.30, 0.05], [0.18, 0.18, 0.07]),
        _body("hide-2", "hide", [0.62, 0.30, 0.05], [0.2, 0.2, 0.07]),
        _body("dish-1", "dish", [0.62, 0.1, 0.05], [0.16, 0.14, 0.05]),
    ],
}

# How Bramble's enclosure came to be: days ago, why, and what its lamp was then. The demo's
# instruments read each state.
BEGINNINGS: list[tuple[int, str, dict[str, Any]]] = [
    (168, "as built", {"power_w": 50, "at_m": [0.22, 0.24, 0.46], "thermostat": None}),
    (
        150,
        "halogen flood: hung lower, at 40 cm",
        {"power_w": 50, "at_m": [0.22, 0.24, 0.40], "thermostat": None},
    ),
    (
        128,
        "halogen flood: 35 W instead of 50 W",
        {"power_w": 35, "at_m": [0.22, 0.24, 0.40], "thermostat": None},
    ),
    (
        104,
        "halogen flood: a thermostat at 34 °C",
        {
            "power_w": 35,
            "at_m": [0.22, 0.24, 0.42],
            "thermostat": {"set_c": 34, "probe": "surface"},
        },
    ),
]
TURNED_DOWN = (76, "halogen flood: thermostat to 32.5 °C")

# name, seed of the truth, shelf, spec, sex, months old, (days ago, g), (days ago, mm), fed days
# ago, (need, value, days ago, hour, instrument, offset, lamp on h)
STORIES: list[dict[str, Any]] = [
    {
        "name": "Bramble",
        "seed": 52,
        "species": "Hemitheconyx caudicinctus",
        "shelf": "Long wall",
        "spec": BRAMBLE,
        "sex": Animal.Sex.FEMALE,
        "months": 43,
        "fed": 2,
        "lengths": [(170, 201), (27, 204)],
        "weights": [
            (170, 55.2),
            (142, 56.0),
            (113, 56.4),
            (84, 57.1),
            (55, 57.0),
            (27, 58.2),
            (4, 58.0),
        ],
        "readings": [
            (NeedKey.SURFACE_DAY, 32.9, 5, 15, "infrared", 0.6, 7.5),
            (NeedKey.WARM_AIR_DAY, 27.1, 5, 15, "shaded_probe", 0.0, 7.5),
            (NeedKey.COOL_AIR_DAY, 24.4, 5, 15, "probe", 0.0, 7.5),
            (NeedKey.AIR_NIGHT, 21.7, 4, 6, "probe", 0.0, None),
            (NeedKey.UVI_DAY, 0.6, 31, 13, "uv", 0.0, 5.0),
            (NeedKey.HUMIDITY_DAY, 60.0, 1, 14, "hygrometer", 2.0, 6.5),
            (NeedKey.SURFACE_DAY, 33.4, 63, 15, "infrared", 0.6, 7.0),
            (NeedKey.COOL_AIR_DAY, 24.9, 63, 15, "probe", 0.0, 7.0),
        ],
    },
    {
        "name": "Pip",
        "seed": 276,
        "species": "Tiliqua scincoides",
        "shelf": "Long wall",
        "spec": PIP,
        "sex": Animal.Sex.UNKNOWN,
        "months": 6.4,
        "fed": 1,
        "weights": [(96, 41), (75, 52), (54, 66), (33, 79), (19, 88), (5, 96)],
        "lengths": [(96, 205), (33, 262), (5, 282)],
        "readings": [
            (NeedKey.SURFACE_DAY, 33.4, 1, 16, "infrared", 0.6, 8.5),
            (NeedKey.COOL_AIR_DAY, 24.1, 1, 16, "probe", 0.0, 8.5),
            (NeedKey.WARM_AIR_DAY, 25.2, 2, 9, "shaded_probe", 0.0, 1.5),
            (NeedKey.UVI_DAY, 3.0, 20, 13, "uv", 0.0, 5.0),
        ],
    },
    {
        "name": "Sable",
        "seed": 184,
        "species": "Dryophytes cinereus",
        "shelf": "Window end",
        "spec": SABLE,
        "sex": Animal.Sex.MALE,
        "months": 19,
        "fed": 1,
        "weights": [(150, 7.9), (92, 8.6), (36, 9.2), (8, 9.5)],
        "lengths": [(150, 48), (8, 52)],
        "readings": [
            (NeedKey.WARM_AIR_DAY, 24.3, 6, 15, "shaded_probe", 0.0, 7.5),
            (NeedKey.COOL_AIR_DAY, 23.4, 6, 15, "probe", 0.0, 7.5),
            (NeedKey.UVI_DAY, 0.2, 9, 13, "uv", 0.0, 5.0),
            (NeedKey.HUMIDITY_DAY, 66.0, 1, 14, "hygrometer", 2.0, 6.0),
            (NeedKey.HUMIDITY_NIGHT, 84.0, 1, 6, "hygrometer", 2.0, None),
        ],
    },
    {
        "name": "Fathom",
        "seed": 160,
        "species": "Lampropeltis californiae",
        "shelf": "Window end",
        "spec": FATHOM,
        "sex": Animal.Sex.FEMALE,
        "months": 38,
        "fed": 6,
        "weights": [(190, 318), (130, 341), (70, 366), (12, 391)],
        "lengths": [(190, 935), (12, 1020)],
        "readings": [
            (NeedKey.SURFACE_DAY, 32.2, 8, 15, "infrared", 0.6, 7.5),
            (NeedKey.WARM_AIR_DAY, 27.0, 8, 15, "shaded_probe", 0.0, 7.5),
            (NeedKey.COOL_AIR_DAY, 24.3, 8, 15, "probe", 0.0, 7.5),
            (NeedKey.HUMIDITY_DAY, 51.0, 2, 14, "hygrometer", 2.0, 6.0),
        ],
    },
]


def _moment(today: dt.date, days_ago: float, hour: int) -> dt.datetime:
    day = today - dt.timedelta(days=days_ago)
    return dt.datetime(day.year, day.month, day.day, hour, 10, tzinfo=zoneinfo.ZoneInfo(ZONE))


@transaction.atomic
def load(now: dt.datetime, *, beginnings: bool = True) -> Household:
    """Make the demo household once.

    A second call returns the one that is there, its dates moved to today.

    `beginnings` False leaves out how Bramble's enclosure came to be: two seconds of simulated
    readings.
    """
    today = clock.day_in(ZONE, now)
    templates = Household.objects.filter(demo_day__isnull=False, visit_ends__isnull=True)
    there = templates.select_for_update().first()
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
        _tell(story, household, room, keeper, today, beginnings=beginnings)
    if beginnings:
        log_rounds(household, keeper, now, today)
        tell_lives(household, keeper, today)
        tell_loggers(household, now)
        tell_reviews(household, keeper, now)
        plan_tank(household, room, keeper, now, today)
        plan_pen(household, room)
    return household


def _tell(
    story: dict[str, Any],
    household: Household,
    room: Room,
    keeper: Keeper,
    today: dt.date,
    *,
    beginnings: bool,
) -> None:
    animal = Animal.objects.create(
        household=household,
        name=story["name"],
        species=story["species"],
        sex=story["sex"],
        born_on=today - dt.timedelta(days=round(story["months"] * 30.44)),
        fed_on=today - dt.timedelta(days=story["fed"]),
    )
    _tell_weights(animal, story, today)
    since = _moment(today, max(ago for ago, _ in story["weights"]), 10)
    enclosure = Enclosure.objects.create(
        household=household,
        room=room,
        name=f"{story['name']}’s enclosure",
        shelf=story["shelf"],
        hidden_seed=story["seed"],
        outlet=f"Strip, {story['shelf'].lower()}",
        circuit="Fuse 4",
    )
    Occupancy.objects.create(enclosure=enclosure, animal=animal, since=since)
    enclosure = Enclosure.objects.for_planning().get(pk=enclosure.pk)
    sound = flows.spec_of(
        enclosure.request_at(since, story["spec"])
    )  # the same check that every later change passes
    storied = beginnings and story["spec"] is BRAMBLE
    first = (
        _beginnings(enclosure, sound, keeper, today)
        if storied
        else flows.begin(enclosure, sound, keeper=keeper, now=since)
    )
    Reading.objects.bulk_create(
        Reading(
            enclosure=enclosure,
            revision=first,
            need=need.value,
            value=value,
            offset=offset,
            at=_moment(today, ago, hour),
            instrument=instrument,
            lamp_on_h=lamp_on_h,
            taken_by=keeper,
            room_c=room.night_c if need is NeedKey.AIR_NIGHT else room.day_c,
        )
        for need, value, ago, hour, instrument, offset, lamp_on_h in story["readings"]
    )


def _tell_weights(animal: Animal, story: dict[str, Any], today: dt.date) -> None:
    """Write the weights of an animal's story."""
    Weighing.objects.bulk_create(
        Weighing(animal=animal, on=today - dt.timedelta(days=ago), mass_g=grams)
        for ago, grams in story["weights"]
    )
    Length.objects.bulk_create(
        Length(
            animal=animal,
            on=today - dt.timedelta(days=ago),
            kind=find(animal.species).body.length_kind,
            length_mm=mm,
        )
        for ago, mm in story["lengths"]
    )


def _beginnings(
    enclosure: Enclosure, final: dict[str, Any], keeper: Keeper, today: dt.date
) -> Revision:
    """The states before the present one, each read two days after it was made; then the present
    one.
    """
    made = None
    for ago, reason, lamp in BEGINNINGS:
        items = [{**item, **lamp} if item["id"] == "lamp-1" else item for item in final["items"]]
        spec = {
            **final,
            "items": [
                {name: value for name, value in item.items() if value is not None}
                for item in items
            ],
        }
        made = flows.revise(
            enclosure,
            spec,
            previous=made,
            reason=reason,
            keeper=keeper,
            now=_moment(today, ago, 10),
        )
        there = Enclosure.objects.for_planning().get(pk=enclosure.pk)
        take_readings(
            there,
            [key for key in ROUND if key is not NeedKey.AIR_NIGHT],
            keeper=keeper,
            now=_moment(today, ago - 2, 16),
        )
    return flows.revise(
        enclosure,
        final,
        previous=made,
        reason=TURNED_DOWN[1],
        keeper=keeper,
        now=_moment(today, TURNED_DOWN[0], 10),
    )


def _move(household: Household, today: dt.date) -> None:
    """Move the demo's dates along, so that its readings do not grow stale on the shelf."""
    if household.demo_day is None:
        raise ImpossibleStateError("missing: household.demo_day")
    days = dt.timedelta(days=(today - household.demo_day).days)
    if not days:
        return
    Weighing.objects.filter(animal__household=household).update(on=F("on") + days)
    Length.objects.filter(animal__household=household).update(on=F("on") + days)
    Animal.objects.filter(household=household, born_on__isnull=False).update(
        born_on=F("born_on") + days
    )
    Animal.objects.filter(household=household, fed_on__isnull=False).update(
        fed_on=F("fed_on") + days
    )
    Animal.objects.filter(household=household, condition_on__isnull=False).update(
        condition_on=F("condition_on") + days
    )
    Animal.objects.filter(household=household, taming_since__isnull=False).update(
        taming_since=F("taming_since") + days
    )
    EnclosureReview.objects.filter(household=household).update(made_at=F("made_at") + days)
    ConditionPeriod.objects.filter(animal__household=household).update(
        since=F("since") + days, until=F("until") + days
    )
    Clutch.objects.filter(household=household).update(
        laid_on=F("laid_on") + days, ended_on=F("ended_on") + days
    )
    Treatment.objects.filter(animal__household=household).update(
        begins=F("begins") + days, ends=F("ends") + days, stopped_on=F("stopped_on") + days
    )
    AnimalDocument.objects.filter(animal__household=household).update(
        issued_on=F("issued_on") + days, expires_on=F("expires_on") + days
    )
    EggLook.objects.filter(clutch__household=household).update(on=F("on") + days)
    Reading.objects.filter(enclosure__household=household).update(at=F("at") + days)
    Revision.objects.filter(enclosure__household=household).update(made_at=F("made_at") + days)
    Occupancy.objects.filter(enclosure__household=household).update(
        since=F("since") + days, until=F("until") + days, moved_in_at=F("moved_in_at") + days
    )
    LogEntry.objects.filter(household=household).update(
        on=F("on") + days, at=F("at") + days, touched_at=F("touched_at") + days
    )
    LastDone.objects.filter(enclosure__household=household).update(on=F("on") + days)
    Outing.objects.filter(pen__household=household).update(
        out_at=F("out_at") + days, in_at=F("in_at") + days
    )
    Stock.objects.filter(household=household).update(
        came_on=F("came_on") + days,
        opened_on=F("opened_on") + days,
        best_before=F("best_before") + days,
    )
    move_builds(household, days)
    move_samples(household, days)
    household.demo_day = today
    household.save(update_fields=["demo_day"])
