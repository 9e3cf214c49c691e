"""Refusals of an enclosure's animals that are worth a word, for cards and letters alike."""

from husbandry.diet.appetite import Worry, worry
from husbandry.year.rest import in_rest
from ridgeback.animals.models import Animal
from ridgeback.rounds.due_tasks import Due


def worries_of(due: Due) -> list[tuple[Animal, Worry]]:
    """What its animals' refusals mean today, but for what is usual in a spell or a season."""
    if due.duties is None or due.done is None:
        return []
    found = []
    for n, (animal, known) in enumerate(zip(due.animals, due.duties.animals, strict=True)):
        rest = due.done.resting.get(n)
        told = worry(
            known.hunger_days, due.done.fed.get(n, ()), known.spells, due.today, trend=known.trend_pct, winter=known.winter,
            resting=rest is not None and in_rest(rest, due.today),
        )  # fmt: skip
        if told is not None and told.severity != "fact":
            found.append((animal, told))
    return found
