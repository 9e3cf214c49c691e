import datetime as dt
from dataclasses import replace
from typing import Any

import pytest

from husbandry.derivation import Derivation
from husbandry.documents.request_json import from_data
from husbandry.plan.plan import plan
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.targets.verdicts import TargetRange, judge


def reading(need: str = "surface_day", value: float = 36.1, **more: Any) -> dict[str, Any]:
    return {
        "need": need,
        "value": value,
        "at": "2026-06-14T10:00:00+01:00",
        "lamp_on_h": 7,
        "revision": 1,
        **more,
    }


def state(sample: dict[str, Any], key: NeedKey, *readings: dict[str, Any]) -> Any:
    return plan(from_data({**sample, "readings": list(readings)}), advise=False).need(key)


def test_a_fresh_reading_speaks(sample: dict[str, Any]) -> None:
    found = state(sample, NeedKey.SURFACE_DAY, reading())
    assert (found.verdict.speaks, found.verdict.direction) == ("measured", "below")
    assert found.verdict.by == pytest.approx(1.9) and found.verdict.sure


def test_the_offset_is_taken_off(sample: dict[str, Any]) -> None:
    """A thermometer that reads 1.4 °C high: subtract it (common practice, no source)."""
    found = state(sample, NeedKey.SURFACE_DAY, reading(value=39.0, offset=1.4))
    assert found.measured.value == pytest.approx(37.6) and found.measured.shown == 39.0
    assert found.measured.derivation.command == "compute corrected_reading value=39 offset=1.4"


@pytest.mark.parametrize(
    ("change", "why"),
    [
        ({"revision": 1}, "before the last change"),
        ({"at": "2026-05-20T10:00:00+01:00"}, "older than 14 days"),
        ({"lamp_on_h": 0.5}, "0.5 h after switch-on"),
    ],
)
def test_what_may_not_be_judged_is_shown_but_does_not_speak(
    sample: dict[str, Any], change: dict[str, Any], why: str
) -> None:
    second = {**sample, "revision": 2}
    found = state(second, NeedKey.SURFACE_DAY, reading(**{"revision": 2, **change}))
    assert found.verdict.speaks == "predicted" and found.measured is not None
    assert not found.measured.judged and why in found.measured.why_not


@pytest.mark.parametrize(
    ("need", "value", "days"),
    [("humidity_day", 50, 3), ("uvi_day", 3.0, 60), ("cool_air_day", 24, 14)],
)
def test_each_quantity_has_its_own_freshness(
    sample: dict[str, Any], need: str, value: float, days: int
) -> None:  # decisions, 4
    now = dt.datetime.fromisoformat(sample["now"])
    for age, judged in ((days - 0.5, True), (days + 0.5, False)):
        found = state(
            sample,
            NeedKey(need),
            reading(need, value, at=(now - dt.timedelta(days=age)).isoformat()),
        )
        assert found.measured.judged is judged


def test_the_latest_judgeable_reading_wins_over_a_later_unsettled_one(
    sample: dict[str, Any],
) -> None:
    found = state(
        sample,
        NeedKey.SURFACE_DAY,
        reading(value=40.0, at="2026-06-13T15:00:00+01:00"),
        reading(value=31.0, lamp_on_h=1),
    )
    assert found.measured.value == 40.0


def test_a_reading_from_the_future_is_ignored(sample: dict[str, Any]) -> None:
    assert (
        state(sample, NeedKey.SURFACE_DAY, reading(at="2026-06-15T10:00:00+01:00")).measured
        is None
    )


def test_sure_from_eighty_percent(sample: dict[str, Any]) -> None:
    low = state(sample, NeedKey.SURFACE_DAY, reading(value=30.5))
    edge = state(sample, NeedKey.SURFACE_DAY, reading(value=38.1))
    assert low.verdict.sure and low.verdict.probability > 0.99
    assert edge.verdict.direction == "right" and not edge.verdict.sure


def test_a_measured_limit_is_judged_by_its_unfavourable_end(sample: dict[str, Any]) -> None:
    assert state(sample, NeedKey.SURFACE_DAY, reading(value=49.0)).verdict.limit == "breached"
    assert state(sample, NeedKey.SURFACE_DAY, reading(value=45.0)).verdict.limit == "kept"


def test_what_only_an_uncalibrated_interval_passes_is_unproven(sample: dict[str, Any]) -> None:
    sample["items"][0]["power_w"] = 100
    found = state(sample, NeedKey.SURFACE_DAY)
    assert found.predicted.high > 50 > found.predicted.value and found.verdict.limit == "unproven"
    slugs = {note.slug for note in plan(from_data(sample)).notes}
    assert "unproven surface_day" in slugs


def test_day_and_night_are_separate_and_in_fixed_order(sample: dict[str, Any]) -> None:
    keys = [need.key.value for need in plan(from_data(sample)).needs]
    assert keys == [
        "surface_day",
        "warm_air_day",
        "cool_air_day",
        "air_night",
        "uvi_day",
        "humidity_day",
    ]


def test_humidity_is_not_invented(sample: dict[str, Any]) -> None:
    found = state(sample, NeedKey.HUMIDITY_DAY)
    assert found.predicted is None and found.verdict.direction == "unknown"
    assert 30 < found.floor.value < 55 and found.floor.method == "rh_elsewhere"


def test_two_animals_share_the_intersection_and_a_gap_is_a_conflict(
    sample: dict[str, Any],
) -> None:
    sample["animals"].append(
        {
            "name": "Other",
            "species": "Pogona vitticeps",
            "mass_g": 400,
            "length_mm": {"total": 480},
        }
    )
    result = plan(from_data(sample))
    uvi = result.need(NeedKey.UVI_DAY)
    assert uvi is not None and uvi.low is not None and uvi.high is not None
    assert (uvi.low.value, uvi.high.value) == (3.0, 4.5)
    assert result.size.body_length_m == 0.48
    assert "company" in {note.slug for note in result.notes}


def test_a_gap_between_two_animals_is_a_conflict_that_names_both(sample: dict[str, Any]) -> None:
    """A poison frog is damper than a dragon may be, whatever is misted (their profiles)."""
    sample["animals"] = [
        {"name": "Dry", "species": "Pogona vitticeps", "mass_g": 400},
        {"name": "Wet", "species": "Dendrobates tinctorius", "mass_g": 5},
    ]
    conflicts = [need.conflict for need in plan(from_data(sample)).needs if need.conflict]
    assert conflicts and all("needs at least" in text for text in conflicts)
    alone = plan(from_data({**sample, "animals": sample["animals"][:1]}))
    assert not any(need.conflict for need in alone.needs)


def test_beyond_an_open_end_nothing_is_wrong() -> None:
    assert (
        judge(target_of(NeedKey.SURFACE_DAY, 30, None), 40.0, 0.5, speaks="predicted").probability
        == 1
    )
    assert (
        judge(target_of(NeedKey.SURFACE_DAY, None, 36), 20.0, 0.5, speaks="predicted").probability
        == 1
    )


def test_every_target_and_limit_has_a_source(sample: dict[str, Any]) -> None:
    for need in plan(from_data(sample)).needs:
        for end in (need.low, need.high, need.limit_low, need.limit_high):
            assert end is None or end.sources


def test_a_reading_of_the_morning_is_carried_on_by_the_share_of_its_rise(sample):
    """The brief, 4: readings under six hours after switch-on are compared with the transient at
    that hour.
    """
    settled = state(sample, NeedKey.SURFACE_DAY, reading(value=40.0, lamp_on_h=8))
    morning = state(sample, NeedKey.SURFACE_DAY, reading(value=33.0, lamp_on_h=3))
    assert settled.measured.after_h is None and settled.measured.to_come_k == 0
    assert (
        morning.measured.judged
        and morning.measured.after_h == 3
        and morning.verdict.speaks == "measured"
    )
    assert (
        morning.measured.value == pytest.approx(33 + morning.measured.to_come_k)
        and 3 < morning.measured.to_come_k < 12
    )
    assert morning.measured.sd > settled.measured.sd
    assert any(given.name == "share of its rise" for given in morning.measured.derivation.inputs)


def test_a_settled_reading_wins_over_a_later_one_of_the_morning(sample):
    found = state(
        sample,
        NeedKey.SURFACE_DAY,
        reading(value=40.0, at="2026-06-13T15:00:00+01:00"),
        reading(value=33.0, lamp_on_h=3),
    )
    assert found.measured.value == 40.0


def test_only_the_interval_of_a_morning_reading_past_a_limit_is_unproven(sample):
    found = state(sample, NeedKey.SURFACE_DAY, reading(value=34.5, lamp_on_h=3))
    assert found.verdict.limit in {"kept", "unproven"}


def target_of(key: NeedKey, low: float | None, high: float | None) -> TargetRange:
    low_end, high_end = (None if end is None else named_end(end) for end in (low, high))
    return TargetRange(NEEDS[key], low_end, high_end, None, named_end(60.0))


def named_end(value: float) -> Derivation:
    return Derivation(value=value, unit="", rule="")


@pytest.mark.parametrize(
    ("key", "ends", "value", "direction", "by"),
    [
        # Half a kelvin of air, a kelvin of a surface, three per cent: common practice, no source.
        (NeedKey.WARM_AIR_DAY, (26, 30), 25.6, "right", 0.4),
        (NeedKey.WARM_AIR_DAY, (26, 30), 25.4, "below", 0.6),
        (NeedKey.WARM_AIR_DAY, (26, 30), 30.4, "right", 0.4),
        (NeedKey.WARM_AIR_DAY, (26, 30), 30.6, "above", 0.6),
        (NeedKey.WARM_AIR_DAY, (26, 30), 28.0, "right", 0.0),
        (NeedKey.SURFACE_DAY, (38, 43), 37.1, "right", 0.9),
        (NeedKey.SURFACE_DAY, (38, 43), 44.2, "above", 1.2),
        (NeedKey.HUMIDITY_DAY, (30, 50), 52.5, "right", 2.5),
        (NeedKey.HUMIDITY_DAY, (30, 50), 26.5, "below", 3.5),
        # A UV meter: a tenth of what it shows.
        (NeedKey.UVI_DAY, (0.3, 1.0), 0.28, "right", 0.02),
        (NeedKey.UVI_DAY, (0.3, 1.0), 0.2, "below", 0.1),
        (NeedKey.UVI_DAY, (3.0, 5.0), 5.09, "right", 0.09),
        (NeedKey.UVI_DAY, (3.0, 5.0), 5.2, "above", 0.2),
        (NeedKey.UVI_DAY, (None, 5.0), 0.0, "right", 0.0),
        (NeedKey.UVI_DAY, (3.0, None), 50.0, "right", 0.0),
    ],
)
def test_what_no_instrument_tells_from_the_end_of_a_range_is_in_it(
    key: NeedKey, ends: tuple[float | None, float | None], value: float, direction: str, by: float
) -> None:
    found = judge(target_of(key, *ends), value, 0.2, speaks="predicted")
    assert found.direction == direction and found.by == pytest.approx(by)


def test_a_limit_has_no_edge() -> None:
    target = target_of(NeedKey.WARM_AIR_DAY, 26, 60)
    assert judge(target, 60.3, 0.01, speaks="predicted").limit == "breached"
    assert judge(target, 59.0, 0.01, speaks="predicted").limit == "kept"


def test_what_is_aimed_at_is_the_middle_or_a_quarter_inside_the_only_end() -> None:
    both = target_of(NeedKey.SURFACE_DAY, 30, 36)
    assert both.aim() == 33
    low = target_of(NeedKey.SURFACE_DAY, 30, None)
    high = target_of(NeedKey.SURFACE_DAY, None, 40)
    assert low.aim() == pytest.approx(30 + 0.25 * 6) and high.aim() == pytest.approx(40 - 0.25 * 8)


def test_without_any_error_a_value_is_on_its_own_side_for_certain() -> None:
    target = target_of(NeedKey.SURFACE_DAY, 30, 36)
    for value, direction in ((28.0, "below"), (33.0, "right"), (40.0, "above")):
        found = judge(target, value, 0.0, speaks="measured")
        assert found.direction == direction and found.probability == 1.0


def test_what_is_right_for_one_and_past_anothers_limit_is_on_that_side() -> None:
    """Two animals: the range of one reaches past the lower limit of the other."""
    wide = replace(target_of(NeedKey.COOL_AIR_DAY, 18, 30), limit_low=named_end(22.0))
    cold = judge(wide, 20.0, 0.3, speaks="predicted")
    assert (cold.direction, cold.by, cold.limit) == ("below", 2.0, "breached")
    narrow = replace(target_of(NeedKey.COOL_AIR_DAY, 18, 30), limit_high=named_end(26.0))
    warm = judge(narrow, 28.0, 0.3, speaks="predicted")
    assert (warm.direction, warm.by, warm.limit) == ("above", 2.0, "breached")


def test_a_uv_reading_errs_by_a_share_and_a_temperature_by_kelvins(sample: dict[str, Any]) -> None:
    """Nine in ten: 1.645 standard deviations of the instrument (docs/decisions.md, 3)."""
    strong, weak = (
        state(sample, NeedKey.UVI_DAY, reading("uvi_day", value)).measured.derivation
        for value in (4.0, 1.0)
    )
    assert strong.high - 4.0 == pytest.approx(4 * (weak.high - 1.0))
    warm, hot = (
        state(sample, NeedKey.SURFACE_DAY, reading("surface_day", value)).measured.derivation
        for value in (30.0, 40.0)
    )
    assert hot.high - 40 == pytest.approx(warm.high - 30)
