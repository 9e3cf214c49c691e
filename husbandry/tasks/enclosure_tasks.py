"""What is due in an enclosure itself: a look, water, glass, moss, filter, readings, lamps."""

import datetime as dt
from typing import Any

from husbandry.tasks.routines import (
    BOX_DAYS,
    CLEAN_DAYS,
    DISH_DAYS,
    DISINFECT_DAYS,
    FILTER_DAYS,
    MOSS_DAYS,
    LampRoutine,
    Routines,
)
from husbandry.tasks.task import Done, Task, when

LAMP_AHEAD_DAYS = 14
"""A lamp is asked about so long before its end: it has to be bought (design choice) [days]."""


def of_enclosure(routines: Routines, done: Done, today: dt.date) -> list[Task]:
    """What is due in the enclosure itself on a day."""
    found = []

    def add(kind: str, stem: str, every_days: float, **more: Any) -> None:
        due = when(done, stem, every_days, today)
        if due is not None:
            never = (None, stem) not in done.last
            paced = done.paced(None, kind, every_days)
            found.append(Task(kind, stem, None, due, every_days=paced, never=never, **more))

    add("look", "look", 1)
    for one in routines.mistings:
        add("mist", f"mist {one.at}", one.every_days, at=one.at, amount=one.ml)
    if routines.dishes:
        add("water", "water", 1)
    for pool in routines.pools:
        add("pool", f"pool {pool.item_id}", pool.every_days, amount=pool.share * pool.litres)
    add("clean", "clean", CLEAN_DAYS)
    if routines.apart:
        add("disinfect", "disinfect", DISINFECT_DAYS)
    else:
        add("deep clean", "deep clean", routines.deep_days)
    if routines.dripper:
        add("dripper", "dripper", 1)
    if routines.dig_box:
        add("dig box", "dig box", BOX_DAYS)
    if routines.moss:
        add("moss", "moss", MOSS_DAYS)
    if routines.calcium_dish:
        add("calcium dish", "calcium dish", DISH_DAYS)
    if routines.filtered:
        add("filter", "filter", FILTER_DAYS)
    old = tuple(
        one.need
        for one in routines.reads
        if done.read.get(one.need, dt.date.min) + dt.timedelta(days=one.fresh_days) <= today
    )
    if old:
        days = [
            done.read[need]
            + dt.timedelta(days=next(r.fresh_days for r in routines.reads if r.need == need))
            for need in old
            if need in done.read
        ]
        found.append(Task("read", "read", None, min([*days, today]), needs=old))
    for lamp in routines.lamps:
        end = done.lamps_on + dt.timedelta(days=_left_days(lamp, done))
        asked = end - dt.timedelta(days=LAMP_AHEAD_DAYS)
        if asked <= today and done.last.get((None, f"lamp {lamp.item_id}"), dt.date.min) < asked:
            found.append(Task("lamp", f"lamp {lamp.item_id}", None, asked))
    return [*found, *_own(done, today)]


def _left_days(lamp: LampRoutine, done: Done) -> float:
    """Until a lamp is replaced: by the keeper's own interval, else by its ultraviolet [days]."""
    own = done.own.get((None, "lamp"))
    if own is None:
        return lamp.left_days
    return max(own.mean_days - lamp.burned_days, 0.0)


def _own(done: Done, today: dt.date) -> list[Task]:
    """Tasks that the keeper thought of, of the enclosure and of its animals."""
    found = []
    for one in done.own_tasks:
        stem = f"own {one.key}"
        last = done.last.get((one.animal, stem))
        due = one.begins if last is None else one.pace.next_after(last)
        if due <= today:
            every_days = one.pace.mean_days
            found.append(
                Task("own", stem, one.animal, due, every_days=every_days, title=one.title)
            )
    return found
