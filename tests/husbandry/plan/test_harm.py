"""What harms most is said first (common practice, no source)."""

import json
from typing import Any

from husbandry.documents.request_json import from_data
from husbandry.documents.result import COMPANY, Note, Plan, first_danger, urgency, worst_harm
from husbandry.plan.plan import plan


def small(sample: dict[str, Any]) -> dict[str, Any]:
    """The sample's enclosure, half as long, with its furniture moved in."""
    data: dict[str, Any] = json.loads(json.dumps(sample))
    data["enclosure"]["inside_m"]["length"] = 0.9
    short = (item for item in data["items"] if "length_m" not in item)
    data["items"] = [item for item in short if item["at_m"][0] < 0.8]
    return data


def calm(made: Plan) -> Plan:
    """A plan without its dangers."""
    notes = tuple(note for note in made.notes if note.severity != "danger")
    return made.model_copy(update={"notes": notes})


def test_too_small_comes_before_a_need_that_is_missed(sample: dict[str, Any]) -> None:
    missed = calm(plan(from_data({**sample, "room": {**sample["room"], "night_c": 15}})))
    tight = calm(plan(from_data(small(sample))))
    assert worst_harm(missed) == "need" and worst_harm(tight) == "size"
    assert urgency(tight) > urgency(missed) > 0


def test_a_passed_limit_comes_before_too_small(sample: dict[str, Any]) -> None:
    cold = {**small(sample)}
    cold["room"] = {**sample["room"], "day_c": 5, "night_c": 3}
    frozen = calm(plan(from_data(cold)))
    assert not frozen.size.enough and worst_harm(frozen) == "limit"
    assert urgency(frozen) > urgency(calm(plan(from_data(small(sample)))))


def test_a_danger_comes_before_everything(sample: dict[str, Any]) -> None:
    made = calm(plan(from_data(sample)))
    fire = Note(slug="fire", severity="danger", text="A lamp touches wood.")
    burning = made.model_copy(update={"notes": (*made.notes, fire)})
    assert worst_harm(burning) == "danger" and urgency(burning) >= 1000


def test_wrong_company_comes_after_a_danger_to_life_and_before_a_limit(
    sample: dict[str, Any],
) -> None:
    made = calm(plan(from_data(sample)))
    company = Note(slug=COMPANY, severity="danger", text="Kept alone: they maim each other.")
    fire = Note(slug="fire", severity="danger", text="A lamp touches wood.")
    mixed = made.model_copy(update={"notes": (*made.notes, company)})
    both = made.model_copy(update={"notes": (*made.notes, company, fire)})
    cold = {**sample, "room": {**sample["room"], "day_c": 5, "night_c": 3}}
    frozen = calm(plan(from_data(cold)))

    assert worst_harm(mixed) == "company" and worst_harm(both) == "danger"
    assert first_danger(both) == fire
    assert urgency(both) > urgency(mixed) > urgency(frozen)
