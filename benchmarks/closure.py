"""How long a first setup takes, against one plan of what was found; and how many come out right.

.venv/bin/python -m benchmarks.closure [--every N]
"""

import argparse
import statistics
import time

from husbandry.plan.plan import plan
from husbandry.setups.closure import RoomCase, data_of
from husbandry.setups.starter import start
from husbandry.species.library import library

ROOM = RoomCase(21.0, 18.0, 28.0, 50.0)


def main() -> int:
    """Print each case and the shares; 1 when a case that the room allows is not closed."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--every", type=int, default=1, help="only each N-th case")
    every = parser.parse_args().every
    cases = [(profile, stage.slug) for profile in library().values() for stage in profile.stages]
    ratios, seconds, closed, impossible, missed = [], [], 0, 0, 0
    print("case                                       seconds   of a plan   closed")
    for profile, stage in cases[::every]:
        began = time.perf_counter()
        found = start(data_of(profile, stage, ROOM))
        took = time.perf_counter() - began
        best = found.best
        right = best is not None and best.judged.closed
        closed += right
        by_the_room = not right and bool(found.ruled_out)
        impossible += by_the_room
        missed += not right and not by_the_room
        seconds.append(took)
        if best is not None:
            began = time.perf_counter()
            plan(best.judged.request)
            ratios.append(took / (time.perf_counter() - began))
        told = "yes" if right else "; ".join(found.reasons) or "no"
        name = f"{profile.species}, {stage}"
        print(f"{name:42} {took:7.2f} {ratios[-1] if ratios else 0:11.0f}   {told}")
    print(f"closed {closed} of {len(seconds)}; impossible in this room {impossible}")
    print(f"seconds: median {statistics.median(seconds):.2f}, most {max(seconds):.1f}")
    print(f"times one plan: median {statistics.median(ratios):.0f}, most {max(ratios):.0f}")
    return int(missed > 0)


if __name__ == "__main__":
    raise SystemExit(main())
