"""Weighting of ultraviolet by wavelength."""

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method


@method(
    arguments={"wavelength_nm": Argument("nm", 200, 800)},
    unit="1",
    rule=(
        "1 from 250 to 298 nm; 10^(0.094 (298 − λ)) to 328 nm; 10^(0.015 (140 − λ)) to 400 nm; 0"
        " elsewhere."
    ),
    source=Source(kind="published", text="ISO/CIE 17166:2019, erythema reference action spectrum"),
    example=Example(
        {"wavelength_nm": 310}, 0.074473, 1e-5, "ISO/CIE 17166:2019, the formula at 310 nm"
    ),
)
def erythema_weight(wavelength_nm: float) -> float:
    """Erythemal weight of ultraviolet of that wavelength [1]."""
    if 250 <= wavelength_nm <= 298:
        return 1.0
    if 298 < wavelength_nm <= 328:
        return float(10 ** (0.094 * (298 - wavelength_nm)))
    if 328 < wavelength_nm <= 400:
        return float(10 ** (0.015 * (140 - wavelength_nm)))
    return 0.0
