"""Refusals of an enclosure's animals that are worth a word, for cards and daily emails alike."""

from husbandry.feeding.appetite import RefusalWarning, worry
from husbandry.seasons.brumation import is_dormant
from ridgeback.animals.models import Animal
from ridgeback.tasks.due_tasks import Due


def worries_of(due: Due) -> list[tuple[Animal, RefusalWarning]]:
    """What its animals' refusals mean today, but for what is usual in a condition period or a
    season.
    """
    if due.routines is None or due.done is None:
        return []
    found = []
    for n, (animal, known) in enumerate(zip(due.animals, due.routines.animals, strict=True)):
        dormancy = due.done.resting.get(n)
        told = worry(
            known.hunger_days,
            due.done.fed.get(n, ()),
            known.condition_periods,
            due.today,
            trend=known.trend_pct,
            winter=known.winter,
            resting=dormancy is not None and is_dormant(dormancy, due.today),
        )
        if told is not None and told.severity != "fact":
            found.append((animal, told))
    return found
