"""Slips of the scale and the tape are asked about with the likely meaning; what is merely unusual
passes.
"""

import datetime as dt

import pytest

from husbandry.growth.plausibility import question_birth, question_length, question_mass
from husbandry.quantity import Kind, Units, read
from husbandry.species.library import find

TODAY = dt.date(2026, 6, 1)
SKINK = find("Tiliqua scincoides")
US = Units("us", "f")


def mass(text, **known):
    return question_mass(read(text, Kind.MASS), SKINK, "any", on=TODAY, **known)


def length(text, **known):
    return question_length(read(text, Kind.LENGTH), SKINK, "any", on=TODAY, **known)


def test_grams_for_kilograms_and_the_reverse_are_asked_about():
    assert "0.5 kg" in mass("0.5").sentence
    assert "500 g" in mass("500 kg").sentence
    assert mass("500") is None and mass("0.5 kg") is None


def test_a_slip_beside_the_last_weight_names_what_was_meant():
    last = (TODAY - dt.timedelta(days=20), 400.0)
    assert "after 400 g" in mass("41", last=last).sentence
    assert mass("430", last=last) is None
    assert mass("41", last=(TODAY - dt.timedelta(days=500), 400.0)) is None  # long ago


def test_a_length_that_contradicts_the_mass_is_asked_about_both_ways():
    assert "contradicts" in mass("600", length_mm=180).sentence
    assert "contradicts" in length("18 cm", mass_g=600).sentence
    assert mass("600", length_mm=520) is None and length("52 cm", mass_g=500) is None


def test_a_mass_far_from_its_age_asks_for_the_day_of_birth():
    assert "birth" in mass("600", born_on=TODAY - dt.timedelta(days=20)).sentence
    assert mass("600", born_on=TODAY - dt.timedelta(days=1200)) is None


def test_a_body_that_shrank_is_asked_about():
    assert "shrink" in length("40 cm", last=(TODAY, 520.0)).sentence
    assert length("52.5 cm", last=(TODAY, 520.0)) is None


def test_an_inch_for_a_centimetre_is_asked_about():
    assert "did you mean 20 in" in length("20 mm").sentence or "20 cm" in length("20 mm").sentence


@pytest.mark.parametrize(
    ("born", "asked", "refused"),
    [
        (dt.date(2027, 1, 1), True, True),
        (dt.date(1970, 1, 1), True, False),
        (dt.date(1700, 1, 1), True, True),
        (dt.date(2010, 1, 1), False, False),
    ],
)
def test_impossible_ages_are_asked_about(born, asked, refused):
    doubt = question_birth(born, SKINK, today=TODAY)
    assert (doubt is not None) == asked and (doubt is not None and doubt.refused) == refused


def test_none_of_a_usual_life_is_asked_about():
    """Every species on its own expected curve: no question at any age."""
    from husbandry.growth.expected import expected
    from husbandry.species.library import library

    for profile in library().values():
        kind = expected(profile)
        for months in (0.5, 3, 12, 36, 120):
            grams = kind.usual.mass_g(months)
            born = TODAY - dt.timedelta(days=round(months * 30.44))
            entry = read(f"{grams:.4f} g", Kind.MASS)
            doubt = question_mass(
                entry, profile, "any", on=TODAY, length_mm=kind.length_mm(grams), born_on=born
            )
            assert doubt is None, (profile.species, months, doubt)
