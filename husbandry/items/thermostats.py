"""How a thermostat holds a heater."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from husbandry.derivation import Document
from husbandry.errors import Problem
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

    def problems(self, at: str, probes: frozenset[str]) -> Iterator[Problem]:
        """A placed probe is named, is there, and nothing else is named."""
        if (self.probe == "placed") != (self.probe_id is not None):
            reason = "a placed probe is named by its id, and only a placed one is"
            yield Problem(f"{at}/probe_id", reason)
        elif self.probe_id is not None and self.probe_id not in probes:
            reason = f"there is no probe “{self.probe_id}” in this enclosure"
            yield Problem(f"{at}/probe_id", reason)
