"""Labels that hang on enclosures: name, species, limits in large figures, and a code that opens
its page.
"""

import io
import re
from dataclasses import dataclass

import qrcode
import qrcode.image.svg
from django.utils.safestring import SafeString, mark_safe

from husbandry.quantity import Kind, Units, show
from husbandry.species.needs import NeedKey
from ridgeback.calculation import Failed, attempt
from ridgeback.clock import now
from ridgeback.enclosures.models import WALK, Enclosure
from ridgeback.enclosures.planning import planned
from ridgeback.households.models import Household
from ridgeback.species_guide.flows import profile_of

LARGE = {
    NeedKey.SURFACE_DAY: "basking",
    NeedKey.COOL_AIR_DAY: "cool end",
    NeedKey.AIR_NIGHT: "night",
    NeedKey.HUMIDITY_DAY: "humidity",
    NeedKey.WATER_DAY: "water",
}
"""What stands on a label in large figures, and its word there."""


@dataclass(frozen=True)
class Label:
    """One label."""

    enclosure: Enclosure
    animals: tuple[tuple[str, str, str], ...]
    """Name, species and sex of each."""
    ranges: tuple[tuple[str, str], ...]
    code: SafeString


def qr_svg(address: str) -> SafeString:
    """Draw the QR code of an address, to be set at any size."""
    made = qrcode.make(address, image_factory=qrcode.image.svg.SvgPathImage, border=1)
    out = io.BytesIO()
    made.save(out)
    text = re.sub(r' id="[^"]*"', "", out.getvalue().decode())  # a sheet holds many
    return mark_safe(text[text.index("<svg") :])  # the library writes squares and nothing else


def label_of(enclosure: Enclosure, address: str, units: Units) -> Label:
    """Compose the label of an enclosure that was fetched for planning."""
    animals = tuple(
        (
            one.animal.name,
            profile_of(enclosure.household, one.animal.species).name,
            "" if one.animal.sex == "unknown" else one.animal.sex,
        )
        for one in enclosure.present
    )
    return Label(enclosure, animals, _ranges(enclosure, units), qr_svg(address))


def _ranges(enclosure: Enclosure, units: Units) -> tuple[tuple[str, str], ...]:
    if not enclosure.present or enclosure.head is None:
        return ()
    made = attempt(lambda: planned(enclosure.request_at(now())), "enclosure", enclosure.pk)
    if isinstance(made, Failed):
        return ()

    found = []
    for need in made.plan.needs:
        ends = [end.value for end in (need.low, need.high) if end is not None]
        if need.key not in LARGE or len(ends) != 2:
            continue

        is_damp = need.key == NeedKey.HUMIDITY_DAY
        kind = Kind.HUMIDITY if is_damp else Kind.TEMPERATURE
        unit = "%" if is_damp else f"°{units.temperature.upper()}"
        low, high = (show(end, kind, units, digits=0, unit=False) for end in ends)
        found.append((LARGE[need.key], f"{low}–{high} {unit}"))

    return tuple(found)


def labels_of(household: Household, root: str, units: Units) -> list[Label]:
    """Compose the labels of every enclosure that is in use, in walking order.

    Parameters
    ----------
    root : str
        Address of the application, with its last slash: a code is an address.
    """
    own = Enclosure.objects.of(household).in_use().for_planning().order_by(*WALK)
    return [label_of(one, f"{root}enclosures/{one.pk}/", units) for one in own]
