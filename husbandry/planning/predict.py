"""What the enclosure will do by day, by night and when a thermostat sticks: from a request to temperatures and UV index."""

import functools
import math
from dataclasses import dataclass, replace

from husbandry.box.equipment import HEATERS, MATERIALS, MESHES, UV_LAMPS
from husbandry.box.geometry import Box
from husbandry.climate.enclosure import Enclosure, HeatLamp, Panels, Thermostat, Vents, ground_patches, slab_on_ground
from husbandry.climate.heat import Spread, Steady, end_points, resolve, solve
from husbandry.climate.mesh import mesh_transmission
from husbandry.climate.shadow import FOLIAGE_PASSES, Blocker
from husbandry.climate.slab import Slab
from husbandry.climate.uv import UvReading, UvSource, uv_age_share, uvi_with_spread
from husbandry.climate.vapour import rh_elsewhere
from husbandry.planning.moisture import Damp, Expected, expected
from husbandry.planning.pool_water import Swum, waters_of
from husbandry.planning.request import LONG_KINDS, Request, Thing
from husbandry.planning.strengths import UNLEARNED, Learned
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile

DAY_HOUR, NIGHT_HOUR = 13.0, 3.0
"""Hours that stand for day and night when timers are asked: lamps have long been on, and long been off."""
REFLECTOR_GAIN = 1.8
TUBE_HEAT_KIND = "fluorescent_tube"


@dataclass(frozen=True)
class Point:
    """A place in the enclosure [m]."""

    x_m: float
    y_m: float
    z_m: float


@dataclass(frozen=True)
class Stance:
    """How the animal stands in its enclosure: on the ground, or for a climber on a perch."""

    back_m: float
    """Height of its back above what it stands on [m]."""
    perch: Point | None = None
    """Where a climber lives: the top of its highest branch, or its usual height where there is none."""
    perch_share: float = 0.0
    """Of the height over the substrate at which a climber lives where it has no branch; 0 on the ground [1]."""


@dataclass(frozen=True)
class Outcome:
    """What the physics says of a request."""

    request: Request
    stance: Stance
    box: Box
    day: Steady
    night: Steady | None
    """None when nothing heats at night: then the enclosure is at the room's temperature."""
    uv: tuple[UvSource, ...]
    basking: Point
    """The animal's back at the hottest spot, or below the lamps' middle when nothing warms."""
    warm_left: bool
    learned: Learned = UNLEARNED

    @property
    def back_m(self) -> float:
        """Height of the animal's back above what it stands on [m]."""
        return self.stance.back_m

    @property
    def living_m(self) -> float:
        """Height of the back above the floor where the animal spends its day: on level substrate or on its perch [m]."""
        perch = self.stance.perch
        return (perch.z_m if perch else self.box.ground_depth_m) + self.stance.back_m

    @property
    def warm_point(self) -> tuple[float, float]:
        """Where warm-end air is taken, (x, z) [m]."""
        left, right = _ends(self.day.enclosure, self.stance)
        return left if self.warm_left else right

    @property
    def cool_point(self) -> tuple[float, float]:
        """Where cool-end air is taken, (x, z) [m]."""
        left, right = _ends(self.day.enclosure, self.stance)
        return right if self.warm_left else left

    def uvi(self) -> UvReading:
        """At the basking animal's back."""
        return self._uvi

    @functools.cached_property
    def _uvi(self) -> UvReading:
        return self.uvi_at(self.basking)

    def uvi_at(self, point: Point) -> UvReading:
        """At any place."""
        lit = [self.request.thing(source.thing_id) for source in self.uv]
        covariance = self.learned.uv_covariance(lit, self.uv)
        return uvi_with_spread(self.uv, point.x_m, point.y_m, point.z_m, covariance, self.blockers)

    @functools.cached_property
    def blockers(self) -> tuple[Blocker, ...]:
        """What throws shadows."""
        return blockers_of(self.request)

    def centre(self, need: NeedKey) -> float | None:
        """The predicted value of a need, without its interval; None for what is not predicted."""
        match need:
            case NeedKey.SURFACE_DAY:
                slab = self.day.hottest_slab()  # where nothing shines the substrate has the air's temperature
                return self.day.value(self.day.air(*self.warm_point) if slab is None else self.day.surface(slab))
            case NeedKey.WARM_AIR_DAY:
                return self.day.value(self.day.air(*self.warm_point))
            case NeedKey.COOL_AIR_DAY:
                return self.day.value(self.day.air(*self.cool_point))
            case NeedKey.AIR_NIGHT:
                return self.night_air().temp_c
            case NeedKey.UVI_DAY:
                return self.uvi().uvi
            case NeedKey.WATER_DAY if self.swum is not None:
                return self.swum.day_c
            case NeedKey.HUMIDITY_DAY if self.damp is not None:
                return self.damp.cool_pct[self.damp.day_n]
            case NeedKey.HUMIDITY_NIGHT if self.damp is not None:
                return self.damp.cool_pct[self.damp.night_n]
        return None

    def spread(self, need: NeedKey) -> Spread | None:
        """A predicted temperature with its interval."""
        match need:
            case NeedKey.SURFACE_DAY:
                slab = self.day.hottest_slab()
                return self.day.spread(self.day.air(*self.warm_point) if slab is None else self.day.surface(slab))
            case NeedKey.WARM_AIR_DAY:
                return self.day.spread(self.day.air(*self.warm_point))
            case NeedKey.COOL_AIR_DAY:
                return self.day.spread(self.day.air(*self.cool_point))
            case NeedKey.AIR_NIGHT:
                return self.night_air()
        return None

    def felt_by(self, probe: Thing) -> Spread:
        """What a thermostat's probe feels by day."""
        return self.day.spread(self.day.felt_at(*probe.at_m))

    @functools.cached_property
    def damp(self) -> Damp | None:
        """Its water through a day; None where nobody said how it is kept damp."""
        return self._waters[0]

    @functools.cached_property
    def expected_humidity(self) -> Expected | None:
        """At the cool end, at the ends of the day and of the night."""
        return expected(self.damp) if self.damp is not None else None

    @functools.cached_property
    def swum(self) -> Swum | None:
        """The water of its largest pool through a day; None without one."""
        return self._waters[1]

    @functools.cached_property
    def _waters(self) -> tuple[Damp | None, Swum | None]:
        return waters_of(self)

    def cool_air_sd(self) -> float:
        """Of the air at the cool end by day [K]."""
        return self.day.spread(self.day.air(*self.cool_point)).sd_k

    def middle_air(self) -> Spread:
        """Air in the middle of the length at the animal's back."""
        return self.day.spread(self.day.air(self.box.length_m / 2, self.warm_point[1]))

    def night_air(self) -> Spread:
        """Air at the warm end at the end of the night: where the animal can be warmest."""
        if self.night is None:
            return Spread(self.request.room.night_c, 0.5)
        return self.night.spread(self.night.air(*self.warm_point))

    def humidity_floor_pct(self) -> float:
        """Relative humidity that the room's vapour alone gives at the cool end by day [%]: nothing in the enclosure evaporates."""
        cool = self.centre(NeedKey.COOL_AIR_DAY)
        assert cool is not None
        return rh_elsewhere(self.request.room.rh_pct, self.request.room.day_c, cool)


def box_of(request: Request) -> Box:
    """The inside of the requested enclosure."""
    inside = request.box.inside_m
    return Box(inside.length, inside.depth, inside.height, request.box.ground.depth_m)


def passes_mesh(request: Request) -> float:
    """Share of what shines straight down that passes the lid's mesh: as measured, else by its wire and pitch; 1 without a mesh."""
    lid = request.box.lid
    if lid.mesh is None:
        return 1.0
    return (
        lid.mesh_passes if lid.mesh_passes is not None else mesh_transmission(MESHES[lid.mesh].wire_mm, MESHES[lid.mesh].pitch_mm)
    )


def wire_share_of(request: Request) -> float:
    """Wire over pitch of the lid's mesh; where its loss was measured, of the woven mesh that would lose as much [1]."""
    lid = request.box.lid
    if lid.mesh is None:
        return 0.0
    return 1 - math.sqrt(lid.mesh_passes) if lid.mesh_passes is not None else MESHES[lid.mesh].wire_share


def heat_lamp(thing: Thing, request: Request, stance: Stance, learned: Learned = UNLEARNED) -> HeatLamp:
    """A thing as the heat model sees it. A tube warms too: its whole power becomes heat near it. Air probes hang where the animal lives."""
    kind = TUBE_HEAT_KIND if thing.is_tube else thing.kind
    power = thing.power_w if thing.power_w is not None else tube_watts(thing)
    share = passes_mesh(request) if thing.above_lid else 1.0
    return HeatLamp(
        thing_id=thing.id,
        heater=HEATERS[kind],
        power_w=power,
        x_m=thing.at_m[0],
        y_m=thing.at_m[1],
        z_m=thing.at_m[2],
        above_lid=thing.above_lid,
        mesh_open=share,
        beam_deg=thing.beam_deg,
        thermostat=_thermostat(thing, request, stance),
        size_m=thing.size_m[:2] if thing.kind == "heat_mat" and thing.size_m else None,
        length_m=thing.length_m or 0.0 if thing.kind in LONG_KINDS else 0.0,
        strength=learned.beam(thing),
    )


def _thermostat(thing: Thing, request: Request, stance: Stance) -> Thermostat | None:
    held = thing.thermostat
    if held is None:
        return None
    place = request.thing(held.probe_id).at_m if held.probe_id is not None else None
    return Thermostat(held.set_c, held.probe, stance.perch.z_m + stance.back_m if stance.perch else None, place)


def tube_watts(thing: Thing) -> float:
    """Power of a tube by its length: the nearest of its class [W]."""
    return UV_LAMPS[thing.kind].nearest(thing.length_m or 1.0)[0]


def uv_source(thing: Thing, request: Request, learned: Learned = UNLEARNED) -> UvSource:
    """A thing as the ultraviolet model sees it."""
    lamp = UV_LAMPS[thing.kind]
    hours = thing.hours_run
    return UvSource(
        lamp=lamp,
        x_m=thing.at_m[0],
        y_m=thing.at_m[1],
        z_m=thing.at_m[2],
        length_m=thing.length_m or 0.0,
        reflector_gain=REFLECTOR_GAIN if thing.reflector and lamp.is_tube else 1.0,
        wire_share=wire_share_of(request) if thing.above_lid else 0.0,
        age_share=uv_age_share(hours, lamp.t70_h) if hours is not None else 1.0,
        hours_known=hours is not None,
        strength=learned.ultraviolet(thing),
        thing_id=thing.id,
    )


def _ground_at(request: Request, x_m: float, y_m: float) -> float:
    """Substrate under a place of a sloping bed [m]. The air above is reckoned over its mean."""
    inside = request.box.inside_m
    return max(request.box.ground.depth_at(x_m / inside.length, y_m / inside.depth), 0.0)


def slabs_of(request: Request) -> tuple[Slab, ...]:
    """The flat bodies that lamps warm."""
    box = box_of(request)
    ground, floor = MATERIALS[request.box.ground.material], MATERIALS[request.box.panels.bottom]
    found = []
    for thing in request.things:
        if thing.kind == "slab" and thing.size_m is not None:
            x, y, z = thing.at_m
            local = _ground_at(request, x, y)
            found.append(
                slab_on_ground(
                    MATERIALS[thing.material],
                    thing_id=thing.id,
                    middle_m=(x, y),
                    size_m=thing.size_m,
                    box=box if local == box.ground_depth_m else replace(box, ground_depth_m=local),
                    ground=ground,
                    floor=floor,
                    raised_m=max(z - local, 0.0),
                )
            )
    return tuple(found)


PLATFORM_M = 0.03
"""A stone raised by more than that is a platform: there is room, and shade, under it (design choice) [m]."""


def blockers_of(request: Request) -> tuple[Blocker, ...]:
    """Bodies that throw shadows: hides, branches, platforms, and plants in part. What lies flat on the ground shades nothing that lives."""
    found = []
    for thing in request.things:
        raised = thing.kind == "slab" and thing.at_m[2] > _ground_at(request, *thing.at_m[:2]) + PLATFORM_M
        if thing.size_m is None or not (raised or thing.kind in {"hide", "branch", "plant"}):
            continue
        (x, y, z), (length, depth, height) = thing.at_m, thing.size_m
        low, high = (x - length / 2, y - depth / 2, z), (x + length / 2, y + depth / 2, z + height)
        found.append(Blocker(low, high, FOLIAGE_PASSES if thing.kind == "plant" else 0.0))
    return tuple(found)


def enclosure_of(request: Request, hour: float | None, room_c: float, stance: Stance, learned: Learned = UNLEARNED) -> Enclosure:
    """The enclosure with what its timers have on at that hour; with everything that warms for None."""
    spec = request.box
    box = box_of(request)
    on = [t for t in request.things if t.warms and (hour is None or t.lit_at(hour))]
    lamps = tuple(heat_lamp(t, request, stance, learned) for t in on)
    slabs = slabs_of(request)
    ground, floor = MATERIALS[spec.ground.material], MATERIALS[spec.panels.bottom]
    patches = ground_patches(lamps, slabs, box, ground, floor)
    if spec.ground.slope is not None:
        patches = tuple(replace(patch, top_m=_ground_at(request, patch.x_m, patch.y_m)) for patch in patches)
    panel = {name: MATERIALS[getattr(spec.panels, name)] for name in ("front", "back", "left", "right", "bottom")}
    return Enclosure(
        box=box,
        panels=Panels(top=MATERIALS[spec.lid.material], **panel),
        mesh_share=spec.lid.mesh_share,
        mesh=MESHES[spec.lid.mesh] if spec.lid.mesh else None,
        ground=ground,
        vents=Vents(spec.vents.low_cm2 / 1e4, spec.vents.high_cm2 / 1e4, spec.vents.rise_m),
        slabs=(*slabs, *patches),
        lamps=lamps,
        room_c=room_c,
        strengths=learned.strengths(on, lamps),
    )


def stance_of(request: Request, profile: Profile, length_m: float) -> Stance:
    """How the largest animal stands: a climber on its highest branch, or at its usual height where there is none.

    Parameters
    ----------
    length_m : float
        Of the body, in the profile's own kind of length [m].
    """
    on_ground = Stance(profile.body.back_height_bl * length_m, perch_share=profile.body.perch_share)
    return restanced(request, on_ground)


def _highest_branch(request: Request) -> Point | None:
    """The top of the highest branch."""
    branches = [thing for thing in request.things if thing.kind == "branch" and thing.size_m]
    if not branches:
        return None
    highest = max(branches, key=lambda thing: thing.at_m[2])
    assert highest.size_m is not None
    x, y, z = highest.at_m
    return Point(x, y, z + highest.size_m[2])


def restanced(request: Request, stance: Stance) -> Stance:
    """How the same animal stands once things were moved or added: a climber goes to its highest branch, or to the first lamp."""
    if stance.perch_share == 0:
        return stance
    return replace(stance, perch=_highest_branch(request) or _usual_perch(request, stance.perch_share))


def _usual_perch(request: Request, share: float) -> Point:
    """Where a climber without a branch is taken to live: at its height, below the first lamp."""
    box = box_of(request)
    lit = [thing for thing in request.things if thing.is_uv or thing.is_heater]
    x = lit[0].at_m[0] if lit else box.length_m / 2
    return Point(x, box.depth_m / 2, box.ground_depth_m + share * box.air_height_m)


def _ends(enclosure: Enclosure, stance: Stance) -> tuple[tuple[float, float], tuple[float, float]]:
    """Where end air is taken for this animal, (x, z) at the left and the right [m]."""
    if stance.perch is None:
        return end_points(enclosure, stance.back_m)
    box = enclosure.box
    z = min(stance.perch.z_m + stance.back_m, box.height_m)
    return (box.length_m / 6, z), (box.length_m * 5 / 6, z)


def _basking_point(day: Steady, uv: tuple[UvSource, ...], stance: Stance) -> Point:
    box, back_m = day.enclosure.box, stance.back_m
    if stance.perch is not None:
        return replace(stance.perch, z_m=stance.perch.z_m + back_m)
    slab_index = day.hottest_slab()
    if slab_index is None:
        lamps = uv or ()
        return Point(lamps[0].x_m if lamps else box.length_m / 2, box.depth_m / 2, box.ground_depth_m + back_m)
    slab = day.enclosure.slabs[slab_index]
    x, y = slab.cells()
    weights = day.surface(slab_index).spot
    assert weights is not None  # every surface has one
    return Point(float(weights.sum(axis=1) @ x), float(weights.sum(axis=0) @ y), slab.top_m + back_m)


def _finish(
    request: Request, stance: Stance, day: Steady, night: Steady | None, uv: tuple[UvSource, ...], learned: Learned
) -> Outcome:
    left, right = _ends(day.enclosure, stance)
    warm_left = day.value(day.air(*left)) >= day.value(day.air(*right))
    return Outcome(request, stance, day.enclosure.box, day, night, uv, _basking_point(day, uv, stance), warm_left, learned)


def _lit(request: Request) -> list[Thing]:
    return [thing for thing in request.things if thing.warms and thing.lit_at(DAY_HOUR)]


def _uv(request: Request, learned: Learned) -> tuple[UvSource, ...]:
    return tuple(uv_source(t, request, learned) for t in request.things if t.is_uv and t.lit_at(DAY_HOUR))


def predict(request: Request, stance: Stance, learned: Learned = UNLEARNED) -> Outcome:
    """Solve the day and the night of a request in full, with what readings told of the enclosure."""
    day = solve(enclosure_of(request, DAY_HOUR, request.room.day_c, stance, learned))
    at_night = enclosure_of(request, NIGHT_HOUR, request.room.night_c, stance, learned)
    night = solve(at_night) if at_night.lamps else None
    return _finish(request, stance, day, night, _uv(request, learned), learned)


def predict_night(known: Outcome, request: Request) -> Spread:
    """Night air at the warm end alone, for searching among heaters for the night."""
    night = solve(enclosure_of(request, NIGHT_HOUR, request.room.night_c, known.stance, known.learned))
    left, right = _ends(night.enclosure, known.stance)
    return night.spread(night.air(*(left if known.warm_left else right)))


def predict_near(known: Outcome, request: Request) -> Outcome:
    """As `predict`, with the films of a known outcome: for searching among lamps' powers, heights and kinds by day only."""
    learned = known.learned
    lamps = tuple(heat_lamp(t, request, known.stance, learned) for t in _lit(request))
    if tuple(lamp.thing_id for lamp in lamps) != tuple(lamp.thing_id for lamp in known.day.enclosure.lamps):
        return predict(request, known.stance, learned)
    return _finish(request, known.stance, resolve(known.day, lamps), known.night, _uv(request, learned), learned)


@dataclass(frozen=True)
class StuckOn:
    """Every heater at full power on the hottest day, in steady state."""

    surface_c: float
    warm_air_c: float
    cool_air_c: float


def stuck_on(outcome: Outcome) -> StuckOn:
    """What a thermostat that sticks on would do with the room at its summer maximum."""
    enclosure = outcome.day.enclosure
    lamps = tuple(heat_lamp(t, outcome.request, outcome.stance, outcome.learned) for t in _lit(outcome.request))
    free = tuple(replace(lamp, thermostat=None) for lamp in lamps)
    worst = solve(replace(enclosure, lamps=free, room_c=outcome.request.room.summer_max_c), start=outcome.day.films, rounds=2)
    slab = worst.hottest_slab()
    surface = worst.value(worst.air(*outcome.warm_point) if slab is None else worst.surface(slab))
    return StuckOn(surface, worst.value(worst.air(*outcome.warm_point)), worst.value(worst.air(*outcome.cool_point)))
