"""Ultraviolet in sessions or all day: judged while it falls, and for as long as the approach has it."""

import json
from dataclasses import replace
from typing import Any

import pytest

from husbandry.documents.request_json import apply_patch, from_data
from husbandry.documents.result import Plan
from husbandry.findings.uv_hours import FLOOD, uv_hours_notes
from husbandry.plan.plan import plan, prediction_of
from husbandry.predict.exposure import DAY_HOUR, exposure_hour, uv_day
from husbandry.predict.need_states import look
from husbandry.setups.closure import RoomCase, data_of
from husbandry.setups.starter import start
from husbandry.species.library import find, library
from husbandry.species.needs import NeedKey
from husbandry.targets.uv_sessions import UvTimes, session_h, uv_times

SESSIONS = {"on": "09:00", "off": "09:30", "also_on": ["18:00-18:30"]}
OURS = ("uv hours short", "uv session long", "uv session short")


def kept(sample: dict[str, Any], approach: str = "day", **times: Any) -> dict[str, Any]:
    """The documented sample with its tube on at those times."""
    data: dict[str, Any] = json.loads(json.dumps(sample))
    tube = next(item for item in data["items"] if item["kind"].startswith("t5"))
    tube |= times
    for animal in data["animals"]:
        animal["approaches"] = {**animal.get("approaches", {}), "uv-hours": approach}
    return data


def index_of(made: Plan) -> float:
    return next(need for need in made.needs if need.key == NeedKey.UVI_DAY).predicted.value  # type: ignore[union-attr]


def said(made: Plan) -> set[str]:
    return {note.slug for note in made.notes} & set(OURS)


def test_a_half_hour_window_has_the_index_of_a_whole_day(sample: dict[str, Any]) -> None:
    """It was 0.0: the index was asked at midday, whatever the timer said."""
    day = plan(from_data(kept(sample)))
    sessions = plan(from_data(kept(sample, **SESSIONS)))
    assert index_of(sessions) == pytest.approx(index_of(day)) and index_of(day) > 0.5


def test_a_day_is_judged_at_midday_and_sessions_in_a_session(sample: dict[str, Any]) -> None:
    assert exposure_hour(from_data(kept(sample))) == DAY_HOUR
    assert 9 <= exposure_hour(from_data(kept(sample, **SESSIONS))) < 9.5


def test_the_dose_of_sessions_is_that_of_their_hours(sample: dict[str, Any]) -> None:
    """UV index times hours, by hand; 0.9 of a standard erythema dose each (ISO/CIE 17166:2019)."""
    made = plan(from_data(kept(sample, **SESSIONS)))
    assert made.predictions["uv_dose"].value == pytest.approx(index_of(made) * 1.0, rel=1e-6)
    whole = plan(from_data(kept(sample)))
    hours = next(item for item in from_data(kept(sample)).items if item.is_tube).hours_a_day
    assert whole.predictions["uv_dose"].value == pytest.approx(index_of(whole) * hours, rel=1e-6)


@pytest.mark.parametrize(
    ("approach", "times", "slug"),
    [
        ("day", {}, ""),
        ("day", {"on": "10:00", "off": "15:00"}, ""),
        ("day", {"on": "10:00", "off": "14:00"}, ""),
        ("day", {"on": "10:00", "off": "13:50"}, "uv hours short"),
        ("day", SESSIONS, "uv hours short"),
        ("sessions", SESSIONS, ""),
        ("sessions", {"on": "08:00", "off": "09:00", "also_on": ["17:00-18:00"]}, ""),
        ("sessions", {}, "uv session long"),
        ("sessions", {"on": "09:00", "off": "09:20"}, "uv session short"),
    ],
)
def test_its_hours_are_judged_by_the_approach(
    sample: dict[str, Any], approach: str, times: dict[str, Any], slug: str
) -> None:
    """Two sessions of twenty minutes to an hour; a day of at least four hours (common practice)."""
    assert said(plan(from_data(kept(sample, approach, **times)))) == ({slug} - {""})


@pytest.mark.parametrize(
    ("approach", "times"), [("day", SESSIONS), ("sessions", {"on": "08:00", "off": "20:00"})]
)
def test_one_change_sets_the_timer_and_the_finding_is_gone(
    sample: dict[str, Any], approach: str, times: dict[str, Any]
) -> None:
    data = kept(sample, approach, **times)
    lamp = next(item for item in data["items"] if item["kind"] == "halogen_flood")
    # a tube warms as well: what it gave its thermostat makes up for
    lamp["thermostat"] = {"set_c": 40.0, "probe": "surface"}
    lamp["power_w"] = 150
    request = from_data(data)
    change = next(one for one in plan(request).changes if one.kind == "uv_times")
    after = plan(apply_patch(request, change.patch))
    assert not said(after)
    assert index_of(after) == pytest.approx(index_of(plan(request)))


@pytest.mark.parametrize(
    ("low", "high", "within_h"),
    [(2.0, 3.0, 1.0), (3.0, 4.0, 1.0), (3.0, 3.0, 1.0), (3.1, 4.0, 0.0), (2.0, 2.9, 0.0)],
)
def test_hours_in_range_are_those_between_its_ends(
    sample: dict[str, Any], low: float, high: float, within_h: float
) -> None:
    """Half an hour twice a day at an index of three, by hand."""
    day = uv_day(from_data(kept(sample, **SESSIONS)), lambda _on: 3.0, low, high)
    assert (day.lit_h, day.in_range_h, day.dose_uvi_h) == pytest.approx((1.0, within_h, 3.0))


def test_a_short_session_is_said_in_minutes(sample: dict[str, Any]) -> None:
    made = plan(from_data(kept(sample, "sessions", on="09:00", off="09:20")))
    text = next(note.text for note in made.notes if note.slug == "uv session short")
    assert "20 minutes" in text and FLOOD not in text


def test_a_lamp_that_warms_as_well_gives_no_sessions(sample: dict[str, Any]) -> None:
    """It stays on for its warmth: a tube gives the sessions (common practice, no source)."""
    data = kept(sample, "sessions")
    lamp = next(item for item in data["items"] if item["kind"] == "halogen_flood")
    lamp |= {"kind": "uv_flood", "power_w": 80}
    made = plan(from_data(data))
    (text,) = [note.text for note in made.notes if note.slug == "uv session long"]
    assert FLOOD in text


@pytest.mark.parametrize("low", [0.0, None])
def test_who_needs_no_ultraviolet_is_not_told_of_its_hours(
    sample: dict[str, Any], low: float | None
) -> None:
    request = from_data(kept(sample, **SESSIONS))
    prediction, targets = prediction_of(request), look(request).targets
    assert list(uv_hours_notes(prediction, targets))
    wanted = targets[NeedKey.UVI_DAY]
    least = None if low is None else wanted.low.model_copy(update={"value": low})  # type: ignore[union-attr]
    none = {**targets, NeedKey.UVI_DAY: replace(wanted, low=least)}
    assert not list(uv_hours_notes(prediction, none))
    assert not list(uv_hours_notes(prediction, {}))
    assert not list(uv_hours_notes(replace(prediction, uv=()), targets))


def test_times_lie_an_hour_inside_the_day(sample: dict[str, Any]) -> None:
    request = from_data(kept(sample, "sessions"))
    times = uv_times(request, ("08:00", "20:00"))
    assert times == UvTimes("09:00", "10:00", ("18:00-19:00",))
    short = uv_times(request, ("10:00", "12:00"))
    assert short.windows[0][0] == "10:00" and short.windows[-1][1] == "12:00"
    assert uv_times(from_data(kept(sample)), ("08:00", "20:00")) == UvTimes("08:00", "20:00")


def test_every_species_that_suns_itself_may_be_kept_either_way() -> None:
    asked = {name for name, profile in library().items() if "uv-hours" in profile.questions}
    assert {"Testudo hermanni", "Pogona vitticeps"} <= asked
    dusk = {name for name, profile in library().items() if "uvb-dusk" in profile.questions}
    assert not asked & dusk


@pytest.mark.parametrize(
    ("species", "answer", "hours"),
    [
        ("Testudo graeca", {"uv-hours": "sessions"}, 1.0),
        ("Lampropeltis californiae", {"uvb-dusk": "short"}, 0.5),
    ],
)
def test_a_first_setup_has_the_sessions_that_were_asked_for(
    species: str, answer: dict[str, str], hours: float
) -> None:
    profile = find(species)
    data = data_of(profile, profile.grown.slug, RoomCase(21.0, 18.0, 28.0, 50.0))
    data["animals"][0]["approaches"] = answer
    best = start(data).best
    assert best is not None and best.judged.closed and not set(OURS) & set(best.judged.cares)
    request = best.judged.request
    assert session_h(request) == hours
    lamps = [item for item in request.items if item.is_uv]
    assert lamps and all(item.hours_a_day == pytest.approx(2 * hours) for item in lamps)


def test_short_sessions_are_said_in_minutes(sample: dict[str, Any]) -> None:
    made = plan(from_data(kept(sample, "sessions", on="09:00", off="09:20")))
    note = next(note for note in made.notes if note.slug == "uv session short")
    assert "20 minutes a day" in note.text and note.values["hours"] == pytest.approx(1 / 3)


@pytest.mark.parametrize("approach", ["day", "sessions"])
def test_without_a_lamp_nothing_is_said_of_its_hours(
    sample: dict[str, Any], approach: str
) -> None:
    data = kept(sample, approach)
    data["items"] = [item for item in data["items"] if not item["kind"].startswith("t5")]
    assert not said(plan(from_data(data)))


def test_whom_one_animal_needs_it_all_day_has_no_sessions(sample: dict[str, Any]) -> None:
    data = kept(sample, "sessions")
    assert session_h(from_data(data)) == 1.0
    other = json.loads(json.dumps(data["animals"][0])) | {"name": "Other"}
    other["approaches"]["uv-hours"] = "day"
    data["animals"].append(other)
    assert session_h(from_data(data)) is None
