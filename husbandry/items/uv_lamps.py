"""Lamps that give ultraviolet: tubes, compact lamps, and floods that warm as well."""

from typing import Annotated, Any, Literal, get_args

from pydantic import Field

from husbandry.enclosure.equipment import UV_LAMPS
from husbandry.items.base import UNDER_LID_M, Hung, Long, Surroundings, Times, Watts, sold_watts
from husbandry.items.fields import BEAM_FIELD, HOURS_RUN, POWER, TIMER, ItemField

NEW_HOURS = 100
"""A new lamp is counted as burned in (common practice: a hundred hours) [h]."""


class UvLamp(Hung):
    """A lamp whose ultraviolet fades with the hours it has burned."""

    group = "Ultraviolet"
    is_uv = True

    hours_run: Annotated[float, Field(ge=0, le=100_000)] | None = None
    """For how long it has burned [h]; None: nobody said."""

    @property
    def warms(self) -> bool:
        """Its power ends as heat."""
        return True

    @property
    def burned_h(self) -> float | None:
        """For how long it has burned, where somebody said [h]."""
        return self.hours_run


class UvTube(UvLamp, Long):
    """A straight fluorescent tube."""

    kind: Literal["t5_6", "t5_12", "t5_14", "t8_6", "t8_12"]
    power_w: Watts | None = None
    """Electric power [W]; None: that of the nearest length that is sold."""
    reflector: bool = False

    fields = (
        *Long.fields,
        ItemField("reflector", "In a reflector", is_flag=True, required=False),
        HOURS_RUN,
        *TIMER,
    )
    stem = "tube"
    is_tube = True

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Hang a new one under the lid, about half as long as the enclosure."""
        fitting = [pair for pair in UV_LAMPS[kind].lengths if pair[1] <= around.length_m]
        if not fitting:
            return None
        watts, length_m = min(fitting, key=lambda pair: abs(pair[1] - 0.55 * around.length_m))
        item: dict[str, Any] = {"kind": kind, "at_m": around.middle(around.height_m - UNDER_LID_M)}
        item |= {"power_w": watts, "length_m": length_m, "hours_run": NEW_HOURS}
        return item | {"on": times[0], "off": times[1]}

    @property
    def has_reflector(self) -> bool:
        """Whether it lies in a reflector."""
        return self.reflector

    @property
    def name(self) -> str:
        """What keepers call it."""
        return UV_LAMPS[self.kind].name

    @property
    def watts(self) -> float | None:
        """Electric power, where it was said [W]."""
        return self.power_w


TUBE_KINDS: tuple[str, ...] = get_args(UvTube.model_fields["kind"].annotation)
"""Kinds of ultraviolet tubes."""


class UvCompact(UvLamp):
    """A coil lamp: ultraviolet from nearly a point."""

    kind: Literal["compact_5", "compact_10"]
    power_w: Watts

    fields = (*Hung.fields, POWER, HOURS_RUN, *TIMER)

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Hang a new one under the lid."""
        item: dict[str, Any] = {"kind": kind, "at_m": around.middle(around.height_m - UNDER_LID_M)}
        item |= {"power_w": sold_watts(kind), "hours_run": NEW_HOURS}
        return item | {"on": times[0], "off": times[1]}

    @property
    def name(self) -> str:
        """What keepers call it."""
        return UV_LAMPS[self.kind].name

    @property
    def watts(self) -> float:
        """Electric power [W]."""
        return self.power_w


COMPACT_KINDS: tuple[str, ...] = get_args(UvCompact.model_fields["kind"].annotation)
"""Kinds of compact ultraviolet lamps."""


class UvFlood(UvLamp):
    """A flood lamp that gives heat and ultraviolet together, and must not be dimmed."""

    kind: Literal["uv_flood"] = "uv_flood"
    power_w: Watts
    beam_deg: Annotated[float, Field(ge=5, le=170)] | None = None
    """Whole angle at half of the strength on its axis, by its data sheet [°]."""

    fields = (*Hung.fields, POWER, BEAM_FIELD, HOURS_RUN, *TIMER)
    is_heater = True

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Hang a new one under the lid."""
        item: dict[str, Any] = {"kind": kind, "at_m": around.middle(around.height_m - UNDER_LID_M)}
        item |= {"power_w": sold_watts(kind), "hours_run": NEW_HOURS}
        return item | {"on": times[0], "off": times[1]}

    @property
    def cone_deg(self) -> float | None:
        """Whole angle of its beam, where its data sheet was read [°]."""
        return self.beam_deg

    @property
    def name(self) -> str:
        """What keepers call it."""
        return UV_LAMPS[self.kind].name

    @property
    def watts(self) -> float:
        """Electric power [W]."""
        return self.power_w
