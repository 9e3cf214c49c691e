"""Reading of the data files that ship with the core: rows with named columns, numbers as numbers."""

import csv
from importlib.resources import files
from importlib.resources.abc import Traversable


def rows(package: str, name: str) -> list[dict[str, str]]:
    """The rows of a CSV file beside a package's code; every cell stripped."""
    return rows_of(files(package).joinpath(name))


def rows_of(file: Traversable) -> list[dict[str, str]]:
    """The rows of a CSV file; every cell stripped."""
    with file.open(encoding="utf-8") as stream:
        return [
            {key: value.strip() for key, value in row.items()} for row in csv.DictReader(stream)
        ]


def number(text: str) -> float | None:
    """The number in a cell, None when it is empty."""
    return float(text) if text else None
