"""Animals as the core projects them: their growth is worked out once, when a weight comes in, and remembered by its content."""

import datetime as dt
import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

from django.db.models import Exists, OuterRef, Prefetch, Q

from husbandry.box.equipment import UV_LAMPS
from husbandry.growth.fitting import Weight
from husbandry.growth.projection import Growth
from husbandry.path.boxes import Buying, Fits, Owned, buying, common_boxes, fits
from husbandry.path.future_body import Onward, onward
from husbandry.path.outlook import Ahead, Event, ahead_of, events, lamp_events
from husbandry.path.ribbons import Path, path_of
from husbandry.planning.request import Animal as CoreAnimal
from husbandry.planning.request import Thing
from husbandry.species.profile import Profile
from husbandry.worked import Document
from ridgeback import clock
from ridgeback.animals.models import Animal
from ridgeback.calculation import Failed, attempt
from ridgeback.habitats.models import Habitat, Occupancy, Revision
from ridgeback.habitats.planning import key_of, recall, remember
from ridgeback.keepers.models import Household
from ridgeback.library.flows import edits_of, profiles_of


class Growths(Document):
    """What is remembered of an animal's life: its growth, and the path and the enclosures that follow from it."""

    growth: Growth
    path: Path
    buying: Buying
    common: tuple[Fits, ...]


@dataclass(frozen=True)
class Life:
    """An animal of the household with its projection."""

    animal: Animal
    profile: Profile
    onward: Onward
    path: Path
    buying: Buying
    home: Habitat | None
    weights: tuple[Weight, ...]
    common: tuple[Fits, ...]
    """Common enclosures of the kinds that suit it, whether each would fit and until when."""


def home_of(animal: Animal) -> Habitat | None:
    """The enclosure it lives in."""
    here = Occupancy.objects.filter(animal=animal, until__isnull=True).select_related("habitat__head", "habitat__room").first()
    return here.habitat if here else None


def compared(habitat: Habitat, state: Revision | None) -> Owned | None:
    """A state of an enclosure as the core compares it; None where there is no such state."""
    if state is None:
        return None
    box = state.spec["box"]
    inside = box["inside_m"]
    sides_m = (inside["length"], inside["depth"], inside["height"])
    return Owned(habitat.name, sides_m, box.get("ground", {}).get("depth_m", 0.05))


def _built(habitat: Habitat) -> Revision | None:
    """The state in which an enclosure stands; None while it is only planned."""
    if habitat.head is not None and habitat.head.state == Revision.State.BUILT:
        return habitat.head
    return habitat.revisions.filter(state=Revision.State.BUILT).last()


def _has_uv(habitat: Habitat | None, profile: Profile) -> bool:
    """Whether its enclosure has an ultraviolet lamp; without an enclosure: whether its species usually has one."""
    if habitat is None or habitat.head is None:
        return profile.uv.pattern != "none needed"
    return any(str(thing.get("kind", "")).startswith(("t5", "t8", "uv_")) for thing in habitat.head.spec.get("things", []))


def _schools(animal: Animal, habitat: Habitat | None) -> dict[str, str]:
    box = habitat.head.spec["box"].get("schools", {}) if habitat is not None and habitat.head is not None else {}
    return {**animal.schools, **box}


def life_of(animal: Animal, today: dt.date, profile: Profile) -> Life:
    """One animal, its path and its enclosures; worked out here when they are not remembered."""
    weights = tuple(Weight(on=w.on, mass_g=w.mass_g) for w in animal.weighings.all())
    kind = profile.body.length_kind
    lengths = [(length.on, length.length_mm) for length in animal.lengths.all() if length.kind == kind]
    home = home_of(animal)
    company = home.occupancies.filter(until__isnull=True).count() if home else 1
    core, schools, uvb = CoreAnimal.model_validate(animal.data()), _schools(animal, home), _has_uv(home, profile)
    free = _boxes_to_use(animal.household, home)
    told = [
        core.model_dump(mode="json"), [(w.on.isoformat(), w.mass_g) for w in weights], [(on.isoformat(), mm) for on, mm in lengths], schools,
        company, uvb, profile.hash, today.isoformat(), [(box.name, box.sides_m, box.ground_m) for box in free],
    ]  # fmt: skip
    key = key_of("life", told)
    body = recall([key]).get(key)
    if body is not None:
        known = Growths.model_validate_json(body)
        life = Onward(core, profile, known.growth, schools, company, weighed=bool(weights))
        return Life(animal, profile, life, known.path, known.buying, home, weights, known.common)
    life = onward(core, profile, weights, lengths, schools=schools, company=company)
    path = path_of(life, today, uvb=uvb)
    ways = buying(life, today, free, coming=path.milestones)
    common = common_boxes(life, today)
    made = Growths(growth=life.growth, path=path, buying=ways, common=common)
    remember({key: made.model_dump_json(exclude_none=True)})
    return Life(animal, profile, life, path, ways, home, weights, common)


def _boxes_to_use(household: Household, home: Habitat | None) -> list[Owned]:
    """The enclosure it lives in, and those that nobody lives in or will; only what is built is owned."""
    to_come = Q(until__isnull=True) | Q(until__gt=clock.now())
    taken = Occupancy.objects.filter(to_come, habitat=OuterRef("pk"))
    empty = Habitat.objects.of(household).select_related("head").filter(~Exists(taken))
    habitats = [*([home] if home else []), *empty]
    found = [_comparable(habitat, _built(habitat)) for habitat in habitats]
    return [box for box in found if box is not None]


def _comparable(habitat: Habitat, state: Revision | None) -> Owned | None:
    """A state of an enclosure as the core compares it; None where it cannot be."""
    box = attempt(partial(compared, habitat, state), "enclosure", habitat.pk)
    return None if isinstance(box, Failed) else box


def boxes_for(life: Life, today: dt.date) -> list[tuple[Habitat, Fits]]:
    """Every enclosure of the household beside this animal: whether it fits, and until when; its own first."""
    found = []
    who = Occupancy.objects.filter(until__isnull=True).select_related("animal")
    living = Prefetch("occupancies", queryset=who)
    habitats = Habitat.objects.of(life.animal.household).select_related("head")
    for habitat in habitats.prefetch_related(living):
        box = _comparable(habitat, habitat.head)
        if box is not None:
            found.append((habitat, fits(life.onward, box, today)))
    here = life.home.pk if life.home else 0
    return sorted(found, key=lambda pair: (pair[0].pk != here, not pair[1].now, pair[1].usual is not None, pair[0].name))


# --- many animals -------------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Coming:
    """An animal with what the next twelve months bring it; `events` is None while that is being worked out."""

    animal: Animal
    profile: Profile
    home: Habitat | None
    ahead: Ahead | None
    events: tuple[Event, ...] | None
    failed: Failed | None = None
    """Why its next twelve months cannot be calculated."""


def _token(animal: Animal, home: Habitat | None, company: int, profile: Profile, month: dt.date) -> str:
    facts: list[Any] = [
        animal.species, animal.sex, animal.born_on.isoformat() if animal.born_on else "", _schools(animal, home), company,
        animal.weights_token or "", animal.lengths_token or "", _has_uv(home, profile), profile.hash, month.isoformat(),
    ]  # fmt: skip
    return key_of("ahead", facts)


def _homes(household: Household) -> tuple[dict[int, Habitat], dict[int, int]]:
    """The enclosure of each animal, and how many live in each enclosure."""
    present = Occupancy.objects.filter(habitat__household=household, until__isnull=True).select_related(
        "habitat__head", "habitat__room"
    )
    homes = {occupancy.animal_id: occupancy.habitat for occupancy in present}
    count: dict[int, int] = {}
    for habitat in homes.values():
        count[habitat.pk] = count.get(habitat.pk, 0) + 1
    return homes, count


def outlook(household: Household, today: dt.date) -> list[Coming]:
    """The next twelve months of every animal, from what is remembered: constant queries, no fitting."""
    animals, profiles, homes, _, keys = _household(household, today)
    bodies = recall(key for key in keys.values() if not isinstance(key, Failed))
    found = []
    for animal in animals:
        profile, home, key = profiles[animal.species], homes.get(animal.pk), keys[animal.pk]
        if isinstance(key, Failed):
            found.append(Coming(animal, profile, home, None, (), key))
            continue
        body = bodies.get(key)
        if body is None:
            found.append(Coming(animal, profile, home, None, None))
            continue
        known = json.loads(body)
        if NOT_CALCULATED in known:
            failed = Failed(tuple(known[NOT_CALCULATED]))
            found.append(Coming(animal, profile, home, None, (), failed))
            continue
        coming = attempt(partial(_coming, animal, profile, home, known, today), "animal", animal.pk)
        if isinstance(coming, Failed):
            coming = Coming(animal, profile, home, None, (), coming)
        found.append(coming)
    return found


NOT_CALCULATED = "not_calculated"
"""Key of a remembered failure: it is not tried again until what it followed from is changed."""


def _coming(animal: Animal, profile: Profile, home: Habitat | None, known: Any, today: dt.date) -> Coming:
    """An animal with the events that follow from its remembered next year."""
    ahead = Ahead.model_validate(known)
    south = home is not None and home.room.latitude_deg < 0
    told = events(ahead, profile, compared(home, home.head) if home else None, today, south=south)
    return Coming(animal, profile, home, ahead, told)


Keys = dict[int, str | Failed]
"""What each animal's next year is remembered by; or why nothing follows for it."""


def _household(
    household: Household, today: dt.date
) -> tuple[list[Animal], dict[str, Profile], dict[int, Habitat], dict[int, int], Keys]:
    animals = list(Animal.objects.of(household).here().with_token())
    profiles = profiles_of(edits_of(household), (animal.species for animal in animals))
    homes, count = _homes(household)
    month = today.replace(day=1)
    keys: Keys = {}
    for animal in animals:
        home, profile = homes.get(animal.pk), profiles[animal.species]
        company = count[home.pk] if home else 1
        make = partial(_token, animal, home, company, profile, month)
        keys[animal.pk] = attempt(make, "animal", animal.pk)
    return animals, profiles, homes, count, keys


def work_out(household: Household, today: dt.date, most: int | None = None) -> int:
    """Work out and remember what the outlook misses; how many were missing. The fitting of growth happens here and in no page."""
    animals, profiles, homes, count, keys = _household(household, today)
    wanted = {pk: key for pk, key in keys.items() if not isinstance(key, Failed)}
    known = recall(wanted.values())
    missing = [one for one in animals if one.pk in wanted and wanted[one.pk] not in known][:most]
    for animal in missing:
        home, profile = homes.get(animal.pk), profiles[animal.species]
        company = count[home.pk] if home else 1
        make = partial(_ahead, animal, home, company, profile, today.replace(day=1))
        ahead = attempt(make, "animal", animal.pk)
        if isinstance(ahead, Failed):
            body = json.dumps({NOT_CALCULATED: ahead.reasons})
        else:
            body = ahead.model_dump_json(exclude_none=True)
        remember({wanted[animal.pk]: body})
    return len(missing)


def _ahead(animal: Animal, home: Habitat | None, company: int, profile: Profile, month: dt.date) -> Ahead:
    weights = [Weight(on=w.on, mass_g=w.mass_g) for w in animal.weighings.all()]
    kind = profile.body.length_kind
    lengths = [(length.on, length.length_mm) for length in animal.lengths.all() if length.kind == kind]
    core = CoreAnimal.model_validate(animal.data())
    life = onward(core, profile, weights, lengths, schools=_schools(animal, home), company=company)
    return ahead_of(life, weights, month, uvb=_has_uv(home, profile))


def soonest(comings: Iterable[Coming]) -> Sequence[tuple[Coming, Event]]:
    """Every event of every animal, by day."""
    pairs = [(coming, event) for coming in comings for event in coming.events or ()]
    return sorted(pairs, key=lambda pair: (pair[1].on, pair[0].animal.name))


def lamps_due(comings: Iterable[Coming], today: dt.date) -> list[tuple[Habitat, Event]]:
    """The lamps whose ultraviolet will be old within twelve months, of every enclosure that is lived in. Their hours are those of the revision, and burn on
    from its day."""
    homes = {coming.home.pk: coming.home for coming in comings if coming.home is not None}
    found = []
    for habitat in homes.values():
        if habitat.head is None or habitat.head.state == "planned":
            continue
        events_of = attempt(partial(_lamp_events, habitat, today), "enclosure", habitat.pk)
        if not isinstance(events_of, Failed):
            found += [(habitat, event) for event in events_of]
    return found


def _lamp_events(habitat: Habitat, today: dt.date) -> Sequence[Event]:
    """The days on which the ultraviolet lamps of an enclosure will be old."""
    assert habitat.head is not None  # only of enclosures that are built
    rows = habitat.head.spec.get("things", [])
    lamps = [Thing.model_validate(row) for row in rows if row.get("kind") in UV_LAMPS]
    return lamp_events(lamps, habitat.room.day_of(habitat.head.made_at), today)
