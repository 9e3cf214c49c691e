"""What proves a box, and what a change asks for again."""

import json
from typing import Any

import pytest

from husbandry.planning.looking import look
from husbandry.planning.plan import plan
from husbandry.planning.proving import asks, holding, proven
from husbandry.planning.request import Request, from_data
from husbandry.species.needs import NeedKey

RIGHT = {"surface_day": 40.0, "warm_air_day": 30.0, "cool_air_day": 24.5, "air_night": 19.0, "uvi_day": 3.4, "humidity_day": 50.0}


def read(sample: dict[str, Any], values: dict[str, float], **more: Any) -> Request:
    data: dict[str, Any] = json.loads(json.dumps(sample))
    data["readings"] = [
        {"need": need, "value": value, "at": "2026-06-14T10:00:00+01:00", "revision": data["revision"], "lamp_on_h": 8, **more}
        for need, value in values.items()
    ]
    return from_data(data)


def states(request: Request) -> dict[NeedKey, str]:
    return {ask.key: ask.state for ask in asks(request, plan(request).needs, look(request).bands)}


def test_every_need_is_asked_for_and_nothing_is_proven_by_a_prediction(sample: dict[str, Any]) -> None:
    request = read(sample, {})
    found = states(request)
    assert set(found) == {NeedKey(key) for key in RIGHT} and set(found.values()) == {"open"}


def test_right_readings_prove_and_wrong_ones_do_not(sample: dict[str, Any]) -> None:
    request = read(sample, RIGHT)
    found = asks(request, plan(request).needs, look(request).bands)
    assert proven(found) and {ask.state for ask in found} == {"proven"}
    wrong = states(read(sample, {**RIGHT, "cool_air_day": 34.0}))
    assert wrong[NeedKey.COOL_AIR_DAY] in {"wrong", "again"} and not proven(())


def test_a_reading_of_the_morning_is_asked_for_again(sample: dict[str, Any]) -> None:
    found = states(read(sample, {"surface_day": 40.0}, lamp_on_h=2))
    assert found[NeedKey.SURFACE_DAY] == "again"


def changed(sample: dict[str, Any], **bend: Any) -> dict[NeedKey, str]:
    """A box that was proven in its first state, and then changed."""
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
    return {**first, "revision": 2, "earlier": [{"revision": 1, "box": first["box"], "things": first["things"]}]}


WARM = {NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY, NeedKey.AIR_NIGHT}


@pytest.mark.parametrize(
    ("bend", "again"),
    [
        ({}, set()),
        ({"things__0__power_w": 100}, WARM | {NeedKey.HUMIDITY_DAY}),
        ({"things__1__hours_run": 900}, {NeedKey.UVI_DAY}),
        ({"box__wetting": {"ground": "damp"}}, {NeedKey.HUMIDITY_DAY}),
        ({"things__3__at_m": [0.8, 0.35, 0.06]}, {NeedKey.UVI_DAY, NeedKey.HUMIDITY_DAY}),
        ({"box__ground__depth_m": 0.07}, WARM | {NeedKey.HUMIDITY_DAY}),
        ({"things__4__at_m": [1.3, 0.2, 0.06]}, {NeedKey.HUMIDITY_DAY}),
    ],
)  # fmt: skip
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
    found = states(read(sample, {"surface_day": 40.0, "uvi_day": 3.4}, at="2026-04-25T10:00:00+01:00"))
    assert found[NeedKey.SURFACE_DAY] == "again" and found[NeedKey.UVI_DAY] == "proven"  # lamps age slower than boxes are changed
