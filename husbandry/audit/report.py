"""The report over a library of profiles, as a person or a script reads it: `python -m husbandry
library`.
"""

import json
import sys
from dataclasses import asdict
from pathlib import Path
from typing import Any

from husbandry.audit.check_values import MOST_EXPLAINED, Checked, CheckResult, check_all, read
from husbandry.audit.consistency import findings, rules
from husbandry.audit.coverage import ORIGINS, coverage
from husbandry.species.library import LoadedProfiles, load, shipped


def main(folder: str | None, check_values: str | None, *, as_json: bool = False) -> int:
    """Print the report; 0 when nothing is wrong, 1 when something is, 2 when a file cannot be read."""
    try:
        loaded = load(Path(folder)) if folder else shipped()
        rows = read(Path(check_values)) if check_values else None
    except (OSError, ValueError) as why:
        sys.stderr.write(f"{why}\n")
        return 2
    checked = check_all(loaded.profiles, rows) if rows is not None else None
    found = {species: findings(profile) for species, profile in loaded.profiles.items()}
    if as_json:
        print(json.dumps(_data(loaded, found, checked), ensure_ascii=False, indent=1))
    else:
        _print(loaded, found, checked)
    wrong = loaded.refused or any(found.values()) or (checked is not None and not checked.good)
    return 1 if wrong else 0


def _data(
    loaded: LoadedProfiles, found: dict[str, Any], checked: Checked | None
) -> dict[str, Any]:
    data: dict[str, Any] = {
        "profiles": [
            asdict(coverage(profile)) | {"findings": [asdict(f) for f in found[species]]}
            for species, profile in loaded.profiles.items()
        ],
        "refused": [
            {"file": r.file, "problems": [asdict(p) for p in r.problems]} for r in loaded.refused
        ],
        "rules": list(rules()),
    }
    if checked is not None:
        data["check_values"] = [
            {
                "row": asdict(o.row),
                "found": [[_number(end) for end in pair] for pair in o.found],
                "verdict": o.verdict,
                "why": o.why,
            }
            for o in checked.outcomes
        ] + [
            {"row": asdict(row), "found": [], "verdict": "unknown species", "why": ""}
            for row in checked.unknown
        ]
    return data


def _number(value: float) -> float | None:
    return value if abs(value) != float("inf") else None


def _print(loaded: LoadedProfiles, found: dict[str, Any], checked: Checked | None) -> None:
    print(f"{len(loaded.profiles)} profiles, {len(rules())} rules\n")
    print(
        f"{'species':34} {'values':>6} {'works':>6} {'memory':>7} "
        + " ".join(f"{kind:>20}" for kind in ORIGINS)
        + "  left out"
    )
    for profile in loaded.profiles.values():
        told = coverage(profile)
        counts = " ".join(f"{told.by_origin[kind]:20d}" for kind in ORIGINS)
        print(
            f"{told.species:34} {told.values:6d} {told.sources:6d} {told.memory_share:7.0%}"
            f" {counts}  {', '.join(told.missing)}"
        )
    for refused in loaded.refused:
        print(f"\nrefused: {refused}")
    for species, items in found.items():
        for item in items:
            print(f"\n{species}: {item.rule}: {item.pointer}: {item.text}")
    if not any(found.values()):
        print("\nconsistent: no rule finds anything")
    if checked is not None:
        _print_check(checked)


def _print_check(checked: Checked) -> None:
    print(f"\ncheck values: {len(checked.outcomes) + len(checked.unknown)} rows")
    for outcome in checked.outcomes:
        print(f"  {outcome.verdict:10} {_said(outcome)}")
    for row in checked.unknown:
        print(f"  {'miss':10} {row.species}: there is no profile of it")
    counts = ", ".join(
        f"{len(checked.of(verdict))} {verdict}"
        for verdict in ("match", "literature", "explained", "miss")
    )
    excused = (
        f"{checked.explained_without_literature} of at most {MOST_EXPLAINED} explained without a"
        " literature note"
    )
    print(f"  {counts}, {len(checked.unknown)} of unknown species; {excused}")


def _said(outcome: CheckResult) -> str:
    row = outcome.row
    has = (
        "; ".join(
            f"{low:.4g} to {high:.4g}" if high != low else f"{low:.4g}"
            for low, high in dict.fromkeys(outcome.found)
        )
        or "nothing"
    )
    wanted = row.low if row.low == row.high or not row.high else f"{row.low} to {row.high}"
    why = f" ({outcome.why})" if outcome.why else ""
    return (
        f"{row.species}, {row.stage}, {row.quantity} {wanted} {row.unit}: the profile has"
        f" {has}{why}"
    )
