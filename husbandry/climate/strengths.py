"""The few strengths of an enclosure that nobody can look up and readings can tell.

Method: docs/methods/calibration.md.
"""

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

ENVELOPE_LN_SD, LENGTHWISE_LN_SD, UPRIGHT_LN_SD = 0.25, 0.6, 0.5
"""What is not known before any reading, as standard deviations of the logarithm (design choice)
[1].
"""


@dataclass(frozen=True)
class Strengths:
    """Factors on the model's own: 1 before any reading.

    `covariance` is of the logarithms: envelope, lengthwise, upright, then each lamp of the
    enclosure in its order. None: the priors, independent.
    """

    envelope: float = 1.0
    """Panels, vents and leaks [1]."""
    lengthwise: float = 1.0
    """Mixing of the air along the length [1]."""
    upright: float = 1.0
    """Mixing of the air in the height [1]."""
    covariance: Array | None = field(default=None, compare=False)


AS_BUILT = Strengths()
"""Nothing was read."""
