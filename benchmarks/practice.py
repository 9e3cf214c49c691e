"""Practice: making a case of each level anew, beside one prediction of the same enclosure.

.venv/bin/python -m benchmarks.practice
"""

import statistics
import time

from husbandry.plan.plan import prediction_of
from husbandry.practice.base_setups import base_setups
from husbandry.practice.cases import LEVELS
from husbandry.practice.fairness import fair_case

CASE_MOST_MS = 500.0
NUMBERS = range(40)


def main() -> int:
    """Measure and print."""
    base_setups()
    fair_case(0, 1)
    fair_case.cache_clear()
    began = time.perf_counter()
    for base in base_setups():
        prediction_of(base.request)
    one_ms = 1000 * (time.perf_counter() - began) / len(base_setups())
    print(f"one prediction, the reference: {one_ms:.0f} ms")
    worst = 0.0

    for level, words in LEVELS.items():
        found = []
        for number in NUMBERS:
            began = time.perf_counter()
            fair_case(number, level)
            found.append(1000 * (time.perf_counter() - began))
        worst = max(worst, *found)
        middle, longest = statistics.median(found), max(found)
        print(
            f"level {level} ({words}): {middle:.0f} ms in the median, {longest:.0f} at the worst,"
            f" {middle / one_ms:.1f} and {longest / one_ms:.1f} predictions"
        )

    return 0 if worst < CASE_MOST_MS else 1


if __name__ == "__main__":
    raise SystemExit(main())
