import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from husbandry.errors import EntryError
from husbandry.quantity import (
    PLAUSIBLE,
    Kind,
    PlausibleRange,
    Units,
    convert,
    default_unit,
    question,
    read,
    show,
    to_reader,
)

# Exact by definition: NIST Handbook 44, appendix C (inch 25.4 mm, pound 453.59237 g, US gallon 231
# cubic inches).
EXACT = [
    ("4 ft", Kind.LENGTH, 1.2192),
    ("48in", Kind.LENGTH, 1.2192),
    ('48"', Kind.LENGTH, 1.2192),
    ("4' 6\"", Kind.LENGTH, 1.3716),
    ("4 ft 6 in", Kind.LENGTH, 1.3716),
    ("1.2 m", Kind.LENGTH, 1.2),
    ("1,2 m", Kind.LENGTH, 1.2),
    ("120", Kind.LENGTH, 1.2),
    ("95F", Kind.TEMPERATURE, 35.0),
    ("95 °F", Kind.TEMPERATURE, 35.0),
    ("35 °C", Kind.TEMPERATURE, 35.0),
    ("−40 °F", Kind.TEMPERATURE, -40.0),
    ("308.15 K", Kind.TEMPERATURE, 35.0),
    ("20 gal", Kind.VOLUME, 75.70823568),
    ("68 l", Kind.VOLUME, 68.0),
    ("2 lb 3 oz", Kind.MASS, 992.2333094),
    ("420 g", Kind.MASS, 420.0),
    ("1.2kg", Kind.MASS, 1200.0),
    ("75 W", Kind.POWER, 75.0),
    ("90 min", Kind.HOURS, 1.5),
]


@pytest.mark.parametrize(("typed", "kind", "value"), EXACT)
def test_read_understands_what_keepers_type(typed: str, kind: Kind, value: float) -> None:
    assert read(typed, kind).value == pytest.approx(value, rel=1e-9)


@pytest.mark.parametrize(
    ("typed", "kind"),
    [
        ("", Kind.LENGTH),
        ("tall", Kind.LENGTH),
        ("3 4", Kind.LENGTH),
        ("6 in 4 ft", Kind.LENGTH),
        ("12 bananas", Kind.LENGTH),
        ("35 cm", Kind.TEMPERATURE),
        ("1e3", Kind.LENGTH),
        ("--4", Kind.TEMPERATURE),
        ("<script>alert(1)</script>", Kind.MASS),
        ("🦎", Kind.MASS),
        ("9" * 400, Kind.MASS),
        ("nan", Kind.MASS),
        ("inf g", Kind.MASS),
        ("2 lb 3 lb 4 oz", Kind.MASS),
        ("2.5", Kind.COUNT),
    ],
)
def test_read_refuses_with_a_sentence_that_says_how_to_write_it(typed: str, kind: Kind) -> None:
    with pytest.raises(EntryError) as refused:
        read(typed, kind)
    assert str(refused.value).endswith(".")


@given(st.text(max_size=80), st.sampled_from(list(Kind)))
def test_read_never_fails_otherwise(typed: str, kind: Kind) -> None:
    try:
        assert math.isfinite(read(typed, kind).value)
    except EntryError:
        pass


@pytest.mark.parametrize(
    "units", [Units(), Units("us", "f"), Units("us", "c"), Units("metric", "f")]
)
@given(value=st.floats(-30, 120))
def test_temperature_round_trips(units: Units, value: float) -> None:
    number, unit = to_reader(value, Kind.TEMPERATURE, units)
    assert convert(number, Kind.TEMPERATURE, unit) == pytest.approx(value, abs=1e-9)


@given(
    value=st.floats(0.001, 9000),
    kind=st.sampled_from([Kind.LENGTH, Kind.VOLUME, Kind.MASS]),
    us=st.booleans(),
)
def test_measures_round_trip(value: float, kind: Kind, us: bool) -> None:
    units = Units("us" if us else "metric", "c")
    number, unit = to_reader(value, kind, units)
    assert convert(number, kind, unit) == pytest.approx(value, rel=1e-12)


def test_show_uses_the_readers_units() -> None:
    us = Units("us", "f")
    assert show(37.9, Kind.TEMPERATURE) == "37.9 °C"
    assert show(37.9, Kind.TEMPERATURE, us) == "100 °F"
    assert show(1.2192, Kind.LENGTH, us) == "48 in"
    assert show(0.315, Kind.LENGTH) == "32 cm"
    assert show(992.23, Kind.MASS, us) == "2 lb 3 oz"
    assert show(18.4, Kind.MASS, us) == "18.4 g"
    assert show(-3.0, Kind.TEMPERATURE) == "−3.0 °C"
    assert show(-0.01, Kind.TEMPERATURE) == "0.0 °C"


def test_a_difference_of_temperatures_has_no_offset() -> None:
    assert show(5.0, Kind.TEMPERATURE_DIFFERENCE, Units("us", "f"), digits=0) == "9 °F"


def test_a_bare_number_is_taken_in_the_readers_unit() -> None:
    assert read("48", Kind.LENGTH, Units("us", "c")).value == pytest.approx(1.2192)
    assert read("420", Kind.LENGTH, small=True).value == pytest.approx(0.42)
    assert default_unit(Kind.TEMPERATURE, Units("metric", "f")) == "°F"


# The trade's classic slip (common practice, no source): a right number with the wrong unit.
def test_a_surface_of_ninety_celsius_asks_for_fahrenheit() -> None:
    doubt = question(read("90", Kind.TEMPERATURE), PLAUSIBLE["surface"], what="surface")
    assert doubt is not None
    assert "90 °F = 32 °C?" in doubt.sentence
    assert doubt.meant == pytest.approx(32.2, abs=0.1)
    assert not doubt.refused


def test_grams_for_kilograms_and_metres_for_centimetres_are_asked() -> None:
    doubt = question(
        read("0.35", Kind.MASS), PlausibleRange((20, 1000), (0.1, 100_000)), what="mass"
    )
    assert doubt is not None and "0.35 kg = 350 g" in doubt.sentence
    doubt = question(read("120 m", Kind.LENGTH), PLAUSIBLE["enclosure length"], what="length")
    assert doubt is not None and doubt.refused and doubt.meant == pytest.approx(1.2)


def test_what_no_unit_explains_is_said_to_be_impossible() -> None:
    doubt = question(read("400 °C", Kind.TEMPERATURE), PLAUSIBLE["air"], what="air temperature")
    assert doubt is not None and doubt.refused and "not possible" in doubt.sentence


@given(st.floats(10, 65))
def test_a_usual_value_is_never_questioned(value: float) -> None:
    assert (
        question(
            read(f"{value:.3f} °C", Kind.TEMPERATURE), PlausibleRange((9.9, 65.1), (-10, 120))
        )
        is None
    )


@pytest.mark.parametrize("system", ["metric", "us"])
@pytest.mark.parametrize("litres", [0.0005, 0.005, 0.02, 0.3, 1.6, 4.0, 40.0, 300.0])
def test_a_shown_volume_read_again_is_the_same_dose(system: str, litres: float) -> None:
    """Of 5 ml, 0.2 fl oz would be a fifth too much (US fluid ounce = 29.5735 ml, NIST Handbook 44)."""
    units = Units(system, "c")
    small = litres < 1
    again = read(
        show(litres, Kind.VOLUME, units, small=small), Kind.VOLUME, units, small=small
    ).value
    assert again == pytest.approx(litres, rel=0.2 if litres < 0.001 else 0.035)


@pytest.mark.parametrize(
    ("typed", "cm2"), [("80", 80), ("80 cm2", 80), ("0.01 m²", 100), ("10 in2", 64.516)]
)
def test_an_area_is_read_in_either_system(typed: str, cm2: float) -> None:
    """A square inch is 6.4516 cm² by definition of the inch (international yard, 1959)."""
    assert read(typed, Kind.AREA).value == pytest.approx(cm2)
    assert show(64.516, Kind.AREA, Units("us", "c")) == "10.0 in²"


@pytest.mark.parametrize(
    ("typed", "cm2"),
    [("24 holes of 3 mm", 1.696), ("10 air holes 1 cm wide", 7.854), ("1 hole of 1 in", 5.067)],
)
def test_an_area_is_read_as_holes(typed: str, cm2: float) -> None:
    """By hand: a round hole is π/4 of its width squared."""
    assert read(typed, Kind.AREA).value == pytest.approx(cm2, abs=0.001)


@pytest.mark.parametrize(
    "typed", ["holes of 3 mm", "24 holes", "24 holes of -3 mm", "2.5 holes of 3 mm"]
)
def test_what_are_no_holes_is_refused(typed: str) -> None:
    with pytest.raises(EntryError):
        read(typed, Kind.AREA)


@pytest.mark.parametrize(
    ("text", "grams"),
    [
        ("1250 - 380 g", 870),
        ("1250-380", 870),
        ("1,25 kg − 380 g", 870),
        ("221 lb - 185.5 lb", 35.5 * 453.59237),
        ("80.2 kg less 78.9 kg", 1300),
    ],
)
def test_a_mass_may_be_typed_with_what_comes_off_it(text: str, grams: float) -> None:
    """A tub, or the person who holds it (common practice); the pound by definition."""
    assert read(text, Kind.MASS).value == pytest.approx(grams)


def test_less_than_nothing_is_no_mass() -> None:
    with pytest.raises(EntryError, match="leaves nothing"):
        read("300 - 400 g", Kind.MASS)
