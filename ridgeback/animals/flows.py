"""Writes about animals.

Each is one transaction; its enclosure is looked at again, and its growth is worked out by a worker.
"""

import datetime as dt
from collections.abc import Mapping, Sequence

from django.db import transaction

from ridgeback.animals.models import Animal, ConditionPeriod, Length, Weighing
from ridgeback.background import ask_for_lives
from ridgeback.households.models import Household


def _look_again(animal: Animal) -> None:
    animal.occupancies.present().look_again()
    ask_for_lives(animal.household)


@transaction.atomic
def weigh(animal: Animal, *, on: dt.date, mass_g: float) -> Weighing:
    """Log a mass [g]."""
    made = Weighing.objects.create(animal=animal, on=on, mass_g=mass_g)
    _look_again(animal)
    return made


@transaction.atomic
def weigh_many(
    household: Household, weights: Sequence[tuple[Animal, float]], *, on: dt.date
) -> None:
    """Log masses of one day together [g]."""
    Weighing.objects.bulk_create(
        Weighing(animal=animal, on=on, mass_g=mass_g) for animal, mass_g in weights
    )
    for animal, _ in weights:
        animal.occupancies.present().look_again()
    ask_for_lives(household)


@transaction.atomic
def measure(animal: Animal, *, on: dt.date, kind: str, length_mm: float) -> Length:
    """Log a length [mm]."""
    made = Length.objects.create(animal=animal, on=on, kind=kind, length_mm=length_mm)
    _look_again(animal)
    return made


@transaction.atomic
def forget_weight(animal: Animal, pk: int) -> bool:
    """Take a wrong weighing away."""
    gone, _ = Weighing.objects.filter(animal=animal, pk=pk).delete()
    _look_again(animal)
    return bool(gone)


@transaction.atomic
def forget_length(animal: Animal, pk: int) -> bool:
    """Take a wrong measuring away."""
    gone, _ = Length.objects.filter(animal=animal, pk=pk).delete()
    _look_again(animal)
    return bool(gone)


@transaction.atomic
def set_facts(
    animal: Animal,
    *,
    name: str,
    sex: str,
    born_on: dt.date | None,
    came_on: dt.date | None,
    whereabouts: str = "",
    expected_on: dt.date | None = None,
    place_note: str = "",
) -> None:
    """Its name, sex, birth and arrival, and where it is."""
    animal.name = name
    animal.sex = sex
    animal.born_on = born_on
    animal.came_on = came_on
    animal.whereabouts = whereabouts
    animal.expected_on = expected_on
    animal.place_note = place_note
    animal.version += 1
    animal.save(
        update_fields=[
            "name",
            "sex",
            "born_on",
            "came_on",
            "whereabouts",
            "expected_on",
            "place_note",
            "version",
        ]
    )
    _look_again(animal)


@transaction.atomic
def set_approaches(animal: Animal, approaches: Mapping[str, str]) -> None:
    """By which approaches it is kept."""
    animal.approaches = dict(approaches)
    animal.version += 1
    animal.save(update_fields=["approaches", "version"])
    _look_again(animal)


@transaction.atomic
def begin_condition_period(animal: Animal, *, kind: str, since: dt.date, note: str = "") -> bool:
    """A condition period begins. False when one of its kind goes on already."""
    if (
        ConditionPeriod.objects.select_for_update()
        .filter(animal=animal, kind=kind, until__isnull=True)
        .exists()
    ):
        return False
    ConditionPeriod.objects.create(animal=animal, kind=kind, since=since, note=note)
    _look_again(animal)
    return True


@transaction.atomic
def end_condition_period(condition_period: ConditionPeriod, *, until: dt.date) -> bool:
    """A condition period is over. False when it was already."""
    done = ConditionPeriod.objects.filter(pk=condition_period.pk, until__isnull=True).update(
        until=max(until, condition_period.since)
    )
    _look_again(condition_period.animal)
    return bool(done)


@transaction.atomic
def depart(animal: Animal, *, gone: str, on: dt.date, now: dt.datetime) -> None:
    """It died or is another's from that day: it leaves its enclosure, and nothing more comes round
    for it. Its book stays.
    """
    here = animal.occupancies.select_for_update().present()
    here.look_again()
    here.update(until=now)
    animal.occupancies.planned().delete()
    ConditionPeriod.objects.filter(animal=animal, until__isnull=True).update(until=on)
    animal.gone = gone
    animal.gone_on = on
    animal.whereabouts = ""
    animal.expected_on = None
    animal.place_note = ""
    animal.save(update_fields=["gone", "gone_on", "whereabouts", "expected_on", "place_note"])


@transaction.atomic
def return_(animal: Animal) -> None:
    """It was a slip, or it came back: it is of the household again, in no enclosure yet."""
    animal.gone = ""
    animal.gone_on = None
    animal.save(update_fields=["gone", "gone_on"])
    _look_again(animal)


@transaction.atomic
def set_taming(animal: Animal, since: dt.date | None) -> None:
    """Its taming begins on a day, or is left."""
    animal.taming_since = since
    animal.save(update_fields=["taming_since"])


@transaction.atomic
def set_condition(animal: Animal, *, score: int, on: dt.date) -> None:
    """The condition of one that lives in no enclosure; of the others the ledger has every score."""
    animal.condition = score
    animal.condition_on = on
    animal.save(update_fields=["condition", "condition_on"])
