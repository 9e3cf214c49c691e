"""At the purchase: what a healthy animal of a species looks like, what to ask its seller, which papers, and
its first weeks by day.

Facts of the trade: common practice, no source.
"""

from typing import NamedTuple

from husbandry.findings.quarantine import LEAST_DAYS, MOST_DAYS
from husbandry.life_plan.suitability import before_it_arrives
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile

FIRST_FOOD_DAYS: dict[str, tuple[int, int]] = {
    "snake": (5, 7),
    "lizard": (2, 3),
    "tortoise": (1, 2),
    "turtle": (2, 3),
}
"""Days after the arrival on which the first food is offered, by group; for others one or two (common
practice) [days].
"""
OTHERS_FIRST_FOOD_DAYS = (1, 2)
"""The same for frogs, toads and salamanders (common practice) [days]."""
DROPPINGS_DAYS = (14, 28)
"""Between which the first droppings go to a veterinarian (common practice) [days]."""


class FirstDay(NamedTuple):
    """What is done on a day, or between two, after it has come."""

    since: int
    """Days after the arrival."""
    until: int
    text: str


class PurchaseGuide(NamedTuple):
    """What to look at, ask, hold ready and do when one is taken home."""

    healthy: str
    unwell: tuple[str, ...]
    """Signs on which it is not bought."""
    questions: tuple[str, ...]
    papers: str
    ready: tuple[str, ...]
    first_days: tuple[FirstDay, ...]
    travel_c: tuple[float, float]
    """Between which it travels [°C]."""


def purchase_guide(profile: Profile) -> PurchaseGuide:
    """The purchase of one of a species."""
    return PurchaseGuide(
        healthy=profile.healthy.text,
        unwell=profile.signs.texts,
        questions=_questions(profile),
        papers=profile.permits.text,
        ready=before_it_arrives(profile),
        first_days=_first_days(profile),
        travel_c=_travel_c(profile),
    )


def _travel_c(profile: Profile) -> tuple[float, float]:
    """The cool end of its day: neither basked nor chilled on the way."""
    for key in (NeedKey.COOL_AIR_DAY, NeedKey.WATER_DAY, NeedKey.AIR_NIGHT):
        need = next((one for one in profile.needs if one.need is key), None)
        if need is not None and need.low is not None and need.high is not None:
            return need.low, need.high
    return 18.0, 26.0


def _questions(profile: Profile) -> tuple[str, ...]:
    """What its seller knows and the animal does not show."""
    found = [
        "When did it hatch, and who bred it? One caught in the wild brings parasites and fear.",
        "At which temperatures, under which lamps and on what has it lived?",
    ]
    foods = profile.foods
    if "prey" in foods:
        found.append(
            "What did it eat last, when, of which size, thawed or live? Ask for the record of its last"
            " three meals."
        )
    elif {"insects", "ants", "worms"} & foods:
        found.append("Which insects does it take, of which size, dusted with what and how often?")
    else:
        found.append("What does it eat there, and how often?")
    if profile.group in {"snake", "lizard"}:
        found.append("Was its last shed whole, and when?")
    found.append("Were its droppings examined, by whom, and was it treated with anything?")
    if profile.company.manner != "alone":
        found.append("With whom has it lived, and how was its sex told?")
    else:
        found.append("How was its sex told?")
    found.append("Whom may I ask later, and do you take it back?")
    return tuple(found)


def _first_days(profile: Profile) -> tuple[FirstDay, ...]:
    """Its first weeks: quiet, water, measuring, one change at a time."""
    first, latest = FIRST_FOOD_DAYS.get(profile.group, OTHERS_FIRST_FOOD_DAYS)
    paper = "damp paper" if profile.amphibian else "paper"
    arrival = f"Into its quarantine enclosure: {paper}, a hide that it fills, water."
    if profile.habit == "aquatic":
        arrival = "Into its quarantine tank: let its water and yours mix over half an hour."
    food = "The first food, a small meal of what it took before; what is left comes out."
    if "prey" in profile.foods:
        food = (
            "The first meal: the prey it took before, one size smaller. Refused: a week's peace."
        )
    days = [
        FirstDay(
            0, 0, "Carried dark and straight home, box in box, neither in the sun nor in the cold."
        ),
        FirstDay(
            0,
            0,
            "Weighed in the box that it came in, looked over from nose to tail, photographed.",
        ),
        FirstDay(0, 0, arrival),
        FirstDay(
            1,
            max(first - 1, 1),
            "Water and peace: no hands, no visitors. Both ends measured morning and evening.",
        ),
        FirstDay(first, latest, food),
        FirstDay(7, 7, "Weighed again. The quiet week is over: handling only when it has fed."),
        FirstDay(
            *DROPPINGS_DAYS, "Two samples of fresh droppings to a veterinarian, two weeks apart."
        ),
        FirstDay(
            LEAST_DAYS,
            MOST_DAYS,
            "Quarantine ends with two clean samples and a steady weight; until then its own tools.",
        ),
    ]
    return tuple(days)
