"""A keeper's own paces and tasks, and the small checks by event (paces are common practice, no
source).
"""

import datetime as dt
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from husbandry.feeding.upcoming_meals import GivenMeal
from husbandry.tasks.due import ahead, due_today
from husbandry.tasks.kinds import TASK_KINDS
from husbandry.tasks.routines import Routines
from husbandry.tasks.schedules import PACED, OwnPace, OwnTask, kind_of, usual_paces
from husbandry.tasks.task import Task
from tests.husbandry.tasks.test_due import TODAY, back, done, of, stems

MONDAY_THURSDAY = OwnPace(None, frozenset({0, 3}))


def due(routines: Routines, stem: str, **more: Any) -> Task | None:
    found = due_today(routines, done(**more), TODAY)
    return next((task for task in found if task.stem == stem), None)


def test_weekdays_are_kept_whatever_was_done_between() -> None:
    """14 June 2026 is a Sunday: the Thursday before it is the 11th, the Monday after it the 15th."""
    assert MONDAY_THURSDAY.next_after(dt.date(2026, 6, 10)) == dt.date(2026, 6, 11)
    assert MONDAY_THURSDAY.next_after(dt.date(2026, 6, 11)) == dt.date(2026, 6, 15)
    assert MONDAY_THURSDAY.mean_days == 3.5


@given(st.dates(dt.date(2020, 1, 1), dt.date(2030, 1, 1)), st.sets(st.integers(0, 6), min_size=1))
def test_the_next_of_chosen_weekdays_is_within_a_week(last: dt.date, weekdays: set[int]) -> None:
    found = OwnPace(None, frozenset(weekdays)).next_after(last)
    assert found.weekday() in weekdays and 1 <= (found - last).days <= 7


def test_an_own_pace_takes_the_place_of_the_usual_one(sample: dict[str, Any]) -> None:
    first = of(sample)
    last = {(None, "clean"): back(10)}
    assert due(first, "clean", last=last) is not None, "usual: every week"
    own = {(None, "clean"): OwnPace(14)}
    assert due(first, "clean", last=last, own=own) is None
    late = due(first, "clean", last={(None, "clean"): back(20)}, own=own)
    assert late is not None and late.due == back(6) and late.every_days == 14


def test_soaks_on_chosen_weekdays_are_due_on_them_alone(sample: dict[str, Any]) -> None:
    tortoise = of(sample, animals=[{"species": "Testudo hermanni", "mass_g": 20}])
    own = {(0, "soak"): MONDAY_THURSDAY}
    days = ahead(tortoise, done(last={(0, "soak"): back(3)}, own=own), TODAY, 14)
    soaked = [
        (TODAY + dt.timedelta(days=n)).weekday()
        for n, tasks in enumerate(days)
        if "soak" in stems(tasks)
    ]
    assert soaked == [0, 3, 0, 3]


def test_the_scale_follows_its_own_pace(sample: dict[str, Any]) -> None:
    first = of(sample)
    weighed = {0: back(40)}
    assert due(first, "weigh", weighed=weighed) is not None
    assert due(first, "weigh", weighed=weighed, own={(0, "weigh"): OwnPace(60)}) is None


def test_a_lamp_is_asked_about_by_the_keepers_own_interval(sample: dict[str, Any]) -> None:
    """Compact lamps every six months, T5 tubes every year: followed by the calendar."""
    data = dict(sample)
    data["items"] = [
        item | {"hours_run": 1200, "on": "08:00", "off": "20:00"}
        if item["kind"] == "t5_12"
        else item
        for item in sample["items"]
    ]
    first = of(data)
    stem = f"lamp {first.lamps[0].item_id}"
    assert first.lamps[0].burned_days == pytest.approx(100)
    shown = done(lamps_on=back(70))
    assert all(task.stem != stem for task in due_today(first, shown, TODAY))
    own = shown._replace(own={(None, "lamp"): OwnPace(182)})
    assert any(task.stem == stem for task in due_today(first, own, TODAY)), "100 + 70 + 14 > 182"


def test_a_task_of_ones_own_comes_round(sample: dict[str, Any]) -> None:
    trap = OwnTask("7", "Empty the ant trap", OwnPace(10), back(2))
    found = due(of(sample), "own 7", own_tasks=[trap])
    assert found is not None and found.due == back(2) and found.title == "Empty the ant trap"
    assert due(of(sample), "own 7", own_tasks=[trap], last={(None, "own 7"): back(3)}) is None
    later = trap._replace(begins=TODAY + dt.timedelta(days=1))
    assert due(of(sample), "own 7", own_tasks=[later]) is None


def test_every_pace_that_may_be_set_is_of_a_kind_that_has_words(sample: dict[str, Any]) -> None:
    data = dict(sample) | {"animals": [{"species": "Testudo hermanni", "mass_g": 500}]}
    found = usual_paces(of(data))
    assert {"clean", "soak", "weigh", "nails"} <= {one.kind for one in found} <= PACED
    assert not {"look", "feed", "treatment"} & PACED and set(TASK_KINDS) >= PACED
    for one in found:
        assert one.every_days > 0 and (TASK_KINDS[one.kind].title or TASK_KINDS[one.kind].short)
        assert kind_of(one.kind) == one.kind
    assert kind_of("pool pool-1") == "pool" and kind_of("deep clean") == "deep clean"


def test_toes_are_looked_at_once_after_each_shed(sample: dict[str, Any]) -> None:
    first = of(sample)
    assert due(first, "toes") is None
    found = due(first, "toes", shed_over={0: back(1)})
    assert found is not None and found.due == back(1)
    assert due(first, "toes", shed_over={0: back(1)}, last={(0, "toes"): TODAY}) is None
    assert due(first, "toes", shed_over={0: back(1)}, last={(0, "toes"): back(30)}) is not None


def test_what_sheds_unseen_is_not_asked_about(sample: dict[str, Any]) -> None:
    frog = of(sample, animals=[{"species": "Ranoidea caerulea"}])
    assert due(frog, "toes", shed_over={0: back(1)}) is None
    assert due(frog, "nails") is None


def test_an_egg_that_was_refused_is_taken_out_in_time(sample: dict[str, Any]) -> None:
    snake = of(sample, animals=[{"species": "Dasypeltis scabra", "mass_g": 100}])
    slug = snake.animals[0].meals[0].slug
    refused = {0: [GivenMeal(back(3), slug, (), eaten=False)]}
    assert due(snake, "leftovers", fed=refused) is not None
    assert due(snake, "leftovers", fed={0: [GivenMeal(back(2), slug, (), eaten=False)]}) is None
    assert due(snake, "leftovers", fed={0: [GivenMeal(back(3), slug)]}) is None
    assert due(snake, "leftovers", fed=refused, last={(0, "leftovers"): back(1)}) is None


def test_a_quarantine_is_disinfected_weekly_in_place_of_the_deep_clean(
    sample: dict[str, Any],
) -> None:
    new = of(sample, animals=[{**sample["animals"][0], "came_on": "2026-06-01"}])
    found = stems(due_today(new, done(), TODAY))
    assert "disinfect" in found and "deep clean" not in found
    settled = stems(due_today(of(sample), done(), TODAY))
    assert "deep clean" in settled and "disinfect" not in settled


def test_a_dripper_is_filled_daily_and_a_dig_box_dampened_weekly(sample: dict[str, Any]) -> None:
    dripper = {"id": "d-1", "kind": "dripper", "at_m": [0.5, 0.3, 0.5], "l_per_h": 0.1}
    box = {"id": "b-9", "kind": "dig_box", "at_m": [1.1, 0.3, 0], "size_m": [0.3, 0.2, 0.2]}
    more = [dripper | {"on": "09:00", "off": "11:00"}, box | {"filled_m": 0.15}]
    first = of(sample, items=[*sample["items"], *more])
    last = {(None, "dripper"): back(1), (None, "dig box"): back(6)}
    found = stems(due_today(first, done(last=last), TODAY))
    assert "dripper" in found and "dig box" not in found


def test_a_weekly_misting_comes_once_a_week_and_wets_by_its_share(sample: dict[str, Any]) -> None:
    data = dict(sample)
    mist = {"substrate": "dry", "mistings": [{"at": "20:00", "ml": 70}], "mist_days": 7}
    data["enclosure"] = sample["enclosure"] | {"wetting": mist}
    found = due_today(of(data), done(last={(None, "mist 20:00"): back(6)}), TODAY)
    assert "mist 20:00" not in stems(found)
    found = due_today(of(data), done(last={(None, "mist 20:00"): back(7)}), TODAY)
    assert "mist 20:00" in stems(found)
