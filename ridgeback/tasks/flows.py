"""Writing of a keeper's own paces and tasks."""

import datetime as dt

from django.db import transaction

from husbandry.tasks.schedules import OwnPace
from ridgeback.animals.models import Animal
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Keeper
from ridgeback.tasks.models import OWN, TaskSchedule


def _paced(pace: OwnPace) -> dict[str, object]:
    return {
        "every_days": pace.every_days,
        "weekdays": "".join(str(day) for day in sorted(pace.weekdays)),
    }


@transaction.atomic
def set_pace(
    whose: Enclosure | Animal, kind: str, pace: OwnPace | None, *, keeper: Keeper, today: dt.date
) -> None:
    """Keep a keeper's own pace of a task; None: as usual again."""
    own = {"enclosure": whose} if isinstance(whose, Enclosure) else {"animal": whose}
    if pace is None:
        TaskSchedule.objects.filter(**own, kind=kind).delete()
        return
    values = {**_paced(pace), "begins_on": today, "made_by": keeper}
    TaskSchedule.objects.update_or_create(**own, kind=kind, defaults=values)


@transaction.atomic
def add_own_task(
    whose: Enclosure | Animal, title: str, pace: OwnPace, *, begins: dt.date, keeper: Keeper
) -> TaskSchedule:
    """Add a task that the keeper thought of."""
    own = {"enclosure": whose} if isinstance(whose, Enclosure) else {"animal": whose}
    return TaskSchedule.objects.create(
        **own, kind=OWN, title=title, begins_on=begins, made_by=keeper, **_paced(pace)
    )
