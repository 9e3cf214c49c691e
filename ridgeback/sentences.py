"""Numbers, ranges and reasons of the core as people read them, in the reader’s units."""

from husbandry.derivation import DerivationInput, OtherApproach
from husbandry.quantity import Kind, Units, show
from husbandry.targets.verdicts import TargetRange

UNIT_KINDS = {
    "°C": Kind.TEMPERATURE,
    "m": Kind.LENGTH,
    "W": Kind.POWER,
    "%": Kind.HUMIDITY,
    "UVI": Kind.UVI,
    "g": Kind.MASS,
    "h": Kind.HOURS,
    "K": Kind.TEMPERATURE_DIFFERENCE,
    "l": Kind.VOLUME,
}


def number_text(value: float, unit: str, units: Units) -> str:
    """An input or result of a derivation: in the reader's unit where it has one, else as it is."""
    kind = UNIT_KINDS.get(unit)
    if unit == "mm":  # prey in tenths, bodies as on a tape
        return show(
            value / 1000,
            Kind.LENGTH,
            units,
            small=value < 100,
            digits=(2 if units.system == "us" else 1) if value < 100 else None,
        )
    if unit == "1" and 0 <= value <= 1:
        return f"{100 * value:.3g} %"
    if unit == "×":
        return f"× {value:.2f}"
    if kind is None:
        return f"{value:.4g} {unit}" if unit not in {"", "1"} else f"{value:.4g}"
    if kind is Kind.MASS and value < 2:
        return show(value, kind, units, digits=2)
    digits = {
        Kind.TEMPERATURE: 1,
        Kind.TEMPERATURE_DIFFERENCE: 1,
        Kind.UVI: 2,
        Kind.HUMIDITY: 1,
    }.get(kind)
    return show(value, kind, units, digits=digits, small=False)


def input_text(item: DerivationInput, units: Units) -> str:
    """An input of a derivation."""
    if item.text or item.value is None:
        return item.text
    return number_text(item.value, item.unit, units)


def span(target: TargetRange, units: Units) -> str:
    """A target range as “23 to 27 °C”."""
    ends = [end.value for end in (target.low, target.high) if end]
    digits = (
        0
        if target.kind.kind is Kind.TEMPERATURE and all(end.is_integer() for end in ends)
        else None
    )
    said = [
        show(end, target.kind.kind, units, digits=digits, unit=n == len(ends) - 1)
        for n, end in enumerate(ends)
    ]
    if len(said) == 1:
        return f"{'from' if target.low else 'up to'} {said[0]}"
    return " to ".join(said)


def between(low: float, high: float, kind: Kind, units: Units) -> str:
    """Two ends as “23.1 to 27.4 °C”, the unit once."""
    return f"{show(low, kind, units, unit=False)} to {show(high, kind, units)}"


def sentence(reason: str) -> str:
    """A reason of the core as a sentence of its own."""
    return f"{reason[0].upper()}{reason[1:]}."


def rhythm(days: float) -> str:
    """How often, in words."""
    return (
        "every day"
        if days == 1
        else "twice a week"
        if days == 3.5
        else f"every {days:.2g} days"
        if days < 10
        else f"every {days:.0f} days"
    )


def supplement(milligrams: float) -> str:
    """Supplement as a kitchen scale shows it: one figure that counts, never none."""
    return f"{max(float(f'{milligrams:.1g}'), 1):.0f} mg"


def otherwise(other: OtherApproach, units: Units) -> str:
    """What another approach says, in the reader's units."""
    ends = [end for end in (other.low, other.high) if end is not None]
    kind = UNIT_KINDS.get(other.unit)
    if other.unit == "days" and ends:
        said = rhythm(ends[0])
    elif kind is not None and len(ends) == 2 and ends[0] != ends[1]:
        said = " to ".join(show(end, kind, units, unit=n == 1) for n, end in enumerate(ends))
    else:
        said = " to ".join(dict.fromkeys(number_text(end, other.unit, units) for end in ends))
    return "; ".join(part for part in (said, other.text) if part)


def because(why: str) -> str:
    """An approach's reason inside a sentence."""
    return (why if why[:2].isupper() else why[0].lower() + why[1:]).rstrip(".")


def plural(name: str) -> str:
    """More than one of a feeder."""
    if name.endswith("fly"):
        return name.removesuffix("fly") + "flies"
    if name.endswith("mouse"):
        return name.removesuffix("mouse") + "mice"
    if name.endswith("larva"):
        return name + "e"
    return name + ("es" if name.endswith("ch") else "s")
