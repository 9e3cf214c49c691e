"""Water that is seen as water: drops, for animals that drink nothing that stands.

Rule: docs/methods/water.md.
"""

from husbandry.documents.request import Request
from husbandry.documents.result import Note
from husbandry.items.drippers import Dripper
from husbandry.species.profile import Profile

NO_DROPS = "no drops"
"""Slug of what is said where nothing drips and nobody mists."""
_TEXT = (
    "It drinks drops that move and may dry out beside a full dish: hang a dripper over leaves with a"
    " dish below, or mist it for minutes twice a day."
)


def drinking(request: Request, profile: Profile) -> list[Note]:
    """Say that an animal which drinks only drops gets none (common practice)."""
    if not profile.water.drops:
        return []
    wetting = request.enclosure.wetting
    if wetting is not None and wetting.mistings:
        return []
    if any(isinstance(item, Dripper) and not item.buried for item in request.items):
        return []
    return [Note(slug=NO_DROPS, severity="care", text=_TEXT)]
