"""When eggs hatch, by the temperatures they had."""

import datetime as dt

import pytest

from husbandry.breeding.incubation import (
    due_look,
    earliest,
    hatch_days,
    may_be_set,
    set_derivation,
    set_point,
    strays,
    window,
    window_between,
)
from husbandry.breeding.medium import MEDIA, is_topped_up, medium_top_up_g, medium_water_g
from husbandry.species.library import find, library

LAID = dt.date(2026, 3, 1)


def days(n: float) -> dt.timedelta:
    return dt.timedelta(days=n)


def test_one_small_gecko_takes_fifty_four_to_eighty_days_at_28_to_32() -> None:
    """Common practice, no source: check values of the trade."""
    gecko = find("Stenodactylus sthenodactylus")
    assert set_point(gecko.young) == (30, 1.0)
    cool, warm = window(gecko, LAID, 28, [], LAID), window(gecko, LAID, 32, [], LAID)
    assert (cool.usual - LAID).days == 80 and (warm.usual - LAID).days == 54
    assert hatch_days(30, 28, 32, 80, 54) == 67
    assert hatch_days(40, 28, 32, 80, 54) == 54 and hatch_days(20, 28, 32, 80, 54) == 80


def test_each_day_counts_at_the_temperature_it_had() -> None:
    """Half the way warm and half cool lies between the two; the same by adding up shares by hand."""
    gecko = find("Stenodactylus sthenodactylus")
    read = [(LAID, 32.0), (LAID + days(27), 28.0)]
    found = window(gecko, LAID, 30, read, LAID + days(27))
    assert found.done == pytest.approx(0.5)  # 27 of 54 days
    assert (found.usual - LAID).days == 27 + 40  # and half of 80 are left
    assert found.early < found.usual < found.late


def test_looking_on_another_day_changes_nothing() -> None:
    gecko = find("Stenodactylus sthenodactylus")
    usual = {window(gecko, LAID, 30, [], LAID + days(n)).usual for n in range(0, 60, 3)}
    assert len(usual) <= 2  # but for rounding to a day


@pytest.mark.parametrize("species", sorted(library()))
def test_every_species_has_a_window(species: str) -> None:
    profile = find(species)
    point = set_point(profile.young)
    found = window(profile, LAID, point[0] if point else None, [], LAID)
    low, high = profile.young.days.ends
    assert low <= (found.usual - LAID).days <= high
    assert (point is None) == (profile.young.incubation_c is None)


def test_looks_come_weekly_and_daily_at_the_end() -> None:
    gecko = find("Stenodactylus sthenodactylus")

    def due(today: dt.date, last: dt.date | None) -> object:
        found = due_look(LAID, window(gecko, LAID, 30, [], today), last, today)
        return found and found[0]

    assert due(LAID + days(3), None) is None
    assert due(LAID + days(8), None) == "candle"
    assert (
        due(LAID + days(12), LAID + days(8)) is None
        and due(LAID + days(15), LAID + days(8)) == "look"
    )
    assert (
        due(LAID + days(64), LAID + days(63)) == "daily"
        and due(LAID + days(64), LAID + days(64)) is None
    )


def test_a_strayed_incubator_is_said() -> None:
    gecko = find("Stenodactylus sthenodactylus")
    assert (
        "too warm" in strays(gecko, 30, 33.5)
        and "too cool" in strays(gecko, 30, 25)
        and "set point" in strays(gecko, 30, 31.5)
    )
    assert strays(gecko, 30, 30.6) == ""
    assert strays(find("Boa imperator"), None, 35) == ""  # it bears living young


def test_what_may_be_set_and_how_soon_any_can_come() -> None:
    gecko = find("Stenodactylus sthenodactylus")
    assert (
        may_be_set(gecko.young, 30)
        and not may_be_set(gecko.young, 25)
        and not may_be_set(gecko.young, 34)
    )
    assert (
        not may_be_set(find("Boa imperator").young, 30)
        and set_derivation(find("Boa imperator")) is None
    )
    assert earliest(gecko.young, LAID) == LAID + days(27)
    derivation = set_derivation(gecko)
    assert derivation is not None and derivation.value == 30 and derivation.sources


def test_a_found_clutch_hatches_between_its_first_and_its_last_day() -> None:
    """Laid on a day between two: nothing is promised that either day would break."""
    gecko = find("Stenodactylus sthenodactylus")
    today = LAID + days(20)
    found = window_between(gecko, LAID, LAID + days(10), 30, [], today)
    first, last = (window(gecko, day, 30, [], today) for day in (LAID, LAID + days(10)))
    assert (found.early, found.late) == (first.early, last.late)
    assert first.usual < found.usual < last.usual and last.done < found.done < first.done


@pytest.mark.parametrize(
    ("medium", "dry_g", "water_g"),
    [
        ("vermiculite", 150, 150),
        ("perlite", 80, 80),
        ("sand and soil", 1000, 100),
        ("none", 50, 0),
    ],
)
def test_media_take_their_water_by_mass(medium: str, dry_g: float, water_g: float) -> None:
    """Common practice, no source: vermiculite and perlite one to one by mass."""
    assert medium_water_g(dry_g, MEDIA[medium].water_share) == pytest.approx(water_g)


def test_what_a_closed_box_loses_is_water() -> None:
    assert medium_top_up_g(812, 797, 0) == 15
    assert medium_top_up_g(812, 785, 12) == 15, "an egg of 12 g was taken out"
    assert medium_top_up_g(812, 820, 0) == 0
    assert is_topped_up(16, 150) and not is_topped_up(14, 150)
