"""From the enclosure as it is to a setup that keeps every range: the fewest things to do, in the
order in which they are done, with what is still wrong after each.
"""

from collections.abc import Iterator
from typing import Literal

from husbandry.derivation import Document
from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data, to_data
from husbandry.enclosure.equipment import UV_LAMPS
from husbandry.errors import DocumentError
from husbandry.items.union import Item
from husbandry.plan.plan import plan
from husbandry.setups.existing_enclosure import is_fitting
from husbandry.setups.judged import judge
from husbandry.species.needs import NeedKey

Action = Literal["settings", "furniture", "replace", "move", "add", "remove"]
_ItemChange = tuple[Action, Item | None, Item | None]
STAYS_M = 0.02
"""What stands nearer to where it stood was not moved (design choice) [m]."""


class Missed(Document):
    """A need that a setup misses."""

    key: NeedKey
    direction: str
    by: float
    """[the need's unit]"""
    value: float
    """What the plan predicts of it [the need's unit]."""


class Step(Document):
    """One thing to do."""

    action: Action
    old: Item | None = None
    """What is taken away or moved."""
    new: Item | None = None
    """What comes in its place, or where it comes to."""
    missed: tuple[Missed, ...]
    """What is still out of range after it."""


def missed_of(request: Request) -> tuple[Missed, ...]:
    """What the plan finds out of range."""
    return tuple(
        Missed(
            key=need.key,
            direction=need.verdict.direction,
            by=need.verdict.by,
            value=need.predicted.value,
        )
        for need in plan(request, advise=False).needs
        if need.verdict.direction in {"below", "above"} and need.predicted is not None
    )


def steps_to(now: Request, then: Request) -> tuple[tuple[Step, ...], Request]:
    """The fewest things that lead from one setup to one that keeps every range, on the way to
    another of the same enclosure; and what they come to.

    Parameters
    ----------
    now, then : Request
        The enclosure as it is, and one in which every need is in range.
    """
    now = now.model_copy(update={"readings": ()})  # they say nothing of what will be there
    if judge(now).closed:
        return (), now
    things = list(_item_changes(now, then))
    for thing in list(things):
        without = [other for other in things if other is not thing]
        try:
            if judge(_done(now, then, without)).closed:
                things = without
        except DocumentError:  # it cannot be without this
            continue
    found = []
    for count, (action, old, new) in enumerate(things, start=1):
        try:
            missed = missed_of(_done(now, then, things[:count]))
        except DocumentError:  # one step further it can be
            missed = ()
        found.append(Step(action=action, old=old, new=new, missed=missed))

    return tuple(found), _done(now, then, things)


def _done(now: Request, then: Request, things: list[_ItemChange]) -> Request:
    """The enclosure after some things are done. Raises `DocumentError`."""
    state = to_data(now)
    for action, old, new in things:
        if action == "settings":
            state = {**state, "enclosure": to_data(then)["enclosure"]}
        elif action == "furniture":
            fittings = [item for item in state["items"] if _is_one_of(now, item["id"])]
            state = {**state, "items": [*_furniture(then), *fittings]}
        else:
            kept = [item for item in state["items"] if old is None or item["id"] != old.id]
            added = [] if new is None else [_named_apart(new, kept)]
            state = {**state, "items": [*kept, *added]}

    return from_data(state)


def _item_changes(
    now: Request, then: Request
) -> Iterator[tuple[Action, Item | None, Item | None]]:
    """Lid and vents, furniture, then lamp by lamp: replaced, moved, added, taken away."""
    if now.enclosure != then.enclosure:
        yield "settings", None, None
    if _furniture(now) != _furniture(then):
        yield "furniture", None, None
    before = [item for item in now.items if is_fitting(item)]
    after = [item for item in then.items if is_fitting(item)]
    for item in list(after):
        same = next((one for one in before if _same(one, item)), None)
        if same is not None:
            before.remove(same)
            after.remove(item)
            if not _stays(same, item):
                yield "move", same, item
    for item in list(after):
        other = next((one for one in before if _role(one) == _role(item)), None)
        if other is not None:
            before.remove(other)
            after.remove(item)
            yield "replace", other, item
    for item in after:
        yield "add", None, item
    for item in before:
        yield "remove", item, None


def _furniture(request: Request) -> list[dict[str, object]]:
    return [
        item.model_dump(mode="json", exclude_none=True)
        for item in request.items
        if not is_fitting(item)
    ]


def _is_one_of(request: Request, item_id: str) -> bool:
    return any(item.id == item_id and is_fitting(item) for item in request.items)


def _named_apart(item: Item, others: list[dict[str, object]]) -> dict[str, object]:
    data = item.model_dump(mode="json", exclude_none=True)
    taken = {other["id"] for other in others}
    while data["id"] in taken:
        data["id"] = f"{data['id']}-new"
    return data


def _same(one: Item, other: Item) -> bool:
    return (one.kind, one.watts, one.long_m) == (other.kind, other.watts, other.long_m)


def _stays(one: Item, other: Item) -> bool:
    near = all(abs(a - b) <= STAYS_M for a, b in zip(one.at_m, other.at_m, strict=True))
    return near and one.held == other.held


def _role(item: Item) -> str:
    if item.kind in UV_LAMPS:
        return "ultraviolet"
    return "heat" if item.is_heater else "moisture"
