"""What enclosures draw, each and together, without running their days: for a room of many. Method: docs/methods/day.md."""

from collections.abc import Mapping
from typing import NamedTuple

from husbandry.climate.room import circuit_share
from husbandry.methods import find, working
from husbandry.planning.plan import outcome_of
from husbandry.planning.predict import DAY_HOUR, enclosure_of
from husbandry.planning.request import Request
from husbandry.worked import Document, Given, Source, Worked

MONTH_DAYS = 30.4
_SOURCE = Source(kind="design choice", text="timers and thermostats of the plans, in steady state")


class PowerSeen(Document):
    """What an enclosure draws, without running its day: for many enclosures at once."""

    load_w: float
    """Everything at once [W]."""
    mean_w: float
    """Over a day, after timers and thermostats in steady state [W]."""
    by_day_w: float
    """Mean while it is day (13:00) [W]."""


def power_of(request: Request) -> PowerSeen:
    """Power of an enclosure from its steady day and night, at a thirtieth of the cost of `day_of`.

    What a thermostat gives more while it warms up, some 15 %, is not included.
    """
    outcome = outcome_of(request)
    load = mean = by_day = 0.0
    shares: dict[str, float] = {}
    for steady in (outcome.night, outcome.day):
        if steady is not None:
            shares |= {lamp.thing_id: float(duty) for lamp, duty in zip(steady.enclosure.lamps, steady.duties, strict=True)}
    for lamp in enclosure_of(request, None, request.room.day_c, outcome.stance, outcome.learned).lamps:
        thing = request.thing(lamp.thing_id)
        hours = thing.hours_a_day
        share = shares.get(lamp.thing_id, 1.0)
        load += lamp.power_w
        mean += lamp.power_w * share * hours / 24
        by_day += lamp.power_w * share * thing.lit_at(DAY_HOUR)
    heated = any(thing.heater_w for thing in request.things)
    if heated and outcome.swum is not None and outcome.swum.pool.heater_w:
        mean_heater = outcome.swum.day.heater_wh / 24
        load, mean, by_day = load + outcome.swum.pool.heater_w, mean + mean_heater, by_day + mean_heater
    return PowerSeen(load_w=load, mean_w=mean, by_day_w=by_day)


class Hung(NamedTuple):
    """What hangs on one outlet, strip or circuit."""

    name: str
    boxes: tuple[str, ...]
    load: Worked
    """Everything at once [W]."""
    share: Worked
    """Of what it may carry for hours [1]."""


def hung_on(loads_w: Mapping[str, float], where: Mapping[str, str], volts: float, amps: float) -> tuple[Hung, ...]:
    """What each outlet or circuit carries, the fullest first.

    Parameters
    ----------
    loads_w : mapping
        What each enclosure draws at the most, by its name [W].
    where : mapping
        What each enclosure hangs on; enclosures that are not in it, or on nothing, are left out.
    """
    method = find("circuit_share")
    found = []
    for name in {on for on in where.values() if on}:
        boxes = {box: load for box, load in loads_w.items() if where.get(box) == name}
        given = tuple(Given(name=box, value=load, unit="W") for box, load in boxes.items())
        rule = "The sum of everything that can be on at once there, thermostats wide open."
        load = Worked(value=sum(boxes.values()), unit="W", rule=rule, inputs=given, sources=(_SOURCE,))
        arguments: dict[str, float | str] = {"power_w": load.value, "volts": volts, "amps": amps}
        share = working(method, arguments, circuit_share(load.value, volts, amps))
        found.append(Hung(name, tuple(boxes), load, share))
    return tuple(sorted(found, key=lambda hung: (-hung.load.value, hung.name)))


class Together(NamedTuple):
    """What several enclosures draw."""

    load: Worked
    """Everything at once [W]."""
    mean: Worked
    """Over a day [W]."""
    by_day_w: float
    """Mean while it is day [W]."""
    month: Worked
    """Energy [kWh]."""


def together(boxes: Mapping[str, PowerSeen]) -> Together:
    """The sums over enclosures, by their names, each with its working."""

    def total(name: str, rule: str) -> Worked:
        given = tuple(Given(name=box, value=getattr(seen, name), unit="W") for box, seen in boxes.items())
        return Worked(
            value=sum(getattr(seen, name) for seen in boxes.values()), unit="W", rule=rule, inputs=given, sources=(_SOURCE,)
        )

    mean = total(
        "mean_w",
        "The sum of what each enclosure draws on average: power × share that its thermostat leaves on × hours of its timer ÷ 24 h.",
    )
    month = Worked(
        value=mean.value * 24 * MONTH_DAYS / 1000, unit="kWh", rule="Average power × 24 h × days of a month ÷ 1000.",
        inputs=(Given(name="average power", value=mean.value, unit="W"), Given(name="days of a month", value=MONTH_DAYS, unit="d")),
        sources=(_SOURCE,), would_change="A thermostat gives some 15 % more while an enclosure warms up; it is not in here.",
    )  # fmt: skip
    load = total("load_w", "The sum of everything that can be on at once, thermostats wide open.")
    return Together(load, mean, sum(seen.by_day_w for seen in boxes.values()), month)
