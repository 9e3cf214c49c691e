"""What of a keeper's own lamps and heaters a suggested setup uses, and why it does not use the rest."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from husbandry.enclosure.equipment import HEATERS, UV_LAMPS
from husbandry.errors import DocumentError
from husbandry.setups.candidates import Means
from husbandry.setups.owned_words import OwnedFitting
from husbandry.setups.refinement import Fitted, fit
from husbandry.setups.starter import Starter, devices_most
from husbandry.species.needs import NeedKey

WhyNot = Literal["used", "no ultraviolet", "too long", "no place", "not needed", "misses"]
OWNED_TRIALS_MOST = 6
"""Setups that are looked for with something that is not used (design choice)."""


@dataclass(frozen=True)
class OwnedUse:
    """A lamp or heater that is there, and whether the setup uses it."""

    fitting: OwnedFitting
    why: WhyNot
    key: NeedKey | None = None
    """What would be out of range with it."""
    direction: str = ""
    danger: str = ""
    """What would be a danger with it, by its slug."""

    @property
    def used(self) -> bool:
        """Whether it is in the setup."""
        return self.why == "used"


def means_of(owned: Sequence[OwnedFitting]) -> Means:
    """What a setup may be made of, with what is there already."""
    return Means(owned=frozenset((one.kind, one.power_w) for one in owned))


def with_owned(
    found: Starter, owned: Sequence[OwnedFitting]
) -> tuple[Starter, tuple[OwnedUse, ...]]:
    """The setup with as much of what is there as keeps every range; and of each item whether it is
    used, else why not.

    What the search left out is tried in the place of what was chosen of its sort; where that is as
    right as before it is taken.
    """
    best = found.best
    if best is None or not owned:
        return found, ()
    excluded: frozenset[str] = frozenset()
    not_bought: frozenset[str] = frozenset()
    misses: dict[OwnedFitting, OwnedUse] = {}
    trials = 0
    for one in (*owned, *owned):  # what was missed at first may do beside what was taken since
        if trials >= OWNED_TRIALS_MOST:
            break
        if _has(best, one) or _plain_reason(one, found, best) is not None:
            continue
        trials += 1
        rivals = _rivals(one, owned)
        beside = [other for other in owned if other is one or _has(best, other)]
        means = replace(
            means_of(beside),
            excluded=excluded | rivals,
            not_bought=not_bought | {one.kind},
            must=frozenset((other.kind, other.power_w) for other in beside),
        )
        other = _fitted(found, best, means)
        if other is not None and _has(other, one) and other.rank[:4] <= best.rank[:4]:
            best = other
            excluded = means.excluded
            not_bought = means.not_bought
            misses.pop(one, None)
        else:
            misses[one] = _missed(one, other)
    tried = (best, *(one for one in found.tried if one is not found.best))
    said = tuple(_said(one, found, best, misses) for one in owned)
    return replace(found, best=best, tried=tried), said


def _has(fitted: Fitted, one: OwnedFitting) -> bool:
    return any(
        item.kind == one.kind and float(item.watts or 0) == one.power_w
        for item in fitted.judged.request.items
    )


def _said(
    one: OwnedFitting, found: Starter, best: Fitted, misses: Mapping[OwnedFitting, OwnedUse]
) -> OwnedUse:
    if _has(best, one):
        return OwnedUse(one, "used")
    return misses.get(one) or _plain_reason(one, found, best) or OwnedUse(one, "not needed")


def _plain_reason(one: OwnedFitting, found: Starter, best: Fitted) -> OwnedUse | None:
    """Why it has no place, where nothing needs to be tried."""
    if one.kind not in UV_LAMPS:
        return None
    target = found.needs.targets.get(NeedKey.UVI_DAY)
    if target is None or target.low_value <= 0:
        return OwnedUse(one, "no ultraviolet")
    lamp = UV_LAMPS[one.kind]
    length = next((metres for watts, metres in lamp.lengths if watts == one.power_w), 0.0)
    return OwnedUse(one, "too long") if length > best.site.inside[0] else None


def _rivals(one: OwnedFitting, owned: Sequence[OwnedFitting]) -> frozenset[str]:
    """Kinds of its sort that are not there: for ultraviolet, for light and warmth, for dark warmth."""
    have = {other.kind for other in owned}
    return frozenset(
        kind
        for kind in (*HEATERS, *UV_LAMPS)
        if kind not in have and _sort(kind) == _sort(one.kind)
    )


def _sort(kind: str) -> str:
    if kind in UV_LAMPS:
        return "ultraviolet"
    return "light" if HEATERS[kind].emits_light else "dark"


def _fitted(found: Starter, best: Fitted, means: Means) -> Fitted | None:
    most = devices_most(best.site.choice)
    try:
        return fit(best.site, found.needs, devices_most=most, means=means)
    except DocumentError:
        return None


def _missed(one: OwnedFitting, other: Fitted | None) -> OwnedUse:
    """What would be out of range with it."""
    if other is None:
        return OwnedUse(one, "not needed")
    if other.judged.closed:
        return OwnedUse(one, "not needed" if _has(other, one) else "no place")
    key, (direction, _) = next(iter(other.judged.wrong.items()), (None, ("", 0.0)))
    danger = next(iter(other.judged.dangers), "")
    return OwnedUse(one, "misses", key, direction, danger)
