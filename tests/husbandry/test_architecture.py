"""The arrows of the house: the core knows nothing of the web, and lower floors nothing of higher
ones.
"""

import ast
import re
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
CORE = ROOT / "husbandry"
WEB = {"django", "ridgeback", "htmx", "django_htmx", "csp", "whitenoise", "psycopg", "environ"}
FLOORS = (
    {"tables", "errors", "bounds", "derivation"},
    {"json_text", "memory", "methods", "quantity"},
    {"species"},
    {"breeding", "cli_refusal", "enclosure", "growth", "readings"},
    {"climate", "intake", "items"},
    {"seasons"},
    {"feeding"},
    {"audit", "documents", "handling"},
    {"life_plan", "records", "targets"},
    {"predict"},
    {"calibration", "commissioning", "findings"},
    {"advise", "build_plan", "tasks"},
    {"plan"},
    {"forecast"},
    {"pens", "setups", "simulation"},
    {"practice", "review"},
    {"cli_review", "cli_setups", "schemas"},
    {"cli"},
    {"__main__"},
)
"""From the ground up: a package imports from floors below its own, never from its own or a higher
one.
"""
FLOOR_OF = {name: number for number, floor in enumerate(FLOORS) for name in floor}


def imported(path: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found.add(node.module)
    return found


@pytest.mark.parametrize(
    "path", sorted(CORE.rglob("*.py")), ids=lambda p: str(p.relative_to(CORE))
)
def test_core_imports_nothing_of_the_web_and_points_down(path: Path) -> None:
    names = imported(path)
    assert not {name.split(".")[0] for name in names} & WEB
    here = path.relative_to(CORE).with_suffix("").parts[0]
    if here == "__init__":
        return
    for name in names:
        parts = name.split(".")
        if parts[0] == "husbandry" and len(parts) > 1 and parts[1] != here:
            assert FLOOR_OF[parts[1]] < FLOOR_OF[here], (
                f"{here} imports {name}, which stands no lower"
            )


def test_every_package_of_the_core_has_its_floor() -> None:
    here = {
        path.stem
        for path in CORE.iterdir()
        if path.name[0].isalpha() and (path.is_dir() or path.suffix == ".py")
    }
    assert here | {"__main__"} == set(FLOOR_OF)


def test_core_runs_where_django_cannot_be_imported() -> None:
    code = "import sys; sys.modules['django'] = None; import husbandry.cli, husbandry.plan.plan"
    subprocess.run([sys.executable, "-c", code], cwd=ROOT, check=True)


def test_one_blas_thread_is_asked_for_before_numpy() -> None:
    code = (
        "import husbandry, os, sys; assert 'numpy' not in sys.modules;"
        " print(os.environ['OPENBLAS_NUM_THREADS'])"
    )
    shown = subprocess.run(
        [sys.executable, "-c", code],
        cwd=ROOT,
        check=True,
        capture_output=True,
        text=True,
        env={"PATH": ""},
    )
    assert shown.stdout.strip() == "1"


def test_no_module_grows_past_what_a_head_holds() -> None:
    long = {
        str(p.relative_to(ROOT)): n
        for p in CORE.rglob("*.py")
        if (n := len(p.read_text().splitlines())) > 800
    }
    assert not long


def test_no_two_classes_of_a_package_have_one_name() -> None:
    """A model may bear the name of the core value it makes; else a name is looked for once."""
    for folder in (CORE, ROOT / "ridgeback"):
        seen: dict[str, Path] = {}
        for path in sorted(folder.rglob("*.py")):
            if "migrations" in path.parts or "commands" in path.parts:
                continue
            for name in re.findall(r"^class (\w+)", path.read_text(encoding="utf-8"), re.M):
                assert name not in seen, f"{name}: {seen[name]} and {path}"
                seen[name] = path


def documented_parameters(docstring: str) -> dict[str, str]:
    """Names under “Parameters” of a numpy docstring, with what is said of their type."""
    if "Parameters\n---" not in docstring:
        return {}
    after = docstring.split("Parameters\n", 1)[1].split("\n", 1)[1]
    block = re.split(r"\n\n?(?:Returns|Raises|Yields|Notes)\n-+", after)[0]
    found = re.findall(r"^([*a-zA-Z_][\w, *]*) : (.+)$", block, re.MULTILINE)
    return {name.strip(" *"): kind for names, kind in found for name in names.split(",")}


def names_of(nodes: list[ast.AST]) -> set[str]:
    """Everything that a module defines, uses or imports."""
    found = set()
    for node in nodes:
        match node:
            case ast.ClassDef():
                found.add(node.name)
            case ast.Name():
                found.add(node.id)
            case ast.Attribute():
                found.add(node.attr)
            case ast.ImportFrom() | ast.Import():
                found |= {alias.asname or alias.name for alias in node.names}
    return found


def test_parameters_are_documented_by_their_names_and_types() -> None:
    """The rounds of a solver were called “today” for a while, and types kept names of long ago."""
    strange = []
    for folder in (CORE, ROOT / "ridgeback"):
        for path in folder.rglob("*.py"):
            text = path.read_text(encoding="utf-8")
            if "Parameters\n" not in text:
                continue
            nodes = list(ast.walk(ast.parse(text)))
            there = names_of(nodes) | {"None", "JSON", "SVG", "UUID"}
            for node in nodes:
                if not isinstance(node, ast.FunctionDef):
                    continue
                args = node.args
                known = {one.arg for one in (*args.posonlyargs, *args.args, *args.kwonlyargs)}
                known |= {one.arg for one in (args.vararg, args.kwarg) if one is not None}
                for name, kind in documented_parameters(ast.get_docstring(node) or "").items():
                    types = set(re.findall(r"\b[A-Z]\w+", kind))
                    if name not in known or types - there:
                        strange.append(f"{path.relative_to(ROOT)}: {node.name}: {name} : {kind}")
    assert not strange
