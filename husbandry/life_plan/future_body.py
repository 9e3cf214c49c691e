"""An animal on another day: the body it will have, the stage that makes, and the request as it will
be then. Method: docs/methods/life-plan.md.
"""

import datetime as dt
import functools
import zoneinfo
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, TypeVar, cast

from husbandry.documents.animal import Animal
from husbandry.documents.request import Request
from husbandry.enclosure.sizing import floor_for, sides_for
from husbandry.enclosure.substrate import USUAL_M, substrate_m
from husbandry.growth.body import Body, body_of
from husbandry.growth.expected import ExpectedGrowth, expected
from husbandry.growth.fitting import WeightRecord
from husbandry.growth.projection import Growth, MassInterval, growth_of
from husbandry.species.approaches import QUESTIONS
from husbandry.species.parts import LengthKind
from husbandry.species.profile import Profile
from husbandry.species.stages import DAYS_PER_MONTH, StageFound, stage_of, stage_slug_of

Edge = Literal["low", "usual", "high"]
FAR_YEARS = 60
"""No path looks further, however long the animal lives (design choice) [years]."""


Method = TypeVar("Method", bound=Callable[..., Any])


def _remembered(method: Method) -> Method:
    """Work a day out once for an animal: every row, stage and enclosure of its life asks again."""

    @functools.wraps(method)
    def known(life: "FutureAnimal", on: dt.date, edge: Edge = "usual") -> Any:
        key = (method.__name__, on, edge)
        if key not in life._days:
            life._days[key] = method(life, on, edge)
        return life._days[key]

    return cast(Method, known)


@dataclass(frozen=True)
class FutureAnimal:
    """An animal with what tells its body on any day."""

    animal: Animal
    """As it is known today."""
    profile: Profile
    growth: Growth
    approaches: dict[str, str] = field(default_factory=dict)
    company: int = 1
    """Animals in its enclosure."""
    weighed: bool = True
    """False where only lengths were measured: the growth then stands on the masses that go with
    them, and no mass is told.
    """

    _days: dict[tuple[str, dt.date, Edge], Any] = field(
        default_factory=dict, init=False, repr=False, compare=False
    )
    """What was worked out of a day, by method."""

    @functools.cached_property
    def _expected(self) -> ExpectedGrowth:
        return expected(self.profile, self.animal.sex)

    def mass_g(self, on: dt.date, edge: Edge = "usual") -> float | None:
        """The mass on a day; None for an animal that was never weighed [g].

        Before the last weighing: as its species grows, and never more than it weighed then.
        """
        return self._body_g(on, edge) if self.weighed else None

    def _body_g(self, on: dt.date, edge: Edge) -> float | None:
        growth = self.growth
        if growth.last_g is None or growth.last_on is None:
            return None
        if on < growth.last_on:
            age = self._age_then(on, growth.last_g, growth.last_on)
            return min(growth.last_g, self._expected.usual.mass_g(age))
        interval = self._interval(on, "usual")
        return getattr(interval, edge) if interval is not None else None

    @_remembered
    def _interval(self, on: dt.date, _: Edge) -> MassInterval | None:
        return self.growth.mass(self.profile, on)

    def _age_then(self, on: dt.date, last_g: float, last_on: dt.date) -> float:
        """Its age on its species’ curve on an earlier day [months]."""
        if self.animal.born_on is not None:
            return (on - self.animal.born_on).days / DAYS_PER_MONTH
        usual = self._expected.usual
        now = usual.age_of(min(last_g, 0.95 * usual.grown_g))
        return now - (last_on - on).days / DAYS_PER_MONTH

    def lengths_mm(self, on: dt.date, edge: Edge = "usual") -> dict[LengthKind, float]:
        """The lengths on a day, on from those that were measured; nothing for what was not [mm]."""
        measured = self.animal.length_mm
        mass = self._body_g(on, edge)
        if not measured or mass is None or self.growth.last_mm_g is None:
            return {}
        kind = self._expected
        share = kind.length_mm(mass) / kind.length_mm(self.growth.last_mm_g)
        if self.growth.last_on is not None and on >= self.growth.last_on:
            share = max(share, 1.0)
        return {name: value * share for name, value in measured.items()}

    def _signs(self, on: dt.date, edge: Edge) -> dict[str, Any]:
        """What tells its stage on a day, by the names that `stage_of` gives it."""
        return {
            "today": on,
            "born_on": self.animal.born_on,
            "mass_g": self.mass_g(on, edge),
            "length_mm": self.lengths_mm(on, edge) or None,
        }

    @_remembered
    def stage(self, on: dt.date, edge: Edge = "usual") -> StageFound:
        """The stage on a day, told as a plan tells it."""
        return stage_of(self.profile, **self._signs(on, edge))

    @_remembered
    def stage_slug(self, on: dt.date, edge: Edge = "usual") -> str:
        """The stage on a day, with no word on why: what a life plan asks of thousands of days."""
        return stage_slug_of(self.profile, **self._signs(on, edge))

    def rank(self, on: dt.date, edge: Edge = "usual") -> int:
        """The place of its stage among the stages; the edges of an age alone are those of the
        overlap.
        """
        stages = self.profile.stages
        if self.growth.last_g is None and self.animal.born_on is not None and edge != "usual":
            months = (on - self.animal.born_on).days / DAYS_PER_MONTH
            inside = [n for n, stage in enumerate(stages) if stage.age_months.holds(months)]
            return (max if edge == "high" else min)(inside, default=len(stages) - 1)
        return next(n for n, stage in enumerate(stages) if stage.slug == self.stage_slug(on, edge))

    def length_m(self, on: dt.date, edge: Edge = "usual") -> float:
        """Body length as a plan takes it [m]."""
        return self._body(on, edge).length.value / 1000

    def planned_g(self, on: dt.date) -> float:
        """Mass as a plan takes it [g]."""
        return self._body(on).mass.value

    @_remembered
    def _body(self, on: dt.date, edge: Edge = "usual") -> Body:
        """As a plan takes it: what is projected, and what follows from it."""
        return body_of(
            self.profile,
            self.stage_slug(on, edge),
            mass_g=self.mass_g(on, edge),
            length_mm=self.lengths_mm(on, edge),
            sex=self.animal.sex,
        )

    @_remembered
    def enclosure_m(self, on: dt.date, edge: Edge = "usual") -> tuple[float, float, float]:
        """Length, depth and height that its enclosure needs on a day [m]."""
        approach = QUESTIONS["how-big"].chosen(self.approaches).slug
        floor = floor_for(self.profile, self.company)
        return sides_for(
            self.profile, self.stage_slug(on, edge), approach, self.length_m(on, edge), floor
        )

    @_remembered
    def substrate_m(self, on: dt.date, _: Edge = "usual") -> float:
        """Depth of substrate it needs on a day, at least the usual one [m]."""
        stage = self.stage_slug(on)
        return max(USUAL_M, substrate_m(self.profile, stage, self.approaches, self.length_m(on)))

    @property
    def known(self) -> bool:
        """Whether anything tells its body or its age."""
        return self.growth.last_g is not None or self.animal.born_on is not None

    def end(self, today: dt.date) -> dt.date:
        """The day to which a life plan can look: the end of a long life."""
        born = self.animal.born_on or today
        years = min(self.profile.lifespan_years.span.ends[1], FAR_YEARS)
        return max(born + dt.timedelta(days=round(years * 365.25)), today + dt.timedelta(days=365))


def future(
    animal: Animal,
    profile: Profile,
    weights: Sequence[WeightRecord] = (),
    lengths: Sequence[tuple[dt.date, float]] = (),
    *,
    approaches: Mapping[str, str] | None = None,
    company: int = 1,
    today: dt.date | None = None,
) -> FutureAnimal:
    """An animal with its growth worked out.

    Parameters
    ----------
    weights : sequence of WeightRecord
        Where there are none, the animal's own mass is taken as of `today`.
    lengths : sequence of (date, mm)
        Of the kind the body is counted in [mm].
    """
    own = animal.length_mm.get(profile.body.length_kind)
    if not weights and animal.mass_g is not None and today is not None:
        weights = [WeightRecord(on=today, mass_g=animal.mass_g)]
    if not lengths and own is not None and today is not None:
        lengths = [(today, own)]
    kind = expected(profile, animal.sex)
    told = weights or [WeightRecord(on=day, mass_g=kind.mass_of(mm)) for day, mm in lengths]
    growth = growth_of(profile, animal.sex, told, lengths)
    return FutureAnimal(
        animal,
        profile,
        growth,
        dict(animal.approaches if approaches is None else approaches),
        company,
        weighed=bool(weights),
    )


def animal_on(life: FutureAnimal, on: dt.date) -> Animal:
    """The animal as it will be known on a day."""
    return life.animal.model_copy(
        update={"mass_g": life.mass_g(on), "length_mm": life.lengths_mm(on)}
    )


def request_on(request: Request, on: dt.date, lives: Sequence[FutureAnimal]) -> Request:
    """The request as it will be at noon of a day: its animals grown, its readings left behind."""
    now = dt.datetime.combine(on, dt.time(12), zoneinfo.ZoneInfo(request.place.tz))
    animals = tuple(animal_on(life, on) for life in lives)
    return request.model_copy(update={"now": now, "animals": animals, "readings": ()})


def first_day(test: Callable[[dt.date], bool], after: dt.date, until: dt.date) -> dt.date | None:
    """The first day from `after` on which a lasting change is there, by halving; None when it does
    not come until `until`.
    """
    if not test(until):
        return None
    if test(after):
        return after
    low = 0
    high = (until - after).days
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if test(after + dt.timedelta(days=middle)) else (middle, high)
    return after + dt.timedelta(days=high)
