"""An enclosure that is too small by the approach that was chosen, and does for now by the accepted
minimum: until when, and what that costs the animal.
"""

import datetime as dt
import zoneinfo

from husbandry.derivation import Document
from husbandry.documents.request import Request
from husbandry.documents.result import Plan, PlanSummary
from husbandry.enclosure.trade_size import fits_size
from husbandry.enclosure.walking_room import RoomCheck
from husbandry.life_plan.future_body import first_day, future
from husbandry.predict.predict import enclosure_of, outside_of
from husbandry.species.approaches import QUESTIONS

MINIMUM = "minimum"
"""The approach of the least that the trade accepts, by its slug."""


class InterimSize(Document):
    """How long a small enclosure does."""

    until: dt.date | None
    """The day on which it is too small by the accepted minimum, too; None where that never comes."""
    length_m: float
    """Of the animal by then [m]."""
    costs: tuple[RoomCheck, ...]
    """What the animal has too little of until then."""


def interim_size(request: Request, made: Plan | PlanSummary) -> InterimSize | None:
    """Until when an enclosure does that is too small by the chosen approach.

    Returns
    -------
    InterimSize or None
        None where it is large enough, where the minimum itself was chosen, where it does not do
        even by the minimum, and where neither body nor age tells how it will grow.
    """
    lead = max(range(len(made.animals)), key=lambda n: made.animals[n].length_m)
    chosen = QUESTIONS["how-big"].chosen(request.approaches_of(lead)).slug
    if made.size.enough or chosen == MINIMUM:
        return None
    animal = request.animals[lead]
    today = request.now.astimezone(zoneinfo.ZoneInfo(request.place.tz)).date()
    profile = request.profiles[animal.species]
    least = {**request.approaches_of(lead), "how-big": MINIMUM}
    life = future(animal, profile, approaches=least, company=len(request.animals), today=today)
    outside = outside_of(request.enclosure)
    interior = enclosure_of(request)
    above = interior.height_m - interior.substrate_depth_m

    def outgrown(on: dt.date) -> bool:
        return not fits_size(outside, above, life.enclosure_m(on))

    if not life.known or outgrown(today):
        return None
    end = life.end(today)
    until = first_day(outgrown, today, end)
    length = life.length_m(until or end)
    return InterimSize(until=until, length_m=length, costs=made.size.lacking)
