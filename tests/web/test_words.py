"""Words that no screen says any more: what they are called instead stands in docs/glossary.md."""

import ast
import re
from pathlib import Path

import pytest

WEB = Path(__file__).parents[2] / "ridgeback"
CORE = WEB.parent / "husbandry"
BANNED = {
    r"\breckon": "calculate",
    r"\bhabitat": "enclosure",
    r"\blarder\b": "food & supplies",
    r"\bchores?\b": "task",
    r"\bits kind (does|wants|needs)\b": "its species",
    r"\bribbons?\b": "row",
    r"\bstuck on\b": "failed on",
    r"\bpowders?\b": "supplement",
    r"\bschools?\b": "approach",
    r"\bwhat it basks on\b": "surface",
    r"\baway with it\b": "delete",
    r"\bbench\b": "layout",
}
NOWHERE = re.compile(
    r"reckon|(?<!co)habitat|larder|\bchores?\b|ribbon|\bbench\b|beast|\boutlooks?\b|winter rest"
    r"|\bworkings\b|\bpath_of\b",
    re.I,
)
"""What stands in no name and no comment either."""
ANY = re.compile("|".join(BANNED), re.I)
TAGS = re.compile(r"\{%.*?%\}|\{\{.*?\}\}|\{#.*?#\}|<[^>]*>", re.S)


def said_by_template(text: str) -> str:
    text = re.sub(r"\{% comment %\}.*?\{% endcomment %\}", "", text, flags=re.S)
    labels = " ".join(re.findall(r'(?:aria-label|placeholder|title|alt)="([^"{]*)"', text))
    return f"{TAGS.sub(' ', text)} {labels}"


def said_by_code(text: str) -> str:
    """Strings of several words that are no docstrings."""
    tree = ast.parse(text)
    bare = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
    said = [
        node.value
        for node in ast.walk(tree)
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in bare
    ]
    return "\n".join(one for one in said if " " in one)


def said_by_style(text: str) -> str:
    """What its comments say."""
    return " ".join(re.findall(r"/\*.*?\*/", text, re.S))


def said_by_script(text: str) -> str:
    """What its strings and comments say."""
    return " ".join(re.findall(r"/\*.*?\*/|//[^\n]*|\"[^\"\n]*\"|`[^`]*`", text, re.S))


SAID_BY = {
    ".js": said_by_script,
    ".html": said_by_template,
    ".py": said_by_code,
    ".css": said_by_style,
}
PLACES = [
    *sorted((WEB / "static" / "css").glob("*.css")),
    *sorted((WEB / "static" / "js").rglob("*.js")),
    *sorted((WEB / "templates").rglob("*.html")),
    *(path for path in sorted(WEB.rglob("*.py")) if "migrations" not in path.parts),
    *sorted(CORE.rglob("*.py")),
]


@pytest.mark.parametrize("path", PLACES, ids=lambda path: str(path.relative_to(WEB.parent)))
def test_no_banned_word_is_said(path: Path) -> None:
    text = path.read_text(encoding="utf-8")
    if not ANY.search(text):
        return  # what is nowhere in the file is not said by it
    said = SAID_BY[path.suffix](text)
    found = {word: better for word, better in BANNED.items() if re.search(word, said, re.I)}
    assert not found, f"say instead: {found}"


def test_no_name_and_no_comment_says_one() -> None:
    said = {
        str(path.relative_to(WEB.parent)): found
        for path in PLACES
        if (found := NOWHERE.findall(path.read_text(encoding="utf-8")))
    }
    assert said == {}
