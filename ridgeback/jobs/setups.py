"""Found setups as the page shows them."""

from typing import Any

from django.utils.safestring import mark_safe

from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data
from husbandry.enclosure.equipment import HEATERS, UV_LAMPS
from husbandry.items.union import Item
from husbandry.plan.plan import summary_with_prediction
from husbandry.quantity import Kind, Units, show, to_reader
from husbandry.setups.search import Rejected, SetupOffer, Setups, UnmetNeed
from husbandry.species.needs import NEEDS, NeedKey
from ridgeback.drawing.sheet import NARROW, Labels, front_view
from ridgeback.drawing.svg import write
from ridgeback.jobs.models import Job

WHY = {
    "cheapest to run": "draws the least of all that work",
    "simplest": "has the fewest parts of all that work",
    "most headroom": (
        "keeps every need furthest from its ends, and a stuck thermostat furthest from a limit"
    ),
    "uses what you own": "asks for the least that is not in the enclosure now",
    "coolest when a thermostat sticks": (
        "stays the coolest under the lamp when a thermostat sticks on the hottest day"
    ),
}


def _part(item: Item, units: Units) -> str:
    """A lamp of a setup in words."""
    what = item.name
    where = (
        f"{show(item.at_m[2], Kind.LENGTH, units)} above the"
        f" floor{', on the mesh' if item.hangs_above_lid else ''}"
    )
    if item.kind in UV_LAMPS and UV_LAMPS[item.kind].is_tube:
        return (
            f"{what},"
            f" {show(item.long_m or 0, Kind.LENGTH, units)}{', with a reflector' if item.has_reflector else ''},"
            f" {where}"
        )
    held = ""
    if item.held is not None:
        how = "switched" if item.held.control == "on_off" else "dimmed"
        held = f", {how} by a thermostat at {show(item.held.set_c, Kind.TEMPERATURE, units)}"
        if item.held.night_set_c is not None:
            held += f" and {show(item.held.night_set_c, Kind.TEMPERATURE, units)} by night"
    night = (
        " by night"
        if HEATERS[item.kind].emits_light is False and item.id.startswith("night")
        else ""
    )
    return f"{what}, {item.watts:g} W{night}, {where}{held}"


def _values(offer: SetupOffer, units: Units) -> list[tuple[str, str]]:
    return [
        (NEEDS[key].name, show(value, NEEDS[key].kind, units))
        for key, value in offer.values.items()
    ]


def _offer(n: int, offer: SetupOffer, job: Job, units: Units) -> dict[str, Any]:
    seen, prediction = summary_with_prediction(offer.request)
    labels = Labels(job.enclosure.name, "Lamp on, settled", "found")
    cost = offer.month_kwh * job.household.kwh_price
    return {
        "n": n,
        "axis": offer.axis[0].upper() + offer.axis[1:],
        "why": WHY[offer.axis],
        "drawing": mark_safe(
            write(front_view(seen, prediction, units, labels, NARROW))
        ),  # our own writer escapes
        "parts": [_part(item, units) for item in offer.request.items if not item.is_body],
        "values": _values(offer, units),
        "month": f"{offer.month_kwh:.0f} kWh a month, about {cost:.0f} {job.household.currency}",
        "to_buy": ", ".join(offer.to_buy) or "nothing: all of it is in the enclosure now",
        "stuck": show(offer.safety.surface_c, Kind.TEMPERATURE, units, digits=0),
    }


def _why_not(rejected: Rejected, units: Units) -> str:
    """The nearest simpler setup, and what rules it out."""
    if rejected.key is None:
        hot = show(rejected.value or 0.0, Kind.TEMPERATURE, units, digits=0)
        return (
            f"Simpler would be {rejected.words}: but if its thermostat failed on, the surface would"
            f" reach {hot} on the hottest day."
        )
    value = (
        show(rejected.value, NEEDS[rejected.key].kind, units) if rejected.value is not None else ""
    )
    where = "too low" if rejected.direction == "below" else "too high"
    return (
        f"Simpler would be {rejected.words}: but {rejected.need.lower()} would come to {value},"
        f" {where}."
    )


def _cannot(one: UnmetNeed, request: Request, units: Units) -> str:
    """A need that cannot be met here, and what would meet it."""
    kind = NEEDS[one.key]
    warm = kind.kind is Kind.TEMPERATURE
    short, unit = (
        to_reader(one.short, Kind.TEMPERATURE_DIFFERENCE, units) if warm else (one.short, "")
    )
    words = f"{kind.name}, {kind.place}: the best misses it by {short:.1f} {unit}".rstrip() + "."
    room = request.room.night_c if kind.phase == "night" else request.room.day_c
    if one.key is NeedKey.UVI_DAY:
        return (
            words
            + " A taller or lower enclosure, another mesh, or a longer tube than fits would change"
            " that."
        )
    wanted = room - one.short if one.high else room + one.short
    instead = (
        f"A room of about {show(wanted, kind.kind, units, digits=0)} instead of"
        f" {show(room, kind.kind, units, digits=0)}"
    )
    return (
        f"{words} {instead}, {'or more open mesh' if one.high else 'a covered lid or a longer box'}"
        " would do."
    )


def setups_view(found: Setups, job: Job, units: Units) -> dict[str, Any]:
    """The page's content."""
    request = from_data(job.asked)
    return {
        "offers": [_offer(n, offer, job, units) for n, offer in enumerate(found.offers)],
        "why_not": _why_not(found.rejected, units) if found.rejected is not None else "",
        "cannot": [_cannot(one, request, units) for one in found.impossible],
        "screened": f"{found.screened:,}".replace(",", "\u202f"),
        "predicted": found.predicted,
    }
