"""Every citation leads to a section of docs/sources that anybody can open."""

import os
import re
from collections.abc import Iterator
from functools import cache
from pathlib import Path

ROOT = Path(__file__).parents[2]
PAGES = {path.stem: path.read_text() for path in (ROOT / "docs" / "sources").glob("*.md")}
CITED = re.compile(r"[Ss]ource:\s+(heat|uv|humidity|substrate|feeding)\s+([A-C]?\d+)\b")
UNOPENABLE = re.compile(r"\b(?:heat|uv|moisture|diet|ground|literature) note\b", re.IGNORECASE)


def _files() -> Iterator[Path]:
    for folder in ("husbandry", "ridgeback", "tests", "benchmarks", "docs"):
        for path in (ROOT / folder).rglob("*"):
            kept = path.suffix in {".py", ".md", ".json"} and "__pycache__" not in path.parts
            if kept and path.parent.name != "sources" and path != Path(__file__):
                yield path


@cache
def _text(path: Path) -> str:
    """A file as one line: a citation may be broken by its comment's lines."""
    return re.sub(r"\n\s*#?\s*", " ", path.read_text())


def test_every_citation_leads_to_a_section() -> None:
    cited = 0
    for path in _files():
        for page, section in CITED.findall(_text(path)):
            cited += 1
            assert re.search(rf"^## {section} ", PAGES[page], re.MULTILINE), (
                f"{path.relative_to(ROOT)}: {page} {section}"
            )
    assert cited > 50


def test_nothing_cites_what_nobody_can_open() -> None:
    for path in _files():
        found = UNOPENABLE.search(_text(path))
        if path.name in {"report.py", "check_values.py", "test_report.py"}:
            continue  # the word for the notes that rows of the library carry

        assert found is None, f"{path.relative_to(ROOT)}: {found}"


def test_the_pages_are_listed() -> None:
    listed = set(re.findall(r"\]\((\w+)\.md\)", PAGES["README"]))

    assert listed == PAGES.keys() - {"README"}


NAMED = re.compile(r"`(?!/)([\w/.<>-]+(?:\.(?:py|csv)|/))`")
"""A file or a folder of the project that a page of docs names."""


def test_what_docs_name_is_there() -> None:
    """A page that names a file leads to it, by the end of its path."""
    skipped = {".venv", ".git", ".tools", "node_modules", "__pycache__"}
    ends = set()
    for folder, folders, files in os.walk(ROOT):
        folders[:] = sorted(set(folders) - skipped)
        for name in (*files, *(f"{inner}/" for inner in folders)):
            parts = f"{Path(folder).relative_to(ROOT).as_posix()}/{name}".split("/")
            kept = 2 if name.endswith("/") else 1
            ends |= {"/".join(parts[at:]) for at in range(len(parts) - kept + 1)}
    lost = [
        f"{page.relative_to(ROOT)}: {name}"
        for page in (ROOT / "docs").rglob("*.md")
        for name in NAMED.findall(page.read_text())
        if name not in ends
    ]
    assert lost == []
