"""What was typed and is not kept yet, so that nothing is lost with a browser, a device or a server."""

from django.db import models

from ridgeback.households.models import Household, Keeper


class Draft(models.Model):
    """One person's unfinished entry.

    `data` holds each part's text as it was typed, with the units it was typed in.
    """

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="drafts")
    keeper = models.ForeignKey(Keeper, on_delete=models.CASCADE, related_name="drafts")
    subject = models.CharField(max_length=40)  # first-run, or enclosure-12
    data = models.JSONField(default=dict)
    updated_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["household", "keeper", "subject"], name="draft_once")
        ]

    def __str__(self) -> str:
        return f"{self.subject} of {self.keeper}"
