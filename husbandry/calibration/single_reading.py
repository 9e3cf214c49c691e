"""What one reading says of a lamp's strength: the hand's version of the calibration."""

import math

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method


@method(
    arguments={
        "predicted": Argument("1", 0.001, 1_000_000),
        "reading": Argument("1", 0.001, 1_000_000),
        "prior_ln_sd": Argument("1", 0.01, 2),
        "reading_ln_sd": Argument("1", 0.01, 2),
    },
    unit="1",
    rule=(
        "ln strength = ln(reading / predicted) × prior² / (prior² + reading²): the reading pulls by"
        " how much better it is known."
    ),
    source=Source(
        kind="published",
        text="normal prior and normal error: the mean and the mode of the posterior are one",
    ),
    example=Example(
        {"predicted": 4, "reading": 2, "prior_ln_sd": 0.3, "reading_ln_sd": 0.1},
        0.5359,
        1e-3,
        "by hand: exp(−0.6931 × 0.09 / 0.10)",
    ),
    validity="One reading of what is proportional to the strength, such as an index under one lamp.",
)
def likeliest_strength(
    predicted: float, reading: float, prior_ln_sd: float, reading_ln_sd: float
) -> float:
    """Strength of a lamp over what was assumed, after one reading [1]."""
    weight = prior_ln_sd**2 / (prior_ln_sd**2 + reading_ln_sd**2)
    return math.exp(math.log(reading / predicted) * weight)
