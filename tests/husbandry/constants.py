"""Every number that is written down in the core, with where it comes from.

`python -m tests.husbandry.constants` writes the table anew; read what it changed.
"""

import ast
import csv
import re
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import zip_longest
from pathlib import Path

CORE = Path(__file__).parents[2] / "husbandry"
TABLE = Path(__file__).parent / "data" / "constants.csv"
ORIGIN = re.compile(
    r"[^();]*(?:[Ss]ource: |\b(?:design choice|common practice|from memory|published|definition|docs/"
    r"|standard|ISO|CIE|NIST|CODATA|decisions|compared|benchmark|measured|handbook|exact"
    r"|arithmetic|checked)\b)[^()]*"
)


@dataclass(frozen=True)
class Constant:
    """A number of the core, or a few of one kind, as it is written."""

    module: str
    name: str
    value: str
    """Its literal, without spaces of its own."""
    words: str
    """What is written below it."""

    @property
    def origin(self) -> str:
        """Where it comes from, by its words; empty where they do not say."""
        found = ORIGIN.search(self.words)
        return " ".join(found[0].split()) if found else ""


def _name(node: ast.stmt) -> str:
    if isinstance(node, ast.Assign) and isinstance(node.targets[0], ast.Name):
        return node.targets[0].id
    if isinstance(node, ast.AnnAssign) and isinstance(node.target, ast.Name):
        return node.target.id
    if isinstance(node, ast.Assign) and isinstance(node.targets[0], ast.Tuple):
        return " ".join(ast.unparse(one) for one in node.targets[0].elts)
    return ""


def _numeric(node: ast.expr) -> bool:
    """Whether it is made of numbers alone, with names of keys at most."""
    if isinstance(node, ast.Dict):
        return bool(node.values) and all(_numeric(value) for value in node.values)
    if isinstance(node, ast.Tuple | ast.List):
        return bool(node.elts) and all(_numeric(value) for value in node.elts)
    if isinstance(node, ast.UnaryOp):
        return _numeric(node.operand)
    if isinstance(node, ast.BinOp):
        return _numeric(node.left) and _numeric(node.right)
    return isinstance(node, ast.Constant) and type(node.value) in (int, float)


def constants() -> Iterator[Constant]:
    """All of them, module by module."""
    for path in sorted(CORE.rglob("*.py")):
        module = path.relative_to(CORE).with_suffix("").as_posix()
        body = ast.parse(path.read_text(encoding="utf-8")).body
        for node, below in zip_longest(body, body[1:]):
            name = _name(node)
            value = getattr(node, "value", None)
            if not re.fullmatch(r"_?[A-Z][A-Z0-9_ ]*", name) or value is None:
                continue
            if not _numeric(value):
                continue
            said = isinstance(below, ast.Expr) and isinstance(below.value, ast.Constant)
            words = " ".join(str(below.value.value).split()) if said else ""  # type: ignore
            yield Constant(module, name, ast.unparse(value), words)


if __name__ == "__main__":
    with TABLE.open("w", encoding="utf-8", newline="") as file:
        rows = csv.writer(file, lineterminator="\n")
        rows.writerow(["module", "name", "value", "origin"])
        rows.writerows([one.module, one.name, one.value, one.origin] for one in constants())
