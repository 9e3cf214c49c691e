"""Stand-ins, mixes and freezer room. Numbers by hand; what is common practice has no source."""

import datetime as dt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from husbandry.errors import EntryError
from husbandry.tasks.stocks import (
    Lot,
    freezer_litres,
    mass_g,
    mix_of,
    needs_with_mixes,
    price_of,
    put_together,
    stocked,
    taken_from,
    weighed,
    with_mixes,
)
from husbandry.tasks.supplies import Need

SALAD = mix_of("Salad", "mixed leaves", {"dandelion": 60.0, "endive": 30.0, "rocket": 10.0}, 0.0)
PASTE = mix_of("Gecko paste", "mixed paste", {"paste powder": 100.0}, 200.0)


def test_a_paste_is_one_part_of_powder_and_two_of_water() -> None:
    """Common practice, no source: makers differ."""
    assert dict(put_together(PASTE, 30.0)) == pytest.approx({"paste powder": 10.0, "water": 20.0})
    assert with_mixes({"mixed paste": 30.0}, [PASTE]) == pytest.approx({"paste powder": 10.0})


def test_a_salad_is_taken_from_its_leaves() -> None:
    wants = with_mixes({"mixed leaves": 50.0, "adult cricket": 4}, [SALAD])
    assert wants == pytest.approx(
        {"dandelion": 30.0, "endive": 15.0, "rocket": 5.0, "adult cricket": 4}
    )


def test_what_is_ready_made_goes_first() -> None:
    wants = with_mixes({"mixed leaves": 50.0}, [SALAD], {"mixed leaves": 20.0})
    assert wants == pytest.approx(
        {"mixed leaves": 20.0, "dandelion": 18.0, "endive": 9.0, "rocket": 3.0}
    )
    days = [dt.date(2026, 6, 1), dt.date(2026, 6, 2)]
    needs = [Need(day, "mixed leaves", 30.0) for day in days]
    found = needs_with_mixes(needs, [SALAD], [Lot(1, "mixed leaves", 40.0)])
    amounts = {(need.day, need.name): need.amount for need in found}
    assert amounts[days[0], "mixed leaves"] == 30.0
    assert (days[0], "dandelion") not in amounts or amounts[days[0], "dandelion"] == 0
    assert amounts[days[1], "dandelion"] == pytest.approx(12.0)


def test_needs_of_a_day_are_summed_by_part() -> None:
    day = dt.date(2026, 6, 1)
    needs = [Need(day, "mixed leaves", 50.0), Need(day, "dandelion", 5.0)]
    found = {need.name: need.amount for need in needs_with_mixes(needs, [SALAD])}
    assert found["dandelion"] == pytest.approx(35.0)


@pytest.mark.parametrize(
    ("stands_for", "grams", "water_g"),
    [
        ("adult cricket", {"bran": 10.0}, 0.0),
        ("nothing known", {"bran": 10.0}, 0.0),
        ("mixed leaves", {}, 0.0),
        ("mixed leaves", {"dandelion": 0.0}, 0.0),
        ("mixed leaves", {"dandelion": 10.0}, -1.0),
        ("mixed leaves", {"mixed leaves": 10.0}, 0.0),
        ("mixed paste", {"paste powder": 1.0}, 99.0),
        ("mixed leaves", {f"leaf {n}": 1.0 for n in range(13)}, 0.0),
    ],
)
def test_what_is_no_mix_is_refused(
    stands_for: str, grams: dict[str, float], water_g: float
) -> None:
    with pytest.raises(EntryError):
        mix_of("Mine", stands_for, grams, water_g)


def test_the_food_itself_goes_first_then_what_stands_in() -> None:
    lots = [
        Lot(1, "mouse from Ben", 4, "adult mouse", 21.0),
        Lot(2, "adult mouse", 3),
        Lot(3, "adult rat", 9),
    ]
    assert taken_from(lots, "adult mouse", 5) == ([(2, 3), (1, 2)], 0)
    assert taken_from(lots, "adult mouse", 9) == ([(2, 3), (1, 4)], 2)
    assert stocked(lots, "adult mouse") == 7


def test_a_piece_weighs_what_its_keeper_says() -> None:
    assert mass_g(Lot(1, "mouse from Ben", 4, "adult mouse", 21.0)) == 84.0
    assert mass_g(Lot(2, "adult mouse", 2)) == 48.0  # 24 g in feeders.csv
    assert mass_g(Lot(3, "mixed leaves", 250.0)) == 250.0
    assert mass_g(Lot(4, "vitamin tin", 1)) is None
    assert mass_g(Lot(5, "dandelion", 80.0, is_weighed=True)) == 80.0


def test_forty_mice_take_two_litres() -> None:
    """By hand: 40 x 24 g = 960 g, at half a kilogram a litre 1.9 l."""
    assert freezer_litres([Lot(1, "adult mouse", 40)]).value == pytest.approx(1.92)


def test_prices_are_of_a_piece_or_of_100_g() -> None:
    assert price_of(20, 0.1, by_mass=False) == pytest.approx(2.0)
    assert price_of(250.0, 0.8, by_mass=True) == pytest.approx(2.0)
    assert price_of(20, None, by_mass=False) is None
    assert [weighed(food) for food in ("mixed leaves", "adult cricket", "tin")] == [
        True,
        False,
        False,
    ]


@given(
    st.dictionaries(st.sampled_from("abcdef"), st.floats(0.1, 1000), min_size=1),
    st.floats(0, 500),
    st.floats(1, 5000),
)
def test_what_is_put_together_is_the_whole(
    grams: dict[str, float], water_g: float, made_g: float
) -> None:
    if water_g > 8 * sum(grams.values()):
        return
    mix = mix_of("Mine", "mixed leaves", grams, water_g)
    assert sum(amount for _, amount in put_together(mix, made_g)) == pytest.approx(made_g)
