"""A move judged by the plan of the enclosure with its new animals in it."""

import datetime as dt
from collections.abc import Sequence
from functools import partial
from typing import Any, NamedTuple

from husbandry.documents.request import Request
from husbandry.plan.moves import MoveFinding, judge_move
from husbandry.quantity import Units
from husbandry.species.needs import NeedKey
from ridgeback.calculation import Failed, attempt
from ridgeback.enclosures.models import Enclosure

CLIMATE = frozenset(NeedKey)
"""Findings of needs, by their slugs."""


class JudgedMove(NamedTuple):
    """What speaks against a move; or why nothing can be said of it."""

    findings: tuple[MoveFinding, ...]
    failed: str = ""

    @property
    def danger(self) -> bool:
        """Whether it would do harm."""
        return any(finding.severity == "danger" for finding in self.findings)

    @property
    def asks(self) -> bool:
        """Whether it is confirmed before it is done: it does harm, or nobody can say."""
        return self.danger or bool(self.failed)


def judged(
    enclosure: Enclosure, newcomers: Sequence[dict[str, Any]], now: dt.datetime, units: Units
) -> JudgedMove:
    """Judge newcomers in an enclosure that was fetched for planning.

    Parameters
    ----------
    newcomers : sequence of dict
        Animals as a request writes them.
    """
    if enclosure.head is None:
        return JudgedMove((), "nothing is known of its layout")
    found = attempt(
        partial(_judged, enclosure, newcomers, now, units), "move into enclosure", enclosure.pk
    )
    if isinstance(found, Failed):
        return JudgedMove((), found.text)
    return JudgedMove(found)


def _judged(
    enclosure: Enclosure, newcomers: Sequence[dict[str, Any]], now: dt.datetime, units: Units
) -> tuple[MoveFinding, ...]:
    data = enclosure.request_data(now)
    pairs = zip(enclosure.present, data["animals"], strict=True)
    living = [animal for occupancy, animal in pairs if not occupancy.is_planned]
    before: Request | None = None
    if living:
        before = enclosure.request_at(now, animals=living)
    after = enclosure.request_at(now, animals=[*living, *newcomers])
    found = judge_move(after, before, units)
    if not enclosure.is_bare:
        return found
    # Nobody has told its lamps: of its climate nothing is known.
    return tuple(one for one in found if one.slug not in CLIMATE)
