"""Heat lamps, emitters, panels, mats, tube heaters and bars of light."""

from collections.abc import Iterator
from typing import Annotated, Any, ClassVar, Literal, get_args

from pydantic import Field

from husbandry.enclosure.equipment import HEATERS
from husbandry.errors import Problem
from husbandry.items.base import (
    ROUNDING_M,
    UNDER_LID_M,
    BaseItem,
    Hung,
    Long,
    Sides,
    Surroundings,
    Thermostatted,
    Times,
    Watts,
    sold_watts,
)
from husbandry.items.fields import (
    BEAM_FIELD,
    FROM_FRONT,
    FROM_LEFT,
    POWER,
    SIDES,
    THERMOSTAT,
    TIMER,
    ItemField,
)


class HeatLamp(Hung, Thermostatted):
    """A lamp, emitter or panel that hangs and warms from above."""

    kind: Literal[
        "halogen_flood",
        "halogen_spot",
        "incandescent_reflector",
        "infrared_projector",
        "ceramic_emitter",
        "infrared_panel",
    ]
    beam_deg: Annotated[float, Field(ge=5, le=170)] | None = None
    """Whole angle at half of the strength on its axis, by its data sheet [°]."""

    fields = (*Hung.fields, POWER, BEAM_FIELD, THERMOSTAT, *TIMER)

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Hang a new one under the lid."""
        item: dict[str, Any] = {"kind": kind, "at_m": around.middle(around.height_m - UNDER_LID_M)}
        return item | {"power_w": sold_watts(kind), "on": times[0], "off": times[1]}

    @property
    def cone_deg(self) -> float | None:
        """Whole angle of its beam, where its data sheet was read [°]."""
        return self.beam_deg

    @property
    def name(self) -> str:
        """What keepers call it."""
        return HEATERS[self.kind].name


LAMP_KINDS: tuple[str, ...] = get_args(HeatLamp.model_fields["kind"].annotation)
"""Kinds of lamps, emitters and panels that hang."""


class HeatMat(Thermostatted):
    """A heat mat under the substrate; `at_m` is the middle of its underside."""

    kind: Literal["heat_mat"] = "heat_mat"
    size_m: Sides

    fields: ClassVar[tuple[ItemField, ...]] = (
        FROM_LEFT,
        FROM_FRONT,
        *SIDES[:2],
        POWER,
        THERMOSTAT,
        *TIMER,
    )
    stem = "mat"

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Lay a new one on the floor: on all day, held by its thermostat."""
        size = [min(0.28, around.length_m), min(0.36, around.depth_m), 0.002]
        held = {"set_c": 32, "probe": "surface"}
        place = {"kind": kind, "at_m": around.middle(0.0), "size_m": size}
        return place | {"power_w": sold_watts(kind), "thermostat": held}

    @property
    def name(self) -> str:
        """What keepers call it."""
        return HEATERS[self.kind].name

    @property
    def sides_m(self) -> Sides:
        """Length, depth and thickness [m]."""
        return self.size_m

    def problems(self, at: str, around: Surroundings) -> Iterator[Problem]:
        """It lies on the floor, under the substrate."""
        yield from super().problems(at, around)
        if self.size_m[0] > around.length_m or self.size_m[1] > around.depth_m:
            yield Problem(f"{at}/size_m", "it is larger than the floor")
        if self.at_m[2] > around.substrate_m + ROUNDING_M:
            yield Problem(f"{at}/at_m/2", "a mat lies under the substrate, not above it")


class TubeHeater(Long, Thermostatted):
    """A heated tube along the enclosure."""

    kind: Literal["tube_heater"] = "tube_heater"

    fields = (*Long.fields, POWER, THERMOSTAT, *TIMER)
    stem = "heater"

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Lay a new one along the floor."""
        item: dict[str, Any] = {"kind": kind, "at_m": around.middle(around.substrate_m + 0.06)}
        item |= {"length_m": round(min(0.6, around.length_m), 3), "power_w": sold_watts(kind)}
        return item | {"on": times[0], "off": times[1]}

    @property
    def name(self) -> str:
        """What keepers call it."""
        return HEATERS[self.kind].name


class LedBar(Long):
    """A bar of white light under the lid."""

    kind: Literal["led_bar"] = "led_bar"
    power_w: Watts

    fields = (*Long.fields, POWER, *TIMER)
    group = "Light"
    stem = "light"

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Hang a new one under the lid."""
        item: dict[str, Any] = {"kind": kind, "at_m": around.middle(around.height_m - UNDER_LID_M)}
        item |= {"length_m": round(min(0.6, around.length_m), 3), "power_w": sold_watts(kind)}
        return item | {"on": times[0], "off": times[1]}

    @property
    def name(self) -> str:
        """What keepers call it."""
        return HEATERS[self.kind].name

    @property
    def warms(self) -> bool:
        """Its power ends as heat."""
        return True

    @property
    def watts(self) -> float:
        """Electric power [W]."""
        return self.power_w


class Probe(BaseItem):
    """The probe of a thermostat: where it hangs or lies."""

    kind: Literal["probe"] = "probe"

    group = "Thermostats"
    stem = "probe"
    is_probe = True

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Hang a new one a hand above the substrate."""
        return {"kind": kind, "at_m": around.middle(around.substrate_m + 0.08)}

    @property
    def name(self) -> str:
        """What keepers call it."""
        return "probe"

    def problems(self, at: str, around: Surroundings) -> Iterator[Problem]:
        """It hangs in the enclosure or lies on its substrate."""
        yield from super().problems(at, around)
        if self.at_m[2] < around.substrate_m - ROUNDING_M:
            reason = "a probe hangs in the enclosure or lies on its substrate"
            yield Problem(f"{at}/at_m/2", reason)
