"""What the plan still says of a setup that is right: cover, depth, light; each answered by the plan's own
change, as whoever accepts every suggestion would.

Method: docs/methods/setup-solver.md.
"""

from dataclasses import replace

from husbandry.documents.request_json import apply_patch
from husbandry.errors import DocumentError
from husbandry.plan.plan import plan
from husbandry.setups.judged import Judged, judge
from husbandry.setups.refinement import Fitted

CHANGES_MOST = 6
"""Changes that are accepted in all (design choice)."""


def tidied(found: Fitted) -> Fitted:
    """The setup with every finding answered that a change of its plan answers without harm."""
    judged = found.judged
    for _ in range(CHANGES_MOST):
        better = _with_one_less(judged) if judged.closed and judged.findings else None
        if better is None:
            break
        judged = better
    return replace(found, judged=judged)


def _with_one_less(judged: Judged) -> Judged | None:
    """The setup after the first change that leaves fewer findings and nothing out of range."""
    for change in plan(judged.request).changes:
        if not set(change.clears) & set(judged.findings):
            continue
        try:
            other = judge(apply_patch(judged.request, change.patch))
        except DocumentError:  # two items in one place
            continue
        as_good = other.closed and other.edged <= judged.edged
        if as_good and len(other.findings) < len(judged.findings):
            return other
    return None
