"""Calculations that must not take a page down: what cannot be calculated is a result, too.

One row that cannot be planned never fails a list, a day, a calendar, an email or a job: it is shown
as "cannot be calculated", with its reasons, beside the others.
"""

import logging
from collections.abc import Callable
from dataclasses import dataclass
from typing import TypeVar

from django.db import Error as DatabaseError

from husbandry.errors import DocumentError, HusbandryError

log = logging.getLogger("ridgeback.calculation")
T = TypeVar("T")
BROKE_OFF = "the calculation broke off; the error is in the server's log"
MOST_REASONS = 5


@dataclass(frozen=True)
class Failed:
    """A calculation without a result."""

    reasons: tuple[str, ...]

    @property
    def text(self) -> str:
        """As one sentence."""
        return f"Cannot be calculated: {'; '.join(self.reasons)}"


def reasons_of(error: Exception) -> tuple[str, ...]:
    """Say in sentences why a calculation failed: the core's own reasons, or that it broke off."""
    if isinstance(error, DocumentError):
        return tuple(problem.reason for problem in error.problems[:MOST_REASONS])
    if isinstance(error, HusbandryError):
        return (str(error),)
    return (BROKE_OFF,)


def attempt(make: Callable[[], T], what: str, pk: int) -> T | Failed:
    """Calculate something of one row.

    Parameters
    ----------
    what, pk
        The kind of row and its key, for the log.

    Returns
    -------
    T or Failed
        Errors of the database are raised: after one nothing can be read in this transaction.
    """
    try:
        return make()
    except DatabaseError:
        raise
    except HusbandryError as error:
        return Failed(reasons_of(error))
    except Exception as error:  # one bad row must not take the others down, whatever it is
        log.exception("not calculated", extra={"what": what, "row": pk})
        return Failed(reasons_of(error))
