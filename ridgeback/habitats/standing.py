"""Whether a box is proven as it stands, for whom it houses now."""

from husbandry.errors import DocumentError
from husbandry.planning.damp import Damp
from husbandry.planning.looking import look
from husbandry.planning.proving import Ask, asks, bands_moved
from husbandry.planning.request import Request
from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.habitats.models import Habitat, Proof
from ridgeback.habitats.planning import Planned, planned


def found_of(kept: Request) -> tuple[Ask, ...]:
    """What is asked of a box as it is kept."""
    made = planned(kept)
    return asks(kept, made.plan.needs, look(kept).bands, _wave_of(kept, made))


def _wave_of(kept: Request, made: Planned) -> Damp | None:
    """The day's water of a box that is misted, whose wave is read too."""
    return made.outcome.damp if kept.box.wetting is not None and kept.box.wetting.mistings else None


def left_by_stage(last: Proof | None, found: tuple[Ask, ...]) -> tuple[Ask, ...]:
    """What of a record does not hold for who lives there now: bands that moved, and that its readings have left."""
    return bands_moved(last.bands, last.readings, found) if last is not None and last.bands else ()


def standing_proof(habitat: Habitat, *, with_: Animal | None = None) -> Proof | None:
    """The record that proves the box as it stands, for its animals and for one that is to move in; None when there is none, or it is outlived."""
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
    """How far the proof of a box is, for the way that leads to it; of rows fetched by `for_planning`, with the plan that is there already."""
    if habitat.head is not None and habitat.proven_revision == habitat.head_id:
        return "Proven"
    found = asks(kept, made.plan.needs, look(kept).bands, _wave_of(kept, made))
    done = sum(ask.state == "proven" for ask in found)
    return f"Prove it, {done} of {len(found)}" if done else "Prove it"
