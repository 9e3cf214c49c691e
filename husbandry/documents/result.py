"""The plan: everything a screen, a sheet or a script shows, as immutable values that write
themselves as JSON.

Format: docs/formats/plan.md.
"""

import datetime as dt
from typing import Any, Literal

from husbandry.derivation import Derivation, Document
from husbandry.enclosure.sizing import SizeFound
from husbandry.errors import ImpossibleStateError
from husbandry.feeding.calendar import Diet
from husbandry.growth.body import Body
from husbandry.species.needs import NeedKey
from husbandry.species.stages import StageFound

FORMAT: Literal["ridgeback-plan/2"] = "ridgeback-plan/2"
Direction = Literal["right", "below", "above", "unknown"]
LimitState = Literal["kept", "breached", "unproven", "none"]


class Verdict(Document):
    """What the number that speaks says about a need."""

    direction: Direction
    by: float = 0.0
    """How far outside the nearest end of the target range [the need's unit]."""
    probability: float = 0.0
    """That the direction is right [1]."""
    sure: bool = False
    """At 0.8 or more."""
    limit: LimitState = "none"
    speaks: Literal["measured", "predicted", "nothing"] = "nothing"


class Measured(Document):
    """A reading against the present revision."""

    value: float
    """Corrected by the instrument's offset."""
    shown: float
    """As it was read."""
    unit: str
    at: dt.datetime
    age_days: float
    fresh: bool
    judged: bool
    """False when it was taken before the enclosure had settled, or is stale."""
    why_not: str = ""
    odd: str = ""
    """Why it should be taken again before anything is changed; it speaks all the same."""
    instrument: str = ""
    to_come_k: float = 0.0
    """Added to a reading of the morning: the rise that the model says was still to come [K]."""
    after_h: float | None = None
    """Since switch-on, of such a reading [h]."""
    sd: float = 0.0
    """Standard deviation with which it is judged [the need's unit; ln for UVI]."""
    derivation: Derivation


class NeedState(Document):
    """A need: the target range, what is predicted, what was measured, and the verdict."""

    key: NeedKey
    name: str
    place: str
    phase: str
    unit: str
    low: Derivation | None = None
    high: Derivation | None = None
    limit_low: Derivation | None = None
    limit_high: Derivation | None = None
    predicted: Derivation | None = None
    floor: Derivation | None = None
    """Humidity: what the room's vapour alone gives."""
    measured: Measured | None = None
    verdict: Verdict
    conflict: str = ""
    """Two animals whose target ranges do not meet."""


class LearnedStrength(Document):
    """A strength that readings told."""

    slug: str
    name: str
    derivation: Derivation
    before_low: float
    before_high: float
    """The interval before any reading [1]."""
    far: bool
    """Further from usual than two of its priors: another cause is likely."""


class UncalibratedPrediction(Document):
    """A prediction before any reading, with its interval [the need's unit]."""

    value: float
    low: float
    high: float


class MistingPulse(Document):
    """A misting."""

    at: str
    ml: float
    seconds: float | None = None
    """For which its pump sprays; None by hand [s]."""
    spray: Derivation | None = None
    """The same with its derivation."""


class MistingPlan(Document):
    """When to mist, and what would come of it at the cool end."""

    verdict: Literal["too wet", "not needed", "holds", "out of reach"]
    times: tuple[str, ...]
    each_ml: float
    seconds: float | None = None
    """For which a pump sprays, when its nozzles are known [s]."""
    lowest_pct: float
    highest_pct: float
    in_marks_h: float
    dose: Derivation | None = None
    spray: Derivation | None = None
    """Water of one misting, and the seconds of a pump, with their derivations."""
    by_hand: "HandMistingPlan | None" = None
    """What two mistings a day by hand come to, where it takes more than that and there is no pump."""


class HandMistingPlan(Document):
    """Twice a day by hand, at the cool end."""

    times: tuple[str, ...]
    each_ml: float
    lowest_pct: float
    highest_pct: float
    dose: Derivation | None = None
    """Water of one of them, with its derivation."""


class UntendedForecast(Document):
    """An enclosure that nobody mists or pours."""

    low_h: float | None = None
    """Until it falls below its lower mark, from the last misting [h]; None: not in three weeks."""
    substrate_days: float | None = None
    """Until its substrate has lost half of its water [d]."""
    deeper_low_h: float | None = None
    deeper_days: float | None = None
    """The same with substrate of twice the depth."""
    low: Derivation | None = None
    substrate: Derivation | None = None
    """Both with their derivations."""


class MoistureAlternative(Document):
    """What one means would make of the humidity at the cool end [%]."""

    slug: str
    day_pct: float
    night_pct: float


class MoistureForecast(Document):
    """A day's humidity, every half hour from 00:30 [%]."""

    warm_pct: tuple[float, ...]
    cool_pct: tuple[float, ...]
    hide_pct: tuple[float, ...]
    """In the first moist hide; empty without one."""
    lit: tuple[bool, ...]
    low_pct: tuple[float, ...]
    """The marks, the day's and the night's; empty for a species without."""
    high_pct: tuple[float, ...]
    pulses: tuple[MistingPulse, ...]
    in_marks_h: float
    below_h: float
    above_h: float
    falls: bool
    """It is a wave."""
    dew_h: float
    drained_ml: float
    timetable: MistingPlan | None = None
    others: tuple[MoistureAlternative, ...] = ()
    """By what would move it, in a quick look: what is offered among the changes is planned in full."""
    left: UntendedForecast | None = None
    """Where it keeps its lower mark as it is kept."""


class Calibration(Document):
    """What readings told of this enclosure."""

    readings: int
    left_out: int
    """That nothing could explain beside the others."""
    revisions: tuple[int, ...]
    """The states of the enclosure that they were taken in."""
    strengths: tuple[LearnedStrength, ...]
    before: dict[NeedKey, UncalibratedPrediction]
    """Needs as they were predicted before any reading."""


class Effect(Document):
    """What a change does to one prediction."""

    need: NeedKey
    unit: str
    before: float | None = None
    after: float
    direction: Direction
    """Of the value after."""


class Safety(Document):
    """A stuck thermostat on the hottest day, after the change."""

    surface_c: float
    cool_air_c: float
    limit_surface_c: float | None = None
    limit_cool_air_c: float | None = None
    safe: bool
    worse: bool
    """Over a limit, and further over it than now."""


ChangeKind = Literal[
    "height",
    "power",
    "power_and_height",
    "set_point",
    "add_thermostat",
    "uv_height",
    "uv_class",
    "uv_below_mesh",
    "uv_new",
    "uv_add",
    "heat_add",
    "air_heat",
    "night_heat",
    "cover_mesh",
    "larger_enclosure",
    "mist",
    "substrate_wetness",
    "more_air",
    "water_set",
    "water_heater",
    "platform",
    "hide_add",
    "hide_moist",
    "hide_larger",
    "dish_add",
    "branch_add",
    "plant_add",
    "supports",
    "substrate_depth",
    "cover_sides",
    "cut_out",
    "timer",
    "uv_times",
    "move_item",
    "light_add",
    "sun_lamp",
    "dripper_add",
    "dig_box_add",
    "moist_box",
    "divider_board",
    "screen_add",
    "stone_sink",
    "plant_swap",
    "plant_out",
]


class Change(Document):
    """One thing to do, with what it does and the patch that does it."""

    kind: ChangeKind
    item_id: str
    item_name: str
    """Unlike that of any other item there: “left halogen flood”."""
    one_of_several: bool = False
    """Whether there are other lamps that it could be of, so that it is named."""
    values: dict[str, float | str]
    """What the sentence needs, in the core's units: such as from_m, to_m, power_w."""
    effort: Literal["move", "own", "buy"]
    patch: tuple[dict[str, Any], ...]
    """JSON Patch (RFC 6902) on the request."""
    effects: tuple[Effect, ...]
    puts_right: int
    """Needs put right less needs broken."""
    clears_limit: bool
    safety: Safety
    derivation: Derivation
    """How the value was found."""
    clears: tuple[str, ...] = ()
    """Findings that are gone with it, by their slugs."""
    price_eur: float = 0.0
    """What is to be bought for it, by guide prices [€]."""


class Note(Document):
    """Something to know: a finding, a danger, a caution."""

    slug: str
    severity: Literal["danger", "care", "fact"]
    text: str
    values: dict[str, float] = {}


class Occupant(Document):
    """An animal with its stage."""

    name: str
    species: str
    common_name: str
    stage: StageFound
    length_m: float
    body: Body
    """Its mass and length, and how each is known."""


class AnimalFound(Occupant):
    """What is known of one animal."""

    mass_g: float
    mass_known: bool
    length_known: bool
    age_months: float | None = None
    diet: Diet


class BaskingPlace(Document):
    """Where the animal's back is when it basks [m]."""

    x_m: float
    y_m: float
    z_m: float


class PlanSummary(Document):
    """The state of an enclosure without what to do about it: what a list needs, at a fraction of a
    plan's cost.
    """

    animals: tuple[Occupant, ...]
    needs: tuple[NeedState, ...]
    size: SizeFound
    basking: BaskingPlace

    @property
    def worst(self) -> NeedState | None:
        """As of a plan."""
        return worst_of(self.needs)


def worst_of(needs: tuple[NeedState, ...]) -> NeedState | None:
    """The need furthest from right, in target range widths; None when all are right or unknown."""
    wrong = [need for need in needs if need.verdict.direction in {"below", "above"}]
    return max(
        wrong,
        key=lambda need: (need.verdict.limit == "breached", need.verdict.by / target_width(need)),
        default=None,
    )


class Plan(Document):
    """The answer to a request."""

    format: Literal["ridgeback-plan/2"] = FORMAT
    core_version: str
    profiles: dict[str, str]
    """Content hash of each profile used."""
    now: dt.datetime
    revision: int
    animals: tuple[AnimalFound, ...]
    needs: tuple[NeedState, ...]
    predictions: dict[str, Derivation]
    size: SizeFound
    changes: tuple[Change, ...]
    notes: tuple[Note, ...]
    basking: BaskingPlace
    calibration: Calibration | None = None
    damp: MoistureForecast | None = None
    """None where nobody said how the enclosure is kept damp."""

    def need(self, key: NeedKey) -> NeedState | None:
        """The state of a need; None when the species has no such need."""
        return next((need for need in self.needs if need.key == key), None)

    @property
    def worst(self) -> NeedState | None:
        """The need furthest from right."""
        return worst_of(self.needs)

    @property
    def answer(self) -> Change | None:
        """The change to name beside the worst need: the best ranked that puts it right, else the
        first of the list.
        """
        worst = self.worst
        fitting = (
            change for change in self.changes if worst is not None and _answers(change, worst)
        )
        for_needs = (change for change in self.changes if not change.clears)
        return next(fitting, None) or next(for_needs, None)


def _answers(change: Change, need: NeedState) -> bool:
    return any(
        effect.need == need.key and effect.direction == "right" for effect in change.effects
    )


def target_width(need: NeedState) -> float:
    """Width of a need's target range, for comparing shortfalls of different quantities [unit]."""
    if need.low is not None and need.high is not None:
        return max(need.high.value - need.low.value, 1e-6)
    end = need.low or need.high
    if end is None:
        raise ImpossibleStateError("missing: end")
    return max(abs(end.value) * 0.2, 1.0)


Harm = Literal["danger", "company", "limit", "size", "need", "none"]
"""What is worst about an enclosure, in the order in which it harms."""
HARM_RANK: dict[Harm, float] = {
    "danger": 1000.0,
    "company": 500.0,
    "limit": 100.0,
    "size": 20.0,
    "need": 1.0,
    "none": 0.0,
}
"""A danger to life before a wrong companion, that before a limit that is passed, that before an
enclosure too small, that before a need that is missed (common practice, no source).
"""
COMPANY = "company"
"""The note that says that animals do not belong together."""


def worst_harm(seen: PlanSummary | Plan) -> Harm:
    """Find what harms most: it is said first, and decides the place in a list."""
    worst = seen.worst
    danger = first_danger(seen)
    if danger is not None:
        return "company" if danger.slug == COMPANY else "danger"
    if worst is not None and worst.verdict.limit == "breached":
        return "limit"
    if not seen.size.enough:
        return "size"

    return "none" if worst is None else "need"


def first_danger(seen: PlanSummary | Plan) -> Note | None:
    """Find the note of the worst danger: fire, burns, escape and drowning before wrong company."""
    if not isinstance(seen, Plan):
        return None
    dangers = [note for note in seen.notes if note.severity == "danger"]
    return min(dangers, key=lambda note: note.slug == COMPANY, default=None)


def urgency(seen: PlanSummary | Plan) -> float:
    """Say how soon to look after an enclosure: by what harms most, then by how far it is off [1]."""
    worst = seen.worst
    off = min(9.0, worst.verdict.by / target_width(worst)) if worst is not None else 0.0
    return HARM_RANK[worst_harm(seen)] + off


def to_json(plan: Plan) -> str:
    """The plan as JSON text."""
    return plan.model_dump_json(exclude_none=True, indent=2)
