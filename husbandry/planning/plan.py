"""`plan(request)`: a pure function from a request to a plan."""

import contextlib
from collections.abc import Iterator
from dataclasses import dataclass

from husbandry import CORE_VERSION
from husbandry.box.equipment import HEATERS
from husbandry.box.room import Standing
from husbandry.box.sizing import SizeFound, judge_size
from husbandry.diet.calendar import four_weeks
from husbandry.errors import CannotCalculateError, HusbandryError
from husbandry.planning.calibration import told_of
from husbandry.planning.changes import Bench, find_changes
from husbandry.planning.humidity import damp_seen, timetable_of
from husbandry.planning.implausible_readings import with_odd_named
from husbandry.planning.learning import Lesson, learn
from husbandry.planning.need_states import Looked, look, need_states
from husbandry.planning.notes import notes
from husbandry.planning.predict import Outcome, box_of, predict
from husbandry.planning.predictions import predictions, stuck_predictions
from husbandry.planning.request import Request
from husbandry.planning.result import AnimalFound, BaskingPlace, Glance, NeedState, Plan
from husbandry.planning.watering import pool_predictions
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.species.stages import DAYS_PER_MONTH, StageFound
from husbandry.worked import Worked


def _animal(n: int, profile: Profile, stage: StageFound, length_m: float, request: Request, outcome: Outcome) -> AnimalFound:
    """What is known of an animal, and its food."""
    animal, schools = request.animals[n], request.schools_of(n)
    body = animal.body(profile, stage.slug)
    mass = body.mass.value
    today = request.today
    diet = four_weeks(
        profile,
        stage.slug,
        mass_g=mass,
        body_length_m=length_m,
        today=today,
        anchor=animal.fed_on if animal.fed_on and animal.fed_on <= today else today,
        uvb=any(thing.is_uv for thing in request.things),
        body_c=_body_c(outcome, request, profile, stage.slug),
        schools=schools,
        lead=request.lead_of(n, stage.slug),
        mass_how=body.mass.how,
    )
    return AnimalFound(
        name=animal.name,
        species=profile.species,
        common_name=profile.name,
        stage=stage,
        mass_g=mass,
        mass_known=body.mass.measured,
        length_m=length_m,
        length_known=body.length.measured,
        body=body,
        age_months=(today - animal.born_on).days / DAYS_PER_MONTH if animal.born_on else None,
        diet=diet,
    )


@contextlib.contextmanager
def calculating() -> Iterator[None]:
    """Turn arithmetic that fails on extreme numbers into an error that says so.

    Raises
    ------
    CannotCalculateError
        For overflow, division by zero, a singular system or a result that is no number.
    """
    try:
        yield
    except HusbandryError:
        raise
    except (ArithmeticError, ValueError) as why:
        reason = f"the numbers given cannot be calculated ({type(why).__name__})"
        raise CannotCalculateError(reason) from why


def plan(request: Request) -> Plan:
    """Plan one enclosure: needs, predictions, verdicts, changes, food and notes.

    A pure function: the same request gives the same plan, whatever the clock says.
    """
    return plan_with_outcome(request)[0]


@dataclass(frozen=True)
class _Seen:
    """A request with who lives there, what was learned of the enclosure, and what it will do."""

    looked: Looked
    lesson: Lesson
    outcome: Outcome


def _see(request: Request) -> _Seen:
    looked = look(request)
    lesson = learn(request, looked)
    return _Seen(looked, lesson, predict(request, looked.stance(request), lesson.learned))


@calculating()
def outcome_of(request: Request) -> Outcome:
    """The physics of a request alone, for drawing fields beside a plan that is known already."""
    return _see(request).outcome


def _judged(
    request: Request, seen: _Seen, *, needs_only: bool = False
) -> tuple[dict[str, Worked], tuple[NeedState, ...], SizeFound, BaskingPlace]:
    outcome, looked = seen.outcome, seen.looked
    lead = looked.occupants[looked.lead]
    predicted = predictions(outcome, request, looked.profile, looked.bands, needs_only=needs_only)
    states = with_odd_named(need_states(request, outcome, looked.bands, predicted), seen.lesson.odd_now(request.revision))
    size = judge_size(
        box_of(request),
        looked.profile,
        lead.stage.slug,
        lead.length_m,
        request.schools_of(looked.lead),
        animals=len(request.animals),
        deep_end_m=request.box.ground.deepest_m,
        standing=[Standing(thing.kind, *thing.size_m[:2]) for thing in request.things if thing.is_body and thing.size_m],
    )
    basking = BaskingPlace(x_m=outcome.basking.x_m, y_m=outcome.basking.y_m, z_m=outcome.basking.z_m)
    return predicted, states, size, basking


def glance(request: Request) -> Glance:
    """Right or not, without what to do about it and without food: for lists of many enclosures."""
    return glance_with_outcome(request)[0]


@calculating()
def glance_with_outcome(request: Request) -> tuple[Glance, Outcome]:
    """A glance and the physics behind it: for a drawing that follows a hand."""
    seen = _see(request)
    _, states, size, basking = _judged(request, seen, needs_only=True)
    return Glance(animals=seen.looked.occupants, needs=states, size=size, basking=basking), seen.outcome


@calculating()
def plan_with_outcome(request: Request) -> tuple[Plan, Outcome]:
    """A plan and the physics behind it, for whoever draws the fields."""
    seen = _see(request)
    looked, outcome = seen.looked, seen.outcome
    found = tuple(
        _animal(n, looked.profiles[occupant.species], occupant.stage, occupant.length_m, request, outcome)
        for n, occupant in enumerate(looked.occupants)
    )
    predicted, states, size, basking = _judged(request, seen)
    timetable = timetable_of(outcome, looked.bands, looked.profile)
    bench = Bench(request, outcome, looked.bands, states, size, timetable)
    changes = find_changes(bench)
    made = Plan(
        core_version=CORE_VERSION,
        profiles={name: profile.hash for name, profile in looked.profiles.items()},
        now=request.now,
        revision=request.revision,
        animals=found,
        needs=states,
        predictions=predicted | stuck_predictions(bench.now_stuck, request) | pool_predictions(request, found),
        size=size,
        changes=changes,
        notes=notes(request, outcome, looked.profiles, found, states, bench, changes),
        basking=basking,
        damp=damp_seen(outcome, looked.bands, timetable, looked.profile),
        calibration=told_of(request, seen.lesson, outcome.stance, tuple(looked.bands)),
    )
    return made, outcome


def _body_c(outcome: Outcome, request: Request, profile: Profile, stage: str) -> float:
    """Mean temperature the body can have over day and night, for the energy check [°C].

    Mid air by day, night air by night; for what lives in water, which is not predicted, the water that it needs.
    """
    water = next((need for need in profile.needs if need.need is NeedKey.WATER_DAY and need.at(stage)), None)
    if profile.habit == "aquatic" and water is not None and water.low is not None and water.high is not None:
        return (water.low + water.high) / 2
    timers = [t for t in request.things if t.on and t.off and HEATERS.get(t.kind) and HEATERS[t.kind].emits_light]
    hours = sum(timers[0].lit_at(h / 4) for h in range(96)) / 4 if timers else 12.0
    warm, cool = outcome.centre(NeedKey.WARM_AIR_DAY), outcome.centre(NeedKey.COOL_AIR_DAY)
    assert warm is not None and cool is not None
    return (hours * (warm + cool) / 2 + (24 - hours) * outcome.night_air().temp_c) / 24
