import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import settings

from husbandry.documents.request import Request
from husbandry.documents.request_json import from_data

settings.register_profile(
    "calm", deadline=None
)  # a first call reads the library; no test is about speed
settings.load_profile("calm")
SAMPLE = Path(__file__).parents[2] / "docs" / "samples" / "request.json"


@pytest.fixture
def sample() -> dict[str, Any]:
    """The documented sample request, as JSON values to bend."""
    data: dict[str, Any] = json.loads(SAMPLE.read_text(encoding="utf-8"))
    data["readings"] = []
    return data


@pytest.fixture
def request_(sample: dict[str, Any]) -> Request:
    return from_data(sample)
