"""New animals: how long they are kept apart, what a plan says of it, and what the day's tasks do."""

import datetime as dt
import json
from typing import Any

import pytest

from husbandry.documents.request_json import from_data
from husbandry.findings.quarantine import LEAST_DAYS, MOST_DAYS, quarantine_of
from husbandry.plan.plan import plan
from husbandry.tasks.routines import routines

TODAY = dt.date(2026, 6, 14)


def test_it_lasts_thirty_to_ninety_days() -> None:
    """Source: substrate B4: 30 to 90 days (common practice, no source)."""
    assert (LEAST_DAYS, MOST_DAYS) == (30, 90)


@pytest.mark.parametrize(
    ("days", "phase"),
    [(-1, None), (0, "first"), (29, "first"), (30, "second"), (89, "second"), (90, None)],
)
def test_a_new_animal_goes_through_both_phases(days: int, phase: str | None) -> None:
    held = quarantine_of(TODAY - dt.timedelta(days=days), TODAY)
    assert (held.phase if held else None) == phase
    if held:
        assert (held.most - held.least).days == 60
    assert quarantine_of(None, TODAY) is None


def said(sample: dict[str, Any], *days: int | None, **enclosure: Any) -> dict[str, str]:
    data = json.loads(json.dumps(sample))
    first = data["animals"][0]
    data["animals"] = [
        {**first, "name": f"One {n}"}
        | ({"came_on": (TODAY - dt.timedelta(days=ago)).isoformat()} if ago is not None else {})
        for n, ago in enumerate(days)
    ]
    data["enclosure"]["substrate"] |= enclosure
    return {
        note.slug: note.text
        for note in plan(from_data(data)).notes
        if note.slug.startswith("quarantine")
    }


def test_a_plan_says_what_is_done_meanwhile(sample: dict[str, Any]) -> None:
    assert said(sample, None) == {} and said(sample, 120) == {}
    first = said(sample, 3)
    assert (
        set(first) == {"quarantine", "quarantine substrate"}
        and "until 11 July 2026" in first["quarantine"]
    )
    assert "veterinarian" in first["quarantine"] and "paper" in first["quarantine substrate"]
    assert set(said(sample, 3, material="paper", depth_m=0.002)) == {"quarantine"}
    second = said(sample, 40)
    assert (
        set(second) == {"quarantine"}
        and "two samples" in second["quarantine"]
        and "a veterinarian says when" in second["quarantine"]
    )


def test_a_new_one_beside_others_is_told_apart(sample: dict[str, Any]) -> None:
    assert (
        "One 0 is in quarantine and shares this enclosure with One 1"
        in said(sample, 3, None)["quarantine shared"]
    )
    assert "quarantine shared" not in said(sample, 3, 3)  # they came together


def test_it_is_weighed_every_week(sample: dict[str, Any]) -> None:
    new = {**sample, "animals": [{**sample["animals"][0], "came_on": "2026-06-01"}]}
    assert (
        routines(from_data(new)).animals[0].weigh_days
        == 7
        < routines(from_data(sample)).animals[0].weigh_days
    )
