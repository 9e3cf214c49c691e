"""Find a setup: how long a whole search takes, against one plan.

    .venv/bin/python -m benchmarks.setups

Target: under ten seconds on one core.
"""

import json
import time
from pathlib import Path

import husbandry  # noqa: F401  # one BLAS thread, before numpy
from husbandry.documents.request_json import from_data
from husbandry.plan.plan import plan, plan_summary
from husbandry.setups.search import find_setups

SAMPLE = Path(__file__).parents[1] / "docs" / "samples" / "request.json"
TARGET_S = 10.0


def main() -> int:
    """Measure and print."""
    data = json.loads(SAMPLE.read_text(encoding="utf-8"))
    request = from_data({**data, "readings": []})
    plan_summary(request)
    plans = 10
    start = time.perf_counter()
    for _ in range(plans):
        plan(request)
    each = (time.perf_counter() - start) / plans
    start = time.perf_counter()
    found = find_setups(request)
    whole = time.perf_counter() - start
    print(f"plan() of one setup     {1000 * each:9.1f} ms   ratio      1.0")
    print(
        f"search, {found.planned:3d} in full    {1000 * whole:9.1f} ms   ratio {whole / each:8.1f}"
    )
    print(f"{len(found.offers)} offered; target {TARGET_S:.0f} s")
    return int(whole > TARGET_S)


if __name__ == "__main__":
    raise SystemExit(main())
