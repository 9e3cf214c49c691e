"""What every value of a profile is made of: a range or a text, with the origins behind it, and the
approach it belongs to.
"""

from collections.abc import Callable
from typing import Annotated, Self

from pydantic import AfterValidator, Field, model_validator

from husbandry.derivation import Document
from husbandry.errors import ImpossibleStateError
from husbandry.quantity import Kind, PlausibleRange, convert, question, read

Origins = Annotated[tuple[str, ...], Field(min_length=1)]
Text = Annotated[str, Field(min_length=3, max_length=600)]


def inside(low: float, high: float, kind: Kind, unit: str, what: str) -> Callable[[float], float]:
    """A check that a number can be what it says it is; the likely slip of unit is named.

    Ends are in `unit`.
    """
    span = (convert(low, kind, unit), convert(high, kind, unit))

    def check(value: float) -> float:
        if low <= value <= high:
            return value
        doubt = question(read(f"{value:.12g} {unit}", kind), PlausibleRange(span, span), what=what)
        said = doubt.sentence if doubt else f"A {what} of {value:g} {unit} is not possible."
        raise ValueError(said[0].lower() + said[1:])

    return check


# Beyond these no species of this trade lives: a number there was written in another unit (design
# choice).
celsius = inside(0, 66, Kind.TEMPERATURE, "°C", "temperature")
Celsius = Annotated[float, AfterValidator(celsius)]
Grams = Annotated[float, AfterValidator(inside(0.01, 250_000, Kind.MASS, "g", "mass"))]
Millimetres = Annotated[float, AfterValidator(inside(3, 8000, Kind.LENGTH, "mm", "length"))]
Metres = Annotated[float, Field(ge=0, le=10)]
Share = Annotated[float, Field(ge=0, le=1)]


class ValueRange(Document):
    """A range; either end may be open."""

    low: float | None = None
    high: float | None = None

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        if self.low is None and self.high is None:
            raise ValueError("a range needs at least one end")
        if self.low is not None and self.high is not None and self.low > self.high:
            raise ValueError(f"the range is crossed: {self.low:g} is above {self.high:g}")
        return self

    def holds(self, value: float) -> bool:
        """Whether the value lies in the range, ends included."""
        return (self.low is None or value >= self.low) and (
            self.high is None or value <= self.high
        )

    @property
    def ends(self) -> tuple[float, float]:
        """Both ends; an open one is the other."""
        low = self.low if self.low is not None else self.high
        high = self.high if self.high is not None else self.low
        if low is None or high is None:
            raise ImpossibleStateError("a range has one end at least")
        return low, high

    @property
    def middle(self) -> float:
        """Half way between the ends."""
        return sum(self.ends) / 2

    @property
    def typical(self) -> float:
        """The geometric middle of what can only be positive."""
        low, high = self.ends
        return float((low * high) ** 0.5) if low > 0 else high


class CelsiusSpan(ValueRange):
    """A range of temperatures [°C]."""

    low: Celsius | None = None
    high: Celsius | None = None


class GramSpan(ValueRange):
    """A range of masses [g]."""

    low: Grams | None = None
    high: Grams | None = None


class MillimetreSpan(ValueRange):
    """A range of lengths of a body [mm]."""

    low: Millimetres | None = None
    high: Millimetres | None = None


class MetreSpan(ValueRange):
    """A range of lengths of an enclosure [m]."""

    low: Metres | None = None
    high: Metres | None = None


class SourcedValue(Document):
    """Something with origins. Each key must be one of the profile's origins."""

    origin: Origins
    note: Annotated[str, Field(max_length=600)] = ""


class SourcedRange(SourcedValue):
    """A range with its origin."""

    low: float | None = None
    high: float | None = None

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        ValueRange(low=self.low, high=self.high)
        return self

    @property
    def span(self) -> ValueRange:
        """The range alone."""
        return ValueRange(low=self.low, high=self.high)


class SourcedText(SourcedValue):
    """A text with its origin."""

    text: Text


class StageChoice(SourcedValue):
    """A value that may belong to a stage, and to one approach where keepers differ."""

    stages: tuple[str, ...] = ()
    """Empty: all."""
    question: str = ""
    approach: str = ""

    def at(self, stage: str) -> bool:
        """Whether it is of that stage."""
        return not self.stages or stage in self.stages
