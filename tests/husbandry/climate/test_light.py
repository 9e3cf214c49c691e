"""Visible light: flux is conserved, far lamps are points, and figures are those of lighting
handbooks (from memory).
"""

import math

import numpy as np
import pytest

from husbandry.climate.light import (
    LightSource,
    ambient_lux,
    daily_light,
    direct_lux,
    photon_flux,
    total_lux,
)
from husbandry.enclosure.equipment import HEATERS
from husbandry.enclosure.geometry import Interior

ENCLOSURE = Interior(1.2, 0.6, 0.6, 0.05)


def over_plane(source: LightSource, wide: float, cells: int = 800) -> float:
    """Lumens that arrive on a large plane a metre below."""
    x = (np.arange(cells) + 0.5) / cells * 2 * wide - wide
    step = 2 * wide / cells
    return float(
        sum(direct_lux(source, x, float(y), source.z_m - 1.0).sum() for y in x[::4])
        * step
        * step
        * 4
    )


def test_a_bar_sends_all_of_its_light_down_and_a_bare_tube_half() -> None:
    bar = LightSource("diode", 1000, 0, 0, 2.0, length_m=0.6)
    tube = LightSource("tube", 1000, 0, 0, 2.0, length_m=0.6)
    assert over_plane(bar, 25) == pytest.approx(1000, rel=0.05)
    assert over_plane(tube, 60) == pytest.approx(500, rel=0.08)


def test_a_lamp_far_off_is_a_point() -> None:
    """E = I/h²: a cylinder's intensity across is Φ/π², a flat strip's Φ/π (Lambert)."""
    for kind, intensity in (("tube", 1000 / math.pi**2), ("diode", 1000 / math.pi)):
        source = LightSource(kind, 1000, 0, 0, 10.0, length_m=0.5)
        assert float(direct_lux(source, np.zeros(1), 0.0, 0.0)[0]) == pytest.approx(
            intensity / 100, rel=0.01
        )


def test_a_flood_is_bright_under_it_and_dark_above() -> None:
    """A 75 W halogen flood of 60° at 30 cm: some thousand lux (lighting handbooks, from memory)."""
    heater = HEATERS["halogen_flood"]
    aimed = heater.beam_share / (heater.beam_share + heater.diffuse_share)
    lamp = LightSource(
        "filament", 75 * heater.lm_per_w, 0.3, 0.3, 0.4, beam_deg=60, radius_m=0.05, aimed=aimed
    )
    under = float(direct_lux(lamp, np.array([0.3]), 0.3, 0.1)[0])
    assert 3000 < under < 12000
    assert float(direct_lux(lamp, np.array([0.3]), 0.3, 0.5)[0]) == 0
    assert under > float(direct_lux(lamp, np.array([0.8]), 0.3, 0.1)[0]) * 5


def test_lamps_add_and_walls_throw_back() -> None:
    bar = LightSource("diode", 2000, 0.6, 0.3, 0.55, length_m=0.6)
    x = np.array([0.2, 0.6, 1.0])
    assert total_lux((bar, bar), ENCLOSURE, x, 0.3, 0.1) == pytest.approx(
        2 * total_lux((bar,), ENCLOSURE, x, 0.3, 0.1)
    )
    assert (
        float(total_lux((bar,), ENCLOSURE, x, 0.3, 0.1).min())
        > ambient_lux((bar,), ENCLOSURE)
        > 100
    )
    assert photon_flux((bar,), ENCLOSURE, 0.6, 0.3, 0.1) == pytest.approx(
        float(total_lux((bar,), ENCLOSURE, x[1:2], 0.3, 0.1)[0]) / 70
    )


def test_daily_light() -> None:
    assert daily_light(100, 12) == pytest.approx(4.32)
