"""Whether an enclosure is proven as it stands, for whom it houses now."""

from husbandry.errors import DocumentError
from husbandry.planning.moisture import Damp
from husbandry.planning.need_states import look
from husbandry.planning.proving import Ask, asks, bands_moved
from husbandry.planning.request import Request
from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.habitats.models import Habitat, Proof
from ridgeback.habitats.planning import Planned, planned


def found_of(kept: Request) -> tuple[Ask, ...]:
    """What is asked of an enclosure as it is kept."""
    made = planned(kept)
    return asks(kept, made.plan.needs, look(kept).bands, _wave_of(kept, made))


def _wave_of(kept: Request, made: Planned) -> Damp | None:
    """The day's water of an enclosure that is misted, whose wave is read too."""
    return made.outcome.damp if kept.box.wetting is not None and kept.box.wetting.mistings else None


def left_by_stage(last: Proof | None, found: tuple[Ask, ...]) -> tuple[Ask, ...]:
    """What of a record does not hold for who lives there now: bands that moved, and that its readings have left."""
    return bands_moved(last.bands, last.readings, found) if last is not None and last.bands else ()


def standing_proof(habitat: Habitat, *, with_: Animal | None = None) -> Proof | None:
    """The record that proves the enclosure as it stands, for its animals and for one that is to move in; None when there is none, or it is outlived."""
    last = habitat.proof
    if last is None or not (habitat.present or with_):
        return last
    here = {one.animal_id for one in habitat.present}
    living = habitat.request_data(now())["animals"]
    more = [with_.data()] if with_ is not None and with_.pk not in here else []
    try:
        kept = habitat.request_at(now(), animals=[*living, *more])
    except DocumentError:
        return None
    return None if left_by_stage(last, found_of(kept)) else last


def proof_text(habitat: Habitat, kept: Request, made: Planned) -> str:
    """How far the proof of an enclosure is, for the way that leads to it; of rows fetched by `for_planning`, with the plan that is there already."""
    if habitat.head is not None and habitat.proven_revision == habitat.head_id:
        return "Verified"
    found = asks(kept, made.plan.needs, look(kept).bands, _wave_of(kept, made))
    done = sum(ask.state == "proven" for ask in found)
    return f"Commissioning check, {done} of {len(found)}" if done else "Commissioning check"
