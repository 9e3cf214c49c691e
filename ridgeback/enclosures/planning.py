"""From rows to a plan, remembered by content: in this process for what is tried, in PostgreSQL for
what is kept.

A remembered body is found by the hash of everything it follows from: the request, the code and the
data files. So nothing needs to be
invalidated, any process may write it, and any row may go.
"""

import functools
import hashlib
import json
from collections.abc import Callable, Hashable, Iterable
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any, TypeVar

from husbandry.documents.request import Request
from husbandry.documents.request_json import to_data
from husbandry.documents.result import Plan
from husbandry.plan.plan import plan_with_prediction, prediction_of
from husbandry.predict.predict import Prediction
from ridgeback.enclosures.models import Derived

T = TypeVar("T")


@dataclass(frozen=True)
class Planned:
    """A request with its plan, and the physics behind it when a drawing asks for it."""

    request: Request
    plan: Plan
    shown: dict[Hashable, Any] = field(default_factory=dict, compare=False, repr=False)
    """What was drawn of it in this process, by what it depends on beside the plan."""

    @functools.cached_property
    def prediction(self) -> Prediction:
        """Solved again where the plan was remembered: a tenth of what the plan costs."""
        return prediction_of(self.request)

    def once(self, key: Hashable, make: Callable[[], T]) -> T:
        """What `make` makes, made once for each key while the plan is in this process."""
        if key not in self.shown:
            self.shown[key] = make()
        found: T = self.shown[key]
        return found

    def with_plan(self, plan: Plan) -> "Planned":
        """The same enclosure with another plan of its food: its drawings stay."""
        other = replace(self, plan=plan)
        if "prediction" in self.__dict__:
            other.__dict__["prediction"] = self.prediction
        return other


@functools.cache
def fingerprint() -> str:
    """Of the code and the data files that plans and pages are made by: another version shares no
    memory with this one.
    """
    root = Path(__file__).resolve().parents[2]
    digest = hashlib.sha256()
    for package in ("husbandry", "ridgeback"):
        for file in sorted((root / package).rglob("*")):
            if file.suffix in {".py", ".json", ".csv"} and "static" not in file.parts:
                digest.update(file.read_bytes())
    return digest.hexdigest()


def key_of(kind: str, data: Any) -> str:
    """The name under which something made from these JSON values is remembered."""
    text = json.dumps([kind, fingerprint(), data], sort_keys=True, ensure_ascii=False)
    return hashlib.sha256(text.encode("utf-8", "surrogatepass")).hexdigest()


def recall(keys: Iterable[str]) -> dict[str, str]:
    """What is remembered of these, in one query."""
    return dict(Derived.objects.filter(key__in=list(keys)).values_list("key", "body"))


def remember(bodies: dict[str, str]) -> None:
    """Keep for every process. Two that computed the same wrote the same: the first stays."""
    Derived.objects.bulk_create(
        [Derived(key=key, body=body) for key, body in bodies.items()], ignore_conflicts=True
    )


@functools.lru_cache(maxsize=64)
def _known(key: str) -> list[Planned]:
    """A place in this process's short memory."""
    return []


def planned(request: Request, *, keep: bool = True) -> Planned:
    """Plan a request, or find its plan again.

    `keep` False is for what is only tried: it stays in this process.
    """
    key = key_of("plan", to_data(request))
    place = _known(key)
    if not place:
        body = recall([key]).get(key) if keep else None
        if body is not None:
            place.append(Planned(request, Plan.model_validate_json(body)))
        else:
            plan, prediction = plan_with_prediction(request)
            made = Planned(request, plan)
            made.__dict__["prediction"] = prediction  # known already
            place.append(made)
            if keep:
                remember({key: plan.model_dump_json(exclude_none=True)})
    return place[0]
