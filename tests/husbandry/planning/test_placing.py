"""Where things stand to one another."""

import json
from typing import Any

from husbandry.planning.placing import clashes
from husbandry.planning.request import from_data
from husbandry.quantity import Units


def test_lamps_within_reach_and_bodies_through_walls_are_clashes(sample: dict[str, Any]) -> None:
    """Fifteen centimetres over what an animal can stand on: common practice, no source."""
    low = json.loads(json.dumps(sample))
    stone = next(t for t in low["things"] if t["kind"] == "slab")
    low["things"][0]["at_m"] = [stone["at_m"][0], stone["at_m"][1], round(stone["at_m"][2] + stone["size_m"][2] + 0.1, 3)]
    hide = next(t for t in low["things"] if t["kind"] == "hide")
    hide["at_m"][0] = 0.02
    words = " ".join(problem.reason for problem in clashes(from_data(low)))
    assert "within reach" in words and "10" in words and "through the end wall" in words
    assert "in from" in " ".join(problem.reason for problem in clashes(from_data(low), Units("us", "f")))
    assert clashes(from_data(sample)) == []


def test_bodies_in_one_place_are_named_once_and_one_on_the_other_is_none(sample: dict[str, Any]) -> None:
    data = json.loads(json.dumps(sample))
    stone = next(t for t in data["things"] if t["kind"] == "slab")
    data["things"] = [stone, {**stone, "id": "stone-2"}]
    found = clashes(from_data(data))
    assert [problem.pointer for problem in found] == ["/things/1/at_m"]
    x, y, z = stone["at_m"]
    data["things"][1]["at_m"] = [x, y, round(z + stone["size_m"][2], 3)]
    assert clashes(from_data(data)) == []


def test_a_hot_lamp_keeps_off_plastic(sample: dict[str, Any]) -> None:
    """Ten centimetres at the least (common practice, no source); glass and timber are left alone, and so is what gives no heat."""
    data = json.loads(json.dumps(sample))
    lamp = next(thing for thing in data["things"] if thing["id"] == "lamp-1")
    lamp["at_m"][1] = data["box"]["inside_m"]["depth"] - 0.05
    wood = [problem.reason for problem in clashes(from_data(data))]
    assert not any("softens" in reason for reason in wood)
    data["box"]["panels"] = {"back": "pvc_board"}
    told = [problem for problem in clashes(from_data(data)) if "softens" in problem.reason]
    assert [problem.pointer for problem in told] == [
        f"/things/{data['things'].index(lamp)}/at_m"
    ] and "only 5 cm from the back side" in told[0].reason
    lamp["at_m"][1] = data["box"]["inside_m"]["depth"] / 2
    assert not any("softens" in problem.reason for problem in clashes(from_data(data)))
