"""A chore as it was shown, signed: a plain tap on it is written without asking the database what is due. The same idea as the bench's seal.

What makes it safe: the signature is ours, it names household and day, and the database lets a chore of a day stand once.
"""

import datetime as dt
import uuid
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.core import signing

from husbandry.chores.chore import Chore
from husbandry.chores.larder import taken
from husbandry.handling.taming import HOW
from ridgeback import clock
from ridgeback.animals.models import Animal
from ridgeback.ledger.flows import Tap, Where
from ridgeback.ledger.models import Entry
from ridgeback.rounds.due_tasks import Due, chore_name

SALT = "ridgeback.rounds.chore"
PLAIN = frozenset(
    {
        "look",
        "water",
        "mist",
        "feed",
        "soak",
        "pool",
        "moss",
        "calcium dish",
        "clean",
        "deep clean",
        "filter",
        "screen",
        "lamp",
        "gutload",
        "course",
        "tame",
        "enrich",
    }
)
"""Chores that a tap alone can say; weights, readings and looks at a body carry more."""
KEPT_S = 26 * 3600
"""A page stays open over a day's round, and a tap may wait a day for its network [s]."""


@dataclass(frozen=True)
class Sealed:
    """What a plain tap needs, read back."""

    where: Where
    tap: Tap
    wants: dict[str, float]
    """What a meal takes from the larder."""
    who: str
    zone: str


def seal(due: Due, chore: Chore, animal: Animal | None, shown: str) -> str:
    """A chore as it is shown today, signed; empty for what a tap alone cannot say.

    Parameters
    ----------
    shown : str
        Its amount as the field shows it: typed otherwise, the tap is read the long way.
    """
    if chore.kind not in PLAIN:
        return ""
    return signing.dumps(
        {
            "w": [due.habitat.household_id, due.habitat.pk, animal.pk if animal else None], "c": chore_name(due.habitat, animal, chore), "s": chore.stem,
            "k": chore.kind, "d": due.today.isoformat(), "a": chore.amount, "t": shown, "p": list(chore.products), "l": taken(chore),
            "n": animal.name if animal is not None and len(due.animals) > 1 else "", "z": due.habitat.room.time_zone,
        },
        salt=SALT,
    )  # fmt: skip


def unseal(posted: Mapping[str, str], household: int | None, at: dt.datetime) -> Sealed | None:
    """A plain tap on a sealed chore of this household and day; None for anything else, which is then read the long way.

    Parameters
    ----------
    at : datetime
        When it was tapped.
    """
    outcome = posted.get("outcome", "done")
    if posted.get("note", "").strip() or not posted.get("sealed") or (outcome != "done" and outcome not in HOW):
        return None
    try:
        told: dict[str, Any] = signing.loads(posted["sealed"], salt=SALT, max_age=KEPT_S)
        tap = uuid.UUID(posted.get("tap", ""))
    except (signing.BadSignature, ValueError):
        return None
    home, box, animal = told["w"]
    on = clock.day_in(told["z"], at)
    tamed = told["k"] == "tame"
    if home != household or told["c"] != posted.get("chore") or on.isoformat() != told["d"] or tamed != (outcome in HOW):
        return None
    if posted.get("amount", told["t"]).strip() != told["t"]:
        return None
    written = Tap(
        tap, told["c"], told["s"], Entry.Outcome.DONE, on, at, told["a"], tuple(told["p"]), how=outcome if tamed else ""
    )
    return Sealed(Where(home, box, animal), written, told["l"], told["n"], told["z"])
