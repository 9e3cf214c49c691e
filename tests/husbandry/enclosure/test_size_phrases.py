"""Sizes as they are said, compared with sides: facts of the trade (common practice, no source) and
arithmetic.
"""

import pytest

from husbandry.enclosure.size_phrases import compared, in_other_words, spoken
from husbandry.errors import EntryError


@pytest.mark.parametrize(
    ("text", "manner", "sides"),
    [
        ("4 x 2 ft", "footprint", (1.2192, 0.6096, None)),
        ("4x2x2 ft", "sides", (1.2192, 0.6096, 0.6096)),
        ("48 by 24 by 24 in", "sides", (1.2192, 0.6096, 0.6096)),
        ("120 × 60 × 60 cm", "sides", (1.2, 0.6, 0.6)),
        ("60 x 120 cm", "footprint", (1.2, 0.6, None)),
        ("1,2 m x 60 cm", "footprint", (1.2, 0.6, None)),
        ("20 long", "trade tank", (0.762, 0.3048, 0.3048)),
        ("20 gal long", "trade tank", (0.762, 0.3048, 0.3048)),
        ("40 gallon breeder", "trade tank", (0.9144, 0.4572, 0.4064)),
        ("75 gal", "trade tank", (1.2192, 0.4572, 0.5334)),
        ("120-gallon tank", "trade tank", (1.2192, 0.6096, 0.6096)),
        ("3 x 1.5 body lengths", "body lengths", (0.9, 0.45, None)),
        ("2 × 1 × 1 bl", "body lengths", (0.6, 0.3, 0.3)),
    ],
)
def test_sizes_are_read_as_they_are_said(text, manner, sides):
    found = spoken(text, 0.3)
    assert found.manner == manner
    assert found.sides_m == tuple(
        pytest.approx(side) if side is not None else None for side in sides
    )


def test_a_volume_is_taken_as_the_tank_of_that_name():
    found = spoken("150 l")  # 39.6 gallons
    assert found.manner == "volume" and found.tank is not None and found.tank.name == "40"
    assert spoken("5000 l").sides_m is None


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "Write a size"),
        ("large", "cannot be read"),
        ("4 x 2", "no unit"),
        ("4 x big ft", "cannot be read as a side"),
        ("17 long", "no common tank"),
        ("400 x 200 m", "cannot be the sides"),
        ("900000 l", "cannot be the volume"),
    ],
)
def test_what_cannot_be_read_is_said(text, says):
    with pytest.raises(EntryError, match=says):
        spoken(text)


def test_multiples_need_a_body():
    with pytest.raises(EntryError, match="its length"):
        spoken("3 x 2 body lengths")


def test_a_tall_tank_of_the_same_gallons_falls_short_by_its_floor():
    """A 20 high and a 20 long hold the same gallons; the long one has a quarter more length:
    compare by footprint.
    """
    needed = (0.75, 0.3, 0.3)
    assert compared(spoken("20 long"), needed).enough
    high = compared(spoken("20 gal"), needed)
    assert not high.enough and high.short == ("length",)
    assert compared(spoken("5000 l"), needed).enough is None


def test_one_size_in_every_manner_of_speech():
    """120 × 60 × 60 cm is what the trade calls 4 × 2 × 2 ft and a “120” (common practice, no
    source).
    """
    said = in_other_words((1.2, 0.6, 0.6), 0.4)
    assert said.feet == (4.0, 2.0, 2.0)
    assert said.litres == pytest.approx(432) and said.us_gal == pytest.approx(114.1, abs=0.1)
    assert said.bodies == pytest.approx((3, 1.5, 1.5))
    assert said.tank is not None and said.tank.name == "120"
    assert in_other_words((3, 2, 2)).tank is None


@pytest.mark.parametrize(
    ("text", "sides"),
    [
        ("it needs a 4x2x2 ft, 120 gallon", (1.219, 0.610, 0.610)),
        ("18x18x24", (0.457, 0.457, 0.610)),
        ("45x45x60", (0.45, 0.45, 0.6)),
        ("120x60x60", (1.2, 0.6, 0.6)),
        ("at least 4 by 2 feet", (1.219, 0.610, None)),
        ("10-20 gallons with height", (0.508, 0.254, 0.305)),
    ],
)
def test_old_advice_is_understood(text: str, sides: tuple[float | None, ...]) -> None:
    """Three bare numbers up to 48 are inches, as tall enclosures are named (common practice)."""
    found = spoken(text).sides_m
    assert found is not None
    for there, wanted in zip(found, sides, strict=True):
        assert there == wanted if wanted is None else there == pytest.approx(wanted, abs=0.002)


def test_quarts_and_words_for_numbers() -> None:
    """A US quart is a quarter of a gallon of 231 cubic inches (definition)."""
    for text in ("six-quart tub", "6 qt", "a 6 quart box"):
        assert spoken(text).volume_l == pytest.approx(6 * 231 * 0.0254**3 * 250, rel=0.01)
