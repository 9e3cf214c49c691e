"""The request: one or more animals, one enclosure, one room, at a moment. Everything a plan is computed from.

Format: docs/formats/plan.md. Units are in the names: m, °C, g, W, %.
"""

import datetime as dt
import functools
import zoneinfo
from typing import Annotated, Any, Literal

import jsonpatch
from pydantic import AfterValidator, AwareDatetime, Field, ValidationError, WithJsonSchema, field_validator

from husbandry import bounds
from husbandry.box.equipment import HEATERS, UV_LAMPS
from husbandry.box.hides import Entrance
from husbandry.box.plants import PLANTS
from husbandry.box.substrate_layers import LOOSE
from husbandry.diet.adjustments import Lead, lead_of
from husbandry.diet.condition import Condition
from husbandry.diet.spells import Spell
from husbandry.documents import read_json
from husbandry.errors import DocumentError, Problem, UnknownNameError
from husbandry.growth.body import Body, body_of
from husbandry.quantity import PLAUSIBLE
from husbandry.readings import INSTRUMENTS, value_problem
from husbandry.species.library import library
from husbandry.species.needs import NeedKey
from husbandry.species.parts import LengthKind
from husbandry.species.profile import Profile, problems_of
from husbandry.species.schools import problem_with
from husbandry.species.variant import Edit, profile_with
from husbandry.worked import Document

FORMAT: Literal["ridgeback-request/1"] = "ridgeback-request/1"
ROOM, HELD = PLAUSIBLE["room"], PLAUSIBLE["thermostat"]
LAST_DAY = dt.date(bounds.LAST_YEAR - 1, 12, 31)
HeaterKind = Literal[
    "halogen_flood", "halogen_spot", "incandescent_reflector", "infrared_projector", "ceramic_emitter", "infrared_panel"
]
LaidKind = Literal["heat_mat", "tube_heater", "led_bar"]
"""What neither hangs as a lamp nor gives ultraviolet: under the substrate, along the floor, or a bar of light under the lid."""
TubeKind = Literal["t5_6", "t5_12", "t5_14", "t8_6", "t8_12"]
CompactKind = Literal["compact_5", "compact_10"]
"""Coil lamps: ultraviolet from nearly a point."""
BodyKind = Literal["slab", "hide", "dish", "pool", "branch", "plant"]
"""A pool is built in and bathed in; a dish is lifted out."""
PROBE = "probe"
"""Of a thermostat: where it hangs or lies."""
HEATER_KINDS: tuple[str, ...] = tuple(HeaterKind.__args__)  # type: ignore[attr-defined]  # a Literal's own values
LONG_KINDS = frozenset({"tube_heater", "led_bar"})
LAID_KINDS: tuple[str, ...] = tuple(LaidKind.__args__)  # type: ignore[attr-defined]
TUBE_KINDS: tuple[str, ...] = tuple(TubeKind.__args__)  # type: ignore[attr-defined]
COMPACT_KINDS: tuple[str, ...] = tuple(CompactKind.__args__)  # type: ignore[attr-defined]
BODY_KINDS: tuple[str, ...] = tuple(BodyKind.__args__)  # type: ignore[attr-defined]
Metres = Annotated[float, Field(ge=0, le=10)]
Moment = Annotated[AwareDatetime, AfterValidator(bounds.recorded_moment)]
Revision = Annotated[int, Field(ge=bounds.REVISION[0], le=bounds.REVISION[1])]
MassG = Annotated[float, Field(ge=bounds.MASS_G[0], le=bounds.MASS_G[1])]
LengthMm = Annotated[float, Field(ge=bounds.LENGTH_MM[0], le=bounds.LENGTH_MM[1])]
ItemSide = Annotated[
    float,
    AfterValidator(bounds.item_side),
    WithJsonSchema({"type": "number", "minimum": bounds.ITEM_SIDE_M[0], "maximum": bounds.ITEM_SIDE_M[1]}),
]
RoomC = Annotated[float, Field(ge=ROOM.possible[0], le=ROOM.possible[1])]
Percent = Annotated[float, Field(ge=0, le=100)]


class Place(Document):
    """Where on Earth the room is."""

    lat: Annotated[float, Field(ge=-90, le=90)] = 0.0
    lon: Annotated[float, Field(ge=-180, le=180)] = 0.0
    tz: str = "UTC"

    @field_validator("tz")
    @classmethod
    def _known(cls, value: str) -> str:
        try:
            zoneinfo.ZoneInfo(value)
        except (zoneinfo.ZoneInfoNotFoundError, ValueError, OSError):
            raise ValueError(f"“{value}” is not a time zone such as Europe/Lisbon") from None
        return value


class Room(Document):
    """The air around the enclosure."""

    day_c: RoomC
    night_c: RoomC
    summer_max_c: RoomC
    rh_pct: Percent
    winter_day_c: RoomC | None = None
    """By day in the middle of winter; None: as always, for it is heated."""
    winter_rh_pct: Percent | None = None
    summer_rh_pct: Percent | None = None


class Animal(Document):
    """One animal."""

    name: Annotated[str, Field(max_length=80)] = ""
    species: str
    born_on: dt.date | None = None
    sex: Literal["female", "male", "unknown"] = "unknown"
    mass_g: MassG | None = None
    length_mm: dict[LengthKind, LengthMm] = {}
    schools: dict[str, str] = {}
    fed_on: dt.date | None = None
    """A day on which it was fed: intervals count from there."""
    condition: Condition | None = None
    """As its body was scored last."""
    trend_pct: Annotated[float, Field(ge=-100, le=100_000)] | None = None
    """Change of mass over the last 90 days [%]."""
    spells: tuple[Spell, ...] = ()
    """Those that go on, and those of which food still takes note."""
    arrived_on: dt.date | None = None
    """Where it moved in lately."""
    came_on: dt.date | None = None
    """When it came to its keeper; None: long ago, bred here, or nobody said."""

    def body(self, profile: Profile, stage: str) -> Body:
        """Its mass and length: as measured, else from each other, else typical of its stage."""
        return body_of(profile, stage, mass_g=self.mass_g, length_mm=self.length_mm, sex=self.sex)

    @property
    def recorded_days(self) -> dict[str, dt.date]:
        """Every day that was noted of it but its birth, by its JSON pointer in the animal."""
        days = {
            "fed_on": self.fed_on,
            "arrived_on": self.arrived_on,
            "came_on": self.came_on,
            "condition/on": self.condition.on if self.condition else None,
            **{f"spells/{n}/since": spell.since for n, spell in enumerate(self.spells)},
        }
        return {name: day for name, day in days.items() if day is not None}

    @field_validator("species")
    @classmethod
    def _profiled(cls, value: str) -> str:
        if value not in library():
            raise ValueError(f"there is no profile of “{value}”; there are {', '.join(library())}")
        return value

    @field_validator("schools")
    @classmethod
    def _schooled(cls, value: dict[str, str]) -> dict[str, str]:
        wrong = problem_with(value, "animal")
        if wrong:
            raise ValueError(wrong)
        return value


class Sides(Document):
    """Inside measures of the enclosure [m]."""

    length: Annotated[float, Field(ge=0.1, le=10)]
    depth: Annotated[float, Field(ge=0.1, le=10)]
    height: Annotated[float, Field(ge=0.1, le=5)]


PanelMaterial = Literal["glass", "acrylic", "polycarbonate_twin", "pvc_board", "wood"]


class PanelMaterials(Document):
    """What each side is made of."""

    front: PanelMaterial = "glass"
    back: PanelMaterial = "wood"
    left: PanelMaterial = "wood"
    right: PanelMaterial = "wood"
    bottom: PanelMaterial = "wood"


class Lid(Document):
    """The top: solid, or mesh over a share of it."""

    material: PanelMaterial = "wood"
    mesh: Literal["insect", "fly_screen", "medium", "quarter_inch", "half_inch"] | None = None
    mesh_share: Annotated[float, Field(ge=0, le=1)] = 0.0
    mesh_passes: Annotated[float, Field(gt=0.05, le=1)] | None = None
    """Share of what shines straight down that was measured to pass it; None: by its wire and pitch [1]."""


class GroundLayer(Document):
    """One layer of the substrate, settled, from below."""

    depth_m: Annotated[float, Field(gt=0, le=1.5)]
    parts: Annotated[dict[str, Annotated[float, Field(ge=0, le=100)]], Field(min_length=1, max_length=6)]
    """Parts of each material, by its name in `husbandry.box.substrate_layers.LOOSE`."""

    @field_validator("parts")
    @classmethod
    def _known(cls, value: dict[str, float]) -> dict[str, float]:
        unknown = [name for name in value if name not in LOOSE]
        if unknown:
            raise ValueError(f"there is no substrate “{unknown[0]}”; there are {', '.join(LOOSE)}")
        if not any(value.values()):
            raise ValueError("a mix needs at least one part of something")
        return {name: part for name, part in value.items() if part}


class Slope(Document):
    """Substrate that rises evenly from one side of the enclosure to the other."""

    deep_at: Literal["left", "right", "back"]
    rise_m: Annotated[float, Field(gt=0, le=0.6)]
    """By which the deep side lies above the mean, and the other below it [m]."""


class Ground(Document):
    """What the animal walks on."""

    material: Literal["soil", "sand", "paper", "tile"] = "soil"
    depth_m: Annotated[float, Field(ge=0, le=1.5)] = 0.05
    layers: Annotated[tuple[GroundLayer, ...], Field(max_length=5)] = ()
    """Of which it is built, when somebody said so; together as deep as it is."""
    slope: Slope | None = None
    """`depth_m` is then the mean."""
    crew: bool = False
    """Springtails and isopods live in it and eat what is left."""

    @property
    def deepest_m(self) -> float:
        """At the deep end [m]."""
        return self.depth_m + (self.slope.rise_m if self.slope else 0.0)

    def depth_at(self, x_share: float, y_share: float) -> float:
        """Depth at a place, by its shares of the length from the left and of the depth from the front [m]."""
        if self.slope is None:
            return self.depth_m
        along = {"left": 1 - 2 * x_share, "right": 2 * x_share - 1, "back": 2 * y_share - 1}[self.slope.deep_at]
        return self.depth_m + self.slope.rise_m * along


ClockTime = Annotated[str, Field(pattern=r"^([01]\d|2[0-3]):[0-5]\d$")]


def hour_of(clock: str) -> float:
    """A time of the day such as 07:30 as its hour [h]."""
    return int(clock[:2]) + int(clock[3:]) / 60


def runs_at(on: str, off: str, hour: float) -> bool:
    """Whether what goes on and off at those times is on at that hour of the day, over midnight too."""
    begin, end = hour_of(on), hour_of(off)
    return begin <= hour < end if begin <= end else hour >= begin or hour < end


class Misting(Document):
    """Water sprayed at a time of the day, by hand or by a pump."""

    at: ClockTime
    ml: Annotated[float, Field(gt=0, le=5000)]


class Fogger(Document):
    """Cold fog from water."""

    ml_per_h: Annotated[float, Field(gt=0, le=2000)]
    on: ClockTime
    off: ClockTime


class Logged(Document):
    """What a hygrometer's log told of an enclosure: factors on what the model believes, with the standard deviations of their logarithms."""

    air: Annotated[float, Field(gt=0.02, lt=50)]
    """On its air exchange."""
    air_ln_sd: Annotated[float, Field(ge=0, le=2)]
    ground: Annotated[float, Field(gt=0.01, lt=50)]
    """On what its substrate gives off."""
    ground_ln_sd: Annotated[float, Field(ge=0, le=2)]
    buffer: Annotated[float, Field(ge=0.2, le=50)]
    """Vapour that its walls take up with its air, over what the air holds."""
    hours: Annotated[float, Field(ge=48, le=3000)]
    on: dt.date


class Wetting(Document):
    """How an enclosure is kept damp. Where nothing is said of it, nothing is predicted of its humidity but what the room's air brings."""

    ground: Literal["dry", "dry top", "damp", "wet"] = "dry top"
    """As the keeper keeps it."""
    mistings: Annotated[tuple[Misting, ...], Field(max_length=12)] = ()
    fogger: Fogger | None = None
    nozzles_ml_s: Annotated[float, Field(gt=0, le=100)] | None = None
    """Of a pump with its nozzles together; None when it is misted by hand."""
    tank_l: Annotated[float, Field(gt=0, le=500)] | None = None
    logged: Logged | None = None


class VentAreas(Document):
    """Openings in the sides."""

    low_cm2: Annotated[float, Field(ge=0, le=10_000)] = 60.0
    high_cm2: Annotated[float, Field(ge=0, le=10_000)] = 60.0
    rise_m: Annotated[float, Field(ge=0, le=3)] = 0.25


class BoxSpec(Document):
    """The enclosure."""

    inside_m: Sides
    panels: PanelMaterials = PanelMaterials()
    lid: Lid = Lid()
    ground: Ground = Ground()
    vents: VentAreas = VentAreas()
    wetting: Wetting | None = None
    schools: dict[str, str] = {}
    """Answers to the questions that are asked of the enclosure."""

    @field_validator("schools")
    @classmethod
    def _schooled(cls, value: dict[str, str]) -> dict[str, str]:
        wrong = problem_with(value, "box")
        if wrong:
            raise ValueError(wrong)
        return value


class ThermostatSpec(Document):
    """Holds a heater's probe at a set point."""

    set_c: Annotated[float, Field(ge=HELD.possible[0], le=HELD.possible[1])]
    probe: Literal["surface", "warm_air", "cool_air", "placed"] = "surface"
    """Placed: where the thing `probe_id` hangs, or on what it lies."""
    probe_id: Annotated[str, Field(max_length=40)] | None = None
    control: Literal["dimming", "on_off"] = "dimming"
    """Dimming stands for pulses too, whose mean is a share of the power."""


class Thing(Document):
    """Something in, on or above the enclosure. A lamp's place is its face, a tube's its axis, a body's and a mat's the middle of its underside."""

    id: Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")]
    kind: HeaterKind | LaidKind | TubeKind | CompactKind | Literal["uv_flood", "probe"] | BodyKind
    at_m: tuple[Metres, Metres, Metres]
    size_m: tuple[ItemSide, ItemSide, ItemSide] | None = None
    material: Literal["stone", "slate", "softwood"] = "stone"
    moist: bool = False
    """Of a hide: it holds wet moss."""
    entrance: Entrance | None = None
    """Of a hide: what of it stands open; None: nobody said."""
    sheer: bool = False
    """Of a hide: its sides let light through."""
    plant: str | None = None
    """Of a plant: its species, by its name in `husbandry.box.plants.PLANTS`."""
    filter_l_h: Annotated[float, Field(gt=0, le=20_000)] | None = None
    """Of a pool: what its filter turns over."""
    heater_w: Annotated[float, Field(gt=0, le=2000)] | None = None
    """Of a pool: a heater in its water."""
    held_c: Annotated[float, Field(ge=5, le=40)] | None = None
    """At which that heater's thermostat holds the water."""
    above_lid: bool = False
    power_w: Annotated[float, Field(gt=0, le=2000)] | None = None
    beam_deg: Annotated[float, Field(ge=5, le=170)] | None = None
    length_m: Annotated[float, Field(ge=0.1, le=2)] | None = None
    reflector: bool = False
    hours_run: Annotated[float, Field(ge=0, le=100_000)] | None = None
    on: ClockTime | None = None
    off: ClockTime | None = None
    thermostat: ThermostatSpec | None = None

    @field_validator("plant")
    @classmethod
    def _grown(cls, value: str | None) -> str | None:
        if value is not None and value not in PLANTS:
            raise ValueError(f"there is no plant “{value}”; there are {', '.join(PLANTS)}")
        return value

    @property
    def holds_water(self) -> bool:
        """An open surface of water."""
        return self.kind in {"dish", "pool"}

    @property
    def is_heater(self) -> bool:
        """It is there to warm."""
        return self.kind in HEATERS and self.kind not in {"led_bar", *COMPACT_KINDS}

    @property
    def warms(self) -> bool:
        """It warms, whether it is there for that or not."""
        return self.kind in HEATERS or self.is_tube

    @property
    def is_uv(self) -> bool:
        """It gives ultraviolet."""
        return self.kind in UV_LAMPS

    @property
    def is_tube(self) -> bool:
        """A straight tube."""
        return self.kind in TUBE_KINDS

    @property
    def is_body(self) -> bool:
        """It lies or stands on the ground."""
        return self.kind in BODY_KINDS

    @property
    def is_probe(self) -> bool:
        """It feels a temperature for a thermostat, and does nothing else."""
        return self.kind == PROBE

    @property
    def hours_a_day(self) -> float:
        """For which its timer has it on [h]."""
        if self.on is None or self.off is None:
            return 24.0
        on, off = hour_of(self.on), hour_of(self.off)
        return off - on if on <= off else off - on + 24

    def lit_at(self, hour: float) -> bool:
        """Whether its timer has it on at that hour of the day; without times it is always on."""
        if self.on is None or self.off is None:
            return True
        return runs_at(self.on, self.off, hour)


class ReadingSpec(Document):
    """What an instrument showed."""

    need: NeedKey
    value: float
    """[the need's unit: °C, %, UVI]"""
    offset: Annotated[float, Field(ge=-bounds.OFFSET, le=bounds.OFFSET)] = 0.0
    at: Moment
    instrument: str = ""
    """A key of `husbandry.readings.INSTRUMENTS`; empty where nobody said."""
    lamp_on_h: Annotated[float, Field(ge=0, le=10_000)] | None = None
    revision: Revision = 1
    room_c: RoomC | None = None
    """The room when it was taken; None: as the room is said to be."""
    at_m: tuple[Metres, Metres, Metres] | None = None
    """Where it was taken, when that is not the need's own place: it then tells the model and judges nothing. An air need stands for any air."""
    moment: Literal["", "before misting", "after misting"] = ""
    """Of a humidity that was read for its daily wave: it proves the wave, and judges no need."""

    @field_validator("instrument")
    @classmethod
    def _listed(cls, value: str) -> str:
        if value and value not in INSTRUMENTS:
            listed = ", ".join(INSTRUMENTS)
            raise ValueError(f"there is no instrument “{value[:40]}”; there are {listed}")
        return value

    @property
    def judges(self) -> bool:
        """It was taken at the need's own place and time."""
        return self.at_m is None and not self.moment


class Earlier(Document):
    """A state of the enclosure that was measured, before the present one: what was learned there still holds of lamps, panels and air."""

    revision: Revision
    box: BoxSpec
    things: Annotated[tuple[Thing, ...], Field(max_length=60)] = ()


class Request(Document):
    """All that a plan is made from."""

    format: Literal["ridgeback-request/1"] = FORMAT
    now: Moment
    place: Place = Place()
    room: Room
    animals: Annotated[tuple[Animal, ...], Field(min_length=1, max_length=20)]
    box: BoxSpec
    things: Annotated[tuple[Thing, ...], Field(max_length=60)] = ()
    readings: Annotated[tuple[ReadingSpec, ...], Field(max_length=500)] = ()
    revision: Revision = 1
    earlier: Annotated[tuple[Earlier, ...], Field(max_length=12)] = ()
    """States of the same enclosure that `readings` of lower revisions were taken in."""
    edits: dict[str, tuple[Edit, ...]] = {}
    """The keeper's own values of a profile, by species."""

    @functools.cached_property
    def profiles(self) -> dict[str, Profile]:
        """The profile of each species in the enclosure, with the keeper's own values."""
        return {animal.species: profile_with(animal.species, self.edits.get(animal.species, ())) for animal in self.animals}

    def schools_of(self, n: int) -> dict[str, str]:
        """The approaches that an animal is kept by: its own and those of its enclosure."""
        return {**self.animals[n].schools, **self.box.schools}

    def lead_of(self, n: int, stage: str) -> Lead:
        """What leads the meals of an animal away from the usual of its stage."""
        one = self.animals[n]
        return lead_of(
            self.profiles[one.species], stage, today=self.today, condition=one.condition, trend=one.trend_pct, spells=one.spells, arrived_on=one.arrived_on,
            lat_deg=self.place.lat,
        )  # fmt: skip

    @property
    def probes(self) -> tuple[str, ...]:
        """Ids of the thermostats' probes that were placed."""
        return tuple(thing.id for thing in self.things if thing.is_probe)

    def thing(self, thing_id: str) -> Thing:
        """The thing of that id."""
        return next(t for t in self.things if t.id == thing_id)

    def index(self, thing_id: str) -> int:
        """Its place in the list, for JSON pointers."""
        return next(n for n, t in enumerate(self.things) if t.id == thing_id)

    @property
    def today(self) -> dt.date:
        """The date in the room's own time zone."""
        return self.now.astimezone(zoneinfo.ZoneInfo(self.place.tz)).date()


def _room_conflicts(room: Room) -> list[Problem]:
    """Seasons in the wrong order."""
    found = []
    if room.summer_max_c < room.day_c:
        reason = f"the hottest day ({room.summer_max_c:g} °C) is cooler than a usual day"
        found.append(Problem("/room/summer_max_c", f"{reason} ({room.day_c:g} °C)"))
    if room.winter_day_c is not None and room.winter_day_c > room.day_c:
        reason = f"a winter's day ({room.winter_day_c:g} °C) is warmer than a usual day"
        found.append(Problem("/room/winter_day_c", f"{reason} ({room.day_c:g} °C)"))
    return found


def _record_conflicts(request: Request) -> list[Problem]:
    """Days and readings that cannot have been."""
    found = []
    for n, animal in enumerate(request.animals):
        at = f"/animals/{n}"
        if animal.born_on and (reason := bounds.birth_problem(animal.born_on, request.today)):
            found.append(Problem(f"{at}/born_on", reason))
        for name, day in animal.recorded_days.items():
            if reason := bounds.day_problem(day, LAST_DAY):
                found.append(Problem(f"{at}/{name}", reason))
        if animal.born_on and animal.came_on and animal.came_on < animal.born_on:
            reason = f"it came on {animal.came_on}, before it was born on {animal.born_on}"
            found.append(Problem(f"{at}/came_on", reason))
    for n, reading in enumerate(request.readings):
        if reason := value_problem(reading.need, reading.value):
            found.append(Problem(f"/readings/{n}/value", reason))
        if reading.at > request.now + bounds.SLACK:
            found.append(Problem(f"/readings/{n}/at", "it was taken after the request's own moment"))
    return found


MOST_OF_HEIGHT = 0.7
"""Of an enclosure that its substrate may fill (design choice) [1]."""


def conflicts(request: Request) -> list[Problem]:
    """What each part allows but all together do not: things outside the enclosure, a tube longer than it, two of one name."""
    found = [*_room_conflicts(request.room), *_record_conflicts(request)]
    for species, edits in request.edits.items():
        try:
            profile_with(species, edits)
        except DocumentError as why:
            found += [Problem(f"/edits/{species}", f"{problem.pointer}: {problem.reason}") for problem in why.problems]
        except UnknownNameError as why:
            found.append(Problem(f"/edits/{species}", str(why)))
    box, lid = request.box.inside_m, request.box.lid
    ground = request.box.ground.depth_m
    if ground > MOST_OF_HEIGHT * box.height:
        found.append(Problem("/box/ground/depth_m", f"{ground:g} m of substrate leaves too little of {box.height:g} m of height"))
    layers = request.box.ground.layers
    if layers and abs(sum(layer.depth_m for layer in layers) - ground) > 0.005:
        found.append(
            Problem(
                "/box/ground/layers",
                f"its layers are {sum(layer.depth_m for layer in layers):g} m together, the substrate {ground:g} m",
            )
        )
    slope = request.box.ground.slope
    if slope is not None and slope.rise_m > ground:
        found.append(
            Problem(
                "/box/ground/slope/rise_m",
                f"it rises more than its mean of {ground:g} m: the other side would lie below the floor",
            )
        )
    elif slope is not None and ground + slope.rise_m > MOST_OF_HEIGHT * box.height:
        found.append(Problem("/box/ground/slope/rise_m", f"its deep side leaves too little of {box.height:g} m of height"))
    if (lid.mesh is None) != (lid.mesh_share == 0):
        found.append(Problem("/box/lid/mesh_share", "a mesh has a share of the lid, and a share needs a mesh"))
    if lid.mesh is None and lid.mesh_passes is not None:
        found.append(Problem("/box/lid/mesh_passes", "there is no mesh of which it could be measured"))
    found += _wetting_conflicts(request)
    found += [
        Problem(f"/readings/{n}/moment", "only the humidity of the day is read before and after a misting")
        for n, reading in enumerate(request.readings)
        if reading.moment and reading.need is not NeedKey.HUMIDITY_DAY
    ]
    seen: set[str] = set()
    for n, thing in enumerate(request.things):
        at = f"/things/{n}"
        x, y, z = thing.at_m
        if thing.id in seen:
            found.append(Problem(f"{at}/id", f"the id “{thing.id}” is used twice"))
        seen.add(thing.id)
        if not (0 <= x <= box.length and 0 <= y <= box.depth):
            found.append(
                Problem(f"{at}/at_m", f"it stands outside the enclosure, which is {box.length:g} × {box.depth:g} m inside")
            )
        if thing.above_lid:
            if lid.mesh is None:
                found.append(Problem(f"{at}/above_lid", "above a solid lid a lamp does nothing inside: the lid needs mesh there"))
            if z < box.height:
                found.append(
                    Problem(
                        f"{at}/at_m/2",
                        f"it is said to be above the lid but hangs at {z:g} m in an enclosure {box.height:g} m high",
                    )
                )
        elif z > box.height:
            found.append(Problem(f"{at}/at_m/2", f"at {z:g} m it is above the lid of an enclosure {box.height:g} m high"))
        if thing.kind in HEATERS and thing.power_w is None:
            found.append(Problem(f"{at}/power_w", "a heater needs its power"))
        if thing.is_tube or (thing.kind in LONG_KINDS and thing.length_m is not None):
            if thing.length_m is None:
                found.append(Problem(f"{at}/length_m", "a tube needs its nominal length"))
            elif not (thing.length_m / 2 - 1e-6 <= x <= box.length - thing.length_m / 2 + 1e-6):
                found.append(Problem(f"{at}/at_m/0", f"a tube {thing.length_m:g} m long does not fit there in {box.length:g} m"))
        if thing.kind == "heat_mat":
            if thing.size_m is None:
                found.append(Problem(f"{at}/size_m", "a mat needs its length and depth"))
            elif thing.size_m[0] > box.length or thing.size_m[1] > box.depth:
                found.append(Problem(f"{at}/size_m", "it is larger than the floor"))
            if z > ground + 1e-6:
                found.append(Problem(f"{at}/at_m/2", "a mat lies under the substrate, not above it"))
        elif thing.kind in {"tube_heater", "led_bar"} and thing.length_m is None:
            found.append(Problem(f"{at}/length_m", "it needs its length"))
        if (thing.warms or thing.is_uv) and thing.kind != "heat_mat" and z <= ground + 0.02:
            found.append(Problem(f"{at}/at_m/2", "a lamp cannot hang in the substrate"))
        if thing.is_body:
            if thing.size_m is None:
                found.append(Problem(f"{at}/size_m", "it needs its length, depth and height"))
            else:
                found += _past_the_box(thing, at, box)
        if (thing.entrance is not None or thing.sheer) and thing.kind != "hide":
            found.append(Problem(f"{at}/entrance", "only a hide has an entrance"))
        if thing.plant is not None and thing.kind != "plant":
            found.append(Problem(f"{at}/plant", "only a plant is of a kind of plant"))
        if thing.filter_l_h is not None and thing.kind != "pool":
            found.append(Problem(f"{at}/filter_l_h", "only a pool has a filter"))
        if thing.heater_w is not None and thing.kind != "pool":
            found.append(Problem(f"{at}/heater_w", "only a pool has a heater in its water"))
        if thing.held_c is not None and thing.heater_w is None:
            found.append(Problem(f"{at}/heater_w", "what holds the water at a temperature is a heater: write its power"))
        elif thing.heater_w is not None and thing.held_c is None:
            found.append(Problem(f"{at}/held_c", "a heater in water needs a thermostat: write at what it holds the water"))
        if (thing.on is None) != (thing.off is None):
            found.append(Problem(f"{at}/off", "a timer needs both its times, on and off"))
        if thing.thermostat is not None and (not thing.is_heater or not HEATERS[thing.kind].dimmable):
            found.append(Problem(f"{at}/thermostat", "this lamp cannot be dimmed by a thermostat"))
        held = thing.thermostat
        if held is not None and (held.probe == "placed") != (held.probe_id is not None):
            found.append(Problem(f"{at}/thermostat/probe_id", "a placed probe is named by its id, and only a placed one is"))
        elif held is not None and held.probe_id is not None and held.probe_id not in request.probes:
            found.append(Problem(f"{at}/thermostat/probe_id", f"there is no probe “{held.probe_id}” in this enclosure"))
        if thing.is_probe and (thing.above_lid or z < ground - 1e-6):
            found.append(Problem(f"{at}/at_m/2", "a probe hangs in the enclosure or lies on its substrate"))
    bodies = [(n, t) for n, t in enumerate(request.things) if t.kind == "slab" and t.size_m]
    for lamp_n, lamp in enumerate(request.things):
        if not (lamp.is_heater or lamp.is_uv) or lamp.kind == "heat_mat":
            continue
        for _, slab in bodies:
            assert slab.size_m is not None
            inside = (
                abs(lamp.at_m[0] - slab.at_m[0]) < slab.size_m[0] / 2 and abs(lamp.at_m[1] - slab.at_m[1]) < slab.size_m[1] / 2
            )
            if inside and lamp.at_m[2] <= slab.at_m[2] + slab.size_m[2] + 0.02:
                found.append(Problem(f"/things/{lamp_n}/at_m/2", "the lamp is in or under the stone"))
    return found


def _past_the_box(thing: Thing, at: str, box: Sides) -> list[Problem]:
    """A body that no enclosure of this size holds, side by side."""
    assert thing.size_m is not None
    length, depth, height = thing.size_m
    sides = (
        (length > box.length, "longer than the floor"), (depth > box.depth, "deeper than the floor"),
        (thing.at_m[2] + height > box.height, "higher than the enclosure, where it stands"),
    )  # fmt: skip
    return [
        Problem(f"{at}/size_m/{n}", f"it is {words}: larger than the enclosure") for n, (past, words) in enumerate(sides) if past
    ]


LEAST_APART_MIN = 15
"""Two mistings closer together are one (design choice) [min]."""
MOST_WATER_SHARE = 0.03
"""Of the volume of an enclosure that a day of mistings may bring: more stands on the floor (design choice) [1]."""


def _wetting_conflicts(request: Request) -> list[Problem]:
    """A mist every minute, and more water than an enclosure takes."""
    wetting, inside, found = request.box.wetting, request.box.inside_m, []
    if wetting is None:
        return []
    minutes = [round(60 * hour_of(m.at)) for m in wetting.mistings]
    for n, minute in enumerate(minutes):
        if any(min(abs(minute - other), 1440 - abs(minute - other)) < LEAST_APART_MIN for other in minutes[:n]):
            reason = f"two mistings less than {LEAST_APART_MIN} minutes apart are one: nothing has dried in between"
            found.append(Problem(f"/box/wetting/mistings/{n}/at", reason))
    litres = 1000 * inside.length * inside.depth * inside.height
    day_ml = sum(m.ml for m in wetting.mistings)
    if day_ml > 1000 * MOST_WATER_SHARE * litres:
        reason = f"{day_ml:g} ml a day stand on the floor of an enclosure of {litres:.0f} l"
        found.append(Problem(f"/box/wetting/mistings/{len(minutes) - 1}/ml", reason))
    return found


def from_data(data: Any) -> Request:
    """Read a request from parsed JSON.

    Raises
    ------
    DocumentError
        With every problem found, by JSON pointer.
    """
    try:
        request = Request.model_validate(data)
    except ValidationError as why:
        raise DocumentError("request", problems_of(why)) from None
    problems = conflicts(request)
    if problems:
        raise DocumentError("request", problems)
    return request


def from_text(text: str) -> Request:
    """Read a request from JSON text. Raises as `from_data`."""
    return from_data(read_json(text, "request"))


def to_data(request: Request) -> dict[str, Any]:
    """The request as JSON values."""
    return request.model_dump(mode="json", exclude_none=True)


def apply_patch(request: Request, patch: tuple[dict[str, Any], ...]) -> Request:
    """The request after a JSON Patch (RFC 6902), such as a change carries. Raises `DocumentError` when the result is not sound."""
    return from_data(jsonpatch.apply_patch(request.model_dump(mode="json"), list(patch), in_place=True))
