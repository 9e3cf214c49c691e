"""What is due in an enclosure on a day (paces are common practice, no source, unless said
otherwise).
"""

import datetime as dt
import itertools
import json
from collections.abc import Mapping
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from husbandry.documents.request_json import from_data, from_text
from husbandry.feeding.upcoming_meals import GivenMeal
from husbandry.species.needs import NeedKey
from husbandry.tasks.due import _after, ahead, due_today
from husbandry.tasks.routines import Routines, routines
from husbandry.tasks.task import NOTHING, Done, Task
from tests.husbandry.conftest import SAMPLE

TODAY = dt.date(2026, 6, 14)


def back(days: int) -> dt.date:
    return TODAY - dt.timedelta(days=days)


def of(sample: dict[str, Any], **more: Any) -> Routines:
    data = json.loads(json.dumps(sample)) | more
    return routines(from_data(data))


def stems(found: tuple[Task, ...]) -> list[str]:
    return [task.stem for task in found]


def done(**more: Any) -> Done:
    return NOTHING._replace(**{"since": back(400), **more})


def all_read(of_: Routines) -> Mapping[NeedKey, dt.date]:
    return {one.need: TODAY for one in of_.reads}


def test_everything_that_was_never_done_is_due_once(sample: dict[str, Any]) -> None:
    found = due_today(of(sample), done(), TODAY)
    assert len(set(stems(found))) == len(found)
    assert {"look", "water", "clean", "deep clean", "weigh", "read"} <= set(stems(found))
    assert stems(found)[0] == "look"  # alive and well comes first


def test_what_was_done_today_is_not_due(sample: dict[str, Any]) -> None:
    first = of(sample)
    last = {(None, stem): TODAY for stem in ("look", "water", "clean", "deep clean")}
    found = due_today(
        first,
        done(
            last=last,
            weighed={0: TODAY},
            read=all_read(first),
            fed={0: [GivenMeal(TODAY, "bowl")]},
        ),
        TODAY,
    )
    assert {"look", "water", "clean", "deep clean", "weigh", "read", "feed bowl"}.isdisjoint(
        stems(found)
    )


def test_a_routine_stays_due_from_its_own_day_on(sample: dict[str, Any]) -> None:
    found = due_today(of(sample), done(last={(None, "clean"): back(20)}), TODAY)
    clean = next(task for task in found if task.stem == "clean")
    assert clean.due == back(13)


def test_feeding_says_what_how_much_and_with_what(sample: dict[str, Any]) -> None:
    found = due_today(of(sample), done(fed={0: [GivenMeal(back(4), "bowl", ("calcium",))]}), TODAY)
    feed = next(task for task in found if task.kind == "feed")
    assert feed.meal is not None and feed.meal.slug == "bowl" and feed.amount and feed.amount > 5
    assert [helping.food for helping in feed.meal.helpings] == ["insects", "greens", "fruit"]
    assert "multivitamin" in feed.products  # the fortnight's: none was ever logged


def test_feeders_are_fed_the_day_before(sample: dict[str, Any]) -> None:
    """Twenty-four hours before (the job, 9)."""
    pace = of(sample).animals[0].meals[0].every_days
    eve = back(round(pace) - 1)
    assert "gutload" in stems(
        due_today(of(sample), done(fed={0: [GivenMeal(eve, "bowl")]}), TODAY)
    )
    assert "gutload" not in stems(
        due_today(of(sample), done(fed={0: [GivenMeal(TODAY, "bowl")]}), TODAY)
    )
    fed = {0: [GivenMeal(eve, "bowl")]}
    assert "gutload" not in stems(
        due_today(of(sample), done(fed=fed, last={(0, "gutload"): TODAY}), TODAY)
    )


def test_a_quiet_week_has_food_and_water_but_neither_scale_nor_bath(
    sample: dict[str, Any],
) -> None:
    tortoise = of(sample, animals=[{"species": "Testudo hermanni", "mass_g": 20}])
    settled = stems(due_today(tortoise, done(), TODAY))
    quiet = due_today(tortoise, done(moved_in={0: back(3)}), TODAY)
    assert {"soak", "weigh"} <= set(settled) and {"soak", "weigh"}.isdisjoint(stems(quiet))
    assert all(task.quiet for task in quiet if task.kind == "feed") and "water" in stems(quiet)


def test_hatchling_tortoises_are_soaked_thrice_a_week_at_the_least(sample: dict[str, Any]) -> None:
    """Check value: 20 to 30 minutes, three times a week or daily."""
    soak = of(sample, animals=[{"species": "Testudo hermanni", "mass_g": 20}]).animals[0].soak
    assert soak is not None and soak.every_days <= 7 / 3 + 1e-9 and 10 <= soak.minutes[0] <= 30
    assert "shell" in soak.look
    assert of(sample).animals[0].soak is None


def test_droppings_of_an_arrival_are_screened_once(sample: dict[str, Any]) -> None:
    assert "screen" not in stems(due_today(of(sample), done(moved_in={0: back(5)}), TODAY))
    assert "screen" in stems(due_today(of(sample), done(moved_in={0: back(20)}), TODAY))
    assert "screen" not in stems(
        due_today(of(sample), done(moved_in={0: back(20)}, last={(0, "screen"): back(3)}), TODAY)
    )
    assert "screen" not in stems(due_today(of(sample), done(moved_in={0: back(400)}), TODAY))


def test_mistings_by_hand_have_their_times_and_a_pump_mists_alone(sample: dict[str, Any]) -> None:
    wetting = {
        "substrate": "damp",
        "mistings": [{"at": "19:00", "ml": 40}, {"at": "08:00", "ml": 60}],
    }
    by_hand = of(sample, enclosure={**sample["enclosure"], "wetting": wetting})
    found = [
        task
        for task in due_today(by_hand, done(last={(None, "mist 08:00"): TODAY}), TODAY)
        if task.kind == "mist"
    ]
    assert [(task.at, task.amount) for task in found] == [("19:00", 40)]
    pump = of(
        sample, enclosure={**sample["enclosure"], "wetting": {**wetting, "nozzles_ml_s": 1.5}}
    )
    assert not [task for task in due_today(pump, done(), TODAY) if task.kind == "mist"]


def test_readings_grow_old_by_their_own_days(sample: dict[str, Any]) -> None:
    """Air fourteen days, humidity three, ultraviolet sixty (decisions 4)."""
    first = of(sample)
    read = {one.need: back(10) for one in first.reads}
    found = next(task for task in due_today(first, done(read=read), TODAY) if task.kind == "read")
    assert set(found.needs) <= {
        NeedKey.HUMIDITY_DAY,
        NeedKey.HUMIDITY_NIGHT,
    } and found.due == back(7)
    assert "read" not in stems(due_today(first, done(read=all_read(first)), TODAY))


def test_a_lamp_is_asked_about_before_its_end_and_once(sample: dict[str, Any]) -> None:
    data = json.loads(json.dumps(sample))
    tube = next(item for item in data["items"] if item["kind"].startswith("t5"))
    tube["hours_run"] = 10_000
    old = routines(from_data(data))
    ask = done(lamps_on=back(100))
    assert f"lamp {tube['id']}" in stems(due_today(old, ask, TODAY))
    assert f"lamp {tube['id']}" not in stems(
        due_today(old, ask._replace(last={(None, f"lamp {tube['id']}"): back(50)}), TODAY)
    )
    tube["hours_run"] = 10
    assert f"lamp {tube['id']}" not in stems(due_today(routines(from_data(data)), ask, TODAY))


def test_a_scale_is_fit_for_a_hundredth_of_its_animal(sample: dict[str, Any]) -> None:
    """One gram steps show on an eight gram frog only a tenth: it needs 0.1 g (source: feeding C7)."""
    frog = of(sample, animals=[{"species": "Dryophytes cinereus", "mass_g": 8}]).animals[0]
    assert frog.steps_g == pytest.approx(0.08)


def test_an_enclosure_comes_back_from_json_as_it_went(sample: dict[str, Any]) -> None:
    first = of(sample)
    assert Routines.model_validate_json(first.model_dump_json()) == first


KNOWN = routines(from_text(SAMPLE.read_text(encoding="utf-8")))


@given(st.integers(0, 60), st.integers(0, 60))
def test_doing_it_later_never_makes_it_due_earlier(one: int, other: int) -> None:
    first, later = sorted((one, other))
    early = stems(due_today(KNOWN, done(last={(None, "clean"): back(later)}), TODAY))
    late = stems(due_today(KNOWN, done(last={(None, "clean"): back(first)}), TODAY))
    assert "clean" not in late or "clean" in early


def test_a_meal_that_was_only_told_of_counts(sample: dict[str, Any]) -> None:
    """What was said when the animal came, before anything was logged: fed yesterday is not fed
    today.
    """
    animal = {**sample["animals"][0], "fed_on": "2026-06-13"}
    fed = stems(due_today(of(sample, animals=[animal]), done(), TODAY))
    assert "feed bowl" not in fed
    never = {key: value for key, value in animal.items() if key != "fed_on"}
    assert "feed bowl" in stems(due_today(of(sample, animals=[never]), done(), TODAY))


def test_supplements_stand_on_a_day_that_stays(sample: dict[str, Any]) -> None:
    """Nobody said when it was fed first: the fortnight of its vitamins counts from its coming, not
    from each day anew.
    """
    animal = {key: value for key, value in sample["animals"][0].items() if key != "fed_on"}
    log: list[GivenMeal] = []
    known = of(sample, animals=[animal])
    for n in range(60):
        day = TODAY + dt.timedelta(days=n)
        for task in due_today(known, done(since=TODAY, fed={0: log}), day):
            if task.kind == "feed":
                log.append(GivenMeal(day, "bowl", task.products))
    vitamins = [one.on for one in log if "multivitamin" in one.products]
    apart = {(b - a).days for a, b in itertools.pairwise(vitamins)}
    assert len(vitamins) >= 4 and apart <= set(range(10, 19))


def test_what_is_done_on_its_day_comes_again_at_its_own_pace(sample: dict[str, Any]) -> None:
    """Looking ahead, each kind of task remembers what it logs: a meal is a meal, a weight a weight."""
    first = of(sample)
    days = ahead(first, done(), TODAY, 60)
    by_kind = {
        kind: [n for n, tasks in enumerate(days) if any(task.kind == kind for task in tasks)]
        for kind in ("feed", "weigh", "read")
    }
    apart = {kind: {b - a for a, b in itertools.pairwise(when)} for kind, when in by_kind.items()}
    (animal,) = first.animals
    assert apart["feed"] == {animal.meals[0].every_days}
    assert by_kind["weigh"][0] == 0 and apart["weigh"] == {animal.weigh_days}
    assert len(by_kind["read"]) < 40  # not each day again


def test_a_meal_ahead_is_of_its_own_animal_and_carries_its_products(
    sample: dict[str, Any],
) -> None:
    """Each supplement has its own days: what is given is remembered with the meal."""
    first = of(sample)
    (animal,) = first.animals
    days = ahead(first, done(), TODAY, 60)
    given = [
        (n, task.products) for n, tasks in enumerate(days) for task in tasks if task.kind == "feed"
    ]
    multivitamin = [n for n, products in given if "multivitamin" in products]
    (rule,) = [rule for rule in animal.rules if rule.product == "multivitamin"]
    assert multivitamin
    assert all(b - a >= rule.period_days - 3 for a, b in itertools.pairwise(multivitamin))
    assert _after(done(), days[1], TODAY).fed == {0: [GivenMeal(TODAY, "bowl", dict(given)[1])]}
    assert _after(done(), days[0], TODAY).weighed == {0: TODAY}
    assert _after(done(), days[0], TODAY).fed == {}


def test_other_routines_take_over_on_their_day_and_not_before(sample: dict[str, Any]) -> None:
    """Of an animal that has grown: from that day on it is fed at the pace of its new stage."""
    young, grown = of(sample), of(sample)
    (animal,) = grown.animals
    (meal,) = animal.meals
    slower = meal.model_copy(update={"every_days": 9.0})
    grown = grown.model_copy(update={"animals": (animal.model_copy(update={"meals": (slower,)}),)})
    days = ahead(young, done(), TODAY, 60, [(20, grown), (40, young)])
    fed = [n for n, tasks in enumerate(days) if any(task.kind == "feed" for task in tasks)]
    apart = {n: b - n for n, b in itertools.pairwise(fed)}
    assert {gap for n, gap in apart.items() if n + gap < 20} == {meal.every_days}
    assert {gap for n, gap in apart.items() if n >= 20 and n + gap < 40} == {9}
    assert {gap for n, gap in apart.items() if n >= 43} == {meal.every_days}
