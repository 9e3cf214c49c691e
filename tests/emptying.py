"""How the database is emptied after a test that commits."""

from collections.abc import Sequence
from typing import Any

from django.db.backends.postgresql.operations import DatabaseOperations

_truncate = DatabaseOperations.sql_flush


def _delete(
    self: DatabaseOperations,
    style: Any,
    tables: Sequence[str],
    *,
    reset_sequences: bool = False,
    allow_cascade: bool = False,
) -> list[str]:
    """The statements that leave nothing in the tables; foreign keys are looked at when they end."""
    if reset_sequences or allow_cascade:
        return _truncate(
            self, style, tables, reset_sequences=reset_sequences, allow_cascade=allow_cascade
        )
    return [f"DELETE FROM {self.quote_name(table)};" for table in tables]


def by_deleting() -> None:
    """Delete the few rows of a test: truncating seventy tables waits for the disk, about two seconds
    a test.
    """
    DatabaseOperations.sql_flush = _delete  # type: ignore[method-assign]  # Django has no setting for it
