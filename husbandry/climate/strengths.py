"""The few strengths of an enclosure that nobody can look up and readings can tell.

Method: docs/methods/calibration.md.
"""

import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

ENVELOPE_LN_SD, LENGTHWISE_LN_SD, UPRIGHT_LN_SD = 0.25, 0.6, 0.5
"""What is not known before any reading, as standard deviations of the logarithm (design choice)
[1].
"""


@dataclass(frozen=True)
class SpotReading:
    """What a reading of a spot told of it, beside what it told of the strengths."""

    instrument_sd_k: float
    spot_sd_k: float
    """What the model cannot say of one spot, whatever its strengths [K]."""
    left_k: float
    """The reading less what the fitted model says of the spot [K]."""
    alike: float = 1.0
    """How like the spot still is to the one that was read: less with each change of the enclosure [1]."""

    def variance_k2(self, of_strengths_k2: float, unread_k2: float) -> float:
        """Variance of what is true of the spot about what the fitted model says [K²].

        Of two independent errors, as normal distributions are multiplied: what was believed of the spot
        before it was read, and the instrument. The fitted strengths, which have seen the reading, are
        taken back to those that have not. A spot that has changed is in part a new one.

        Parameters
        ----------
        of_strengths_k2 : float
            What the fitted strengths leave open [K²].
        unread_k2 : float
            The variance if the spot had never been read [K²].
        """
        noise_k2 = self.instrument_sd_k**2 + self.spot_sd_k**2
        unseen_k2 = math.inf
        if of_strengths_k2 < 0.999 * noise_k2:
            unseen_k2 = of_strengths_k2 * noise_k2 / (noise_k2 - of_strengths_k2)
        before_k2 = unseen_k2 + self.spot_sd_k**2
        error_k2 = self.instrument_sd_k**2
        known_k2 = (
            error_k2 if math.isinf(before_k2) else before_k2 * error_k2 / (before_k2 + error_k2)
        )
        # the fitted model was not moved all the way to the reading
        off_k = self.left_k * self.spot_sd_k**2 / noise_k2

        return self.alike * (known_k2 + off_k**2) + (1 - self.alike) * unread_k2


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
