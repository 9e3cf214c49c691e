"""Practice: cases are stable, fair, and told apart from guesses; instruments have their traps.

What instruments show when they are used wrong is common practice, no source.
"""

import datetime as dt
import hashlib

import pytest

from husbandry.practice.base_setups import base_setups
from husbandry.practice.care_truth import CARE, feeding_words, length_needed_m, signs
from husbandry.practice.cases import BUDGET_MIN, LEVELS, Level, PracticeCase
from husbandry.practice.fairness import fair_case
from husbandry.practice.fault_strengths import found_strength
from husbandry.practice.faults import BREAKS, NOTHING, causes
from husbandry.practice.judging import judge
from husbandry.practice.lessons import daily, lessons
from husbandry.practice.measuring import PLACES, measure, minutes_of
from husbandry.practice.solver import guessed, solved
from husbandry.practice.telling import told
from husbandry.practice.true_state import TrueState, is_right
from husbandry.predict.predict import EnclosurePoint
from husbandry.species.needs import NeedKey

NUMBERS = range(8)
ALL: list[tuple[int, Level]] = [(number, level) for level in LEVELS for number in NUMBERS]


def test_the_enclosures_that_cases_are_made_from_are_right_in_their_truths() -> None:
    assert len(base_setups()) >= 8
    for base in base_setups():
        assert is_right(TrueState(base.request, base.truth_seeds[0])), base.species


@pytest.mark.parametrize("n", range(0, 8, 3))
def test_shipped_strengths_of_faults_are_what_the_model_finds(n: int) -> None:
    """Where this fails the model has changed: `python -m husbandry.practice.fault_strengths`."""
    base = base_setups()[n]
    assert set(base.strengths) == set(BREAKS)
    for cause, found in base.strengths.items():
        assert found[0] == found_strength(base, base.truth_seeds[0], cause), cause


@pytest.mark.parametrize(("number", "level"), ALL)
def test_each_case_is_solved_by_its_instruments_within_its_budget(
    number: int, level: Level
) -> None:
    case = fair_case(number, level)
    done, believed, remedy = solved(case)
    assert sum(one.minutes for one in done) <= BUDGET_MIN
    result = judge(case, done, believed, remedy)
    assert result.found == tuple(slug for slug in causes() if slug in case.causes)
    assert result.score >= 90
    assert not result.missed
    assert not result.believed


def test_who_guesses_scores_far_below_who_measures() -> None:
    guesses = []
    for number, level in ALL:
        case = fair_case(number, level)
        believed, remedy = guessed(case, 1)
        guesses.append(judge(case, (), believed, remedy).score)
    assert sum(guesses) / len(guesses) < 30


def test_a_number_gives_the_same_case_for_ever() -> None:
    """Raise `CASES_VERSION` when this changes: links and records name cases by number."""
    assert digest_of([one for one in ALL if one[1] < 6]) == STABLE
    assert digest_of([one for one in ALL if one[1] == 6]) == STABLE_CARE


STABLE = "bc79d6722093fdd0"
STABLE_CARE = "f23e945e15764a3f"


def digest_of(numbers: list[tuple[int, Level]]) -> str:
    """What tells cases from others."""
    lines = []
    for number, level in numbers:
        case = fair_case(number, level)
        lines.append(f"{case.key} {case.base.species} {case.causes} {case.strength}")
    return hashlib.sha256("\n".join(lines).encode()).hexdigest()[:16]


def a_case(cause: str, level: Level, only: tuple[str, ...] = ()) -> PracticeCase:
    """The first case with a cause."""
    found = (fair_case(number, level, only) for number in range(100, 160))
    return next(case for case in found if cause in case.causes)


def test_infrared_through_glass_shows_the_glass() -> None:
    case = a_case("heat_low", 1)
    right = measure(case, (), "infrared", "basking", "six_hours").value
    glass = measure(case, (), "infrared", "basking", "six_hours", careless=True).value
    room = case.true.request.room.day_c
    assert abs(glass - room) < 0.4 * abs(right - room)


def test_a_bare_probe_in_the_beam_reads_too_high() -> None:
    case = a_case("heat_low", 1)
    shaded = measure(case, (), "probe", "warm", "six_hours").value
    assert measure(case, (), "probe", "warm", "six_hours", careless=True).value > shaded + 5


def test_a_warm_hygrometer_shows_too_little() -> None:
    case = fair_case(1, 2)
    shade = measure(case, (), "hygrometer", "cool", "six_hours").value
    assert measure(case, (), "hygrometer", "cool", "six_hours", careless=True).value < 0.85 * shade


def test_a_tilted_uv_meter_shows_less() -> None:
    case = a_case("uv_near", 1, ("uv_near",))
    level = measure(case, (), "uv", "basking", "six_hours").value
    tilted = measure(case, (), "uv", "basking", "six_hours", careless=True).value
    assert tilted == pytest.approx(0.55 * level, abs=0.1)


def test_what_is_read_too_early_is_too_cold() -> None:
    case = a_case("heat_low", 1)
    early = measure(case, (), "infrared", "basking", "half_hour").value
    assert early < measure(case, (), "infrared", "basking", "six_hours").value - 3


def test_by_night_and_in_the_room_a_uv_meter_shows_nothing() -> None:
    case = fair_case(1, 1)
    with pytest.raises(ValueError, match="lit lamp"):
        measure(case, (), "uv", "basking", "night")
    with pytest.raises(ValueError, match="lit lamp"):
        measure(case, (), "uv", "room", "six_hours")


def test_waiting_for_an_hour_is_paid_once() -> None:
    case = fair_case(1, 1)
    first = measure(case, (), "probe", "warm", "night")
    assert first.minutes == 35
    assert minutes_of((first,), "probe", "night") == 15


def test_two_thermometers_side_by_side_tell_which_is_wrong() -> None:
    case = a_case("thermometer_wrong", 2)
    shown = measure(case, (), "keeper_thermometer", "warm", "six_hours").value
    assert shown == pytest.approx(case.thermometer_k, abs=1.5)


def test_what_the_keeper_says_follows_from_the_truth() -> None:
    cold = told(a_case("night_cold", 4))
    assert any("morning" in words for words in cold.words)
    assert cold.weights_g[-1] < cold.weights_g[0]
    content = told(a_case(NOTHING, 5))
    assert abs(content.weights_g[-1] / content.weights_g[0] - 1) < 0.03


def test_the_right_remedy_puts_right_what_it_is_for() -> None:
    case = a_case("uv_old", 4)
    result = judge(case, (), case.causes, "uv_old")
    uvi = next(need for need in result.needs if need.key is NeedKey.UVI_DAY)
    assert uvi.off_before < 0
    assert uvi.off_after == 0
    assert result.harm == ""


def test_a_wrong_belief_costs_and_harm_is_told_soberly() -> None:
    case = a_case("night_cold", 4)
    result = judge(case, (), ("heat_high",), "heat_high")
    assert result.score == 0
    assert result.missed == ("night_cold",)
    assert result.believed == ("heat_high",)
    assert result.harm.startswith("Left so, it gets")


def test_changing_nothing_is_right_where_nothing_is_wrong() -> None:
    case = a_case(NOTHING, 5)
    done, believed, remedy = solved(case)
    assert (believed, remedy) == ((NOTHING,), NOTHING)
    assert judge(case, done, believed, remedy).score == 100


@pytest.mark.parametrize("slug", lessons())
def test_each_lesson_has_cases_that_are_fair(slug: str) -> None:
    lesson = lessons()[slug]
    assert len(lesson.numbers) == 3
    for number in lesson.numbers:
        fair_case(number, lesson.level, lesson.only)


def test_every_day_has_a_case_of_its_own() -> None:
    day = dt.date(2026, 11, 30)
    found = [daily(day + dt.timedelta(days=n)) for n in range(30)]
    assert len({number for number, _ in found}) == 30
    assert fair_case(*found[0]).key == fair_case(*daily(day)).key


def test_every_place_lies_inside_its_enclosure() -> None:
    case = fair_case(1, 1)
    assert set(PLACES) == {"basking", "lifted", "warm", "cool", "room"}
    assert isinstance(case.true.believed.basking, EnclosurePoint)


def test_a_mesh_is_told_from_age_by_taking_it_away() -> None:
    mesh = a_case("uv_mesh", 4, ("uv_mesh", "uv_old"))
    old = a_case("uv_old", 4, ("uv_mesh", "uv_old"))
    for case, more in ((mesh, True), (old, False)):
        through = measure(case, (), "uv", "basking", "six_hours").value
        lifted = measure(case, (), "uv", "lifted", "six_hours").value
        assert (lifted > 1.6 * through) is more


def test_a_stuck_thermostat_shows_more_than_it_is_set_to() -> None:
    stuck = a_case("stuck_on", 1, ("stuck_on", "night_cold"))
    cold = a_case("night_cold", 1, ("stuck_on", "night_cold"))
    assert "hot all the same" in measure(stuck, (), "thermostat", "warm", "night").words
    assert "all the same" not in measure(cold, (), "thermostat", "warm", "night").words
    after = judge(stuck, (), ("stuck_on",), "stuck_on").needs
    assert any(need.off_before for need in after)
    assert not any(need.off_after for need in after)


@pytest.mark.parametrize("cause", CARE)
def test_what_no_thermometer_shows_is_seen_by_a_look(cause: str) -> None:
    case = a_case(cause, 6, (cause,))
    assert not case.misses, "heat, light and moisture are right"
    assert told(case).words[0] == signs()[cause].says
    done, believed, remedy = solved(case)
    assert believed == (cause,)
    looked = judge(case, done, believed, remedy)
    assert looked.score == 100
    assert not looked.harm
    assert judge(case, done, believed, "heat_low").harm


def test_who_is_asked_says_what_should_be() -> None:
    fed = a_case("wrong_food", 6, ("wrong_food",))
    asked = measure(fed, (), "feeding_book", "room", "six_hours", careless=True).words
    read = measure(fed, (), "feeding_book", "room", "six_hours").words
    assert asked.lower().rstrip(".") == feeding_words(fed.base).lower()
    assert read != asked


def test_an_animal_that_is_fed_too_much_gains() -> None:
    weights = told(a_case("fed_too_much", 6, ("fed_too_much",))).weights_g
    assert weights[-1] > 1.05 * weights[0]


def test_a_tape_shows_an_enclosure_that_is_too_small() -> None:
    small = a_case("too_small", 6, ("too_small",))
    assert measure(small, (), "tape", "warm", "six_hours").value < 0.9 * length_needed_m(
        small.base
    )
    right = a_case("company", 6, ("company",))
    assert measure(right, (), "tape", "warm", "six_hours").value >= 0.9 * length_needed_m(
        right.base
    )


def test_a_look_at_the_book_waits_for_no_hour() -> None:
    case = a_case("wrong_food", 6, ("wrong_food",))
    assert minutes_of((), "feeding_book", "night") == 3
    book = measure(case, (), "feeding_book", "room", "night")
    assert book.minutes == 3
    assert minutes_of((book,), "probe", "night") == minutes_of((), "probe", "night")


def test_a_right_enclosure_is_never_shorter_than_what_is_asked() -> None:
    for base in base_setups():
        needed_m = length_needed_m(base)
        assert base.request.enclosure.inside_m.length >= needed_m
        assert base.small is not None
        assert base.small.request.enclosure.inside_m.length < 0.9 * needed_m
