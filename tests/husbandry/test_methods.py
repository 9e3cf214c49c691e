import json
import re
from pathlib import Path

import pytest

from husbandry import methods
from husbandry.cli import main
from husbandry.errors import HusbandryError, OutOfRangeError, UnknownNameError

# docs/decisions.md, 18: names that this work already has
NAMED = {
    "saturation_vapour_pressure",
    "dew_point",
    "rh_elsewhere",
    "mesh_transmission",
    "tube_geometry",
    "tube_uvi",
    "tube_distance",
    "erythema_weight",
    "day_length",
    "lobe_exponent",
    "flood_irradiance",
    "plate_convection",
    "surface_balance",
    "stack_ventilation",
    "tank_volume",
    "field_metabolic_rate",
    "resting_metabolic_rate",
    "calcium_supplement",
    "corrected_reading",
}


@pytest.mark.parametrize("name", methods.all_methods())
def test_the_derivation_example_of_every_method_holds(name: str) -> None:
    entry = methods.find(name)
    result = methods.compute(name, entry.example.arguments)
    assert result.value == pytest.approx(entry.example.result, rel=entry.example.rel), (
        entry.example.source
    )
    assert entry.example.source and entry.source.kind and entry.rule.endswith(".")


def test_no_module_with_a_method_is_forgotten() -> None:
    """A list kept by hand left out a module."""
    folder = Path(methods.__file__).parent
    written = {
        name
        for file in folder.rglob("*.py")
        for name in re.findall(
            r"^@method\(.*?^def (\w+)\(", file.read_text(encoding="utf-8"), re.M | re.S
        )
    }
    assert len(written) > 40 and set(methods.all_methods()) == written


def test_the_named_methods_are_all_there() -> None:
    assert set(methods.all_methods()) >= NAMED


def test_a_working_carries_the_command_that_gives_the_same_number(
    capsys: pytest.CaptureFixture[str],
) -> None:
    derivation = methods.compute("rh_elsewhere", {"rh_pct": 65, "temp_c": 24, "temp_there_c": 33})
    assert main(derivation.command.split()) == 0
    assert json.loads(capsys.readouterr().out)["value"] == derivation.value


def test_out_of_range_exits_with_three_and_json(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["compute", "dew_point", "rh_pct=140", "temp_c=20"]) == 3
    said = json.loads(capsys.readouterr().err)["out_of_range"]
    assert (said["name"], said["high"], said["unit"]) == ("rh_pct", 100, "%")


@pytest.mark.parametrize(
    "words",
    [
        ["dew_point", "rh_pct=60"],
        ["dew_point", "rh_pct=wet", "temp_c=20"],
        ["dew_point", "x"],
        ["dew_point", "colour=1"],
        ["nothing"],
        ["day_length", "lat_deg=1", "date=soon"],
    ],
)
def test_a_wrong_call_exits_with_two_and_a_reason(
    words: list[str], capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["compute", *words]) == 2
    assert json.loads(capsys.readouterr().err)["problems"][0]["reason"]


def test_errors_belong_to_one_family() -> None:
    assert (
        issubclass(OutOfRangeError, HusbandryError)
        and issubclass(UnknownNameError, HusbandryError)
        and issubclass(HusbandryError, ValueError)
    )


def test_the_list_of_methods_names_units_and_sources(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["methods"]) == 0
    said = capsys.readouterr().out
    assert "tube_distance(uvi_ref [UVI]" in said and "ISO/CIE 17166" in said


def test_the_pages_in_docs_are_those_of_the_registry() -> None:
    """Run `python -m husbandry methods --pages docs/methods/by-name` after changing a method."""
    folder = Path(__file__).parents[2] / "docs" / "methods" / "by-name"
    assert {
        file.name: file.read_text(encoding="utf-8") for file in folder.glob("*.md")
    } == methods.pages()


def test_every_method_that_others_may_rely_on_is_there() -> None:
    asked = """
    saturation_vapour_pressure dew_point rh_elsewhere mesh_transmission tube_geometry
    tube_uvi tube_distance erythema_weight day_length lobe_exponent flood_irradiance
    plate_convection surface_balance stack_ventilation tank_volume mix_volumes floor_load
    field_metabolic_rate resting_metabolic_rate meal_mass calcium_supplement
    corrected_reading weight_change body_width
    """
    assert set(asked.split()) <= set(methods.all_methods())


@pytest.mark.parametrize("entry", methods.all_methods().values(), ids=lambda entry: entry.name)
def test_a_method_says_what_it_takes_gives_and_rests_on(entry: methods.Method) -> None:
    assert entry.rule.endswith(".") and entry.validity.endswith(".") and entry.source.kind
    for argument in entry.arguments.values():
        assert argument.choices or argument.unit.startswith("date") or argument.low < argument.high
