"""The apps of the web are a house with stairs: none imports another that imports it back."""

import ast
from collections.abc import Iterator
from pathlib import Path

WEB = Path(__file__).parents[2] / "ridgeback"
APPS = {path.parent.name for path in WEB.glob("*/__init__.py")} - {"settings"}


def _seen_by_the_type_checker(node: ast.stmt) -> bool:
    """A block that never runs: the names of reverse relations, which are the database's own."""
    return isinstance(node, ast.If) and ast.unparse(node.test) == "TYPE_CHECKING"


def _imports(statements: list[ast.stmt]) -> Iterator[str]:
    """Every module of the web that these statements import when they run."""
    for node in statements:
        if _seen_by_the_type_checker(node):
            continue
        if isinstance(node, ast.ImportFrom) and node.module:
            if node.module == "ridgeback":
                yield from (f"ridgeback.{name.name}" for name in node.names)
            else:
                yield node.module
        elif isinstance(node, ast.Import):
            yield from (name.name for name in node.names)
        else:
            inner = [child for child in ast.walk(node) if isinstance(child, ast.stmt)][1:]
            yield from _imports([one for one in inner if isinstance(one, ast.ImportFrom)])


def _arrows() -> dict[str, set[str]]:
    """To which other apps each app points."""
    found: dict[str, set[str]] = {app: set() for app in APPS}
    for path in WEB.glob("*/**/*.py"):
        app = path.relative_to(WEB).parts[0]
        if app not in APPS or "migrations" in path.parts:
            continue
        for module in _imports(ast.parse(path.read_text()).body):
            parts = module.split(".")
            if parts[0] == "ridgeback" and len(parts) > 1 and parts[1] in APPS - {app}:
                found[app].add(parts[1])
    return found


def test_no_two_apps_import_each_other() -> None:
    arrows = _arrows()
    pairs = {
        tuple(sorted((app, other)))
        for app, others in arrows.items()
        for other in others
        if app in arrows[other]
    }

    assert pairs == set()


def test_no_app_is_reached_from_itself() -> None:
    arrows = _arrows()
    left = dict(arrows)
    while lowest := [app for app, others in left.items() if not others & left.keys()]:
        for app in lowest:
            del left[app]

    assert left == {}, "these import each other in a circle"


def test_the_shared_modules_lean_on_few() -> None:
    """What every app may use knows at most the household that asks."""
    for path in WEB.glob("*.py"):
        if path.stem in {"urls", "manage"}:
            continue
        apps = {
            module.split(".")[1]
            for module in _imports(ast.parse(path.read_text()).body)
            if module.startswith("ridgeback.")
        } & APPS

        assert apps <= {"households"}, path.name


def test_each_app_has_one_migration_until_the_first_release() -> None:
    """Nothing was released: tables that change are made anew, and no step is carried along."""
    found = {path.parent.parent.name: path.name for path in WEB.glob("*/migrations/0*.py")}
    files = list(WEB.glob("*/migrations/0*.py"))
    assert len(files) == len(found) and set(found.values()) == {"0001_initial.py"}
