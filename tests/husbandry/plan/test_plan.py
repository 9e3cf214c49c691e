import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from husbandry.cli import main
from husbandry.documents.request import Request
from husbandry.documents.request_json import apply_patch, from_data, to_data
from husbandry.documents.result import Plan
from husbandry.enclosure.equipment import HEATERS, MATERIALS, MESHES, UV_LAMPS
from husbandry.errors import DocumentError
from husbandry.items.heaters import LAMP_KINDS
from husbandry.items.union import CLASS_OF
from husbandry.plan.plan import plan
from husbandry.species.needs import NeedKey

ROOT = Path(__file__).parents[3]
SAMPLE = ROOT / "docs" / "samples" / "request.json"


def bent(data: dict[str, Any], **changes: Any) -> dict[str, Any]:
    """A copy with values set by path, such as things__0__power_w=50."""
    copy: dict[str, Any] = json.loads(json.dumps(data))
    for path, value in changes.items():
        *way, last = [int(p) if p.isdigit() else p for p in path.split("__")]
        target: Any = copy
        for step in way:
            target = target[step]
        target[last] = value
    return copy


def test_a_plan_is_a_pure_function(request_: Request) -> None:
    assert plan(request_) == plan(request_)


def test_request_and_plan_survive_json(request_: Request) -> None:
    assert from_data(to_data(request_)) == request_
    first = plan(request_)
    assert Plan.model_validate_json(first.model_dump_json()) == first


def test_the_plan_names_its_core_and_profiles(request_: Request) -> None:
    made = plan(request_)
    assert (
        made.core_version
        and set(made.profiles) == {"Tiliqua scincoides"}
        and all(len(h) == 16 for h in made.profiles.values())
    )


# --- changes --------------------------------------------------------------------------------------


def kinds(data: dict[str, Any]) -> list[str]:
    return [change.kind for change in plan(from_data(data)).changes]


def test_a_cold_lamp_is_lowered_or_made_stronger(sample: dict[str, Any]) -> None:
    cold = bent(sample, items__0__power_w=50, items__0__at_m=[0.3, 0.3, 0.5], room__day_c=19)
    found = kinds(cold)
    assert {"height", "power_and_height"} & set(found[:2])
    first = plan(from_data(cold)).changes[0]
    surface = next(e for e in first.effects if e.need is NeedKey.SURFACE_DAY)
    assert (
        surface.direction == "right"
        and surface.before is not None
        and surface.after > surface.before
    )


def test_a_scorching_lamp_is_cleared_first(sample: dict[str, Any]) -> None:
    hot = plan(from_data(bent(sample, items__0__power_w=150)))
    assert (
        hot.changes[0].clears_limit and hot.need(NeedKey.SURFACE_DAY).verdict.limit == "breached"
    )  # type: ignore[union-attr]
    assert "contact" in {note.slug for note in hot.notes}


def test_weak_ultraviolet_behind_mesh_is_brought_below_it(sample: dict[str, Any]) -> None:
    lid = {"material": "wood", "mesh": "fly_screen", "mesh_share": 0.6}
    behind = bent(
        sample,
        enclosure__lid=lid,
        items__1__kind="t5_12",
        items__1__above_lid=True,
        items__1__at_m=[0.5, 0.3, 0.63],
    )
    found = plan(from_data(behind))
    assert "uv_below_mesh" in [c.kind for c in found.changes]
    change = next(c for c in found.changes if c.kind == "uv_below_mesh")
    assert next(e for e in change.effects if e.need is NeedKey.UVI_DAY).direction == "right"


def test_a_spent_tube_is_renewed_and_not_brought_nearer(sample: dict[str, Any]) -> None:
    """It fades on where it hangs, and the new one burns there (common practice, no source)."""
    behind = {
        "enclosure__lid": {"material": "wood", "mesh": "fly_screen", "mesh_share": 0.6},
        "items__1__kind": "t5_12",
        "items__1__above_lid": True,
        "items__1__at_m": [0.5, 0.3, 0.63],
    }
    fresh = kinds(bent(sample, **behind, items__1__hours_run=200))
    spent = kinds(bent(sample, **behind, items__1__hours_run=9000))
    assert "uv_below_mesh" in fresh and not {"uv_below_mesh", "uv_height"} & set(spent)
    assert {"uv_new", "uv_class"} & set(spent)


def test_an_empty_enclosure_is_furnished(sample: dict[str, Any]) -> None:
    found = kinds(bent(sample, items=[]))
    assert found[0] == "heat_add" and "uv_add" in found


def test_a_cold_room_gets_dark_heat_at_night(sample: dict[str, Any]) -> None:
    change = next(
        c
        for c in plan(from_data(bent(sample, room__night_c=13))).changes
        if c.kind == "night_heat"
    )
    assert change.patch[0]["value"]["thermostat"]["probe"] == "warm_air"
    assert next(e for e in change.effects if e.need is NeedKey.AIR_NIGHT).direction == "right"


def test_an_outgrown_enclosure_is_named_with_its_measures(sample: dict[str, Any]) -> None:
    small = bent(
        sample,
        enclosure__inside_m={"length": 0.9, "depth": 0.6, "height": 0.6},
        items__1__length_m=0.55,
        items__1__at_m=[0.4, 0.3, 0.5],
    )
    small["items"] = [t for t in small["items"] if t["id"] not in {"dish-1"}]
    change = next(c for c in plan(from_data(small)).changes if c.kind == "larger_enclosure")
    assert change.values["length_m"] >= 1.4  # type: ignore[operator]
    assert plan(apply_patch(from_data(small), change.patch)).size.enough


def test_at_most_five_and_no_two_of_one_kind_on_one_item(sample: dict[str, Any]) -> None:
    for data in (
        bent(sample, items__0__power_w=150),
        bent(sample, items=[]),
        bent(sample, room__day_c=15, room__night_c=10),
    ):
        changes = plan(from_data(data)).changes
        assert (
            sum(not c.clears for c in changes) <= 5 and sum(bool(c.clears) for c in changes) <= 5
        )
        assert len({(c.kind, c.item_id) for c in changes}) == len(changes)
        assert all(c.puts_right >= 0 for c in changes)


def test_a_reading_moves_the_aim_but_not_out_of_the_target(sample: dict[str, Any]) -> None:
    cold = bent(sample, items__0__power_w=50, items__0__at_m=[0.3, 0.3, 0.5], room__day_c=19)
    model = plan(from_data(cold))
    predicted = model.predictions["surface_day"].value
    low = {
        "need": "surface_day",
        "value": predicted - 1.5,
        "at": "2026-06-14T10:00:00+01:00",
        "lamp_on_h": 8,
        "revision": 1,
    }
    measured = plan(from_data({**cold, "readings": [low]}))

    def after(made: Plan) -> float:
        return next(
            e.after
            for c in made.changes
            if c.kind == "power_and_height"
            for e in c.effects
            if e.need is NeedKey.SURFACE_DAY
        )

    assert after(measured) > after(model) - 1e-9
    assert after(measured) <= 43


@settings(
    max_examples=12,
    deadline=None,
    suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow],
)
@given(
    power=st.sampled_from([35, 50, 75, 100, 150]),
    z=st.floats(0.32, 0.55),
    tube_z=st.floats(0.3, 0.55),
    day=st.floats(16, 27),
    night=st.floats(10, 22),
    tube=st.sampled_from(["t5_6", "t5_12", "t8_12"]),
    substrate=st.sampled_from(["soil", "sand"]),
    mesh=st.booleans(),
    length=st.floats(1.0, 1.8),
)
def test_applying_a_change_gives_the_quoted_effect(
    sample: dict[str, Any],
    power: float,
    z: float,
    tube_z: float,
    day: float,
    night: float,
    tube: str,
    substrate: str,
    mesh: bool,
    length: float,
) -> None:
    """The promise of the product: what a change says it will do is what the next plan says it did."""
    data = bent(
        sample,
        items__0__power_w=power,
        items__0__at_m=[0.3, 0.3, round(z, 2)],
        items__1__kind=tube,
        items__1__at_m=[0.45, 0.3, round(tube_z, 2)],
        room__day_c=round(day, 1),
        room__night_c=round(min(night, day), 1),
        enclosure__substrate__material=substrate,
        enclosure__inside_m__length=round(length, 2),
    )
    data["items"] = data["items"][:3]
    if mesh:
        data["enclosure"]["lid"] = {"material": "wood", "mesh": "fly_screen", "mesh_share": 0.5}
    request = from_data(data)
    for change in plan(request).changes:
        again = plan(apply_patch(request, change.patch), advise=False)
        for effect in change.effects:
            assert again.predictions[effect.need.value].value == pytest.approx(
                effect.after, abs=0.05
            )
        assert again.predictions["failed_on_surface"].value == pytest.approx(
            change.safety.surface_c, abs=0.05
        )


# --- notes and laws -------------------------------------------------------------------------------


def test_dangers_and_cautions_are_said(sample: dict[str, Any]) -> None:
    sample["items"][0] |= {"on": None, "off": None}
    slugs = {note.slug for note in plan(from_data(sample)).notes}
    assert {
        "no thermostat",
        "light at night",
        "fire",
        "electricity",
        "commission",
        "species",
        "origins",
    } <= slugs


def test_an_old_tube_is_named(sample: dict[str, Any]) -> None:
    sample["items"][1]["hours_run"] = 6000
    made = plan(from_data(sample))
    assert "old lamp" in {note.slug for note in made.notes}
    assert "uv_new" in [c.kind for c in made.changes]


def test_a_combined_flood_warms_and_gives_ultraviolet(sample: dict[str, Any]) -> None:
    flood = {
        "id": "flood-1",
        "kind": "uv_flood",
        "at_m": [0.3, 0.3, 0.5],
        "power_w": 70,
        "on": "08:00",
        "off": "18:00",
    }
    made = plan(from_data({**sample, "items": [flood]}))
    assert made.predictions["surface_day"].value > 30 and made.predictions["uvi_day"].value > 2
    assert "no thermostat" not in {
        note.slug for note in made.notes
    }  # such floods cannot be dimmed


def test_mesh_costs_heat_and_ultraviolet(sample: dict[str, Any]) -> None:
    plain = plan(from_data(sample))
    lid = {"material": "wood", "mesh": "fly_screen", "mesh_share": 0.6}
    meshed = plan(from_data(bent(sample, enclosure__lid=lid)))
    assert meshed.predictions["warm_air_day"].value < plain.predictions["warm_air_day"].value - 1
    above = bent(
        sample, enclosure__lid=lid, items__1__above_lid=True, items__1__at_m=[0.5, 0.3, 0.61]
    )
    assert (
        plan(from_data(above)).predictions["uvi_day"].value
        < 0.75 * plain.predictions["uvi_day"].value
    )


# --- requests -------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("changes", "pointer", "reason"),
    [
        ({"room__day_c": "warm"}, "/room/day_c", "number"),
        ({"enclosure__inside_m__length": 40}, "/enclosure/inside_m/length", "at most 10"),
        ({"animals": []}, "/animals", "at least 1"),
        ({"animals__0__species": "Draco volans"}, "/animals/0/species", "no profile"),
        ({"animals__0__approaches": {"how-big": "huge"}}, "/animals/0/approaches", "no approach"),
        ({"items__0__kind": "campfire"}, "/items/0/kind", "there is no kind"),
        ({"items__0__at_m": [3.0, 0.3, 0.4]}, "/items/0/at_m", "outside the enclosure"),
        ({"items__0__at_m": [0.3, 0.3, 0.9]}, "/items/0/at_m/2", "above the lid"),
        ({"items__0__at_m": [0.3, 0.3, 0.07]}, "/items/0/at_m/2", "in the substrate"),
        ({"items__0__at_m": [0.3, 0.3, 0.10]}, "/items/0/at_m/2", "in or under the stone"),
        ({"items__0__power_w": None}, "/items/0/power_w", "a number"),
        ({"items__0__power_w": 0}, "/items/0/power_w", "more than 0"),
        ({"items__0__off": None}, "/items/0/off", "both its times"),
        ({"items__0__on": "25:00"}, "/items/0/on", "match"),
        ({"items__1__length_m": 1.45}, "/items/1/at_m/0", "does not fit"),
        ({"items__1__id": "lamp-1"}, "/items/1/id", "used twice"),
        ({"items__1__above_lid": True}, "/items/1/above_lid", "solid lid"),
        ({"items__2__size_m": [2.0, 0.3, 0.03]}, "/items/2/size_m/0", "larger than the enclosure"),
        ({"items__1__thermostat": {"set_c": 30}}, "/items/1/thermostat", "not permitted"),
        ({"enclosure__substrate__depth_m": 0.5}, "/enclosure/substrate/depth_m", "too little"),
        ({"place": {"tz": "Mars/Base"}}, "/place/tz", "time zone"),
        ({"now": "2026-06-14T12:00:00"}, "/now", "time zone"),
        ({"colour": "red"}, "/colour", "not permitted"),
    ],
)
def test_a_wrong_request_gets_pointers_and_reasons(
    sample: dict[str, Any],
    changes: dict[str, Any],
    pointer: str,
    reason: str,
    tmp_path: Path,
    capsys: pytest.CaptureFixture[str],
) -> None:
    file = tmp_path / "request.json"
    file.write_text(json.dumps(bent(sample, **changes)), encoding="utf-8")
    assert main(["plan", str(file)]) == 2
    problems = json.loads(capsys.readouterr().err)["problems"]
    assert any(p["pointer"].startswith(pointer) and reason in p["reason"] for p in problems), (
        problems
    )


def test_all_problems_are_listed_at_once(sample: dict[str, Any]) -> None:
    with pytest.raises(DocumentError) as refused:
        from_data(bent(sample, room__day_c="x", room__rh_pct=140, animals__0__mass_g=-3))
    assert {p.pointer for p in refused.value.problems} == {
        "/room/day_c",
        "/room/rh_pct",
        "/animals/0/mass_g",
    }


@pytest.mark.parametrize("text", ["", "[1", "nul", '"a"', "[]", "{}", "\udcff"])
def test_what_is_no_request_at_all_is_refused(
    text: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "request.json"
    file.write_bytes(text.encode("utf-8", "surrogateescape"))
    assert main(["plan", str(file)]) == 2
    assert json.loads(capsys.readouterr().err)["problems"]
    assert main(["plan", str(tmp_path / "none.json")]) == 2


def test_the_command_line_prints_one_number_by_pointer(capsys: pytest.CaptureFixture[str]) -> None:
    made = plan(from_data(json.loads(SAMPLE.read_text(encoding="utf-8"))))
    for key, derivation in made.predictions.items():
        if derivation.command.startswith("plan"):
            words = derivation.command.replace("FILE.json", str(SAMPLE)).split()
            assert main(words) == 0
            assert float(capsys.readouterr().out) == pytest.approx(derivation.value, abs=1e-9), key
    assert main(["plan", str(SAMPLE), "--number", "/nothing/here"]) == 2


def test_the_module_runs_as_a_program() -> None:
    shown = subprocess.run(
        [sys.executable, "-m", "husbandry", "plan", str(SAMPLE)],
        cwd=ROOT,
        check=True,
        capture_output=True,
        text=True,
    )
    assert json.loads(shown.stdout)["format"] == "ridgeback-plan/2"


def _words(schema: dict[str, Any]) -> list[str]:
    return schema.get("enum") or [schema["const"]]


def test_the_words_of_the_request_are_rows_of_the_tables() -> None:
    uv_kinds = {kind for kind, cls in CLASS_OF.items() if cls.is_uv}
    assert set(LAMP_KINDS) <= set(HEATERS) and uv_kinds == set(UV_LAMPS)
    schema = Request.model_json_schema()
    assert set(schema["$defs"]["Lid"]["properties"]["mesh"]["anyOf"][0]["enum"]) == set(MESHES)
    assert set(schema["$defs"]["Substrate"]["properties"]["material"]["enum"]) == {
        m.name for m in MATERIALS.values() if m.use == "substrate"
    }
    sides = schema["$defs"]["PanelMaterials"]["properties"]
    panels = {m.name for m in MATERIALS.values() if m.use == "panel"}
    assert set(sides["bottom"]["enum"]) == {name for name in panels if name != "mesh"}
    assert {word for one in sides["front"]["anyOf"] for word in _words(one)} == panels
