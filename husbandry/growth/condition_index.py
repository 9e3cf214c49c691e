"""Mass at a standard length: how lean or heavy an animal is among its like."""

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method


@method(
    arguments={
        "mass_g": Argument("g", 0.05, 200_000),
        "length_mm": Argument("mm", 5, 12_000),
        "typical_length_mm": Argument("mm", 5, 12_000),
        "slope": Argument("1", 1.5, 4.5),
    },
    unit="g",
    rule="Mass × (typical length / length)^b; b is the slope of ln mass on ln length, 3 for one shape.",
    source=Source(kind="from memory", text="J. Peig & A. J. Green 2009, Oikos 118"),
    example=Example(
        {"mass_g": 52, "length_mm": 110, "typical_length_mm": 100},
        39.07,
        0.001,
        "by hand: 52 × (100/110)³",
    ),
    validity="Within one species and sex; the slope from many animals, never from one.",
)
def scaled_mass_index(
    mass_g: float, length_mm: float, typical_length_mm: float, slope: float = 3.0
) -> float:
    """What an animal would weigh at a standard length [g]."""
    return float(mass_g * (typical_length_mm / length_mm) ** slope)
