"""`./test mutants`: change the rules one operator at a time and see whether a test notices.

Each rule module below is mutated by cosmic-ray in a copy of the tree, and its own tests are run.
Without `--all` a sample with a recorded seed is taken from each module. Ends with 1 when less than
nine tenths are killed.
"""

import argparse
import os
import random
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[2]
RULES = {
    "feeding/appetite.py": "feeding/test_condition.py",
    "feeding/condition.py": "feeding/test_condition.py feeding/test_diet.py",
    "feeding/upcoming_meals.py": "feeding/test_upcoming_meals.py",
    "findings/quarantine.py": "findings/test_quarantine.py",
    "findings/zones.py": "findings/test_zones.py",
    "growth/findings.py": "growth",
    "handling/taming.py": "handling",
    "seasons/brumation.py": "seasons",
    "findings/uv_hours.py": "findings/test_uv_hours.py",
    "predict/exposure.py": "findings/test_uv_hours.py",
    "targets/uv_sessions.py": "findings/test_uv_hours.py",
    "targets/verdicts.py": "targets",
    "tasks/due.py": "tasks",
    "tasks/weighing.py": "tasks/test_weighing.py",
    "climate/hygrometer.py": "climate/test_hygrometer.py",
}
"""A rule module of the core, and the tests that hold it; the table of constants holds all."""
SAMPLE = 12
SEED = 20261129
LEAST_KILLED = 0.9
TIMEOUT_S = 120
SKIPPED = ("NumberReplacer", "Eq_Is", "NotEq_IsNot", "Is_Eq", "IsNot_NotEq")
"""Numbers are held by tests/husbandry/test_constants.py, which would kill them all; and for words
and small numbers “is” says the same as “==”.
"""


@dataclass(frozen=True)
class Tally:
    """Of one module."""

    module: str
    killed: int
    survived: tuple[str, ...]


def copy_of_the_tree(target: Path) -> Path:
    """The core and its tests, so that nothing here is changed while it runs."""
    for name in ("husbandry", "tests", "docs", "benchmarks"):
        ignored = shutil.ignore_patterns("__pycache__", "web", "browser", "screenshots")
        shutil.copytree(ROOT / name, target / name, ignore=ignored)
    shutil.copy(ROOT / "pyproject.toml", target)
    return target


def config(module: str, tests: str) -> str:
    """What cosmic-ray is told."""
    paths = " ".join(f"tests/husbandry/{name}" for name in tests.split())
    options = "-x -q -p no:django -p no:cacheprovider -o DJANGO_SETTINGS_MODULE= -o addopts="
    command = f"{ROOT}/.venv/bin/python -m pytest {options} --import-mode=importlib {paths}"
    return (
        f'[cosmic-ray]\nmodule-path = "husbandry/{module}"\ntimeout = {TIMEOUT_S}\n'
        f'excluded-modules = []\ntest-command = "{command}"\n'
        '[cosmic-ray.distributor]\nname = "local"\n'
    )


def sampled(session: Path, source: list[str], most: int | None) -> int:
    """Take the mutations away that are not run; how many are left.

    The bare star of a signature is no product: a slash in its place only forbids names.
    """
    with sqlite3.connect(session) as rows:
        # By place and operator: the jobs' own names are others each time.
        found = rows.execute(
            "select job_id, operator_name, start_pos_row, start_pos_col from mutation_specs"
            " order by operator_name, start_pos_row, start_pos_col, end_pos_row, end_pos_col,"
            " occurrence"
        ).fetchall()
        wanted = [
            job
            for job, name, row, column in found
            if not name.endswith(SKIPPED) and not source[row - 1][column:].startswith("*,")
        ]
        if most is not None:
            wanted = random.Random(SEED).sample(wanted, min(most, len(wanted)))
        for job, *_ in found:
            if job not in wanted:
                for table in ("mutation_specs", "work_items"):
                    rows.execute(f"delete from {table} where job_id = ?", (job,))
    return len(wanted)


def run(module: str, tests: str, tree: Path, cosmic: Path, most: int | None) -> Tally:
    """Mutate one module and count."""
    session = tree / "session.sqlite"
    session.unlink(missing_ok=True)
    (tree / "mutants.toml").write_text(config(module, tests))
    for step in ("init", "exec"):
        command = [cosmic, step, "mutants.toml", session]
        subprocess.run(command, cwd=tree, check=True, capture_output=True)
        if step == "init":
            sampled(session, (tree / "husbandry" / module).read_text().splitlines(), most)
    with sqlite3.connect(session) as rows:
        told = rows.execute(
            "select r.test_outcome, m.operator_name, m.start_pos_row from work_results r"
            " join mutation_specs m on m.job_id = r.job_id"
        ).fetchall()
    survived = tuple(f"line {line}: {name}" for outcome, name, line in told if "SURV" in outcome)
    return Tally(module, len(told) - len(survived), survived)


def in_a_copy(module: str, cosmic: Path, most: int | None) -> Tally:
    """Mutate one module in a tree of its own."""
    with tempfile.TemporaryDirectory() as folder:
        return run(module, RULES[module], copy_of_the_tree(Path(folder)), cosmic, most)


def main() -> int:
    """Run the set and print the share that was killed."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--all", action="store_true", help="every mutation, not a sample")
    asked.add_argument("--cosmic-ray", type=Path, required=True)
    asked.add_argument("--only", help="one module, such as feeding/appetite.py")
    given = asked.parse_args()
    killed = total = 0
    wanted = [module for module in RULES if given.only in {None, module}]
    most = None if given.all else SAMPLE
    cosmic = given.cosmic_ray.resolve()
    with ThreadPoolExecutor(os.cpu_count()) as pool:
        for tally in pool.map(lambda module: in_a_copy(module, cosmic, most), wanted):
            module = tally.module
            killed += tally.killed
            total += tally.killed + len(tally.survived)
            print(f"{module}: {tally.killed} of {tally.killed + len(tally.survived)}", flush=True)
            for text in tally.survived:
                print(f"  survived {text}", flush=True)
    share = killed / max(total, 1)
    print(f"killed {killed} of {total}: {share:.0%}")
    return 0 if share >= LEAST_KILLED else 1


if __name__ == "__main__":
    sys.exit(main())
