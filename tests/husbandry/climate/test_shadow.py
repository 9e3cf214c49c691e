"""Shadows: against plane geometry (similar triangles), and against a line of many points for a
tube.
"""

import dataclasses

import numpy as np
import pytest

from husbandry.climate.light import LightSource, direct_lux
from husbandry.climate.shadow import ShadowBody, seen
from husbandry.climate.uv import UvSource, shaded_uvi, total_uvi, uvi_at
from husbandry.enclosure.equipment import UV_LAMPS

PLATE = ShadowBody((0.4, 0.2, 0.30), (0.6, 0.4, 0.31))
TUBE = UvSource(UV_LAMPS["t5_12"], 0.5, 0.3, 0.6, length_m=0.85)


def test_a_point_lamp_throws_the_shadow_of_similar_triangles() -> None:
    # Lamp at 0.60 over the plate's middle; the plate's lower edge (0.30, half of the way down)
    # throws twice its half width.
    x = np.array([0.5, 0.69, 0.71, 0.31, 0.29])
    assert seen((x, 0.3, 0.0), (0.5, 0.3, 0.6), [PLATE]) == pytest.approx([0, 0, 1, 0, 1])


def test_what_lies_beside_behind_or_below_blocks_nothing() -> None:
    place = (np.array([0.5]), 0.3, 0.35)  # above the plate
    assert seen(place, (0.5, 0.3, 0.6), [PLATE]) == pytest.approx([1])
    assert seen((np.array([0.5]), 0.3, 0.0), (0.5, 0.3, 0.2), [PLATE]) == pytest.approx(
        [1]
    )  # plate above the lamp
    assert seen((np.array([0.5]), 0.3, 0.0), (0.5, 0.3, 0.6), []) == pytest.approx([1])


def test_foliage_passes_its_share_and_two_pass_the_product() -> None:
    leaf = dataclasses.replace(PLATE, passes=0.3)
    other = ShadowBody((0.4, 0.2, 0.1), (0.6, 0.4, 0.2), 0.5)
    assert seen((np.array([0.5]), 0.3, 0.0), (0.5, 0.3, 0.6), [leaf, other]) == pytest.approx(
        [0.15]
    )


def test_a_tube_without_shadow_is_the_tube_and_its_parts_add_up() -> None:
    x, z = np.linspace(0, 1.2, 25), np.full(25, 0.1)
    far = ShadowBody((3, 3, 3), (4, 4, 4))
    assert shaded_uvi(TUBE, x, 0.3, z, [far]) == pytest.approx(uvi_at(TUBE, x, 0.3, z), rel=1e-9)


def test_a_half_hidden_tube_agrees_with_many_points() -> None:
    x, z = np.linspace(0.1, 0.9, 17), np.full(17, 0.1)
    found = total_uvi((TUBE,), x, 0.3, z, [PLATE])
    many = np.zeros(17)
    n = 400
    for at in TUBE.x_m + TUBE.lit_length_m * ((np.arange(n) + 0.5) / n - 0.5):
        part = dataclasses.replace(TUBE, x_m=float(at), length_m=TUBE.lit_length_m / n + 0.05)
        # A very short tube is not shorter than 5 cm in the model: take the point's share of a 5 cm
        # piece.
        many += (
            uvi_at(part, x, 0.3, z)
            * (TUBE.lit_length_m / n / part.lit_length_m)
            * seen((x, 0.3, z), (float(at), 0.3, 0.6), [PLATE])
        )
    bare = uvi_at(TUBE, x, 0.3, z)
    assert np.abs(found - many).max() < 0.13 * bare.max()
    assert found[8] < 0.6 * bare[8]


def test_light_is_shaded_like_ultraviolet() -> None:
    bulb = LightSource("filament", 1000, 0.5, 0.3, 0.6, beam_deg=60, radius_m=0.03)
    bar = LightSource("diode", 3000, 0.5, 0.3, 0.6, length_m=0.6)
    x = np.array([0.5, 1.1])
    for source in (bulb, bar):
        free, behind = direct_lux(source, x, 0.3, 0.0), direct_lux(source, x, 0.3, 0.0, [PLATE])
        assert behind[0] < 0.35 * free[0] and behind[1] == pytest.approx(free[1], rel=0.02)
