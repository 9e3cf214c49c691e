"""Invitations to a household, and personal links for those without an account.

Secrets are shown once and kept as their hashes.
"""

import datetime as dt
import hashlib
import secrets

from django.db import models
from django.db.models import Q

from ridgeback.animals.models import Animal
from ridgeback.households.models import Household, Keeper, Membership

INVITED_FOR = dt.timedelta(days=7)
"""An invitation is good for so long (design choice)."""
CODE_LETTERS = "ABCDEFGHJKMNPQRSTVWXYZ23456789"
"""Of a code: none that is taken for another when it is read aloud."""
CODE_LENGTH = 14
"""Letters of a code: 68 bits (design choice)."""
SECRET_BYTES = 24


def new_code() -> str:
    """Make the code of an invitation, in groups: “K7QF9-XMDN2-T4WB”."""
    letters = "".join(secrets.choice(CODE_LETTERS) for _ in range(CODE_LENGTH))
    return "-".join((letters[:5], letters[5:10], letters[10:]))


def new_secret() -> str:
    """Make the secret of a personal link."""
    return secrets.token_urlsafe(SECRET_BYTES)


def hash_of(secret: str) -> str:
    """Hash a secret as it is kept."""
    return hashlib.sha256(secret.encode("utf-8", "surrogatepass")).hexdigest()


def hash_of_code(code: str) -> str:
    """Hash an invitation's code, however it was typed."""
    return hash_of("".join(one for one in code.upper() if one.isalnum()))


class InvitationQuerySet(models.QuerySet["Invitation"]):
    """Reading of invitations."""

    def of(self, household: Household | None) -> "InvitationQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(household=household)

    def open_at(self, moment: dt.datetime) -> "InvitationQuerySet":
        """Those that can still be used."""
        return self.filter(used_at__isnull=True, revoked_at__isnull=True, expires_at__gt=moment)


class Invitation(models.Model):
    """A way into a household, for one person, once."""

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="invitations")
    role = models.CharField(max_length=6, choices=Membership.Role)
    email = models.EmailField(blank=True)  # where it was sent; empty: the code was given by hand
    code_hash = models.CharField(max_length=64, unique=True)
    from_on = models.DateField(null=True, blank=True)  # of a sitter
    until_on = models.DateField(null=True, blank=True)
    made_by = models.ForeignKey(Keeper, on_delete=models.CASCADE, related_name="+")
    made_at = models.DateTimeField()
    expires_at = models.DateTimeField()
    used_by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")
    used_at = models.DateTimeField(null=True, blank=True)
    revoked_at = models.DateTimeField(null=True, blank=True)

    objects = InvitationQuerySet.as_manager()

    class Meta:
        ordering = ["-made_at"]
        constraints = [
            models.CheckConstraint(
                name="invitation_role_known", condition=Q(role__in=["owner", "keeper", "sitter"])
            ),
            models.CheckConstraint(
                name="invitation_sitter_dated",
                condition=~Q(role="sitter")
                | Q(from_on__isnull=False, until_on__gte=models.F("from_on")),
            ),
        ]

    def __str__(self) -> str:
        return f"{self.household}: {self.role}"


class PersonalLinkQuerySet(models.QuerySet["PersonalLink"]):
    """Reading of personal links."""

    def of(self, household: Household | None) -> "PersonalLinkQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(household=household)


class PersonalLink(models.Model):
    """An address for one person without an account: a sitter's tasks, or animals that are shown."""

    class Kind(models.TextChoices):
        SITTER = "sitter", "a sitter: today’s tasks"
        VIEWER = "viewer", "a viewer: some animals, read only"

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="links")
    kind = models.CharField(max_length=6, choices=Kind)
    name = models.CharField(max_length=80)  # whose it is; the log says it
    secret_hash = models.CharField(max_length=64, unique=True)
    from_on = models.DateField()
    until_on = models.DateField()
    animals = models.ManyToManyField(Animal, blank=True, related_name="+")  # of a viewer
    made_by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")
    made_at = models.DateTimeField()
    revoked_at = models.DateTimeField(null=True, blank=True)
    seen_at = models.DateTimeField(null=True, blank=True)

    objects = PersonalLinkQuerySet.as_manager()

    class Meta:
        ordering = ["-made_at"]
        constraints = [
            models.CheckConstraint(
                name="link_kind_known", condition=Q(kind__in=["sitter", "viewer"])
            ),
            models.CheckConstraint(
                name="link_ends_after_it_begins", condition=Q(until_on__gte=models.F("from_on"))
            ),
        ]

    def __str__(self) -> str:
        return f"{self.name}, {self.kind}"

    def is_open(self, day: dt.date) -> bool:
        """Whether it lets somebody in on that day."""
        return self.revoked_at is None and self.from_on <= day <= self.until_on
