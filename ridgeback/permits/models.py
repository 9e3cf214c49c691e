"""What proves who an animal is, where it came from, and that it may be kept.

The law is the authority's: nothing here says whether a paper is needed.
"""

import datetime as dt
from typing import Literal

from django.db import models
from django.db.models import F, Q

from ridgeback.animals.models import Animal
from ridgeback.households.models import Household, Keeper
from ridgeback.photos.models import Picture
from ridgeback.photos.stores import StoredBytesField

NOTICE_DAYS = 60
"""A paper that ends is brought up so long before (design choice): offices take weeks [days]."""


class DocumentQuerySet(models.QuerySet["AnimalDocument"]):
    """Reading of documents."""

    def of(self, household: Household | None) -> "DocumentQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(animal__household=household)

    def light(self) -> "DocumentQuerySet":
        """Without the bytes of their scans, but whether there is a PDF."""
        blobs = ("pdf", "pdf_original")
        pictures = ("scan__original", "scan__body", "scan__small")
        rows = self.select_related("scan").defer(*blobs, *pictures)
        return rows.annotate(
            has_pdf=Q(pdf__isnull=False), is_being_read=Q(pdf_original__isnull=False)
        )

    def ending(self) -> "DocumentQuerySet":
        """Those of animals that are still kept, and that run out on a day."""
        return self.filter(animal__gone_on__isnull=True, expires_on__isnull=False)


class AnimalDocument(models.Model):
    """One paper, or one mark on the animal itself, with a scan where there is one."""

    class Kind(models.TextChoices):
        PERMIT = "permit", "permit to keep it"
        CERTIFICATE = "certificate", "certificate of origin or trade"
        MARK = "mark", "chip, ring or other mark"
        ORIGIN = "origin", "proof of purchase or breeding"
        HEALTH = "health", "certificate of health"
        OTHER = "other", "another paper"

    animal = models.ForeignKey(Animal, on_delete=models.CASCADE, related_name="documents")
    kind = models.CharField(max_length=11, choices=Kind)
    number = models.CharField(max_length=80, blank=True)
    issued_by = models.CharField(max_length=120, blank=True)
    issued_on = models.DateField(null=True, blank=True)
    expires_on = models.DateField(null=True, blank=True)
    note = models.CharField(max_length=300, blank=True)
    scan = models.OneToOneField(
        Picture, on_delete=models.SET_NULL, null=True, blank=True, related_name="document"
    )
    pdf_original = models.BinaryField(null=True)  # as it was sent, until a worker has read it
    pdf = StoredBytesField(null=True)  # its pages, written anew
    pdf_problem = models.CharField(max_length=200, blank=True)  # why it could not be read
    by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")

    objects = DocumentQuerySet.as_manager()

    class Meta:
        ordering = [F("expires_on").asc(nulls_last=True), "kind", "pk"]
        constraints = [
            models.CheckConstraint(
                name="document_kind_known",
                condition=Q(
                    kind__in=["permit", "certificate", "mark", "origin", "health", "other"]
                ),
            ),
            models.CheckConstraint(
                name="document_ends_after_it_began",
                condition=Q(expires_on__isnull=True)
                | Q(issued_on__isnull=True)
                | Q(expires_on__gte=F("issued_on")),
            ),
            models.CheckConstraint(
                name="document_says_something",
                condition=~Q(number="")
                | ~Q(issued_by="")
                | ~Q(note="")
                | Q(scan__isnull=False)
                | Q(pdf__isnull=False)
                | Q(pdf_original__isnull=False)
                | ~Q(pdf_problem=""),
            ),
        ]
        indexes = [models.Index(fields=["expires_on"], name="document_ending")]

    def __str__(self) -> str:
        return f"{self.get_kind_display()} of {self.animal}"

    def state(self, today: dt.date) -> Literal["", "ends soon", "ended"]:
        """Find whether it runs out soon, or has; empty while it holds."""
        if self.expires_on is None or (self.expires_on - today).days > NOTICE_DAYS:
            return ""
        return "ended" if self.expires_on < today else "ends soon"

    def title(self, today: dt.date) -> str:
        """What is to be said of one that runs out: “Permit to keep it ends on 3 March 2027”."""
        kind = self.get_kind_display().capitalize()
        if self.expires_on is None:
            return kind
        verb = "ended" if self.expires_on < today else "ends"

        return f"{kind} {verb} on {self.expires_on:%-d %B %Y}"
