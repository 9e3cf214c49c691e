"""Setups of common practice are judged fit under at least one approach, without danger."""

import pytest

from husbandry.documents.request_json import from_data
from husbandry.plan.plan import plan
from tests.husbandry.setups.practice import SETUPS, PracticeSetup


def faults(setup: PracticeSetup, approaches: dict[str, str]) -> list[str]:
    """What the plan finds wrong with a setup."""
    made = plan(from_data(setup.request(approaches)))
    found = [
        f"{need.key.value} {need.verdict.direction} by {need.verdict.by:.1f}"
        for need in made.needs
        if need.verdict.direction in {"below", "above"} or need.verdict.limit == "breached"
    ]
    found += [f"{note.slug} {note.values}" for note in made.notes if note.severity == "danger"]
    return found + ([] if made.size.enough else ["too small"])


@pytest.mark.parametrize("setup", SETUPS, ids=lambda setup: setup.name)
def test_what_is_known_to_work_is_judged_fit(setup: PracticeSetup) -> None:
    by_approach = {str(chosen): faults(setup, chosen) for chosen in setup.approaches}
    assert not all(by_approach.values()), by_approach


def test_the_same_setups_spoilt_are_not_judged_fit() -> None:
    """A check that is never red says nothing: a cold room, no heat."""
    for setup in SETUPS:
        data = setup.request(setup.approaches[0])
        data["room"] |= {"day_c": 8, "night_c": 5}
        data["items"] = [item for item in data["items"] if not item.get("power_w")]
        made = plan(from_data(data), advise=False)
        assert any(need.verdict.direction == "below" for need in made.needs), setup.name
