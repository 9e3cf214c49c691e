"""What every item has, and the traits that several kinds share."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar

from pydantic import AfterValidator, Field, WithJsonSchema

from husbandry import bounds
from husbandry.derivation import Document
from husbandry.enclosure.equipment import HEATERS
from husbandry.errors import Problem
from husbandry.items.fields import FROM_LEFT, PLACE, SIDES, ItemField
from husbandry.items.thermostats import ThermostatSpec
from husbandry.items.timers import ClockSpan, ClockTime, ends_of, hours_of, open_through, runs_at
from husbandry.quantity import Kind

Metres = Annotated[float, Field(ge=0, le=10)]
ItemSide = Annotated[
    float,
    AfterValidator(bounds.item_side),
    WithJsonSchema(
        {"type": "number", "minimum": bounds.ITEM_SIDE_M[0], "maximum": bounds.ITEM_SIDE_M[1]}
    ),
]
Sides = tuple[ItemSide, ItemSide, ItemSide]
Times = tuple[str, str]
Watts = Annotated[float, Field(gt=0, le=2000)]
MOST_WINDOWS = 6
"""Further times of a day that a timer has, as its pins or its app allow (design choice) [1]."""
LAMP_CLEAR_M = 0.02
"""A lamp hangs at least so far above substrate and stone (design choice) [m]."""
UNDER_LID_M = 0.05
"""A new lamp hangs so far under the lid (design choice) [m]."""
ROUNDING_M = 1e-6
"""Lengths closer than that are equal: what is left of unit conversions (design choice) [m]."""


@dataclass(frozen=True)
class Surroundings:
    """What an item must fit into."""

    length_m: float
    depth_m: float
    height_m: float
    substrate_m: float
    has_mesh: bool
    """Whether a part of the lid is mesh."""
    probes: frozenset[str]
    """Ids of the probes that were placed."""

    def middle(self, z_m: float) -> list[float]:
        """The middle of the floor, at that height [m]."""
        return [round(self.length_m / 2, 3), round(self.depth_m / 2, 3), round(z_m, 3)]


class BaseItem(Document):
    """Anything in, on or above an enclosure.

    `at_m` is the place of a lamp's face, of a tube's axis, and of the middle of the underside of
    whatever lies or stands, from the left front corner of the floor inside [m].
    """

    fields: ClassVar[tuple[ItemField, ...]] = PLACE
    """What can be edited of it, in order."""
    group: ClassVar[str]
    """Under which heading it is offered."""
    stem: ClassVar[str]
    """What its ids begin with."""
    is_body: ClassVar[bool] = False
    """Whether it stands or lies on the substrate."""
    is_heater: ClassVar[bool] = False
    """Whether it is there to warm."""
    is_uv: ClassVar[bool] = False
    """Whether it gives ultraviolet."""
    is_tube: ClassVar[bool] = False
    """Whether it is a straight tube of ultraviolet."""
    is_probe: ClassVar[bool] = False
    """Whether it feels a temperature for a thermostat and does nothing else."""
    is_hung: ClassVar[bool] = False
    """Whether it hangs free above the substrate and must stay clear of it."""
    holds_water: ClassVar[bool] = False
    """Whether it has an open surface of water."""

    id: Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")]
    at_m: tuple[Metres, Metres, Metres]

    # What code reads of any item: the value of the kinds that have it, else None.

    @property
    def name(self) -> str:
        """What keepers call it, without its measures."""
        raise NotImplementedError

    @property
    def warms(self) -> bool:
        """Whether it gives heat, be it there for that or not."""
        return self.is_heater

    @property
    def sides_m(self) -> Sides | None:
        """Length, depth and height of a body or a mat [m]."""
        return None

    @property
    def watts(self) -> float | None:
        """Electric power [W]."""
        return None

    @property
    def long_m(self) -> float | None:
        """Nominal length of a tube or a bar [m]."""
        return None

    @property
    def held(self) -> ThermostatSpec | None:
        """The thermostat that holds it."""
        return None

    @property
    def hangs_above_lid(self) -> bool:
        """Whether it lies on the lid's mesh or hangs above it."""
        return False

    @property
    def burned_h(self) -> float | None:
        """For how long an ultraviolet lamp has burned, where somebody said [h]."""
        return None

    @property
    def cone_deg(self) -> float | None:
        """Whole angle of its beam, where its data sheet was read [°]."""
        return None

    @property
    def has_reflector(self) -> bool:
        """Whether it lies in a reflector."""
        return False

    @property
    def timer(self) -> Times | None:
        """Times at which it first goes on and off; None without a timer."""
        return None

    @property
    def windows(self) -> tuple[Times, ...]:
        """Each time of the day at which a timer has it on; none without a timer."""
        return ()

    @property
    def hours_a_day(self) -> float:
        """For how long its timer has it on [h]; all day without one."""
        return 24.0

    def lit_at(self, hour: float) -> bool:
        """Whether it is on at that hour of the day; always without a timer."""
        return True

    def lit_through(self, hours: tuple[float, ...]) -> tuple[bool, ...]:
        """Whether it is on at each of some hours of the day."""
        return (True,) * len(hours)

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Make a new one in a sound place, as JSON without its id; None where none fits.

        `times` are those at which a new lamp goes on and off.
        """
        return {"kind": kind, "at_m": around.middle(around.height_m - UNDER_LID_M)}

    def problems(self, at: str, around: Surroundings) -> Iterator[Problem]:
        """Find what cannot be in these surroundings; `at` is the item's own JSON pointer."""
        x, y, z = self.at_m
        if not (0 <= x <= around.length_m and 0 <= y <= around.depth_m):
            inside = f"{around.length_m:g} × {around.depth_m:g} m inside"
            yield Problem(f"{at}/at_m", f"it stands outside the enclosure, which is {inside}")
        if z > around.height_m and not self.hangs_above_lid:
            high = f"an enclosure {around.height_m:g} m high"
            yield Problem(f"{at}/at_m/2", f"at {z:g} m it is above the lid of {high}")


class Furnishing(BaseItem):
    """A body that stands or lies on the substrate."""

    fields: ClassVar[tuple[ItemField, ...]] = (*PLACE[:2], *SIDES)
    group = "Furniture"
    is_body = True
    label: ClassVar[str]
    usual_m: ClassVar[tuple[float, float, float]]
    """Size of a new one [m]."""

    size_m: Sides

    @property
    def name(self) -> str:
        """What keepers call it."""
        return self.label

    @property
    def sides_m(self) -> Sides:
        """Length, depth and height [m]."""
        return self.size_m

    @property
    def top_m(self) -> float:
        """Height of its upper side above the floor [m]."""
        return self.at_m[2] + self.size_m[2]

    @classmethod
    def begin(cls, kind: str, around: Surroundings, times: Times) -> dict[str, Any] | None:
        """Stand a new one in the middle, as large as is usual or as fits."""
        most = (around.length_m, around.depth_m, around.height_m - around.substrate_m)
        size = [round(min(*pair), 3) for pair in zip(cls.usual_m, most, strict=True)]
        return {"kind": kind, "at_m": around.middle(cls.base_m(around, size[2])), "size_m": size}

    @classmethod
    def base_m(cls, around: Surroundings, high_m: float) -> float:
        """At which height a new one of that height stands [m]."""
        return around.substrate_m

    def problems(self, at: str, around: Surroundings) -> Iterator[Problem]:
        """Nothing larger than the enclosure, side by side."""
        yield from super().problems(at, around)
        length, depth, height = self.size_m
        sides = (
            (length > around.length_m, "longer than the floor"),
            (depth > around.depth_m, "deeper than the floor"),
            (
                self.at_m[2] + height > around.height_m,
                "higher than the enclosure, where it stands",
            ),
        )
        for n, (past, words) in enumerate(sides):
            if past:
                yield Problem(f"{at}/size_m/{n}", f"it is {words}: larger than the enclosure")


class Timed(BaseItem):
    """An item that a timer may switch on and off."""

    on: ClockTime | None = None
    off: ClockTime | None = None
    also_on: Annotated[tuple[ClockSpan, ...], Field(max_length=MOST_WINDOWS)] = ()
    """Further times of the same day, such as a second session in the evening."""

    @property
    def timer(self) -> Times | None:
        """Times at which it first goes on and off; None without a timer."""
        return (self.on, self.off) if self.on is not None and self.off is not None else None

    @property
    def windows(self) -> tuple[Times, ...]:
        """Each time of the day at which its timer has it on; none without a timer."""
        first = self.timer
        return () if first is None else (first, *(ends_of(span) for span in self.also_on))

    @property
    def hours_a_day(self) -> float:
        """For how long its timer has it on [h]; all day without one."""
        return hours_of(self.windows) if self.windows else 24.0

    def lit_at(self, hour: float) -> bool:
        """Whether its timer has it on at that hour of the day; always without times."""
        if self.on is None or self.off is None:
            return True
        if runs_at(self.on, self.off, hour):
            return True
        return any(runs_at(*ends_of(span), hour) for span in self.also_on)

    def lit_through(self, hours: tuple[float, ...]) -> tuple[bool, ...]:
        """Whether its timer has it on at each of some hours of the day."""
        return open_through(self.windows, hours) if self.windows else super().lit_through(hours)

    def problems(self, at: str, around: Surroundings) -> Iterator[Problem]:
        """A timer has both its times, or none; further times come after the first."""
        yield from super().problems(at, around)
        if (self.on is None) != (self.off is None):
            yield Problem(f"{at}/off", "a timer needs both its times, on and off")
        if self.also_on and self.on is None:
            yield Problem(f"{at}/also_on", "say first when it goes on and off the first time")


class ByTheClock(Timed):
    """An item that must have a timer: water that runs all day soaks the substrate."""

    def problems(self, at: str, around: Surroundings) -> Iterator[Problem]:
        """It has its times."""
        yield from super().problems(at, around)
        if self.on is None and self.off is None:
            yield Problem(f"{at}/on", f"a {self.name} needs the times between which it runs")


class Hung(Timed):
    """A lamp, tube or heater that hangs above the substrate, inside or above the mesh of the lid."""

    fields: ClassVar[tuple[ItemField, ...]] = (
        *PLACE,
        ItemField("above_lid", "Above the mesh", is_flag=True, required=False),
    )
    is_hung = True
    stem = "lamp"

    above_lid: bool = False

    @property
    def hangs_above_lid(self) -> bool:
        """Whether it lies on the lid's mesh or hangs above it."""
        return self.above_lid

    def problems(self, at: str, around: Surroundings) -> Iterator[Problem]:
        """Above the lid only over mesh; never in the substrate."""
        yield from super().problems(at, around)
        z = self.at_m[2]
        if self.above_lid and not around.has_mesh:
            reason = "above a solid lid a lamp does nothing inside: the lid needs mesh there"
            yield Problem(f"{at}/above_lid", reason)
        if self.above_lid and z < around.height_m:
            where = f"hangs at {z:g} m in an enclosure {around.height_m:g} m high"
            yield Problem(f"{at}/at_m/2", f"it is said to be above the lid but {where}")
        if z <= around.substrate_m + LAMP_CLEAR_M:
            yield Problem(f"{at}/at_m/2", "a lamp cannot hang in the substrate")


class Long(Hung):
    """Something straight along the enclosure: a tube, a bar of light, a tube heater."""

    fields: ClassVar[tuple[ItemField, ...]] = (
        *Hung.fields,
        ItemField("length_m", "Nominal length", Kind.LENGTH),
    )

    length_m: Annotated[float, Field(ge=0.1, le=2)]

    @property
    def long_m(self) -> float:
        """Nominal length [m]."""
        return self.length_m

    def problems(self, at: str, around: Surroundings) -> Iterator[Problem]:
        """Both its ends lie inside."""
        yield from super().problems(at, around)
        half = self.length_m / 2
        x = self.at_m[0]
        if not (half - ROUNDING_M <= x <= around.length_m - half + ROUNDING_M):
            reason = f"a tube {self.length_m:g} m long does not fit there in {around.length_m:g} m"
            yield Problem(f"{at}/{FROM_LEFT.path}", reason)


class Thermostatted(Timed):
    """A heater that a thermostat may hold by giving it a share of its power."""

    group = "Heat"
    is_heater = True

    power_w: Watts
    thermostat: ThermostatSpec | None = None

    @property
    def watts(self) -> float:
        """Electric power [W]."""
        return self.power_w

    @property
    def held(self) -> ThermostatSpec | None:
        """The thermostat that holds it."""
        return self.thermostat

    def problems(self, at: str, around: Surroundings) -> Iterator[Problem]:
        """A placed probe is one that hangs or lies in this enclosure."""
        yield from super().problems(at, around)
        if self.thermostat is not None:
            yield from self.thermostat.problems(f"{at}/thermostat", around.probes)


def sold_watts(kind: str) -> float:
    """Power of a new heater or lamp: from the lower third of what is sold [W]."""
    sold = HEATERS[kind].watts
    return sold[len(sold) // 3]
