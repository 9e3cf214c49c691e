"""Findings as changes: what clears a finding and does no harm, planned again in full.

Method: docs/methods/judging.md.
"""

from collections.abc import Callable
from dataclasses import dataclass

from husbandry.advise import ChangeContext, safety
from husbandry.advise.context import Candidate
from husbandry.advise.finding_context import FindingContext, FindingProposal
from husbandry.advise.for_findings import has_proposals, proposals
from husbandry.advise.ranking import change_of
from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch
from husbandry.documents.result import Change, NeedState, Note
from husbandry.errors import DocumentError
from husbandry.predict.predict import Prediction

FINDINGS_MOST = 5
"""Findings for which a change is looked for (design choice)."""
TRIED_MOST = 3
"""Proposals that are planned again for one finding (design choice)."""
OF_CHANGES = frozenset({"no safe heat"})
"""Said where no change helps: of an enclosure whose changes are not looked for it says nothing."""


@dataclass(frozen=True)
class Judgement:
    """What is said of an enclosure."""

    notes: tuple[Note, ...]
    states: tuple[NeedState, ...]
    prediction: Prediction
    context: ChangeContext

    @property
    def said(self) -> set[str]:
        """Slugs of what may harm or could be better; not that something is to be measured."""
        return {
            note.slug
            for note in self.notes
            if note.severity != "fact" and not note.slug.startswith("unproven ")
        }

    @property
    def missed(self) -> set[str]:
        """Needs out of range."""
        return {
            str(state.key)
            for state in self.states
            if state.verdict.direction in {"below", "above"}
        }

    @property
    def wrong(self) -> set[str]:
        """Needs out of range, and apart from them the limits that are passed."""
        return self.missed | self.breached

    @property
    def breached(self) -> set[str]:
        """Limits that are passed."""
        return {f"limit {state.key}" for state in self.states if state.verdict.limit == "breached"}


def finding_changes(
    context: FindingContext, said: tuple[Note, ...], judge: Callable[[Request], Judgement]
) -> tuple[Change, ...]:
    """A change for each finding that one clears: dangers first, no two of one kind on one item.

    Parameters
    ----------
    said : tuple of Note
        What is said of the enclosure.
    judge : callable
        What is predicted of it with something changed, without its readings.
    """
    if not any(has_proposals(note.slug) for note in said):
        return ()
    known = judge(context.request)
    found: dict[tuple[str, str], Change] = {}
    cleared: set[str] = set()
    looked_for = 0
    for note in sorted(said, key=lambda note: _severity(note)):
        if note.slug in cleared or note.severity == "fact":
            continue
        change = _change_for(note.slug, context, known, judge)
        looked_for += change is not None
        if change is not None and (change.kind, change.item_id) not in found:
            found[change.kind, change.item_id] = change
            cleared |= set(change.clears)
        if looked_for >= FINDINGS_MOST:
            break

    return tuple(found.values())


def _severity(note: Note) -> int:
    return ("danger", "care", "fact").index(note.severity)


def in_order_of_harm(
    for_needs: tuple[Change, ...], mended: tuple[Change, ...], notes: tuple[Note, ...]
) -> tuple[Change, ...]:
    """What clears a danger, then what puts needs right, then what clears other findings."""
    dangers = {note.slug for note in notes if note.severity == "danger"}
    urgent = tuple(change for change in mended if dangers & set(change.clears))
    return (*urgent, *for_needs, *(change for change in mended if change not in urgent))


def _change_for(
    slug: str, context: FindingContext, known: Judgement, judge: Callable[[Request], Judgement]
) -> Change | None:
    for n, proposal in enumerate(proposals(context, slug)):
        if n >= TRIED_MOST:
            return None
        try:
            other = apply_patch(context.request, proposal.patch)
            after = judge(other)
        except DocumentError:
            continue
        if _clears(slug, known, after):
            return _change(slug, proposal, other, known, after)
    return None


def _clears(slug: str, known: Judgement, after: Judgement) -> bool:
    """Whether the finding is gone, or said once less, and nothing is wrong that was not."""
    count = [sum(note.slug == slug for note in one.notes) for one in (known, after)]
    new = after.said - known.said - OF_CHANGES
    return count[1] < count[0] and not new and after.wrong <= known.wrong


def _change(
    slug: str, proposal: FindingProposal, other: Request, known: Judgement, after: Judgement
) -> Change:
    candidate = Candidate(
        proposal.kind,
        proposal.item,
        proposal.values,
        proposal.effort,
        proposal.patch,
        proposal.rule,
        0.0,
    )
    values = {key: after.prediction.centre(key) for key in known.context.targets}
    risk = safety(after.context.now_failed_on, known.context.now_failed_on, known.context.targets)
    change = change_of(known.context, candidate, other, values, risk)
    gone = sorted({note.slug for note in known.notes} - {note.slug for note in after.notes})

    return change.model_copy(
        update={
            "clears": tuple(dict.fromkeys([slug, *gone])),
            "puts_right": len(known.missed) - len(after.missed),
            "clears_limit": bool(known.breached - after.breached),
        }
    )
