"""A household's own values of a profile. The species guide's files are never changed."""

from django.db import models

from ridgeback.animals.models import known_species
from ridgeback.households.models import Household


class ProfileEdits(models.Model):
    """The values of one species that a household keeps otherwise than the species guide, each with its
    reason (ridgeback-variant/2).
    """

    household = models.ForeignKey(
        Household, on_delete=models.CASCADE, related_name="profile_edits"
    )
    species = models.CharField(max_length=80, validators=[known_species])
    edits = models.JSONField(default=list)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["species"]
        constraints = [
            models.UniqueConstraint(fields=["household", "species"], name="profile_edits_once")
        ]

    def __str__(self) -> str:
        return f"{self.species}: {len(self.edits)} own"
