"""The few strengths of an enclosure that nobody can look up and readings can tell.

Method: docs/methods/calibration.md.
"""

import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

ENVELOPE_LN_SD, LENGTHWISE_LN_SD, UPRIGHT_LN_SD = 0.18, 0.42, 0.42
"""What is not known before any reading, as standard deviations of the logarithm: tables of panels differ by
an eighth, films on a third of the way by a fifth, leaks by half of an eighth; coefficients of mixing by a
factor of two either way, nine times of ten (design choice) [1].
"""


@dataclass(frozen=True)
class SpotReading:
    """What a reading of a spot told of it, beside what it told of the strengths."""

    instrument_sd: float
    """Of the reading itself, however it came about [K; ln for UVI]."""
    offset_sd: float
    """What of it the instrument shows at every reading [K; ln for UVI]."""
    spot_sd: float
    """What the model cannot say of one spot, whatever its strengths [K; ln for UVI]."""
    left: float
    """The reading less what the fitted model says of the spot [K; ln for UVI]."""
    alike: float = 1.0
    """How like the spot still is to the one that was read: less with each change of the enclosure [1]."""

    def variance(self, of_strengths: float, unread: float) -> float:
        """Variance of what is true of the spot about what the fitted model says [K²; ln² for UVI].

        Of two independent errors, as normal distributions are multiplied: what was believed of the spot
        before it was read, and the instrument. The fitted strengths, which have seen the reading, are
        taken back to those that have not. A spot that has changed is in part a new one.

        Parameters
        ----------
        of_strengths : float
            What the fitted strengths leave open [K²; ln² for UVI].
        unread : float
            The variance if the spot had never been read [K²; ln² for UVI].
        """
        noise = self.instrument_sd**2 + self.spot_sd**2
        unseen = math.inf
        if of_strengths < 0.999 * noise:
            unseen = of_strengths * noise / (noise - of_strengths)
        before = unseen + self.spot_sd**2
        error = self.instrument_sd**2
        known = error if math.isinf(before) else before * error / (before + error)
        known = max(known, self.offset_sd**2)
        # the fitted model was not moved all the way to the reading
        off = self.left * self.spot_sd**2 / noise

        return self.alike * (known + off**2) + (1 - self.alike) * unread


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
