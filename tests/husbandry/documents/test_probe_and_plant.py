"""A placed probe holds what it really feels; a plant shades, is lit, and keeps its distance from
what burns.
"""

import json
from typing import Any

import pytest

from husbandry.advise import ChangeContext, ultraviolet
from husbandry.documents.request_json import from_data
from husbandry.errors import DocumentError
from husbandry.plan.plan import plan, prediction_of
from husbandry.predict.light import leaf_of
from husbandry.predict.need_states import look
from husbandry.setups.placing import clashes
from husbandry.species.needs import NeedKey


def bent(
    sample: dict[str, Any], *more: dict[str, Any], held: dict[str, Any] | None = None
) -> dict[str, Any]:
    data: dict[str, Any] = json.loads(json.dumps(sample))
    if held is not None:
        data["items"][0]["thermostat"] = held
    data["items"] += more
    return data


def probe(x: float, y: float, z: float) -> dict[str, Any]:
    return {"id": "probe-1", "kind": "probe", "at_m": [x, y, z]}


def plant(x: float, **more: Any) -> dict[str, Any]:
    return {
        "id": "plant-1",
        "kind": "plant",
        "at_m": [x, 0.3, 0.06],
        "size_m": [0.2, 0.2, 0.2],
        **more,
    }


PLACED = {"set_c": 30, "probe": "placed", "probe_id": "probe-1"}


def test_a_placed_probe_is_held_at_its_set_point_where_it_lies(sample: dict[str, Any]) -> None:
    for place, set_c in (
        ((0.30, 0.30, 0.09), 30.0),
        ((0.6, 0.3, 0.12), 27.0),
        ((0.8, 0.3, 0.06), 26.0),
    ):  # on the stone, in air, on the ground
        held = {**PLACED, "set_c": set_c}
        prediction = prediction_of(from_data(bent(sample, probe(*place), held=held)))
        assert 0 < prediction.day.duties[0] < 1
        assert prediction.felt_by(prediction.request.item("probe-1")).temp_c == pytest.approx(
            set_c, abs=0.05
        )


def test_a_probe_far_from_the_lamp_leaves_the_stone_hotter(sample: dict[str, Any]) -> None:
    """What keepers are warned of: the thermostat holds its probe, not the animal (common practice,
    no source).
    """
    near = prediction_of(
        from_data(bent(sample, probe(0.30, 0.30, 0.09), held={**PLACED, "set_c": 33}))
    )
    far = prediction_of(
        from_data(bent(sample, probe(1.2, 0.30, 0.12), held={**PLACED, "set_c": 33}))
    )
    assert (far.centre(NeedKey.SURFACE_DAY) or 0) > (near.centre(NeedKey.SURFACE_DAY) or 0) + 5
    assert far.day.duties[0] == 1  # it never gets there


def test_the_plan_says_what_the_probe_feels_and_mends_its_set_point(
    sample: dict[str, Any],
) -> None:
    made = plan(from_data(bent(sample, probe(0.30, 0.30, 0.09), held={**PLACED, "set_c": 28})))
    assert made.predictions["felt_probe-1"].value == pytest.approx(28, abs=0.05)
    sets = [change for change in made.changes if change.kind == "set_point"]
    assert sets and sets[0].patch[0]["value"]["probe_id"] == "probe-1"
    need = next(need for need in made.needs if need.key is NeedKey.SURFACE_DAY)
    effect = next(effect for effect in sets[0].effects if effect.need is NeedKey.SURFACE_DAY)
    assert (
        need.low is not None
        and need.high is not None
        and need.low.value <= effect.after <= need.high.value
    )


@pytest.mark.parametrize(
    ("held", "said"),
    [
        ({"set_c": 30, "probe": "placed"}, "named by its id"),
        ({"set_c": 30, "probe": "surface", "probe_id": "probe-1"}, "only a placed one"),
        ({**PLACED, "probe_id": "probe-9"}, "no probe “probe-9”"),
    ],
)
def test_a_thermostat_with_a_probe_that_is_not_there_is_refused(
    sample: dict[str, Any], held: dict[str, Any], said: str
) -> None:
    with pytest.raises(DocumentError, match=said):
        from_data(bent(sample, probe(0.3, 0.3, 0.09), held=held))


def test_a_probe_in_the_substrate_or_above_the_lid_is_refused(sample: dict[str, Any]) -> None:
    with pytest.raises(DocumentError, match="lies on its substrate"):
        from_data(bent(sample, probe(0.8, 0.3, 0.02)))


def test_a_probe_that_hangs_in_the_beam_is_marked(sample: dict[str, Any]) -> None:
    assert any(
        "in the beam" in p.reason for p in clashes(from_data(bent(sample, probe(0.32, 0.3, 0.25))))
    )
    for place in ((0.30, 0.30, 0.09), (1.2, 0.3, 0.2)):  # on the stone; far from the lamp
        assert not any(
            "in the beam" in p.reason for p in clashes(from_data(bent(sample, probe(*place))))
        )


def test_a_plant_close_to_a_lamp_is_marked(sample: dict[str, Any]) -> None:
    assert any("catch fire" in p.reason for p in clashes(from_data(bent(sample, plant(0.3)))))
    assert not any("catch fire" in p.reason for p in clashes(from_data(bent(sample, plant(1.1)))))


def test_a_plant_gets_light_by_where_it_stands_and_is_said_to_be_in_the_dark(
    sample: dict[str, Any],
) -> None:
    lit, dark = (prediction_of(from_data(bent(sample, plant(x)))) for x in (0.6, 1.39))
    assert leaf_of(lit, lit.request.item("plant-1")) > 2 * leaf_of(
        dark, dark.request.item("plant-1")
    )
    made = plan(from_data(bent(sample, plant(1.39))))
    assert made.predictions["leaf_plant-1"].unit == "mol/m² d"
    assert "plant plant-1" in {note.slug for note in made.notes}
    unlit = plan(from_data({**bent(sample), "items": [plant(0.6)]}))
    assert "plant plant-1" in {note.slug for note in unlit.notes}


def test_a_platform_and_a_plant_shade_what_is_under_them(sample: dict[str, Any]) -> None:
    free = prediction_of(from_data(sample))
    platform = {
        "id": "stone-9",
        "kind": "slab",
        "at_m": [0.5, 0.3, 0.3],
        "size_m": [0.4, 0.4, 0.02],
        "material": "slate",
    }
    for body, most in ((platform, 0.5), (plant(0.5, size_m=[0.3, 0.3, 0.35]), 0.7)):
        shaded = prediction_of(from_data(bent(sample, body)))
        place = shaded.basking.__class__(0.5, 0.3, 0.12)
        assert shaded.uvi_at(place).uvi < most * free.uvi_at(place).uvi


def test_a_compact_lamp_is_planned_and_a_tube_is_offered_beside_it(sample: dict[str, Any]) -> None:
    data = bent(sample)
    data["items"][1] = {
        "id": "coil-1",
        "kind": "compact_5",
        "at_m": [0.32, 0.3, 0.4],
        "power_w": 26,
        "hours_run": 100,
        "on": "08:00",
        "off": "18:00",
    }
    made = plan(from_data(data))
    need = made.need(NeedKey.UVI_DAY)
    assert need is not None and need.verdict.direction == "below"
    looked = look(from_data(data))
    prediction = prediction_of(from_data(data))
    tried = list(
        ultraviolet.candidates(
            ChangeContext(from_data(data), prediction, looked.targets, made.needs, made.size)
        )
    )
    assert {one.kind for one in tried} == {
        "uv_add"
    }  # whether one is offered hangs on the warmth that a tube brings as well
    assert not from_data(data).item("coil-1").is_heater


def test_a_mesh_whose_loss_was_measured_passes_that(sample: dict[str, Any]) -> None:
    data = bent(sample)
    data["enclosure"]["lid"] = {"material": "wood", "mesh": "insect", "mesh_share": 0.5}
    data["items"][1] |= {"above_lid": True, "at_m": [0.5, 0.3, 0.62]}
    found = {}
    for passes in (None, 0.5, 0.9):
        data["enclosure"]["lid"] |= {"mesh_passes": passes} if passes else {}
        found[passes] = prediction_of(from_data(data)).uvi().uvi
    assert (
        found[0.5] / found[0.9] == pytest.approx(0.5 / 0.9, rel=0.12) and found[None] != found[0.5]
    )
    data["enclosure"]["lid"] = {"material": "wood", "mesh_passes": 0.5}
    data["items"] = data["items"][2:]
    with pytest.raises(DocumentError, match="no mesh of which"):
        from_data(data)
