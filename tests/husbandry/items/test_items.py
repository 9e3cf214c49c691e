"""Every kind of item keeps what its class promises."""

import json
from typing import Any, get_args

import pytest

from husbandry.documents.request_json import from_data
from husbandry.documents.soundness import surroundings_of
from husbandry.enclosure.equipment import HEATERS, UV_LAMPS
from husbandry.errors import DocumentError
from husbandry.items.base import Surroundings
from husbandry.items.union import CLASS_OF, ITEM_CLASSES, read_item

AROUND = Surroundings(1.5, 0.6, 0.6, 0.06, False, frozenset({"probe-1"}))
TIMES = ("08:00", "20:00")


def begun(kind: str, around: Surroundings = AROUND) -> dict[str, Any]:
    made = CLASS_OF[kind].begin(kind, around, TIMES)
    assert made is not None
    return {"id": "new-1", **made}


@pytest.mark.parametrize("kind", sorted(CLASS_OF))
def test_a_new_one_is_sound_where_it_begins(kind: str) -> None:
    item = read_item(begun(kind))
    assert list(item.problems("/items/0", AROUND)) == []
    assert item.kind == kind and item.name


@pytest.mark.parametrize("kind", sorted(CLASS_OF))
def test_what_can_be_edited_is_a_value_of_the_class(kind: str) -> None:
    cls = CLASS_OF[kind]
    names = [field.path.partition("/")[0] for field in cls.fields]
    assert set(names) <= set(cls.model_fields)
    assert len({field.path for field in cls.fields}) == len(cls.fields)


@pytest.mark.parametrize("kind", sorted(CLASS_OF))
def test_no_kind_takes_the_values_of_another(kind: str) -> None:
    own = set(CLASS_OF[kind].model_fields)
    foreign = {
        "filter_l_h": 100,
        "entrance": "hole",
        "l_per_h": 0.1,
        "hours_run": 5,
        "plant": None,
    }
    for name, value in foreign.items():
        if name not in own:
            with pytest.raises(ValueError, match=name):
                read_item({**begun(kind), name: value})


def test_every_kind_belongs_to_one_class() -> None:
    kinds = [
        kind for cls in ITEM_CLASSES for kind in get_args(cls.model_fields["kind"].annotation)
    ]
    assert len(kinds) == len(set(kinds)) == len(CLASS_OF)
    assert {kind for kind in CLASS_OF if CLASS_OF[kind].is_uv} == set(UV_LAMPS)
    assert set(HEATERS) - {"fluorescent_tube"} <= set(CLASS_OF)


def test_only_what_a_thermostat_may_dim_has_one() -> None:
    """Common practice, no source: lamps that give ultraviolet flicker and die when dimmed."""
    held = {kind for kind, cls in CLASS_OF.items() if "thermostat" in cls.model_fields}
    assert held == {kind for kind, heater in HEATERS.items() if heater.dimmable}


@pytest.mark.parametrize(
    ("kind", "bend", "where", "why"),
    [
        ("halogen_flood", {"at_m": [2, 0.3, 0.5]}, "/at_m", "outside the enclosure"),
        ("halogen_flood", {"at_m": [1, 0.3, 0.07]}, "/at_m/2", "hang in the substrate"),
        ("halogen_flood", {"above_lid": True}, "/above_lid", "needs mesh"),
        ("halogen_flood", {"off": None}, "/off", "both its times"),
        (
            "ceramic_emitter",
            {"thermostat": {"set_c": 25, "probe": "placed"}},
            "/thermostat/probe_id",
            "named by its id",
        ),
        (
            "ceramic_emitter",
            {"thermostat": {"set_c": 25, "probe": "placed", "probe_id": "probe-9"}},
            "/thermostat/probe_id",
            "no probe “probe-9”",
        ),
        ("heat_mat", {"size_m": [1.8, 0.3, 0.002]}, "/size_m", "larger than the floor"),
        ("heat_mat", {"at_m": [0.5, 0.3, 0.2]}, "/at_m/2", "under the substrate"),
        ("t5_12", {"at_m": [0.1, 0.3, 0.5]}, "/at_m/0", "does not fit there"),
        ("hide", {"size_m": [0.2, 0.7, 0.1]}, "/size_m/1", "deeper than the floor"),
        ("pool", {"heater_w": 25}, "/held_c", "needs a thermostat"),
        ("pool", {"held_c": 25}, "/heater_w", "write its power"),
        ("probe", {"at_m": [0.5, 0.3, 0.01]}, "/at_m/2", "lies on its substrate"),
        ("fogger", {"on": None, "off": None}, "/on", "between which it runs"),
    ],
)
def test_what_cannot_be_is_said_at_its_value(
    kind: str, bend: dict[str, Any], where: str, why: str
) -> None:
    found = list(read_item({**begun(kind), **bend}).problems("/items/0", AROUND))
    assert any(one.pointer == f"/items/0{where}" and why in one.reason for one in found), found


def test_a_fogger_is_an_item_like_any_other(sample: dict[str, Any]) -> None:
    """It is read, written, and named where something is wrong with it."""
    data = json.loads(json.dumps(sample))
    around = surroundings_of(from_data(sample))
    data["items"].append(begun("fogger", around))
    request = from_data(data)
    assert [fogger.l_per_h for fogger in request.foggers] == [0.1]
    assert request.foggers[0].lit_at(8) and not request.foggers[0].lit_at(12)
    data["items"][-1]["l_per_h"] = 9
    with pytest.raises(DocumentError) as why:
        from_data(data)
    last = len(data["items"]) - 1
    assert [one.pointer for one in why.value.problems] == [f"/items/{last}/l_per_h"]
