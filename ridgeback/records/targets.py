"""What a channel's place must hold: by the enclosure's plan, or by the rest or the clutch that is kept
outside it.
"""

import datetime as dt
from functools import partial

from husbandry.documents.request import Request
from husbandry.predict.light import lit_spans
from husbandry.records.channels import Quantity, SensorPlace
from husbandry.records.kept_elsewhere import ClutchInside, dormancy_targets, incubator_targets
from husbandry.records.series import ChannelTargets, PhaseRange, targets_for
from ridgeback.breeding.models import Clutch
from ridgeback.calculation import Failed, attempt
from ridgeback.enclosures.models import Enclosure
from ridgeback.enclosures.planning import planned
from ridgeback.records.models import Channel
from ridgeback.seasons.models import dormancies_of

NO_TARGETS = ChannelTargets(PhaseRange(), PhaseRange(), ())


def request_of(enclosure: Enclosure, now: dt.datetime) -> Request | None:
    """The enclosure as it is now; None where nobody lives in it, or it cannot be planned."""
    if not enclosure.present:
        return None
    made = attempt(partial(enclosure.request_at, now), "enclosure", enclosure.pk)
    return None if isinstance(made, Failed) else made


def targets_of(
    channel: Channel, request: Request | None, enclosure: Enclosure, now: dt.datetime
) -> ChannelTargets:
    """What is asked of a channel's place.

    Parameters
    ----------
    request : Request or None
        The enclosure as it is now, of `request_of`.
    """
    quantity, place = Quantity(channel.quantity), SensorPlace(channel.place)

    if place in {SensorPlace.FRIDGE, SensorPlace.EGGS}:
        if quantity is not Quantity.TEMPERATURE:
            return NO_TARGETS
        own = _fridge(enclosure, now) if place is SensorPlace.FRIDGE else _incubator(enclosure)
        return own or NO_TARGETS

    if request is None:
        return NO_TARGETS
    return targets_for(planned(request).plan.needs, lit_spans(request), quantity, place)


def _fridge(enclosure: Enclosure, now: dt.datetime) -> ChannelTargets | None:
    """What the brumation of whoever lives here asks for; None while nobody rests."""
    today = enclosure.room.day_of(now)
    dormancies = dormancies_of([one.animal_id for one in enclosure.present], today).values()
    resting = [one.temp_c for one in dormancies if one.begins <= today < one.ends]
    if not resting:
        return None
    return dormancy_targets(max(one[0] for one in resting), min(one[1] for one in resting))


def _incubator(enclosure: Enclosure) -> ChannelTargets | None:
    """What the clutches of this enclosure ask for; without any, those of the household."""
    going = Clutch.objects.filter(household=enclosure.household_id).going()
    clutches = [one for one in going.order_by("laid_on", "pk") if not one.carried]
    lives_here = {one.animal_id for one in enclosure.present}
    own = [one for one in clutches if one.mother_id in lives_here] or clutches

    return incubator_targets([ClutchInside(one.profile.young, one.set_c) for one in own])
