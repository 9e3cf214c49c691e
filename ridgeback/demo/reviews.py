"""Two enclosures that somebody described to the demo household. The texts are invented."""

import datetime as dt

from husbandry.review.describe import described
from ridgeback.households.models import Household, Keeper
from ridgeback.reviews import flows

TEXTS = (
    (
        6,
        "My corn snake, grown, lives in a 90 x 45 x 45 cm vivarium. There is a 60 W ceramic heater"
        " without a thermostat and no guard, aspen about 3 cm deep, one hide and a water bowl. It"
        " gets an adult mouse every 7 days. Warm end 31 C, cool end 24 C. I measure with a dial"
        " that came with it. Is this alright?",
    ),
    (
        2,
        "Giant day gecko, adult male, in a 45 x 45 x 60 cm glass terrarium with a mesh lid. T5 6 %"
        " tube on top, 50 W halogen, basking 32 C, cool side 25 C, nights 20 C. Bamboo and live"
        " plants, misted twice a day, humidity 60-75 %. Gecko diet every other day, crickets twice"
        " a week dusted with calcium.",
    ),
)
"""Days ago, and what was said."""


def tell_reviews(household: Household, keeper: Keeper, now: dt.datetime) -> None:
    """Put them into the list of reviews."""
    for days, text in TEXTS:
        at = now - dt.timedelta(days=days)
        flows.add(household, described(text), keeper=keeper, now=at, photo=None)
