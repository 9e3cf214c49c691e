"""`plan(request)`: a pure function from a request to a plan."""

import contextlib
from collections.abc import Iterator
from dataclasses import dataclass, replace

from husbandry import CORE_VERSION
from husbandry.advise import ChangeContext, find_changes
from husbandry.advise.finding_context import FindingContext
from husbandry.calibration.fitting import CalibrationResult, learn
from husbandry.calibration.implausible_readings import with_odd_named
from husbandry.calibration.report import told_of
from husbandry.derivation import Derivation
from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch
from husbandry.documents.result import (
    AnimalFound,
    BaskingPlace,
    Change,
    NeedState,
    Note,
    Plan,
    PlanSummary,
)
from husbandry.enclosure.equipment import HEATERS
from husbandry.enclosure.sizing import SizeFound, judge_size
from husbandry.enclosure.walking_room import FloorItem
from husbandry.errors import CannotCalculateError, HusbandryError, ImpossibleStateError
from husbandry.feeding.calendar import four_weeks
from husbandry.findings.parts import are_apart, judged_part
from husbandry.findings.water import pool_predictions
from husbandry.plan.change_prices import change_price_eur
from husbandry.plan.finding_changes import Judgement, finding_changes, in_order_of_harm
from husbandry.plan.notes import notes
from husbandry.predict.humidity import damp_seen, timetable_of
from husbandry.predict.need_states import AnimalNeeds, look, need_states
from husbandry.predict.predict import Prediction, enclosure_of, outside_of, predict, restanced
from husbandry.predict.predictions import failed_on_predictions, predictions
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.species.stages import DAYS_PER_MONTH, StageFound


def _animal(
    n: int,
    profile: Profile,
    stage: StageFound,
    length_m: float,
    request: Request,
    prediction: Prediction,
) -> AnimalFound:
    """What is known of an animal, and its food."""
    animal = request.animals[n]
    approaches = request.approaches_of(n)
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
        uvb=any(item.is_uv for item in request.items),
        body_c=_body_c(prediction, request, profile, stage.slug),
        approaches=approaches,
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


def plan(request: Request, *, advise: bool = True) -> Plan:
    """Plan one enclosure: needs, predictions, verdicts, changes, food and notes.

    A pure function: the same request gives the same plan, whatever the clock says.

    Parameters
    ----------
    advise : bool
        Whether changes are looked for: they take most of the time, and judge nothing.
    """
    return plan_with_prediction(request, advise=advise)[0]


@dataclass(frozen=True)
class _Seen:
    """A request with who lives there, what was learned of the enclosure, and what it will do."""

    looked: AnimalNeeds
    lesson: CalibrationResult
    prediction: Prediction


def _see(request: Request) -> _Seen:
    looked = look(request)
    lesson = learn(request, looked)
    return _Seen(looked, lesson, predict(request, looked.position(request), lesson.learned))


@calculating()
def prediction_of(request: Request) -> Prediction:
    """The physics of a request alone, for drawing fields beside a plan that is known already."""
    return _see(request).prediction


def _judged(
    request: Request, seen: _Seen, *, needs_only: bool = False
) -> tuple[dict[str, Derivation], tuple[NeedState, ...], SizeFound, BaskingPlace]:
    prediction = seen.prediction
    looked = seen.looked
    lead = looked.occupants[looked.lead]
    predicted = predictions(
        prediction, request, looked.profile, looked.targets, needs_only=needs_only
    )
    states = with_odd_named(
        need_states(request, prediction, looked.targets, predicted),
        seen.lesson.odd_now(request.revision),
    )
    part = judged_part(request)
    share = part.length_m / request.enclosure.inside_m.length
    long, deep, high = outside_of(request.enclosure)
    size = judge_size(
        replace(enclosure_of(request), length_m=part.length_m),
        looked.profile,
        lead.stage.slug,
        lead.length_m,
        request.approaches_of(looked.lead),
        animals=1 if are_apart(request) else len(request.animals),
        deep_end_m=request.enclosure.substrate.deepest_m,
        outside_m=(share * long, deep, high),
        standing=[
            FloorItem(item.kind, *item.sides_m[:2])
            for item in request.items
            if item.is_body and item.sides_m and part.holds(item)
        ],
    )
    basking = BaskingPlace(
        x_m=prediction.basking.x_m, y_m=prediction.basking.y_m, z_m=prediction.basking.z_m
    )

    return predicted, states, size, basking


def plan_summary(request: Request) -> PlanSummary:
    """Right or not, without what to do about it and without food: for lists of many enclosures."""
    return summary_with_prediction(request)[0]


@calculating()
def summary_with_prediction(request: Request) -> tuple[PlanSummary, Prediction]:
    """A glance and the physics behind it: for a drawing that follows a hand."""
    seen = _see(request)
    _, states, size, basking = _judged(request, seen, needs_only=True)
    return (
        PlanSummary(animals=seen.looked.occupants, needs=states, size=size, basking=basking),
        seen.prediction,
    )


@calculating()
def plan_with_prediction(request: Request, *, advise: bool = True) -> tuple[Plan, Prediction]:
    """A plan and the physics behind it, for whoever draws the fields. Parameters as `plan`."""
    seen = _see(request)
    looked = seen.looked
    prediction = seen.prediction
    found = tuple(
        _animal(
            n,
            looked.profiles[occupant.species],
            occupant.stage,
            occupant.length_m,
            request,
            prediction,
        )
        for n, occupant in enumerate(looked.occupants)
    )
    predicted, states, size, basking = _judged(request, seen)
    timetable = timetable_of(prediction, looked.targets, looked.profile)
    context = ChangeContext(request, prediction, looked.targets, states, size, timetable)
    changes = find_changes(context) if advise else ()
    said = notes(request, prediction, looked.profiles, found, states, context, changes)
    if advise:
        changes = _with_findings(request, seen, found, said, changes)
    made = Plan(
        core_version=CORE_VERSION,
        profiles={name: profile.hash for name, profile in looked.profiles.items()},
        now=request.now,
        revision=request.revision,
        animals=found,
        needs=states,
        predictions=predicted
        | failed_on_predictions(context.now_failed_on, request)
        | pool_predictions(request, found),
        size=size,
        changes=changes,
        notes=said,
        basking=basking,
        damp=damp_seen(prediction, looked.targets, timetable, looked.profile),
        calibration=told_of(request, seen.lesson, prediction.position, tuple(looked.targets)),
    )

    return made, prediction


def _with_findings(
    request: Request,
    seen: _Seen,
    animals: tuple[AnimalFound, ...],
    said: tuple[Note, ...],
    changes: tuple[Change, ...],
) -> tuple[Change, ...]:
    """Those for needs with those that answer a finding, in order of harm and with their prices."""
    lead = max(animals, key=lambda animal: animal.length_m)
    looked = seen.looked
    profile = looked.profiles[lead.species]
    context = FindingContext(
        request, seen.prediction, animals, profile, lead.length_m, looked.targets
    )
    mended = finding_changes(context, said, lambda other: _judged_again(other, seen, animals))
    return _priced(request, in_order_of_harm(changes, mended, said))


def _priced(request: Request, changes: tuple[Change, ...]) -> tuple[Change, ...]:
    """Each with what is to be bought for it."""
    return tuple(
        change.model_copy(
            update={"price_eur": change_price_eur(request, apply_patch(request, change.patch))}
        )
        for change in changes
    )


def _judged_again(request: Request, seen: _Seen, animals: tuple[AnimalFound, ...]) -> Judgement:
    """What is predicted of the same animals with something of their enclosure changed.

    Readings are of the enclosure as it is: what was learned of them stays, they judge nothing.
    """
    request = request.model_copy(update={"readings": ()})
    looked = seen.looked
    now = seen.prediction
    prediction = predict(request, restanced(request, now.position), now.learned)
    again = _Seen(looked, seen.lesson, prediction)
    _, states, size, _ = _judged(request, again, needs_only=True)
    timetable = timetable_of(prediction, looked.targets, looked.profile)
    context = ChangeContext(request, prediction, looked.targets, states, size, timetable)
    said = notes(request, prediction, looked.profiles, animals, states, context)

    return Judgement(said, states, prediction, context)


def _body_c(prediction: Prediction, request: Request, profile: Profile, stage: str) -> float:
    """Mean temperature the body can have over day and night, for the energy check [°C].

    Mid air by day, night air by night; for what lives in water, which is not predicted, the water
    that it needs.
    """
    water = next(
        (need for need in profile.needs if need.need is NeedKey.WATER_DAY and need.at(stage)), None
    )
    if (
        profile.habit == "aquatic"
        and water is not None
        and water.low is not None
        and water.high is not None
    ):
        return (water.low + water.high) / 2
    timers = [
        t for t in request.items if t.timer and HEATERS.get(t.kind) and HEATERS[t.kind].emits_light
    ]
    hours = sum(timers[0].lit_at(h / 4) for h in range(96)) / 4 if timers else 12.0
    warm = prediction.centre(NeedKey.WARM_AIR_DAY)
    cool = prediction.centre(NeedKey.COOL_AIR_DAY)
    if warm is None or cool is None:
        raise ImpossibleStateError("missing: warm, cool")

    return (hours * (warm + cool) / 2 + (24 - hours) * prediction.night_air().temp_c) / 24
