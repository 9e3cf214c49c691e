"""What there is to do at an enclosure: all of it, or the last change; by the state that a page names."""

from dataclasses import dataclass
from typing import Any

from husbandry.planning.need_states import look
from husbandry.planning.request import Earlier
from husbandry.planning.version_comparison import difference
from ridgeback.clock import now
from ridgeback.habitats.building import Works, shared_of, stands
from ridgeback.habitats.models import Habitat, Revision

WHOLE = "whole"
STATES_MOST = 12
"""So many earlier states can be begun from."""
CHANGES_KEPT = 6
"""Of so many changes what was said is kept."""


@dataclass(frozen=True)
class Undertaking:
    """What there is to do, and from which states it can be looked at."""

    works: Works
    since: Revision | None
    """The state that a change began from; None for a whole enclosure."""
    states: tuple[Revision, ...]
    """Those that stood and were another, the latest first."""


def works_of(habitat: Habitat, asked_since: str = "") -> Undertaking:
    """What there is to do at an enclosure.

    Parameters
    ----------
    asked_since : str
        `WHOLE`, the number of a state that stood, or nothing: then a standing enclosure is looked at since it was last proven, or else since the state
        before the last change that was not undone, and as a whole where there is none.
    """
    asked = habitat.request_at(now())
    shared, head = shared_of(habitat), habitat.head
    whole = Works(asked, habitat.build, owned=shared, standing=stands(habitat))
    if head is None or not whole.standing:
        return Undertaking(whole, None, ())
    stood = habitat.revisions.filter(number__lt=head.number, state=Revision.State.BUILT).order_by("-number")[:STATES_MOST]
    states = {one.number: one for one in stood if difference(_earlier(one), asked).any}
    since = None if asked_since == WHOLE else _named(habitat, states, asked_since)
    if since is None:
        return Undertaking(whole, None, tuple(states.values()))
    begins = habitat.room.day_of(head.made_at)
    kept = habitat.build.get("changes", {}).get(str(since.number), {})
    change = Works(asked, kept, _earlier(since), frozenset(look(asked).bands), begins, shared, standing=True)
    return Undertaking(change, since, tuple(states.values()))


def _earlier(state: Revision) -> Earlier:
    return Earlier.model_validate({"revision": state.number, **state.spec})


def _named(habitat: Habitat, states: dict[int, Revision], asked: str) -> Revision | None:
    if asked.isdecimal() and int(asked) in states:
        return states[int(asked)]
    last = habitat.proofs.select_related("revision").first()
    if last is not None and last.revision_id == habitat.head_id:  # proven as it stands: nothing is left to do
        return None
    if last is not None and last.revision.number in states:
        return states[last.revision.number]
    before = habitat.head.previous if habitat.head is not None else None  # what was undone was never done
    return states.get(before.number) if before is not None else None


def kept_with(build: dict[str, Any], since: Revision | None, said: dict[str, Any]) -> dict[str, Any]:
    """What is kept of an enclosure's works with what was said now of the whole, or of the change since a state."""
    changes = dict(build.get("changes", {}))
    if since is None:
        return said | ({"changes": changes} if changes else {})
    changes[str(since.number)] = said
    latest = sorted(changes, key=int)[-CHANGES_KEPT:]
    return build | {"changes": {number: changes[number] for number in latest}}
