"""A tank of the demo that is still being built: half of its steps done, some of its things owned, nobody in it yet."""

import datetime as dt

from husbandry.planning.starter import suggest
from ridgeback.animals.models import Animal, Length, Weighing
from ridgeback.habitats import flows
from ridgeback.habitats.models import Habitat, Occupancy, Revision
from ridgeback.keepers.models import Household, Keeper, Room

SPECIES, NAME = "Sternotherus odoratus", "Eddy"
BOX = {
    "inside_m": {"length": 1.0, "depth": 0.5, "height": 0.55}, "panels": dict.fromkeys(("front", "back", "left", "right", "bottom"), "glass"),
    "lid": {"material": "wood", "mesh": "quarter_inch", "mesh_share": 0.5}, "ground": {"material": "sand", "depth_m": 0.02},
    "vents": {"low_cm2": 0, "high_cm2": 0, "rise_m": 0},
}  # fmt: skip
FILTER_L_H = 400.0
BEGUN_DAYS, DONE = 9, (("stand", 8), ("holes", 8), ("seal", 7))
OWNED = {"timer": 1, "hygrometer": 1, "thermometer": 1}


def plan_tank(household: Household, room: Room, keeper: Keeper, now: dt.datetime, today: dt.date) -> Habitat:
    """A turtle that is to come, and its tank as it is planned."""
    animal = Animal.objects.create(
        household=household, name=NAME, species=SPECIES, sex=Animal.Sex.MALE, born_on=today - dt.timedelta(days=900), fed_on=today
    )
    Weighing.objects.create(animal=animal, on=today, mass_g=118)
    Length.objects.create(animal=animal, on=today, kind="shell", length_mm=88)
    habitat = Habitat.objects.create(household=household, room=room, name=f"{NAME}’s tank", shelf="Window end", hidden_seed=173)
    Occupancy.objects.create(habitat=habitat, animal=animal, since=now)
    habitat = Habitat.objects.for_planning().get(pk=habitat.pk)
    fitted = suggest(habitat.request_at(now, {"box": BOX, "things": []}))
    spec = flows.spec_of(fitted)
    for thing in spec["things"]:
        if thing["kind"] == "pool":
            thing["filter_l_h"] = FILTER_L_H
    flows.begin(habitat, spec, keeper=keeper, now=now, state=Revision.State.PLANNED)
    habitat.build = {
        "start": (today - dt.timedelta(days=BEGUN_DAYS)).isoformat(), "choices": [], "owned": OWNED, "each": {"timer": 9.0},
        "done": {slug: (today - dt.timedelta(days=ago)).isoformat() for slug, ago in DONE},
    }  # fmt: skip
    habitat.save(update_fields=["build"])
    return habitat


def move_builds(household: Household, days: dt.timedelta) -> None:
    """The days of its builds, moved along with the demo."""

    def later(day: str) -> str:
        return (dt.date.fromisoformat(day) + days).isoformat()

    for habitat in Habitat.objects.filter(household=household).exclude(build={}):
        kept = habitat.build
        habitat.build = {
            **kept, **({"start": later(kept["start"])} if kept.get("start") else {}), "done": {slug: later(day) for slug, day in kept.get("done", {}).items()},
        }  # fmt: skip
        habitat.save(update_fields=["build"])
