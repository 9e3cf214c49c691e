"""Find me a setup: how many setups a second are screened, against planning each.

    .venv/bin/python -m benchmarks.setups

Target: at least 2,000 a second on one core.
"""

import json
import time
from pathlib import Path

import husbandry  # noqa: F401  # one BLAS thread, before numpy
from husbandry.documents.request_json import from_data
from husbandry.plan.plan import plan, plan_summary
from husbandry.setups.fitting_out import bare_enclosure_of
from husbandry.setups.screening import screen
from husbandry.setups.search import find_setups

SAMPLE = Path(__file__).parents[1] / "docs" / "samples" / "request.json"
TARGET = 2000


def main() -> int:
    """Measure and print."""
    data = json.loads(SAMPLE.read_text(encoding="utf-8"))
    request = from_data({**data, "readings": []})
    plan_summary(request)
    today = 10
    start = time.perf_counter()
    for _ in range(today):
        plan(request)
    each = (time.perf_counter() - start) / today
    start = time.perf_counter()
    seen = screen(bare_enclosure_of(request))
    spent = time.perf_counter() - start
    rate = seen.screened / spent
    start = time.perf_counter()
    found = find_setups(request)
    whole = time.perf_counter() - start
    print(
        f"plan() of one setup            {1000 * each:9.1f} ms   {1 / each:12.1f} a second   ratio "
        "     1.0"
    )
    print(
        f"screened: {seen.screened:8d} setups    {1000 * spent:9.1f} ms   {rate:12.1f} a second  "
        f" ratio {rate * each:8.1f}   target {TARGET}"
    )
    print(
        f"whole search, {found.predicted} in full      {1000 * whole:9.1f} ms   {len(found.offers)}"
        " offered"
    )
    return 0 if rate >= TARGET else 1


if __name__ == "__main__":
    raise SystemExit(main())
