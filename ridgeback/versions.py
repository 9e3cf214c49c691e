"""Rows that several people edit."""

from django.db import models


class Versioned(models.Model):
    """A row that people edit.

    `version` counts its edits, so that a save from an old page is seen.
    """

    version = models.PositiveIntegerField(default=1, editable=False)

    class Meta:
        abstract = True
