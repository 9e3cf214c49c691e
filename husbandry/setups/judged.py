"""What the plan says of a suggested setup: right, at its edge, passed, or with something to say."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from husbandry.documents.request import Request
from husbandry.documents.result import NeedState, Note, Plan
from husbandry.plan.plan import plan_with_prediction
from husbandry.predict.chance import chance_of_all
from husbandry.predict.need_states import look
from husbandry.species.needs import NeedKey

STANDING = frozenset(
    {
        "fire",
        "electricity",
        "commission",
        "species",
        "treated water",
        "unproven uvi_day",
        "unproven surface_day",
        "unproven humidity_day",
        "unproven humidity_night",
        "unproven cool_air_day",
        "unproven warm_air_day",
        "ahead of its age",
        "energy",
        "contact",
        "fogger",
        "water heater",
        "dries fast",
        "hot day",
        "mat",
    }
)
"""Cautions that hold for every enclosure of its kind, however well it is built."""


@dataclass(frozen=True)
class Judged:
    """What the plan says of a setup."""

    request: Request
    wrong: Mapping[NeedKey, tuple[str, float]]
    """Needs out of range: below or above, and by how much [the need's unit]."""
    breached: int
    dangers: tuple[str, ...]
    cares: tuple[str, ...]
    missed: float
    """By how much needs are out of range, added up [the needs' units]."""
    chance: float = 0.0
    """Probability that all needs hold, before any reading; 0 where it was not asked [1]."""
    lamps: int = 1
    """In a row over the basking place, as many as warm the whole body."""
    dim_lx: float = 0.0
    """Light that its basking place lacks [lx]."""
    edged: int = 0
    """Needs that lie beside their range by less than an instrument tells."""

    @property
    def findings(self) -> tuple[str, ...]:
        """What could be better, beside the cautions that every enclosure has."""
        return tuple(slug for slug in self.cares if slug not in STANDING)

    @property
    def right(self) -> bool:
        """Whether every need that is predicted is in range."""
        return not self.wrong

    @property
    def closed(self) -> bool:
        """Right, no limit passed, and no danger."""
        return self.right and not self.breached and not self.dangers

    @property
    def inside(self) -> bool:
        """Closed, with every need inside its range and not at its edge."""
        return self.closed and not self.edged


def judge(request: Request) -> Judged:
    """What `plan` says of a request: the only judge."""
    made, prediction = plan_with_prediction(request, advise=False)
    wrong = {
        state.key: (state.verdict.direction, state.verdict.by)
        for state in made.needs
        if state.verdict.direction in {"below", "above"}
    }

    return Judged(
        request,
        wrong,
        sum(state.verdict.limit == "breached" for state in made.needs),
        tuple(note.slug for note in made.notes if _never_left(note)),
        tuple(note.slug for note in made.notes if note.severity == "care"),
        sum(by for _, by in wrong.values()),
        chance_of_all(prediction, look(request).targets),
        max((int(note.values["lamps"]) for note in made.notes if note.slug == "patch"), default=1),
        max((_lacks_lx(note) for note in made.notes if note.slug == "dim basking"), default=0.0),
        _edged(made.needs),
    )


def _never_left(note: Note) -> bool:
    """Whether no suggested setup may have it: every danger, and a limit passed by a fault, though
    that is but a care in a setup that keepers have.
    """
    return note.severity == "danger" or note.slug == "thermostat failed on"


def _lacks_lx(dim: Note) -> float:
    """Light that a dim basking place lacks [lx]."""
    return float(dim.values["least_lx"]) - float(dim.values["lux"])


def is_fit(made: Plan) -> bool:
    """Whether an enclosure as it is needs no change: every need right, no limit passed, no danger."""
    wrong = any(need.verdict.direction in {"below", "above"} for need in made.needs)
    breached = any(need.verdict.limit == "breached" for need in made.needs)
    return not (wrong or breached or any(note.severity == "danger" for note in made.notes))


def _edged(needs: Iterable[NeedState]) -> int:
    """Needs at the edge of their range."""
    return sum(need.verdict.direction == "right" and need.verdict.by > 0 for need in needs)
