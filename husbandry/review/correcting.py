"""The enclosure as it should be: what is there where it serves, the rest from the solver."""

from typing import Any, Literal

from husbandry.derivation import Document
from husbandry.documents.request import Request
from husbandry.documents.request_json import to_data
from husbandry.items.union import Item
from husbandry.plan.change_prices import change_price_eur
from husbandry.review.findings import STEPS, FixStep, ReviewFinding
from husbandry.review.need_findings import Seen
from husbandry.review.small_fixes import mended
from husbandry.setups.owned_use import means_of, with_owned
from husbandry.setups.owned_words import OwnedFitting
from husbandry.setups.starter import start
from husbandry.setups.steps import STAYS_M

PLANNED = ("surface_day", "warm_air_day", "cool_air_day", "air_night", "uvi_day", "humidity")
"""Findings that the corrected plan mends: their price is in its own."""
SOLVED_SLUGS = frozenset(
    {"no heat", "no uv", "compact lamp", "weak uv", "size", "hot rock", "danger glass uv"}
)
"""Findings for which heat and light are chosen anew."""
PLANNED_SLUGS = frozenset(
    {
        *SOLVED_SLUGS,
        "old lamp",
        "no thermostat",
        "no hides",
        "few hides",
        "no moist hide",
        "nothing to climb",
        "no plants",
        "no water",
        "substrate shallow",
        "kind of enclosure",
    }
)


class PlannedItem(Document):
    """Something that the corrected plan has in it, and what becomes of what was there."""

    action: Literal["keep", "move", "add", "remove"]
    item: Item
    """Where it comes to; of what is removed where it was."""


class StepTotal(Document):
    """What is to be done by when, and its cost."""

    step: FixStep
    slugs: tuple[str, ...]
    price_eur: float


class Correction(Document):
    """A described enclosure put right."""

    request: Request
    closed: bool
    """Every need is in range and no limit is passed; or nothing has to change."""
    missed: tuple[str, ...]
    """Needs that stay out of range, by key."""
    reasons: tuple[str, ...]
    is_larger: bool
    """It takes another enclosure."""
    keeps_lamps: bool = False
    """What is there for heat and light stays: nothing that was read of it is wrong."""
    items: tuple[PlannedItem, ...]
    price_eur: float
    """Of everything that is to be bought for it [€]."""


def corrected(seen: Seen, found: tuple[ReviewFinding, ...]) -> Correction | None:
    """The enclosure put right, in its own sides and with its own lamps where they do; None where
    nothing was found.
    """
    now = seen.assumed.request
    slugs = {finding.slug for finding in found}
    too_small = any(one.slug == "size" and one.rank == "harm" for one in found)

    if not any(is_planned(one) and one.rank != "better" for one in found):
        return _as_it_is(now)
    spec = _without_harm(to_data(now)["enclosure"], seen, found)
    parted = "company" in slugs
    if not any(needs_solver(one) for one in found):
        return _with_small_fixes(seen, slugs, spec, parted=parted)

    data = _alone(to_data(now), parted)
    data |= {"items": [], "readings": []}
    del data["enclosure"]
    owned = _owned(now)
    starter = start(data, enclosure=None if too_small else spec, means=means_of(owned))
    starter, _ = with_owned(starter, owned)
    if starter.best is None:
        return None

    then = starter.best.judged.request
    return Correction(
        request=then,
        closed=starter.best.judged.closed,
        missed=tuple(str(key) for key in starter.best.judged.wrong),
        reasons=starter.reasons,
        is_larger=too_small,
        items=_compared(now, then),
        price_eur=change_price_eur(now, then),
    )


def needs_solver(one: ReviewFinding) -> bool:
    """Whether a finding is of heat, ultraviolet or room, which hang together."""
    if one.rank == "better":
        return False
    return one.slug in SOLVED_SLUGS or one.slug.startswith(PLANNED)


def _with_small_fixes(
    seen: Seen, slugs: set[str], spec: dict[str, Any], *, parted: bool
) -> Correction:
    """The same lamps, with what is missing beside them."""
    now = seen.assumed.request
    then = mended(seen, slugs, spec, alone=parted)
    return Correction(
        request=then,
        closed=True,
        missed=(),
        reasons=(),
        is_larger=False,
        keeps_lamps=True,
        items=_compared(now, then),
        price_eur=change_price_eur(now, then),
    )


def _as_it_is(now: Request) -> Correction:
    """Nothing in it has to change."""
    return Correction(
        request=now,
        closed=True,
        missed=(),
        reasons=(),
        is_larger=False,
        items=tuple(PlannedItem(action="keep", item=item) for item in now.items),
        price_eur=0.0,
    )


def _owned(now: Request) -> list[OwnedFitting]:
    """Its lamps and heaters, to be used again; not a mat without its thermostat's probe."""
    return [
        OwnedFitting(item.kind, float(item.watts or 0), item.name)
        for item in now.items
        if item.warms and item.watts
    ]


def _alone(data: dict[str, Any], parted: bool) -> dict[str, Any]:
    """Only one of those that do not belong together."""
    return {**data, "animals": data["animals"][:1]} if parted else data


def _without_harm(
    spec: dict[str, Any], seen: Seen, found: tuple[ReviewFinding, ...]
) -> dict[str, Any]:
    """With a substrate that it can live on, as deep as it needs."""
    if not any(one.fact == "substrate" for one in found):
        return spec
    wanted = {"material": "soil", "depth_m": 0.05}
    size = seen.plan.size

    if size.substrate_needed_m:
        wanted["depth_m"] = round(
            min(size.substrate_needed_m, 0.4 * spec["inside_m"]["height"]), 3
        )

    return {**spec, "substrate": wanted}


def _compared(now: Request, then: Request) -> tuple[PlannedItem, ...]:
    """What stays, moves, comes and goes, lamp by lamp and piece by piece."""
    before = list(now.items)
    found = []

    for item in then.items:
        same = next((one for one in before if _alike(one, item)), None)
        if same is None:
            found.append(PlannedItem(action="add", item=item))
            continue
        before.remove(same)
        found.append(PlannedItem(action="keep" if _stays(same, item) else "move", item=item))

    return (*found, *(PlannedItem(action="remove", item=item) for item in before))


def _stays(one: Item, other: Item) -> bool:
    """Whether a lamp hangs where it hung, held as it was; furniture is moved at will."""
    near = all(abs(a - b) <= STAYS_M for a, b in zip(one.at_m, other.at_m, strict=True))
    return not one.is_hung or (near and one.held == other.held)


def _alike(one: Item, other: Item) -> bool:
    return (one.kind, one.watts, one.long_m) == (other.kind, other.watts, other.long_m)


def totals(
    found: tuple[ReviewFinding, ...], correction: Correction | None
) -> tuple[StepTotal, ...]:
    """What to do today, this month and later, with what it costs.

    What the corrected plan buys is counted once: each finding that it mends with its own price, and
    what is left with the enclosure, or with the first of them.
    """
    totals_eur = dict.fromkeys(STEPS, 0.0)
    slugs: dict[FixStep, list[str]] = {step: [] for step in STEPS}
    left_eur = correction.price_eur if correction is not None else 0.0

    for one in found:
        slugs[one.step].append(one.slug)
        price_eur = one.price_eur
        if correction is not None and is_planned(one):
            price_eur = min(price_eur, left_eur)
            left_eur -= price_eur
        totals_eur[one.step] += price_eur

    if correction is not None and left_eur > 0:
        planned = [one.step for one in found if is_planned(one)]
        at = "later" if correction.is_larger else min(planned, key=STEPS.index, default=STEPS[1])
        totals_eur[at] += left_eur

    return tuple(
        StepTotal(step=step, slugs=tuple(slugs[step]), price_eur=round(totals_eur[step], 2))
        for step in STEPS
    )


def is_planned(one: ReviewFinding) -> bool:
    """Whether the corrected plan mends it: its price is in the plan's."""
    return one.slug in PLANNED_SLUGS or one.slug.startswith(PLANNED)
