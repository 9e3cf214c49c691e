"""Understanding a tap: which chore, how it ended, how much; or what is wrong with it."""

import datetime as dt
import uuid
from collections.abc import Mapping
from dataclasses import dataclass

from husbandry.chores.chore import Chore
from husbandry.chores.weighing import weigh
from husbandry.errors import EntryError
from husbandry.growth.plausibility import BESIDE_WEIGHING
from husbandry.handling.taming import HOW
from husbandry.quantity import Entry as Typed
from husbandry.quantity import Kind, Units, read, show
from husbandry.species.library import find
from ridgeback.animals.models import Animal
from ridgeback.animals.plausibility import doubt_of_mass
from ridgeback.ledger.flows import Tap
from ridgeback.ledger.models import Entry
from ridgeback.posting import plain_words
from ridgeback.rounds.due_tasks import Due, chore_name
from ridgeback.rounds.presenting import AMOUNTS

LATEST = dt.timedelta(hours=24)
"""A tap that waited for the network longer than that is not believed."""
MOST = {"feed": 20.0, "mist": 10.0, "pool": 5.0}
"""So many times the usual amount is a slip (design choice) [1]."""


class NotDueError(Exception):
    """The chore is not due, or not due any more."""


class WrongError(Exception):
    """Something typed cannot be; says so in a sentence."""


@dataclass(frozen=True)
class Understood:
    """A tap that can be written."""

    chore: Chore
    animal: Animal | None
    tap: Tap


def find_chore(due: Due, name: str) -> tuple[Chore, Animal | None]:
    """The due chore of that name. Raises `NotDueError`."""
    for chore in due.chores:
        animal = due.animal_of(chore)
        if chore_name(due.habitat, animal, chore) == name:
            return chore, animal
    raise NotDueError


def understand(due: Due, posted: Mapping[str, str], units: Units, now: dt.datetime) -> Understood:
    """Read a tap of a due chore.

    Raises
    ------
    NotDueError, WrongError
    """
    try:
        tap = uuid.UUID(posted.get("tap", ""))
    except ValueError:
        raise NotDueError from None
    chore, animal = find_chore(due, posted.get("chore", ""))
    outcome = posted.get("outcome", Entry.Outcome.DONE)
    how = outcome if chore.kind == "tame" and outcome in HOW else ""
    if chore.kind == "tame" and outcome != Entry.Outcome.SKIPPED:
        if not how:
            raise WrongError("Say how it went: calm, hid, or bit.")
        outcome = Entry.Outcome.DONE
    note = plain_words(posted.get("note", ""), 300)
    if outcome not in Entry.Outcome.values or (outcome == Entry.Outcome.REFUSED and chore.kind != "feed"):
        raise NotDueError
    if outcome == Entry.Outcome.SKIPPED and not note:
        raise WrongError("Say in a word why not today.")
    at = now - age(posted.get("age_s", ""))
    on = min(due.habitat.room.day_of(at), due.today)  # a tap that waited over midnight is of the day it was made on
    name = chore_name(due.habitat, animal, chore)
    if outcome == Entry.Outcome.SKIPPED:
        name = f"{name}/not {on}"
        return Understood(chore, animal, Tap(tap, name, chore.stem, outcome, on, at, note=note))
    amount = _amount(chore, due, posted, units) if outcome == Entry.Outcome.DONE else None
    products = chore.products if outcome == Entry.Outcome.DONE else ()
    return Understood(chore, animal, Tap(tap, name, chore.stem, outcome, on, at, amount, products, note, how))


def age(text: str) -> dt.timedelta:
    """How long the tap has waited in the page: its clock is not trusted, the time between is."""
    try:
        waited = dt.timedelta(seconds=max(float(text or 0), 0.0))
    except (ValueError, OverflowError):
        return dt.timedelta(0)
    return waited if waited <= LATEST else dt.timedelta(0)


def _quantity(text: str, kind: Kind, units: Units, *, small: bool = False) -> Typed:
    try:
        return read(text, kind, units, small=small)
    except EntryError as why:
        raise WrongError(str(why)) from None


def _amount(chore: Chore, due: Due, posted: Mapping[str, str], units: Units) -> float | None:
    if chore.kind not in AMOUNTS:
        return None
    text = posted.get("amount", "").strip()[:60]
    if chore.kind == "weigh":
        return _weight(chore, due, posted, text, units)
    if not text:
        return chore.amount
    value = _quantity(text, AMOUNTS[chore.kind], units, small=chore.kind == "mist").value
    if chore.kind == "mist":
        value *= 1000
    if value < 0:
        raise WrongError("An amount is counted from nothing up.")
    if chore.amount and value > MOST[chore.kind] * chore.amount:
        raise WrongError(f"That is more than {MOST[chore.kind]:g} times the usual: look at the unit.")
    return value


def _weight(chore: Chore, due: Due, posted: Mapping[str, str], text: str, units: Units) -> float:
    assert chore.animal is not None and due.duties is not None
    if not text:
        raise WrongError("Write what the scale shows.")
    gross = _quantity(text, Kind.MASS, units)
    tare_text = posted.get("tare", "").strip()[:60]
    tare = _quantity(tare_text, Kind.MASS, units).value if tare_text else 0.0
    step_text = posted.get("step", "").strip()[:60]
    step = _quantity(step_text, Kind.MASS, units).value if step_text else None
    found = weigh(gross.value, tare, step)
    if found.mass_g <= 0:
        raise WrongError("Nothing is left for the animal: are the two exchanged?")
    if found.coarse and posted.get("sure") != "yes":
        least = show(found.shows_g, Kind.MASS, units)
        raise WrongError(
            f"Such a scale shows no change of less than {least}: too coarse for it. Tick “sure” to log it all the same."
        )
    entry = read(f"{found.mass_g} g", Kind.MASS, units) if tare else gross
    animal = due.animals[chore.animal]
    doubt = doubt_of_mass(entry, animal, find(animal.species), on=due.today, units=units, beside=BESIDE_WEIGHING)
    if doubt is not None and doubt.refused:
        raise WrongError(doubt.sentence)
    if doubt is not None and posted.get("sure") != "yes":
        raise WrongError(f"{doubt.sentence} Tick “sure” if it is so, and look at the animal.")
    return found.mass_g
