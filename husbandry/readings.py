"""A reading and its instrument: what shows what, and what is taken off.

Common practice, no source.
"""

from husbandry.derivation import Source
from husbandry.methods import Argument, Example, method
from husbandry.quantity import PLAUSIBLE, Kind
from husbandry.species.needs import NEEDS, NeedKey


@method(
    arguments={"value": Argument("", -1000, 100_000), "offset": Argument("", -1000, 1000)},
    unit="",
    rule="What the instrument showed, less what it is known to read too high.",
    source=Source(kind="common practice"),
    example=Example(
        {"value": 36.4, "offset": 1.4},
        35.0,
        1e-12,
        "common practice, no source: a thermometer that reads 1.4 °C high",
    ),
)
def corrected_reading(value: float, offset: float = 0.0) -> float:
    """A reading corrected by the instrument's known offset [the reading's unit]."""
    return value - offset


INSTRUMENTS = {
    "infrared": "infrared thermometer",
    "probe": "air probe",
    "shaded_probe": "air probe, shaded from the lamps",
    "hygrometer": "hygrometer",
    "uv": "UV meter",
    "other": "another",
}
"""By the key that a reading is kept with: what it is called."""
_USUAL = {
    NeedKey.SURFACE_DAY: "infrared",
    NeedKey.UVI_DAY: "uv",
    NeedKey.HUMIDITY_DAY: "hygrometer",
    NeedKey.HUMIDITY_NIGHT: "hygrometer",
}


def usual_instrument(need: NeedKey) -> str:
    """The instrument that a need is read with, by its key in `INSTRUMENTS`: a probe unless another
    is named.
    """
    return _USUAL.get(need, "probe")


def cannot_read(instrument: str, need: NeedKey) -> str:
    """Why an instrument does not show a quantity, as a sentence; nothing when it does."""
    if need is NeedKey.UVI_DAY and instrument not in {"uv", "other"}:
        return "Only a UV meter shows the UV index."
    if need is not NeedKey.UVI_DAY and instrument == "uv":
        return "A UV meter shows the UV index and nothing else."
    if instrument == "infrared" and NEEDS[need].kind is Kind.HUMIDITY:
        return "Humidity is read with a hygrometer."
    if instrument == "infrared" and need not in {NeedKey.SURFACE_DAY, NeedKey.WATER_DAY}:
        return "An infrared thermometer reads surfaces, not air: log what an air probe shows."
    return ""


def value_problem(need: NeedKey, value: float) -> str:
    """Say why no instrument can have shown a value; nothing when one can.

    Parameters
    ----------
    value : float
        As the instrument showed it [the need's unit].
    """
    kind = NEEDS[need]
    low, high = PLAUSIBLE[kind.plausible].possible
    if low <= value <= high:
        return ""
    unit = f" {kind.unit}" if kind.unit != "UVI" else ""
    return f"{kind.name} {value:g}{unit} is not possible: it lies from {low:g} to {high:g}{unit}"
