"""Generated documents: sound ones with one to four places made extreme, of another species, or
gone.

Every document follows from its seed, so that a failure can be repeated by its number.
"""

import copy
import json
import random
from collections.abc import Iterator
from typing import Any

NUMBERS: tuple[Any, ...] = (
    0,
    -0.0,
    1,
    -1,
    0.5,
    1e-9,
    -1e-9,
    1e-308,
    5e-324,
    1e9,
    -1e9,
    1e155,
    1e308,
    -1e308,
    2**31,
    2**31 - 1,
    2**63,
    -(2**63),
    10**30,
    0.1,
    36.6,
    99.9,
    100,
    101,
    -272,
    -273.15,
    1_000_000,
    49,
    -9,
    12,
    2099,
    365,
)
DAYS: tuple[Any, ...] = (
    "0001-01-01",
    "9999-12-31",
    "1900-02-29",
    "2099-01-01",
    "1789-07-14",
    "2024-02-29",
    "2026-06-01",
    "0001-01-01T00:00:00+00:00",
    "9999-12-31T23:59:59+14:00",
    "2099-06-01T12:00:00+00:00",
    "1969-12-31T23:59:59Z",
)
TEXTS: tuple[Any, ...] = (
    "",
    " ",
    "x" * 400,
    "<script>x",
    "\u202e",
    "🦎",
    "\ud800",
    "é" * 90,
    "None",
    "nan",
    "../../x",
    "'; --",
    "%s",
    "{}",
    "00:00",
    "24:00",
    "08:60",
    "male",
    "adult",
    "surface_day",
    "hygrometer",
    "Pacific/Auckland",
    "lamp-1",
)
CATALOGUE: tuple[Any, ...] = (
    None,
    True,
    False,
    [],
    {},
    [[]],
    [None],
    {"": None},
    {"a": {"b": []}},
    [0] * 50,
)
WHOLE_TEXTS = (
    "",
    "{",
    "[]",
    "0",
    "null",
    '"x"',
    "nan",
    "1e999",
    "[" * 2000,
    '{"a":' * 900,
    "9" * 5000,
    "\ufeff{}",
    "{}",
    '{"format": 1}',
)


def _places(value: Any, at: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Every place in a document, by its path."""
    if at:
        yield at
    if isinstance(value, dict):
        for key, part in value.items():
            yield from _places(part, (*at, key))
    elif isinstance(value, list):
        for n, part in enumerate(value):
            yield from _places(part, (*at, n))


def _other(rng: random.Random, before: Any) -> Any:
    """Something else for a place: most often of the kind that it holds."""
    if rng.random() < 0.25:
        return copy.deepcopy(rng.choice((*NUMBERS, *DAYS, *TEXTS, *CATALOGUE)))
    if isinstance(before, bool):
        return rng.choice((True, False, *CATALOGUE))
    if isinstance(before, int | float):
        near = before * rng.choice((0.5, 0.9, 1.1, 2, 10, 0.1, -1, 1000))
        return rng.choice((near, near, rng.choice(NUMBERS)))
    if isinstance(before, str) and before[:4].isdecimal():
        return rng.choice(DAYS)
    if isinstance(before, str):
        return rng.choice(TEXTS)
    return copy.deepcopy(rng.choice(CATALOGUE))


def _nudged(document: Any, rng: random.Random) -> Any:
    """A document with a few of its numbers a little or a few times larger or smaller: often taken."""
    places = [at for at in _places(document) if _is_number(_at(document, at))]
    for at in rng.sample(places, min(len(places), rng.choice((1, 2, 4)))):
        parent = _at(document, at[:-1])
        parent[at[-1]] = round(parent[at[-1]] * rng.choice((0.3, 0.7, 0.95, 1.05, 1.3, 2, 4)), 4)
    return document


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _at(document: Any, way: tuple[Any, ...]) -> Any:
    for step in way:
        document = document[step]
    return document


def changed(document: Any, seed: int) -> Any:
    """A document with one to four places changed, as its seed says; of every third numbers only."""
    rng = random.Random(seed)
    made = copy.deepcopy(document)
    if seed % 3 == 0:
        return _nudged(made, rng)
    for _ in range(rng.choice((1, 1, 1, 2, 3))):
        places = list(_places(made))
        if not places:
            return made
        *way, last = rng.choice(places)
        parent = made
        for step in way:
            parent = parent[step]
        what = rng.random()
        if what < 0.1:
            del parent[last]
        elif what < 0.15 and isinstance(parent, list):
            parent += [copy.deepcopy(parent[last])] * rng.choice((1, 30, 600))
        elif what < 0.2 and isinstance(parent, dict):
            parent[rng.choice(TEXTS)] = _other(rng, parent[last])
        else:
            parent[last] = _other(rng, parent[last])
    return made


def text_of(document: Any, seed: int) -> str:
    """The text of a changed document; now and then one that is no document at all."""
    if seed % 97 == 0:
        return WHOLE_TEXTS[seed // 97 % len(WHOLE_TEXTS)]
    return json.dumps(changed(document, seed))
