"""Find a setup for an enclosure: several that keep every range, each the best at something; or the
nearest misses, what they miss, and what would remove the miss. Never nothing.

Method: docs/methods/setup-solver.md.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from husbandry.derivation import Document
from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch, from_data, to_data
from husbandry.documents.result import Plan
from husbandry.enclosure.equipment import UV_LAMPS
from husbandry.errors import DocumentError
from husbandry.plan.plan import plan
from husbandry.predict.chance import NeedChance
from husbandry.predict.need_states import AnimalNeeds, look
from husbandry.setups.candidates import Means
from husbandry.setups.enclosure_choice import EnclosureChoice, settings_of
from husbandry.setups.existing_enclosure import mirrored, standing_site, warm_end_is_right
from husbandry.setups.judged import is_fit, judge
from husbandry.setups.obstacles import WARMTH
from husbandry.setups.offering import Axis, FoundSetup, name_of, offered
from husbandry.setups.programme import GOALS
from husbandry.setups.refinement import Fitted, fit
from husbandry.setups.responses import Responses
from husbandry.setups.room_limits import RoomLimit, room_limits
from husbandry.setups.site import furnish
from husbandry.setups.starter import choices_for, devices_most
from husbandry.setups.steps import Missed, Step, missed_of, steps_to
from husbandry.species.approaches import QUESTIONS, Question
from husbandry.species.needs import NEEDS, NeedKey

Progress = Callable[[float, str], bool]
"""Told which share is done, and with what it goes on; answers whether to go on."""
SETTINGS_MOST, LARGER_MOST = 4, 3
"""Settings of its lid and vents, and other enclosures, that are tried (design choice)."""
MISSES_MOST = 3
"""Near misses that are shown (design choice)."""
OTHER_WAYS = 5
"""Times that something of what was chosen is left out, to find other kinds (design choice)."""
TALLER_M = 0.1
"""By which a taller enclosure is tried (design choice) [m]."""
ROOM_STEPS_K = (1.0, 2.0, 3.0, 5.0)
"""By which another room is tried (design choice) [K]."""


class SetupOffer(Document):
    """A setup that works."""

    axis: Axis
    request: Request
    enclosure: str = ""
    """Another enclosure, by its name; empty where it is the one that stands."""
    month_kwh: float
    price_eur: float
    devices: int
    to_buy: tuple[str, ...]
    colder_k: float
    warmer_k: float
    """How far the room may be off, by day and by night, while every need stays in range [K]."""
    chance: float
    """Probability that all predicted needs hold in the room as it is said, before any reading [1]."""
    chances: tuple[NeedChance, ...] = ()
    """Of each need by itself, the least likely first."""
    chance_colder: float
    chance_warmer: float
    """The same with the room 1.5 K colder, and warmer."""
    values: dict[NeedKey, float]


class Remedy(Document):
    """What would remove a miss; each was tried, and with it the setup keeps every range."""

    kind: Literal["room", "height", "approach"]
    part: str = ""
    """Of a room: by day or at night."""
    value: float = 0.0
    """Of a room [°C], or of a height [m]."""
    question: str = ""
    approach: str = ""
    request: Request | None = None
    """The setup with it, where it is of the enclosure."""


class NearMiss(Document):
    """A setup that comes near."""

    request: Request
    parts: tuple[str, ...]
    missed: tuple[Missed, ...]


class Rejected(Document):
    """The nearest setup with fewer devices, and the need that rules it out."""

    words: str
    devices: int
    key: NeedKey | None = None
    value: float | None = None
    direction: str = ""


class Setups(Document):
    """What a search found."""

    offers: tuple[SetupOffer, ...]
    misses: tuple[NearMiss, ...] = ()
    remedies: tuple[Remedy, ...] = ()
    limits: tuple[RoomLimit, ...] = ()
    steps: tuple[Step, ...] = ()
    """What leads from the enclosure as it is to the nearest setup in it that keeps every range."""
    nearest: Request | None = None
    """That setup; the last of `requests`."""
    rejected: Rejected | None = None
    right_now: bool = False
    """Whether the enclosure as it is keeps every range and limit."""
    too_small: bool = False
    """Whether the enclosure itself is too small, however it is fitted."""
    planned: int
    """Setups that were planned in full."""
    stopped: bool = False

    @property
    def requests(self) -> list[Request]:
        """Each setup that can be opened: offers, near misses, then what a remedy makes of them."""
        remedied = [one.request for one in self.remedies if one.request is not None]
        offered = [one.request for one in self.offers]
        nearest = [] if self.nearest is None else [self.nearest]
        return [*offered, *(one.request for one in self.misses), *remedied, *nearest]


class _Stopped(Exception):
    """Whoever asked does not want to know any more."""


@dataclass(frozen=True)
class _Wish:
    """What a setup is looked for with."""

    goal: str = "balanced"
    excluded: frozenset[str] = frozenset()
    only_owned: bool = False
    stands: bool = True
    """Whether what stands in the enclosure stays; else it is furnished anew."""
    devices: int | None = None
    """No more lamps and heaters than that."""


@dataclass
class _Finding:
    """What is searched, and what was found so far."""

    owner: Request
    """As the keeper has it."""
    request: Request
    """The same with its warm end at the left."""
    needs: AnimalNeeds
    progress: Progress
    owned: frozenset[tuple[str, float]]
    found: list[FoundSetup] = field(default_factory=list)
    share: float = 0.0
    responses: dict[str, Responses] = field(default_factory=dict)
    """Of each enclosure that was fitted."""

    @property
    def closed(self) -> list[FoundSetup]:
        """Those that keep every range and limit; at its edge only where none is inside."""
        inside = [one for one in self.found if one.fitted.judged.inside]
        return inside or [one for one in self.found if one.fitted.judged.closed]

    @property
    def ruled_out(self) -> bool:
        """Whether the room is why no setup can do."""
        limits = room_limits(self.needs, self.request.room)
        return any(limit.part != "summer" for limit in limits)

    def told(self, share: float, said: str) -> None:
        """Say how far it is. Raises `_Stopped`."""
        self.share = max(share, self.share)
        if not self.progress(self.share, said):
            raise _Stopped

    def settings(self) -> list[EnclosureChoice]:
        """The enclosure as it is, then with its lid and vents set differently."""
        approaches = self.request.approaches_of(self.needs.lead)
        spec = to_data(self.request)["enclosure"]
        choices = settings_of(spec, self.needs, approaches)
        here = [one for one in choices if not one.raised]
        share = spec["lid"].get("mesh_share", 0.0)
        here.sort(key=lambda one: one.spec["lid"]["mesh_share"] != share)  # as it is, first
        return here[:SETTINGS_MOST]

    def add(self, choice: EnclosureChoice, wish: _Wish) -> FoundSetup | None:
        """Fit an enclosure and remember what came of it."""
        fitted = self.fitted(choice, wish)
        if fitted is None:
            return None
        one = FoundSetup(fitted, self.turned(fitted.judged.request), self.owner)
        self.found.append(one)
        return one

    def fitted(self, choice: EnclosureChoice, wish: _Wish) -> Fitted | None:
        """Fit an enclosure; None where nothing can be hung or laid in it."""
        lead = self.needs.occupants[self.needs.lead]
        try:
            if wish.stands:
                site = standing_site(self.request, self.needs, choice)
            else:
                bare = _bare(self.request)
                site = furnish(bare, self.needs.profile, lead.length_m, choice)
            most = devices_most(choice) if wish.devices is None else wish.devices
            return fit(
                site,
                self.needs,
                goal=wish.goal,
                devices_most=most,
                means=Means(wish.excluded, self.owned, wish.only_owned),
                responses=self.responses.setdefault(f"{wish.stands} {choice.spec}", Responses()),
            )
        except DocumentError:  # what stands in it leaves no room for a lamp
            return None

    def turned(self, request: Request) -> Request:
        """A setup with its warm end where the keeper has it."""
        if self.owner is self.request:
            return request
        return from_data(mirrored(to_data(request)))


def find_setups(
    request: Request, progress: Progress = lambda share, said: True, *, vary: bool = False
) -> Setups:
    """Search an enclosure of a request for setups.

    Parameters
    ----------
    request : Request
        Enclosure, room and animals; its lamps are what the keeper owns.
    progress : callable
        Told how far the search is; answers whether to go on.
    vary : bool
        Whether other enclosures are tried, though setups are found in this one.
    """
    needs = look(request)
    turned = warm_end_is_right(request)
    owned = frozenset((item.kind, float(item.watts or 0)) for item in request.items if item.warms)
    here = from_data(mirrored(to_data(request))) if turned else request
    search = _Finding(request, here, needs, progress, owned)
    as_it_is = plan(request)
    enough = as_it_is.size.enough
    remedies: tuple[Remedy, ...] = ()
    rejected = None
    stopped = False
    try:
        _search(search, vary=vary or not enough)
        if search.closed:
            rejected = _simpler(search)
        elif search.found and not search.ruled_out:
            remedies = tuple(_remedies(search))
    except _Stopped:
        stopped = True
    pool = search.closed
    if not enough:  # what is set up anew is large enough; what stands is put right for now
        pool = [one for one in pool if not one.fitted.site.choice.is_there] or pool
    offers = tuple(_offer(axis, one) for axis, one in offered(pool))
    right_now = enough and is_fit(as_it_is)
    own = [one for one in search.closed if one.fitted.site.choice.is_there]
    nearest = None if right_now else min(own, key=_least_change, default=None)
    goal = None if right_now else _by_one_change(request, as_it_is)
    if goal is None and nearest is not None:
        goal = nearest.request
    steps, put_right = ((), None) if goal is None else steps_to(request, goal)

    return Setups(
        offers=offers,
        steps=steps,
        nearest=put_right,
        misses=() if offers else tuple(_misses(search)),
        remedies=remedies,
        limits=() if offers else room_limits(needs, request.room),
        rejected=rejected,
        right_now=right_now,
        too_small=not enough,
        planned=len(search.found),
        stopped=stopped,
    )


def _by_one_change(request: Request, made: Plan) -> Request | None:
    """The enclosure with the first of its plan's changes that puts everything right by itself."""
    bare = request.model_copy(update={"readings": ()})
    for change in made.changes:
        if change.kind == "larger_enclosure":
            continue
        try:
            changed = apply_patch(bare, change.patch)
        except DocumentError:  # it is of a reading, or of what is not there any more
            continue
        if judge(changed).closed:
            return changed

    return None


def _least_change(one: FoundSetup) -> tuple[int, float]:
    """The fewest changes; of as many the one that is likeliest to hold."""
    return one.changed, -one.headroom


def _search(search: _Finding, *, vary: bool) -> None:
    """The enclosure as it is, then with its lid and vents set differently, then others; where the
    room rules it out, as it is alone.
    """
    settings = search.settings()
    if search.ruled_out:
        search.told(0.1, "as it is")
        search.add(settings[0], _Wish())
        return
    for n, choice in enumerate(settings):
        search.told(0.3 * n / len(settings), "as it is" if n == 0 else "with another lid")
        one = search.add(choice, _Wish())
        if one is not None and one.fitted.judged.inside:
            _goals(search, choice)
            break
    if not vary and search.closed:
        return
    others = choices_for(_bare(search.request))
    for n, choice in enumerate(others[:LARGER_MOST]):
        search.told(0.75 + 0.2 * n / LARGER_MOST, choice.name)
        one = search.add(choice, _Wish(stands=False))
        if one is not None and one.fitted.judged.inside and not vary:
            break


def _goals(search: _Finding, choice: EnclosureChoice) -> None:
    """The same enclosure with other aims, then without what was always chosen."""
    goals = [goal for goal in GOALS if goal != "balanced"]
    for n, goal in enumerate(goals):
        search.told(0.3 + 0.2 * n / len(goals), goal)
        search.add(choice, _Wish(goal))
    if search.owned:
        search.told(0.5, "with what you own")
        search.add(choice, _Wish(only_owned=True))
    without: list[frozenset[str]] = []
    while len(without) < OTHER_WAYS:
        search.told(0.5 + 0.25 * len(without) / OTHER_WAYS, "in other ways")
        left_out = next((kinds for kinds in _left_out(search) if kinds not in without), None)
        if left_out is None:
            return
        without.append(left_out)
        goal = "most headroom" if len(without) % 2 else "simplest"
        search.add(choice, _Wish(goal, left_out))


def _left_out(search: _Finding) -> Iterator[frozenset[str]]:
    """What is left out to find something of another kind: all heaters that were chosen, each of
    them, each lamp for ultraviolet.
    """
    heaters = []
    lamps = []
    for one in search.closed:
        heaters += [item.kind for item in one.fittings if item.is_heater]
        lamps += [item.kind for item in one.fittings if item.kind in UV_LAMPS]
    yield from (frozenset({kind}) for kind in dict.fromkeys(heaters))
    yield frozenset(heaters)
    yield from (frozenset({kind}) for kind in dict.fromkeys(lamps))


def _bare(request: Request) -> dict[str, object]:
    data = to_data(request)
    data.pop("enclosure")
    return {**data, "items": [], "readings": []}


def _offer(axis: Axis, one: FoundSetup) -> SetupOffer:
    made = plan(one.request, advise=False)
    names = [name_of(item) for item in one.to_buy]
    names += ["thermostat"] * one.thermostats_to_buy
    choice = one.fitted.site.choice

    return SetupOffer(
        axis=axis,
        request=one.request,
        enclosure="" if choice.is_there else choice.name,
        month_kwh=one.month_kwh,
        price_eur=round(one.price_eur, 2),
        devices=len(one.fittings),
        to_buy=tuple(names),
        colder_k=one.room_span.colder_k,
        warmer_k=one.room_span.warmer_k,
        chance=round(one.chance.as_said, 3),
        chances=one.chance.each,
        chance_colder=round(one.chance.colder, 3),
        chance_warmer=round(one.chance.warmer, 3),
        values={
            need.key: need.predicted.value
            for need in made.needs
            if need.predicted is not None and need.verdict.speaks == "predicted"
        },
    )


def _misses(search: _Finding) -> Iterator[NearMiss]:
    """The nearest, of different kinds; each is judged by the plan of what is shown."""
    natures: list[tuple[object, ...]] = []
    for one in sorted(search.found, key=lambda found: found.fitted.rank):
        if one.nature in natures or len(natures) >= MISSES_MOST:
            continue
        natures.append(one.nature)
        yield NearMiss(
            request=one.request,
            parts=tuple(name_of(item) for item in one.fittings),
            missed=missed_of(one.request),
        )


def _simpler(search: _Finding) -> Rejected | None:
    """The nearest setup that is simpler than the simplest found, and what rules it out."""
    fewest = min(search.closed, key=lambda one: len(one.fittings))
    if len(fewest.fittings) < 2:
        return None
    search.told(0.95, "something simpler")
    choice = fewest.fitted.site.choice
    wish = _Wish("simplest", stands=choice.is_there, devices=len(fewest.fittings) - 1)
    fitted = search.fitted(choice, wish)
    if fitted is None or fitted.judged.closed:
        return None
    one = FoundSetup(fitted, search.turned(fitted.judged.request), search.owner)
    words = ", ".join(name_of(item) for item in one.fittings)
    if not words or len(one.fittings) >= len(fewest.fittings):
        return None
    missed = max(missed_of(one.request), key=lambda miss: miss.by, default=None)

    return Rejected(
        words=words,
        devices=len(one.fittings),
        key=missed.key if missed else None,
        value=missed.value if missed else None,
        direction=missed.direction if missed else "",
    )


def _remedies(search: _Finding) -> Iterator[Remedy]:
    """What would remove the miss of the nearest setup, each tried to its end."""
    nearest = min(search.found, key=lambda found: found.fitted.rank)
    choice = nearest.fitted.site.choice
    stands = choice.is_there
    missed = missed_of(nearest.request)
    yield from _other_approaches(search, nearest, missed)
    for part in ("night", "day"):
        search.told(0.96, "another room")
        wrong = [one for one in missed if NEEDS[one.key].phase == part and one.key in WARMTH]
        if wrong:
            yield from _other_room(search, choice, part, wrong[0], stands=stands)
    search.told(0.98, "a taller enclosure")
    inside = {**choice.spec["inside_m"]}
    inside["height"] = round(inside["height"] + TALLER_M, 3)
    taller = replace(choice, spec={**choice.spec, "inside_m": inside})
    fitted = search.fitted(taller, _Wish(stands=stands))
    if fitted is not None and fitted.judged.closed:
        yield Remedy(
            kind="height", value=inside["height"], request=search.turned(fitted.judged.request)
        )


def _other_room(
    search: _Finding, choice: EnclosureChoice, part: str, wrong: Missed, *, stands: bool
) -> Iterator[Remedy]:
    """The least other room in which it works."""
    room = search.request.room
    now = room.night_c if part == "night" else room.day_c
    for step in ROOM_STEPS_K:
        value = now - step if wrong.direction == "above" else now + step
        name = "night_c" if part == "night" else "day_c"
        data = to_data(search.request)
        data["room"] |= {name: value, "summer_max_c": max(room.summer_max_c, value)}
        if data["room"]["night_c"] > data["room"]["day_c"]:
            return
        other = replace(search, request=from_data(data), found=[])
        fitted = other.fitted(choice, _Wish(stands=stands))
        if fitted is not None and fitted.judged.closed:
            yield Remedy(kind="room", part=part, value=value)
            return


def _other_approaches(
    search: _Finding, nearest: FoundSetup, missed: Sequence[Missed]
) -> Iterator[Remedy]:
    """Approaches by which the nearest setup is right as it stands."""
    for miss in missed:
        target = search.needs.targets.get(miss.key)
        end = (target.low or target.high) if target is not None else None
        for other in end.others if end is not None else ():
            question = QUESTIONS[other.question]
            slugs = [
                one.slug for one in question.approaches.values() if one.name == other.approach
            ]
            for slug in slugs:
                kept = _kept_so(nearest.request, question, slug)
                if judge(kept).closed:
                    yield Remedy(kind="approach", question=question.slug, approach=other.approach)


def _kept_so(request: Request, question: Question, slug: str) -> Request:
    """The same by another approach, of its animals or of the enclosure."""
    data = to_data(request)
    keepers = data["animals"] if question.of == "animal" else [data["enclosure"]]
    for one in keepers:
        one["approaches"] = {**one.get("approaches", {}), question.slug: slug}
    return from_data(data)
