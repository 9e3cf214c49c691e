"""A device, the hash of its token, and the channels that it may write to."""

from django.db import models
from django.db.models import Q

from husbandry.bounds import MASS_G
from ridgeback.animals.models import Animal, Weighing
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


class ScaleWeightQuerySet(models.QuerySet["ScaleWeight"]):
    """Reading of what scales showed."""

    def of(self, household: Household | None) -> "ScaleWeightQuerySet":
        """A household's own: the one way in for every page."""
        if household is None:
            return self.none()
        return self.filter(channel__enclosure__household=household)

    def waiting(self) -> "ScaleWeightQuerySet":
        """Those of which nobody has said whose they are."""
        return self.filter(state=ScaleWeight.State.WAITING)


class ScaleWeight(models.Model):
    """What a scale that sends by itself showed once: a weight of an animal, or a question whose it is."""

    class State(models.TextChoices):
        WAITING = "waiting", "waiting"
        LOGGED = "logged", "logged"
        SKIPPED = "skipped", "skipped"

    channel = models.ForeignKey(Channel, on_delete=models.CASCADE, related_name="weights")
    at = models.DateTimeField()
    mass_g = models.FloatField()
    state = models.CharField(max_length=7, choices=State, default=State.WAITING)
    question = models.CharField(max_length=300, blank=True)  # why it was not logged by itself
    animal = models.ForeignKey(Animal, on_delete=models.SET_NULL, null=True, related_name="+")
    weighing = models.ForeignKey(Weighing, on_delete=models.SET_NULL, null=True, related_name="+")

    objects = ScaleWeightQuerySet.as_manager()

    class Meta:
        ordering = ["-at", "-pk"]
        constraints = [
            models.UniqueConstraint(fields=["channel", "at"], name="scale_weight_once"),
            models.CheckConstraint(
                name="scale_weight_possible", condition=Q(mass_g__range=MASS_G)
            ),
            models.CheckConstraint(
                name="scale_weight_state_known",
                condition=Q(state__in=["waiting", "logged", "skipped"]),
            ),
        ]

    def __str__(self) -> str:
        return f"{self.mass_g:g} g at {self.at}"
