"""The glossary holds every public class once, in order."""

import ast
import re
from functools import cache
from pathlib import Path

ROOT = Path(__file__).parents[2]
ROW = re.compile(r"^\| ([^|]+) \| ([^|]+) \| ([^|]*) \| ([^|]*) \|$")


def rows() -> list[tuple[str, str, str, str]]:
    """Name, meaning, unit and place of each row."""
    lines = (ROOT / "docs" / "glossary.md").read_text(encoding="utf-8").splitlines()
    found = [ROW.match(line) for line in lines if line.startswith("| ")]
    return [(m[1], m[2], m[3], m[4].strip("`")) for m in found if m][2:]


@cache
def public_classes() -> set[tuple[str, str]]:
    """Every described class of the core and the web, with its module."""
    found = set()
    for folder in ("husbandry", "ridgeback"):
        for path in (ROOT / folder).rglob("*.py"):
            if "migrations" in path.parts:
                continue
            module = str(path.relative_to(ROOT).with_suffix("")).replace("/", ".")
            text = path.read_text(encoding="utf-8")
            for node in ast.parse(text).body if "\nclass " in text else ():
                if not isinstance(node, ast.ClassDef) or node.name.startswith("_"):
                    continue
                if ast.get_docstring(node) and node.name != "Command":
                    found.add((node.name, module))
    return found


def test_every_public_class_has_its_row() -> None:
    assert public_classes() - {(name, where) for name, _, _, where in rows()} == set()


def test_no_row_is_of_a_class_that_is_gone() -> None:
    assert {(name, where) for name, _, _, where in rows() if where} - public_classes() == set()


def test_rows_are_sorted() -> None:
    names = [name.lower() for name, *_ in rows()]
    assert names == sorted(names) and len(names) > 300
