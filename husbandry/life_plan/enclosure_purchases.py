"""Which enclosures an animal fits and until when; and what it costs to buy once or step by step,
with its months in an enclosure too small.

Method: docs/methods/buying.md.
"""

import datetime as dt
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from husbandry.derivation import Document, Source
from husbandry.enclosure.catalogue import CATALOGUE, KINDS_OF, CatalogueEnclosure
from husbandry.enclosure.trade_size import Sides, compare
from husbandry.life_plan.future_body import Edge, FutureAnimal, first_day
from husbandry.life_plan.rows import Milestone, milestones
from husbandry.species.approaches import QUESTIONS
from husbandry.species.needs import NeedKey
from husbandry.species.selection import need_of
from husbandry.species.stages import DAYS_PER_MONTH

MADE_EUR_M2 = 100.0
"""An enclosure made to measure, per square metre of its six sides (common practice, guide of 2026)
[€/m²].
"""
BUILT_EUR_M2 = 450.0
"""A heated house or pen built to measure, per square metre of floor (common practice, guide of
2026) [€/m²].
"""
OPEN_KINDS = frozenset({"open table", "cage"})
DAMP_PCT = 65.0
"""From this lower end of humidity on, what is open is not bought for a while: it holds no moisture
(common practice) [%].
"""
SHORTEST_DAYS = 60
"""An enclosure outgrown sooner is not bought in a plan of steps (design choice) [days]."""
PRICES = Source(
    kind="common practice", text="guide prices of new enclosures, 2026; ask for offers"
)


@dataclass(frozen=True)
class OwnedEnclosure:
    """An enclosure that the keeper has."""

    name: str
    sides_m: tuple[float, float, float]
    """Inside length, depth and height [m]."""
    substrate_m: float | None = None
    """Of the substrate in it; None: as deep as the animal digs [m]."""
    outside_m: Sides | None = None
    """As it is sold, walls counted in; None: as inside [m]."""


class EnclosureFit(Document):
    """Whether an enclosure is large enough, and until when."""

    name: str
    now: bool
    early: dt.date | None = None
    usual: dt.date | None = None
    """The day on which it becomes too small; None: never, as far as the life plan looks."""
    late: dt.date | None = None
    short: tuple[str, ...] = ()
    """Sides that are too small already."""


class EnclosurePurchase(Document):
    """An enclosure bought on a day."""

    on: dt.date
    early: dt.date
    """The earliest day on which it may be needed."""
    name: str
    slug: str = ""
    sides_m: tuple[float, float, float]
    """Inside length, depth and height [m]."""
    price_eur: float
    made: bool = False
    """No common enclosure is so large: made to measure."""
    owned: bool = False


class BuyPlan(Document):
    """A way to buy enclosures for a life."""

    slug: Literal["once", "steps", "late"]
    enclosures: tuple[EnclosurePurchase, ...]
    total_eur: float
    small_months: float
    """Months that the animal spends in an enclosure too small for it."""
    small_from: dt.date | None = None
    advised: bool = False


class PurchasePlan(Document):
    """The ways beside each other."""

    today: dt.date
    grown_enclosure_m: tuple[float, float, float]
    """Length, depth and height of the last enclosure [m]."""
    plans: tuple[BuyPlan, ...]
    grown_on: dt.date | None = None
    saved_eur: float
    """What the dearest way costs over the cheapest that never has it in an enclosure too small."""
    because: str
    """Why that one is advised."""
    source: Source = PRICES


@dataclass(frozen=True)
class _Offer:
    name: str
    slug: str
    sides_m: tuple[float, float, float]
    price_eur: float
    made: bool = False
    owned: bool = False
    substrate_m: float | None = None
    open: bool = False
    outside_m: Sides | None = None


def _short(offer: _Offer, needed: Sides, substrate: float) -> tuple[str, ...]:
    sides = compare(offer.outside_m or offer.sides_m, offer.sides_m[2] - substrate, needed)
    return tuple(side.name for side in sides if not side.enough)


def _too_small(life: FutureAnimal, offer: _Offer, on: dt.date, edge: Edge = "usual") -> bool:
    substrate = life.substrate_m(on) if offer.substrate_m is None else offer.substrate_m
    return bool(_short(offer, life.enclosure_m(on, edge), substrate))


def _until(
    life: FutureAnimal, offer: _Offer, after: dt.date, edge: Edge = "usual"
) -> dt.date | None:
    return first_day(
        lambda on: _too_small(life, offer, on, edge), after, max(life.end(after), after)
    )


def fits(life: FutureAnimal, enclosure: OwnedEnclosure, today: dt.date) -> EnclosureFit:
    """Whether an enclosure will do for an animal, and when it no longer will."""
    offer = _Offer(
        enclosure.name,
        "",
        enclosure.sides_m,
        0.0,
        owned=True,
        substrate_m=enclosure.substrate_m,
        outside_m=enclosure.outside_m,
    )
    substrate = life.substrate_m(today) if enclosure.substrate_m is None else enclosure.substrate_m
    short = _short(offer, life.enclosure_m(today), substrate)
    if short:
        return EnclosureFit(name=enclosure.name, now=False, short=short)
    usual = _until(life, offer, today)
    return EnclosureFit(
        name=enclosure.name,
        now=True,
        usual=usual,
        early=_until(life, offer, today, "high"),
        late=_until(life, offer, today, "low"),
    )


def common_enclosures(life: FutureAnimal, today: dt.date) -> tuple[EnclosureFit, ...]:
    """Every common enclosure of the kinds that suit its species: whether it would fit, and until
    when; the smallest that fit first, then those that do not.
    """
    found = [
        (
            fits(
                life, OwnedEnclosure(shape.name, shape.sides_m, outside_m=shape.outside_m), today
            ),
            shape,
        )
        for shape in _suiting(life)
    ]
    found.sort(
        key=lambda pair: (not pair[0].now, pair[1].length_m * pair[1].depth_m * pair[1].height_m)
    )
    return tuple(one for one, _ in found)


def _suiting(life: FutureAnimal) -> list[CatalogueEnclosure]:
    kinds = frozenset().union(*(KINDS_OF[kind] for kind in life.profile.enclosure.kinds))
    return [shape for shape in CATALOGUE.values() if shape.kind in kinds]


def _offers(life: FutureAnimal, owned: Sequence[OwnedEnclosure]) -> list[_Offer]:
    suiting = _suiting(life)
    closed = any(shape.kind not in OPEN_KINDS | {"shed"} for shape in suiting)
    new = [
        _Offer(
            s.name,
            s.slug,
            s.sides_m,
            s.price_eur,
            open=closed and s.kind in OPEN_KINDS,
            outside_m=s.outside_m,
        )
        for s in suiting
    ]
    return [
        _Offer(
            enclosure.name,
            "",
            enclosure.sides_m,
            0.0,
            owned=True,
            substrate_m=enclosure.substrate_m,
            outside_m=enclosure.outside_m,
        )
        for enclosure in owned
    ] + new


def _made(life: FutureAnimal, needed: tuple[float, float, float], substrate: float) -> _Offer:
    """To measure, to the next ten centimetres."""
    sides = tuple(
        math.ceil((side + more) * 10 - 1e-6) / 10
        for side, more in zip(needed, (0, 0, substrate), strict=True)
    )
    long, deep, high = sides
    if "pen" in life.profile.enclosure.kinds:
        price = BUILT_EUR_M2 * long * deep
        name = "heated pen or house, built to measure"
    else:
        price, name = (
            2 * MADE_EUR_M2 * (long * deep + long * high + deep * high),
            "enclosure made to measure",
        )
    return _Offer(name, "", (long, deep, high), round(price, -1), made=True)


def _cheapest(
    life: FutureAnimal, offers: Sequence[_Offer], on: dt.date, *, lasting: bool
) -> _Offer:
    """The cheapest that fits on a day and, where asked, for good."""
    last = life.end(on) if lasting else on
    fitting = [
        offer
        for offer in offers
        if not _too_small(life, offer, on) and not _too_small(life, offer, last)
    ]
    made = _made(life, life.enclosure_m(last), life.substrate_m(last))
    return min([*fitting, made], key=lambda offer: (offer.price_eur, math.prod(offer.sides_m)))


def _bought(life: FutureAnimal, offer: _Offer, on: dt.date, early: dt.date) -> EnclosurePurchase:
    return EnclosurePurchase(
        on=on,
        early=early,
        name=offer.name,
        slug=offer.slug,
        sides_m=offer.sides_m,
        price_eur=offer.price_eur,
        made=offer.made,
        owned=offer.owned,
    )


def _plan(
    slug: Literal["once", "steps", "late"],
    enclosures: Sequence[EnclosurePurchase],
    small: tuple[dt.date, dt.date] | None = None,
) -> BuyPlan:
    months = (small[1] - small[0]).days / DAYS_PER_MONTH if small else 0.0
    return BuyPlan(
        slug=slug,
        enclosures=tuple(enclosures),
        total_eur=sum(enclosure.price_eur for enclosure in enclosures),
        small_months=round(months, 1),
        small_from=small[0] if small and months > 0 else None,
    )


def _damp(life: FutureAnimal, on: dt.date) -> bool:
    need = need_of(life.profile.needs, NeedKey.HUMIDITY_DAY, life.stage_slug(on), life.approaches)
    return need is not None and need.low is not None and need.low >= DAMP_PCT


def _frontier(
    life: FutureAnimal, offers: Sequence[_Offer], on: dt.date
) -> list[tuple[_Offer, dt.date]]:
    """The enclosures worth buying for a while on a day, each with the day it is outgrown: none that
    a cheaper one outlasts.
    """
    found: list[tuple[_Offer, dt.date]] = []
    for offer in sorted(offers, key=lambda offer: (offer.price_eur, math.prod(offer.sides_m))):
        if _too_small(life, offer, on) or (offer.open and _damp(life, on)):
            continue
        until = _until(life, offer, on)
        if until is None:  # for good: nothing dearer is worth a look
            break
        if (until - on).days >= SHORTEST_DAYS and all(until > lasts for _, lasts in found):
            found.append((offer, until))
    return found


def _cheapest_steps(
    life: FutureAnimal, offers: Sequence[_Offer], on: dt.date, depth: int = 4
) -> tuple[float, list[tuple[_Offer, dt.date]]]:
    """The least money from a day on: the last enclosure now, or one for a while and the best way
    from there.
    """
    last = _cheapest(life, offers, on, lasting=True)
    best: tuple[float, list[tuple[_Offer, dt.date]]] = (last.price_eur, [(last, on)])
    if depth:
        for offer, until in _frontier(life, offers, on):
            rest, way = _cheapest_steps(life, offers, until, depth - 1)
            if offer.price_eur + rest < best[0]:
                best = (offer.price_eur + rest, [(offer, on), *way])
    return best


def _steps(life: FutureAnimal, offers: Sequence[_Offer], today: dt.date) -> BuyPlan | None:
    """The cheapest way that begins with a smaller enclosure; None where every enclosure that fits
    now is for good.
    """
    ways = []
    for offer, until in _frontier(life, offers, today):
        rest, way = _cheapest_steps(life, offers, until)
        ways.append((offer.price_eur + rest, [(offer, today), *way]))
    if not ways:
        return None
    way = min(ways, key=lambda pair: pair[0])[1]
    enclosures = []
    early = today
    for offer, on in way:
        enclosures.append(_bought(life, offer, on, early))
        early = max(_until(life, offer, on, "high") or on, on)
    return _plan("steps", enclosures)


def buying(
    life: FutureAnimal,
    today: dt.date,
    owned: Sequence[OwnedEnclosure] = (),
    coming: Sequence[Milestone] | None = None,
) -> PurchasePlan:
    """Buy once, step by step, or a small enclosure now and the last one when it is grown: money,
    days, and months in an enclosure too small.

    Parameters
    ----------
    owned : sequence of OwnedEnclosure
        Enclosures that the keeper has and that stand free: they cost nothing.
    coming : sequence of Milestone, optional
        The stages to come, where they are known already.
    """
    offers = _offers(life, owned)
    coming = milestones(life, today) if coming is None else coming
    grown_on = coming[-1].usual if coming else None
    once = _plan(
        "once", [_bought(life, _cheapest(life, offers, today, lasting=True), today, today)]
    )
    steps = _steps(life, offers, today)
    plans = [once]
    if steps is not None:
        plans.append(steps)
    if grown_on is not None and steps is not None:
        first = steps.enclosures[0]
        starter = next(
            offer for offer in offers if (offer.name, offer.sides_m) == (first.name, first.sides_m)
        )
        outgrown = _until(life, starter, today)
        if outgrown is not None and outgrown < grown_on:
            last = _bought(
                life,
                _cheapest(life, offers, grown_on, lasting=True),
                grown_on,
                coming[-1].early or grown_on,
            )
            plans.append(_plan("late", [first, last], (outgrown, grown_on)))
    advised, because = _advice(life, plans)
    plans = [plan.model_copy(update={"advised": plan.slug == advised}) for plan in plans]
    roomy = [plan.total_eur for plan in plans if plan.small_months == 0]
    return PurchasePlan(
        today=today,
        grown_enclosure_m=life.enclosure_m(life.end(today)),
        grown_on=grown_on,
        plans=tuple(plans),
        saved_eur=max(plan.total_eur for plan in plans) - min(roomy),
        because=because,
    )


def _advice(life: FutureAnimal, plans: Sequence[BuyPlan]) -> tuple[str, str]:
    """Which way, by the keeper's approach or by how its species is raised; never one with months in
    an enclosure too small.
    """
    approach = QUESTIONS["straight-to-adult"].chosen(life.approaches).slug
    steps = any(plan.slug == "steps" for plan in plans)
    if not steps:
        return "once", "Any common enclosure that fits it now is its last one."
    if approach == "at-once":
        return "once", "By your approach the last enclosure comes first."
    if approach == "steps":
        return "steps", "By your approach it is raised step by step."
    if life.profile.straight_to_adult.yes:
        return (
            "once",
            life.profile.straight_to_adult.note
            or "Its species is usually put straight into its last enclosure.",
        )
    return (
        "steps",
        life.profile.straight_to_adult.note or "Its species is usually raised step by step.",
    )
