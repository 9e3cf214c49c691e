"""How a thermostat holds a heater."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from husbandry.derivation import Document
from husbandry.errors import Problem
from husbandry.items.timers import ClockTime, runs_at
from husbandry.quantity import PLAUSIBLE

_HELD = PLAUSIBLE["thermostat"]


class ThermostatSpec(Document):
    """Holds a heater's probe at a set point."""

    set_c: Annotated[float, Field(ge=_HELD.possible[0], le=_HELD.possible[1])]
    probe: Literal["surface", "warm_air", "cool_air", "placed"] = "surface"
    """Placed: where the item `probe_id` hangs, or on what it lies."""
    probe_id: Annotated[str, Field(max_length=40)] | None = None
    control: Literal["dimming", "on_off"] = "dimming"
    """Dimming stands for pulses too, whose mean is a share of the power."""
    night_set_c: Annotated[float, Field(ge=_HELD.possible[0], le=_HELD.possible[1])] | None = None
    """What it holds between `night_from` and `night_to`; None: the same as by day [°C]."""
    night_from: ClockTime = "20:00"
    night_to: ClockTime = "08:00"
    cut_out_c: Annotated[float, Field(ge=_HELD.possible[0], le=_HELD.possible[1])] | None = None
    """Where an independent cut-out beside the probe takes the power away; None without one [°C]."""

    def set_at(self, hour: float) -> float:
        """What it holds at an hour of the day [°C]."""
        if self.night_set_c is None or not runs_at(self.night_from, self.night_to, hour % 24):
            return self.set_c
        return self.night_set_c

    def problems(self, at: str, probes: frozenset[str]) -> Iterator[Problem]:
        """A placed probe is named, is there, and nothing else is; a cut-out lies above what is held."""
        highest = max(self.set_c, self.night_set_c or self.set_c)
        if self.cut_out_c is not None and self.cut_out_c <= highest:
            yield Problem(f"{at}/cut_out_c", "a cut-out lies above what the thermostat holds")
        if (self.probe == "placed") != (self.probe_id is not None):
            reason = "a placed probe is named by its id, and only a placed one is"
            yield Problem(f"{at}/probe_id", reason)
        elif self.probe_id is not None and self.probe_id not in probes:
            reason = f"there is no probe “{self.probe_id}” in this enclosure"
            yield Problem(f"{at}/probe_id", reason)
