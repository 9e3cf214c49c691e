"""Why no setup puts everything right: who lives together, what is allowed, how small the enclosure
is, how cold the room.
"""

from collections.abc import Iterator

from husbandry.documents.request import Request
from husbandry.documents.result import COMPANY, Plan
from husbandry.documents.room import Room
from husbandry.plan.plan import plan
from husbandry.species.needs import NEEDS, NeedKey

CARRIED = 1.2
"""Of a kelvin in the enclosure, in the room: what a lamp adds falls a little as the room warms
(design choice) [1].
"""
WARMTH = frozenset(
    {NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY, NeedKey.AIR_NIGHT}
)


def is_of_company(note_slug: str) -> bool:
    """Whether a danger lies in who lives together, and no setup removes it."""
    return note_slug == COMPANY or note_slug.startswith("conflict ")


def obstacles(request: Request) -> tuple[str, ...]:
    """What stands in the way of the nearest setup, each as a sentence."""
    made = plan(request, advise=False)
    said = [note.text for note in made.notes if note.severity == "danger"]
    if not made.size.enough:
        sides = " × ".join(f"{100 * side.needed_m:.0f}" for side in made.size.sides)
        said.append(f"The enclosure is too small for it: it needs {sides} cm.")
    heated = any(item.is_heater for item in request.items)
    if not heated:
        said.append("Nothing that warms is in it: none is allowed, or none has room.")
    if heated:
        said += _missed(made, request.room)
    return tuple(dict.fromkeys(said))


def _missed(made: Plan, room: Room) -> Iterator[str]:
    """What is out of range; for what is too cold, rooms in which it would be enough."""
    for need in made.needs:
        by = need.verdict.by
        direction = need.verdict.direction
        if direction not in {"below", "above"}:
            continue
        name = NEEDS[need.key].name
        unit = NEEDS[need.key].unit
        where = "low" if direction == "below" else "high"
        if need.key not in WARMTH or direction == "above":
            yield f"{name} comes out {by:.1f} {unit} too {where} in the nearest setup."
            continue
        now, part = (room.night_c, "at night") if need.phase == "night" else (room.day_c, "by day")
        yield (
            f"{name} comes out {by:.1f} K too low with all that may hang there: a room of about"
            f" {now + CARRIED * by:.0f} °C {part} instead of {now:.0f} °C makes it possible."
        )
