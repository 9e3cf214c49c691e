"""From rows to a plan, and the request's JSON that gives the same plan on the command line."""

import datetime as dt
import functools
import json
from dataclasses import dataclass

from husbandry.planning.plan import plan_with_outcome
from husbandry.planning.predict import Outcome
from husbandry.planning.request import Request, from_text, to_data
from husbandry.planning.result import Plan


@dataclass(frozen=True)
class Planned:
    """A request with its plan and the physics behind it."""

    request: Request
    plan: Plan
    outcome: Outcome


@functools.lru_cache(maxsize=64)
def _planned(text: str) -> Planned:
    request = from_text(text)
    return Planned(request, *plan_with_outcome(request))


def planned(request: Request) -> Planned:
    """Plan a request; the same request is planned once per process, for a plan is a pure function of it."""
    return _planned(json.dumps(to_data(request), sort_keys=True))


def settle(now: dt.datetime) -> dt.datetime:
    """The moment a page is planned for: the present minute, so that a page and its fragments share one plan."""
    return now.replace(second=0, microsecond=0)
