"""What a weight says of an animal in its rest."""

from husbandry.quantity import Kind, Units, show
from husbandry.seasons.brumation import limits
from husbandry.species.library import find
from ridgeback.animals.models import Weighing
from ridgeback.log.models import LogEntry
from ridgeback.tasks.due_tasks import Due


def loss_while_dormant(due: Due, entry: LogEntry, units: Units) -> str:
    """What a weight that was just logged says of an animal in its rest; nothing for all others."""
    place = {animal.pk: n for n, animal in enumerate(due.animals)}
    n = place.get(entry.animal_id or 0)
    if (
        entry.stem != "weigh"
        or not entry.amount
        or n is None
        or due.done is None
        or n not in due.done.resting
    ):
        return ""
    animal = due.animals[n]
    rest_ = due.done.resting[n]
    base = (
        Weighing.objects.filter(animal=animal, on__gte=rest_.last_meal)
        .order_by("on", "pk")
        .first()
    )
    if base is None:
        return ""
    bounds = limits(find(animal.species), base.mass_g)
    lost = 1 - entry.amount / base.mass_g
    if entry.amount <= bounds.stop_g:
        return (
            f"{animal.name} has lost {lost:.0%} since its last meal: end the rest today, warm it"
            " over some days, water first, and call a veterinarian."
        )
    if entry.amount <= bounds.look_g:
        ends = show(bounds.stop_g, Kind.MASS, units)
        return (
            f"{animal.name} has lost {lost:.0%} since its last meal: look at it and its water,"
            f" weigh it again in a week. At {ends} the rest ends."
        )
    return ""
