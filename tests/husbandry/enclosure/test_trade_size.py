"""A size means what is sold under it; what is left inside is looked at for itself."""

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from husbandry.documents.enclosure import EnclosureSpec
from husbandry.enclosure.catalogue import CATALOGUE
from husbandry.enclosure.trade_size import compare, fits_size, outside
from husbandry.predict.predict import outside_of

NAMED = [
    (slug, [int(n) / 100 for n in re.findall(r"\d+", shape.name)])
    for slug, shape in CATALOGUE.items()
    if "×" in shape.name and shape.kind not in {"shed", "tank of water", "open table"}
]
sides = st.tuples(*[st.floats(0.2, 3.0)] * 3)


@pytest.mark.parametrize(("slug", "published"), NAMED, ids=[slug for slug, _ in NAMED])
def test_an_enclosure_meets_the_size_it_is_sold_as(slug, published):
    """A published “120 x 60 x 60” is met by every enclosure sold as that (common practice)."""
    shape = CATALOGUE[slug]
    assert fits_size(shape.outside_m, shape.height_m, tuple(published))
    larger = tuple(side + 0.1 for side in published)
    assert not fits_size(shape.outside_m, shape.height_m, larger)


def test_timber_walls_are_counted_in():
    """Boards of 18 mm: 117 × 57 × 57 cm inside are 120.6 × 59.3 × 60.6 outside, glass in front."""
    panels = {"front": "glass", "back": "wood", "left": "wood", "right": "wood", "bottom": "wood"}
    assert outside((1.17, 0.57, 0.57), panels, "wood") == pytest.approx((1.206, 0.593, 0.606))
    spec = EnclosureSpec.model_validate(
        {
            "inside_m": {"length": 1.17, "depth": 0.57, "height": 0.57},
            "panels": panels,
            "lid": {"material": "wood"},
            "substrate": {"material": "soil", "depth_m": 0.05},
        }
    )
    assert outside_of(spec) == pytest.approx((1.206, 0.593, 0.606))
    open_top = spec.model_copy(
        update={"lid": spec.lid.model_copy(update={"mesh": "fly_screen", "mesh_share": 1.0})}
    )
    assert outside_of(open_top)[2] == pytest.approx(0.588)


@pytest.mark.parametrize(
    ("outer", "enough"),
    [
        ((1.2, 0.6, 0.6), (True, True, True)),
        ((1.0, 0.75, 0.6), (True, True, True)),  # as much floor, a sixth shorter
        ((0.9, 0.9, 0.6), (False, True, True)),  # as much floor, but it cannot run
        ((1.0, 0.6, 0.6), (False, True, True)),
        ((0.6, 1.2, 0.5), (True, True, False)),  # turned; too low
    ],
)
def test_floor_may_be_met_by_area_within_proportions(outer, enough):
    found = compare(outer, outer[2], (1.2, 0.6, 0.6))
    assert tuple(side.enough for side in found) == enough


def test_half_of_the_height_is_left_above_the_substrate():
    assert fits_size((1.2, 0.6, 0.6), 0.31, (1.2, 0.6, 0.6))
    low = compare((1.2, 0.6, 0.6), 0.29, (1.2, 0.6, 0.6))[2]
    assert not low.enough and low.actual_m == pytest.approx(0.29)


@given(sides, sides, st.floats(0.05, 1.0))
def test_more_room_never_becomes_too_little(outer, needed, more):
    """Monotone: an enclosure that fits still fits when any side grows."""
    if fits_size(outer, outer[2], needed):
        for n in range(3):
            grown = tuple(side + more * (n == k) for k, side in enumerate(outer))
            assert fits_size(grown, grown[2], needed)
