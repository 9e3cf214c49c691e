"""Humidity in a plan: predicted only where it was said how the enclosure is kept, judged, mended,
and its dangers told.
"""

import json
from dataclasses import replace
from typing import Any

import pytest

from husbandry.climate.misting import even_marks
from husbandry.climate.moisture import run
from husbandry.documents.request_json import apply_patch, from_data
from husbandry.errors import DocumentError
from husbandry.forecast.day_forecast import hours_of
from husbandry.plan.plan import plan, plan_summary, plan_with_prediction, prediction_of
from husbandry.predict.moist_hide import hide_pct
from husbandry.predict.moisture import damp_of, places_of
from husbandry.predict.moisture_alternatives import UntendedMoisture, left_alone
from husbandry.species.needs import NeedKey


def enclosure(
    sample: dict[str, Any], species: str = "Dryophytes cinereus", **wetting: Any
) -> dict[str, Any]:
    """A tall glass enclosure with mesh in its lid, and nothing in it that would not be in one."""
    fogger = wetting.pop("fogger", None)
    data: dict[str, Any] = json.loads(json.dumps(sample))
    data["animals"] = [{"species": species, "born_on": "2024-02-01"}]
    panels = dict.fromkeys(("front", "back", "left", "right", "bottom"), "glass")
    data["enclosure"] = {
        "inside_m": {"length": 0.6, "depth": 0.45, "height": 0.75},
        "panels": panels,
        "lid": {"material": "pvc_board", "mesh": "insect", "mesh_share": 0.4},
        "substrate": {"material": "soil", "depth_m": 0.08},
        "vents": {"low_cm2": 30, "high_cm2": 30, "rise_m": 0.3},
        "wetting": {"substrate": "damp", **wetting},
    }
    data["items"] = [
        {
            "id": "tube-1",
            "kind": "t5_6",
            "at_m": [0.3, 0.2, 0.7],
            "length_m": 0.55,
            "power_w": 24,
            "on": "08:00",
            "off": "20:00",
        },
        {"id": "branch-1", "kind": "branch", "at_m": [0.3, 0.2, 0.4], "size_m": [0.4, 0.03, 0.03]},
        {"id": "dish-1", "kind": "dish", "at_m": [0.2, 0.2, 0.08], "size_m": [0.16, 0.16, 0.03]},
    ]
    if fogger is not None:
        data["items"].append(
            {"id": "fogger-1", "kind": "fogger", "at_m": [0.1, 0.1, 0.08], **fogger}
        )
    return data


TWICE = [{"at": "08:30", "ml": 60}, {"at": "19:00", "ml": 60}]


def test_nothing_is_predicted_of_an_enclosure_of_which_nothing_was_said(
    sample: dict[str, Any],
) -> None:
    made = plan(from_data(sample))
    need = made.need(NeedKey.HUMIDITY_DAY)
    assert (
        need is not None
        and need.predicted is None
        and need.floor is not None
        and made.damp is None
    )
    assert not any(key in made.predictions for key in ("air_changes_day", "water_given"))


def test_a_damp_enclosure_is_predicted_at_both_ends_of_its_day_with_an_interval(
    sample: dict[str, Any],
) -> None:
    made = plan(from_data(enclosure(sample, mistings=TWICE)))
    day, night = made.need(NeedKey.HUMIDITY_DAY), made.need(NeedKey.HUMIDITY_NIGHT)
    assert (
        day is not None
        and night is not None
        and day.predicted is not None
        and night.predicted is not None
    )
    assert night.predicted.value > day.predicted.value  # the same vapour in cooler air
    low, high = day.predicted.low, day.predicted.high
    assert (
        low is not None
        and high is not None
        and low < day.predicted.value < high
        and high - low > 10
    )
    assert day.verdict.speaks == "predicted" and day.predicted.inputs
    assert made.damp is not None and len(made.damp.cool_pct) == 48 and made.damp.pulses[0].ml == 60
    assert (
        made.predictions["water_given"].value > 120
        and made.predictions["air_changes_day"].unit == "1/h"
    )


def test_a_glance_says_the_same_as_a_plan(sample: dict[str, Any]) -> None:
    request = from_data(enclosure(sample, mistings=TWICE))
    for one, other in zip(plan_summary(request).needs, plan(request).needs, strict=True):
        assert one.verdict == other.verdict


def test_warm_air_is_drier_than_cool_air_of_the_same_vapour(sample: dict[str, Any]) -> None:
    damp = damp_of(
        prediction_of(
            from_data(
                {**sample, "enclosure": {**sample["enclosure"], "wetting": {"substrate": "damp"}}}
            )
        )
    )
    assert damp is not None
    assert all(
        w < c
        for w, c, lit in zip(damp.warm_pct, damp.cool_pct, damp.places.lit, strict=True)
        if lit
    )


def test_its_quick_day_follows_the_day_in_time(sample: dict[str, Any]) -> None:
    """The end of the night within a kelvin, that of the day within one and a half; the hours
    between within three.
    """
    request = from_data(
        {**sample, "enclosure": {**sample["enclosure"], "wetting": {"substrate": "damp"}}}
    )
    prediction = prediction_of(request)
    quick, slow = places_of(prediction), hours_of(request)
    gaps = [
        abs(then.day.value(then.day.air(*prediction.cool_point)) - quick.cool[n - 1])
        for n, then in enumerate(slow)
    ]
    assert max(gaps) < 3 and sum(gaps) / 48 < 1
    assert gaps[12] < 1 and gaps[38] < 1.5


@pytest.mark.parametrize(
    ("change", "up"),
    [
        ({"substrate": "wet"}, True),
        ({"substrate": "dry"}, False),
        ({"mistings": TWICE}, True),
        ({"fogger": {"l_per_h": 0.15, "on": "08:00", "off": "20:00"}}, True),
    ],
)
def test_each_means_moves_it_the_way_keepers_know(
    sample: dict[str, Any], change: dict[str, Any], up: bool
) -> None:
    """Wetter substrate, misting and fog lift it (common practice, no source)."""
    was, now = (
        prediction_of(from_data(enclosure(sample, **more))).centre(NeedKey.HUMIDITY_DAY) or 0
        for more in ({}, change)
    )
    assert (now > was) is up


def test_a_covered_lid_and_fewer_vents_lift_it_and_a_dry_winter_room_lowers_it(
    sample: dict[str, Any],
) -> None:
    def day(**bend: Any) -> float:
        data = enclosure(sample)
        for path, value in bend.items():
            part, _, name = path.partition("__")
            target = data["enclosure"] if part in data["enclosure"] else data
            target[part] = {**target[part], name: value}
        return prediction_of(from_data(data)).centre(NeedKey.HUMIDITY_DAY) or 0.0

    assert (
        day(lid__mesh_share=0.1) > day()
        and day(vents__low_cm2=2) > day()
        and day(room__rh_pct=25) < day()
    )


def test_the_offered_mistings_bring_it_between_its_marks(sample: dict[str, Any]) -> None:
    data = enclosure(sample, substrate="dry")
    data["room"] = {**data["room"], "rh_pct": 40}
    request = from_data(data)
    made = plan(request)
    need = made.need(NeedKey.HUMIDITY_DAY)
    assert need is not None and need.verdict.direction == "below"
    offered = {change.kind: change for change in made.changes}
    assert offered.keys() & {"mist", "substrate_wetness", "cover_mesh"}
    for change in offered.values():
        effect = next((e for e in change.effects if e.need is NeedKey.HUMIDITY_DAY), None)
        if effect is not None:
            after = plan(apply_patch(request, change.patch)).need(NeedKey.HUMIDITY_DAY)
            assert after is not None and after.predicted is not None
            assert after.predicted.value == pytest.approx(
                effect.after, abs=0.01
            )  # what is quoted holds once applied


def test_a_reading_of_three_days_speaks_before_the_prediction(sample: dict[str, Any]) -> None:
    data = enclosure(sample)
    data["readings"] = [
        {"need": "humidity_day", "value": 61, "at": "2026-06-13T17:00:00+01:00", "revision": 1}
    ]
    need = plan(from_data(data)).need(NeedKey.HUMIDITY_DAY)
    assert need is not None and need.verdict.speaks == "measured" and need.predicted is not None


def noted(data: dict[str, Any]) -> set[str]:
    return {note.slug for note in plan(from_data(data)).notes}


def test_stagnant_wet_and_waterlogged_enclosures_are_told_so(sample: dict[str, Any]) -> None:
    """Source: humidity A6 (common practice): damp and still air, faces that never dry, water that
    stands below.
    """
    closed = enclosure(
        sample,
        substrate="wet",
        mistings=[{"at": f"{hour:02d}:00", "ml": 100} for hour in (8, 11, 14, 17, 20, 23)],
    )
    closed["enclosure"]["vents"] = {"low_cm2": 0, "high_cm2": 0, "rise_m": 0.3}
    closed["enclosure"]["lid"] = {"material": "pvc_board"}
    assert {"never dry air", "never dry"} <= noted(closed)
    assert "much by hand" in noted(closed) and "much by hand" not in noted(
        {
            **closed,
            "enclosure": {
                **closed["enclosure"],
                "wetting": {**closed["enclosure"]["wetting"], "nozzles_ml_s": 3},
            },
        }
    )
    assert not {"never dry air", "never dry", "stagnant"} & noted(
        enclosure(sample, mistings=TWICE)
    )


def test_an_enclosure_that_only_a_mat_warms_can_be_cold_and_has_no_dark_hours(
    sample: dict[str, Any],
) -> None:
    """A mat burns all day: no hour is dark, and the night is cold all the same."""
    data = enclosure(sample, mistings=TWICE)
    data["room"] = {**data["room"], "day_c": 14, "night_c": 9, "summer_max_c": 26}
    data["items"][0] = {
        "id": "mat-1",
        "kind": "heat_mat",
        "at_m": [0.3, 0.2, 0.0],
        "size_m": [0.2, 0.2, 0.002],
        "power_w": 7,
    }
    assert plan(from_data(data)).need(NeedKey.AIR_NIGHT) is not None


def test_a_fogger_brings_its_caution(sample: dict[str, Any]) -> None:
    assert "fogger" in noted(
        enclosure(sample, fogger={"l_per_h": 0.1, "on": "21:00", "off": "23:00"})
    )


def test_a_moist_hide_stays_wet_in_a_dry_enclosure(sample: dict[str, Any]) -> None:
    """Two litres over a square decimetre of moss, one change an hour, enclosure at 25 °C and 50 %:
    98 %, 0.6 g a day (source: humidity A7).
    """
    from husbandry.climate.vapour import saturation_vapour_pressure

    pct, kg = hide_pct(0.002, 0.01, 0.5 * saturation_vapour_pressure(25), 26)
    assert pct == pytest.approx(98, abs=1) and 1000 * kg == pytest.approx(0.6, abs=0.1)
    data = enclosure(sample, substrate="dry top")
    data["items"].append(
        {
            "id": "hide-1",
            "kind": "hide",
            "at_m": [0.45, 0.3, 0.08],
            "size_m": [0.16, 0.14, 0.1],
            "moist": True,
        }
    )
    seen = plan(from_data(data)).damp
    assert seen is not None and min(seen.hide_pct) > 90 > max(seen.cool_pct)


@pytest.mark.parametrize(
    ("wetting", "said"),
    [
        (
            {"mistings": [{"at": "08:00", "ml": 50}, {"at": "08:01", "ml": 50}]},
            "nothing has dried in between",
        ),
        (
            {"mistings": [{"at": "23:55", "ml": 50}, {"at": "00:05", "ml": 50}]},
            "nothing has dried in between",
        ),
        (
            {"mistings": [{"at": "08:00", "ml": 4900}, {"at": "12:00", "ml": 4900}]},
            "stand on the floor",
        ),
        ({"mistings": [{"at": "08:00", "ml": 0}]}, "more than 0"),
        ({"tank_l": 0}, "more than 0"),
        ({"substrate": "soggy"}, "dry"),
    ],
)
def test_what_cannot_be_is_refused(
    sample: dict[str, Any], wetting: dict[str, Any], said: str
) -> None:
    with pytest.raises(DocumentError, match=said):
        from_data(enclosure(sample, **wetting))


def test_left_alone_it_dries_sooner_with_more_air_and_later_with_deeper_substrate(
    sample: dict[str, Any],
) -> None:
    def left(mesh: float, substrate: str) -> UntendedMoisture:
        data = enclosure(sample, substrate=substrate, mistings=TWICE)
        data["enclosure"]["lid"]["mesh_share"] = mesh
        damp = prediction_of(from_data(data)).damp
        assert damp is not None
        return left_alone(damp, even_marks(60, 90, 48))

    airy, closed = left(0.6, "damp"), left(0.05, "damp")
    assert airy.low_h is not None and (closed.low_h is None or closed.low_h > airy.low_h), airy
    assert airy.substrate_days is not None and airy.deeper_days is not None
    # Twice the water over the same evaporation: twice the days, within a day's step.
    assert airy.deeper_days == pytest.approx(2 * airy.substrate_days, rel=0.15)
    wetter = left(0.6, "wet").low_h
    assert wetter is None or wetter > airy.low_h


def test_drying_substrate_loses_what_evaporates(sample: dict[str, Any]) -> None:
    """The halving time against the same substrate followed day by day until half of its water is
    gone.
    """
    damp = prediction_of(from_data(enclosure(sample))).damp
    assert damp is not None
    found = left_alone(damp, even_marks(10, 99, 48))
    assert found.substrate_days is not None and found.low_h is None
    still = replace(damp.forcing, mist_kg=(0.0,) * 48)
    state, days = replace(damp.series.end, substrate_kg=damp.enclosure.substrate_kg), 0
    while state.substrate_kg > 0.5 * damp.enclosure.substrate_kg and days < 200:
        state, days = run(damp.enclosure, still, state, fine_s=1800).end, days + 1
    assert found.substrate_days == pytest.approx(days, rel=0.15)


def test_no_misting_is_planned_with_more_than_clings(sample: dict[str, Any]) -> None:
    """What runs off the faces waters the substrate: it is no misting (source: humidity A2: 80
    g/m²)."""
    for substrate in ("dry", "dry top", "damp"):
        data = enclosure(sample, substrate=substrate)
        data["enclosure"]["lid"]["mesh_share"] = 0.9
        made, prediction = plan_with_prediction(from_data(data))
        assert made.damp is not None and prediction.damp is not None
        if made.damp.timetable is not None:
            assert (
                made.damp.timetable.each_ml <= 1000 * prediction.damp.enclosure.most_film_kg + 0.5
            )


def test_by_hand_is_twice_a_day_and_a_pump_does_the_rest(sample: dict[str, Any]) -> None:
    data = enclosure(sample, species="Correlophus ciliatus", substrate="dry top")
    data["enclosure"]["lid"]["mesh_share"] = 0.3
    hand = plan(from_data(data)).damp
    assert hand is not None and hand.timetable is not None and len(hand.timetable.times) > 2
    assert hand.timetable.by_hand is not None and len(hand.timetable.by_hand.times) == 2
    assert hand.timetable.by_hand.lowest_pct <= hand.timetable.lowest_pct + 0.5
    for seen in (hand.timetable, hand.timetable.by_hand):
        assert (
            seen.dose is not None
            and seen.dose.value == pytest.approx(seen.each_ml, abs=0.5)
            and seen.dose.unit == "ml"
        )
        assert {given.name: given.value for given in seen.dose.inputs}["mistings a day"] == len(
            seen.times
        )
    assert hand.timetable.spray is None
    data["enclosure"]["wetting"] |= {"nozzles_ml_s": 4.0, "mistings": TWICE}
    made = plan(from_data(data))
    assert (
        made.damp is not None
        and made.damp.timetable is not None
        and made.damp.timetable.by_hand is None
    )
    assert [pulse.seconds for pulse in made.damp.pulses] == [15.0, 15.0]
    assert [pulse.spray.value for pulse in made.damp.pulses if pulse.spray] == [15.0, 15.0]
    assert made.damp.timetable.spray is not None and made.damp.timetable.dose is not None
    assert made.damp.timetable.spray.value == pytest.approx(made.damp.timetable.dose.value / 4.0)
    assert made.predictions["tank_week"].value == pytest.approx(1.1 * 7 * 0.12, rel=1e-6)
    assert made.predictions["water_week"].value == pytest.approx(
        7 * made.predictions["water_given"].value / 1000
    )


def test_what_dries_through_its_skin_is_said_to_be_in_a_hurry(sample: dict[str, Any]) -> None:
    data = enclosure(
        sample,
        substrate="dry",
        mistings=[{"at": f"{hour:02d}:00", "ml": 60} for hour in range(0, 24, 2)],
    )
    data["enclosure"]["lid"]["mesh_share"] = 0.5
    data["room"]["rh_pct"] = 35
    made = plan(from_data(data))
    assert made.damp is not None and made.damp.left is not None
    assert made.damp.left.low_h is not None and made.damp.left.low_h < 12
    assert "dries fast" in {note.slug for note in made.notes}
    assert (
        made.damp.left.low is not None
        and made.damp.left.low.value == made.damp.left.low_h
        and made.damp.left.low.inputs
    )


def test_moss_in_a_hide_lasts_days_in_a_closed_enclosure_and_less_in_an_airy_one(
    sample: dict[str, Any],
) -> None:
    """Thirty millilitres last weeks at one exchange an hour (source: humidity A7: 0.6 g a day from
    2 l at 25 °C and 50 %).
    """

    def lasts(**wetting: Any) -> float:
        data = enclosure(sample, **wetting)
        data["items"].append(
            {
                "id": "hide-1",
                "kind": "hide",
                "at_m": [0.4, 0.3, 0.08],
                "size_m": [0.15, 0.12, 0.08],
                "moist": True,
            }
        )
        return plan(from_data(data)).predictions["moss_days"].value

    dry, damp = lasts(substrate="dry"), lasts(substrate="damp")
    assert 3 < dry < damp


def test_a_humidistat_keeps_a_strong_fogger_within_the_range(sample: dict[str, Any]) -> None:
    """The trade's way of fogging: by the clock alone the same fogger fills the air (common practice,
    no source).
    """
    strong = {"l_per_h": 0.3, "on": "00:00", "off": "23:59"}
    by_clock = plan(from_data(enclosure(sample, fogger=strong)))
    held = plan(from_data(enclosure(sample, fogger={**strong, "humidistat_pct": 75})))
    needs = {
        name: made.need(NeedKey.HUMIDITY_DAY)
        for name, made in (("clock", by_clock), ("held", held))
    }
    assert needs["clock"].predicted.value > 90
    assert needs["held"].predicted.value == pytest.approx(75, abs=1.5)
    inputs = {given.name: given.value for given in needs["held"].predicted.inputs}
    assert inputs["its humidistat, off at"] == 75


def test_panes_that_a_cold_room_fogs_are_no_fault_of_the_air(sample: dict[str, Any]) -> None:
    """At what it needs the air of the tropics fogs glass in a cold room: that is said, not blamed."""
    data = enclosure(
        sample,
        species="Dendrobates tinctorius",
        substrate="wet",
        fogger={"l_per_h": 0.2, "humidistat_pct": 88, "on": "00:00", "off": "23:59"},
    )
    emitter = {"id": "heat", "kind": "ceramic_emitter", "at_m": [0.3, 0.2, 0.5], "power_w": 60}
    warm = {**data, "room": {**data["room"], "day_c": 24, "night_c": 22}}
    cold = {
        **data,
        "room": {**data["room"], "day_c": 16, "night_c": 13},
        "items": [*data["items"], emitter],
    }
    assert not {"wet panes", "never dry air"} & noted(warm)
    assert "wet panes" in noted(cold) and "never dry air" not in noted(cold)
