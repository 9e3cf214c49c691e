"""What readings have told of an enclosure: strengths of its lamps, its panels and its air, with how
sure they are. Method: docs/methods/calibration.md.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.heat_model import HeatSource
from husbandry.climate.strengths import (
    AS_BUILT,
    ENVELOPE_LN_SD,
    LENGTHWISE_LN_SD,
    UPRIGHT_LN_SD,
    SpotReading,
    Strengths,
)
from husbandry.climate.uv import UvSource
from husbandry.documents.enclosure import EnclosureSpec
from husbandry.items.union import Item
from husbandry.predict.changes_since import changes_between
from husbandry.species.needs import NeedKey

Array = NDArray[np.float64]
Key = tuple[str, ...]
"""Of a strength: what it is of."""
ENCLOSURE_STRENGTHS: tuple[Key, ...] = (("envelope",), ("lengthwise",), ("upright",))
ENCLOSURE_LN_SD = (ENVELOPE_LN_SD, LENGTHWISE_LN_SD, UPRIGHT_LN_SD)
KINSHIP = 0.75
"""Correlation of the ln strengths of two bulbs of one class in one place: most of what is not known
is the class's, the stone's and the air's,
and stays when the bulb is changed (design choice; docs/methods/calibration.md) [1].
"""


def beam_key(item: Item) -> Key:
    """Of a heater's beam: another power is another bulb."""
    return ("beam", item.id, item.kind, f"{item.watts or 0:g}")


def uv_key(item: Item) -> Key:
    """Of a lamp's ultraviolet."""
    return ("uv", item.id, item.kind, f"{item.long_m or 0:g}")


@dataclass(frozen=True)
class StrengthShare:
    """A present strength by those that were learned: a share of one of them, and what stays
    unknown.
    """

    of: int | None
    share: float
    rest_ln_sd: float


@dataclass(frozen=True)
class KnownStrengths:
    """Logarithms of some strengths: their values and their covariance."""

    keys: tuple[Key, ...] = ()
    ln: Array = field(default_factory=lambda: np.zeros(0), compare=False)
    covariance: Array = field(default_factory=lambda: np.zeros((0, 0)), compare=False)

    def row(self, key: Key, ln_sd: float) -> StrengthShare:
        """How a strength follows from what is known: itself, a bulb of its class in its place, or
        nothing.
        """
        if key in self.keys:
            return StrengthShare(self.keys.index(key), 1.0, 0.0)
        for n in range(len(self.keys) - 1, -1, -1):
            if len(key) > 1 and self.keys[n][:3] == key[:3]:
                return StrengthShare(n, KINSHIP, ln_sd * math.sqrt(1 - KINSHIP**2))
        return StrengthShare(None, 0.0, ln_sd)

    def of(self, key: Key) -> float:
        """A strength [1]: 1 for what nothing is known of."""
        row = self.row(key, 0.0)
        return 1.0 if row.of is None else math.exp(row.share * float(self.ln[row.of]))

    def spread(self, wanted: Sequence[tuple[Key, float]]) -> Array:
        """Covariance of the logarithms of wanted strengths, each with what is not known of it
        before any reading.
        """
        rows = [self.row(key, ln_sd) for key, ln_sd in wanted]
        through = np.zeros((len(rows), len(self.keys)))
        for n, row in enumerate(rows):
            if row.of is not None:
                through[n, row.of] = row.share
        return np.asarray(
            through @ self.covariance @ through.T + np.diag([row.rest_ln_sd**2 for row in rows])
        )


def heat_ways(spec: EnclosureSpec) -> str:
    """The ways by which heat leaves an enclosure, as one word: the same for the same ways."""
    return spec.model_dump_json(include={"panels", "lid", "vents", "inside_m"})


REBUILT_KINSHIP = 0.8
"""Correlation of what an enclosure and its air do before and after other panels, lid or vents: joints, films
and the way the air goes round stay, mesh and gaps do not (design choice) [1]."""


@dataclass(frozen=True)
class ReadSpot:
    """A need's own place that was read, in an enclosure as it stood then."""

    need: NeedKey
    told: SpotReading
    enclosure: EnclosureSpec = field(compare=False)
    items: tuple[Item, ...] = field(compare=False)


@dataclass(frozen=True)
class Learned:
    """Warmth and ultraviolet apart: no reading of one tells of the other."""

    warmth: KnownStrengths = KnownStrengths()
    uv: KnownStrengths = KnownStrengths()
    spots: tuple[ReadSpot, ...] = ()
    """What readings told of the needs' own places, now or before a change."""
    ways: frozenset[str] = frozenset()
    """Ways by which heat left the enclosures that were read: `heat_ways` of each."""

    def spot(
        self, need: NeedKey, spec: EnclosureSpec, items: tuple[Item, ...]
    ) -> SpotReading | None:
        """What a reading tells of a need's own place in an enclosure: that of the state most like it, the
        latest of several; None where it was never read.
        """
        found: SpotReading | None = None

        for one in self.spots:
            if one.need is not need:
                continue
            far = changes_between((spec, items), (one.enclosure, one.items), need)
            alike = math.exp(-far)
            if found is None or alike >= found.alike:
                found = replace(one.told, alike=alike)
        return found

    def beam(self, item: Item) -> float:
        """Strength of a heater's beam [1]."""
        return self.warmth.of(beam_key(item)) if self.warmth.keys else 1.0

    def ultraviolet(self, item: Item) -> float:
        """Strength of a lamp's ultraviolet [1]."""
        return self.uv.of(uv_key(item)) if self.uv.keys else 1.0

    def strengths(
        self, spec: EnclosureSpec, items: Sequence[Item], lamps: Sequence[HeatSource]
    ) -> Strengths:
        """Of an enclosure with these lamps on.

        Other panels, another lid, other vents or another size than were read are kin of the old ones.
        """
        if not self.warmth.keys:
            return AS_BUILT
        wanted = [
            *zip(ENCLOSURE_STRENGTHS, ENCLOSURE_LN_SD, strict=True),
            *((beam_key(t), lamp.ln_sd) for t, lamp in zip(items, lamps, strict=True)),
        ]
        envelope, lengthwise, upright = (self.warmth.of(key) for key in ENCLOSURE_STRENGTHS)
        covariance = self.warmth.spread(wanted)
        if self.ways and heat_ways(spec) not in self.ways:
            envelope, lengthwise, upright = (
                one**REBUILT_KINSHIP for one in (envelope, lengthwise, upright)
            )
            own = slice(len(ENCLOSURE_STRENGTHS))
            covariance[own, :] *= REBUILT_KINSHIP
            covariance[:, own] *= REBUILT_KINSHIP
            rest = (1 - REBUILT_KINSHIP**2) * np.square(ENCLOSURE_LN_SD)
            covariance[own, own] += np.diag(rest)
        return Strengths(envelope, lengthwise, upright, covariance)

    def uv_covariance(self, items: Sequence[Item], sources: Sequence[UvSource]) -> Array | None:
        """Of the logarithms of these lamps' strengths; None before any reading."""
        if not self.uv.keys:
            return None
        return self.uv.spread(
            [(uv_key(item), source.ln_sd) for item, source in zip(items, sources, strict=True)]
        )


UNLEARNED = Learned()
