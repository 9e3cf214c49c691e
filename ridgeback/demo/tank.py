"""A tank of the demo that is still being built: half of its steps done, some of its items owned,
nobody in it yet.
"""

import datetime as dt
import functools
import json

from husbandry.documents.request import FORMAT
from husbandry.documents.request_json import from_data
from husbandry.setups.first_setup import suggest
from ridgeback.animals.models import Animal, Length, Weighing
from ridgeback.enclosures import flows
from ridgeback.enclosures.models import Enclosure, Revision
from ridgeback.households.models import Household, Keeper, Room

SPECIES, NAME = "Sternotherus odoratus", "Eddy"
ENCLOSURE = {
    "inside_m": {"length": 1.0, "depth": 0.5, "height": 0.55},
    "panels": dict.fromkeys(("front", "back", "left", "right", "bottom"), "glass"),
    "lid": {"material": "wood", "mesh": "quarter_inch", "mesh_share": 0.5},
    "substrate": {"material": "sand", "depth_m": 0.02},
    "vents": {"low_cm2": 0, "high_cm2": 0, "rise_m": 0},
}
FILTER_L_H = 400.0
BEGUN_DAYS, DONE = 9, (("stand", 8), ("holes", 8), ("seal", 7))
MASS_G, SHELL_MM = 118, 88
COMES_IN_DAYS = 16
OWNED = {"timer": 1, "hygrometer": 1, "thermometer": 1}


@functools.lru_cache(maxsize=8)
def _suggested(air: str) -> str:
    """The suggested tank in a room, as JSON: worked out once for all visitors."""
    animal = {"species": SPECIES, "mass_g": MASS_G, "length_mm": {"shell": SHELL_MM}}
    asked = {
        "format": FORMAT,
        "now": "2026-01-01T12:00:00+00:00",
        "room": json.loads(air),
        "animals": [animal],
        "enclosure": ENCLOSURE,
    }
    return json.dumps(flows.spec_of(suggest(from_data(asked))))


def plan_tank(
    household: Household, room: Room, keeper: Keeper, now: dt.datetime, today: dt.date
) -> Enclosure:
    """A turtle that is to come, and its tank as it is planned."""
    animal = Animal.objects.create(
        household=household,
        name=NAME,
        species=SPECIES,
        sex=Animal.Sex.MALE,
        born_on=today - dt.timedelta(days=900),
        fed_on=today,
        whereabouts=Animal.Whereabouts.ARRIVING,
        expected_on=today + dt.timedelta(days=COMES_IN_DAYS),
    )
    Weighing.objects.create(animal=animal, on=today, mass_g=MASS_G)
    Length.objects.create(animal=animal, on=today, kind="shell", length_mm=SHELL_MM)
    enclosure = Enclosure.objects.create(
        household=household, room=room, name=f"{NAME}’s tank", shelf="Window end", hidden_seed=173
    )
    flows.plan_for(enclosure, animal, now=now)
    enclosure = Enclosure.objects.for_planning().get(pk=enclosure.pk)
    spec = json.loads(_suggested(json.dumps(room.air(), sort_keys=True)))
    for item in spec["items"]:
        if item["kind"] == "pool":
            item["filter_l_h"] = FILTER_L_H
    flows.begin(enclosure, spec, keeper=keeper, now=now, state=Revision.State.PLANNED)
    enclosure.build = {
        "start": (today - dt.timedelta(days=BEGUN_DAYS)).isoformat(),
        "choices": [],
        "owned": OWNED,
        "each": {"timer": 9.0},
        "done": {slug: (today - dt.timedelta(days=ago)).isoformat() for slug, ago in DONE},
    }
    enclosure.save(update_fields=["build"])
    return enclosure


def move_builds(household: Household, days: dt.timedelta) -> None:
    """The days of its builds, moved along with the demo."""

    def later(day: str) -> str:
        return (dt.date.fromisoformat(day) + days).isoformat()

    for enclosure in Enclosure.objects.filter(household=household).exclude(build={}):
        kept = enclosure.build
        enclosure.build = {
            **kept,
            **({"start": later(kept["start"])} if kept.get("start") else {}),
            "done": {slug: later(day) for slug, day in kept.get("done", {}).items()},
        }
        enclosure.save(update_fields=["build"])
