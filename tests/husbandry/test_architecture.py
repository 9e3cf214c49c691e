"""The arrows of the house: the core knows nothing of the web, and lower floors nothing of higher ones."""

import ast
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
CORE = ROOT / "husbandry"
WEB = {"django", "ridgeback", "htmx", "django_htmx", "csp", "whitenoise", "psycopg", "environ"}
FLOORS = {
    "tables": 0,
    "errors": 0,
    "bounds": 0,
    "documents": 1,
    "worked": 1,
    "quantity": 1,
    "methods": 1,
    "readings": 2,
    "species": 2,
    "box": 3,
    "diet": 3,
    "growth": 3,
    "climate": 4,
    "planning": 5,
    "path": 6,
    "audit": 5,
    "cli": 7,
}
# A size is judged against a profile and an approach; the trade's needs name the quantities they are of.
ALLOWED_UP: set[tuple[str, str]] = set()


def imported(path: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found.add(node.module)
    return found


@pytest.mark.parametrize("path", sorted(CORE.rglob("*.py")), ids=lambda p: str(p.relative_to(CORE)))
def test_core_imports_nothing_of_the_web_and_points_down(path: Path) -> None:
    names = imported(path)
    assert not {name.split(".")[0] for name in names} & WEB
    here = path.relative_to(CORE).with_suffix("").parts[0]
    for name in names:
        parts = name.split(".")
        if (
            parts[0] == "husbandry"
            and len(parts) > 1
            and here in FLOORS
            and parts[1] in FLOORS
            and (here, parts[1]) not in ALLOWED_UP
        ):
            assert FLOORS[parts[1]] <= FLOORS[here], f"{here} imports {name}, which stands on a higher floor"


def test_core_runs_where_django_cannot_be_imported() -> None:
    code = "import sys; sys.modules['django'] = None; import husbandry.cli, husbandry.planning.plan"
    subprocess.run([sys.executable, "-c", code], cwd=ROOT, check=True)


def test_one_blas_thread_is_asked_for_before_numpy() -> None:
    code = "import husbandry, os, sys; assert 'numpy' not in sys.modules; print(os.environ['OPENBLAS_NUM_THREADS'])"
    shown = subprocess.run([sys.executable, "-c", code], cwd=ROOT, check=True, capture_output=True, text=True, env={"PATH": ""})
    assert shown.stdout.strip() == "1"


def test_no_module_grows_past_what_a_head_holds() -> None:
    long = {str(p.relative_to(ROOT)): n for p in CORE.rglob("*.py") if (n := len(p.read_text().splitlines())) > 800}
    assert not long
