"""Writing a form once."""

import contextlib
import uuid
from collections.abc import Iterator

from django.db import IntegrityError, transaction

from ridgeback.submissions.models import Submission


@contextlib.contextmanager
def sent_once(household_id: int, key: uuid.UUID | None) -> Iterator[bool]:
    """Run a write together with noting its form, or not at all.

    Yields
    ------
    bool
        Whether this is the first time; when it is False nothing may be written. A form without a
        key, such as one posted by a script, is always new.
    """
    with transaction.atomic():
        yield key is None or _claim(household_id, key)


def is_sent(household_id: int, key: uuid.UUID | None) -> bool:
    """Whether a form was sent before."""
    if key is None:
        return False
    return Submission.objects.filter(household_id=household_id, key=key).exists()


def _claim(household_id: int, key: uuid.UUID) -> bool:
    """Note a form. Whoever sends the same at the same moment waits here, and then comes second."""
    try:
        with transaction.atomic():
            Submission.objects.create(household_id=household_id, key=key)
    except IntegrityError:
        return False
    return True
