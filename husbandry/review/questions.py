"""What was not said, as questions in the order of what their answers would change."""

from husbandry.derivation import Document
from husbandry.review.description import Description, FactName
from husbandry.review.need_findings import Seen
from husbandry.review.vocabulary import PACKAGE
from husbandry.species.needs import NeedKey
from husbandry.tables import rows

SWING_WIDTHS = 0.5
"""Of a need's range by which an unknown must move it to be asked before what is merely missing
(design choice) [1].
"""


class ReviewQuestion(Document):
    """Something to ask whoever described the enclosure."""

    slug: str
    fact: FactName
    text: str
    why: str
    weight: float
    """The larger, the more its answer would change (design choice)."""


def questions_of(seen: Seen) -> tuple[ReviewQuestion, ...]:
    """What to ask, the most telling first."""
    found = []

    for row in rows(PACKAGE, "questions.csv"):
        if not _is_open(seen, row["slug"]):
            continue
        weight = float(row["weight"]) + _swing(seen, row["slug"])
        found.append(
            ReviewQuestion(
                slug=row["slug"],
                fact=row["fact"],
                text=row["text"],
                why=row["why"],
                weight=round(weight, 2),
            )
        )

    return tuple(sorted(found, key=lambda one: -one.weight))


def _swing(seen: Seen, slug: str) -> float:
    """How far what is predicted moves over what the answer may be [range widths]."""
    if slug not in {"power", "room", "distance"} or slug not in _unknown(seen):
        return 0.0
    most = 0.0

    for state in seen.plan.needs:
        if state.key in seen.ranges and state.low is not None and state.high is not None:
            low, high = seen.ranges[state.key]
            most = max(most, (high - low) / max(state.high.value - state.low.value, 1.0))

    return min(most, 2.0)


def _unknown(seen: Seen) -> set[str]:
    names = {"lamp": "power", "mat": "power", "emitter": "power"}
    return {names.get(value, value) for value in seen.assumed.open_values}


def _is_open(seen: Seen, slug: str) -> bool:
    """Whether the answer to a question was not said, and matters to this animal."""
    said = seen.said
    profile = seen.assumed.profile
    heated = bool(said.heat)
    measured = bool(said.temperatures)
    lamps = any(one.kind != "heat_mat" for one in said.heat or ())
    open_if = {
        "thermostat": heated and said.thermostat is None,
        "basking": profile.basks and said.temperature("basking") is None and said.heat != (),
        "ends": said.temperature("cool") is None and profile.habit != "aquatic",
        "water temperature": profile.habit == "aquatic" and said.temperature("water") is None,
        "night": said.temperature("night", "room night") is None and profile.habit != "aquatic",
        "heat": said.heat is None and profile.habit != "aquatic",
        "power": "power" in _unknown(seen),
        "distance": "distance" in _unknown(seen) and said.temperature("basking", "warm") is None,
        "room": "room" in _unknown(seen) and not measured,
        "guard": lamps and said.guarded is None and "unguarded" not in said.dangers,
        "uv": said.uv is None,
        "uv kind": any(one.kind == "uv" for one in said.uv or ()),
        "uv distance": any(one.distance_m is None and one.kind != "uv" for one in said.uv or ()),
        "uv age": any(one.age_months is None for one in said.uv or ()),
        "size": said.sides_m is None,
        "instruments": said.instruments is None,
        "hides": said.hides is None and profile.habit != "aquatic",
        "moist hide": "moist" in profile.hides.places
        and said.moist_hide is None
        and bool(said.hides),
        "substrate": said.substrate is None,
        "humidity": said.humidity_pct is None and profile.habit != "aquatic",
        "climbing": said.climbing is None and profile.body.perch_share > 0,
        "water": said.water is None and profile.habit != "aquatic",
        "food": said.food is None,
        "pace": bool(said.food) and _no_pace(said),
        "supplements": said.supplements is None and profile.supplements.plan != "whole prey",
        "age": said.animal.stage is None
        and said.animal.age_months is None
        and said.animal.mass_g is None,
        "company": said.animal.count is None,
    }

    return open_if.get(slug, False)


def _no_pace(said: Description) -> bool:
    return said.feeding_days is None and all(one.every_days is None for one in said.food or ())


def is_uncertain(seen: Seen, key: NeedKey) -> bool:
    """Whether what was not said moves a need by more than half of its range."""
    state = seen.plan.need(key)

    if state is None or state.low is None or state.high is None or key not in seen.ranges:
        return False
    low, high = seen.ranges[key]

    return high - low > SWING_WIDTHS * (state.high.value - state.low.value)
