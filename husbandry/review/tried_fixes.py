"""Fixes of a review tried alone or together: the enclosure with them, judged again.

Method: docs/methods/second-look.md.
"""

import datetime as dt
from collections import Counter
from collections.abc import Collection, Iterator, Mapping
from dataclasses import replace
from typing import Any

from husbandry.derivation import Document
from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data, to_data
from husbandry.documents.result import NeedState
from husbandry.enclosure.equipment import UV_LAMPS
from husbandry.plan.change_prices import change_price_eur
from husbandry.review.correcting import Correction, is_planned, needs_solver
from husbandry.review.description import Description
from husbandry.review.findings import ReviewFinding
from husbandry.review.fix_facts import FixContext, facts_after, has_facts, lamps_after
from husbandry.review.review import Review, findings_of, see

FURNITURE = frozenset({"hide", "plant", "dish", "pool"})
"""Kinds that lamps do not belong to: each has findings of its own."""
DAMP = ("humidity_day", "humidity_night")


class TriedFixes(Document):
    """The enclosure as it is with some of its fixes, and no others."""

    slugs: tuple[str, ...]
    """What was tried, with what hangs together with it."""
    request: Request
    before: tuple[NeedState, ...]
    after: tuple[NeedState, ...]
    mended: tuple[str, ...]
    """Titles of findings that are gone."""
    new: tuple[ReviewFinding, ...]
    """Findings that were not there before."""
    left: tuple[ReviewFinding, ...]
    """Findings that stay."""
    price_eur: float


def can_be_tried(one: ReviewFinding) -> bool:
    """Whether its fix is something that can be drawn or told, not to measure first."""
    return not one.likely and (bool(_part(one)) or has_facts(one))


def tryable(made: Review) -> frozenset[str]:
    """Slugs of findings whose fix can be tried, or will be once the correction is known."""
    solved = _solved(made)
    hopes = not made.correction_sought and any(needs_solver(one) for one in made.findings)
    return frozenset(
        one.slug
        for one in made.findings
        if can_be_tried(one)
        and (_has_fix(one, solved) or (hopes and (_part(one) != "size" or one.rank == "harm")))
    )


def waits_for_correction(made: Review, slugs: Collection[str]) -> bool:
    """Whether one of these takes its lamps from the corrected enclosure, not yet looked for."""
    chosen = [one for one in made.findings if one.slug in slugs and can_be_tried(one)]
    return not made.correction_sought and any(_part(one) for one in chosen)


def try_fixes(made: Review, slugs: Collection[str], now: dt.datetime) -> TriedFixes | None:
    """Judge the enclosure again with these findings put right.

    Heat, UVB and humidity are taken from the corrected enclosure; where that is a larger one, they
    come with it.

    Parameters
    ----------
    slugs : collection of str
        Of findings of the review; others are passed over.
    now : datetime
        The moment of the review.

    Returns
    -------
    TriedFixes or None
        None where none of them can be tried: no species, or no corrected enclosure was found.

    Raises
    ------
    DocumentError
        Where what they make cannot be built.
    """
    if made.request is None:
        return None
    solved = _solved(made)
    then = solved.request if solved is not None else None
    chosen = [one for one in _together(made, slugs) if can_be_tried(one) and _has_fix(one, solved)]

    if not chosen:
        return None
    seen = see(made.description, now)
    said = _said_after(made.description, chosen, FixContext(seen, then))
    parts = _Parts(chosen, solved)
    after = see(said, now, parts.put if then is not None else None)
    found = findings_of(after)
    known = {one.slug for one in made.findings}
    passed = _passed(chosen, solved)
    titles_after = {one.title for one in found}

    return TriedFixes(
        slugs=tuple(one.slug for one in chosen),
        request=after.assumed.request,
        before=made.needs,
        after=after.plan.needs,
        mended=tuple(one.title for one in made.findings if one.title not in titles_after),
        new=tuple(one for one in found if one.slug not in known | passed),
        left=tuple(one for one in found if one.slug in known),
        price_eur=_price_eur(chosen, made.request, after.assumed.request),
    )


def _passed(chosen: Collection[ReviewFinding], solved: Correction | None) -> frozenset[str]:
    """What is no fault of a corrected enclosure that is damp enough without misting."""
    damp = any(_part(one) in {"damp", "heat", "size"} for one in chosen)
    dry = solved is not None and not _mistings(solved.request)
    return frozenset({"no misting"}) if damp and dry else frozenset()


def _solved(made: Review) -> Correction | None:
    """The corrected enclosure where its lamps were chosen anew."""
    found = made.correction
    anew = found is not None and not found.keeps_lamps and found.request != made.request
    return found if anew else None


def _has_fix(one: ReviewFinding, solved: Correction | None) -> bool:
    """Whether the corrected enclosure holds what mends it; most fixes need none."""
    part = _part(one)
    if not part:
        return True
    return solved is not None and (solved.is_larger or part != "size")


def _part(one: ReviewFinding) -> str:
    """Which part of the corrected enclosure mends it: size, heat, uv, damp; empty for none."""
    key = one.slug.rpartition(" ")[0]

    if one.slug == "size":
        return "size"

    if one.slug in {"no uv", "compact lamp", "weak uv"} or key == "uvi_day":
        return "uv"

    if one.slug in {"no heat", "hot rock"} or (
        one.fact == "temperatures" and key and key != "water_day"
    ):
        return "heat"

    return "damp" if key in DAMP else ""


def _together(made: Review, slugs: Collection[str]) -> Iterator[ReviewFinding]:
    """The chosen ones, and those that cannot be had without them: a larger enclosure and what
    hangs in it.
    """
    larger = made.correction is not None and made.correction.is_larger
    chosen = [one for one in made.findings if one.slug in slugs]
    whole = larger and any(_part(one) for one in chosen)

    for one in made.findings:
        if one in chosen or (whole and _part(one) and one.rank != "better"):
            yield one


def _said_after(
    said: Description, chosen: Collection[ReviewFinding], at: FixContext
) -> Description:
    """What is said once they are put right."""
    data = said.model_dump()
    parts = {_part(one) for one in chosen}
    heat = bool(parts & {"heat", "size"})
    data |= lamps_after(at, heat=heat, uv=bool(parts & {"uv", "size"}))

    if "damp" in parts or heat:
        data["humidity_pct"] = None
        data["mistings_per_day"] = _mistings(at.then) or data["mistings_per_day"]

    if at.then is not None and "size" in parts:
        inside = at.then.enclosure.inside_m
        data |= {"sides_m": (inside.length, inside.depth, inside.height), "volume_l": None}

    for one in chosen:
        if not _part(one):
            before = Description.model_validate(data)
            known = FixContext(replace(at.seen, said=before), at.then)
            data |= facts_after(one, known) or {}

    return Description.model_validate(data)


def _mistings(then: Request | None) -> int | None:
    """How often the corrected enclosure is misted; None where it is not, or is full of water."""
    wetting = then.enclosure.wetting if then is not None else None
    return len(wetting.mistings) or None if wetting is not None else None


class _Parts:
    """Puts parts of the corrected enclosure into a request."""

    def __init__(self, chosen: Collection[ReviewFinding], correction: Correction | None) -> None:
        self.parts = {_part(one) for one in chosen} - {""}
        self.slugs = {one.slug for one in chosen}
        self.then = to_data(correction.request) if correction is not None else {}

    def put(self, request: Request) -> Request:
        """The request with the corrected enclosure's lamps, sides, lid and moisture, as chosen."""
        if not self.parts:
            return request
        data = to_data(request)
        then = self.then
        data["items"] = list(self._items(data["items"], then["items"]))

        if self.parts & {"size", "heat", "damp"}:
            substrate = data["enclosure"]["substrate"]
            data["enclosure"] = {**then["enclosure"]}
            if "size" not in self.parts:
                data["enclosure"]["substrate"] = substrate

        return from_data(data)

    def _items(
        self, now: list[dict[str, Any]], then: list[dict[str, Any]]
    ) -> Iterator[dict[str, Any]]:
        """What hangs and stands in it: of both, each piece by the part that it belongs to."""
        whole = bool(self.parts & {"size", "heat"})
        there = Counter(_make(one) for one in now)

        for one in then:
            if one["kind"] in FURNITURE:
                wanted = whole and there[_make(one)] > 0
                there[_make(one)] -= 1
            elif _is_uv(one):
                wanted = bool(self.parts & {"size", "uv"})
            else:
                wanted = whole
            if wanted:
                yield one

        for one in now:
            if _is_uv(one):
                kept = not self.parts & {"size", "uv"}
            else:
                kept = not whole
            if kept:
                yield one


def _make(item: Mapping[str, Any]) -> tuple[str, bool]:
    """By which furniture is counted: a moist hide is not a dry one."""
    return item["kind"], bool(item.get("moist"))


def _is_uv(item: Mapping[str, Any]) -> bool:
    return item["kind"] in UV_LAMPS


def _price_eur(chosen: Collection[ReviewFinding], now: Request, then: Request) -> float:
    """What these cost: of what is planned its parts, of the rest their guide prices [€]."""
    return round(
        change_price_eur(now, then) + sum(one.price_eur for one in chosen if not is_planned(one)),
        2,
    )
