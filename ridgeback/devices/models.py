"""A device, the hash of its token, and the channels that it may write to."""

from django.db import models
from django.db.models import Q

from ridgeback.households.models import Household, Keeper
from ridgeback.records.models import Channel


class DeviceQuerySet(models.QuerySet["Device"]):
    """Reading of devices."""

    def of(self, household: Household | None) -> "DeviceQuerySet":
        """A household's own: the one way in for every page."""
        return self.none() if household is None else self.filter(household=household)

    def trusted(self) -> "DeviceQuerySet":
        """Those whose token still opens anything."""
        return self.filter(revoked_at__isnull=True)


class Device(models.Model):
    """Something that posts readings. Its token is shown once; only its hash is here."""

    household = models.ForeignKey(Household, on_delete=models.CASCADE, related_name="devices")
    name = models.CharField(max_length=80)
    token_hash = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField()
    by = models.ForeignKey(Keeper, on_delete=models.SET_NULL, null=True, related_name="+")
    revoked_at = models.DateTimeField(null=True, blank=True)
    seen_at = models.DateTimeField(null=True, blank=True)
    problem = models.CharField(max_length=200, blank=True)  # of its last batch

    objects = DeviceQuerySet.as_manager()

    class Meta:
        ordering = ["name", "pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["household", "name"],
                condition=Q(revoked_at__isnull=True),
                name="device_name_once",
            )
        ]

    def __str__(self) -> str:
        return self.name


class DeviceChannel(models.Model):
    """A channel that a device may write to, under a name of its own."""

    device = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="bindings")
    channel = models.OneToOneField(Channel, on_delete=models.CASCADE, related_name="binding")
    code = models.CharField(max_length=40)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["device", "code"], name="device_code_once")]

    def __str__(self) -> str:
        return f"{self.device}: {self.code}"
