"""Alarms in words: what is wrong, and what to do now."""

import datetime as dt
import math
from dataclasses import dataclass

from husbandry.quantity import Kind, Units, show
from husbandry.records.alarm_advice import (
    COLD,
    DAMP,
    DEFERS,
    DRY,
    EGGS_COLD,
    EGGS_HOT,
    FRIDGE_COLD,
    FRIDGE_WARM,
    FULL_POWER,
    HOT,
    HUNTS,
    LAMP_OUT,
    NOT_MISTED,
    POWER,
    PUMP_RUNS_ON,
    SENSOR,
    TOO_STRONG,
)
from husbandry.records.channels import KINDS, PLACE_WORDS, QUANTITY_WORDS, Quantity, SensorPlace
from husbandry.records.watch import AlarmKind
from ridgeback import clock
from ridgeback.alarms.models import Alarm


@dataclass(frozen=True)
class AlarmView:
    """An alarm as pages and mails say it."""

    alarm: Alarm
    title: str
    says: str
    doing: tuple[str, ...]
    direction: str
    since: str
    where: str


def _value(alarm: Alarm, number: float | None, units: Units) -> str:
    if number is None or math.isnan(number) or alarm.channel is None:
        return ""
    return show(number, KINDS[Quantity(alarm.channel.quantity)], units)


def title_of(alarm: Alarm) -> str:
    """What is wrong, in a few words."""
    if alarm.channel is None:
        return "Everything is silent: power or network"
    quantity = Quantity(alarm.channel.quantity)
    words = EXTREMES[quantity]["high" if alarm.side == "high" else "low"]

    whose = "eggs’" if alarm.channel.place == SensorPlace.EGGS else "animal’s"

    return {
        AlarmKind.LIMIT: f"{words}: beyond the {whose} limit",
        AlarmKind.SOON: f"{words} soon: nearing the {whose} limit",
        AlarmKind.LAMP: "The lamp has not warmed the place",
        AlarmKind.NO_DRAW: "Nothing draws power",
        AlarmKind.MISTING: "It was not misted",
        AlarmKind.RUNS_ON: "The misting pump does not stop",
        AlarmKind.FULL: "The thermostat heats at full power for hours",
        AlarmKind.HUNTING: "The temperature swings up and down",
        AlarmKind.UNUSUAL: f"{words} for this hour",
        AlarmKind.LONG: f"{words} for two days",
        AlarmKind.SILENT: "The sensor is silent",
        AlarmKind.JUMPS: "The sensor jumps",
        AlarmKind.FLAT: "The sensor does not move",
    }[AlarmKind(alarm.kind)]


EXTREMES = {
    Quantity.TEMPERATURE: {"high": "Too hot", "low": "Too cold"},
    Quantity.HUMIDITY: {"high": "Too damp", "low": "Too dry"},
    Quantity.UVI: {"high": "Too much ultraviolet", "low": "Too little ultraviolet"},
    Quantity.POWER: {"high": "Too much power", "low": "Too little power"},
    Quantity.HEATING: {"high": "Too much heating", "low": "Too little heating"},
    Quantity.MASS: {"high": "Too heavy", "low": "Too light"},
}


def says_of(alarm: Alarm, units: Units) -> str:
    """What was measured, against what."""
    value, against = (_value(alarm, one, units) for one in (alarm.value, alarm.against))
    if alarm.channel is None:
        return "All devices fell silent within minutes."
    if alarm.kind == AlarmKind.LIMIT:
        return f"{value}; the limit is {against}."
    if alarm.kind == AlarmKind.SOON:
        minutes = alarm.minutes or 0
        return f"{value}; at this rate {against} is passed in {minutes:.0f} minutes."
    if alarm.kind == AlarmKind.LAMP:
        return f"{value}; at this hour it is {against} on other days."
    if alarm.kind == AlarmKind.UNUSUAL:
        return f"{value}; at this hour it is {against} on other days."
    if alarm.kind == AlarmKind.NO_DRAW:
        return f"{value}; at this time it is {against} on other days."
    if alarm.kind == AlarmKind.RUNS_ON:
        return f"It has drawn {value} without a pause for ten minutes or more."
    if alarm.kind == AlarmKind.FULL:
        return f"{value} of full heating; at these hours it is {against} on other days."
    if alarm.kind == AlarmKind.MISTING and alarm.channel.place == SensorPlace.PUMP:
        due = clock.local(alarm.began_at, alarm.channel.enclosure.room.time_zone)
        return f"Its pump has not run; on other days it runs at {due:%H:%M}."
    if alarm.kind == AlarmKind.MISTING:
        due = clock.local(alarm.began_at, alarm.channel.enclosure.room.time_zone)
        return f"{value}; on other days it rises to {against} after {due:%H:%M}."
    if alarm.kind == AlarmKind.HUNTING:
        swing = show(alarm.against or 0.0, Kind.TEMPERATURE_DIFFERENCE, units)
        return f"By {swing} each time, for hours: its thermostat hunts."
    if alarm.kind == AlarmKind.LONG:
        return f"In its range {alarm.against or 0:.0%} of the last day.".replace("%", " %")
    if alarm.kind == AlarmKind.SILENT:
        return f"The last value was {value}."
    if alarm.kind == AlarmKind.JUMPS:
        return "Its values leap up and down as no enclosure does."
    return f"It has shown {value} for many hours, by day and by night."


def doing_of(alarm: Alarm) -> tuple[str, ...]:
    """What to do now."""
    if alarm.channel is None:
        return POWER
    if alarm.severity == "instrument":
        return SENSOR
    if alarm.kind in {AlarmKind.LAMP, AlarmKind.NO_DRAW}:
        return LAMP_OUT
    if alarm.kind == AlarmKind.MISTING:
        return NOT_MISTED
    by_kind = {
        AlarmKind.HUNTING: HUNTS,
        AlarmKind.RUNS_ON: PUMP_RUNS_ON,
        AlarmKind.FULL: FULL_POWER,
    }
    if AlarmKind(alarm.kind) in by_kind:
        return by_kind[AlarmKind(alarm.kind)]
    quantity, is_high = Quantity(alarm.channel.quantity), alarm.side == "high"
    if alarm.channel.place in KEPT_ELSEWHERE and quantity is Quantity.TEMPERATURE:
        return KEPT_ELSEWHERE[SensorPlace(alarm.channel.place)][is_high]
    if quantity is Quantity.HUMIDITY:
        return DAMP if is_high else DRY
    if quantity is Quantity.UVI:
        return LAMP_OUT if not is_high else TOO_STRONG
    steps = HOT if is_high else COLD

    return (*steps, DEFERS) if alarm.severity == "danger" else steps


KEPT_ELSEWHERE = {
    SensorPlace.FRIDGE: (FRIDGE_COLD, FRIDGE_WARM),
    SensorPlace.EGGS: (EGGS_COLD, EGGS_HOT),
}
"""What to do of a place outside the enclosure: when it is too cold, when it is too warm."""


def where_of(alarm: Alarm) -> str:
    """The place that it is of."""
    if alarm.channel is None:
        return "the whole household"
    channel = alarm.channel
    place = PLACE_WORDS[SensorPlace(channel.place)]

    return f"{channel.enclosure.name}, {place} ({QUANTITY_WORDS[Quantity(channel.quantity)]})"


def view_of(alarm: Alarm, now: dt.datetime, units: Units) -> AlarmView:
    """An alarm in words."""
    minutes = ((alarm.ended_at or now) - alarm.began_at).total_seconds() / 60
    since = (
        f"{minutes:.0f} minutes"
        if minutes < 120
        else f"{minutes / 60:.0f} hours"
        if minutes < 72 * 60
        else f"{minutes / 1440:.0f} days"
    )

    direction = {"high": "above", "low": "below"}.get(alarm.side, "unknown")

    return AlarmView(
        alarm,
        title_of(alarm),
        says_of(alarm, units),
        doing_of(alarm),
        direction,
        since,
        where_of(alarm),
    )
