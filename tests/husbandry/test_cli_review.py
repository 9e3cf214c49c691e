"""`python -m husbandry review`: a description as text or JSON, judged or refused with its reasons."""

import io
import json
from pathlib import Path
from typing import Any

import pytest

from husbandry.cli import main
from husbandry.review.review import Review
from husbandry.review.tried_fixes import TriedFixes

SAID = "Leopard gecko on calci sand with a heat rock, no hides, basking at 95"


@pytest.fixture
def told(tmp_path: Path) -> str:
    """A description in a file."""
    file = tmp_path / "said.txt"
    file.write_text(SAID, encoding="utf-8")
    return str(file)


def test_a_text_is_judged_as_json(told: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["review", told, "--quick"]) == 0
    found = Review.model_validate_json(capsys.readouterr().out)
    assert found.findings[0].slug == "hot rock"
    assert found.correction is None


def test_json_is_judged_as_the_text_it_says(
    capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    said: dict[str, Any] = {
        "animal": {"species": "Eublepharis macularius"},
        "heat": [{"kind": "hot_rock"}],
    }
    monkeypatch.setattr("sys.stdin", io.StringIO(json.dumps(said)))
    assert main(["review", "-", "--quick"]) == 0
    assert Review.model_validate_json(capsys.readouterr().out).findings[0].slug == "hot rock"


def test_a_letter_is_in_the_units_that_are_asked_for(
    told: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["review", told, "--quick", "--letter", "--imperial"]) == 0
    letter = capsys.readouterr().out
    assert letter.startswith("Thank you")
    assert "°C" not in letter


def test_fixes_are_tried_and_what_is_none_is_refused(
    told: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["review", told, "--quick", "--try", "no hides"]) == 0
    tried = TriedFixes.model_validate_json(capsys.readouterr().out)
    assert "No hide" in tried.mended
    assert main(["review", told, "--quick", "--try", "no such thing"]) == 2
    assert "no finding that can be tried" in capsys.readouterr().err
    assert main(["review", told, "--quick", "--try", "hot rock"]) == 2
    assert "leave out --quick" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("text", "reason"),
    [
        ("", "Paste or write"),
        ("sand " * 2000, "at most 8 000"),
        ('{"hides": -1}', "at least 0"),
        ('{"hides": ', "not JSON"),
        ('{"animal": {"species": "Draco volans"}}', "no species"),
        ('{"wings": 2}', "not permitted"),
    ],
)
def test_what_cannot_be_read_is_refused_with_its_reason(
    text: str, reason: str, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("sys.stdin", io.StringIO(text))
    assert main(["review", "-"]) == 2
    assert reason in capsys.readouterr().err


def test_a_file_that_is_not_there_is_said(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["review", "nowhere.txt"]) == 2
    assert "cannot be read" in capsys.readouterr().err
