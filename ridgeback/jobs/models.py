"""A piece of long work as its household sees it. The queue's own rows belong to the queue."""

from django.db import models
from django.db.models import Q

from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper

PAPERS = {
    "sitter": "Sitter’s sheet",
    "card": "Emergency card",
    "labels": "Labels",
    "summary": "Veterinarian’s summary",
    "care": "Care sheet",
    "transfer": "Bill of transfer",
    "review": "Second look",
}
"""Papers by their names in a job."""


class Job(models.Model):
    """Work asked for, its progress, and what it made.

    The same content is made once: `key` is its hash.
    """

    class State(models.TextChoices):
        WAITING = "waiting", "waiting"
        RUNNING = "running", "at work"
        DONE = "done", "done"
        FAILED = "failed", "failed"
        STOPPED = "stopped", "stopped"

    class Kind(models.TextChoices):
        SHEET = "sheet", "sheet"
        SETUPS = "setups", "search for setups"
        BUILD = "build", "build"
        PAPER = "paper", "paper"
        ARCHIVE = "zip", "household as one file"

    kind = models.CharField(max_length=6, choices=Kind, default=Kind.SHEET)
    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="jobs")
    enclosure = models.ForeignKey(
        Enclosure, on_delete=models.CASCADE, null=True, blank=True, related_name="jobs"
    )  # none of a paper of the whole household
    asked_by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")
    key = models.CharField(max_length=64)
    # The request as it was when it was asked for: the sheet is made from it, whatever happens since.
    asked = models.JSONField()
    units = models.CharField(max_length=12, default="metric c")
    state = models.CharField(max_length=7, choices=State, default=State.WAITING)
    progress_pct = models.PositiveSmallIntegerField(default=0)
    said = models.CharField(max_length=200, blank=True)
    made = models.BinaryField(null=True)
    tries = models.PositiveSmallIntegerField(default=0)  # since it was asked for last
    asked_at = models.DateTimeField(auto_now_add=True)
    finished_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-asked_at"]
        constraints = [
            models.UniqueConstraint(fields=["household", "key"], name="job_once"),
            models.CheckConstraint(
                name="job_of_an_enclosure",
                condition=Q(enclosure__isnull=False) | Q(kind__in=["paper", "zip"]),
            ),
            models.CheckConstraint(
                name="job_progress_in_percent", condition=Q(progress_pct__lte=100)
            ),
            models.CheckConstraint(
                name="job_state_known",
                condition=Q(state__in=["waiting", "running", "done", "failed", "stopped"]),
            ),
            models.CheckConstraint(
                name="job_done_has_made", condition=~Q(state="done") | Q(made__isnull=False)
            ),
        ]

    def __str__(self) -> str:
        return f"{self.enclosure or self.household}: {self.state}"

    @property
    def title(self) -> str:
        """What is made, of whom, as a heading."""
        if self.enclosure is not None:
            what = "Setups for" if self.kind == self.Kind.SETUPS else "Sheet of"
            return f"{what} {self.enclosure.name}"
        if self.kind == self.Kind.PAPER:
            return f"{PAPERS[self.asked['paper']]}, {self.household.name}"
        if "name" in self.asked:
            return f"The history of {self.asked['name']}"
        return f"Everything of {self.household.name}"
