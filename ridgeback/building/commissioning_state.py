"""Whether an enclosure is verified as it stands, for whom it houses now."""

from husbandry.commissioning.readings import CommissioningReading, asks, targets_moved
from husbandry.documents.request import Request
from husbandry.errors import DocumentError
from husbandry.predict.moisture import DayMoisture
from husbandry.predict.need_states import look
from husbandry.species.needs import NeedKey
from husbandry.targets.verdicts import TargetRange
from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.enclosures.models import Commissioning, Enclosure
from ridgeback.enclosures.planning import Planned, planned


def found_of(kept: Request) -> tuple[CommissioningReading, ...]:
    """What is asked of an enclosure as it is kept."""
    made = planned(kept)
    return asks(kept, made.plan.needs, _targets_of(kept, made), _wave_of(kept, made))


def _targets_of(kept: Request, made: Planned) -> dict[NeedKey, TargetRange]:
    """What its animals share, found once for each plan."""
    return made.once("targets", lambda: look(kept).targets)


def _wave_of(kept: Request, made: Planned) -> DayMoisture | None:
    """The day's water of an enclosure that is misted, whose wave is read too."""
    return (
        made.prediction.damp
        if kept.enclosure.wetting is not None and kept.enclosure.wetting.mistings
        else None
    )


def left_by_stage(
    last: Commissioning | None, found: tuple[CommissioningReading, ...]
) -> tuple[CommissioningReading, ...]:
    """What of a record does not hold for who lives there now: target ranges that moved, and that
    its readings have left.
    """
    return (
        targets_moved(last.targets, last.readings, found)
        if last is not None and last.targets
        else ()
    )


def standing_commissioning(
    enclosure: Enclosure, *, with_: Animal | None = None
) -> Commissioning | None:
    """The record that verifies the enclosure as it stands, for its animals and for one that is to
    move in; None when there is none, or it is outlived.
    """
    last = enclosure.commissioning
    if last is None or not (enclosure.present or with_):
        return last
    here = {one.animal_id for one in enclosure.present}
    living = enclosure.request_data(now())["animals"]
    more = [with_.data()] if with_ is not None and with_.pk not in here else []
    try:
        kept = enclosure.request_at(now(), animals=[*living, *more])
    except DocumentError:
        return None
    return None if left_by_stage(last, found_of(kept)) else last


def commissioning_text(enclosure: Enclosure, kept: Request, made: Planned) -> str:
    """How far the commissioning of an enclosure is, for the way that leads to it; of rows fetched by
    `for_planning`, with the plan that is there already.
    """
    if enclosure.head is not None and enclosure.proven_revision == enclosure.head_id:
        return "Verified"
    found = asks(kept, made.plan.needs, _targets_of(kept, made), _wave_of(kept, made))
    done = sum(ask.state == "proven" for ask in found)
    return f"Commissioning check, {done} of {len(found)}" if done else "Commissioning check"
