"""What a channel measures and where: which need its day and its night speak of."""

import math
from enum import StrEnum

from husbandry.quantity import Kind
from husbandry.species.needs import NeedKey


class Quantity(StrEnum):
    """What is measured, always in one unit: °C, %, UVI, W, a share, g."""

    TEMPERATURE = "temperature"
    HUMIDITY = "humidity"
    UVI = "uvi"
    POWER = "power"
    HEATING = "heating"
    MASS = "mass"


KINDS = {
    Quantity.TEMPERATURE: Kind.TEMPERATURE,
    Quantity.HUMIDITY: Kind.HUMIDITY,
    Quantity.UVI: Kind.UVI,
    Quantity.POWER: Kind.POWER,
    Quantity.HEATING: Kind.SHARE,
    Quantity.MASS: Kind.MASS,
}
QUANTITY_WORDS = {
    Quantity.TEMPERATURE: "temperature",
    Quantity.HUMIDITY: "humidity",
    Quantity.UVI: "UV index",
    Quantity.POWER: "power",
    Quantity.HEATING: "share of full heating",
    Quantity.MASS: "weight",
}


class SensorPlace(StrEnum):
    """Where a sensor is."""

    SURFACE = "surface"
    WARM = "warm"
    COOL = "cool"
    MIDDLE = "middle"
    HIDE = "hide"
    WATER = "water"
    ROOM = "room"
    FRIDGE = "fridge"
    EGGS = "eggs"
    PLUG = "plug"
    THERMOSTAT = "thermostat"
    PUMP = "pump"
    SCALE = "scale"


PLACE_WORDS = {
    SensorPlace.SURFACE: "basking surface",
    SensorPlace.WARM: "warm end, in the air",
    SensorPlace.COOL: "cool end, in the air",
    SensorPlace.MIDDLE: "middle, in the air",
    SensorPlace.HIDE: "in a hide",
    SensorPlace.WATER: "in the water",
    SensorPlace.ROOM: "the room outside",
    SensorPlace.FRIDGE: "in the brumation fridge",
    SensorPlace.EGGS: "in the incubator",
    SensorPlace.PLUG: "at the plug of everything",
    SensorPlace.THERMOSTAT: "at the thermostat",
    SensorPlace.PUMP: "at the plug of the misting pump",
    SensorPlace.SCALE: "on the scale",
}
_AIR = (SensorPlace.WARM, SensorPlace.COOL, SensorPlace.MIDDLE)
_DAY_NEEDS = {
    (Quantity.TEMPERATURE, SensorPlace.SURFACE): NeedKey.SURFACE_DAY,
    (Quantity.TEMPERATURE, SensorPlace.WARM): NeedKey.WARM_AIR_DAY,
    (Quantity.TEMPERATURE, SensorPlace.COOL): NeedKey.COOL_AIR_DAY,
    (Quantity.TEMPERATURE, SensorPlace.WATER): NeedKey.WATER_DAY,
    (Quantity.UVI, SensorPlace.SURFACE): NeedKey.UVI_DAY,
    **{(Quantity.HUMIDITY, place): NeedKey.HUMIDITY_DAY for place in _AIR},
}
_NIGHT_NEEDS = {
    (Quantity.TEMPERATURE, SensorPlace.WARM): NeedKey.AIR_NIGHT,
    (Quantity.TEMPERATURE, SensorPlace.COOL): NeedKey.AIR_NIGHT,
    **{(Quantity.HUMIDITY, place): NeedKey.HUMIDITY_NIGHT for place in _AIR},
}
JUDGED_AT = {
    NeedKey.SURFACE_DAY: (Quantity.TEMPERATURE, SensorPlace.SURFACE),
    NeedKey.WARM_AIR_DAY: (Quantity.TEMPERATURE, SensorPlace.WARM),
    NeedKey.COOL_AIR_DAY: (Quantity.TEMPERATURE, SensorPlace.COOL),
    NeedKey.WATER_DAY: (Quantity.TEMPERATURE, SensorPlace.WATER),
    NeedKey.AIR_NIGHT: (Quantity.TEMPERATURE, SensorPlace.WARM),
    NeedKey.HUMIDITY_DAY: (Quantity.HUMIDITY, SensorPlace.COOL),
    NeedKey.HUMIDITY_NIGHT: (Quantity.HUMIDITY, SensorPlace.COOL),
}
"""The place at which each need is judged: a logger elsewhere is drawn and judges nothing. Light is
measured with a meter in the hand."""
POSSIBLE: dict[Quantity, tuple[float, float]] = {
    Quantity.TEMPERATURE: (-30.0, 100.0),
    Quantity.HUMIDITY: (0.0, 100.5),
    Quantity.UVI: (0.0, 30.0),
    Quantity.POWER: (0.0, 5000.0),
    Quantity.HEATING: (0.0, 1.0),
    Quantity.MASS: (0.01, 500_000.0),
}
"""What an instrument of the trade can show (common practice) [°C, %, UVI, W, 1, g]."""
TOLD_APART: dict[Quantity, float] = {
    Quantity.TEMPERATURE: 0.5,
    Quantity.HUMIDITY: 3.0,
    Quantity.UVI: 0.2,
    Quantity.POWER: 1.0,
    Quantity.HEATING: 0.02,
    Quantity.MASS: 0.1,
}
"""What a usual sensor tells apart (source: humidity A8 for %; common practice) [°C, %, UVI, W, 1, g]."""
_NOT_INSIDE = {SensorPlace.PLUG, SensorPlace.THERMOSTAT, SensorPlace.PUMP, SensorPlace.SCALE}


def places_of(quantity: Quantity) -> tuple[SensorPlace, ...]:
    """Where a quantity is measured; humidity is not measured in water, light only where it basks."""
    special = {
        Quantity.UVI: (SensorPlace.SURFACE,),
        Quantity.POWER: (SensorPlace.PLUG, SensorPlace.PUMP),
        Quantity.HEATING: (SensorPlace.THERMOSTAT,),
        Quantity.MASS: (SensorPlace.SCALE,),
        Quantity.HUMIDITY: (*_AIR, SensorPlace.HIDE, SensorPlace.ROOM, SensorPlace.EGGS),
    }
    if quantity in special:
        return special[quantity]
    return tuple(one for one in SensorPlace if one not in _NOT_INSIDE)


def need_for(quantity: Quantity, place: SensorPlace, *, day: bool) -> NeedKey | None:
    """The need that a channel speaks of by day or by night; None where the animal has none there."""
    return (_DAY_NEEDS if day else _NIGHT_NEEDS).get((quantity, place))


def is_possible(quantity: Quantity, value: float) -> bool:
    """Whether any instrument can have shown a value [the quantity's unit]."""
    low, high = POSSIBLE[quantity]
    return math.isfinite(value) and low <= value <= high
