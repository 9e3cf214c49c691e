"""How a number was worked out, ready for a page to unfold in place."""

from dataclasses import dataclass

from husbandry.derivation import Derivation
from husbandry.quantity import Units
from ridgeback.sentences import input_text, number_text


@dataclass(frozen=True)
class DerivationView:
    """A number with its derivation, for unfolding in place."""

    text: str
    rule: str
    inputs: tuple[tuple[str, str], ...]
    sources: tuple[str, ...]
    would_change: str


def derivation_view(derivation: Derivation, units: Units, *, digits: int = 1) -> DerivationView:
    """A derivation in the reader's units."""
    value = (
        f"{derivation.value:.{digits}f} {derivation.unit}"
        if derivation.unit.startswith("%")
        else number_text(derivation.value, derivation.unit, units)
    )
    return DerivationView(
        value,
        derivation.rule,
        tuple((item.name, input_text(item, units)) for item in derivation.inputs),
        tuple(str(source) for source in derivation.sources),
        derivation.would_change,
    )
