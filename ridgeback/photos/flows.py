"""Photos are kept as they come and made small by a worker; the original goes."""

import io

from django.db import transaction

from ridgeback.animals.models import Animal
from ridgeback.background import defer
from ridgeback.households.models import Keeper
from ridgeback.photos.models import Picture
from ridgeback.photos.shrinking import NoPictureError, shrink

TASK = "shrink_picture"


@transaction.atomic
def add(animal: Animal, original: bytes, *, keeper: Keeper, **facts: object) -> Picture:
    """Keep a photo and queue it to be made small: both or neither."""
    made = Picture.objects.create(animal=animal, original=original, by=keeper, **facts)
    defer(TASK, picture=made.pk)
    return made


def make_small(pk: int) -> None:
    """Make a photo small; one that cannot be read is marked so.

    Done once, however often it runs.
    """
    with transaction.atomic():
        known = Picture.objects.select_for_update().filter(pk=pk, original__isnull=False).first()
        if known is None or known.original is None:
            return
        try:
            known.body, known.small = shrink(io.BytesIO(known.original))
        except NoPictureError as why:
            known.problem = str(why)[:200]
        known.original = None
        known.save(update_fields=["body", "small", "original", "problem"])
