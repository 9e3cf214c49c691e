"""What a mesh lets through."""

import numpy as np
from numpy.typing import NDArray

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method


@method(
    arguments={"wire_mm": Argument("mm", 0, 10), "pitch_mm": Argument("mm", 0.1, 100)},
    unit="1",
    rule="Open share of a square woven mesh seen straight on: τ = (1 − wire/pitch)².",
    source=Source(
        kind="published", text="Geometry of round wires; equals ray casting to 0.001 (tests)"
    ),
    example=Example(
        {"wire_mm": 0.28, "pitch_mm": 1.49}, 0.6594, 1e-3, "arithmetic: (1 − 0.28/1.49)²"
    ),
)
def mesh_transmission(wire_mm: float, pitch_mm: float) -> float:
    """Share of a beam that passes a mesh at right angles [1]; 0 when the wires touch."""
    return max(0.0, 1 - wire_mm / pitch_mm) ** 2


def oblique_transmission(
    wire_share: float, tan_x: NDArray[np.float64] | float, tan_y: NDArray[np.float64] | float
) -> NDArray[np.float64]:
    """Share passed at an angle: each set of wires looks closer together by 1/cos of its own angle
    [1].

    Parameters
    ----------
    wire_share : float
        Wire diameter over pitch [1].
    tan_x, tan_y : array
        Tangents of the ray's angle from the normal in the two directions of the weave [1].
    """
    across = np.clip(1 - wire_share * np.sqrt(1 + np.square(tan_x)), 0, 1)
    along = np.clip(1 - wire_share * np.sqrt(1 + np.square(tan_y)), 0, 1)
    return np.asarray(across * along)
