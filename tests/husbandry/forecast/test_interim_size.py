"""An enclosure that does for now: until when, and what it costs."""

import datetime as dt
import json
from typing import Any

from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data
from husbandry.forecast.interim_size import interim_size
from husbandry.plan.plan import plan_summary
from tests.husbandry.conftest import SAMPLE


def snake(length: float, mass_g: float, **approaches: str) -> Request:
    """A corn snake in an enclosure of that length."""
    data: dict[str, Any] = json.loads(SAMPLE.read_text(encoding="utf-8"))
    data["readings"] = []
    data["items"] = []
    data["animals"] = [
        {
            "name": "Reed",
            "species": "Pantherophis guttatus",
            "sex": "female",
            "mass_g": mass_g,
            "approaches": approaches,
        }
    ]
    sides = {"length": length, "depth": 0.45, "height": 0.5}
    data["enclosure"] |= {"inside_m": sides}
    return from_data(data)


def test_it_does_until_the_body_outgrows_the_minimum() -> None:
    """A young one of 100 g in 50 × 45 cm: more than half a metre is asked for by room to behave."""
    asked = snake(0.5, 100)
    made = plan_summary(asked)
    found = interim_size(asked, made)
    assert not made.size.enough and found is not None and found.until is not None
    today = asked.now.date()
    assert today < found.until < today + dt.timedelta(days=2 * 365)
    assert found.length_m > made.animals[0].length_m
    assert found.costs == made.size.lacking
    later = asked.model_copy(
        update={"animals": (asked.animals[0].model_copy(update={"mass_g": 700.0}),)}
    )
    assert interim_size(later, plan_summary(later)) is None  # then it does not even do


def test_what_is_right_or_does_not_even_do_or_was_chosen_says_nothing() -> None:
    right = snake(1.5, 380)
    assert interim_size(right, plan_summary(right)) is None
    far_too_small = snake(0.4, 380)
    assert interim_size(far_too_small, plan_summary(far_too_small)) is None
    chosen = snake(0.72, 800, **{"how-big": "minimum"})
    assert interim_size(chosen, plan_summary(chosen)) is None


def test_of_an_unknown_body_nothing_is_promised() -> None:
    asked = snake(0.5, 100)
    animal = asked.animals[0].model_copy(update={"mass_g": None, "length_mm": {}, "born_on": None})
    unknown = asked.model_copy(update={"animals": (animal,)})
    assert interim_size(unknown, plan_summary(unknown)) is None


def test_a_grown_one_in_a_small_one_has_no_end() -> None:
    asked = snake(1.05, 900)
    found = interim_size(asked, plan_summary(asked))
    assert found is not None and (found.until is None or found.until.year > 2027)
