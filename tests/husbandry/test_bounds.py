"""What a recorded value can be at all: the same in forms, imports and the database."""

import datetime as dt
import json
from pathlib import Path
from typing import Any

import pytest

from husbandry import bounds
from husbandry.documents.importing import present_problems, questions
from husbandry.documents.request_json import from_data
from husbandry.errors import CannotCalculateError, DocumentError
from husbandry.json_text import read_json
from husbandry.plan import plan as planning
from husbandry.quantity import PLAUSIBLE
from husbandry.readings import value_problem
from husbandry.species.needs import NEEDS, NeedKey

NOW = dt.datetime(2026, 6, 14, 12, tzinfo=dt.UTC)
READING = {
    "need": "surface_day",
    "value": 38.0,
    "at": "2026-06-14T10:00:00+01:00",
    "instrument": "infrared",
}


def bent(sample: dict[str, Any], path: str, value: Any) -> dict[str, Any]:
    """The sample with one place changed."""
    data: dict[str, Any] = json.loads(json.dumps(sample))
    *way, last = [int(part) if part.isdecimal() else part for part in path.strip("/").split("/")]
    parent: Any = data
    for part in way:
        parent = parent[part]
    parent[last] = value
    return data


IMPOSSIBLE = [
    # each was accepted silently, or took a page away
    ("/readings/0/value", 1e308),
    ("/readings/0/value", 1e155),
    ("/readings/0/value", 1_000_000),
    ("/readings/0/value", -272),
    ("/readings/0/offset", 900),
    ("/readings/0/at", "0001-01-01T00:00:00+00:00"),
    ("/readings/0/at", "2099-01-01T00:00:00+00:00"),
    ("/readings/0/instrument", "<script>x"),
    ("/readings/0/revision", 0),
    ("/now", "9999-12-31T23:00:00+01:00"),
    ("/now", "0001-01-01T00:00:00+00:00"),
    ("/revision", 2147483648),
    ("/revision", -3),
    ("/animals/0/born_on", "9999-12-31"),
    ("/animals/0/born_on", "0001-01-01"),
    ("/animals/0/mass_g", 1e-9),
    ("/animals/0/mass_g", 1e9),
    ("/animals/0/length_mm/total", 1e-9),
    ("/animals/0/came_on", "2025-01-01"),  # the sample was born on 1 February 2025
    ("/animals/0/fed_on", "0001-01-01"),
    ("/room/summer_max_c", -5),
    ("/room/day_c", 51),
    ("/room/winter_day_c", 40),
    ("/items/2/size_m/2", 1e-9),  # its heat network gained heat, and a chart drew 1e34 lines
]


@pytest.mark.parametrize(("path", "value"), IMPOSSIBLE)
def test_what_cannot_be_is_refused_with_its_place(
    sample: dict[str, Any], path: str, value: Any
) -> None:
    whole = {**sample, "readings": [READING]}
    with pytest.raises(DocumentError) as error:
        from_data(bent(whole, path, value))
    places = [problem.pointer for problem in error.value.problems]
    assert any(
        path.startswith(place) or place.startswith(path) or place == "/room/summer_max_c"
        for place in places
    ), places


def test_what_is_possible_is_taken(sample: dict[str, Any]) -> None:
    whole = {**sample, "readings": [READING]}
    for path, value in (
        ("/animals/0/mass_g", 0.01),
        ("/readings/0/value", 119),
        ("/animals/0/came_on", "2025-02-01"),
    ):
        from_data(bent(whole, path, value))


@pytest.mark.parametrize("need", list(NeedKey))
def test_a_reading_is_bounded_as_its_form_is(need: NeedKey) -> None:
    low, high = PLAUSIBLE[NEEDS[need].plausible].possible
    assert value_problem(need, low) == value_problem(need, high) == ""
    assert NEEDS[need].name in value_problem(need, low - 1) and value_problem(need, high + 1)
    assert value_problem(need, float("nan")) and value_problem(need, float("inf"))


def test_days_are_bounded_at_both_ends() -> None:
    today = dt.date(2026, 6, 14)
    assert bounds.day_problem(today, today) == ""
    assert (
        bounds.day_problem(today + dt.timedelta(days=1), today) == ""
    )  # tomorrow is today in Kiribati
    assert "still to come" in bounds.day_problem(today + dt.timedelta(days=2), today)
    assert "too long ago" in bounds.day_problem(dt.date(1989, 12, 31), today)
    assert bounds.birth_problem(dt.date(1832, 1, 1), today) == ""  # a giant tortoise, from memory
    assert bounds.birth_problem(dt.date(1700, 1, 1), today)


def test_an_import_is_checked_against_the_present(sample: dict[str, Any]) -> None:
    """A document may be sound by itself and still tell of days to come."""
    document = bent(sample, "/now", "2027-06-14T12:00:00+01:00")
    places = [one.pointer for one in present_problems(from_data(document), NOW)]
    assert places == ["/now"]
    fed = bent(sample, "/animals/0/fed_on", "2026-07-01")
    assert [one.pointer for one in present_problems(from_data(fed), NOW)] == ["/animals/0/fed_on"]
    light = bent(bent(sample, "/animals/0/mass_g", 300), "/animals/0/trend_pct", -99.9999)
    assert [one.pointer for one in present_problems(from_data(light), NOW)] == [
        "/animals/0/trend_pct"
    ]
    assert present_problems(from_data(sample), NOW) == []


@pytest.mark.parametrize(
    ("path", "value"),
    [
        ("/animals/0/mass_g", 60_000),
        ("/animals/0/length_mm/total", 4000),
        ("/room/day_c", 4),
        ("/readings/0/value", 85),
    ],
)
def test_what_is_unlikely_is_asked_about(sample: dict[str, Any], path: str, value: float) -> None:
    whole = bent({**sample, "readings": [READING]}, path, value)
    assert path in [one.pointer for one in questions(from_data(whole))]


def test_the_sample_raises_no_question(sample: dict[str, Any]) -> None:
    assert questions(from_data(sample)) == []


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ('{"a": "\\ud800"}', "half of a character"),
        ('{"\\ud800": 1}', "half of a character"),
        ('{"a": ["x", "\\u0000"]}', "character zero"),
        ('{"a": 1e999}', "not finite"),
        ('{"a": ' + "9" * 5000 + "}", "too many digits"),
        ("[" * 100_000, "nested deeper"),
    ],
)
def test_json_that_nothing_can_store_is_refused(text: str, said: str) -> None:
    with pytest.raises(DocumentError, match=said):
        read_json(text, "document")


def test_arithmetic_that_fails_says_so(
    sample: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    def fail(*_: object, **__: object) -> None:
        raise OverflowError("too large")

    monkeypatch.setattr(planning, "predict", fail)
    with pytest.raises(CannotCalculateError, match="cannot be calculated"):
        planning.plan(from_data(sample))


def test_the_schema_in_docs_says_the_same_bounds() -> None:
    file = Path(__file__).parents[2] / "docs/formats/schemas/ridgeback-request-2.schema.json"
    animal = json.loads(file.read_text(encoding="utf-8"))["$defs"]["Animal"]["properties"][
        "mass_g"
    ]["anyOf"][0]
    assert (animal["minimum"], animal["maximum"]) == bounds.MASS_G
