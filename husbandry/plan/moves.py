"""What a move of animals into an enclosure would bring: whom they meet, the room, the climate; judged
before anybody is carried.

The enclosure is planned with them in it; what is wrong then and was not before is said, the worst
first. Method: docs/methods/judging.md.
"""

from collections.abc import Iterator
from typing import Literal

from husbandry.derivation import Document
from husbandry.documents.request import Request
from husbandry.documents.result import COMPANY, NeedState, Note, Plan
from husbandry.plan.plan import plan
from husbandry.quantity import METRIC, Kind, Units, show
from husbandry.species.needs import NEEDS

SHARED = "quarantine shared"
CARRIED = frozenset({COMPANY, SHARED})
"""Notes that speak of who meets whom."""


class MoveFinding(Document):
    """One thing that speaks against a move."""

    slug: str
    severity: Literal["danger", "care"]
    text: str


def judge_move(
    after: Request, before: Request | None = None, units: Units = METRIC
) -> tuple[MoveFinding, ...]:
    """Judge an enclosure with its new animals in it.

    Parameters
    ----------
    after : Request
        With the animals that would live there.
    before : Request, optional
        As it is now; None where nobody lives there. What was wrong already is not said again.
    units : Units
        Of the reader.
    """
    new = plan(after, advise=False)
    old = plan(before, advise=False) if before is not None else None
    known = {(note.slug, note.text) for note in old.notes} if old is not None else set()
    met = [note for note in new.notes if _is_of_company(note)]
    found = [
        MoveFinding(slug=note.slug, severity=_severity(note), text=note.text)
        for note in met
        if (note.slug, note.text) not in known
    ]
    found += _too_small(new, old, units)
    found += _out_of_range(new, old, units)
    return tuple(sorted(found, key=lambda one: one.severity != "danger"))


def _is_of_company(note: Note) -> bool:
    return note.slug in CARRIED or note.slug.startswith("conflict ")


def _severity(note: Note) -> Literal["danger", "care"]:
    """What a new animal carries is passed on before it shows."""
    return "danger" if note.severity == "danger" or note.slug == SHARED else "care"


def _too_small(new: Plan, old: Plan | None, units: Units) -> Iterator[MoveFinding]:
    if new.size.enough or (old is not None and not old.size.enough):
        return
    short = " and ".join(
        f"{side.name} {show(side.actual_m, Kind.LENGTH, units)},"
        f" needed {show(side.needed_m, Kind.LENGTH, units)}"
        for side in new.size.sides
        if not side.enough
    )
    yield MoveFinding(slug="size", severity="care", text=f"Too small then: {short}.")


def _out_of_range(new: Plan, old: Plan | None, units: Units) -> Iterator[MoveFinding]:
    """Needs that are missed with them in it; the farthest out of its range first."""
    wrong_before = {state.key for state in old.needs if _is_wrong(state)} if old else set()
    wrong = [state for state in new.needs if _is_wrong(state) and state.key not in wrong_before]
    for state in sorted(wrong, key=lambda one: one.verdict.by, reverse=True):
        if state.predicted is None:
            continue
        kind = NEEDS[state.key]
        is_low = state.verdict.direction == "below"
        end = state.low if is_low else state.high
        if end is None:
            continue
        least = "at least" if is_low else "at most"
        text = (
            f"{kind.name}: {show(state.predicted.value, kind.kind, units)} predicted,"
            f" {least} {show(end.value, kind.kind, units)} needed."
        )
        yield MoveFinding(slug=state.key.value, severity="care", text=text)


def _is_wrong(state: NeedState) -> bool:
    return state.verdict.direction in {"below", "above"}
