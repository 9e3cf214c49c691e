"""A mass from a length and a length from a mass: marked as estimated, with their spread."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from husbandry.derivation import Z90
from husbandry.feeding.meals import meal_plans
from husbandry.growth.body import MASS_LN_SD, body_of, proportion
from husbandry.growth.expected import expected
from husbandry.species.library import find, library

SPECIES = sorted(library())


def test_a_shell_of_127_mm_is_no_middle_of_a_stage() -> None:
    """The mass was the middle of the stage, 144 g, and the food a third of the truth.

    Published: Testudo hermanni of 12 to 13 cm straight carapace weigh some 400 to 550 g
    (from memory: Jackson 1980, the mass to length ratio of Mediterranean tortoises).
    """
    hermann = find("Testudo hermanni")
    found = body_of(hermann, "juvenile", length_mm={"shell": 127})
    assert found.mass.how == "estimated" and found.length.how == "measured"
    assert 330 <= found.mass.value <= 620
    assert found.mass.derivation.low is not None and found.mass.derivation.high is not None
    assert found.mass.derivation.low < found.mass.value < found.mass.derivation.high
    plans = meal_plans(
        hermann,
        "juvenile",
        mass_g=found.mass.value,
        body_length_m=0.127,
        approaches={},
        mass_how=found.mass.how,
    )
    assert any(one.name == "body mass, estimated from its length" for one in plans[0].grams.inputs)


@pytest.mark.parametrize("species", SPECIES)
@pytest.mark.parametrize("sex", ["female", "male", "unknown"])
def test_there_and_back_is_the_same_body(species: str, sex: str) -> None:
    profile = find(species)
    stage = profile.stages[-1].slug
    kind = profile.body.length_kind
    mass = profile.adult_of("any").mass_g.typical
    length = body_of(profile, stage, mass_g=mass, sex=sex).length
    back = body_of(profile, stage, length_mm={kind: length.value}, sex=sex).mass
    assert (length.how, back.how) == ("estimated", "estimated")
    assert back.value == pytest.approx(mass, rel=1e-6)


@given(share=st.floats(0.3, 2.0))
def test_heavier_is_longer(share: float) -> None:
    profile = find("Pogona vitticeps")
    light = body_of(profile, "adult", mass_g=400).length.value
    other = body_of(profile, "adult", mass_g=400 * share).length.value
    assert (other > light) == (share > 1) or math.isclose(share, 1, rel_tol=1e-6)


def test_the_spread_is_half_as_much_again() -> None:
    found = body_of(find("Pogona vitticeps"), "adult", length_mm={"total": 480}).mass
    assert found.derivation.high is not None
    assert found.derivation.high / found.value == pytest.approx(math.exp(Z90 * MASS_LN_SD))
    assert 1.4 <= found.derivation.high / found.value <= 1.6


def test_sexes_that_differ_have_other_masses() -> None:
    """Common practice, no source: a female sand boa of one length is far heavier than a male."""
    boa = find("Eryx colubrinus")
    masses = {
        sex: body_of(boa, "adult", length_mm={"total": 500}, sex=sex).mass.value
        for sex in ("female", "male")
    }
    assert masses["female"] != pytest.approx(masses["male"], rel=0.02)


def test_a_length_to_the_tail_tip_is_converted_by_the_proportion() -> None:
    """A crested gecko of 20 cm was stored as 20 cm from snout to vent, and "needed" 90 x 90 x 110
    cm.
    """
    gecko = find("Correlophus ciliatus")
    share = proportion(gecko, "total")
    assert share is not None and 0.5 < share < 0.55
    found = body_of(gecko, "adult", length_mm={"total": 200}).length
    assert found.how == "converted" and found.value == pytest.approx(200 * share)
    assert "snout-vent length" in found.derivation.rule and found.derivation.low is not None


def test_what_was_measured_stands() -> None:
    gecko = find("Correlophus ciliatus")
    found = body_of(gecko, "adult", mass_g=41, length_mm={"total": 200, "snout_vent": 105})
    assert (found.mass.value, found.length.value) == (41, 105)
    assert found.mass.measured and found.length.measured


def test_of_what_nobody_knows_the_stage_decides() -> None:
    found = body_of(find("Correlophus ciliatus"), "adult")
    assert (found.mass.how, found.length.how) == ("typical", "typical")
    assert "Nothing was measured" in found.mass.derivation.rule


@pytest.mark.parametrize("species", SPECIES)
def test_every_typical_body_agrees_with_its_own_allometry(species: str) -> None:
    """The middle of the grown mass and the middle of the grown length belong to one body."""
    profile = find(species)
    kind = expected(profile, "any")
    adult = profile.adult_of("any")
    assert kind.mass_of(adult.length_mm.typical) == pytest.approx(adult.mass_g.typical, rel=1e-6)
