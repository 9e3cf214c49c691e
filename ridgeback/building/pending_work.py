"""What there is to do at an enclosure: all of it, or the last change; by the state that a page
names.
"""

from dataclasses import dataclass
from typing import Any

from husbandry.documents.request import EarlierState
from husbandry.documents.version_comparison import difference
from husbandry.predict.need_states import look
from ridgeback.building.shopping import BuildWork, shared_of, stands
from ridgeback.clock import now
from ridgeback.enclosures.models import Enclosure, Revision

WHOLE = "whole"
STATES_MOST = 12
"""So many earlier states can be begun from."""
CHANGES_KEPT = 6
"""Of so many changes what was said is kept."""


@dataclass(frozen=True)
class PendingWork:
    """What there is to do, and from which states it can be looked at."""

    works: BuildWork
    since: Revision | None
    """The state that a change began from; None for a whole enclosure."""
    states: tuple[Revision, ...]
    """Those that stood and were another, the latest first."""


def works_of(enclosure: Enclosure, asked_since: str = "") -> PendingWork:
    """What there is to do at an enclosure.

    Parameters
    ----------
    asked_since : str
        `WHOLE`, the number of a state that stood, or nothing: then a standing enclosure is looked
        at since it was last verified, or else since the state
        before the last change that was not undone, and as a whole where there is none.
    """
    asked = enclosure.request_at(now())
    shared = shared_of(enclosure)
    head = enclosure.head
    whole = BuildWork(asked, enclosure.build, owned=shared, standing=stands(enclosure))
    if head is None or not whole.standing:
        return PendingWork(whole, None, ())
    stood = enclosure.revisions.filter(
        number__lt=head.number, state=Revision.State.BUILT
    ).order_by("-number")[:STATES_MOST]
    states = {one.number: one for one in stood if difference(_earlier(one), asked).any}
    since = None if asked_since == WHOLE else _named(enclosure, states, asked_since)
    if since is None:
        return PendingWork(whole, None, tuple(states.values()))
    begins = enclosure.room.day_of(head.made_at)
    kept = enclosure.build.get("changes", {}).get(str(since.number), {})
    change = BuildWork(
        asked, kept, _earlier(since), frozenset(look(asked).targets), begins, shared, standing=True
    )
    return PendingWork(change, since, tuple(states.values()))


def _earlier(state: Revision) -> EarlierState:
    return EarlierState.model_validate({"revision": state.number, **state.spec})


def _named(enclosure: Enclosure, states: dict[int, Revision], asked: str) -> Revision | None:
    if asked.isdecimal() and int(asked) in states:
        return states[int(asked)]
    last = enclosure.commissionings.select_related("revision").first()
    if (
        last is not None and last.revision_id == enclosure.head_id
    ):  # verified as it stands: nothing is left to do
        return None
    if last is not None and last.revision.number in states:
        return states[last.revision.number]
    before = (
        enclosure.head.previous if enclosure.head is not None else None
    )  # what was undone was never done
    return states.get(before.number) if before is not None else None


def kept_with(
    build: dict[str, Any], since: Revision | None, said: dict[str, Any]
) -> dict[str, Any]:
    """What is kept of an enclosure's works with what was said now of the whole, or of the change
    since a state.
    """
    changes = dict(build.get("changes", {}))
    if since is None:
        return said | ({"changes": changes} if changes else {})
    changes[str(since.number)] = said
    latest = sorted(changes, key=int)[-CHANGES_KEPT:]
    return build | {"changes": {number: changes[number] for number in latest}}
