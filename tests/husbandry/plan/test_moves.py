"""A move judged before anybody is carried (facts of the trade: common practice, no source)."""

import copy
from typing import Any

from husbandry.documents.request_json import from_data
from husbandry.plan.moves import judge_move
from husbandry.quantity import Units

AGAMA = {"species": "Pogona vitticeps", "sex": "male", "mass_g": 420, "born_on": "2023-05-01"}


def moved(
    sample: dict[str, Any], *animals: dict[str, Any], units: Units | None = None
) -> list[Any]:
    data = copy.deepcopy(sample)
    data["animals"] = [{**AGAMA, "name": "Ash"}]
    before = from_data(data)
    after = from_data({**data, "animals": [*data["animals"], *animals]})
    return list(judge_move(after, before, units or Units()))


def test_two_males_of_a_solitary_lizard_are_a_danger_and_come_first(sample):
    found = moved(sample, {**AGAMA, "name": "Flint"})
    assert found[0].severity == "danger" and found[0].slug == "company"
    assert [one.severity for one in found] == sorted(
        (one.severity for one in found), key=lambda word: word != "danger"
    )


def test_another_species_is_a_danger(sample):
    found = moved(sample, {"name": "Moss", "species": "Eublepharis macularius"})
    assert any("Two species" in one.text for one in found if one.severity == "danger")


def test_one_that_has_just_come_brings_what_nobody_sees(sample):
    found = moved(sample, {**AGAMA, "name": "Flint", "came_on": sample["now"][:10]})
    assert "quarantine shared" in {one.slug for one in found if one.severity == "danger"}


def test_what_was_wrong_before_is_not_said_of_the_move(sample):
    data = copy.deepcopy(sample)
    data["enclosure"]["inside_m"] = {"length": 0.6, "depth": 0.45, "height": 0.45}
    data["items"] = []
    data["animals"] = [{**AGAMA, "name": "Ash"}]
    request = from_data(data)
    assert judge_move(request, request) == ()
    alone = judge_move(request)
    assert "size" in {one.slug for one in alone}
    assert any("needed" in one.text for one in alone)


def test_the_sentences_are_in_the_readers_units(sample):
    data = copy.deepcopy(sample)
    data["enclosure"]["inside_m"] = {"length": 0.6, "depth": 0.45, "height": 0.45}
    data["items"] = []
    data["animals"] = [{**AGAMA, "name": "Ash"}]
    request = from_data(data)
    texts = " ".join(one.text for one in judge_move(request, None, Units("us", "f")))
    assert " in" in texts and "°F" in texts and "cm" not in texts and "°C" not in texts
