"""What a scale sends by itself: a weight of the animal that lives there, or a question whose it is."""

import datetime as dt
from collections.abc import Mapping

from django.db import transaction

from husbandry.bounds import MASS_G
from husbandry.quantity import METRIC, Kind, QuantityEntry, show
from ridgeback import clock
from ridgeback.animals.flows import weigh
from ridgeback.animals.models import Animal, Weighing
from ridgeback.animals.plausibility import doubt_of_mass
from ridgeback.devices.models import ScaleWeight
from ridgeback.enclosures.models import Occupancy
from ridgeback.households.models import Household
from ridgeback.records.models import Channel
from ridgeback.species_guide.flows import profile_of

SAME_SHARE = 0.02
"""A weight of the same day that is so near the one that was logged is the same one (design choice) [1]."""
MOST_WAITING = 30
"""Weights that a page asks about at once, the latest first (design choice)."""


@transaction.atomic
def note_weights(channel: Channel, values: Mapping[int, float]) -> None:
    """Log what a scale showed, each value once: where it is plain whose it is, as a weight.

    Parameters
    ----------
    values : mapping
        By the second since 1970, as the scale showed them [g].
    """
    for at_s in sorted(values):
        mass_g = values[at_s] - channel.offset
        if not MASS_G[0] <= mass_g <= MASS_G[1]:
            continue
        at = dt.datetime.fromtimestamp(at_s, dt.UTC)
        found, is_new = ScaleWeight.objects.get_or_create(
            channel=channel, at=at, defaults={"mass_g": mass_g}
        )
        if is_new:
            _settle(found)


def _settle(weight: ScaleWeight) -> None:
    """Log a weight where one animal lives there and nothing speaks against it; else say what does."""
    rows = Occupancy.objects.present().filter(enclosure=weight.channel.enclosure_id)
    living = list(rows.select_related("animal__household")[:2])
    if len(living) != 1:
        weight.question = "Nobody lives here." if not living else "Several animals live here."
    elif weight.at < living[0].since:
        weight.question = "It was measured before the animal that lives here moved in."
    else:
        weight.question = _against(weight, living[0].animal)
    if weight.question:
        weight.save(update_fields=["question"])
    else:
        assign(weight, living[0].animal)


def _against(weight: ScaleWeight, animal: Animal) -> str:
    """What speaks against logging it by itself: a sentence, or nothing."""
    on = day_of(weight)
    same = _logged_on(animal, on)
    if same is not None and not _is_same(same, weight):
        return f"{animal.name} was weighed on this day: {show(same.mass_g, Kind.MASS)}."
    entry = QuantityEntry(weight.mass_g, Kind.MASS, weight.mass_g, "g", unit_assumed=False)
    profile = profile_of(animal.household, animal.species)
    doubt = doubt_of_mass(entry, animal, profile, on=on, units=METRIC)

    return "" if doubt is None else doubt.sentence[:300]


def day_of(weight: ScaleWeight) -> dt.date:
    """The day on which it was measured, by the household's clock."""
    household = weight.channel.enclosure.household

    return clock.day_in(household.time_zone, weight.at)


def _logged_on(animal: Animal, on: dt.date) -> Weighing | None:
    return animal.weighings.filter(on=on).order_by("-pk").first()


def _is_same(logged: Weighing, weight: ScaleWeight) -> bool:
    return abs(logged.mass_g - weight.mass_g) <= SAME_SHARE * logged.mass_g


@transaction.atomic
def assign(weight: ScaleWeight, animal: Animal) -> None:
    """Log a weight as an animal's; one that was logged on that day already is not logged twice."""
    held = ScaleWeight.objects.select_for_update().get(pk=weight.pk)
    if held.state == ScaleWeight.State.LOGGED:
        return
    on = day_of(weight)
    logged = _logged_on(animal, on)
    if logged is None or not _is_same(logged, held):
        logged = weigh(animal, on=on, mass_g=held.mass_g)
    held.state, held.animal, held.weighing = ScaleWeight.State.LOGGED, animal, logged
    held.save(update_fields=["state", "animal", "weighing"])


@transaction.atomic
def skip(weight: ScaleWeight) -> None:
    """It was no animal's: a hand on the scale, a dish."""
    rows = ScaleWeight.objects.filter(pk=weight.pk, state=ScaleWeight.State.WAITING)
    rows.update(state=ScaleWeight.State.SKIPPED)


def waiting_weights(household: Household) -> list[ScaleWeight]:
    """Those that a page asks about, the latest first."""
    rows = ScaleWeight.objects.of(household).waiting()

    return list(rows.select_related("channel__enclosure__household")[:MOST_WAITING])
