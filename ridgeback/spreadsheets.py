"""Tables for spreadsheets: CSV that no program takes for a formula."""

import csv
import io
from collections.abc import Iterable, Sequence

FORMULA = ("=", "+", "-", "@", "\t", "\r")
"""A cell of text that begins with one of these is run by spreadsheets (OWASP: CSV injection)."""
BOM = "\ufeff"
"""Tells spreadsheets that what follows is UTF-8."""


def safe_cell(value: object) -> object:
    """Make a cell harmless: text that begins like a formula gets an apostrophe before it."""
    if isinstance(value, str) and value.startswith(FORMULA):
        return f"'{value}"
    return value


def csv_text(rows: Iterable[Sequence[object]]) -> str:
    """Write rows as CSV, the first of them the head."""
    out = io.StringIO()
    writer = csv.writer(out)
    for row in rows:
        writer.writerow([safe_cell(value) for value in row])
    return BOM + out.getvalue()
