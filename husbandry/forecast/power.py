"""What enclosures draw, each and together, without running their days: for a room of many.

Method: docs/methods/day-forecast.md.
"""

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from husbandry.climate.heat import SteadyState
from husbandry.climate.room import circuit_share
from husbandry.derivation import Derivation, Document, Source, named_value
from husbandry.documents.request import Request
from husbandry.items.furnishings import Pool
from husbandry.items.union import Item
from husbandry.methods import Argument, Example, derivation_of, find, method
from husbandry.plan.plan import prediction_of
from husbandry.predict.exposure import DAY_HOUR
from husbandry.predict.predict import heat_model_of
from husbandry.species.stages import DAYS_PER_MONTH

_SOURCE = Source(kind="design choice", text="timers and thermostats of the plans, in steady state")


class PowerDraw(Document):
    """What an enclosure draws, without running its day: for many enclosures at once."""

    load_w: float
    """Everything at once [W]."""
    mean_w: float
    """Over a day, after timers and thermostats in steady state [W]."""
    by_day_w: float
    """Mean while it is day (13:00) [W]."""


@method(
    arguments={
        "power_w": Argument("W", 0, 100_000),
        "hours_a_day": Argument("h", 0, 24),
        "duty": Argument("1", 0, 1),
        "days": Argument("days", 0, 3660),
    },
    unit="kWh",
    rule="Power × hours a day × share of the time that its thermostat lets it run × days.",
    source=Source(kind="published", text="definition of the kilowatt hour"),
    example=Example(
        {"power_w": 100, "hours_a_day": 12, "duty": 0.6, "days": 30}, 21.6, 1e-9, "by hand"
    ),
)
def schedule_energy(
    power_w: float, hours_a_day: float, duty: float = 1.0, days: float = DAYS_PER_MONTH
) -> float:
    """Electricity of a lamp or heater on its timer [kWh]."""
    return power_w * hours_a_day * duty * days / 1000


def power_of(request: Request) -> PowerDraw:
    """Power of an enclosure from its steady day and night, at a thirtieth of the cost of `day_of`.

    What a thermostat gives more while it warms up, some 15 %, is not included.
    """
    prediction = prediction_of(request)
    load = mean = by_day = 0.0
    night = _duties(prediction.night)
    day = _duties(prediction.day)
    timed = [item for item in request.items if _is_timed_by_day(item)]
    model = heat_model_of(
        request, None, request.room.day_c, prediction.position, prediction.learned
    )
    for lamp in model.lamps:
        item = request.item(lamp.item_id)
        share = day.get(lamp.item_id, night.get(lamp.item_id, 1.0))
        dark = night.get(lamp.item_id, share)
        at_night = _share_at_night(item, timed)
        duty = share * (1 - at_night) + dark * at_night
        load += lamp.power_w
        mean += lamp.power_w * duty * item.hours_a_day / 24
        if item.lit_at(DAY_HOUR):
            by_day += lamp.power_w * share
    heated = any(isinstance(item, Pool) and item.heater_w for item in request.items)
    if heated and prediction.pool_day is not None and prediction.pool_day.pool.heater_w:
        mean_heater = prediction.pool_day.day.heater_wh / 24
        load, mean, by_day = (
            load + prediction.pool_day.pool.heater_w,
            mean + mean_heater,
            by_day + mean_heater,
        )

    return PowerDraw(load_w=load, mean_w=mean, by_day_w=by_day)


def _is_timed_by_day(item: Item) -> bool:
    return item.hours_a_day < 24 and item.lit_at(DAY_HOUR)


def _share_at_night(item: Item, timed: Sequence[Item]) -> float:
    """Of its hours, those in which nothing is on that a timer has on by day [1]."""
    on = [half / 2 for half in range(48) if item.lit_at(half / 2)]
    if not timed or not on:
        return 0.0
    return sum(not any(one.lit_at(hour) for one in timed) for hour in on) / len(on)


def _duties(steady: SteadyState | None) -> dict[str, float]:
    """Share of its power that each lamp gives [1]."""
    if steady is None:
        return {}
    return {
        lamp.item_id: float(duty)
        for lamp, duty in zip(steady.heat_model.lamps, steady.duties, strict=True)
    }


class CircuitLoad(NamedTuple):
    """What hangs on one outlet, strip or circuit."""

    name: str
    enclosures: tuple[str, ...]
    load: Derivation
    """Everything at once [W]."""
    share: Derivation
    """Of what it may carry for hours [1]."""


def hung_on(
    loads_w: Mapping[str, float], where: Mapping[str, str], volts: float, amps: float
) -> tuple[CircuitLoad, ...]:
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
        enclosures = {
            enclosure: load for enclosure, load in loads_w.items() if where.get(enclosure) == name
        }
        given = tuple(named_value(enclosure, load, "W") for enclosure, load in enclosures.items())
        rule = "The sum of everything that can be on at once there, thermostats wide open."
        load = Derivation(
            value=sum(enclosures.values()), unit="W", rule=rule, inputs=given, sources=(_SOURCE,)
        )
        arguments: dict[str, float | str] = {"power_w": load.value, "volts": volts, "amps": amps}
        share = derivation_of(method, arguments, circuit_share(load.value, volts, amps))
        found.append(CircuitLoad(name, tuple(enclosures), load, share))

    return tuple(sorted(found, key=lambda hung: (-hung.load.value, hung.name)))


class HouseholdPower(NamedTuple):
    """What several enclosures draw."""

    load: Derivation
    """Everything at once [W]."""
    mean: Derivation
    """Over a day [W]."""
    by_day_w: float
    """Mean while it is day [W]."""
    month: Derivation
    """Energy [kWh]."""


def together(enclosures: Mapping[str, PowerDraw]) -> HouseholdPower:
    """The sums over enclosures, by their names, each with its derivation."""

    def total(name: str, rule: str) -> Derivation:
        given = tuple(
            named_value(enclosure, getattr(seen, name), "W")
            for enclosure, seen in enclosures.items()
        )
        return Derivation(
            value=sum(getattr(seen, name) for seen in enclosures.values()),
            unit="W",
            rule=rule,
            inputs=given,
            sources=(_SOURCE,),
        )

    mean = total(
        "mean_w",
        "The sum of what each enclosure draws on average: power × share that its thermostat leaves"
        " on × hours of its timer ÷ 24 h.",
    )
    month = Derivation(
        value=mean.value * 24 * DAYS_PER_MONTH / 1000,
        unit="kWh",
        rule="Average power × 24 h × days of a month ÷ 1000.",
        inputs=(
            named_value("average power", mean.value, "W"),
            named_value("days of a month", DAYS_PER_MONTH, "d"),
        ),
        sources=(_SOURCE,),
        would_change=(
            "A thermostat gives some 15 % more while an enclosure warms up; it is not in here."
        ),
    )
    load = total("load_w", "The sum of everything that can be on at once, thermostats wide open.")

    return HouseholdPower(load, mean, sum(seen.by_day_w for seen in enclosures.values()), month)
