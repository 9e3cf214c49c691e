"""A reading and its instrument."""

from husbandry.methods import Argument, Example, method
from husbandry.worked import Source


@method(
    arguments={"value": Argument("", -1000, 100_000), "offset": Argument("", -1000, 1000)},
    unit="",
    rule="What the instrument showed, less what it is known to read too high.",
    source=Source(kind="common practice"),
    example=Example(
        {"value": 36.4, "offset": 1.4}, 35.0, 1e-12, "common practice, no source: a thermometer that reads 1.4 °C high"
    ),
)
def corrected_reading(value: float, offset: float = 0.0) -> float:
    """A reading corrected by the instrument's known offset [the reading's unit]."""
    return value - offset
