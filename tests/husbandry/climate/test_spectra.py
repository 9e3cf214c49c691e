"""Spectra against the standards: the reference sun of ASTM G173-03, the erythemal and the
previtamin D3 action spectra; and files with faults.
"""

import numpy as np
import pytest

from husbandry.climate.spectra import (
    Spectrum,
    actinic_weight,
    d3_weight,
    look_over,
    read_spectrum,
    sun,
)
from husbandry.errors import DocumentError


def text_of(spectrum, separator=",", every=1, scale=1.0):
    pairs = list(zip(spectrum.nm, spectrum.w_m2nm, strict=True))[::every]
    return "\n".join(f"{nm:g}{separator}{value * scale:.8g}" for nm, value in pairs)


def tube(cut_nm):
    """A made-up fluorescent tube: a peak at 316 nm, 37 nm wide, behind glass that cuts at a
    wavelength.
    """
    nm = np.arange(250, 401, 1.0)
    glass = 1 / (1 + np.exp(-(nm - cut_nm) / 2.0))
    return Spectrum(nm, 0.004 * np.exp(-4 * np.log(2) * ((nm - 316) / 37) ** 2) * glass, ())


@pytest.mark.parametrize(
    ("name", "value"),
    [
        ("uvi", 2.068),
        ("d3_w_m2", 0.0793),
        ("uvb_w_m2", 0.371),
        ("uva_w_m2", 30.15),
        ("actinic_ratio", 0.217),
    ],
)
def test_the_direct_sun_of_g173(name, value):
    """ASTM G173-03, direct column, within 1 %: the science note's values, made with an independent
    integration.
    """
    found = look_over(sun("direct"))
    told = getattr(found, name)
    assert (told.value if hasattr(told, "value") else told) == pytest.approx(value, rel=0.01)
    assert found.safe


def test_the_sun_on_a_slope_has_a_uv_index_that_summers_have():
    """ASTM G173-03, global on 37°: 3.69, where a clear-sky formula (Madronich, from memory) gives
    3.96 for the horizontal.
    """
    found = look_over(sun("global"))
    assert found.uvi.value == pytest.approx(3.69, rel=0.01)
    assert 1.3 < found.d3_ratio < 2.1 and found.short_share < 1e-5


def test_sunlight_above_the_air_is_a_danger():
    """ASTM G173-03, extraterrestrial: UVI 388.6, 28 % of it below 290 nm, actinic 0.55."""
    found = look_over(sun("extraterrestrial"))
    assert found.uvi.value == pytest.approx(388.6, rel=0.01)
    assert found.short_share == pytest.approx(
        0.28, abs=0.015
    ) and found.actinic_ratio == pytest.approx(0.55, abs=0.01)
    assert not found.safe


def test_weights_of_the_standards():
    """CIE 174:2006 (from memory, by the table): 280 nm 0.474, 298 nm 1, 310 nm 0.220, 315 nm 0.034;
    ICNIRP: 270 nm 1, 300 nm 0.3, 315 nm 0.003.
    """
    assert d3_weight(np.array([280.0, 298.0, 310.0, 315.0, 251.0, 331.0])) == pytest.approx(
        [0.474, 1, 0.220, 0.034, 0, 0], abs=1e-3
    )
    assert actinic_weight(np.array([270.0, 300.0, 315.0])) == pytest.approx(
        [1, 0.3, 0.003], rel=1e-6
    )


@pytest.mark.parametrize(("cut", "safe"), [(285, False), (293, True), (296, True)])
def test_glass_that_cuts_late_is_safe_and_glass_that_cuts_early_is_not(cut, safe):
    """The science note: fluorescents behind glass that cuts at 285 nm give 11 to 14 % below 290 nm,
    at 296 nm under 1 %.
    """
    found = look_over(tube(cut))
    assert found.safe == safe
    if cut == 296:
        assert not [sign for sign in found.signs if sign.severity != "fact"]


def test_a_germicidal_line_is_found():
    nm = np.arange(240, 401, 1.0)
    values = tube(296).w_m2nm[0] * np.ones(len(nm)) * 0
    values[nm == 254] = 0.05
    values += np.interp(nm, tube(296).nm, tube(296).w_m2nm, left=0)
    assert {sign.slug for sign in look_over(Spectrum(nm, values, ())).signs} >= {
        "UVC",
        "short wavelengths",
    }


@pytest.mark.parametrize("separator", [",", ";", "\t", " ", ", "])
def test_usual_separators_and_headings_are_read(separator):
    found = read_spectrum(
        "Spectrum of a lamp\nnm" + separator + "value\n" + text_of(sun(), separator) + "\n\n"
    )
    assert look_over(found).uvi.value == pytest.approx(3.69, rel=0.01)
    assert any("heading" in said for said in found.corrections)


def test_decimal_commas_are_read():
    text = text_of(sun(), ";").replace(".", ",")
    assert look_over(read_spectrum(text)).uvi.value == pytest.approx(3.69, rel=0.01)


@pytest.mark.parametrize(
    ("unit", "scale"), [("W/m²/nm", 1), ("mW/m²/nm", 1e3), ("µW/cm²/nm", 1e2)]
)
def test_units_are_taken_as_told(unit, scale):
    assert look_over(read_spectrum(text_of(sun(), scale=scale), unit)).uvi.value == pytest.approx(
        3.69, rel=0.01
    )


def test_what_can_be_put_right_is_put_right_and_said():
    rows = text_of(sun()).split("\n")
    assert "rising order" in read_spectrum("\n".join(reversed(rows))).corrections[0]
    assert "mean" in read_spectrum("\n".join([rows[0], *rows])).corrections[0]
    micro = "\n".join(f"{float(row.split(',')[0]) / 1000},{row.split(',')[1]}" for row in rows)
    assert "micrometres" in read_spectrum(micro).corrections[0]
    tenth = "\n".join(f"{float(row.split(',')[0]) * 10},{row.split(',')[1]}" for row in rows)
    assert "ångström" in read_spectrum(tenth).corrections[0]
    assert "steps of 5 nm" in read_spectrum(text_of(sun(), every=10)).corrections[0]


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "0 rows"),
        ("lamp\n300,1\n310,2", "2 rows"),
        ("\n".join(f"{nm},1" for nm in range(400, 500)), "300 to 330"),
        (
            "\n".join(f"{nm},1" for nm in (280, 281, 282, 283, 300, 320, 330, 340, 350, 360, 370)),
            "a gap of",
        ),
        ("\n".join(f"{nm},1" for nm in range(10, 60)), "not those of a lamp"),
    ],
)
def test_what_cannot_be_used_is_refused_in_words(text, says):
    with pytest.raises(DocumentError) as why:
        read_spectrum(text)
    assert says in " ".join(problem.reason for problem in why.value.problems)


def test_a_line_of_words_is_named_by_its_number():
    rows = text_of(sun()).split("\n")
    with pytest.raises(DocumentError) as why:
        read_spectrum("\n".join([*rows[:20], "lamp switched off here", *rows[20:]]))
    assert [problem.pointer for problem in why.value.problems] == ["line 21"]


def test_a_wrong_unit_is_asked_about():
    found = look_over(read_spectrum(text_of(sun(), scale=1000)))
    assert "far from any lamp" in {sign.slug for sign in found.signs}
