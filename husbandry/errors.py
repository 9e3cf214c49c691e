"""The family of errors that the core raises on purpose.

Each message is a sentence fit for a person.
"""

from dataclasses import dataclass


class HusbandryError(ValueError):
    """Base of the family: something given to the core cannot be used, and the message says what and
    why.
    """


class EntryError(HusbandryError):
    """What was typed into a field cannot be read as the quantity it should be."""


class OutOfRangeError(HusbandryError):
    """A number lies outside the range in which a method holds."""

    def __init__(self, name: str, value: float, unit: str, low: float, high: float) -> None:
        self.name = name
        self.value = value
        self.unit = unit
        self.low = low
        self.high = high
        unit_text = f" {unit}" if unit and unit != "1" else ""
        super().__init__(
            f"{name} is {value:g}{unit_text}; it must lie from {low:g} to {high:g}{unit_text}"
        )


class UnknownNameError(HusbandryError):
    """A method, species or material of that name does not exist."""


@dataclass(frozen=True)
class Problem:
    """One thing wrong in a document: where (RFC 6901 JSON pointer) and why."""

    pointer: str
    reason: str


class DocumentError(HusbandryError):
    """A request or profile that cannot be used, with every problem found in it."""

    def __init__(self, what: str, problems: list[Problem]) -> None:
        self.what = what
        self.problems = problems
        super().__init__(
            f"{what}: " + "; ".join(f"{p.pointer or '/'}: {p.reason}" for p in problems)
        )


class CannotCalculateError(HusbandryError):
    """The numbers of a request lead out of everything that can be calculated."""


class NoSolutionError(HusbandryError):
    """A solver was asked for something that no value in the allowed range gives."""


class ImpossibleStateError(RuntimeError):
    """A value is missing that the caller has made sure of: a fault of ours, not of an input."""
