"""Writes about reviews, and what follows from one."""

import datetime as dt
import io
import secrets

from django.db import transaction
from django.db.models import F

from husbandry.review.description import Description
from husbandry.review.review import Review, review
from husbandry.species.library import library
from ridgeback.background import deadline, defer
from ridgeback.enclosures.planning import key_of, recall, remember
from ridgeback.households.models import Household, Keeper
from ridgeback.people.models import hash_of
from ridgeback.photos.shrinking import NoPictureError, shrink
from ridgeback.reviews.models import EnclosureReview, ReviewLink

TASK = "shrink_review_photo"
SHARED_DAYS = 30
"""A link to a review is open for so long (design choice) [days]."""
MOST_REVIEWS = 2000
"""Of a household (design choice)."""
SECRET_BYTES = 24
CORRECT_S = 180.0
"""A correction that takes longer ends its worker (design choice) [s]."""
MOST_TRIES = 2
"""So often a correction is begun: one that took too long twice is given up (design choice)."""
TOO_LONG = "The search for a better setup took too long and was stopped."


def title_of(said: Description) -> str:
    """What a review is called until somebody says: its animal and its size, no names."""
    animal = said.animal
    name = library()[animal.species].name if animal.species else animal.words or "Unknown animal"
    sides = [f"{100 * side:.0f}" for side in said.sides_m or () if side is not None]
    size = f", {' × '.join(sides)} cm" if len(sides) > 1 else ""

    return f"{name[:1].upper()}{name[1:]}{size}"[:80]


@transaction.atomic
def add(
    household: Household,
    said: Description,
    *,
    keeper: Keeper,
    now: dt.datetime,
    photo: bytes | None,
) -> EnclosureReview:
    """Keep a description; its photo is made small by a worker."""
    made = EnclosureReview.objects.create(
        household=household,
        title=title_of(said),
        description=said.model_dump(mode="json"),
        by=keeper,
        made_at=now,
        photo_original=photo,
    )

    if photo is not None:
        defer(TASK, review=made.pk)
    return made


@transaction.atomic
def add_photo(own: EnclosureReview, photo: bytes) -> None:
    """Take a photo in instead of the one there; the scale of that one goes."""
    own.photo_original = photo
    own.photo_problem = ""
    own.photo_scale = None
    own.save(update_fields=["photo_original", "photo_problem", "photo_scale"])
    defer(TASK, review=own.pk)


def make_photo_small(pk: int) -> None:
    """Make the photo of a review small, once; one that cannot be read is marked so."""
    with transaction.atomic():
        rows = EnclosureReview.objects.select_for_update()
        known = rows.filter(pk=pk, photo_original__isnull=False).first()
        if known is None or known.photo_original is None:
            return
        try:
            known.photo, _ = shrink(io.BytesIO(known.photo_original))
        except NoPictureError as why:
            known.photo_problem = str(why)[:200]
        known.photo_original = None
        known.photo_scale = None  # one that was set meanwhile was of the photo before it
        known.save(update_fields=["photo", "photo_original", "photo_problem", "photo_scale"])


@transaction.atomic
def change(own: EnclosureReview, said: Description, title: str) -> None:
    """Keep changed facts. `own` is locked."""
    own.title = title or title_of(said)
    own.description = said.model_dump(mode="json")
    own.version += 1
    own.correction_tries = 0
    own.save(update_fields=["title", "description", "version", "correction_tries"])


@transaction.atomic
def share(own: EnclosureReview, today: dt.date) -> str:
    """Open a link to a review, and close the one before it; its secret is shown once."""
    secret = secrets.token_urlsafe(SECRET_BYTES)
    until = today + dt.timedelta(days=SHARED_DAYS)
    ReviewLink.objects.update_or_create(
        review=own, defaults={"secret_hash": hash_of(secret), "until_on": until}
    )

    return secret


def unshare(own: EnclosureReview) -> None:
    """Close the link."""
    ReviewLink.objects.filter(review=own).delete()


def shared_by(secret: str, at: dt.datetime) -> EnclosureReview | None:
    """The review that a secret opens at that moment."""
    rows = EnclosureReview.objects.light().select_related("household", "by", "link")
    own = rows.filter(link__secret_hash=hash_of(secret)).first()

    if own is None or own.household.day_of(at) > own.link.until_on:
        return None

    return own


def _key(own: EnclosureReview, *, correct: bool) -> str:
    """Under which a review is remembered: another fact, or other code, is another review."""
    return key_of("second look", [own.description, own.made_at.date().isoformat(), correct])


def judged(own: EnclosureReview, *, correct: bool) -> Review:
    """The review of what was said, found again where it was worked out before.

    Parameters
    ----------
    correct : bool
        Whether the corrected enclosure is wanted: a worker looks for it, for up to a minute.
    """
    key = _key(own, correct=correct)
    known = recall([key]).get(key)
    if known is not None:
        return Review.model_validate_json(known)

    made = review(own.said, own.made_at, correct=correct)
    remember({key: made.model_dump_json(exclude_none=True)})
    return made


def correct(pk: int) -> None:
    """Put the enclosure of a review right: seconds, a minute at the worst, given up at the deadline."""
    rows = EnclosureReview.objects.light().filter(pk=pk)
    own = rows.first()
    if own is None:
        return
    if own.correction_tries >= MOST_TRIES:
        made = judged(own, correct=False)
        given_up = {"correction_sought": True, "correction_problem": TOO_LONG}
        made = made.model_copy(update=given_up)
        remember({_key(own, correct=True): made.model_dump_json(exclude_none=True)})
        return
    rows.update(correction_tries=F("correction_tries") + 1)

    with deadline(CORRECT_S, "correction", pk):
        judged(own, correct=True)
    rows.update(correction_tries=0)


def best_known(own: EnclosureReview) -> Review:
    """The review with its correction where that was worked out, else without."""
    key = _key(own, correct=True)
    known = recall([key]).get(key)
    return Review.model_validate_json(known) if known else judged(own, correct=False)
