"""`CORE_VERSION` says whether the same request may give another plan: these plans hold it to that."""

import json
from typing import Any

import pytest

from husbandry import CORE_VERSION
from tests.husbandry import golden

KEPT: dict[str, Any] = json.loads(golden.FILE.read_text(encoding="utf-8"))
AGAIN = "raise CORE_VERSION (husbandry/__init__.py), then: python -m tests.husbandry.golden"


def test_the_golden_plans_are_of_this_version() -> None:
    assert KEPT["core_version"] == CORE_VERSION, AGAIN
    assert KEPT["plans"].keys() == golden.requests().keys()


@pytest.mark.parametrize("name", golden.requests())
def test_the_same_request_gives_the_same_plan(name: str) -> None:
    """Predicted values to two hundredths: another processor adds in another order."""
    now, then = golden.summary(golden.requests()[name]), KEPT["plans"][name]
    values = {key: value for key, (value, *_) in now["needs"].items()}
    known = {key: value for key, (value, *_) in then["needs"].items()}

    assert values == pytest.approx(known, abs=0.02), AGAIN
    assert {key: told for key, (_, *told) in now["needs"].items()} == {
        key: told for key, (_, *told) in then["needs"].items()
    }, AGAIN
    for part in ("notes", "changes", "enough"):
        assert now[part] == then[part], AGAIN
