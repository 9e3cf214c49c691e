import json
import shutil
from importlib.resources import files
from pathlib import Path

import pytest

from husbandry.cli import main

DATA = Path(__file__).parents[1] / "data" / "check-values.csv"
PROFILES = Path(str(files("husbandry.species").joinpath("profiles")))


def test_the_command_reports_coverage_consistency_and_check_values(
    capsys: pytest.CaptureFixture[str],
) -> None:
    assert main(["audit", "--check-values", str(DATA)]) == 0
    said = capsys.readouterr().out
    assert (
        "Pogona vitticeps" in said
        and "no rule finds anything" in said
        and "61 match" in said
        and "0 of at most 5 explained" in said
    )


def test_a_file_of_the_same_format_with_a_miss_fails(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "more.csv"
    header = "species,stage,quantity,low,high,unit,qualifier,literature\n"
    file.write_text(
        f"# more\n{header}Pogona vitticeps,all,night_air,40,45,degC,,\nDraco"
        " volans,all,mass,1,2,g,,\n",
        encoding="utf-8",
    )
    assert main(["audit", "--check-values", str(file)]) == 1
    said = capsys.readouterr().out
    assert "miss" in said and "16 to 24" in said and "Draco volans: there is no profile" in said
    assert main(["audit", "--check-values", str(file), "--json"]) == 1
    data = json.loads(capsys.readouterr().out)
    assert [row["verdict"] for row in data["check_values"]] == ["miss", "unknown species"]
    assert {"memory_share", "by_origin", "findings"} <= set(data["profiles"][0])


def test_a_bad_file_is_named_and_the_rest_is_reported(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    shutil.copy(PROFILES / "pogona-vitticeps.json", tmp_path)
    (tmp_path / "broken.json").write_text("{", encoding="utf-8")
    assert main(["audit", "--folder", str(tmp_path)]) == 1
    said = capsys.readouterr().out
    assert "1 profiles" in said and "refused: broken.json: /: this is not JSON" in said


@pytest.mark.parametrize("arguments", [["--folder", "nowhere"], ["--check-values", "nowhere.csv"]])
def test_what_cannot_be_read_is_said(
    arguments: list[str], capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["audit", *arguments]) == 2 and "nowhere" in capsys.readouterr().err
