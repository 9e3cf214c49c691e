"""What the scale says: too fast, too slow, no gain, a loss.

Each says what it usually means; none is a diagnosis.
"""

import datetime as dt
import statistics
from collections.abc import Sequence
from typing import Literal

from husbandry.derivation import Derivation, Document, Source, named_value
from husbandry.growth.expected import ExpectedGrowth, VonBertalanffy, expected
from husbandry.growth.fitting import WeightRecord
from husbandry.species.profile import Profile
from husbandry.species.stages import DAYS_PER_MONTH

WATCH_LOSS, VET_LOSS = 0.05, 0.10
"""Loss against the median of up to five earlier weights: watched, and before a veterinarian (common
practice, mind the season) [1].
"""
BASELINE_WEIGHTS, BASELINE_DAYS = 5, 120
"""Earlier weights whose median is the base, and how far back they may lie (source: feeding C6) [1,
days].
"""
NO_GAIN_DAYS = 35
"""A growing animal that gained nothing for so long is watched (common practice: four to six weeks)
[days].
"""
FAST, SLOW = 1.6, 0.4
"""Gain over the gain that its species has at this mass: beyond the quick one's, below the slow
one's (design choice) [1].
"""
RATE_DAYS = 28
"""Two weights closer than this say little of a rate (common practice, no source) [days]."""
MARGIN = 1.15
"""How far outside the expected masses at its age an animal must be before it is said (design
choice) [1].
"""
_PRACTICE = Source(kind="common practice", text="weights on the same scale, before a meal")

Slug = Literal[
    "loss", "great loss", "no gain", "fast", "slow", "ahead of its age", "behind its age"
]


class WeightFinding(Document):
    """Something that the weights say."""

    slug: Slug
    severity: Literal["danger", "care"]
    text: str
    derivation: Derivation


def findings(
    profile: Profile,
    sex: str,
    weights: Sequence[WeightRecord],
    *,
    born_on: dt.date | None,
    today: dt.date,
) -> tuple[WeightFinding, ...]:
    """Look at an animal's weights against their own past and against what its species does.

    Parameters
    ----------
    weights : sequence of WeightRecord
        In any order; those after `today` are not looked at.
    """
    ordered = sorted(
        (weight for weight in weights if weight.on <= today), key=lambda weight: weight.on
    )
    if not ordered:
        return ()
    kind = expected(profile, sex)
    found = [
        item
        for item in (
            _loss(profile, ordered),
            _rate(kind, ordered),
            _age(kind, ordered[-1], born_on),
        )
        if item is not None
    ]
    return tuple(found)


def _loss(profile: Profile, ordered: list[WeightRecord]) -> WeightFinding | None:
    last = ordered[-1]
    earlier = [w.mass_g for w in ordered[:-1] if (last.on - w.on).days <= BASELINE_DAYS][
        -BASELINE_WEIGHTS:
    ]
    if len(earlier) < 3:
        return None
    baseline = statistics.median(earlier)
    change = last.mass_g / baseline - 1
    if change > -WATCH_LOSS:
        return None
    derivation = Derivation(
        value=100 * change,
        unit="%",
        rule=(
            "The last weight over the median of up to five earlier ones of four months. A twentieth"
            " less is watched, a tenth less goes to a veterinarian."
        ),
        inputs=(
            named_value("last weight", last.mass_g, "g"),
            named_value("median of the earlier", baseline, "g"),
        ),
        sources=(_PRACTICE,),
        would_change="Another weighing; laying, a meal or a brumation explains a change.",
    )
    small = profile.amphibian or last.mass_g < 20
    if change <= -VET_LOSS:
        text = (
            "It has lost a tenth of its weight or more: outside of a brumation or laying this"
            " belongs before a veterinarian"
        )
        text += ", and soon: small animals have little to lose." if small else "."
        return WeightFinding(
            slug="great loss", severity="danger", text=text, derivation=derivation
        )
    text = (
        "It has lost a twentieth of its weight: check the scale and its temperatures, and weigh"
        " again in a week"
    )
    return WeightFinding(
        slug="loss",
        severity="care",
        text=text + (" or sooner." if small else "."),
        derivation=derivation,
    )


def _rate(kind: ExpectedGrowth, ordered: list[WeightRecord]) -> WeightFinding | None:
    """Gain of the last one to three months over what its species gains between the same masses and
    days.
    """
    last = ordered[-1]
    before = [w for w in ordered[:-1] if RATE_DAYS <= (last.on - w.on).days <= 3 * RATE_DAYS]
    if not before:
        return None
    first = before[0]
    days = (last.on - first.on).days
    quick, usual, slow = (
        _gain(curve, first.mass_g, days) for curve in (kind.fast, kind.usual, kind.slow)
    )
    if usual <= 0.03 * first.mass_g:  # nearly grown: nothing is expected of it
        return None
    gain = last.mass_g - first.mass_g
    derivation = Derivation(
        value=100 * gain / first.mass_g * 30 / days,
        unit="% a month",
        rule=(
            "Gain between two weights over the first. Compared with what its species gains from the"
            " same mass in the same days."
        ),
        inputs=(
            named_value("gain", gain, "g"),
            named_value("days", days, "days"),
            named_value("usual gain", usual, "g"),
            named_value("gain of a fast one", quick, "g"),
            named_value("gain of a slow one", slow, "g"),
        ),
        sources=(
            Source(
                kind="design choice", text="expected curves of the species, docs/methods/growth.md"
            ),
            _PRACTICE,
        ),
        would_change="More weights, and the true date of birth.",
    )
    if gain <= 0.005 * first.mass_g and days >= NO_GAIN_DAYS:
        text = f"It has gained nothing in {days} days, while its species grows at this size: "
        text += (
            "too cool, too little food, worms or stress are usual reasons. Watch it, have droppings"
            " looked at."
        )
        return WeightFinding(slug="no gain", severity="care", text=text, derivation=derivation)
    if gain > FAST * max(quick, usual):
        text = (
            "It grows faster than its species: usually overfeeding. Fast growth costs liver, shell"
            " and years; stretch the interval or take the smaller portion."
        )
        return WeightFinding(slug="fast", severity="care", text=text, derivation=derivation)
    if gain < SLOW * min(slow, usual):
        text = (
            "It grows more slowly than its species: usually too cool at the warm end, too little or"
            " too poor food, or worms."
        )
        return WeightFinding(slug="slow", severity="care", text=text, derivation=derivation)
    return None


def _gain(curve: VonBertalanffy, mass_g: float, days: float) -> float:
    age = curve.age_of(mass_g)
    return 0.0 if age == float("inf") else curve.mass_g(age + days / DAYS_PER_MONTH) - mass_g


def _age(
    kind: ExpectedGrowth, last: WeightRecord, born_on: dt.date | None
) -> WeightFinding | None:
    """Its mass against what its species has at its age."""
    if born_on is None or born_on > last.on:
        return None
    months = (last.on - born_on).days / DAYS_PER_MONTH
    ends = sorted((kind.slow.mass_g(months), kind.fast.mass_g(months)))
    low = ends[0] / MARGIN
    high = ends[1] * MARGIN
    if low <= last.mass_g <= high:
        return None
    derivation = Derivation(
        value=last.mass_g,
        unit="g",
        rule=(
            "The last weight against the masses between a slow, small animal and a fast, large one"
            " of its species at that age."
        ),
        inputs=(
            named_value("age", months, "months"),
            named_value("slow and small", ends[0], "g"),
            named_value("usual", kind.usual.mass_g(months), "g"),
            named_value("fast and large", ends[1], "g"),
        ),
        sources=(
            Source(
                kind="design choice", text="expected curves of the species, docs/methods/growth.md"
            ),
        ),
        would_change="The true date of birth, or its sex.",
    )
    if last.mass_g > high:
        text = (
            "It is heavier than its species at that age: overfed, gravid, or born earlier than"
            " written."
        )
        return WeightFinding(
            slug="ahead of its age", severity="care", text=text, derivation=derivation
        )
    text = "It is lighter than its species at that age: stunted, ill, or born later than written."
    return WeightFinding(slug="behind its age", severity="care", text=text, derivation=derivation)
