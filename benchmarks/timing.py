"""Timing that every benchmark shares."""

import statistics
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from husbandry.memory import forget


@dataclass(frozen=True)
class Timed:
    """Milliseconds over repeated calls."""

    name: str
    p50_ms: float
    p95_ms: float


def timed(name: str, call: Callable[[], object], repeats: int) -> Timed:
    """Call once to warm up, then time each of the repeats; what the core remembers of the one before
    does not count.
    """
    call()
    spent = []
    for _ in range(repeats):
        forget()
        start = time.perf_counter()
        call()
        spent.append((time.perf_counter() - start) * 1000)
    spent.sort()
    return Timed(
        name, statistics.median(spent), spent[min(len(spent) - 1, int(0.95 * len(spent)))]
    )


def table(reference: Timed, rows: Sequence[tuple[Timed, float | None]]) -> bool:
    """Print rows with their ratio to the reference and their target; True when every target is met
    (by the median).
    """
    print(f"{'what':44} {'p50 ms':>9} {'p95 ms':>9} {'ratio':>8} {'target':>9}")
    good = True
    for row, target in [(reference, None), *rows]:
        met = target is None or row.p50_ms <= target
        good = good and met
        wanted = "" if target is None else f"{target:g}{'' if met else ' !'}"
        print(
            f"{row.name:44} {row.p50_ms:9.3f} {row.p95_ms:9.3f}"
            f" {row.p50_ms / reference.p50_ms:8.1f} {wanted:>9}"
        )
    return good
