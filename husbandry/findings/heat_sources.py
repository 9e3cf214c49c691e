"""What an enclosure should not be heated with: a bar of light or an ultraviolet tube alone, and a dark
heater over the basking place of what lies in the sun.

Such a setup may keep every range by its numbers, and no keeper would build it (common practice).
Method: docs/methods/light.md.
"""

from collections.abc import Mapping

from husbandry.documents.request import Request
from husbandry.documents.result import Note
from husbandry.enclosure.equipment import HEATERS
from husbandry.items.heaters import LedBar
from husbandry.items.union import Item
from husbandry.predict.exposure import DAY_HOUR
from husbandry.predict.light import basks
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.targets.verdicts import TargetRange

ONLY_LIGHT, DARK_BASKING = "heated by light", "dark basking"
"""Slugs of the two findings."""
WARMED = (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY)
"""Needs that say whether anything has to be warmer than the room."""
HEAT_NEEDED_K = 1.0
"""Warmer than the room by more asks for a heater (design choice) [K]."""


def is_sun_lamp(item: Item) -> bool:
    """Whether it gives warmth and light from one place: a flood, a spot, an ultraviolet flood."""
    lit = item.kind in HEATERS and HEATERS[item.kind].emits_light
    return (lit and not isinstance(item, LedBar)) or item.kind == "uv_flood"


def is_dark_heater(item: Item) -> bool:
    """Whether it warms from above by day without light."""
    dark = item.kind in HEATERS and not HEATERS[item.kind].emits_light
    return dark and item.is_hung and item.lit_at(DAY_HOUR)


def heat_source_notes(
    request: Request, targets: Mapping[NeedKey, TargetRange], profile: Profile
) -> list[Note]:
    """A light as the only heater, and a dark heater where an animal of open sun basks."""
    needed = any(
        key in targets and targets[key].low_value > request.room.day_c + HEAT_NEEDED_K
        for key in WARMED
    )
    if not needed:
        return []
    lamps = [item for item in request.items if is_sun_lamp(item)]
    heaters = [item for item in request.items if item.is_heater and not isinstance(item, LedBar)]
    lights = [item for item in request.items if item.is_tube or isinstance(item, LedBar)]
    if lights and not heaters and not lamps:
        text = (
            "Only lights warm this enclosure. Their heat goes up, lands nowhere and cannot be"
            " regulated: add a lamp over the basking place, or a heater on a thermostat."
        )
        return [Note(slug=ONLY_LIGHT, severity="care", text=text)]
    if basks(profile) and not lamps and any(is_dark_heater(item) for item in heaters):
        text = (
            "Its basking place is warmed in the dark. An animal of open sun looks for brightness"
            " and warmth together: replace the dark heater over it by a halogen lamp, and keep the"
            " dark one for the night."
        )
        return [Note(slug=DARK_BASKING, severity="care", text=text)]

    return []
