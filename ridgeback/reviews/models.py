"""A described enclosure under review. It touches no animal, task or stock of the household."""

from typing import Any

from django.core.exceptions import ValidationError
from django.db import models
from django.db.models import Q
from pydantic import ValidationError as FactsError

from husbandry.review.description import Description
from ridgeback.households.models import Household, Keeper
from ridgeback.reviews.photo_scale import PhotoScale


def is_description(value: Any) -> None:
    """Refuse facts that no description has."""
    try:
        Description.model_validate(value)
    except FactsError as why:
        first = why.errors()[0]
        place = "/".join(str(part) for part in first["loc"])
        raise ValidationError(f"{place}: {first['msg']}") from None


def is_photo_scale(value: Any) -> None:
    """Refuse points and lengths that tell no scale."""
    try:
        PhotoScale.read(value)
    except (KeyError, TypeError, ValueError):
        raise ValidationError("This is no scale of a photo.") from None


class EnclosureReviewQuerySet(models.QuerySet["EnclosureReview"]):
    """Reading of reviews."""

    def of(self, household: Household | None) -> "EnclosureReviewQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(household=household)

    def light(self) -> "EnclosureReviewQuerySet":
        """Without the photo."""
        return self.defer("photo", "photo_original")

    def saying(self, words: str) -> "EnclosureReviewQuerySet":
        """Those whose title or text says every one of these words."""
        found = self

        for word in words.split()[:6]:
            found = found.filter(Q(title__icontains=word) | Q(description__text__icontains=word))

        return found


class EnclosureReview(models.Model):
    """What was said of an enclosure, as facts; what follows from them is worked out."""

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="reviews")
    title = models.CharField(max_length=80)
    description = models.JSONField(validators=[is_description])
    version = models.PositiveIntegerField(default=0)
    by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")
    made_at = models.DateTimeField()
    photo_original = models.BinaryField(null=True, blank=True)  # until a worker made it small
    photo = models.BinaryField(null=True, blank=True)
    photo_scale = models.JSONField(null=True, blank=True, validators=[is_photo_scale])
    photo_problem = models.CharField(max_length=200, blank=True)
    correction_tries = models.PositiveSmallIntegerField(default=0)  # of these facts

    objects = EnclosureReviewQuerySet.as_manager()

    class Meta:
        ordering = ["-made_at", "-pk"]

    def __str__(self) -> str:
        return self.title

    @property
    def said(self) -> Description:
        """The facts."""
        return Description.model_validate(self.description)


class ReviewLink(models.Model):
    """An address at which whoever asked sees a review without an account, for some days."""

    review = models.OneToOneField(EnclosureReview, on_delete=models.CASCADE, related_name="link")
    secret_hash = models.CharField(max_length=64, unique=True)
    until_on = models.DateField()

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.review}, until {self.until_on}"
