"""Devices of the demo that send what simulated loggers show, by the same way as real ones."""

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass
from typing import get_args

from husbandry.simulation.loggers import Fault, FaultKind, SimulatedLoggers
from husbandry.simulation.other_laws import OTHER_LAWS
from ridgeback.devices import flows
from ridgeback.devices.models import Device
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household

FAULTS = get_args(FaultKind)
BATCH = 4_000
"""Rows of one batch."""


@dataclass(frozen=True)
class SimulatedDevice:
    """A device in one enclosure."""

    enclosure: Enclosure
    device: Device
    loggers: SimulatedLoggers
    codes: dict[tuple[str, str], str]

    def send(self, begin_s: int, end_s: int, *, step_s: int, faults: Sequence[Fault] = ()) -> int:
        """Send what is measured from one second to another; how many values were new."""
        rows = [
            {
                "channel": self.codes[(one.quantity, one.place)],
                "at": int(at),
                "value": float(value),
            }
            for one in self.loggers.log(begin_s, end_s, step_s=step_s, faults=faults)
            for at, value in zip(one.at_s, one.values, strict=True)
        ]

        at = dt.datetime.fromtimestamp(end_s, dt.UTC)
        return sum(
            flows.take(self.device, rows[n : n + BATCH], at).new
            for n in range(0, len(rows), BATCH)
        )


def devices_for(household: Household, now: dt.datetime) -> list[SimulatedDevice]:
    """A simulated device in each enclosure of the household that somebody lives in."""
    found = []
    rows = Enclosure.objects.of(household).in_use().for_planning().order_by("pk")

    for enclosure in rows:
        if not enclosure.present:
            continue
        name = f"Simulated, {enclosure.name}"[:80]
        device = Device.objects.of(household).trusted().filter(name=name).first()
        if device is None:
            device, _ = flows.add(household, name=name, keeper=None, now=now)
        seed = 1 + enclosure.pk % 997
        request, zone = enclosure.request_at(now), enclosure.room.time_zone
        loggers = SimulatedLoggers(request, seed, zone, OTHER_LAWS)
        codes = {
            (quantity.value, place.value): flows.bind(device, enclosure, quantity, place).code
            for quantity, place in loggers.places
        }

        found.append(SimulatedDevice(enclosure, device, loggers, codes))

    return found
