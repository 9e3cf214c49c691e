"""Plants for enclosures: the light and the depth of substrate they need, what they like, and what
they do to who bites them.
"""

from dataclasses import dataclass
from types import MappingProxyType
from typing import Literal

from husbandry.derivation import Source
from husbandry.tables import rows

Harm = Literal["none", "irritant", "poisonous"]
HARM_WORDS: dict[Harm, str] = {"none": "", "irritant": ", irritant", "poisonous": ", poisonous"}
"""What is added to a plant's name where it can harm who bites it."""
Likes = Literal["damp", "dry", "any", "water"]


@dataclass(frozen=True)
class Plant:
    """One kind."""

    name: str
    label: str
    light_mol: float
    """The least daily light it grows in [mol/m² d]."""
    root_m: float
    """Depth of loose substrate for its roots; 0 for what needs none [m]."""
    likes: Likes
    harm: Harm
    source: Source


def _plants() -> dict[str, Plant]:
    return {
        row["name"]: Plant(
            name=row["name"],
            label=row["label"],
            light_mol=float(row["light_mol"]),
            root_m=float(row["root_m"]),
            likes=row["likes"],  # type: ignore[arg-type]  # a test reads every row
            harm=row["harm"],  # type: ignore[arg-type]
            source=Source(kind="common practice", text=row["source"]),
        )
        for row in rows("husbandry.enclosure", "plants.csv")
    }


PLANTS = MappingProxyType(_plants())
