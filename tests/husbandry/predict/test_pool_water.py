"""The water that an animal swims in: predicted, judged, heated, and what a stuck heater does."""

from dataclasses import replace
from typing import Any

import pytest

from husbandry.climate.moisture import saturation
from husbandry.climate.pool_heat import water_day
from husbandry.commissioning.readings import asks
from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch, from_data
from husbandry.errors import DocumentError
from husbandry.forecast.day_forecast import day_of
from husbandry.forecast.power import power_of
from husbandry.items.furnishings import Pool
from husbandry.plan.plan import plan, plan_with_prediction
from husbandry.predict.moisture import over_water
from husbandry.predict.need_states import look
from husbandry.setups.closure import RoomCase, run_case
from husbandry.setups.first_setup import suggest
from husbandry.species.needs import NeedKey

PANES = dict.fromkeys(("front", "back", "left", "right", "bottom"), "glass")


def tank(sample: dict[str, Any], species: str, *, room_c: float = 20.0, **more: Any) -> Request:
    """A glass tank of a kind that lives in water, furnished and fitted."""
    sample.update(
        animals=[{"name": "Rill", "species": species}], items=[], readings=[], revision=1
    )
    sample.pop("earlier", None)
    sample["enclosure"] |= {
        "inside_m": {"length": 1.2, "depth": 0.5, "height": 0.55},
        "panels": PANES,
    }
    sample["enclosure"]["substrate"] = {"material": "tile", "depth_m": 0.01}
    sample["enclosure"].pop("wetting", None)
    sample["room"] = {
        "day_c": room_c,
        "night_c": room_c - 3,
        "summer_max_c": 26,
        "rh_pct": 50,
        **more,
    }
    return suggest(from_data(sample))


def test_a_turtle_in_a_cool_room_gets_a_heater_that_holds(sample: dict[str, Any]) -> None:
    request = tank(sample, "Sternotherus odoratus")
    pool = next(item for item in request.items if isinstance(item, Pool))
    assert pool.heater_w is not None and pool.held_c == 24.0
    made = plan(request)
    need = made.need(NeedKey.WATER_DAY)
    assert need.verdict.direction == "right" and need.predicted is not None
    assert need.predicted.low < 24 < need.predicted.high  # type: ignore[operator]
    given = {one.name: one.value for one in need.predicted.inputs}
    mean = given["heater, mean over the day"]
    assert mean is not None and 0.5 * pool.heater_w < mean <= pool.heater_w
    bare = request.model_copy(
        update={
            "items": tuple(
                t.model_copy(update={"heater_w": None, "held_c": None}) for t in request.items
            )
        }
    )
    assert power_of(request).mean_w - power_of(bare).mean_w == pytest.approx(mean, rel=1e-6)
    assert "water heater" in {note.slug for note in made.notes}
    drawn = next(lamp for lamp in day_of(request).lamps if lamp.name == "heater in the water")
    assert drawn.kwh == pytest.approx(24 * mean / 1000)


def test_without_it_the_heater_is_what_the_plan_offers(sample: dict[str, Any]) -> None:
    request = tank(sample, "Sternotherus odoratus")
    index = next(n for n, item in enumerate(request.items) if isinstance(item, Pool))
    bare = apply_patch(
        request,
        (
            {"op": "replace", "path": f"/items/{index}/heater_w", "value": None},
            {"op": "replace", "path": f"/items/{index}/held_c", "value": None},
        ),
    )
    made = plan(bare)
    assert made.need(NeedKey.WATER_DAY).verdict.direction == "below"
    change = next(change for change in made.changes if change.kind == "water_heater")
    after = plan(apply_patch(bare, change.patch)).need(NeedKey.WATER_DAY)
    assert after.verdict.direction == "right" and after.predicted is not None
    promised = next(effect for effect in change.effects if effect.need is NeedKey.WATER_DAY)
    assert promised.after == pytest.approx(after.predicted.value, abs=0.01)
    hot = apply_patch(
        bare,
        (
            {"op": "replace", "path": f"/items/{index}/heater_w", "value": 300},
            {"op": "replace", "path": f"/items/{index}/held_c", "value": 29},
        ),
    )
    seen = plan(hot)
    assert any(
        change.kind == "water_set" and change.values["set_c"] < 29 for change in seen.changes
    )
    stuck = next(note for note in seen.notes if note.slug == "water stuck")
    assert stuck.severity == "danger" and stuck.values["water_c"] > 31


def test_what_dies_of_warmth_is_told_of_a_cooler_room_not_of_a_heater(
    sample: dict[str, Any],
) -> None:
    made = plan(tank(sample, "Ambystoma mexicanum", room_c=24.0))
    assert made.need(NeedKey.WATER_DAY).verdict.direction == "above"
    assert not made.changes and "water warm" in {note.slug for note in made.notes}
    cool = plan(tank(sample, "Ambystoma mexicanum", room_c=17.5))
    assert cool.need(NeedKey.WATER_DAY).verdict.direction == "right"


def test_evaporation_keeps_still_water_below_its_room(sample: dict[str, Any]) -> None:
    """Uncovered tanks stand a degree or two under the room (common practice, no source)."""
    made = plan(tank(sample, "Ambystoma mexicanum", room_c=20.0))
    water = made.predictions["water_day"].value
    assert 17.0 < water < 20.0


@pytest.mark.parametrize(
    ("more", "pointer"),
    [
        ({"heater_w": 50}, "/items/0/held_c"),
        ({"held_c": 24}, "/items/0/heater_w"),
        ({"heater_w": -5, "held_c": 24}, "/items/0/heater_w"),
        ({"heater_w": 50, "held_c": 75}, "/items/0/held_c"),
    ],
)
def test_half_a_heater_is_asked_for(
    sample: dict[str, Any], more: dict[str, Any], pointer: str
) -> None:
    sample["items"] = [
        {
            "id": "pool-1",
            "kind": "pool",
            "at_m": [0.5, 0.2, 0.0],
            "size_m": [0.4, 0.2, 0.1],
            **more,
        }
    ]
    sample["readings"] = []
    with pytest.raises(DocumentError) as why:
        from_data(sample)
    assert pointer in {problem.pointer for problem in why.value.problems}


def test_water_that_is_given_and_water_that_it_swims_in_are_two_numbers(
    sample: dict[str, Any],
) -> None:
    """A damp enclosure of a swimmer once showed its millilitres a day as degrees."""
    request = tank(sample, "Bombina orientalis")
    data = request.model_dump(mode="json")
    data["enclosure"]["substrate"] = {"material": "soil", "depth_m": 0.05}
    data["enclosure"]["wetting"] = {"substrate": "damp", "mistings": [{"at": "09:00", "ml": 40}]}
    for item in data["items"]:
        if item["kind"] == "hide":
            item["at_m"][2] = 0.05
    made = plan(from_data(data))
    assert (
        made.predictions["water_day"].unit == "°C" and made.predictions["water_given"].unit == "ml"
    )


def misted_pool(sample: dict[str, Any], **heater: float) -> Request:
    """A damp enclosure with a pool in it, heated or not."""
    data = tank(sample, "Bombina orientalis").model_dump(mode="json")
    data["enclosure"]["substrate"] = {"material": "soil", "depth_m": 0.05}
    data["enclosure"]["wetting"] = {"substrate": "damp", "mistings": [{"at": "09:00", "ml": 40}]}
    for item in data["items"]:
        if item["kind"] == "hide":
            item["at_m"][2] = 0.05
        if item["kind"] == "pool":
            item |= {"heater_w": None, "held_c": None, **heater}
    return from_data(data)


def test_warmer_water_makes_damper_air_and_the_one_settles_with_the_other(
    sample: dict[str, Any],
) -> None:
    cold, warm = (
        plan_with_prediction(misted_pool(sample, **heater))[1]
        for heater in ({}, {"heater_w": 50.0, "held_c": 26.0})
    )
    assert (
        cold.damp is not None
        and warm.damp is not None
        and cold.pool_day is not None
        and warm.pool_day is not None
    )
    assert warm.pool_day.day_c > cold.pool_day.day_c + 2
    assert all(
        more > less for more, less in zip(warm.damp.cool_pct, cold.damp.cool_pct, strict=True)
    )
    for prediction in (cold, warm):  # a further round moves neither
        assert prediction.damp is not None and prediction.pool_day is not None
        again = over_water(
            prediction.damp, prediction.pool_day.pool.surface_m2, prediction.pool_day.day.water_c
        )
        assert again.cool_pct == pytest.approx(prediction.damp.cool_pct, abs=0.3)
        vapour = tuple(
            min(e, saturation(t))
            for e, t in zip(again.series.vapour_pa, prediction.pool_day.around.air_c, strict=True)
        )
        once_more = water_day(
            prediction.pool_day.pool, replace(prediction.pool_day.around, vapour_pa=vapour)
        )
        assert once_more.water_c == pytest.approx(prediction.pool_day.day.water_c, abs=0.05)


def test_water_is_read_at_any_hour_for_it_follows_whole_days(sample: dict[str, Any]) -> None:
    request = tank(sample, "Sternotherus odoratus")
    data = request.model_dump(mode="json")
    data["readings"] = [
        {
            "need": "water_day",
            "value": 24.2,
            "at": data["now"],
            "lamp_on_h": 0.5,
            "revision": data["revision"],
        }
    ]
    read = from_data(data)
    made = plan(read)
    assert made.need(NeedKey.WATER_DAY).verdict.speaks == "measured"
    ask = next(
        ask for ask in asks(read, made.needs, look(read).targets) if ask.key is NeedKey.WATER_DAY
    )
    assert ask.state == "proven"


def test_two_heaters_where_one_that_sticks_would_be_too_warm() -> None:
    """Two weak heaters instead of a strong one: one that sticks on does less (common practice)."""
    case = run_case("Physignathus cocincinus", "adult", RoomCase(18.0, 15.0, 28.0, 50.0))
    assert case.closed and "water stuck" not in case.dangers
    large = run_case("Trachemys scripta", "adult", RoomCase(18.0, 15.0, 28.0, 50.0))
    assert large.closed and "water_day" not in large.wrong
