"""`python -m husbandry life-plan`: the sample request's animal through its life."""

import json
from pathlib import Path

from husbandry.cli import main

SAMPLE = Path(__file__).parents[2] / "docs" / "samples" / "request.json"


def test_a_path_is_printed_with_the_ways_to_buy(capsys):
    assert main(["life-plan", str(SAMPLE)]) == 0
    found = json.loads(capsys.readouterr().out)
    assert {"life_plan", "buying"} == set(found)
    assert {"enclosure", "food"} <= {
        life_row["slug"] for life_row in found["life_plan"]["life_rows"]
    }
    assert sum(plan["advised"] for plan in found["buying"]["plans"]) == 1


def test_an_animal_that_is_not_there_is_said(capsys):
    assert main(["life-plan", str(SAMPLE), "--animal", "7"]) == 2
    assert "no animal 7" in capsys.readouterr().err
