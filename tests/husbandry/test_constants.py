"""Each number of the core says where it comes from, and is the one that the table holds.

The table names the source of each row; a number that is changed without its row is found here.
"""

import csv
from collections import Counter
from dataclasses import dataclass

import pytest

from tests.husbandry.constants import TABLE, constants

WRITTEN = {f"{one.module} {one.name}": one for one in constants()}


@dataclass(frozen=True)
class Row:
    """A line of the table."""

    module: str
    name: str
    value: str
    origin: str


with TABLE.open(encoding="utf-8") as _file:
    ROWS = [Row(**line) for line in csv.DictReader(_file)]


@pytest.mark.parametrize("row", ROWS, ids=lambda row: f"{row.module} {row.name}")
def test_a_constant_is_what_its_source_says(row: Row) -> None:
    one = WRITTEN[f"{row.module} {row.name}"]

    assert (one.value, one.origin) == (row.value, row.origin)


def test_every_constant_has_its_row() -> None:
    assert set(WRITTEN) == {f"{row.module} {row.name}" for row in ROWS}


def test_every_constant_names_its_origin() -> None:
    assert [key for key, one in WRITTEN.items() if not one.origin] == []


def test_no_two_modules_define_one_public_constant() -> None:
    public = (one.name for one in WRITTEN.values() if not one.name.startswith("_"))
    names = Counter(name for name in public if " " not in name)

    assert [name for name, times in names.items() if times > 1] == []
