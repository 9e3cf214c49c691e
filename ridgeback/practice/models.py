"""What a person did with a case. It belongs to the person, and to no household."""

from django.db import models
from django.db.models import Q

from husbandry.practice.cases import LEVELS, PracticeCase
from husbandry.practice.fairness import fair_case
from husbandry.practice.lessons import Lesson, lessons
from husbandry.practice.measuring import Measurement
from ridgeback.households.models import Keeper


class PracticeRunQuerySet(models.QuerySet["PracticeRun"]):
    """Reading of runs."""

    def of(self, keeper: Keeper) -> "PracticeRunQuerySet":
        """A person's own: the one way in for every page."""
        return self.filter(keeper=keeper)

    def finished(self) -> "PracticeRunQuerySet":
        """Those that were answered."""
        return self.filter(finished_at__isnull=False)


class PracticeRun(models.Model):
    """A case as one person measures and answers it."""

    keeper = models.ForeignKey(Keeper, on_delete=models.CASCADE, related_name="practice_runs")
    lesson = models.CharField(max_length=20, blank=True)  # empty: a free case, or that of a day
    level = models.PositiveSmallIntegerField()
    number = models.PositiveIntegerField()
    measured = models.JSONField(default=list)
    believed = models.JSONField(default=list)
    remedy = models.CharField(max_length=20, blank=True)
    score = models.PositiveSmallIntegerField(null=True, blank=True)
    started_at = models.DateTimeField()
    finished_at = models.DateTimeField(null=True, blank=True)

    objects = PracticeRunQuerySet.as_manager()

    class Meta:
        ordering = ["-started_at", "-pk"]
        constraints = [
            models.CheckConstraint(
                name="practice_level_known", condition=Q(level__gte=1, level__lte=6)
            ),
            models.CheckConstraint(
                name="practice_answered_has_score",
                condition=Q(finished_at__isnull=True) | Q(score__isnull=False),
            ),
            models.CheckConstraint(
                name="practice_score_of_a_hundred",
                condition=Q(score__isnull=True) | Q(score__lte=100),
            ),
        ]

    def __str__(self) -> str:
        return f"{self.keeper}: {self.level}-{self.number}"

    @property
    def taught(self) -> Lesson | None:
        """Its lesson."""
        return lessons().get(self.lesson)

    @property
    def case(self) -> PracticeCase:
        """The case itself."""
        taught = self.taught
        level = next(one for one in LEVELS if one == self.level)

        return fair_case(self.number, level, taught.only if taught is not None else ())

    @property
    def done(self) -> tuple[Measurement, ...]:
        """What was measured, in its order."""
        return tuple(Measurement.model_validate(one) for one in self.measured)
