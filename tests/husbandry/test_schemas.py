"""The JSON Schemas that ship: current, valid themselves, and true of the samples and of what the
core writes.
"""

import json
from importlib.resources import files
from pathlib import Path
from typing import Any

import jsonschema
import pytest

from husbandry import schemas
from husbandry.cli import main
from husbandry.documents.request_json import from_data, to_data
from husbandry.documents.result import Plan, to_json
from husbandry.plan.plan import plan

DOCS = Path(__file__).parents[2] / "docs"
SCHEMAS = {name: schemas.schema(name) for name in schemas.SCHEMAS}


def valid(name: str, data: Any) -> None:
    jsonschema.Draft202012Validator(SCHEMAS[name]).validate(data)


def test_the_files_in_docs_are_current() -> None:
    """Run `python -m husbandry schemas --folder docs/formats/schemas` after changing a format."""
    shipped = {
        file.name: file.read_text(encoding="utf-8")
        for file in (DOCS / "formats" / "schemas").glob("*.json")
    }
    assert shipped == schemas.files()


@pytest.mark.parametrize("name", sorted(schemas.SCHEMAS))
def test_each_is_a_schema_by_the_metaschema(name: str) -> None:
    """JSON Schema 2020-12, by the reference implementation in the registry."""
    jsonschema.Draft202012Validator.check_schema(SCHEMAS[name])


def test_every_profile_is_valid() -> None:
    for file in files("husbandry.species").joinpath("profiles").iterdir():
        if file.name.endswith(".json"):
            valid("ridgeback-profile-3", json.loads(file.read_text(encoding="utf-8")))


def test_the_samples_and_their_plan_are_valid() -> None:
    request = json.loads((DOCS / "samples" / "request.json").read_text(encoding="utf-8"))
    valid("ridgeback-request-2", request)
    known = json.loads((DOCS / "samples" / "plan.json").read_text(encoding="utf-8"))
    valid("ridgeback-plan-2", known)
    made = json.loads(to_json(plan(from_data(request))))
    valid("ridgeback-plan-2", made)
    assert made.keys() == known.keys() and [n["key"] for n in made["needs"]] == [
        n["key"] for n in known["needs"]
    ]


def test_requests_and_plans_survive_writing_and_reading(sample: dict[str, Any]) -> None:
    request = from_data(sample)
    assert from_data(to_data(request)) == request
    made = plan(request)
    assert Plan.model_validate_json(to_json(made)) == made


@pytest.mark.parametrize(
    "bend",
    [
        lambda d: d.pop("room"),
        lambda d: d.update(format="ridgeback-request/9"),
        lambda d: d["room"].update(day_c="warm"),
        lambda d: d["items"][0].update(kind="campfire"),
        lambda d: d.update(surplus=1),
    ],
)
def test_what_the_core_refuses_the_schema_refuses(sample: dict[str, Any], bend: Any) -> None:
    bend(sample)
    with pytest.raises(jsonschema.ValidationError):
        valid("ridgeback-request-2", sample)


def test_the_command_lists_and_writes_them(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["schemas"]) == 0 and "ridgeback-request-2.schema.json" in capsys.readouterr().out
    assert (
        main(["schemas", "--folder", str(tmp_path / "new")]) == 0
        and len(list((tmp_path / "new").iterdir())) == 6
    )
