"""What is due in an enclosure itself: a look, water, glass, moss, filter, readings, lamps."""

import datetime as dt

from husbandry.chores.chore import Chore, Done, when
from husbandry.chores.duties import CLEAN_DAYS, DISH_DAYS, FILTER_DAYS, MOSS_DAYS, Duties, Kind

LAMP_AHEAD_DAYS = 14
"""A lamp is asked about so long before its end: it has to be bought (design choice) [days]."""


def of_box(duties: Duties, done: Done, today: dt.date) -> list[Chore]:
    """What is due in the enclosure itself on a day."""
    found = []

    def add(kind: Kind, stem: str, every_days: float, **more: object) -> None:
        due = when(done, stem, every_days, today)
        if due is not None:
            found.append(Chore(kind, stem, None, due, every_days=every_days, never=(None, stem) not in done.last, **more))  # type: ignore[arg-type]  # fields of a chore

    add("look", "look", 1)
    for one in duties.mistings:
        add("mist", f"mist {one.at}", 1, at=one.at, amount=one.ml)
    if duties.dishes:
        add("water", "water", 1)
    for pool in duties.pools:
        add("pool", f"pool {pool.thing_id}", pool.every_days, amount=pool.share * pool.litres)
    add("clean", "clean", CLEAN_DAYS)
    add("deep clean", "deep clean", duties.deep_days)
    if duties.moss:
        add("moss", "moss", MOSS_DAYS)
    if duties.calcium_dish:
        add("calcium dish", "calcium dish", DISH_DAYS)
    if duties.filtered:
        add("filter", "filter", FILTER_DAYS)
    old = tuple(
        one.need for one in duties.reads if done.read.get(one.need, dt.date.min) + dt.timedelta(days=one.fresh_days) <= today
    )
    if old:
        days = [
            done.read[need] + dt.timedelta(days=next(r.fresh_days for r in duties.reads if r.need == need))
            for need in old
            if need in done.read
        ]
        found.append(Chore("read", "read", None, min([*days, today]), needs=old))
    for lamp in duties.lamps:
        end = done.lamps_on + dt.timedelta(days=lamp.left_days)
        asked = end - dt.timedelta(days=LAMP_AHEAD_DAYS)
        if asked <= today and done.last.get((None, f"lamp {lamp.thing_id}"), dt.date.min) < asked:
            found.append(Chore("lamp", f"lamp {lamp.thing_id}", None, asked))
    return found
