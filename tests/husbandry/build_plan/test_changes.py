"""Changing an enclosure that stands: steps by what differs, where its animal is, what it takes, and
when it is verified again.
"""

import datetime as dt
import json
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from husbandry.build_plan.changes import refit_shopping, refit_tasks
from husbandry.build_plan.shopping import shopping
from husbandry.build_plan.steps import RUN_DAYS, Choices, schedule
from husbandry.commissioning.readings import affected
from husbandry.documents.request import EarlierState, Request
from husbandry.documents.request_json import apply_patch, from_data
from husbandry.documents.version_comparison import difference
from husbandry.items.furnishings import Hide
from husbandry.species.needs import NeedKey

NEEDS = frozenset(NeedKey) - {NeedKey.WATER_DAY}
START = dt.date(2026, 12, 1)


@pytest.fixture
def stood(sample: dict[str, Any]) -> EarlierState:
    request = from_data(sample)
    return EarlierState(revision=1, enclosure=request.enclosure, items=request.items)


def bent(sample: dict[str, Any], **bend: Any) -> Request:
    """The enclosure of the sample with parts of it, or of its first lamp, replaced."""
    data = json.loads(json.dumps(sample))
    data["items"][0] |= bend.pop("lamp", {})
    data["items"] += bend.pop("more", [])
    for path, value in bend.items():
        part, _, name = path.partition("__")
        data["enclosure"][part] = (
            {**data["enclosure"].get(part, {}), name: value} if name else value
        )
    return from_data(data)


def slugs(old: EarlierState, request: Request, choices: Choices | None = None) -> list[str]:
    made = refit_tasks(old, request, choices or Choices(), NEEDS)
    order = [task.slug for task in made]
    for task in made:  # in an order in which they can be done
        assert all(order.index(before) < order.index(task.slug) for before in task.after)
    return order


def days(old: EarlierState, request: Request) -> int:
    return (schedule(refit_tasks(old, request, Choices(), NEEDS), START).move_in - START).days


def test_what_did_not_change_takes_nothing(sample: dict[str, Any], stood: EarlierState) -> None:
    assert not difference(stood, from_data(sample)).any
    assert slugs(stood, from_data(sample)) == [] and refit_shopping(stood, from_data(sample)) == ()
    burned = from_data(sample)
    tube = burned.items[1].model_copy(update={"hours_run": 4000})
    burned = burned.model_copy(update={"items": (burned.items[0], tube, *burned.items[2:])})
    assert slugs(stood, burned) == []  # hours that it burned are no work
    near = [*sample["items"][0]["at_m"]]
    near[0] += 0.005
    assert not difference(stood, bent(sample, lamp={"at_m": near})).moved


def test_another_lamp_is_read_before_its_animal_is_back(
    sample: dict[str, Any], stood: EarlierState
) -> None:
    """Unplugged and cold, hung, tested, six hours of warmth and its surface read; then back, and
    verified within a day (common practice, no source).
    """
    stronger = bent(sample, lamp={"power_w": 100})
    found = slugs(stood, stronger)
    assert found[:2] == ["out", "take"] and found.index("wire") < found.index(
        "test"
    ) < found.index("warm") < found.index("back")
    assert found[-1] == "commission" and "run" not in found and days(stood, stronger) <= 2
    bought = {line.slug: line.count for line in refit_shopping(stood, stronger)}
    assert list(bought.values()) == [1] and "100" in next(
        iter(bought)
    )  # its holder, guard and timer are there
    steps = {task.slug: task for task in refit_tasks(stood, stronger, Choices(), NEEDS)}
    assert (
        "100 W" in steps["wire"].what
        and "surface" in steps["commission"].what
        and "UV" not in steps["commission"].what
    )


def test_settings_are_set_with_the_animal_where_it_is(
    sample: dict[str, Any], stood: EarlierState
) -> None:
    cooler, warmer = (bent(sample, lamp={"thermostat": {"set_c": set_c}}) for set_c in (36, 38))
    before = EarlierState(revision=1, enclosure=cooler.enclosure, items=cooler.items)
    assert (
        slugs(before, warmer) == ["set", "test", "warm", "commission"]
        and refit_shopping(before, warmer) == ()
    )
    fitted = slugs(stood, warmer)  # where there was none
    assert {"out", "fit", "set", "test", "warm", "back", "commission"} == set(fitted)
    assert {line.slug for line in refit_shopping(stood, warmer)} == {"thermostat", "cut-out"}


@pytest.mark.parametrize(
    ("kind", "said"),
    [
        ("hide", {"entrance": "hole", "sheer": True}),
        ("halogen", {"beam_deg": 38}),
        ("t5", {"hours_run": 400}),
    ],
)
def test_what_is_only_said_of_a_item_is_no_work(
    sample: dict[str, Any], kind: str, said: dict[str, Any]
) -> None:
    item = next(one for one in sample["items"] if one["kind"].startswith(kind))
    for name in said:
        item.pop(name, None)
    old = from_data(json.loads(json.dumps(sample)))
    item.update(said)
    new = from_data(sample)
    before = EarlierState(revision=1, enclosure=old.enclosure, items=old.items)
    assert (
        new.items != old.items and slugs(before, new) == [] and refit_shopping(before, new) == ()
    )
    assert not affected(before, new.enclosure, new.items)


def test_what_was_measured_of_a_mesh_or_told_by_a_log_is_no_work(sample: dict[str, Any]) -> None:
    sample["enclosure"]["lid"] = {"material": "wood", "mesh": "medium", "mesh_share": 0.5}
    sample["enclosure"]["wetting"] = {
        "substrate": "damp",
        "nozzles_ml_s": 2.0,
        "mistings": [{"at": "08:00", "ml": 50}],
    }
    old = from_data(json.loads(json.dumps(sample)))
    sample["enclosure"]["lid"]["mesh_passes"] = 0.61
    log = {
        "air": 1.4,
        "air_ln_sd": 0.1,
        "substrate": 0.8,
        "substrate_ln_sd": 0.2,
        "buffer": 2.0,
        "hours": 72,
        "on": "2026-06-01",
    }
    sample["enclosure"]["wetting"] |= {"nozzles_ml_s": 1.8, "logged": log}
    new = from_data(sample)
    before = EarlierState(revision=1, enclosure=old.enclosure, items=old.items)
    assert slugs(before, new) == [] and not affected(before, new.enclosure, new.items)


def test_layers_that_are_only_described_lay_there_before(
    sample: dict[str, Any], stood: EarlierState
) -> None:
    depth = stood.enclosure.substrate.depth_m
    told = bent(sample, substrate__layers=[{"depth_m": depth, "parts": {"topsoil": 1}}])
    assert slugs(stood, told) == [] and not affected(stood, told.enclosure, told.items)
    mixed = bent(
        sample, substrate__layers=[{"depth_m": depth, "parts": {"topsoil": 1, "sand": 1}}]
    )
    before = EarlierState(revision=1, enclosure=told.enclosure, items=told.items)
    assert "bed out" in slugs(before, mixed) and affected(before, mixed.enclosure, mixed.items)


def test_what_is_fitted_to_a_pool_leaves_the_pool_where_it_is(sample: dict[str, Any]) -> None:
    fitted = {"heater_w": 25, "filter_l_h": 60}
    pool = {"id": "pool-1", "kind": "pool", "at_m": [0.9, 0.3, 0.0], "size_m": [0.4, 0.3, 0.06]}
    old, new, held = (
        bent(sample, more=[{**pool, **more}])
        for more in ({}, {**fitted, "held_c": 24}, {**fitted, "held_c": 26})
    )
    before, after = (
        EarlierState(revision=1, enclosure=one.enclosure, items=one.items) for one in (old, new)
    )
    found = slugs(before, new)
    assert {"fit", "cycle", "set", "test"} <= set(found) and not {"take", "fill", "out"} & set(
        found
    )
    assert {line.slug for line in refit_shopping(before, new)} == {"filter", "water heater-25"}
    assert slugs(after, held)[:2] == ["set", "test"] and "cycle" not in slugs(after, held)
    moss = bent(sample)
    hide = next(n for n, item in enumerate(moss.items) if isinstance(item, Hide))
    damp = apply_patch(
        moss,
        ({"op": "replace", "path": f"/items/{hide}/moist", "value": not moss.items[hide].moist},),
    )
    assert slugs(EarlierState(revision=1, enclosure=moss.enclosure, items=moss.items), damp) == [
        "fit",
        "commission",
    ]


def test_a_crew_is_let_in_beside_its_animal(sample: dict[str, Any], stood: EarlierState) -> None:
    assert slugs(stood, bent(sample, substrate__crew=True)) == ["crew"]
    assert [line.slug for line in refit_shopping(stood, bent(sample, substrate__crew=True))] == [
        "crew"
    ]


EDITS: tuple[dict[str, Any], ...] = (
    {"lamp": {"power_w": 90}},
    {"lamp": {"at_m": [0.35, 0.3, 0.5]}},
    {"lamp": {"thermostat": {"set_c": 37}}},
    {"lamp": {"on": "09:00", "off": "19:00"}},
    {"panels__back": "pvc_board"},
    {"panels__front": "acrylic"},
    {"vents__low_cm2": 90},
    {"substrate__depth_m": 0.08},
    {"substrate__crew": True},
    {"substrate__material": "sand"},
    {
        "wetting": {
            "substrate": "damp",
            "nozzles_ml_s": 2.0,
            "mistings": [{"at": "08:00", "ml": 60}],
        }
    },
    {
        "more": [
            {
                "id": "plant-9",
                "kind": "plant",
                "at_m": [1.0, 0.4, 0.05],
                "size_m": [0.2, 0.2, 0.3],
                "plant": "pothos",
            }
        ]
    },
    {
        "more": [
            {
                "id": "pool-9",
                "kind": "pool",
                "at_m": [0.9, 0.3, 0.0],
                "size_m": [0.3, 0.2, 0.06],
                "filter_l_h": 60,
            }
        ]
    },
)


@settings(
    max_examples=80, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
@given(data=st.data())
def test_any_change_has_steps_that_can_be_done_and_ends_with_its_animal_at_home(
    sample: dict[str, Any], data: st.DataObject
) -> None:
    def drawn() -> Request:
        bend: dict[str, Any] = {}
        for edit in data.draw(st.lists(st.sampled_from(EDITS), max_size=5, unique_by=str)):
            for name, value in edit.items():
                bend[name] = (
                    [*bend.get(name, []), *value]
                    if name == "more"
                    else {**bend.get(name, {}), **value}
                    if name == "lamp"
                    else value
                )
        return bent(sample, **bend)

    old, new = drawn(), drawn()
    before = EarlierState(revision=1, enclosure=old.enclosure, items=old.items)
    made = refit_tasks(before, new, Choices(coated=True), NEEDS)
    order = [task.slug for task in made]
    assert len(set(order)) == len(order) and bool(order) == difference(before, new).any
    assert ("out" in order) == ("back" in order)
    if "out" in order:
        assert order[0] == "out" and order.index("back") >= len(order) - 2
    if affected(before, new.enclosure, new.items) & NEEDS and order:
        assert "commission" in order
    there = {line.slug for line in shopping(new)}
    assert all(
        line.count > 0 and line.each_eur > 0 and line.slug in {*there, "sides"}
        for line in refit_shopping(before, new)
    )
    days = schedule(made, START).move_in if made else START
    assert (days - START).days <= 80


def test_a_hide_is_put_in_quietly(sample: dict[str, Any], stood: EarlierState) -> None:
    hide = {"id": "hide-9", "kind": "hide", "at_m": [0.9, 0.45, 0.06], "size_m": [0.2, 0.15, 0.1]}
    request = bent(sample, more=[hide])
    assert slugs(stood, request) == ["furniture", "commission"]
    assert [line.count for line in refit_shopping(stood, request)] == [1]


def test_what_hangs_over_a_mesh_is_changed_from_outside(sample: dict[str, Any]) -> None:
    lamp = {
        "id": "lamp-9",
        "kind": "halogen_flood",
        "at_m": [0.3, 0.3, 0.62],
        "power_w": 50,
        "above_lid": True,
    }
    lid = {"material": "wood", "mesh": "medium", "mesh_share": 1.0}
    old, new = (bent(sample, lid=lid, more=[{**lamp, "power_w": watts}]) for watts in (50, 75))
    found = slugs(EarlierState(revision=1, enclosure=old.enclosure, items=old.items), new)
    assert "out" not in found and found.index("test") < found.index("warm") < found.index(
        "commission"
    )


def test_a_tube_that_burned_out_is_another_tube(sample: dict[str, Any]) -> None:
    tube = next(item for item in sample["items"] if item["kind"].startswith("t5"))
    old = from_data(
        {
            **sample,
            "items": [
                {**one, "hours_run": 5000} if one is tube else one for one in sample["items"]
            ],
        }
    )
    new = from_data(
        {
            **sample,
            "items": [{**one, "hours_run": 0} if one is tube else one for one in sample["items"]],
        }
    )
    before = EarlierState(revision=1, enclosure=old.enclosure, items=old.items)
    steps = {task.slug: task for task in refit_tasks(before, new, Choices(), NEEDS)}
    assert (
        "take" in steps
        and "UV index" in steps["commission"].what
        and "surface" not in steps["commission"].what
    )
    assert days(before, new) == 0  # read once it has burned an hour
    assert sum(line.count for line in refit_shopping(before, new)) == 1


def test_what_was_sawn_and_poured_runs_a_week_first(
    sample: dict[str, Any], stood: EarlierState
) -> None:
    """What smells of anything airs a week with its lamps on before anything breathes it (source:
    substrate B4; common practice).
    """
    for request in (
        bent(sample, panels__back="pvc_board"),
        bent(sample, substrate__material="sand"),
        bent(sample, substrate__depth_m=0.04),
    ):
        found = slugs(stood, request)
        assert (
            found[0] == "out"
            and found[-1] == "back"
            and found.index("run") < found.index("commission") < found.index("back")
        )
        assert days(stood, request) > RUN_DAYS
    assert "seal" in slugs(stood, bent(sample, panels__back="pvc_board"))
    assert (
        "coat" in slugs(stood, bent(sample, panels__left="wood"), Choices(coated=True))
        or stood.enclosure.panels.left == "wood"
    )


def test_substrate_that_is_deeper_takes_only_what_is_more(
    sample: dict[str, Any], stood: EarlierState
) -> None:
    deeper = slugs(stood, bent(sample, substrate__depth_m=0.09))
    assert (
        deeper == ["out", "substrate", "warm", "back", "commission"]
        and days(stood, bent(sample, substrate__depth_m=0.09)) <= 2
    )
    layers = [[{"depth_m": deep, "parts": {"topsoil": 1, "sand": 1}}] for deep in (0.06, 0.10)]
    old, new = (
        bent(sample, substrate__layers=one, substrate__depth_m=one[0]["depth_m"]) for one in layers
    )
    before = EarlierState(revision=1, enclosure=old.enclosure, items=old.items)
    assert "bed out" not in slugs(before, new) and {
        line.slug for line in refit_shopping(before, new)
    } <= {"bag-topsoil", "bag-sand"}
    assert "bed out" in slugs(
        EarlierState(revision=1, enclosure=new.enclosure, items=new.items), old
    )
    inside, depth = sample["enclosure"]["inside_m"], sample["enclosure"]["substrate"]["depth_m"]
    (line,) = refit_shopping(stood, bent(sample, substrate__depth_m=depth + 0.04))
    litres = 1000 * inside["length"] * inside["depth"] * 0.04
    assert litres < line.each_eur / 0.5 < 1.3 * litres + 5
    fresh = refit_shopping(
        stood,
        bent(
            sample,
            substrate__material="sand" if stood.enclosure.substrate.material == "soil" else "soil",
        ),
    )
    assert fresh[0].each_eur > line.each_eur


def test_a_side_costs_its_area(sample: dict[str, Any], stood: EarlierState) -> None:
    inside = sample["enclosure"]["inside_m"]
    (line,) = refit_shopping(
        stood, bent(sample, panels__left="pvc_board", panels__right="pvc_board")
    )
    assert (
        line.each_eur == pytest.approx(60 * 2 * inside["depth"] * inside["height"], abs=1)
        and "left" in line.rule
    )


def test_another_size_is_another_enclosure(sample: dict[str, Any], stood: EarlierState) -> None:
    wider = bent(
        sample,
        inside_m={
            **sample["enclosure"]["inside_m"],
            "length": sample["enclosure"]["inside_m"]["length"] + 0.3,
        },
    )
    found = slugs(stood, wider)
    assert {"stand", "wire", "run", "commission"} <= set(found) and found[-1] == "move in"
    assert not {"out", "back"} & set(
        found
    )  # it stays in its old enclosure until the new one is verified
    assert {"enclosure", "stand"} <= {line.slug for line in refit_shopping(stood, wider)}


def test_what_mists_is_hung_and_the_substrate_is_brought_to_its_damp(
    sample: dict[str, Any], stood: EarlierState
) -> None:
    wetting = {
        "substrate": "damp",
        "nozzles_ml_s": 2.0,
        "tank_l": 5,
        "mistings": [{"at": "08:00", "ml": 100}],
    }
    found = slugs(stood, bent(sample, wetting=wetting))
    assert {"out", "nozzles", "wet", "set", "back", "commission"} <= set(found)
    assert "pump" in {line.slug for line in refit_shopping(stood, bent(sample, wetting=wetting))}


def test_a_lamp_that_is_moved_says_how_far(sample: dict[str, Any], stood: EarlierState) -> None:
    x, y, z = sample["items"][0]["at_m"]
    request = bent(sample, lamp={"at_m": [x + 0.05, y, z - 0.04]})
    steps = {task.slug: task for task in refit_tasks(stood, request, Choices(), NEEDS)}
    assert {"out", "move", "test", "warm", "back", "commission"} == set(
        steps
    )  # what it is set to stays
    (shift,) = steps["move"].shifts
    assert (shift.right_m, shift.back_m, shift.up_m) == pytest.approx((0.05, 0.0, -0.04))
    assert refit_shopping(stood, request) == ()
