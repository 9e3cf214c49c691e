"""How hard a fault must be until it shows in an enclosure, and whether it shows nowhere else.

Looking takes the model up to three times a fault, so what was found for the enclosures that ship
goes with them: `python -m husbandry.practice.fault_strengths` finds it anew.
"""

import json
import sys
from pathlib import Path

from husbandry.practice.base_setups import FILE, BaseSetup, base_setups
from husbandry.practice.faults import BREAKS, MISSES, STRENGTHS, broken
from husbandry.practice.true_state import TrueState, off_by
from husbandry.species.needs import NeedKey

CLEAR = 0.3
"""Of a range's width by which a fault must show (design choice) [1]."""
FOLLOWS: dict[str, frozenset[NeedKey]] = {
    "heat_low": frozenset({NeedKey.COOL_AIR_DAY, NeedKey.AIR_NIGHT, NeedKey.HUMIDITY_DAY}),
    "heat_high": frozenset({NeedKey.COOL_AIR_DAY, NeedKey.AIR_NIGHT, NeedKey.HUMIDITY_DAY}),
    "night_cold": frozenset({NeedKey.HUMIDITY_NIGHT}),
    "room_hot": frozenset(
        {NeedKey.AIR_NIGHT, NeedKey.WARM_AIR_DAY, NeedKey.SURFACE_DAY, NeedKey.HUMIDITY_DAY}
    ),
    "uv_old": frozenset(),
    "uv_near": frozenset(),
    "air_dry": frozenset(),
    "stuck_on": frozenset(
        {
            NeedKey.COOL_AIR_DAY,
            NeedKey.WARM_AIR_DAY,
            NeedKey.SURFACE_DAY,
            NeedKey.HUMIDITY_DAY,
            NeedKey.HUMIDITY_NIGHT,
        }
    ),
    "uv_mesh": frozenset(),
}
"""Further needs that each fault may miss with its own."""


def misses_of(state: TrueState) -> dict[NeedKey, float]:
    """Needs out of range in truth, and how far [range widths]."""
    found = {}

    for key, value in state.values.items():
        off = off_by(state.needs.targets[key], value)
        if off:
            found[key] = off

    return found


def strength_of(base: BaseSetup, seed: int, cause: str) -> float | None:
    """How hard a fault is made in an enclosure; None where it does not show, or not alone."""
    known = base.strengths.get(cause)
    if known is not None and seed in base.truth_seeds:
        return known[base.truth_seeds.index(seed)]
    return found_strength(base, seed, cause)


def found_strength(base: BaseSetup, seed: int, cause: str) -> float | None:
    """The same, looked for with the model."""
    keys, sign = MISSES[cause]

    for hard in STRENGTHS:
        request = broken(base.request, cause, hard)
        if request is None:
            return None
        state = TrueState(request, seed)
        if any(sign * state.off(key) >= CLEAR for key in keys):
            return hard if _explained(misses_of(state), cause) else None

    return None


def _explained(misses: dict[NeedKey, float], cause: str) -> bool:
    """Whether every miss is the fault's own or follows from it."""
    keys, _ = MISSES[cause]
    return set(misses) <= keys | FOLLOWS[cause]


def write() -> int:
    """Write what is found beside each enclosure that ships; how many there are."""
    target = Path(__file__).with_name(FILE)
    rows = json.loads(target.read_text(encoding="utf-8"))

    for row, base in zip(rows, base_setups(), strict=True):
        row["strengths"] = {
            cause: [found_strength(base, seed, cause) for seed in base.truth_seeds]
            for cause in BREAKS
        }

    text = json.dumps(rows, ensure_ascii=False, indent=1)
    target.write_text(f"{text}\n", encoding="utf-8")
    return len(rows)


if __name__ == "__main__":
    sys.stdout.write(f"{write()} setups\n")
