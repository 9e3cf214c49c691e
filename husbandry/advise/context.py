"""A request with its outcome and target ranges, on which candidates are tried, and the words they
are made of.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any, Literal

from husbandry.climate.misting import MistingTimetable
from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch
from husbandry.documents.result import NeedState
from husbandry.enclosure.sizing import SizeFound
from husbandry.errors import DocumentError
from husbandry.items.union import Item
from husbandry.predict.exposure import day_times
from husbandry.predict.humidity import HUMIDITY
from husbandry.predict.predict import Prediction, failed_on, predict, predict_near
from husbandry.species.needs import NeedKey
from husbandry.targets.uv_sessions import uv_times
from husbandry.targets.verdicts import TargetRange

MIN_LAMP_M = 0.15
"""No lamp is advised closer than this to the animal's back [m]; its maker may ask for more (common
practice, no source).
"""
HEADROOM_M = 0.03
"""Left between a lamp and the lid (design choice) [m]."""
SLIP = 0.05
"""Share of a target range by which a need that is right may slip before it counts as broken (design
choice) [1].
"""

Effort = Literal["move", "own", "buy"]
Patch = tuple[dict[str, Any], ...]
Values = dict[str, float | str]


@dataclass(frozen=True)
class Score:
    """Where a state stands against the target ranges."""

    beyond_limits: int
    wrong: int
    shortfall: float


@dataclass(frozen=True)
class Candidate:
    """A change before it is planned again."""

    kind: str
    item: Item
    values: Values
    effort: Effort
    patch: Patch
    rule: str
    size_of_move: float
    """For the rank: metres, or watts over 100 [1]."""
    near: Score | None = field(default=None)
    """Its score near the known state; None when it was not searched for there."""
    mends: tuple[NeedKey, ...] = ()
    """Needs that have to come right by it, or it is not offered."""


class ChangeContext:
    """What candidates are tried on."""

    def __init__(
        self,
        request: Request,
        prediction: Prediction,
        targets: dict[NeedKey, TargetRange],
        states: tuple[NeedState, ...],
        size: SizeFound,
        timetable: MistingTimetable | None = None,
    ) -> None:
        self.request = request
        self.prediction = prediction
        self.targets = targets
        self.size = size
        self.timetable = timetable
        self.now_failed_on = failed_on(prediction)
        self.before = {key: prediction.centre(key) for key in targets}
        self.carry = {state.key: self._carry(state) for state in states}

    def _carry(self, state: NeedState) -> float:
        """How far a fresh reading lies above the prediction: changes are aimed with it.

        A factor for UVI.
        """
        ratio = state.key is NeedKey.UVI_DAY
        if state.measured is None or not state.measured.judged or state.predicted is None:
            return 1.0 if ratio else 0.0
        if ratio:
            return (
                state.measured.value / state.predicted.value if state.predicted.value > 0 else 1.0
            )
        return state.measured.value - state.predicted.value

    def believed(self, key: NeedKey, predicted: float) -> float:
        """A prediction, corrected by what was measured beside the present one."""
        return (
            predicted * self.carry[key] if key is NeedKey.UVI_DAY else predicted + self.carry[key]
        )

    def score(self, values: dict[NeedKey, float | None]) -> Score:
        """Count limits passed, needs missed and how far.

        A need that is right now may slip by a twentieth of its target range: less than any
        instrument tells, and no reason to refuse a change.
        """
        known = {
            key: self.believed(key, value) for key, value in values.items() if value is not None
        }
        return Score(
            sum(self.targets[key].beyond_limit(value) > 0 for key, value in known.items()),
            sum(
                self.targets[key].shortfall(value) > (1e-9 if self.wrong(key) else SLIP)
                for key, value in known.items()
            ),
            sum(self.targets[key].shortfall(value) for key, value in known.items()),
        )

    def score_of(self, prediction: Prediction) -> Score:
        """The score of a state that is searched for.

        Its water takes as long as its warmth, and is looked at when it is planned in full.
        """
        return self.score(
            {key: prediction.centre(key) for key in self.targets if key not in HUMIDITY}
        )

    def aim(self, key: NeedKey) -> float:
        """The prediction to aim for: the target range's middle as believed, kept inside the target
        range as predicted.
        """
        target = self.targets[key]
        middle = target.aim()
        wanted = (
            middle / max(self.carry[key], 0.2)
            if key is NeedKey.UVI_DAY
            else middle - self.carry[key]
        )
        if not (target.low and target.high):
            return wanted
        inset = 0.1 * target.width

        return min(max(wanted, target.low_value + inset), target.high_value - inset)

    def wrong(self, key: NeedKey) -> int:
        """−1 below, +1 above, 0 right or not known, as believed."""
        value = self.before.get(key)
        if value is None or key not in self.targets or self.targets[key].conflict:
            return 0
        believed = self.believed(key, value)
        return (believed > self.targets[key].high_value) - (believed < self.targets[key].low_value)

    # --- trying -----------------------------------------------------------------------------------

    def near(self, changed: Item, known: Prediction | None = None) -> Prediction:
        """The state with one item changed, with the films of a known one.

        Nothing is checked: what is offered is planned in full.
        """
        known = known or self.prediction
        items = tuple(changed if item.id == changed.id else item for item in known.request.items)
        return predict_near(known, known.request.model_copy(update={"items": items}))

    def solve_height(
        self, item: Item, key: NeedKey, span: tuple[float, float], known: Prediction | None = None
    ) -> tuple[float, Score] | None:
        """The height in whole centimetres at which a need meets its aim, and the score there; the
        nearer end when it cannot.
        """
        found: dict[float, Prediction] = {}

        def at(z_m: float) -> float | None:
            found[z_m] = self.near(at_height(item, z_m), known)
            return found[z_m].centre(key)

        z = solve_falling(at, self.aim(key), *span)
        if z is None:
            return None
        closest = min(found, key=lambda tried: abs(tried - z))

        return round(z, 2), self.score_of(found[closest])

    def solve_added(self, item: Item, key: NeedKey, span: tuple[float, float]) -> float | None:
        """The height that brings a need to its aim for something new: one full solution, then near
        it.
        """
        middle = at_height(item, sum(span) / 2)
        known = predict(
            self.request.model_copy(update={"items": (*self.request.items, middle)}),
            self.prediction.position,
            self.prediction.learned,
        )
        found = self.solve_height(item, key, span, known)
        return None if found is None else found[0]

    def possible(self, patch: Patch) -> Request | None:
        """The request after a patch; None when it is not sound."""
        try:
            return apply_patch(self.request, patch)
        except DocumentError:
            return None

    # --- for new items ---------------------------------------------------------------------------

    def free_id(self, stem: str) -> str:
        """An id that no item has yet."""
        taken = {item.id for item in self.request.items}
        return next(f"{stem}-{n}" for n in range(1, 99) if f"{stem}-{n}" not in taken)

    def day_times(self) -> dict[str, str]:
        """The times of the lamps that are there, or the usual twelve hours."""
        on, off = day_times(self.request)
        return {"on": on, "off": off}

    def uv_times(self) -> dict[str, object]:
        """The same for ultraviolet: in sessions where the keeper's approach has them."""
        return uv_times(self.request, day_times(self.request)).as_item()


def at_height(item: Item, z_m: float) -> Item:
    """The same item, hung elsewhere."""
    return item.model_copy(update={"at_m": (item.at_m[0], item.at_m[1], z_m)})


def gone_patch(request: Request, item: Item) -> Patch:
    """JSON Patch that takes an item out."""
    return ({"op": "remove", "path": f"/items/{request.index(item.id)}"},)


def item_patch(request: Request, new: Item) -> Patch:
    """JSON Patch from an item as it is to what it becomes."""
    old = request.item(new.id)
    root = f"/items/{request.index(new.id)}"
    before = old.model_dump(mode="json")
    after = new.model_dump(mode="json")
    operations: list[dict[str, Any]] = []
    for name, value in after.items():
        if name == "at_m":
            operations += [
                {"op": "replace", "path": f"{root}/at_m/{n}", "value": round(v, 3)}
                for n, (v, was) in enumerate(zip(value, before["at_m"], strict=True))
                if round(v, 3) != was
            ]
        elif value != before[name]:  # "add" sets a member whether or not it is there
            operations.append({"op": "add", "path": f"{root}/{name}", "value": value})

    return tuple(operations)


def added_patch(item: Item) -> Patch:
    """JSON Patch that adds an item."""
    return (
        {
            "op": "add",
            "path": "/items/-",
            "value": item.model_dump(mode="json", exclude_none=True),
        },
    )


def half_of_the_mesh(context: ChangeContext, air: str) -> Iterator[Candidate]:
    """Less open mesh keeps warm or damp air in, where no lamp shines through it."""
    lid = context.request.enclosure.lid
    items = context.request.items
    if (
        lid.mesh is None
        or not items
        or any(t.hangs_above_lid for t in items)
        or lid.mesh_share < 0.3
    ):
        return
    share = round(lid.mesh_share / 2, 2)
    yield Candidate(
        "cover_mesh",
        items[0],
        {"from_share": lid.mesh_share, "to_share": share},
        "own",
        ({"op": "add", "path": "/enclosure/lid/mesh_share", "value": share},),
        f"Half of the open mesh covered by a board: less {air} air leaves through the top.",
        0.5,
    )


def solve_falling(
    value_at: Callable[[float], float | None],
    aimed_at: float,
    low: float,
    high: float,
    *,
    iterations: int = 9,
) -> float | None:
    """Where a falling function meets a target between two ends: regula falsi with halving
    (Illinois).

    Returns the nearer end when the target lies beyond it, None when the function has no value
    there.
    """
    at_low = value_at(low)
    at_high = value_at(high)
    if at_low is None or at_high is None:
        return None
    f_low = at_low - aimed_at
    f_high = at_high - aimed_at
    if f_low <= 0:
        return low
    if f_high >= 0:
        return high
    side = 0
    x = low
    for _ in range(iterations):
        x = (low * f_high - high * f_low) / (f_high - f_low)
        value = value_at(x)
        if value is None:
            return None
        f = value - aimed_at
        if abs(f) < 0.02:
            break
        if f > 0:
            low = x
            f_low = f
            f_high = f_high / 2 if side == 1 else f_high
            side = 1
        else:
            high = x
            f_high = f
            f_low = f_low / 2 if side == -1 else f_low
            side = -1

    return x
