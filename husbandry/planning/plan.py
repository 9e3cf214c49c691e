"""`plan(request)`: a pure function from a request to a plan."""

import math

from husbandry import CORE_VERSION
from husbandry.box.equipment import HEATERS
from husbandry.box.sizing import judge_size
from husbandry.diet.calendar import four_weeks
from husbandry.planning.changes import Bench, find_changes
from husbandry.planning.judge import bands, state
from husbandry.planning.notes import notes
from husbandry.planning.predict import Outcome, box_of, predict, stance_of
from husbandry.planning.predictions import predictions, stuck_predictions
from husbandry.planning.request import Animal, Request
from husbandry.planning.result import AnimalFound, BaskingPlace, Plan
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile, find
from husbandry.species.stages import DAYS_PER_MONTH, StageFound, stage_of


def _typical(low: float | None, high: float | None) -> float:
    ends = [end for end in (low, high) if end]
    return math.exp(sum(math.log(end) for end in ends) / len(ends))


def _body_length(animal: Animal, profile: Profile, stage: StageFound) -> float:
    """Of the kind that the profile counts in; the middle of the stage where it was not measured [m]."""
    kind = profile.body.length_kind
    if kind in animal.length_mm:
        return animal.length_mm[kind] / 1000
    span = profile.stage(stage.slug).length_mm[kind]
    return _typical(span.low, span.high) / 1000


def _animal(animal: Animal, profile: Profile, stage: StageFound, length_m: float, request: Request, body_c: float) -> AnimalFound:
    """What is known of an animal, and its food."""
    spec = profile.stage(stage.slug)
    mass = animal.mass_g or _typical(spec.mass_g.low, spec.mass_g.high)
    today = request.today
    diet = four_weeks(
        profile,
        stage.slug,
        mass_g=mass,
        body_length_m=length_m,
        today=today,
        anchor=animal.fed_on if animal.fed_on and animal.fed_on <= today else today,
        uvb=any(thing.is_uv for thing in request.things),
        body_c=body_c,
        schools=animal.schools,
    )
    return AnimalFound(
        name=animal.name,
        species=profile.species,
        common_name=profile.name,
        stage=stage,
        mass_g=mass,
        mass_known=animal.mass_g is not None,
        length_m=length_m,
        length_known=profile.body.length_kind in animal.length_mm,
        age_months=(today - animal.born_on).days / DAYS_PER_MONTH if animal.born_on else None,
        diet=diet,
    )


def plan(request: Request) -> Plan:
    """Plan one box: needs, predictions, verdicts, changes, food and notes.

    A pure function: the same request gives the same plan, whatever the clock says.
    """
    return plan_with_outcome(request)[0]


def plan_with_outcome(request: Request) -> tuple[Plan, Outcome]:
    """A plan and the physics behind it, for whoever draws the fields."""
    profiles = {animal.species: find(animal.species) for animal in request.animals}
    stages = [
        stage_of(profiles[a.species], today=request.today, born_on=a.born_on, mass_g=a.mass_g, length_mm=a.length_mm or None)
        for a in request.animals
    ]
    lengths = [_body_length(a, profiles[a.species], stage) for a, stage in zip(request.animals, stages, strict=True)]
    largest = max(range(len(lengths)), key=lambda n: lengths[n])
    lead, lead_profile = request.animals[largest], profiles[request.animals[largest].species]
    outcome = predict(request, stance_of(request, lead_profile, lengths[largest]))

    body_c = _body_c(outcome, request)
    found = tuple(
        _animal(animal, profiles[animal.species], stage, length, request, body_c)
        for animal, stage, length in zip(request.animals, stages, lengths, strict=True)
    )
    shared = bands(found, profiles, tuple(a.schools for a in request.animals))
    predicted = predictions(outcome, request, lead_profile, shared)
    states = tuple(
        state(
            band,
            predicted.get(key.value),
            outcome.uvi().ln_sd if key is NeedKey.UVI_DAY else 0.0,
            request,
            predicted.get("humidity_floor") if key is NeedKey.HUMIDITY_DAY else None,
        )
        for key, band in shared.items()
    )
    size = judge_size(box_of(request), lead_profile, found[largest].stage.slug, lengths[largest], lead.schools)
    bench = Bench(request, outcome, shared, states, size)
    made = Plan(
        core_version=CORE_VERSION,
        profiles={name: profile.hash for name, profile in profiles.items()},
        now=request.now,
        revision=request.revision,
        animals=found,
        needs=states,
        predictions=predicted | stuck_predictions(bench.now_stuck, request),
        size=size,
        changes=find_changes(bench),
        notes=notes(request, outcome, profiles, found, states, bench),
        basking=BaskingPlace(x_m=outcome.basking.x_m, y_m=outcome.basking.y_m, z_m=outcome.basking.z_m),
    )
    return made, outcome


def _body_c(outcome: Outcome, request: Request) -> float:
    """Mean temperature the body can have over day and night, for the energy check: mid air by day, night air by night [°C]."""
    timers = [t for t in request.things if t.on and t.off and HEATERS.get(t.kind) and HEATERS[t.kind].emits_light]
    hours = sum(timers[0].lit_at(h / 4) for h in range(96)) / 4 if timers else 12.0
    warm, cool = outcome.centre(NeedKey.WARM_AIR_DAY), outcome.centre(NeedKey.COOL_AIR_DAY)
    assert warm is not None and cool is not None
    return (hours * (warm + cool) / 2 + (24 - hours) * outcome.night_air().temp_c) / 24
