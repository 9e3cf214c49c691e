"""The warm patch against the body that lies on it.

Common practice, no source: a big body needs several lamps spread over its length.
"""

import json
from pathlib import Path

import pytest

from husbandry.documents.request_json import from_data
from husbandry.plan.plan import plan, prediction_of
from husbandry.predict.warm_patch import lamps_in_a_row, patch_of, trunk_m
from husbandry.species.library import find

SAMPLE = json.loads((Path(__file__).parents[3] / "docs" / "samples" / "request.json").read_text())


def monitor(lamps, power_w=100):
    """A grown savannah monitor on a stone 90 × 60 cm, under lamps in a row."""
    items = [{"id": "stone", "kind": "slab", "at_m": [0.6, 0.6, 0.1], "size_m": [0.9, 0.6, 0.03]}]
    for n in range(lamps):
        x = 0.6 + 0.25 * (n - (lamps - 1) / 2)
        items.append(
            {
                "id": f"lamp-{n}",
                "kind": "halogen_flood",
                "at_m": [x, 0.6, 0.45],
                "power_w": power_w,
                "on": "07:00",
                "off": "19:00",
            }
        )
    return from_data(
        {
            "format": "ridgeback-request/2",
            "now": "2026-06-01T12:00:00+00:00",
            "room": {"day_c": 23, "night_c": 20, "summer_max_c": 30, "rh_pct": 50},
            "animals": [
                {"species": "Varanus exanthematicus", "mass_g": 3500, "length_mm": {"total": 950}}
            ],
            "enclosure": {
                "inside_m": {"length": 2.4, "depth": 1.2, "height": 1.2},
                "substrate": {"material": "soil", "depth_m": 0.1},
            },
            "items": items,
        }
    )


def test_more_lamps_in_a_row_warm_a_longer_patch():
    one, three = (patch_of(prediction_of(monitor(n)), 38.0) for n in (1, 3))
    assert one is not None and three is not None
    assert three.length_m > one.length_m + 0.2


def test_one_lamp_over_a_big_body_is_said_and_a_row_is_not():
    fierce = {note.slug: note for note in plan(monitor(1, 200)).notes}
    assert fierce["patch"].values["lamps"] >= 2 and "burns the back" in fierce["patch"].text
    assert "patch" not in {note.slug for note in plan(monitor(3, 100)).notes}
    patch, body = (
        patch_of(prediction_of(monitor(1)), 40.0),
        trunk_m(find("Varanus exanthematicus"), 0.95),
    )
    assert patch is not None and patch.longest_m < 0.9 * body
    assert lamps_in_a_row(patch, body) >= 2


def test_a_tail_and_a_coiled_snake_need_no_lamp():
    assert trunk_m(find("Tiliqua scincoides"), 0.5) < 0.45
    assert trunk_m(find("Python regius"), 1.2) == pytest.approx(0.3)
    assert trunk_m(find("Testudo hermanni"), 0.18) == pytest.approx(0.18)


def test_the_patch_is_a_number_of_the_plan_and_no_wider_than_its_stone():
    made = plan(from_data({**SAMPLE, "readings": []}))
    assert 0.03 < made.predictions["warm_patch"].value <= 0.4
    assert (
        patch_of(prediction_of(from_data({**SAMPLE, "items": [], "readings": []})), 30.0) is None
    )


def test_a_climber_on_its_branch_has_none():
    request = monitor(1).model_copy(
        update={
            "animals": (
                monitor(1)
                .animals[0]
                .model_copy(
                    update={"species": "Dryophytes cinereus", "mass_g": 9.0, "length_mm": {}}
                ),
            )
        }
    )
    assert patch_of(prediction_of(request), 25.0) is None
