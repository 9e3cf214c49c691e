"""Does the suggested first setup come out right? For every species and stage in several rooms, judged
by the plan alone.
"""

import datetime as dt
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from typing import Any, NamedTuple

from husbandry.derivation import Document
from husbandry.documents.request import FORMAT
from husbandry.errors import HusbandryError
from husbandry.setups.room_span import RoomSpan, room_span
from husbandry.setups.starter import start
from husbandry.species.library import find, library
from husbandry.species.profile import Profile
from husbandry.species.stages import DAYS_PER_MONTH

NOW = dt.datetime(2026, 11, 28, 12, 0, tzinfo=dt.UTC)
"""When the cases are planned: no clock decides them."""
PLACE = {"lat": 48.0, "lon": 10.0, "tz": "Europe/Berlin"}
YOUNG_MONTHS = 24.0
"""An animal of an open-ended stage is so much older than its beginning, at most (design choice)
[months].
"""


class RoomCase(NamedTuple):
    """A room in which a setup is looked for."""

    day_c: float
    night_c: float
    summer_max_c: float
    rh_pct: float


ROOMS = tuple(
    RoomCase(day, night, 28.0, rh)
    for day, night in ((18.0, 15.0), (21.0, 18.0), (24.0, 21.0))
    for rh in (35.0, 50.0, 65.0)
)
"""Rooms of the table: cool, usual and warm; dry, middling and damp."""


class ClosureCase(Document):
    """One species at one stage in one room, with what was found."""

    species: str
    stage: str
    room: tuple[float, float, float, float]
    enclosure: str = ""
    choice: str = ""
    """`EnclosureChoice.key` of the enclosure."""
    wrong: dict[str, float] = {}
    """Needs out of range, and by how much [the need's unit]."""
    breached: int = 0
    dangers: tuple[str, ...] = ()
    findings: tuple[str, ...] = ()
    colder_k: float = 0.0
    warmer_k: float = 0.0
    """How far the room may be off while every need stays in range [K]."""
    dead_end: bool = False
    """Nothing was offered at all."""
    impossible: bool = False
    """Whether the room rules out all that is missed."""
    why: str = ""
    """What stands in the way, where it is not closed."""

    @property
    def in_range(self) -> bool:
        """Whether every need that is predicted is in range."""
        return not self.wrong and not self.dead_end

    @property
    def closed(self) -> bool:
        """In range, no limit passed, no danger."""
        return self.in_range and not self.breached and not self.dangers

    @property
    def clear(self) -> bool:
        """Closed, and nothing said of it that could be better."""
        return self.closed and not self.findings


class ClosureTable(Document):
    """Every case, and the shares that count."""

    cases: tuple[ClosureCase, ...]

    def share(self, name: str) -> float:
        """Share of cases that are `in_range`, `closed` or `clear` [1]."""
        return sum(bool(getattr(case, name)) for case in self.cases) / max(len(self.cases), 1)

    def lines(self) -> Iterator[str]:
        """The table in words, each failing case after it."""
        cases = self.cases
        yield f"cases {len(cases)}"
        yield f"in range {self.share('in_range'):.1%}"
        yield f"closed {self.share('closed'):.1%}"
        yield f"closed, and nothing could be better {self.share('clear'):.1%}"
        said = Counter(slug for case in cases if case.closed for slug in case.findings)
        yield "could be better: " + ", ".join(f"{slug} {n}" for slug, n in said.most_common())
        yield f"limits passed in {sum(case.breached > 0 for case in cases)}"
        yield f"dangers in {sum(bool(case.dangers) for case in cases)}"
        yield f"dead ends {sum(case.dead_end for case in cases)}"
        closed = [min(case.colder_k, case.warmer_k) for case in cases if case.closed]
        for off_k in (0.5, 1.0, 1.5):
            held = sum(span >= off_k for span in closed)
            yield f"still in range with the room {off_k:g} K off either way: {held} of {len(closed)}"
        impossible = [case for case in cases if case.impossible]
        yield f"impossible, by the room {len(impossible)}"
        for case in cases:
            if not case.closed:
                yield _line(case)


def _line(case: ClosureCase) -> str:
    room = "/".join(f"{value:g}" for value in case.room)
    wrong = ", ".join(f"{key} by {by:.1f}" for key, by in case.wrong.items())
    said = "; ".join(part for part in (wrong, ", ".join(case.dangers), case.why) if part)
    return f"{case.species}, {case.stage}, {room}: {case.enclosure or 'nothing'}: {said}"


def data_of(profile: Profile, stage: str, room: RoomCase) -> dict[str, Any]:
    """A request without enclosure for an animal in the middle of a stage."""
    spec = profile.stage(stage)
    (young, old) = spec.age_months.ends
    (light, heavy) = spec.mass_g.ends
    months = (young + min(old, young + YOUNG_MONTHS)) / 2
    born = NOW.date() - dt.timedelta(days=round(months * DAYS_PER_MONTH))

    return {
        "format": FORMAT,
        "now": NOW.isoformat(),
        "place": PLACE,
        "room": room._asdict(),
        "animals": [
            {
                "name": "animal",
                "species": profile.species,
                "born_on": born.isoformat(),
                "mass_g": round((light * heavy) ** 0.5, 2),
            }
        ],
    }


def run_case(species: str, stage: str, room: RoomCase) -> ClosureCase:
    """Find a first setup for a case and say what the plan says of it."""
    plain = ClosureCase(species=species, stage=stage, room=tuple(room))
    try:
        found = start(data_of(find(species), stage, room))
    except HusbandryError as why:
        return plain.model_copy(update={"dead_end": True, "why": str(why)})
    if found.best is None:
        return plain.model_copy(update={"dead_end": True})
    judged = found.best.judged
    span = room_span(judged.request) if judged.closed else RoomSpan(0.0, 0.0)

    return plain.model_copy(
        update={
            "enclosure": found.best.site.choice.name,
            "choice": found.best.site.choice.key,
            "wrong": {key.value: round(by, 2) for key, (_, by) in judged.wrong.items()},
            "breached": judged.breached,
            "dangers": judged.dangers,
            "findings": judged.findings,
            "colder_k": round(span.colder_k, 2),
            "warmer_k": round(span.warmer_k, 2),
            "impossible": not judged.closed
            and not judged.dangers
            and {limit.key for limit in found.ruled_out} >= set(judged.wrong),
            "why": "; ".join(found.reasons),
        }
    )


def closure(
    species: Iterable[str] | None = None, rooms: Sequence[RoomCase] = ROOMS, *, workers: int = 2
) -> ClosureTable:
    """Run the table.

    Parameters
    ----------
    species : iterable of str, optional
        Scientific names; None: every species of the library.
    rooms : sequence of RoomCase
        Each with every stage of each species.
    workers : int
        Processes.
    """
    names = sorted(library()) if species is None else list(species)
    jobs = [
        (name, stage.slug, room) for name in names for stage in find(name).stages for room in rooms
    ]
    with ProcessPoolExecutor(workers) as pool:
        cases = pool.map(run_case, *zip(*jobs, strict=True))
        return ClosureTable(cases=tuple(cases))
