"""Cats and dogs that come into the room: what keeps them out of an enclosure.

Common practice, no source.
"""

from collections.abc import Iterator

from husbandry.documents.request import Request
from husbandry.documents.result import Note
from husbandry.items.screens import GuardScreen

OPEN_TOP, MESH_TOP, MESH_SIDES = "pets open top", "pets mesh top", "pets mesh sides"
FINE = frozenset({"insect", "fly_screen", "medium"})
"""Mesh that a cat tears; a part of wire mesh holds."""
OPEN_MESH, ALL_OPEN = "half_inch", 0.99
"""An open table is said as half-inch mesh over its whole top (design choice)."""
WAY_IN_SHARE = 0.2
"""A smaller share of the lid is a vent, and no way in (design choice) [1]."""


def new_screen(request: Request) -> GuardScreen:
    """A guard screen for its whole top."""
    inside = request.enclosure.inside_m
    place = (round(inside.length / 2, 3), round(inside.depth / 2, 3), inside.height)
    taken = {item.id for item in request.items}
    free = (f"{GuardScreen.stem}-{n}" for n in range(1, 99))

    return GuardScreen(id=next(one for one in free if one not in taken), at_m=place)


def is_screened(request: Request) -> bool:
    """Whether a guard screen lies over the top."""
    return any(isinstance(item, GuardScreen) for item in request.items)


def pet_notes(request: Request) -> Iterator[Note]:
    """What a cat or a dog of the house can do to an enclosure."""
    room, enclosure = request.room, request.enclosure
    who = {
        (True, False): "A cat comes",
        (False, True): "A dog comes",
        (True, True): "A cat and a dog come",
    }.get((room.has_cats, room.has_dogs))
    if who is None:
        return

    lid = enclosure.lid
    if not is_screened(request):
        if lid.mesh == OPEN_MESH and lid.mesh_share >= ALL_OPEN:
            text = (
                f"{who} into this room and the top is open: paws and jaws reach in, and a jump tips"
                " the lamp. Fix a screen of welded wire over the whole top, or keep the door of"
                " the room shut."
            )
            yield Note(slug=OPEN_TOP, severity="danger", text=text)
        elif room.has_cats and lid.mesh in FINE and lid.mesh_share >= WAY_IN_SHARE:
            text = (
                f"{who} into this room. Cats lie on warm mesh: it sags, tears, and lamps on it fall."
                " Fix a screen of welded wire over it."
            )
            yield Note(slug=MESH_TOP, severity="care", text=text)

    sides = enclosure.panels
    if "mesh" in {sides.front, sides.back, sides.left, sides.right}:
        text = (
            f"{who} into this room. Mesh sides do not hold a cat or a dog, and an animal that is"
            " watched all day does not feed: keep the door of the room shut, or use glass."
        )
        yield Note(slug=MESH_SIDES, severity="care", text=text)
