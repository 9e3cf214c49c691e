"""Found setups as the page shows them."""

from collections import Counter
from collections.abc import Sequence
from typing import Any

from django.utils.safestring import mark_safe

from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data
from husbandry.plan.plan import plan, summary_with_prediction
from husbandry.quantity import Kind, Units, show
from husbandry.setups.existing_enclosure import is_fitting
from husbandry.setups.offering import Axis
from husbandry.setups.room_span import ROOMS_OFF_K
from husbandry.setups.search import NearMiss, Rejected, Remedy, SetupOffer, Setups
from husbandry.setups.steps import Missed, Step
from husbandry.species.needs import NEEDS, in_sentence
from ridgeback.drawing.sheet import NARROW, Labels, front_view
from ridgeback.drawing.svg import write
from ridgeback.enclosures.fitting_words import WETNESS, fitting_words, vents_words
from ridgeback.enclosures.wording import note
from ridgeback.jobs.models import Job
from ridgeback.sentences import between

WHY: dict[Axis, str] = {
    "cheapest to buy": "costs the least to buy, by guide prices",
    "cheapest to run": "draws the least of all that work",
    "simplest": "has the fewest parts of all that work",
    "most headroom": "is the likeliest to be right, also in a colder or warmer room",
    "uses what you own": "asks for the least that is not in the enclosure now",
    "quietest change": "leaves the most where it is now",
}


def _values(offer: SetupOffer, units: Units) -> list[tuple[str, str]]:
    return [
        (NEEDS[key].name, show(value, NEEDS[key].kind, units))
        for key, value in offer.values.items()
    ]


def _offer(n: int, offer: SetupOffer, job: Job, units: Units) -> dict[str, Any]:
    household = job.household
    cost = offer.month_kwh * household.kwh_price
    price = offer.price_eur * household.euro_rate
    bought = ", ".join(_counted([*filter(None, [offer.enclosure]), *offer.to_buy]))

    return {
        "n": n,
        "axis": offer.axis[0].upper() + offer.axis[1:],
        "why": WHY[offer.axis],
        "enclosure": offer.enclosure,
        **_drawn(offer.request, job, units),
        "values": _values(offer, units),
        "span": _span(offer, units),
        "chance": _chance(offer, units),
        "chances": _chances(offer, units),
        "month": f"{offer.month_kwh:.0f} kWh a month, about {cost:.0f} {household.currency}",
        "to_buy": (
            f"{bought}; about {price:.0f} {household.currency} by guide prices"
            if bought or offer.enclosure
            else "nothing: all of it is in the enclosure now"
        ),
    }


def _span(offer: SetupOffer, units: Units) -> str:
    """In which rooms it stays right."""
    day_c = offer.request.room.day_c
    low = day_c - offer.colder_k
    high = day_c + offer.warmer_k
    if low == high:
        return "It is right in this room only: a little warmer or colder, and a need is missed."

    return (
        f"It stays right with the room at {show(low, Kind.TEMPERATURE, units)} to"
        f" {show(high, Kind.TEMPERATURE, units)} by day, and as much warmer or colder at night."
    )


def _chance(offer: SetupOffer, units: Units) -> str:
    """How likely it is that nothing is left to adjust."""
    off = show(ROOMS_OFF_K[-1], Kind.TEMPERATURE_DIFFERENCE, units)
    said, colder, warmer = (
        round(100 * chance) for chance in (offer.chance, offer.chance_colder, offer.chance_warmer)
    )
    return (
        f"Of a hundred built like this about {said} are right at once, for lamps differ: measure and"
        f" adjust. With the room {off} colder it is {colder}, warmer {warmer}."
    )


def _chances(offer: SetupOffer, units: Units) -> list[dict[str, str]]:
    """Of each need by itself: the derivation of how likely all of them hold."""
    return [
        {
            "name": NEEDS[one.key].name,
            "span": between(one.low, one.high, NEEDS[one.key].kind, units),
            "of_a_hundred": f"{100 * one.chance:.0f}",
        }
        for one in offer.chances
    ]


def _drawn(request: Request, job: Job, units: Units) -> dict[str, Any]:
    """Its drawing and its parts."""
    seen, prediction = summary_with_prediction(request)
    labels = Labels(job.enclosure.name if job.enclosure else "", "Lamp on, settled", "found")
    drawing = write(front_view(seen, prediction, units, labels, NARROW))
    lid = request.enclosure.lid
    parts = [str(fitting_words(item, units)) for item in request.items if is_fitting(item)]
    if lid.mesh and lid.mesh_share < 1:
        parts.append(f"{lid.mesh_share:.0%} of the lid left as open mesh")
    if vents := vents_words(request.enclosure.vents, units):
        parts.append(f"vents open {vents}")
    return {"drawing": mark_safe(drawing), "parts": _counted(parts)}  # our own writer escapes


def _counted(words: Sequence[str]) -> list[str]:
    """Each once, with how many of it there are."""
    return [f"{count} × {word}" if count > 1 else word for word, count in Counter(words).items()]


def _why_not(rejected: Rejected, units: Units) -> str:
    """The nearest simpler setup, and what rules it out."""
    if rejected.key is None or rejected.value is None:
        return f"Simpler would be {rejected.words}: but it would not be safe."
    need = NEEDS[rejected.key]
    value = show(rejected.value, need.kind, units)
    where = "too low" if rejected.direction == "below" else "too high"
    return f"Simpler would be {rejected.words}: but {in_sentence(need.name)} would come to {value}, {where}."


def _miss(n: int, miss: NearMiss, job: Job, units: Units) -> dict[str, Any]:
    return {
        "n": n,
        **_drawn(miss.request, job, units),
        "missed": [(one.direction, _missed(one, units)) for one in miss.missed],
        "dangers": [
            note(one, units) for one in plan(miss.request).notes if one.severity == "danger"
        ],
    }


def _missed(one: Missed, units: Units) -> str:
    """What is missed, its value and by how much, in no more figures than are true."""
    kind = NEEDS[one.key]
    value = show(one.value, kind.kind, units)
    by = show(
        one.by, Kind.TEMPERATURE_DIFFERENCE if kind.kind is Kind.TEMPERATURE else kind.kind, units
    )
    where = "too low" if one.direction == "below" else "too high"
    return f"{kind.name}, {kind.place}: {value}, {by} {where}"


def _step(step: Step, now: Request, then: Request, units: Units) -> dict[str, Any]:
    """One thing to do, and what is still wrong after it."""
    return {
        "words": _to_do(step, now, then, units),
        "left": [(one.direction, _missed(one, units)) for one in step.missed],
    }


def _to_do(step: Step, now: Request, then: Request, units: Units) -> str:
    old = step.old
    new = step.new
    match step.action:
        case "settings":
            return _settings(now, then, units)
        case "furniture":
            return "Put in what it hides in, climbs and drinks from, as drawn in the layout."
        case "replace" if old is not None and new is not None:
            return f"Take out the {old.name} and put in: {fitting_words(new, units)}."
        case "move" if old is not None and new is not None:
            how = fitting_words(new, units).how
            return f"{'Set' if old.at_m == new.at_m else 'Move'} the {new.name}: {how}."
        case "add" if new is not None:
            return f"Add: {fitting_words(new, units)}."

    return f"Take out the {old.name}." if old is not None else ""


def _settings(now: Request, then: Request, units: Units) -> str:
    """What is set differently of lid, vents, covers and moisture."""
    one = now.enclosure
    other = then.enclosure
    said = []
    if one.lid != other.lid:
        said.append(f"leave {other.lid.mesh_share:.0%} of the lid as open mesh")
    if one.vents != other.vents:
        words = vents_words(other.vents, units)
        said.append(f"set the vents to {words}" if words else "close the vents")
    if one.covered != other.covered and other.covered:
        said.append(f"cover from outside: {', '.join(other.covered)}")
    if one.wetting != other.wetting and other.wetting is not None:
        said.append(f"keep the substrate {WETNESS[other.wetting.substrate]}")
        if other.wetting.mistings:
            said.append(f"mist at {', '.join(misting.at for misting in other.wetting.mistings)}")
    words = "; ".join(said) or "set the enclosure as in the layout"

    return f"{words[0].upper()}{words[1:]}."


def _remedy(remedy: Remedy, request: Request, units: Units) -> str:
    """What would remove the miss."""
    if remedy.kind == "approach":
        return f"By the approach “{remedy.approach}” it is in range."
    if remedy.kind == "height":
        high = show(remedy.value, Kind.LENGTH, units)
        return f"An enclosure {high} high inside would do."
    room = request.room
    now = room.night_c if remedy.part == "night" else room.day_c
    by = "at night" if remedy.part == "night" else "by day"
    value = show(remedy.value, Kind.TEMPERATURE, units, digits=0)

    return f"A room of {value} {by} instead of {show(now, Kind.TEMPERATURE, units, digits=0)} would do."


def setups_view(found: Setups, job: Job, units: Units) -> dict[str, Any]:
    """The page's content."""
    request = from_data(job.asked["request"])
    offers = len(found.offers)
    first = len(found.offers) + len(found.misses)
    opened = [one for one in found.remedies if one.request is not None]

    return {
        "offers": [_offer(n, offer, job, units) for n, offer in enumerate(found.offers)],
        "misses": [_miss(offers + n, miss, job, units) for n, miss in enumerate(found.misses)],
        "remedies": [
            {
                "words": _remedy(one, request, units),
                "kind": one.kind,
                "n": first + opened.index(one) if one.request is not None else None,
            }
            for one in found.remedies
        ],
        "steps": [
            _step(step, request, found.nearest, units)
            for step in found.steps
            if found.nearest is not None
        ],
        "nearest": len(found.requests) - 1 if found.nearest is not None else None,
        "limits": [limit.said(units) for limit in found.limits],
        "why_not": _why_not(found.rejected, units) if found.rejected is not None else "",
        "right_now": found.right_now,
        "too_small": found.too_small,
        "planned": found.planned,
        "stopped": found.stopped,
        "varied": job.asked["vary"],
    }
