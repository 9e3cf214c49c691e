"""Forms that were saved."""

from django.db import models

from ridgeback.clock import now


class Submission(models.Model):
    """A form that was saved: the same form sent again writes nothing. Forgotten after some days."""

    household = models.ForeignKey(
        "households.Household", on_delete=models.CASCADE, related_name="+"
    )
    key = models.UUIDField()
    sent_at = models.DateTimeField(default=now)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["household", "key"], name="submission_once")
        ]
        indexes = [models.Index(fields=["sent_at"], name="submission_oldest")]  # the old ones go

    def __str__(self) -> str:
        return str(self.key)
