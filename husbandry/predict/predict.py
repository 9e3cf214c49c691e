"""What the enclosure will do by day, by night and when a thermostat sticks: from a request to
temperatures and UV index.
"""

import functools
import math
from dataclasses import dataclass, replace

import numpy as np

from husbandry.climate.heat import (
    ModelReading,
    SteadyState,
    UncertainTemperature,
    end_points,
    resolve,
    solve,
)
from husbandry.climate.heat_model import (
    Extent,
    HeatModel,
    HeatSource,
    Panels,
    Thermostat,
    Vents,
    branch,
    slab_on_ground,
    substrate_patches,
)
from husbandry.climate.mesh import mesh_transmission
from husbandry.climate.shadow import FOLIAGE_PASSES, ShadowBody
from husbandry.climate.slab import HeatedSlab
from husbandry.climate.strengths import SpotReading
from husbandry.climate.uv import UvReading, UvSource, total_uvi, uv_age_share, uvi_with_spread
from husbandry.climate.vapour import rh_elsewhere
from husbandry.documents.enclosure import EnclosureSpec
from husbandry.documents.request import Request
from husbandry.enclosure.catalogue import OPEN_SHARE
from husbandry.enclosure.equipment import HEATERS, MATERIALS, MESHES, UV_LAMPS
from husbandry.enclosure.geometry import Interior
from husbandry.enclosure.trade_size import Sides, outside
from husbandry.errors import ImpossibleStateError
from husbandry.items.furnishings import Branch, Hide, PlantedItem, Slab
from husbandry.items.heaters import HeatMat, LedBar, TubeHeater
from husbandry.items.union import Item
from husbandry.predict.exposure import DAY_HOUR, NIGHT_HOUR, UvDay, uv_day, uv_lit
from husbandry.predict.moisture import DayMoisture, ExpectedHumidity, expected
from husbandry.predict.pool_water import PoolWater, waters_of
from husbandry.predict.strengths import UNLEARNED, Learned
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile

CLIMBS_DOWN = 0.3
"""Height over the substrate to which a climber goes down to cool itself, of the air's height (common
practice, no source: its low branches and plants are there) [1].
"""
REFLECTOR_GAIN = 1.8
"""What a reflector makes of a bare tube, in the middle (source: uv 2) [1]."""
TUBE_HEAT_KIND = "fluorescent_tube"


@dataclass(frozen=True)
class EnclosurePoint:
    """A place in the enclosure [m]."""

    x_m: float
    y_m: float
    z_m: float


@dataclass(frozen=True)
class AnimalPosition:
    """How the animal stands in its enclosure: on the ground, or for a climber on a perch."""

    back_m: float
    """Height of its back above what it stands on [m]."""
    perch: EnclosurePoint | None = None
    """Where a climber lives: the top of its highest branch, or its usual height where there is
    none.
    """
    perch_share: float = 0.0
    """Of the height over the substrate at which a climber lives where it has no branch; 0 on the
    ground [1].
    """


@dataclass(frozen=True)
class Prediction:
    """What the physics says of a request."""

    request: Request
    position: AnimalPosition
    enclosure: Interior
    day: SteadyState
    night: SteadyState | None
    """None when nothing heats at night: then the enclosure is at the room's temperature."""
    uv: tuple[UvSource, ...]
    basking: EnclosurePoint
    """The animal's back at the hottest spot, or below the lamps' middle when nothing warms."""
    warm_left: bool
    learned: Learned = UNLEARNED

    @property
    def back_m(self) -> float:
        """Height of the animal's back above what it stands on [m]."""
        return self.position.back_m

    @property
    def living_m(self) -> float:
        """Height of the back above the floor where the animal spends its day: on level substrate or
        on its perch [m].
        """
        perch = self.position.perch
        return (perch.z_m if perch else self.enclosure.substrate_depth_m) + self.position.back_m

    @property
    def warm_point(self) -> tuple[float, float]:
        """Where warm-end air is taken, (x, z) [m]."""
        left, right = _ends(self.day.heat_model, self.position)
        return left if self.warm_left else right

    @property
    def cool_point(self) -> tuple[float, float]:
        """Where cool-end air is taken, (x, z) [m]: at the other end; a climber cools itself by going
        down as well.
        """
        left, right = _ends(self.day.heat_model, self.position)
        x, z = right if self.warm_left else left
        if self.position.perch is None:
            return x, z
        low = self.enclosure.substrate_depth_m + CLIMBS_DOWN * self.enclosure.air_height_m
        return x, min(z, low)

    @functools.cached_property
    def basking_slab(self) -> int | None:
        """The surface on which it basks; None where nothing warms one."""
        return basking_slab(self.day, self.position)

    def uvi(self) -> UvReading:
        """At the basking animal's back."""
        return self._uvi

    @functools.cached_property
    def _uvi(self) -> UvReading:
        return self.uvi_at(self.basking, self.told_of(NeedKey.UVI_DAY))

    def uvi_at(self, point: EnclosurePoint, told: SpotReading | None = None) -> UvReading:
        """At any place; with what a reading told of that very spot."""
        lit = [self.request.item(source.item_id) for source in self.uv]
        covariance = self.learned.uv_covariance(lit, self.uv)
        return uvi_with_spread(
            self.uv, point.x_m, point.y_m, point.z_m, covariance, self.blockers, told
        )

    @functools.cached_property
    def blockers(self) -> tuple[ShadowBody, ...]:
        """What throws shadows."""
        return blockers_of(self.request)

    def centre(self, need: NeedKey) -> float | None:
        """The predicted value of a need, without its interval; None for what is not predicted."""
        read = self.reading_of(need)
        if read is not None:
            steady, reading = read
            return steady.value(reading)
        match need:
            case NeedKey.AIR_NIGHT:
                return self.night_air().temp_c
            case NeedKey.UVI_DAY:
                return self.uvi().uvi
            case NeedKey.WATER_DAY if self.pool_day is not None:
                return self.pool_day.day_c
            case NeedKey.HUMIDITY_DAY if self.damp is not None:
                return self.damp.cool_pct[self.damp.day_n]
            case NeedKey.HUMIDITY_NIGHT if self.damp is not None:
                return self.damp.cool_pct[self.damp.night_n]

        return None

    def reading_of(self, need: NeedKey) -> tuple[SteadyState, ModelReading] | None:
        """Where a temperature is read: by day or by night, as a linear function of the network; None for
        what is no temperature of it, such as a night without heat.
        """
        match need:
            case NeedKey.SURFACE_DAY:
                # where nothing shines the substrate has the air's temperature
                slab = self.basking_slab
                if slab is not None:
                    return self.day, self.day.surface(slab)
                return self.day, self.day.air(*self.warm_point)
            case NeedKey.WARM_AIR_DAY:
                return self.day, self.day.air(*self.warm_point)
            case NeedKey.COOL_AIR_DAY:
                return self.day, self.day.air(*self.cool_point)
            case NeedKey.AIR_NIGHT if self.night is not None:
                return self.night, self.night.air(*self.warm_point)
        return None

    def spread(self, need: NeedKey) -> UncertainTemperature | None:
        """A predicted temperature with its interval."""
        read = self.reading_of(need)
        if read is not None:
            steady, reading = read
            return steady.spread(reading, self.told_of(need))
        return self.night_air() if need is NeedKey.AIR_NIGHT else None

    def told_of(self, need: NeedKey) -> SpotReading | None:
        """What a reading tells of a need's own place, here or before what was changed since."""
        return self.learned.spot(need, self.request.enclosure, self.request.items)

    def felt_by(self, probe: Item) -> UncertainTemperature:
        """What a thermostat's probe feels by day."""
        return self.day.spread(self.day.felt_at(*probe.at_m))

    @functools.cached_property
    def damp(self) -> DayMoisture | None:
        """Its water through a day; None where nobody said how it is kept damp."""
        return self._waters[0]

    @functools.cached_property
    def expected_humidity(self) -> ExpectedHumidity | None:
        """At the cool end, at the ends of the day and of the night."""
        return expected(self.damp) if self.damp is not None else None

    @functools.cached_property
    def pool_day(self) -> PoolWater | None:
        """The water of its largest pool through a day; None without one."""
        return self._waters[1]

    @functools.cached_property
    def _waters(self) -> tuple[DayMoisture | None, PoolWater | None]:
        return waters_of(self)

    def cool_air_sd(self) -> float:
        """Of the air at the cool end by day [K]."""
        told = self.told_of(NeedKey.COOL_AIR_DAY)
        return self.day.spread(self.day.air(*self.cool_point), told).sd_k

    def middle_air(self) -> UncertainTemperature:
        """Air in the middle of the length at the animal's back."""
        return self.day.spread(self.day.air(self.enclosure.length_m / 2, self.warm_point[1]))

    def night_air(self) -> UncertainTemperature:
        """Air at the warm end at the end of the night: where the animal can be warmest."""
        if self.night is None:
            return UncertainTemperature(self.request.room.night_c, 0.5)
        told = self.told_of(NeedKey.AIR_NIGHT)
        return self.night.spread(self.night.air(*self.warm_point), told)

    def humidity_floor_pct(self) -> float:
        """Relative humidity that the room's vapour alone gives at the cool end by day [%]: nothing
        in the enclosure evaporates.
        """
        cool = self.centre(NeedKey.COOL_AIR_DAY)
        if cool is None:
            raise ImpossibleStateError("missing: cool")
        return rh_elsewhere(self.request.room.rh_pct, self.request.room.day_c, cool)


def enclosure_of(request: Request) -> Interior:
    """The inside of the requested enclosure."""
    inside = request.enclosure.inside_m
    return Interior(
        inside.length, inside.depth, inside.height, request.enclosure.substrate.depth_m
    )


def outside_of(enclosure: EnclosureSpec) -> Sides:
    """Length, depth and height of an enclosure as it is sold, walls counted in [m]."""
    inside = enclosure.inside_m
    lid = enclosure.lid
    return outside(
        (inside.length, inside.depth, inside.height),
        enclosure.panels.model_dump(),
        lid.material if lid.mesh is None or lid.mesh_share < OPEN_SHARE else None,
    )


def passes_mesh(request: Request) -> float:
    """Share of what shines straight down that passes the lid's mesh: as measured, else by its wire
    and pitch; 1 without a mesh.
    """
    lid = request.enclosure.lid
    if lid.mesh is None:
        return 1.0
    return (
        lid.mesh_passes
        if lid.mesh_passes is not None
        else mesh_transmission(MESHES[lid.mesh].wire_mm, MESHES[lid.mesh].pitch_mm)
    )


def wire_share_of(request: Request) -> float:
    """Wire over pitch of the lid's mesh; where its loss was measured, of the woven mesh that would
    lose as much [1].
    """
    lid = request.enclosure.lid
    if lid.mesh is None:
        return 0.0
    return (
        1 - math.sqrt(lid.mesh_passes)
        if lid.mesh_passes is not None
        else MESHES[lid.mesh].wire_share
    )


def heat_lamp(
    item: Item,
    request: Request,
    position: AnimalPosition,
    learned: Learned = UNLEARNED,
    hour: float | None = None,
) -> HeatSource:
    """An item as the heat model sees it, at an hour of the day; None: as by day.

    A tube warms too: its whole power becomes heat near it. Air probes hang where the animal lives.
    """
    kind = TUBE_HEAT_KIND if item.is_tube else item.kind
    power = item.watts if item.watts is not None else tube_watts(item)
    share = passes_mesh(request) if item.hangs_above_lid else 1.0

    return HeatSource(
        item_id=item.id,
        heater=HEATERS[kind],
        power_w=power,
        x_m=item.at_m[0],
        y_m=item.at_m[1],
        z_m=item.at_m[2],
        above_lid=item.hangs_above_lid,
        mesh_open=share,
        beam_deg=item.cone_deg,
        thermostat=_thermostat(item, request, position, hour),
        size_m=item.size_m[:2] if isinstance(item, HeatMat) else None,
        length_m=item.length_m or 0.0 if isinstance(item, LedBar | TubeHeater) else 0.0,
        strength=learned.beam(item),
    )


def _thermostat(
    item: Item, request: Request, position: AnimalPosition, hour: float | None
) -> Thermostat | None:
    held = item.held
    if held is None:
        return None
    place = request.item(held.probe_id).at_m if held.probe_id is not None else None

    return Thermostat(
        held.set_c if hour is None else held.set_at(hour),
        held.probe,
        position.perch.z_m + position.back_m if position.perch else None,
        place,
    )


def tube_watts(item: Item) -> float:
    """Power of a tube by its length: the nearest of its class [W]."""
    return UV_LAMPS[item.kind].nearest(item.long_m or 1.0)[0]


def uv_source(item: Item, request: Request, learned: Learned = UNLEARNED) -> UvSource:
    """An item as the ultraviolet model sees it."""
    lamp = UV_LAMPS[item.kind]
    hours = item.burned_h

    return UvSource(
        lamp=lamp,
        x_m=item.at_m[0],
        y_m=item.at_m[1],
        z_m=item.at_m[2],
        length_m=item.long_m or 0.0,
        reflector_gain=REFLECTOR_GAIN if item.has_reflector and lamp.is_tube else 1.0,
        wire_share=wire_share_of(request) if item.hangs_above_lid else 0.0,
        age_share=uv_age_share(hours, lamp.t70_h) if hours is not None else 1.0,
        hours_known=hours is not None,
        strength=learned.ultraviolet(item),
        item_id=item.id,
    )


def _substrate_at(request: Request, x_m: float, y_m: float) -> float:
    """Substrate under a place of a sloping bed [m]. The air above is calculated over its mean."""
    inside = request.enclosure.inside_m
    return max(request.enclosure.substrate.depth_at(x_m / inside.length, y_m / inside.depth), 0.0)


def slabs_of(request: Request) -> tuple[HeatedSlab, ...]:
    """The flat bodies that lamps warm."""
    enclosure = enclosure_of(request)
    substrate, floor = (
        MATERIALS[request.enclosure.substrate.material],
        MATERIALS[request.enclosure.panels.bottom],
    )
    found = []
    for item in request.items:
        if isinstance(item, Branch) and item.size_m is not None:
            x, y, z = item.at_m
            found.append(
                branch(
                    MATERIALS[BRANCH_MATERIAL],
                    item_id=item.id,
                    middle_m=(x, y),
                    size_m=item.size_m,
                    bottom_m=z,
                )
            )
        if isinstance(item, Slab):
            x, y, z = item.at_m
            local = _substrate_at(request, x, y)
            found.append(
                slab_on_ground(
                    MATERIALS[item.material],
                    item_id=item.id,
                    middle_m=(x, y),
                    size_m=item.size_m,
                    interior=(
                        enclosure
                        if local == enclosure.substrate_depth_m
                        else replace(enclosure, substrate_depth_m=local)
                    ),
                    substrate=substrate,
                    floor=floor,
                    raised_m=z - local,
                )
            )

    return tuple(found)


BRANCH_MATERIAL = "wood"
PLATFORM_M = 0.03
"""A stone raised by more than that is a platform: there is room, and shade, under it (design
choice) [m].
"""


def blockers_of(request: Request) -> tuple[ShadowBody, ...]:
    """Bodies that throw shadows: hides, branches, platforms, and plants in part.

    What lies flat on the ground shades nothing that lives.
    """
    found = []
    for item in request.items:
        raised = (
            isinstance(item, Slab)
            and item.at_m[2] > _substrate_at(request, *item.at_m[:2]) + PLATFORM_M
        )
        if item.sides_m is None or not (raised or isinstance(item, Branch | Hide | PlantedItem)):
            continue
        (x, y, z) = item.at_m
        (length, depth, height) = item.sides_m
        half_long = length / 2
        half_deep = depth / 2
        low = (x - half_long, y - half_deep, z)
        high = (x + half_long, y + half_deep, z + height)
        passes = FOLIAGE_PASSES if isinstance(item, PlantedItem) else 0.0
        found.append(ShadowBody(low, high, passes))

    return tuple(found)


def _ground_of(item: Hide) -> Extent:
    """What a hide stands on."""
    (x, y, _) = item.at_m
    (length, depth, _) = item.size_m
    return x - length / 2, x + length / 2, y - depth / 2, y + depth / 2


def heat_model_of(
    request: Request,
    hour: float | None,
    room_c: float,
    position: AnimalPosition,
    learned: Learned = UNLEARNED,
) -> HeatModel:
    """The enclosure with what its timers have on at that hour; with everything that warms for None."""
    spec = request.enclosure
    enclosure = enclosure_of(request)
    on = [t for t in request.items if t.warms and (hour is None or t.lit_at(hour))]
    lamps = tuple(heat_lamp(t, request, position, learned, hour) for t in on)
    slabs = slabs_of(request)
    substrate = MATERIALS[spec.substrate.material]
    floor = MATERIALS[spec.panels.bottom]
    hides = tuple(_ground_of(item) for item in request.items if isinstance(item, Hide))
    patches = substrate_patches(lamps, slabs, enclosure, substrate, floor, hides)
    if spec.substrate.slope is not None:
        patches = tuple(
            replace(patch, top_m=_substrate_at(request, patch.x_m, patch.y_m)) for patch in patches
        )
    panel = {
        name: MATERIALS[getattr(spec.panels, name)]
        for name in ("front", "back", "left", "right", "bottom")
    }

    return HeatModel(
        interior=enclosure,
        panels=Panels(top=MATERIALS[spec.lid.material], **panel),
        mesh_share=spec.lid.mesh_share,
        mesh=MESHES[spec.lid.mesh] if spec.lid.mesh else None,
        substrate=substrate,
        vents=Vents(
            spec.vents.low_cm2 / 1e4,
            spec.vents.high_cm2 / 1e4,
            spec.vents.rise_m,
            fan_m3_s=request.fanned_m3_s(hour),
        ),
        slabs=(*slabs, *patches),
        lamps=lamps,
        room_c=room_c,
        strengths=learned.strengths(spec, on, lamps),
    )


def position_of(request: Request, profile: Profile, length_m: float) -> AnimalPosition:
    """How the largest animal stands: a climber on its highest branch, or at its usual height where
    there is none.

    Parameters
    ----------
    length_m : float
        Of the body, in the profile's own kind of length [m].
    """
    on_substrate = AnimalPosition(
        profile.body.back_height_bl * length_m, perch_share=profile.body.perch_share
    )
    return restanced(request, on_substrate)


def _highest_branch(request: Request) -> EnclosurePoint | None:
    """The top of the highest branch."""
    branches = [item for item in request.items if isinstance(item, Branch)]
    if not branches:
        return None
    highest = max(branches, key=lambda item: item.at_m[2])
    if highest.size_m is None:
        raise ImpossibleStateError("missing: highest.size_m")
    x, y, z = highest.at_m
    return EnclosurePoint(x, y, z + highest.size_m[2])


def restanced(request: Request, position: AnimalPosition) -> AnimalPosition:
    """How the same animal stands once items were moved or added: a climber goes to its highest
    branch, or to the first lamp.
    """
    if position.perch_share == 0:
        return position
    return replace(
        position, perch=_highest_branch(request) or _usual_perch(request, position.perch_share)
    )


def _usual_perch(request: Request, share: float) -> EnclosurePoint:
    """Where a climber without a branch is taken to live: at its height, below the first lamp."""
    enclosure = enclosure_of(request)
    lit = [item for item in request.items if item.is_uv or item.is_heater]
    x = lit[0].at_m[0] if lit else enclosure.length_m / 2
    return EnclosurePoint(
        x, enclosure.depth_m / 2, enclosure.substrate_depth_m + share * enclosure.air_height_m
    )


def _ends(
    heat_model: HeatModel, position: AnimalPosition
) -> tuple[tuple[float, float], tuple[float, float]]:
    """Where end air is taken for this animal, (x, z) at the left and the right [m]."""
    if position.perch is None:
        return end_points(heat_model, position.back_m)
    enclosure = heat_model.interior
    z = min(position.perch.z_m + position.back_m, enclosure.height_m)
    return (enclosure.length_m / 6, z), (enclosure.length_m * 5 / 6, z)


def basking_slab(day: SteadyState, position: AnimalPosition) -> int | None:
    """The surface on which an animal basks: for a climber with branches the warmest of them, else
    the warmest that lies or stands on the ground.
    """
    if position.perch is not None:
        on_a_branch = day.hottest_slab(perches=True)
        if on_a_branch is not None:
            return on_a_branch
    return day.hottest_slab(perches=False)


def _basking_point(
    day: SteadyState, uv: tuple[UvSource, ...], position: AnimalPosition
) -> EnclosurePoint:
    enclosure = day.heat_model.interior
    back_m = position.back_m
    slab_index = basking_slab(day, position)
    if position.perch is not None and (
        slab_index is None or not day.heat_model.slabs[slab_index].is_perch
    ):
        return replace(position.perch, z_m=position.perch.z_m + back_m)
    if slab_index is None:
        lamps = uv or ()
        return EnclosurePoint(
            lamps[0].x_m if lamps else enclosure.length_m / 2,
            enclosure.depth_m / 2,
            enclosure.substrate_depth_m + back_m,
        )
    slab = day.heat_model.slabs[slab_index]
    x, y = slab.cells()
    weights = day.surface(slab_index).spot
    if weights is None:
        raise ImpossibleStateError("every surface has one")

    return EnclosurePoint(
        float(weights.sum(axis=1) @ x), float(weights.sum(axis=0) @ y), slab.top_m + back_m
    )


def _finish(
    request: Request,
    position: AnimalPosition,
    day: SteadyState,
    night: SteadyState | None,
    uv: tuple[UvSource, ...],
    learned: Learned,
) -> Prediction:
    left, right = _ends(day.heat_model, position)
    warm_left = day.value(day.air(*left)) >= day.value(day.air(*right))

    return Prediction(
        request,
        position,
        day.heat_model.interior,
        day,
        night,
        uv,
        _basking_point(day, uv, position),
        warm_left,
        learned,
    )


def _lit(request: Request) -> list[Item]:
    return [item for item in request.items if item.warms and item.lit_at(DAY_HOUR)]


def _uv(request: Request, learned: Learned) -> tuple[UvSource, ...]:
    return tuple(uv_source(item, request, learned) for item in uv_lit(request))


def uv_of_day(prediction: Prediction, low: float, high: float) -> UvDay:
    """A day of ultraviolet for an animal that lies in the basking place throughout.

    `low` and `high` are the range wanted there [UV index].
    """
    request = prediction.request
    sources = {
        item.id: uv_source(item, request, prediction.learned)
        for item in request.items
        if item.is_uv
    }
    at = prediction.basking

    def index_of(on: frozenset[str]) -> float:
        lit = tuple(source for item_id, source in sources.items() if item_id in on)
        place = (np.array(at.x_m), at.y_m, np.array(at.z_m))
        return float(total_uvi(lit, *place, prediction.blockers))

    return uv_day(request, index_of, low, high)


def predict(
    request: Request, position: AnimalPosition, learned: Learned = UNLEARNED
) -> Prediction:
    """Solve the day and the night of a request in full, with what readings told of the enclosure."""
    day = solve(heat_model_of(request, DAY_HOUR, request.room.day_c, position, learned))
    at_night = heat_model_of(request, NIGHT_HOUR, request.room.night_c, position, learned)
    night = solve(at_night) if at_night.lamps else None
    return _finish(request, position, day, night, _uv(request, learned), learned)


def predict_night(known: Prediction, request: Request) -> UncertainTemperature:
    """Night air at the warm end alone, for searching among heaters for the night."""
    night = solve(
        heat_model_of(request, NIGHT_HOUR, request.room.night_c, known.position, known.learned)
    )
    left, right = _ends(night.heat_model, known.position)
    return night.spread(night.air(*(left if known.warm_left else right)))


def predict_near(known: Prediction, request: Request) -> Prediction:
    """As `predict`, with the films of a known outcome: for searching among lamps' powers, heights
    and kinds by day only.
    """
    learned = known.learned
    lamps = tuple(heat_lamp(t, request, known.position, learned, DAY_HOUR) for t in _lit(request))
    if tuple(lamp.item_id for lamp in lamps) != tuple(
        lamp.item_id for lamp in known.day.heat_model.lamps
    ):
        return predict(request, known.position, learned)

    return _finish(
        request,
        known.position,
        resolve(known.day, lamps),
        known.night,
        _uv(request, learned),
        learned,
    )


@dataclass(frozen=True)
class FailedOn:
    """The hottest day in steady state, with thermostats failed on or working."""

    surface_c: float
    warm_air_c: float
    cool_air_c: float


def failed_on(prediction: Prediction) -> FailedOn:
    """What thermostats that stick on would do with the room at its summer maximum; an independent
    cut-out holds where there is one.
    """
    return _in_a_room(prediction, prediction.request.room.summer_max_c, failed=True)


def failed_on_usual_day(prediction: Prediction) -> FailedOn:
    """The same with the room as it is by day."""
    return _in_a_room(prediction, prediction.request.room.day_c, failed=True)


def hot_day(prediction: Prediction) -> FailedOn:
    """The same room with every thermostat working."""
    return _in_a_room(prediction, prediction.request.room.summer_max_c, failed=False)


def _in_a_room(prediction: Prediction, room_c: float, *, failed: bool) -> FailedOn:
    request = prediction.request
    lamps = []
    for item in _lit(request):
        lamp = heat_lamp(item, request, prediction.position, prediction.learned)
        if failed and lamp.thermostat is not None:
            cut = item.held.cut_out_c if item.held is not None else None
            held = None if cut is None else replace(lamp.thermostat, set_c=cut)
            lamp = replace(lamp, thermostat=held)
        lamps.append(lamp)
    worst = solve(
        replace(prediction.day.heat_model, lamps=tuple(lamps), room_c=room_c),
        start=prediction.day.films,
        iterations=2,
    )
    slab = worst.hottest_slab()
    surface = worst.value(
        worst.air(*prediction.warm_point) if slab is None else worst.surface(slab)
    )

    return FailedOn(
        surface,
        worst.value(worst.air(*prediction.warm_point)),
        worst.value(worst.air(*prediction.cool_point)),
    )
