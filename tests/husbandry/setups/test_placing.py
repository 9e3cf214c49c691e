"""Where items stand to one another."""

import json
from typing import Any

from husbandry.documents.request_json import from_data
from husbandry.quantity import Units
from husbandry.setups.placing import clashes


def test_lamps_within_reach_and_bodies_through_walls_are_clashes(sample: dict[str, Any]) -> None:
    """Fifteen centimetres over what an animal can stand on: common practice, no source."""
    low = json.loads(json.dumps(sample))
    stone = next(t for t in low["items"] if t["kind"] == "slab")
    low["items"][0]["at_m"] = [
        stone["at_m"][0],
        stone["at_m"][1],
        round(stone["at_m"][2] + stone["size_m"][2] + 0.1, 3),
    ]
    hide = next(t for t in low["items"] if t["kind"] == "hide")
    hide["at_m"][0] = 0.02
    words = " ".join(problem.reason for problem in clashes(from_data(low)))
    assert "within reach" in words and "10" in words and "through the end wall" in words
    assert "in from" in " ".join(
        problem.reason for problem in clashes(from_data(low), Units("us", "f"))
    )
    assert clashes(from_data(sample)) == []


def test_bodies_in_one_place_are_named_once_and_one_on_the_other_is_none(
    sample: dict[str, Any],
) -> None:
    data = json.loads(json.dumps(sample))
    stone = next(t for t in data["items"] if t["kind"] == "slab")
    data["items"] = [stone, {**stone, "id": "stone-2"}]
    found = clashes(from_data(data))
    assert [problem.pointer for problem in found] == ["/items/1/at_m"]
    x, y, z = stone["at_m"]
    data["items"][1]["at_m"] = [x, y, round(z + stone["size_m"][2], 3)]
    assert clashes(from_data(data)) == []


def test_a_hot_lamp_keeps_off_plastic(sample: dict[str, Any]) -> None:
    """Ten centimetres at the least (common practice, no source); glass and timber are left alone,
    and so is what gives no heat.
    """
    data = json.loads(json.dumps(sample))
    lamp = next(item for item in data["items"] if item["id"] == "lamp-1")
    lamp["at_m"][1] = data["enclosure"]["inside_m"]["depth"] - 0.05
    wood = [problem.reason for problem in clashes(from_data(data))]
    assert not any("softens" in reason for reason in wood)
    data["enclosure"]["panels"] = {"back": "pvc_board"}
    told = [problem for problem in clashes(from_data(data)) if "softens" in problem.reason]
    assert [problem.pointer for problem in told] == [
        f"/items/{data['items'].index(lamp)}/at_m"
    ] and "only 5 cm from the back side" in told[0].reason
    lamp["at_m"][1] = data["enclosure"]["inside_m"]["depth"] / 2
    assert not any("softens" in problem.reason for problem in clashes(from_data(data)))
