"""Who wants the daily email and when, and the daily emails that were written: the page shows them,
wherever mail goes or does not.
"""

from django.db import models
from django.db.models import Q

from ridgeback.households.models import Membership


class DigestSubscription(models.Model):
    """Somebody of a household wants the daily email at an hour of the household's own time."""

    membership = models.OneToOneField(Membership, on_delete=models.CASCADE, related_name="wish")
    hour = models.PositiveSmallIntegerField(default=7)

    class Meta:
        constraints = [
            models.CheckConstraint(name="wish_hour_of_day", condition=Q(hour__range=(0, 23)))
        ]

    def __str__(self) -> str:
        return f"{self.membership} at {self.hour}"


class Digest(models.Model):
    """A daily email of a day. Its row comes first: two workers write one."""

    membership = models.ForeignKey(Membership, on_delete=models.CASCADE, related_name="digests")
    on = models.DateField()
    subject = models.CharField(max_length=200)
    text = models.TextField()
    written_at = models.DateTimeField()
    mailed_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-on", "-pk"]
        constraints = [
            models.UniqueConstraint(fields=["membership", "on"], name="digest_once_a_day")
        ]

    def __str__(self) -> str:
        return self.subject


class ReturnedMail(models.Model):
    """An address from which mail came back."""

    address = models.EmailField(unique=True)  # in small letters
    status = models.CharField(max_length=12, blank=True)  # RFC 3463, such as 5.1.1
    said = models.CharField(max_length=200, blank=True)  # by the mail server
    times = models.PositiveSmallIntegerField(default=0)
    first_at = models.DateTimeField()
    last_at = models.DateTimeField()
    is_closed = models.BooleanField(default=False)  # nothing is mailed to it

    class Meta:
        verbose_name_plural = "returned mail"

    def __str__(self) -> str:
        return f"{self.address}: {self.status}"
