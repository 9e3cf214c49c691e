"""What the keeper of a case says, how its animal behaves, and what it weighed: as an animal under
that truth would.
"""

import random
from collections.abc import Iterator

from husbandry.derivation import Document
from husbandry.practice.care_truth import CARE, signs
from husbandry.practice.cases import PracticeCase
from husbandry.quantity import Kind
from husbandry.species.library import library
from husbandry.species.needs import NeedKey

LOG_WEEKS = 8
"""Of weights that its keeper wrote down (design choice)."""
COLD_LOSS, DRY_LOSS, OTHER_LOSS = 0.015, 0.006, 0.004
"""Of its mass that an animal loses in a week when it is too cold or too hot, too dry, or otherwise
kept wrong (design choice) [1].
"""
CARE_LOSSES = {"company": 0.012, "fed_too_much": -0.012, "wrong_food": 0.008}
"""The same for what no thermometer shows; a fat one gains (design choice) [1]."""
BEHAVIOUR: dict[tuple[NeedKey, int], str] = {
    (NeedKey.SURFACE_DAY, -1): "It lies under the lamp all day and leaves half of its food.",
    (NeedKey.WARM_AIR_DAY, -1): "It moves little and leaves food lying.",
    (NeedKey.SURFACE_DAY, 1): "It avoids the warm end and sits with its mouth open.",
    (NeedKey.WARM_AIR_DAY, 1): "It stays at the far end and is restless.",
    (NeedKey.COOL_AIR_DAY, 1): "It lies pressed to the floor at the cool end.",
    (NeedKey.COOL_AIR_DAY, -1): "It never goes to the cool end.",
    (NeedKey.AIR_NIGHT, -1): "In the morning it is stiff, and it sneezed this week.",
    (NeedKey.AIR_NIGHT, 1): "It is restless at night.",
    (NeedKey.UVI_DAY, -1): "It basks long and seems slower than in spring.",
    (NeedKey.UVI_DAY, 1): "It keeps its eyes half shut under the lamp and hides by day.",
    (NeedKey.HUMIDITY_DAY, -1): "The last shed came off in pieces.",
    (NeedKey.HUMIDITY_NIGHT, -1): "Its skin looks dull, and the last shed came off in pieces.",
    (NeedKey.HUMIDITY_DAY, 1): "The glass is wet all day.",
    (NeedKey.HUMIDITY_NIGHT, 1): "The glass is wet every morning.",
}
CONTENT = (
    "It eats, sheds whole and basks in the morning.",
    "It takes its food at once and moves about as always.",
)
WORRIED = (
    "I only want to know whether it is right.",
    "A friend says that it cannot be right like this.",
    "I have read that much can go wrong.",
)


class KeeperReading(Document):
    """A number that the keeper reads with an own instrument."""

    place: str
    kind: Kind
    value: float


class Told(Document):
    """What a trainee is told of a case."""

    animal: str
    words: tuple[str, ...]
    readings: tuple[KeeperReading, ...]
    weights_g: tuple[float, ...]
    """Week by week, the last one now [g]."""


def told(case: PracticeCase) -> Told:
    """The keeper's words of a case."""
    chance = random.Random(f"told {case.key}")
    profile = library()[case.base.species]
    said = [signs()[cause].says for cause in case.causes if cause in CARE]
    behaviour = said or list(_behaviour(case)) or [chance.choice(CONTENT)]

    return Told(
        animal=profile.name,
        words=(*behaviour, chance.choice(WORRIED)),
        readings=tuple(_readings(case)),
        weights_g=_weights(case, chance),
    )


def _behaviour(case: PracticeCase) -> Iterator[str]:
    for key, off in sorted(case.misses.items(), key=lambda pair: -abs(pair[1]))[:2]:
        words = BEHAVIOUR.get((key, 1 if off > 0 else -1))
        if words:
            yield words


def _readings(case: PracticeCase) -> Iterator[KeeperReading]:
    """With the keeper's own thermometer and hygrometer, by day."""
    values = case.true.values

    for key, place in (
        (NeedKey.SURFACE_DAY, "where it basks"),
        (NeedKey.WARM_AIR_DAY, "warm end"),
        (NeedKey.COOL_AIR_DAY, "cool end"),
    ):
        if key in values:
            value = round(values[key] + case.thermometer_k)
            yield KeeperReading(place=place, kind=Kind.TEMPERATURE, value=value)

    if NeedKey.HUMIDITY_DAY in values:
        value = round(min(max(values[NeedKey.HUMIDITY_DAY] + case.hygrometer_pct, 5.0), 99.0))
        yield KeeperReading(place="cool end", kind=Kind.HUMIDITY, value=value)


def _weights(case: PracticeCase, chance: random.Random) -> tuple[float, ...]:
    """Eight weeks: falling as the truth has it, for a slow fault since half of them."""
    loss = next((CARE_LOSSES[one] for one in case.causes if one in CARE_LOSSES), 0.0)

    for key in case.misses:
        if key in {NeedKey.HUMIDITY_DAY, NeedKey.HUMIDITY_NIGHT}:
            loss = max(loss, DRY_LOSS)
        elif key is NeedKey.UVI_DAY:
            loss = max(loss, OTHER_LOSS)
        else:
            loss = max(loss, COLD_LOSS)

    animal = case.base.request.animals[0]
    mass = animal.mass_g or 100.0
    found = []

    for week in range(LOG_WEEKS):
        since = max(week - (LOG_WEEKS // 2 if case.level == 4 else 0), 0)
        value = mass * (1 - loss) ** since * (1 + chance.gauss(0.0, 0.004))
        found.append(round(value, 1 if mass < 200 else 0))

    return tuple(found)
