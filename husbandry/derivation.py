"""A number that carries its derivation: the same object is in the plan, on the screen and in the
JSON.
"""

from typing import Literal

from pydantic import BaseModel, ConfigDict


class Document(BaseModel):
    """Base of everything that is read from or written to JSON: immutable, and refuses what it does
    not know.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


OriginKind = Literal[
    "published", "from memory", "common practice", "design choice", "entered", "measured"
]


class Source(Document):
    """Where a value or rule comes from. "published" only for what was opened or is certain to the
    page.
    """

    kind: OriginKind
    text: str = ""

    def __str__(self) -> str:
        if self.kind == "common practice":
            return f"common practice, no source{': ' + self.text if self.text else ''}"
        return f"{self.text} ({self.kind})" if self.text else self.kind


class DerivationInput(Document):
    """One input of a derivation: a name, its value and its unit; text for what is not a number."""

    name: str
    value: float | None = None
    unit: str = ""
    text: str = ""


def named_value(name: str, value: float | None, unit: str = "") -> DerivationInput:
    """Name a number that goes into a derivation [unit]."""
    return DerivationInput(name=name, value=value, unit=unit)


def named_text(name: str, text: str) -> DerivationInput:
    """Name something that goes into a derivation and is no number."""
    return DerivationInput(name=name, text=text)


class OtherApproach(Document):
    """What another approach says where this number depends on one."""

    question: str
    """Its slug."""
    approach: str
    """The approach's name."""
    why: str
    low: float | None = None
    high: float | None = None
    """Its range, or the number alone as both ends."""
    unit: str = ""
    text: str = ""
    """What it says where that is no number; or more precisely than its reason."""


class Derivation(Document):
    """A number with the interval it lies in 9 times of 10, the rule that gave it, what went in, and
    whose word it is.
    """

    value: float
    unit: str
    low: float | None = None
    high: float | None = None
    """The ends of the 90 % interval, where one is known."""
    rule: str
    """What was done, as one sentence with its equation."""
    method: str = ""
    """Its name in the registry of methods, when it is one of them."""
    inputs: tuple[DerivationInput, ...] = ()
    sources: tuple[Source, ...] = ()
    approach: str = ""
    others: tuple[OtherApproach, ...] = ()
    """What the other approaches say of the same number."""
    would_change: str = ""
    """What would move this number or narrow its interval."""
    command: str = ""
    """A command line that gives the same number: `python -m husbandry` and this."""

    @property
    def sd(self) -> float | None:
        """One standard deviation of the interval, taken as normal [unit of the value]."""
        if self.low is None or self.high is None:
            return None
        return (self.high - self.low) / (2 * Z90)


Z90 = 1.6448536269514722
"""Half width of a 90 % interval in standard deviations (normal distribution)."""
