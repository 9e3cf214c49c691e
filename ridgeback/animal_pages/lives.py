"""Animals as the core projects them: their growth is worked out once, when a weight comes in, and
remembered by its content.
"""

import datetime as dt
import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

from django.db.models import Exists, OuterRef, Prefetch, Q

from husbandry.derivation import Document
from husbandry.documents.animal import Animal as CoreAnimal
from husbandry.documents.enclosure import EnclosureSpec
from husbandry.enclosure.equipment import UV_LAMPS
from husbandry.errors import ImpossibleStateError
from husbandry.growth.fitting import WeightRecord
from husbandry.growth.projection import Growth
from husbandry.items.union import read_item
from husbandry.life_plan.enclosure_purchases import (
    EnclosureFit,
    OwnedEnclosure,
    PurchasePlan,
    buying,
    common_enclosures,
    fits,
)
from husbandry.life_plan.forecast import AnimalForecast, Event, ahead_of, events, lamp_events
from husbandry.life_plan.future_body import FutureAnimal, future
from husbandry.life_plan.rows import LifePlan, life_plan_of
from husbandry.predict.predict import outside_of
from husbandry.species.profile import Profile
from ridgeback import clock
from ridgeback.animals.models import Animal
from ridgeback.calculation import Failed, attempt
from ridgeback.enclosures.models import Enclosure, Occupancy, Revision
from ridgeback.enclosures.planning import key_of, recall, remember
from ridgeback.households.models import Household
from ridgeback.species_guide.flows import edits_of, profiles_of


class Growths(Document):
    """What is remembered of an animal's life: its growth, and the life plan and the enclosures that
    follow from it.
    """

    growth: Growth
    life_plan: LifePlan
    buying: PurchasePlan
    common: tuple[EnclosureFit, ...]


@dataclass(frozen=True)
class Life:
    """An animal of the household with its projection."""

    animal: Animal
    profile: Profile
    future: FutureAnimal
    life_plan: LifePlan
    buying: PurchasePlan
    home: Enclosure | None
    weights: tuple[WeightRecord, ...]
    common: tuple[EnclosureFit, ...]
    """Common enclosures of the kinds that suit it, whether each would fit and until when."""


def home_of(animal: Animal) -> Enclosure | None:
    """The enclosure it lives in; of one that lives in none, that which is planned for it."""
    here = (
        Occupancy.objects.filter(animal=animal, until__isnull=True)
        .select_related("enclosure__head", "enclosure__room")
        .order_by("is_planned", "since")
        .first()
    )
    return here.enclosure if here else None


def compared(enclosure: Enclosure, state: Revision | None) -> OwnedEnclosure | None:
    """A state of an enclosure as the core compares it; None where there is no such state."""
    if state is None:
        return None
    spec = EnclosureSpec.model_validate(state.spec["enclosure"])
    inside = spec.inside_m
    return OwnedEnclosure(
        enclosure.name,
        (inside.length, inside.depth, inside.height),
        spec.substrate.depth_m,
        outside_of(spec),
    )


def _built(enclosure: Enclosure) -> Revision | None:
    """The state in which an enclosure stands; None while it is only planned."""
    if enclosure.head is not None and enclosure.head.state == Revision.State.BUILT:
        return enclosure.head
    return enclosure.revisions.filter(state=Revision.State.BUILT).last()


def _has_uv(enclosure: Enclosure | None, profile: Profile) -> bool:
    """Whether its enclosure has an ultraviolet lamp; without an enclosure: whether its species
    usually has one.
    """
    if enclosure is None or enclosure.head is None:
        return profile.uv.pattern != "none needed"
    return any(
        str(item.get("kind", "")).startswith(("t5", "t8", "uv_"))
        for item in enclosure.head.spec.get("items", [])
    )


def _approaches(animal: Animal, enclosure: Enclosure | None) -> dict[str, str]:
    answers = (
        enclosure.head.spec["enclosure"].get("approaches", {})
        if enclosure is not None and enclosure.head is not None
        else {}
    )
    return {**animal.approaches, **answers}


def life_of(animal: Animal, today: dt.date, profile: Profile) -> Life:
    """One animal, its life plan and its enclosures; worked out here when they are not remembered."""
    weights = tuple(WeightRecord(on=w.on, mass_g=w.mass_g) for w in animal.weighings.all())
    kind = profile.body.length_kind
    lengths = [
        (length.on, length.length_mm) for length in animal.lengths.all() if length.kind == kind
    ]
    home = home_of(animal)
    company = home.occupancies.present().count() if home else 1
    core, approaches, uvb = (
        CoreAnimal.model_validate(animal.data()),
        _approaches(animal, home),
        _has_uv(home, profile),
    )
    free = _enclosures_to_use(animal.household, home)
    told = [
        core.model_dump(mode="json"),
        [(w.on.isoformat(), w.mass_g) for w in weights],
        [(on.isoformat(), mm) for on, mm in lengths],
        approaches,
        company,
        uvb,
        profile.hash,
        today.isoformat(),
        [(owned.name, owned.sides_m, owned.substrate_m) for owned in free],
    ]
    key = key_of("life", told)
    body = recall([key]).get(key)
    if body is not None:
        known = Growths.model_validate_json(body)
        life = FutureAnimal(
            core, profile, known.growth, approaches, company, weighed=bool(weights)
        )
        return Life(
            animal, profile, life, known.life_plan, known.buying, home, weights, known.common
        )
    life = future(core, profile, weights, lengths, approaches=approaches, company=company)
    life_plan = life_plan_of(life, today, uvb=uvb)
    ways = buying(life, today, free, coming=life_plan.milestones)
    common = common_enclosures(life, today)
    made = Growths(growth=life.growth, life_plan=life_plan, buying=ways, common=common)
    remember({key: made.model_dump_json(exclude_none=True)})
    return Life(animal, profile, life, life_plan, ways, home, weights, common)


def _enclosures_to_use(household: Household, home: Enclosure | None) -> list[OwnedEnclosure]:
    """The enclosure it lives in, and those that nobody lives in or will, but for those kept free for
    quarantine; only what is built is owned.
    """
    to_come = Q(until__isnull=True) | Q(until__gt=clock.now())
    taken = Occupancy.objects.filter(to_come, enclosure=OuterRef("pk"))
    own = Enclosure.objects.of(household).in_use().exclude(purpose=Enclosure.Purpose.QUARANTINE)
    empty = own.select_related("head").filter(~Exists(taken))
    enclosures = [*([home] if home else []), *empty]
    found = [_comparable(enclosure, _built(enclosure)) for enclosure in enclosures]
    return [owned for owned in found if owned is not None]


def _comparable(enclosure: Enclosure, state: Revision | None) -> OwnedEnclosure | None:
    """A state of an enclosure as the core compares it; None where it cannot be."""
    owned = attempt(partial(compared, enclosure, state), "enclosure", enclosure.pk)
    return None if isinstance(owned, Failed) else owned


def enclosures_for(life: Life, today: dt.date) -> list[tuple[Enclosure, EnclosureFit]]:
    """Every enclosure of the household beside this animal: whether it fits, and until when; its own
    first.
    """
    found = []
    who = Occupancy.objects.present().select_related("animal")
    living = Prefetch("occupancies", queryset=who)
    enclosures = Enclosure.objects.of(life.animal.household).in_use().select_related("head")
    for enclosure in enclosures.prefetch_related(living):
        owned = _comparable(enclosure, enclosure.head)
        if owned is not None:
            found.append((enclosure, fits(life.future, owned, today)))
    here = life.home.pk if life.home else 0
    return sorted(
        found,
        key=lambda pair: (
            pair[0].pk != here,
            not pair[1].now,
            pair[1].usual is not None,
            pair[0].name,
        ),
    )


# --- many animals ---------------------------------------------------------------------------------


@dataclass(frozen=True)
class AnimalForecastRow:
    """An animal with what the next twelve months bring it; `events` is None while that is being
    worked out.
    """

    animal: Animal
    profile: Profile
    home: Enclosure | None
    ahead: AnimalForecast | None
    events: tuple[Event, ...] | None
    failed: Failed | None = None
    """Why its next twelve months cannot be calculated."""


def _token(
    animal: Animal, home: Enclosure | None, company: int, profile: Profile, month: dt.date
) -> str:
    facts: list[Any] = [
        animal.species,
        animal.sex,
        animal.born_on.isoformat() if animal.born_on else "",
        _approaches(animal, home),
        company,
        animal.weights_token or "",
        animal.lengths_token or "",
        _has_uv(home, profile),
        profile.hash,
        month.isoformat(),
    ]
    return key_of("ahead", facts)


def _homes(household: Household) -> tuple[dict[int, Enclosure], dict[int, int]]:
    """The enclosure of each animal, and how many live in each enclosure."""
    present = (
        Occupancy.objects.filter(enclosure__household=household, until__isnull=True)
        .select_related("enclosure__head", "enclosure__room")
        .order_by("-is_planned", "since")
    )
    homes = {occupancy.animal_id: occupancy.enclosure for occupancy in present}
    count: dict[int, int] = {}
    for enclosure in homes.values():
        count[enclosure.pk] = count.get(enclosure.pk, 0) + 1
    return homes, count


def coming_up(household: Household, today: dt.date) -> list[AnimalForecastRow]:
    """The next twelve months of every animal, from what is remembered: constant queries, no
    fitting.
    """
    animals, profiles, homes, _, keys = _household(household, today)
    bodies = recall(key for key in keys.values() if not isinstance(key, Failed))
    found = []
    for animal in animals:
        profile = profiles[animal.species]
        home = homes.get(animal.pk)
        key = keys[animal.pk]
        if isinstance(key, Failed):
            found.append(AnimalForecastRow(animal, profile, home, None, (), key))
            continue
        body = bodies.get(key)
        if body is None:
            found.append(AnimalForecastRow(animal, profile, home, None, None))
            continue
        known = json.loads(body)
        if NOT_CALCULATED in known:
            failed = Failed(tuple(known[NOT_CALCULATED]))
            found.append(AnimalForecastRow(animal, profile, home, None, (), failed))
            continue
        coming = attempt(
            partial(_coming, animal, profile, home, known, today), "animal", animal.pk
        )
        if isinstance(coming, Failed):
            coming = AnimalForecastRow(animal, profile, home, None, (), coming)
        found.append(coming)
    return found


NOT_CALCULATED = "not_calculated"
"""Key of a remembered failure: it is not tried again until what it followed from is changed."""


def _coming(
    animal: Animal, profile: Profile, home: Enclosure | None, known: Any, today: dt.date
) -> AnimalForecastRow:
    """An animal with the events that follow from its remembered next year."""
    ahead = AnimalForecast.model_validate(known)
    south = home is not None and home.room.latitude_deg < 0
    told = events(ahead, profile, compared(home, home.head) if home else None, today, south=south)
    return AnimalForecastRow(animal, profile, home, ahead, told)


Keys = dict[int, str | Failed]
"""What each animal's next year is remembered by; or why nothing follows for it."""


def _household(
    household: Household, today: dt.date
) -> tuple[list[Animal], dict[str, Profile], dict[int, Enclosure], dict[int, int], Keys]:
    animals = list(Animal.objects.of(household).here().with_token())
    profiles = profiles_of(edits_of(household), (animal.species for animal in animals))
    homes, count = _homes(household)
    month = today.replace(day=1)
    keys: Keys = {}
    for animal in animals:
        home = homes.get(animal.pk)
        profile = profiles[animal.species]
        company = count[home.pk] if home else 1
        make = partial(_token, animal, home, company, profile, month)
        keys[animal.pk] = attempt(make, "animal", animal.pk)
    return animals, profiles, homes, count, keys


def work_out(household: Household, today: dt.date, most: int | None = None) -> int:
    """Work out and remember what the forecast misses; how many were missing.

    The fitting of growth happens here and in no page.
    """
    animals, profiles, homes, count, keys = _household(household, today)
    wanted = {pk: key for pk, key in keys.items() if not isinstance(key, Failed)}
    known = recall(wanted.values())
    missing = [one for one in animals if one.pk in wanted and wanted[one.pk] not in known][:most]
    for animal in missing:
        home = homes.get(animal.pk)
        profile = profiles[animal.species]
        company = count[home.pk] if home else 1
        make = partial(_ahead, animal, home, company, profile, today.replace(day=1))
        ahead = attempt(make, "animal", animal.pk)
        if isinstance(ahead, Failed):
            body = json.dumps({NOT_CALCULATED: ahead.reasons})
        else:
            body = ahead.model_dump_json(exclude_none=True)
        remember({wanted[animal.pk]: body})
    return len(missing)


def _ahead(
    animal: Animal, home: Enclosure | None, company: int, profile: Profile, month: dt.date
) -> AnimalForecast:
    weights = [WeightRecord(on=w.on, mass_g=w.mass_g) for w in animal.weighings.all()]
    kind = profile.body.length_kind
    lengths = [
        (length.on, length.length_mm) for length in animal.lengths.all() if length.kind == kind
    ]
    core = CoreAnimal.model_validate(animal.data())
    life = future(
        core, profile, weights, lengths, approaches=_approaches(animal, home), company=company
    )
    return ahead_of(life, weights, month, uvb=_has_uv(home, profile))


def soonest(comings: Iterable[AnimalForecastRow]) -> Sequence[tuple[AnimalForecastRow, Event]]:
    """Every event of every animal, by day."""
    pairs = [(coming, event) for coming in comings for event in coming.events or ()]
    return sorted(pairs, key=lambda pair: (pair[1].on, pair[0].animal.name))


def lamps_due(
    comings: Iterable[AnimalForecastRow], today: dt.date
) -> list[tuple[Enclosure, Event]]:
    """The lamps whose ultraviolet will be old within twelve months, of every enclosure that is
    lived in. Their hours are those of the revision, and burn on
    from its day.
    """
    homes = {coming.home.pk: coming.home for coming in comings if coming.home is not None}
    found = []
    for enclosure in homes.values():
        if enclosure.head is None or enclosure.head.state == "planned":
            continue
        events_of = attempt(partial(_lamp_events, enclosure, today), "enclosure", enclosure.pk)
        if not isinstance(events_of, Failed):
            found += [(enclosure, event) for event in events_of]
    return found


def _lamp_events(enclosure: Enclosure, today: dt.date) -> Sequence[Event]:
    """The days on which the ultraviolet lamps of an enclosure will be old."""
    if enclosure.head is None:
        raise ImpossibleStateError("only of enclosures that are built")
    rows = enclosure.head.spec.get("items", [])
    lamps = [read_item(row) for row in rows if row.get("kind") in UV_LAMPS]
    return lamp_events(lamps, enclosure.room.day_of(enclosure.head.made_at), today)
