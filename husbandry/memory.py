"""What is remembered by its content: the same question has the same answer, found once.

Only for pure functions of values that cannot change; nobody may write into what comes back.
"""

import functools
from collections.abc import Callable
from typing import ParamSpec, TypeVar, cast

P = ParamSpec("P")
T = TypeVar("T")

_CLEARED: list[Callable[[], None]] = []


def remembered(most: int) -> Callable[[Callable[P, T]], Callable[P, T]]:
    """A decorator: the last answers of a pure function are kept, as many as are named."""

    def decorate(asked: Callable[P, T]) -> Callable[P, T]:
        keeping = functools.lru_cache(maxsize=most)(asked)
        _CLEARED.append(keeping.cache_clear)
        return cast("Callable[P, T]", keeping)

    return decorate


def forget() -> None:
    """Keep no answer: for who measures how long an answer takes."""
    for clear in _CLEARED:
        clear()
