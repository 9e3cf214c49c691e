"""A finding to be answered: the enclosure it is of, and what may be done about it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from husbandry.advise.context import Effort, Patch, Values
from husbandry.documents.request import Request
from husbandry.documents.result import ChangeKind
from husbandry.findings.substrate_findings import Living
from husbandry.items.union import Item
from husbandry.predict.predict import Prediction
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.targets.verdicts import TargetRange


@dataclass(frozen=True)
class FindingProposal:
    """Something to do about a finding."""

    kind: ChangeKind
    item: Item
    """What is changed or put in; else the item that the finding is of."""
    values: Values
    effort: Effort
    patch: Patch
    rule: str


@dataclass(frozen=True)
class FindingContext:
    """The enclosure whose findings are looked at."""

    request: Request
    prediction: Prediction
    animals: Sequence[Living]
    profile: Profile
    """Of the largest animal."""
    length_m: float
    """Of its body [m]."""
    targets: Mapping[NeedKey, TargetRange]

    @property
    def inside(self) -> dict[str, float]:
        """Inside length, depth and height [m]."""
        return self.request.enclosure.inside_m.model_dump()

    @property
    def substrate_m(self) -> float:
        """Mean depth of the substrate [m]."""
        return self.request.enclosure.substrate.depth_m

    def free_id(self, stem: str) -> str:
        """An id that nothing has yet."""
        taken = {item.id for item in self.request.items}
        return next(f"{stem}-{n}" for n in range(1, 99) if f"{stem}-{n}" not in taken)

    def from_warm(self, share: float) -> float:
        """Where along the enclosure a share of its length from the warm end lies [1]."""
        return share if self.prediction.warm_left else 1 - share
