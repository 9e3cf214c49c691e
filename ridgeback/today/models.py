"""Addresses under which a household's tasks can be read by a calendar."""

from django.db import models

from ridgeback.households.models import Household, Keeper, Room


class CalendarFeed(models.Model):
    """A secret address for a calendar program.

    Only its hash is kept: whoever lost it makes another.
    """

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="feeds")
    room = models.ForeignKey(
        Room, on_delete=models.CASCADE, null=True, blank=True, related_name="+"
    )  # None: every room
    name = models.CharField(max_length=80)  # for whom: a sitter, a phone
    secret_hash = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["made_at", "pk"]

    def __str__(self) -> str:
        return self.name
