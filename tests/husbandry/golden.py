"""Golden plans: what the core said of a few requests when its version was set.

`python -m tests.husbandry.golden` writes them anew, after `CORE_VERSION` was raised.
"""

import copy
import json
from pathlib import Path
from typing import Any

from husbandry import CORE_VERSION
from husbandry.documents.request_json import from_data
from husbandry.plan.plan import plan

SAMPLE = Path(__file__).parents[2] / "docs" / "samples" / "request.json"
FILE = Path(__file__).parent / "data" / "golden-plans.json"


def requests() -> dict[str, dict[str, Any]]:
    """The sample, and the same in other rooms, with another lamp, lid and number of animals."""
    sample: dict[str, Any] = json.loads(SAMPLE.read_text(encoding="utf-8"))
    sample["readings"] = []
    found = {"sample": sample}

    def changed(name: str) -> dict[str, Any]:
        found[name] = copy.deepcopy(sample)
        return found[name]

    changed("cold room")["room"] |= {"day_c": 16, "night_c": 12}
    changed("hot summer")["room"] |= {"summer_max_c": 36}
    brighter = next(
        one for one in changed("larger lamp")["items"] if one["kind"] == "halogen_flood"
    )
    brighter["power_w"] = 100
    small = changed("small")
    small["enclosure"]["inside_m"]["length"] = 0.9
    small["items"] = [
        one for one in small["items"] if "length_m" not in one and one["at_m"][0] < 0.8
    ]
    two = changed("two animals")
    two["animals"].append({**two["animals"][0], "name": "another"})
    return found


def summary(request: dict[str, Any]) -> dict[str, Any]:
    """What a keeper reads first of a plan: numbers, verdicts, findings and changes."""
    made = plan(from_data(request))
    return {
        "needs": {
            f"{need.key.value} {need.phase}": [
                round(need.predicted.value, 2) if need.predicted else None,
                need.verdict.direction,
                need.verdict.limit,
            ]
            for need in made.needs
        },
        "notes": sorted(f"{note.severity}: {note.slug}" for note in made.notes),
        "changes": [f"{change.kind} {change.item_id or ''}".strip() for change in made.changes],
        "enough": made.size.enough,
    }


def written() -> dict[str, Any]:
    """All of them, with the version that made them."""
    plans = {name: summary(request) for name, request in requests().items()}
    return {"core_version": CORE_VERSION, "plans": plans}


if __name__ == "__main__":
    FILE.write_text(json.dumps(written(), ensure_ascii=False, indent=1) + "\n", encoding="utf-8")
