"""What verifies an enclosure, and what a change asks for again."""

import json
from typing import Any

import pytest
from jsonpointer import resolve_pointer

from husbandry.commissioning.readings import (
    CommissioningReading,
    asks,
    holding,
    proven,
    targets_moved,
)
from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data
from husbandry.plan.plan import plan, plan_with_prediction
from husbandry.predict.need_states import look
from husbandry.species.needs import NeedKey

RIGHT = {
    "surface_day": 40.0,
    "warm_air_day": 30.0,
    "cool_air_day": 24.5,
    "air_night": 19.0,
    "uvi_day": 3.4,
    "humidity_day": 50.0,
}


def read(sample: dict[str, Any], values: dict[str, float], **more: Any) -> Request:
    data: dict[str, Any] = json.loads(json.dumps(sample))
    data["readings"] = [
        {
            "need": need,
            "value": value,
            "at": "2026-06-14T10:00:00+01:00",
            "revision": data["revision"],
            "lamp_on_h": 8,
            **more,
        }
        for need, value in values.items()
    ]
    return from_data(data)


def states(request: Request) -> dict[NeedKey, str]:
    return {
        ask.key: ask.state for ask in asks(request, plan(request).needs, look(request).targets)
    }


def test_every_need_is_asked_for_and_nothing_is_proven_by_a_prediction(
    sample: dict[str, Any],
) -> None:
    request = read(sample, {})
    found = states(request)
    assert set(found) == {NeedKey(key) for key in RIGHT} and set(found.values()) == {"open"}


def test_right_readings_prove_and_wrong_ones_do_not(sample: dict[str, Any]) -> None:
    request = read(sample, RIGHT)
    found = asks(request, plan(request).needs, look(request).targets)
    assert proven(found) and {ask.state for ask in found} == {"proven"}
    wrong = states(read(sample, {**RIGHT, "cool_air_day": 34.0}))
    assert wrong[NeedKey.COOL_AIR_DAY] in {"wrong", "again"} and not proven(())


def surface(request: Request) -> CommissioningReading:
    found = asks(request, plan(request).needs, look(request).targets)
    return next(ask for ask in found if ask.key is NeedKey.SURFACE_DAY)


def test_a_reading_of_the_morning_is_held_against_the_transient(sample: dict[str, Any]) -> None:
    """Carried on by the share of the rise that had been made: verified or wrong where that is sure,
    asked for again where it is not.
    """
    sure = surface(read(sample, {"surface_day": 35.0}, lamp_on_h=4))
    assert (
        sure.state == "proven"
        and sure.value is not None
        and sure.value > 38
        and "carried on" in sure.why
    )
    hot = surface(read(sample, {"surface_day": 39.5}, lamp_on_h=2))
    assert hot.state == "wrong" and "too high, carried on" in hot.why
    edge = surface(read(sample, {"surface_day": 33.0}, lamp_on_h=3))
    assert edge.state == "again" and "not sure yet" in edge.why
    early = surface(read(sample, {"surface_day": 30.0}, lamp_on_h=0.1))
    assert early.state == "again" and "settle in six" in early.why and early.value is None


def damp_enclosure(sample: dict[str, Any], *mistings: tuple[str, float]) -> dict[str, Any]:
    """The sample's enclosure with another animal in it, which wants a wave, and misted."""
    sample.update(animals=[{"name": "Sedge", "species": "Correlophus ciliatus", "approaches": {}}])
    sample["room"] |= {"rh_pct": 50, "day_c": 23, "night_c": 20}
    sample["items"] = [item for item in sample["items"] if item["kind"] in {"hide", "dish"}]
    sample["enclosure"]["wetting"] = {
        "substrate": "damp",
        "mistings": [{"at": at, "ml": ml} for at, ml in mistings],
    }
    return sample


def wave(request: Request) -> dict[str, CommissioningReading]:
    made, prediction = plan_with_prediction(request)
    found = asks(request, made.needs, look(request).targets, prediction.damp)
    return {ask.moment: ask for ask in found if ask.moment}


def test_every_expected_number_has_its_working_in_the_plan(sample: dict[str, Any]) -> None:
    request = from_data(damp_enclosure(sample, ("08:30", 40), ("19:00", 60)))
    made, prediction = plan_with_prediction(request)
    found = asks(request, made.needs, look(request).targets, prediction.damp)
    assert {ask.moment for ask in found} == {"", "before misting", "after misting"}
    for ask in found:
        assert (ask.predicted is None) == (ask.derivation_at == "")
        if ask.derivation_at:
            stands = resolve_pointer(made.model_dump(mode="json"), ask.derivation_at)
            assert (
                stands["value"] == pytest.approx(ask.predicted)
                and stands["rule"]
                and stands["sources"]
            )


def moments(sample: dict[str, Any], before: float, after: float, **more: Any) -> Request:
    data = json.loads(json.dumps(sample))
    data["readings"] = [
        {
            "need": "humidity_day",
            "value": value,
            "at": "2026-06-14T10:00:00+01:00",
            "revision": data["revision"],
            "moment": moment,
            **more,
        }
        for moment, value in (("before misting", before), ("after misting", after))
    ]
    return from_data(data)


def test_a_misted_enclosure_is_read_before_and_after(sample: dict[str, Any]) -> None:
    dry = from_data(damp_enclosure(sample))
    assert not wave(dry)
    enclosure = damp_enclosure(sample, ("08:30", 40), ("19:00", 60))
    found = wave(from_data(enclosure))
    before, after = found["before misting"], found["after misting"]
    assert before.state == after.state == "open" and "misting at" in before.when
    assert (
        before.predicted is not None
        and after.predicted is not None
        and before.predicted < after.predicted
    )
    low, high = before.span
    assert low is not None and high is not None
    good = wave(moments(enclosure, low + 4, high - 2))
    assert {ask.state for ask in good.values()} == {"proven"} and good[
        "before misting"
    ].name == "humidity_day before misting"
    assert wave(moments(enclosure, low - 8, high - 2))["before misting"].why == "below its mark"
    line = wave(moments(enclosure, (low + high) / 2, (low + high) / 2 + 1))
    assert (
        line["after misting"].state == "wrong"
        and "a line, not a wave" in line["after misting"].why
    )
    assert (
        wave(moments(enclosure, low + 4, high - 2, at="2026-04-25T10:00:00+01:00"))[
            "before misting"
        ].state
        == "again"
    )


def test_a_reading_of_the_wave_judges_no_need(sample: dict[str, Any]) -> None:
    enclosure = damp_enclosure(sample, ("08:30", 40))
    need = plan(moments(enclosure, 20.0, 99.0)).need(NeedKey.HUMIDITY_DAY)
    assert need.measured is None


def test_a_stage_that_moves_a_target_asks_again_where_the_reading_has_left_it(
    sample: dict[str, Any],
) -> None:
    request = read(sample, RIGHT)
    found = asks(request, plan(request).needs, look(request).targets)
    signed, values = (
        {ask.name: list(ask.span) for ask in found},
        {ask.name: ask.value for ask in found},
    )
    assert not targets_moved(signed, values, found)
    later = tuple(
        ask._replace(span=(44.0, 50.0)) if ask.name == "surface_day" else ask for ask in found
    )
    assert [ask.name for ask in targets_moved(signed, values, later)] == ["surface_day"]
    near = tuple(
        ask._replace(span=(39.0, 42.0)) if ask.name == "surface_day" else ask for ask in found
    )
    assert not targets_moved(
        signed, values, near
    )  # the reading of that day is in the new target range too
    aged = tuple(
        ask._replace(state="again") for ask in found
    )  # readings grow old; the record of that day stands
    assert not targets_moved(signed, values, aged)
    more = (
        *found,
        CommissioningReading(NeedKey.HUMIDITY_NIGHT, "", "open", "", None, (60.0, 80.0)),
    )
    assert [ask.name for ask in targets_moved(signed, values, more)] == ["humidity_night"]


def changed(sample: dict[str, Any], **bend: Any) -> dict[NeedKey, str]:
    """An enclosure that was verified in its first state, and then changed."""
    data = json.loads(json.dumps(to_second(sample)))
    for path, value in bend.items():
        target, (*steps, leaf) = data, path.split("__")
        for step in steps:
            target = target[int(step)] if isinstance(target, list) else target[step]
        if isinstance(target, list):
            target.append(value)
        else:
            target[leaf] = value
    return states(from_data(data))


def to_second(sample: dict[str, Any]) -> dict[str, Any]:
    first = json.loads(read(sample, RIGHT).model_dump_json(exclude_none=True))
    return {
        **first,
        "revision": 2,
        "earlier": [{"revision": 1, "enclosure": first["enclosure"], "items": first["items"]}],
    }


WARM = {NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY, NeedKey.AIR_NIGHT}


@pytest.mark.parametrize(
    ("bend", "again"),
    [
        ({}, set()),
        ({"items__0__power_w": 100}, WARM | {NeedKey.HUMIDITY_DAY}),
        ({"items__1__hours_run": 900}, {NeedKey.UVI_DAY}),
        ({"enclosure__wetting": {"substrate": "damp"}}, {NeedKey.HUMIDITY_DAY}),
        ({"items__3__at_m": [0.8, 0.35, 0.06]}, {NeedKey.UVI_DAY, NeedKey.HUMIDITY_DAY}),
        ({"enclosure__substrate__depth_m": 0.07}, WARM | {NeedKey.HUMIDITY_DAY}),
        ({"items__4__at_m": [1.3, 0.2, 0.06]}, {NeedKey.HUMIDITY_DAY}),
    ],
)
def test_a_change_asks_again_only_for_what_it_can_have_moved(
    sample: dict[str, Any], bend: dict[str, Any], again: set[NeedKey]
) -> None:
    found = changed(sample, **bend)
    assert {key for key, state in found.items() if state == "open"} == again
    assert all(state == "proven" for key, state in found.items() if key not in again)


def test_readings_of_a_state_that_is_not_told_hold_for_nothing(sample: dict[str, Any]) -> None:
    second = to_second(sample)
    del second["earlier"]
    request = from_data(second)
    assert not any(holding(request).values()) and set(states(request).values()) == {"open"}


def test_an_old_reading_proves_nothing(sample: dict[str, Any]) -> None:
    found = states(
        read(sample, {"surface_day": 40.0, "uvi_day": 3.4}, at="2026-04-25T10:00:00+01:00")
    )
    assert (
        found[NeedKey.SURFACE_DAY] == "again" and found[NeedKey.UVI_DAY] == "proven"
    )  # lamps age slower than enclosures are changed
