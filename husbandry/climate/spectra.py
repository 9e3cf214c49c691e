"""A lamp's measured spectrum: read with its faults named, weighted for skin and for vitamin D3,
looked over for hazard, and set beside the sun.

Method: docs/methods/spectrum.md.
"""

import functools
import math
import re
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from husbandry.climate.spectrum import erythema_weight
from husbandry.derivation import Derivation, Document, Source, named_value
from husbandry.errors import DocumentError, Problem
from husbandry.tables import rows

Array = NDArray[np.float64]
UnitName = Literal["W/m²/nm", "mW/m²/nm", "µW/cm²/nm"]
SPECTRAL_UNITS: dict[str, float] = {"W/m²/nm": 1.0, "mW/m²/nm": 1e-3, "µW/cm²/nm": 1e-2}
"""In W/m²/nm (definition)."""
MOST_LINES = 20_000
"""Lines of a spectrum that are read at the most (design choice)."""
STEP_NM = 0.5
"""Grid on which spectra are summed (source: uv 7) [nm]."""
COARSE_NM, GAP_NM = 2.0, 10.0
"""Steps wider than the first are warned of below 330 nm, wider than the second are refused there
(source: uv 7) [nm].
"""
SHORT_NM = 290.0
"""Below it the sun at the ground gives nothing (erythemal share under 1e-5) (source: uv 7)."""
_ER = Source(kind="published", text="ISO/CIE 17166:2019, erythema reference action spectrum")
_D3 = Source(
    kind="from memory", text="CIE 174:2006, action spectrum for previtamin D3, table of 1 nm"
)
_ACTINIC = Source(
    kind="from memory",
    text="ICNIRP 2004 and ACGIH, relative spectral effectiveness of actinic ultraviolet",
)
_LIMITS = Source(kind="design choice", text="signs of hazard, docs/methods/spectrum.md")


@dataclass(frozen=True)
class Spectrum:
    """A spectrum as it was read."""

    nm: Array
    w_m2nm: Array
    corrections: tuple[str, ...]
    """What was changed to read it."""


_NUMBER = r"[-+]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][-+]?\d+)?"
_ROW = re.compile(rf"^\s*({_NUMBER})\s*(?:;|\t|,\s+|\s+|,)\s*({_NUMBER})\s*(?:[;,\t ].*)?$")


def _numbers(line: str) -> tuple[float, float] | None:
    match = _ROW.match(line)
    if match is None:
        return None
    a, b = (part.replace(",", ".") for part in match.groups())
    try:
        return float(a), float(b)
    except ValueError:
        return None


def read_spectrum(text: str, unit: str = "W/m²/nm") -> Spectrum:
    """Read two columns, wavelength and spectral irradiance, separated by commas, semicolons, tabs
    or blanks.

    Parameters
    ----------
    unit : str
        Of the second column: a key of `SPECTRAL_UNITS`.

    Raises
    ------
    DocumentError
        With the number of each line that cannot be read, and with what makes the whole unusable.
    """
    if unit not in SPECTRAL_UNITS:
        raise DocumentError(
            "spectrum",
            [Problem("", f"“{unit}” is not a unit of a spectrum: {', '.join(SPECTRAL_UNITS)}")],
        )
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    if len(lines) > MOST_LINES:
        raise DocumentError(
            "spectrum", [Problem("", f"more than {MOST_LINES} lines: no spectrum is so long")]
        )
    found: list[tuple[float, float]] = []
    problems: list[Problem] = []
    heading = 0
    for n, line in enumerate(lines, 1):
        if not line.strip() or line.lstrip().startswith(("#", "//", "%")):
            continue
        pair = _numbers(line)
        if pair is None:
            if not found:
                heading += 1
            else:
                problems.append(
                    Problem(f"line {n}", f"“{line.strip()[:40]}” is not a wavelength and a value")
                )
            continue
        if not all(math.isfinite(value) for value in pair):
            problems.append(Problem(f"line {n}", "a number is finite"))
            continue
        found.append(pair)
    if problems:
        raise DocumentError("spectrum", problems[:20])
    corrections = (
        [f"{heading} line{'s' if heading > 1 else ''} of heading left out"] if heading else []
    )
    return _put_right(found, SPECTRAL_UNITS[unit], corrections)


def _put_right(
    found: list[tuple[float, float]], factor: float, corrections: list[str]
) -> Spectrum:
    if len(found) < 10:
        raise DocumentError(
            "spectrum",
            [
                Problem(
                    "",
                    f"{len(found)} row{'' if len(found) == 1 else 's'} of numbers: a spectrum has"
                    " ten at least",
                )
            ],
        )
    nm = np.array([row[0] for row in found])
    values = np.array([row[1] for row in found]) * factor
    if np.all((nm >= 0.18) & (nm <= 3.0)):
        nm = nm * 1000
        corrections = [*corrections, "wavelengths read as micrometres"]
    elif np.all((nm >= 1800) & (nm <= 12_000)) and nm.min() > 1500:
        nm = nm / 10
        corrections = [*corrections, "wavelengths read as ångström"]
    if nm.min() < 150 or nm.max() > 3000:
        raise DocumentError(
            "spectrum",
            [
                Problem(
                    "",
                    f"wavelengths from {nm.min():g} to {nm.max():g} are not those of a lamp in nm",
                )
            ],
        )
    if np.any(np.diff(nm) < 0):
        order = np.argsort(nm, kind="stable")
        nm, values, corrections = (
            nm[order],
            values[order],
            [*corrections, "rows put in rising order"],
        )
    return _in_order(corrections, nm, values)


def _in_order(corrections: list[str], nm: NDArray[Any], values: NDArray[Any]) -> Spectrum:
    """Put wavelengths in order, once each, and values above nothing."""
    if np.any(np.diff(nm) == 0):
        unique, inverse = np.unique(nm, return_inverse=True)
        values = np.bincount(inverse, values) / np.bincount(inverse)
        nm = unique
        corrections = [*corrections, "rows of one wavelength taken by their mean"]
    ultraviolet = nm[(nm >= 280) & (nm <= 330)]
    if nm.min() > 300 or nm.max() < 330 or len(ultraviolet) < 4:
        raise DocumentError(
            "spectrum",
            [
                Problem(
                    "",
                    f"it covers {nm.min():g} to {nm.max():g} nm: 300 to 330 nm are needed to"
                    " judge UVB",
                )
            ],
        )
    widest = float(np.diff(nm[nm <= 331]).max())
    if widest > GAP_NM:
        at = float(nm[:-1][np.argmax(np.diff(nm) * (nm[:-1] <= 330))])
        raise DocumentError(
            "spectrum",
            [
                Problem(
                    "", f"a gap of {widest:g} nm after {at:g} nm: between them nothing can be said"
                )
            ],
        )
    if widest > COARSE_NM:
        corrections = [
            *corrections,
            f"steps of {widest:g} nm below 330 nm: read in straight lines, which adds 8 % at 5 nm",
        ]
    return Spectrum(nm, values, tuple(corrections))


@functools.cache
def _table(name: str) -> tuple[Array, Array]:
    data = list(rows("husbandry.climate", name))
    return np.array([float(row["wavelength_nm"]) for row in data]), np.array(
        [float(row["weight"]) for row in data]
    )


def d3_weight(wavelength_nm: Array) -> Array:
    """Weight of ultraviolet for previtamin D3 [1]; 0 outside 252 to 330 nm."""
    nm, weight = _table("previtamin_d3.csv")
    return np.interp(wavelength_nm, nm, weight, left=0.0, right=0.0)


def actinic_weight(wavelength_nm: Array) -> Array:
    """Relative effectiveness of actinic ultraviolet [1], between the table's values on a
    logarithmic scale.
    """
    nm, weight = _table("actinic.csv")
    inside = (wavelength_nm >= nm[0]) & (wavelength_nm <= 400)
    return np.where(inside, np.exp(np.interp(wavelength_nm, nm, np.log(weight))), 0.0)


def _over(
    spectrum: Spectrum,
    low_nm: float,
    high_nm: float,
    weight: Array | None = None,
    grid: Array | None = None,
) -> float:
    """Integral over a band on a half-nanometre grid, its edges included [W/m²]; noise below zero
    counts, a sum below zero does not.
    """
    at = np.arange(low_nm, high_nm + STEP_NM / 2, STEP_NM) if grid is None else grid
    values = np.interp(at, spectrum.nm, spectrum.w_m2nm, left=0.0, right=0.0)
    return max(float(np.trapezoid(values if weight is None else values * weight, at)), 0.0)


class Sign(Document):
    """A sign of hazard."""

    slug: Literal[
        "UVC", "short wavelengths", "actinic", "little UVB", "UVC not judged", "far from any lamp"
    ]
    severity: Literal["danger", "care", "fact"]
    text: str


class SpectrumFound(Document):
    """What a spectrum says."""

    uvi: Derivation
    d3_w_m2: Derivation
    uvc_w_m2: float
    uvb_w_m2: float
    """280 to 315 nm."""
    uvb_320_w_m2: float
    """280 to 320 nm, as many meters have it."""
    uva_w_m2: float
    short_share: float
    """Of the erythemal irradiance below 290 nm [1]."""
    actinic_ratio: float
    """Actinic over erythemal [1]."""
    d3_ratio: float
    """For vitamin D3 over erythemal [1]."""
    uvb_per_uvi_uw_cm2: float
    sun: dict[str, float]
    """The same ratios of the reference sun."""
    signs: tuple[Sign, ...]
    corrections: tuple[str, ...]
    nm: tuple[float, ...]
    w_m2nm: tuple[float, ...]
    """Every nanometre from 250 to 400, for drawing."""

    @property
    def safe(self) -> bool:
        """Whether no sign speaks of danger."""
        return not any(sign.severity == "danger" for sign in self.signs)


@functools.cache
def sun(column: Literal["global", "direct", "extraterrestrial"] = "global") -> Spectrum:
    """ASTM G173-03: sunlight at the ground on a slope of 37°, its direct part, or above the air;
    280 to 400 nm.
    """
    data = list(rows("husbandry.climate", "g173.csv"))
    return Spectrum(
        np.array([float(row["wavelength_nm"]) for row in data]),
        np.array([float(row[f"{column}_w_m2nm"]) for row in data]),
        (),
    )


def _ratios(spectrum: Spectrum) -> dict[str, float]:
    grid = np.arange(250.0, 400.25, STEP_NM)
    skin = np.array([erythema_weight(float(nm)) for nm in grid])
    short = grid <= SHORT_NM
    erythemal = _over(spectrum, 250, 400, skin, grid)
    uvb = _over(spectrum, 280, 315)
    return {
        "erythemal_w_m2": erythemal,
        "uvi": 40 * erythemal,
        "d3_w_m2": _over(spectrum, 252, 330, d3_weight(np.arange(252.0, 330.25, STEP_NM))),
        "uvc_w_m2": _over(spectrum, 200, 280),
        "uvb_w_m2": uvb,
        "uvb_320_w_m2": _over(spectrum, 280, 320),
        "uva_w_m2": _over(spectrum, 315, 400),
        "short": _over(spectrum, 250, SHORT_NM, skin[short], grid[short]),
        "actinic_w_m2": _over(
            spectrum, 200, 400, actinic_weight(np.arange(200.0, 400.25, STEP_NM))
        ),
    }


def _over_erythemal(told: dict[str, float]) -> dict[str, float]:
    skin = max(told["erythemal_w_m2"], 1e-12)
    return {
        "short_share": told["short"] / skin,
        "actinic_ratio": told["actinic_w_m2"] / skin,
        "d3_ratio": told["d3_w_m2"] / skin,
        "uvb_per_uvi_uw_cm2": 100 * told["uvb_w_m2"] / (40 * skin),
    }


def look_over(spectrum: Spectrum) -> SpectrumFound:
    """Weigh a spectrum and look for hazard."""
    told = _ratios(spectrum)
    shares = _over_erythemal(told)
    shown = np.arange(250.0, 400.5, 1.0)
    given = (
        named_value("UVB, 280 to 315 nm", told["uvb_w_m2"], "W/m²"),
        named_value("UVA, 315 to 400 nm", told["uva_w_m2"], "W/m²"),
        named_value("rows", float(len(spectrum.nm)), "1"),
    )
    return SpectrumFound(
        uvi=Derivation(
            value=told["uvi"],
            unit="UVI",
            rule="40 m²/W × the integral of the spectrum × the erythemal weight, 250 to 400 nm.",
            inputs=given,
            sources=(_ER,),
            would_change="The distance at which it was measured; the meter’s own error.",
            command="spectrum FILE.csv",
        ),
        d3_w_m2=Derivation(
            value=told["d3_w_m2"],
            unit="W/m²",
            rule="The integral of the spectrum × the weight for previtamin D3, 252 to 330 nm.",
            inputs=given,
            sources=(_D3,),
            command="spectrum FILE.csv",
        ),
        uvc_w_m2=told["uvc_w_m2"],
        uvb_w_m2=told["uvb_w_m2"],
        uvb_320_w_m2=told["uvb_320_w_m2"],
        uva_w_m2=told["uva_w_m2"],
        **shares,
        sun=_over_erythemal(_ratios(sun())),
        signs=tuple(_signs(spectrum, told, shares)),
        corrections=spectrum.corrections,
        nm=tuple(float(nm) for nm in shown),
        w_m2nm=tuple(
            float(value)
            for value in np.interp(shown, spectrum.nm, spectrum.w_m2nm, left=0.0, right=0.0)
        ),
    )


def _signs(spectrum: Spectrum, told: dict[str, float], shares: dict[str, float]) -> list[Sign]:
    found = []
    if spectrum.nm[0] > 280:
        found.append(
            Sign(
                slug="UVC not judged",
                severity="care",
                text=f"It begins at {spectrum.nm[0]:g} nm: whether there is UVC cannot be said.",
            )
        )
    elif told["uvc_w_m2"] > 0.005 * told["uvb_w_m2"] and told["uvc_w_m2"] > 1e-3:
        found.append(
            Sign(
                slug="UVC",
                severity="danger",
                text=(
                    "It gives UVC below 280 nm: it burns eyes and skin within minutes. Do not"
                    " use it."
                ),
            )
        )
    share = shares["short_share"]
    if share > 0.05:
        text = f"{share:.0%} of what burns lies below 290 nm, where the sun gives nothing."
        danger = share > 0.10
        text += " Do not use it." if danger else " Keep far away, and ask for another lamp."
        found.append(
            Sign(slug="short wavelengths", severity="danger" if danger else "care", text=text)
        )
    ratio = shares["actinic_ratio"]
    if ratio > 0.45:
        text = f"Actinic over erythemal is {ratio:.2f}; the sun has 0.2 to 0.3, usual tubes about 0.4."
        found.append(Sign(slug="actinic", severity="danger" if ratio > 0.5 else "care", text=text))
    if told["uvi"] > 0.05 and shares["uvb_per_uvi_uw_cm2"] < 7:
        found.append(
            Sign(
                slug="little UVB",
                severity="care",
                text="Little UVB for its UV index: its rays are shorter than those of usual tubes.",
            )
        )
    if told["uvi"] > 100:
        text = (
            f"A UV index of {told['uvi']:.0f} is ten times the strongest sun: the unit of the file"
            " is probably another."
        )
        found.append(Sign(slug="far from any lamp", severity="care", text=text))
    return found
