"""First setups on the command line."""

import json

import pytest

from husbandry.cli import main


def test_a_starter_is_a_request_that_plans(capsys, tmp_path):
    assert (
        main(["starter", "leopard gecko", "--stage", "adult", "--room", "21", "18", "28", "50"])
        == 0
    )
    file = tmp_path / "setup.json"
    file.write_text(capsys.readouterr().out, encoding="utf-8")
    assert main(["plan", str(file), "--number", "/needs"]) == 0
    needs = json.loads(capsys.readouterr().out)
    assert {need["verdict"]["direction"] for need in needs} == {"right"}


def test_what_is_owned_and_the_enclosure_that_is_there_are_used(capsys, tmp_path):
    enclosure = {
        "inside_m": {"length": 0.87, "depth": 0.42, "height": 0.42},
        "panels": dict.fromkeys(("back", "left", "right", "bottom"), "wood") | {"front": "glass"},
        "lid": {"material": "wood"},
        "substrate": {"material": "soil", "depth_m": 0.04},
        "vents": {"low_cm2": 60, "high_cm2": 60},
    }
    there, own = tmp_path / "enclosure.json", tmp_path / "own.json"
    there.write_text(json.dumps(enclosure))
    own.write_text(json.dumps([{"kind": "infrared_panel", "power_w": 40}]))
    given = ["starter", "Eublepharis macularius", "--enclosure", str(there), "--own", str(own)]
    assert main(given) == 0
    made = json.loads(capsys.readouterr().out)
    assert made["enclosure"]["inside_m"] == enclosure["inside_m"]


def test_a_room_too_warm_is_said_on_standard_error(capsys):
    assert main(["starter", "Salamandra salamandra"]) == 0
    assert "too warm" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("arguments", "word"),
    [
        (["starter", "Unicornus"], "no profile"),
        (["starter", "leopard gecko", "--stage", "elder"], "no stage"),
        (["starter", "leopard gecko", "--approach", "loose"], "Q=A"),
        (["starter", "leopard gecko", "--own", "nowhere.json"], "cannot be read"),
    ],
)
def test_wrong_arguments_are_refused_with_a_reason(arguments, word, capsys):
    assert main(arguments) == 2
    assert word in capsys.readouterr().err


def test_the_closure_of_one_species(capsys):
    given = ["closure", "--species", "leopard gecko", "--rooms", "21/18/28/50", "--workers", "1"]
    assert main(given) == 0
    said = capsys.readouterr().out
    assert "in range 100.0%" in said and "dead ends 0" in said
    with pytest.raises(SystemExit):
        main(["closure", "--rooms", "warm"])
