"""Readings that cannot be right are named, and speak all the same."""

from typing import Any

import pytest

from husbandry.calibration import implausible_readings
from husbandry.documents.request_json import from_data
from husbandry.documents.result import Plan
from husbandry.plan.plan import plan
from husbandry.species.needs import NeedKey
from tests.husbandry.targets.test_verdicts import reading


def planned(sample: dict[str, Any], **values: float) -> Plan:
    return plan(
        from_data(
            {**sample, "readings": [reading(need, value) for need, value in values.items()]}
        ),
        advise=False,
    )


def said(found: Plan) -> dict[str, str]:
    return {
        need.key.value: need.measured.odd
        for need in found.needs
        if need.measured and need.measured.odd
    }


@pytest.fixture
def right(sample: dict[str, Any]) -> dict[str, float]:
    """What an enclosure would read that is as it was predicted."""
    return {
        need.key.value: need.predicted.value
        for need in planned(sample).needs
        if need.predicted is not None and need.key is not NeedKey.HUMIDITY_NIGHT
    }


def test_an_enclosure_as_predicted_has_no_odd_reading(
    sample: dict[str, Any], right: dict[str, float]
) -> None:
    assert said(planned(sample, **right)) == {}


@pytest.mark.parametrize("share", [-1.0, 1.0])
def test_an_enclosure_that_errs_as_a_whole_has_no_odd_reading(
    sample: dict[str, Any], share: float
) -> None:
    """All three at the ends of their intervals: the model's error, not an instrument's."""
    needs = [
        need
        for need in planned(sample).needs
        if need.predicted and need.predicted.sd and need.key is not NeedKey.UVI_DAY
    ]
    values = {
        n.key.value: n.predicted.value + share * n.predicted.sd
        for n in needs
        if n.unit == "°C" and n.predicted
    }  # type: ignore[operator]
    assert said(planned(sample, **values)) == {}


def test_the_other_unit(sample: dict[str, Any], right: dict[str, float]) -> None:
    """0 °C = 32 °F, 100 °C = 212 °F: a °F reading noted as °C, and the other way (definition of the
    scales).
    """
    fahrenheit = right["surface_day"] * 1.8 + 32
    assert said(planned(sample, **right | {"surface_day": fahrenheit})) == {
        "surface_day": implausible_readings.UNIT
    }
    noted_as_f = (right["cool_air_day"] - 32) / 1.8
    assert said(planned(sample, **right | {"cool_air_day": noted_as_f})) == {
        "cool_air_day": implausible_readings.UNIT
    }


def test_a_heated_enclosure_is_not_colder_than_its_room(
    sample: dict[str, Any], right: dict[str, float]
) -> None:
    """Heat flows from warm to cold (second law); a wet enclosure may lie a little below, by
    evaporation.
    """
    room_c = sample["room"]["day_c"]
    assert said(planned(sample, cool_air_day=room_c - 5)) == {
        "cool_air_day": implausible_readings.COLD
    }
    assert said(planned(sample, cool_air_day=room_c - 1)) == {}


def test_ends_exchanged(sample: dict[str, Any], right: dict[str, float]) -> None:
    swapped = right | {
        "warm_air_day": right["cool_air_day"],
        "cool_air_day": right["warm_air_day"],
    }
    assert said(planned(sample, **swapped)) == {
        "warm_air_day": implausible_readings.ENDS,
        "cool_air_day": implausible_readings.ENDS,
    }


def test_a_surface_under_a_lamp_is_not_colder_than_the_air_beside_it(
    sample: dict[str, Any], right: dict[str, float]
) -> None:
    """An infrared thermometer through glass reads the glass (common practice, no source)."""
    assert said(
        planned(sample, warm_air_day=right["warm_air_day"], surface_day=right["warm_air_day"] - 4)
    ) == {"surface_day": implausible_readings.SHINE}


def test_no_enclosure_is_drier_than_its_rooms_air(sample: dict[str, Any]) -> None:
    """The same vapour at the enclosure's temperature is the least there can be; damp salt tests a
    hygrometer (common practice, no source).
    """
    floor = planned(sample).need(NeedKey.HUMIDITY_DAY).floor
    assert floor is not None
    assert said(planned(sample, humidity_day=floor.value - 20)) == {
        "humidity_day": implausible_readings.DRY
    }
    assert said(planned(sample, humidity_day=floor.value - 5)) == {}


@pytest.mark.parametrize(
    ("times", "text"),
    [
        (0.02, implausible_readings.NO_UV),
        (0.5, ""),
        (2.0, ""),
        (12.0, implausible_readings.OTHER_UV),
    ],
)
def test_ultraviolet_of_another_order(
    sample: dict[str, Any], right: dict[str, float], times: float, text: str
) -> None:
    """µW/cm² of UVB is some ten times and more the UV index of a reptile lamp (from memory)."""
    assert said(planned(sample, uvi_day=right["uvi_day"] * times)).get("uvi_day", "") == text


def test_one_that_stands_alone(sample: dict[str, Any], right: dict[str, float]) -> None:
    """Air probe in the beam: it reads the lamp's radiation too (common practice, no source)."""
    hot = {"warm_air_day": right["warm_air_day"] + 12}
    three = {key: right[key] for key in ("surface_day", "cool_air_day")}
    assert said(planned(sample, **three, **hot)) == {
        "warm_air_day": implausible_readings.BEAM_TEXT
    }
    assert said(planned(sample, cool_air_day=three["cool_air_day"], **hot)) == {}, (
        "two readings do not tell which of them errs"
    )
    assert said(planned(sample, **right | {"surface_day": right["surface_day"] + 20})) == {
        "surface_day": implausible_readings.ALONE
    }


def test_it_speaks_all_the_same(sample: dict[str, Any], right: dict[str, float]) -> None:
    """A hot reading that is put aside would hide a danger."""
    found = planned(sample, **right | {"surface_day": right["surface_day"] + 30}).need(
        NeedKey.SURFACE_DAY
    )
    assert found.measured and found.measured.odd and found.measured.judged
    assert (found.verdict.speaks, found.verdict.direction) == ("measured", "above")


def test_readings_of_before_are_not_asked_about(sample: dict[str, Any]) -> None:
    stale = reading("cool_air_day", 2.0, revision=1)
    assert said(plan(from_data({**sample, "revision": 2, "readings": [stale]}))) == {}
