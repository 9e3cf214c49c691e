"""What an animal does beside what is predicted where it lives (common practice, no source)."""

import copy
from typing import Any

import pytest

from husbandry.documents.request_json import from_data
from husbandry.findings.behaviour import BEHAVIOURS, ORDER, likely_causes
from husbandry.plan.plan import plan
from husbandry.species.library import find
from husbandry.species.needs import NeedKey


def causes(sample: dict[str, Any], slug: str, room_c: float, *facts: str) -> list[Any]:
    data = copy.deepcopy(sample)
    data["room"] |= {"day_c": room_c, "night_c": room_c - 2, "summer_max_c": room_c + 2}
    data["items"] = []
    states = plan(from_data(data), advise=False).needs
    profile = find(data["animals"][0]["species"])
    return list(likely_causes(BEHAVIOURS[slug], profile, states, facts))  # type: ignore[arg-type]


def test_who_basks_all_day_in_a_cold_enclosure_is_too_cold(sample: dict[str, Any]) -> None:
    found = causes(sample, "basks all day", 18)
    assert found[0].fit == "fits" and found[0].cause.need in {
        NeedKey.SURFACE_DAY,
        NeedKey.WARM_AIR_DAY,
    }


def test_who_stays_at_the_cool_end_of_a_hot_one_is_too_hot(sample: dict[str, Any]) -> None:
    found = causes(sample, "cool end", 36)
    assert found[0].fit == "fits" and found[0].cause.direction == "above"


@pytest.mark.parametrize("slug", sorted(BEHAVIOURS))
def test_what_fits_comes_before_what_is_not_known_and_that_before_what_does_not(
    sample: dict[str, Any], slug: str
) -> None:
    for room_c in (18.0, 26.0, 36.0):
        fits = [ORDER.index(one.fit) for one in causes(sample, slug, room_c)]
        assert fits == sorted(fits) and fits
    assert BEHAVIOURS[slug].vet


def test_facts_of_its_records_count(sample: dict[str, Any]) -> None:
    found = causes(sample, "hides", 26, "in shed")
    assert next(one for one in found if one.cause.fact == "in shed").fit == "fits"
    assert next(one for one in found if one.cause.fact == "arrived").fit == "does not fit"


def test_without_a_plan_what_is_measured_first_is_said(sample: dict[str, Any]) -> None:
    profile = find("Pogona vitticeps")
    found = likely_causes(BEHAVIOURS["never basks"], profile)
    assert {one.fit for one in found if one.cause.need is not None} == {"not known"}
    assert all(one.cause.measure for one in found)


def test_no_male_is_called_gravid() -> None:
    profile = find("Pogona vitticeps")
    for sex, expected in (("male", False), ("female", True), ("unknown", True)):
        found = likely_causes(BEHAVIOURS["digs"], profile, sex=sex)
        assert any(one.cause.fact == "gravid" for one in found) is expected
