"""What to change: candidates found by solving the model, predicted in full, and ranked.

Search is done near the known state (films kept); whatever is offered has been planned again in full, so that applying it gives the
quoted effect. Ranking: docs/decisions.md, 11.
"""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any, Literal

from husbandry.box.equipment import HEATERS, UV_LAMPS
from husbandry.box.sizing import SizeFound
from husbandry.climate.uv import MIN_DISTANCE_M
from husbandry.errors import DocumentError
from husbandry.planning.judge import Band
from husbandry.planning.predict import DAY_HOUR, Outcome, StuckOn, predict, predict_near, stuck_on
from husbandry.planning.request import Request, Thing, apply_patch
from husbandry.planning.result import Change, Effect, NeedState, Safety
from husbandry.species.needs import NEEDS, NeedKey
from husbandry.worked import Given, Source, Worked

MOST = 5
HEAT_NEEDS = (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY)
MIN_LAMP_M = 0.15
"""No lamp is advised closer than this to the animal's back [m]; its maker may ask for more."""
HEADROOM_M = 0.03
"""Left between a lamp and the lid [m]."""
NOT_SURFACE_C = 60.0
"""Never advised, even by literature-free want of heat [°C]."""
SLIP = 0.05
"""Share of a band by which a need that is right may slip before it counts as broken (design choice) [1]."""
_EFFORT = {"move": 0, "own": 1, "buy": 2}
Patch = tuple[dict[str, Any], ...]


@dataclass(frozen=True)
class Candidate:
    """A change before it is planned again."""

    kind: str
    thing: Thing
    values: dict[str, float | str]
    effort: Literal["move", "own", "buy"]
    patch: Patch
    rule: str
    size_of_move: float
    """For the rank: metres, or watts over 100 [1]."""


@dataclass(frozen=True)
class Score:
    """Where a state stands against the bands."""

    beyond_limits: int
    wrong: int
    shortfall: float


class Bench:
    """A request with its outcome and bands, on which candidates are tried."""

    def __init__(
        self, request: Request, outcome: Outcome, bands: dict[NeedKey, Band], states: tuple[NeedState, ...], size: SizeFound
    ) -> None:
        self.request, self.outcome, self.bands, self.size = request, outcome, bands, size
        self.now_stuck = stuck_on(outcome)
        self.before = {key: outcome.centre(key) for key in bands}
        self.carry = {s.key: self._carry(s) for s in states}

    def _carry(self, state: NeedState) -> float:
        """How far a fresh reading lies above the prediction: changes are aimed with it. A factor for UVI."""
        ratio = state.key is NeedKey.UVI_DAY
        if state.measured is None or not state.measured.judged or state.predicted is None:
            return 1.0 if ratio else 0.0
        if ratio:
            return state.measured.value / state.predicted.value if state.predicted.value > 0 else 1.0
        return state.measured.value - state.predicted.value

    def believed(self, key: NeedKey, predicted: float) -> float:
        """A prediction, corrected by what was measured beside the present one."""
        return predicted * self.carry[key] if key is NeedKey.UVI_DAY else predicted + self.carry[key]

    def score(self, values: dict[NeedKey, float | None]) -> Score:
        """Count limits passed, needs missed and how far.

        A need that is right now may slip by a twentieth of its band: less than any instrument tells, and no reason to refuse a change.
        """
        known = {key: self.believed(key, value) for key, value in values.items() if value is not None}
        return Score(
            sum(self.bands[key].beyond_limit(value) > 0 for key, value in known.items()),
            sum(self.bands[key].shortfall(value) > (1e-9 if self.wrong(key) else SLIP) for key, value in known.items()),
            sum(self.bands[key].shortfall(value) for key, value in known.items()),
        )

    def aim(self, key: NeedKey) -> float:
        """The prediction to aim for: the band's middle as believed, kept inside the band as predicted."""
        band = self.bands[key]
        middle = band.aim()
        wanted = middle / max(self.carry[key], 0.2) if key is NeedKey.UVI_DAY else middle - self.carry[key]
        if not (band.low and band.high):
            return wanted
        inset = 0.1 * band.width
        return min(max(wanted, band.low_value + inset), band.high_value - inset)

    def wrong(self, key: NeedKey) -> int:
        """−1 below, +1 above, 0 right or not known, as believed."""
        value = self.before.get(key)
        if value is None or self.bands[key].conflict:
            return 0
        believed = self.believed(key, value)
        return (believed > self.bands[key].high_value) - (believed < self.bands[key].low_value)

    def near(self, patch: Patch, known: Outcome | None = None) -> Outcome | None:
        """The outcome of a patch with the films of a known outcome; None when the patch is not possible."""
        try:
            return predict_near(known or self.outcome, apply_patch(self.request, patch))
        except DocumentError:
            return None

    def near_value(self, patch: Patch, key: NeedKey, known: Outcome | None = None) -> float | None:
        """One prediction of a patch."""
        outcome = self.near(patch, known)
        return None if outcome is None else outcome.centre(key)

    def solve_added(self, patch: Callable[[float], Patch], key: NeedKey, span: tuple[float, float]) -> float | None:
        """The height that brings a need to its aim for something new: one full solution, then near it."""
        try:
            known = predict(apply_patch(self.request, patch(sum(span) / 2)), self.outcome.back_m)
        except DocumentError:
            return None
        z = solve_falling(lambda at: self.near_value(patch(at), key, known), self.aim(key), *span)
        return None if z is None else round(z, 2)

    def free_id(self, stem: str) -> str:
        """An id that no thing has yet."""
        taken = {thing.id for thing in self.request.things}
        return next(f"{stem}-{n}" for n in range(1, 99) if f"{stem}-{n}" not in taken)

    def day_times(self) -> dict[str, str]:
        """The times of the lamps that are there, or the usual twelve hours."""
        timed = next((t for t in self.request.things if t.on and t.off and t.lit_at(DAY_HOUR)), None)
        return {"on": timed.on or "", "off": timed.off or ""} if timed else {"on": "08:00", "off": "20:00"}


def replace_at(request: Request, thing: Thing, path: str, value: Any) -> dict[str, Any]:
    """One JSON Patch operation on a field of a thing."""
    # "add" sets a member whether or not it is there, but into an array it would insert
    operation = "replace" if path.rpartition("/")[2].isdigit() else "add"
    return {"op": operation, "path": f"/things/{request.index(thing.id)}/{path}", "value": value}


def solve_falling(
    value_at: Callable[[float], float | None], target: float, low: float, high: float, *, rounds: int = 9
) -> float | None:
    """Where a falling function meets a target between two ends: regula falsi with halving (Illinois).

    Returns the nearer end when the target lies beyond it, None when the function has no value there.
    """
    f_low, f_high = value_at(low), value_at(high)
    if f_low is None or f_high is None:
        return None
    f_low, f_high = f_low - target, f_high - target
    if f_low <= 0:
        return low
    if f_high >= 0:
        return high
    side = 0
    x = low
    for _ in range(rounds):
        x = (low * f_high - high * f_low) / (f_high - f_low)
        value = value_at(x)
        if value is None:
            return None
        f = value - target
        if abs(f) < 0.02:
            break
        if f > 0:
            low, f_low = x, f
            if side == 1:
                f_high /= 2
            side = 1
        else:
            high, f_high = x, f
            if side == -1:
                f_low /= 2
            side = -1
    return x


# --- heat ---------------------------------------------------------------------------------------------------------------


def _basking_lamps(bench: Bench) -> list[Thing]:
    """Beam lamps that are on by day, the one that matters most first."""
    day = bench.outcome.day
    slab = day.hottest_slab()
    if slab is None:
        return []
    landed = [float(d.heat[day.nodes.slab_top[slab]]) * p for d, p in zip(day.deposits, day.powers_w, strict=True)]
    order = sorted(zip(landed, day.enclosure.lamps, strict=True), key=lambda pair: -pair[0])
    things = [bench.request.thing(lamp.thing_id) for _, lamp in order]
    return [t for t in things if not t.is_tube]


def _height_range(bench: Bench, thing: Thing) -> tuple[float, float] | None:
    """Heights in which a lamp may hang [m]; None when it cannot be moved."""
    box = bench.request.box.inside_m
    lowest = bench.outcome.basking.z_m + MIN_LAMP_M
    if thing.above_lid:
        return box.height + 0.01, box.height + 0.40
    highest = box.height - HEADROOM_M
    return (lowest, highest) if highest - lowest > 0.02 else None


def _hung_at(bench: Bench, thing: Thing, extra: Patch = ()) -> Callable[[float], Patch]:
    def patch(z_m: float) -> Patch:
        return (*extra, replace_at(bench.request, thing, "at_m/2", round(z_m, 3)))

    return patch


def _heat(bench: Bench) -> Iterator[Candidate]:
    surface = bench.wrong(NeedKey.SURFACE_DAY)
    if not any(bench.wrong(key) for key in HEAT_NEEDS if key in bench.bands):
        return
    for thing in _basking_lamps(bench)[:2]:
        heater = HEATERS[thing.kind]
        span = _height_range(bench, thing)
        if surface and span is not None:
            yield from _raised(bench, thing, span, (), {}, "height", "move")
        yield from _other_power(bench, thing, span)
        if heater.dimmable and surface > 0:
            yield from _dimmed(bench, thing)
    if bench.wrong(NeedKey.WARM_AIR_DAY) < 0 or bench.wrong(NeedKey.COOL_AIR_DAY) < 0:
        yield from _covered(bench)


def _raised(
    bench: Bench,
    thing: Thing,
    span: tuple[float, float],
    extra: Patch,
    values: dict[str, float | str],
    kind: str,
    effort: Literal["move", "own", "buy"],
) -> Iterator[Candidate]:
    """Hang a lamp where the surface comes out right, to whole centimetres."""
    patch = _hung_at(bench, thing, extra)
    aim = bench.aim(NeedKey.SURFACE_DAY)
    z = solve_falling(lambda at: bench.near_value(patch(at), NeedKey.SURFACE_DAY), aim, *span)
    if z is None:
        return
    z = round(z, 2)
    if abs(z - thing.at_m[2]) < (0.0099 if not extra else 0.03):  # with another lamp a few centimetres are not worth the sentence
        return
    yield Candidate(
        kind,
        thing,
        {**values, "from_m": thing.at_m[2], "to_m": z, "distance_m": z - (bench.outcome.basking.z_m - bench.outcome.back_m)},
        effort,
        patch(z),
        f"The height at which the surface is predicted at {aim:.1f} °C, by halving on the heat model, to whole centimetres.",
        abs(z - thing.at_m[2]) + (1.0 if extra else 0.0),
    )


def _other_power(bench: Bench, thing: Thing, span: tuple[float, float] | None) -> Iterator[Candidate]:
    """The powers it is sold in: as it hangs, and hung anew."""
    assert thing.power_w is not None
    tried = []
    for watts in HEATERS[thing.kind].watts:
        if watts == thing.power_w:
            continue
        patch = (replace_at(bench.request, thing, "power_w", watts),)
        outcome = bench.near(patch)
        if outcome is not None:
            score = bench.score({key: outcome.centre(key) for key in bench.bands})
            tried.append((score.beyond_limits, score.wrong, score.shortfall, watts, patch))
    tried.sort(key=lambda row: row[:3])
    for *_, watts, patch in tried[:1]:
        yield Candidate(
            "power",
            thing,
            {"from_w": thing.power_w, "to_w": watts},
            "buy",
            patch,
            f"Each power this lamp is commonly sold in ({', '.join(f'{w:g}' for w in HEATERS[thing.kind].watts)} W) in the heat model; "
            "the one that misses least.",
            abs(watts - thing.power_w) / 100,
        )
    if span is None:
        return
    closest = sorted(HEATERS[thing.kind].watts, key=lambda w: abs(math.log(w / thing.power_w)))  # type: ignore[operator]
    for watts in [w for w in closest if w != thing.power_w][:3]:
        extra = (replace_at(bench.request, thing, "power_w", watts),)
        yield from _raised(bench, thing, span, extra, {"from_w": thing.power_w, "to_w": watts}, "power_and_height", "buy")


def _dimmed(bench: Bench, thing: Thing) -> Iterator[Candidate]:
    """Hold the surface at the band's middle by a thermostat: a new set point, or a new thermostat."""
    aim = round(bench.aim(NeedKey.SURFACE_DAY) * 2) / 2
    spec = {"set_c": aim, "probe": "surface"}
    if thing.thermostat is not None and thing.thermostat.probe == "surface":
        kind, effort, move = "set_point", "move", abs(aim - thing.thermostat.set_c) / 10
    else:
        kind, effort, move = "add_thermostat", "buy", 1.0
    yield Candidate(
        kind,
        thing,
        {"set_c": aim},
        effort,  # type: ignore[arg-type]  # one of the two literals above
        (replace_at(bench.request, thing, "thermostat", spec),),
        "A dimming thermostat with its probe on the basking surface, set to the middle of the band; it gives the lamp the share of its power that holds it.",
        move,
    )


def _covered(bench: Bench) -> Iterator[Candidate]:
    """Less open mesh keeps warm air in, where no lamp shines through it."""
    lid = bench.request.box.lid
    if lid.mesh is None or any(t.above_lid for t in bench.request.things) or lid.mesh_share < 0.3:
        return
    share = round(lid.mesh_share / 2, 2)
    stand_in = bench.request.things[0] if bench.request.things else None
    if stand_in is not None:
        yield Candidate(
            "cover_mesh",
            stand_in,
            {"from_share": lid.mesh_share, "to_share": share},
            "own",
            ({"op": "add", "path": "/box/lid/mesh_share", "value": share},),
            "Half of the open mesh covered by a board: less warm air leaves through the top.",
            0.5,
        )


# --- ultraviolet --------------------------------------------------------------------------------------------------------


def _uv(bench: Bench) -> Iterator[Candidate]:
    if NeedKey.UVI_DAY not in bench.bands or not bench.wrong(NeedKey.UVI_DAY):
        return
    tubes = [t for t in bench.request.things if t.is_tube]
    if not any(t.is_uv for t in bench.request.things):
        yield from _new_tube(bench)
        return
    for tube in tubes[:1]:
        span = _tube_span(bench, above=tube.above_lid)
        if not tube.above_lid and span:
            yield from _tube_at(bench, tube, span, (), {}, "uv_height", "move")
        inside = _tube_span(bench, above=False)
        if bench.wrong(NeedKey.UVI_DAY) < 0 and tube.above_lid and inside:
            yield from _tube_at(
                bench, tube, inside, (replace_at(bench.request, tube, "above_lid", False),), {}, "uv_below_mesh", "move"
            )
        if bench.wrong(NeedKey.UVI_DAY) < 0 and (tube.hours_run or 0) > 1000:
            yield Candidate(
                "uv_new",
                tube,
                {"hours": tube.hours_run or 0.0},
                "buy",
                (replace_at(bench.request, tube, "hours_run", 100.0),),
                "The same lamp at 100 hours: ageing gives back what it took.",
                0.0,
            )
        for kind, lamp in UV_LAMPS.items():
            if kind == tube.kind or not lamp.is_tube:
                continue
            length = min((m for _, m in lamp.lengths), key=lambda m: abs(m - (tube.length_m or 1.0)))
            box = bench.request.box.inside_m.length
            if length > box:
                continue
            middle = min(max(tube.at_m[0], length / 2), box - length / 2)
            watts = next(w for w, m in lamp.lengths if m == length)
            swap: Patch = (
                replace_at(bench.request, tube, "kind", kind),
                replace_at(bench.request, tube, "length_m", length),
                replace_at(bench.request, tube, "at_m/0", round(middle, 3)),
                replace_at(bench.request, tube, "power_w", watts),
                replace_at(bench.request, tube, "hours_run", 100.0),
            )
            values: dict[str, float | str] = {"to_name": lamp.name, "to_length_m": length}
            if span is None:
                yield Candidate("uv_class", tube, values, "buy", swap, "The same place with another class of tube.", 1.0)
            if inside is not None:
                below: Patch = (*swap, replace_at(bench.request, tube, "above_lid", False)) if tube.above_lid else swap
                yield from _tube_at(bench, tube, inside, below, values, "uv_class", "buy")


def _tube_span(bench: Bench, *, above: bool) -> tuple[float, float] | None:
    height = bench.request.box.inside_m.height
    low, high = bench.outcome.basking.z_m + max(MIN_DISTANCE_M, MIN_LAMP_M), height - HEADROOM_M
    return None if above or high - low < 0.01 else (low, high)


def _tube_at(
    bench: Bench,
    tube: Thing,
    span: tuple[float, float],
    extra: Patch,
    values: dict[str, float | str],
    kind: str,
    effort: Literal["move", "own", "buy"],
) -> Iterator[Candidate]:
    patch = _hung_at(bench, tube, extra)
    aim = bench.aim(NeedKey.UVI_DAY)
    z = solve_falling(lambda at: bench.near_value(patch(at), NeedKey.UVI_DAY), aim, *span)
    if z is None:
        return
    z = round(z, 2)
    if not extra and abs(z - tube.at_m[2]) < 0.0099:
        return
    yield Candidate(
        kind,
        tube,
        {**values, "from_m": tube.at_m[2], "to_m": z, "distance_m": z - bench.outcome.basking.z_m},
        effort,
        patch(z),
        f"The height at which the UV index at the basking animal's back is {aim:.1f}, by halving on the ultraviolet model, to whole centimetres.",
        abs(z - tube.at_m[2]),
    )


def _new_tube(bench: Bench) -> Iterator[Candidate]:
    """A tube for a box that has none: over about half of the length, at the basking end."""
    box = bench.request.box.inside_m
    name = bench.free_id("tube")
    for kind in ("t5_6", "t5_12"):
        lengths = [(w, m) for w, m in UV_LAMPS[kind].lengths if m <= box.length]
        span = _tube_span(bench, above=False)
        if not lengths or span is None:
            continue
        watts, length = min(lengths, key=lambda pair: abs(pair[1] - 0.55 * box.length))
        x = round(min(max(bench.outcome.basking.x_m, length / 2), box.length - length / 2), 3)
        thing = {"id": name, "kind": kind, "length_m": length, "power_w": watts, "hours_run": 100.0, **bench.day_times()}
        patch = _added(bench, thing, x)
        z = bench.solve_added(patch, NeedKey.UVI_DAY, span)
        if z is not None:
            yield Candidate(
                "uv_add",
                Thing.model_validate(patch(z)[0]["value"]),
                {"to_name": UV_LAMPS[kind].name, "to_length_m": length, "to_m": z, "distance_m": z - bench.outcome.basking.z_m},
                "buy",
                patch(z),
                "A tube over about half of the length at the basking end, at the height that brings the UV index to the band's middle.",
                1.0,
            )


def _added(bench: Bench, thing: dict[str, Any], x_m: float) -> Callable[[float], Patch]:
    """A new thing at a height still to be found, in the depth's line of the basking place."""

    def patch(z_m: float) -> Patch:
        return (
            {
                "op": "add",
                "path": "/things/-",
                "value": {**thing, "at_m": [x_m, round(bench.outcome.basking.y_m, 3), round(z_m, 2)]},
            },
        )

    return patch


def _new_lamp(bench: Bench) -> Iterator[Candidate]:
    """A basking lamp for a box that has none, at one end."""
    if (
        any(t.is_heater and not t.is_tube and t.lit_at(DAY_HOUR) for t in bench.request.things)
        or NeedKey.SURFACE_DAY not in bench.bands
    ):
        return
    box, ground = bench.request.box.inside_m, bench.request.box.ground.depth_m
    slab = next((t for t in bench.request.things if t.kind == "slab"), None)
    x = slab.at_m[0] if slab else round(box.length / 5, 2)
    low, high = ground + bench.outcome.back_m + MIN_LAMP_M + 0.03, box.height - HEADROOM_M
    if high - low < 0.02:
        return
    for watts in HEATERS["halogen_flood"].watts:
        thing = {"id": bench.free_id("lamp"), "kind": "halogen_flood", "power_w": watts, **bench.day_times()}
        patch = _added(bench, thing, x)
        z = bench.solve_added(patch, NeedKey.SURFACE_DAY, (low, high))
        if z is not None and low + 0.02 < z < high - 0.02:  # at an end it is too weak or too strong, not right
            yield Candidate(
                "heat_add",
                Thing.model_validate(patch(z)[0]["value"]),
                {"to_w": watts, "to_m": z, "distance_m": z - ground - (slab.size_m[2] if slab and slab.size_m else 0.0)},
                "buy",
                patch(z),
                "The powers a halogen flood is sold in, each at the height that brings the surface to the band's middle.",
                watts / 100,
            )


# --- night and size -----------------------------------------------------------------------------------------------------


def _night(bench: Bench) -> Iterator[Candidate]:
    """Dark heat on a thermostat for a room that is too cold at night."""
    if bench.wrong(NeedKey.AIR_NIGHT) >= 0:
        return
    aim = round(bench.aim(NeedKey.AIR_NIGHT))
    name = bench.free_id("night-heat")
    point = bench.outcome.basking
    box = bench.request.box.inside_m
    z = min(max(point.z_m + 0.25, box.height - 0.12), box.height - HEADROOM_M)
    room_x = min(point.x_m + 0.2, box.length - 0.1) if point.x_m < box.length / 2 else max(point.x_m - 0.2, 0.1)
    for watts in HEATERS["ceramic_emitter"].watts:
        thing = {
            "id": name, "kind": "ceramic_emitter", "at_m": [round(room_x, 2), round(point.y_m, 2), round(z, 2)], "power_w": watts,
            "on": "20:00", "off": "08:00", "thermostat": {"set_c": float(aim), "probe": "warm_air"},
        }  # fmt: skip
        patch: Patch = ({"op": "add", "path": "/things/-", "value": thing},)
        try:
            after = predict(apply_patch(bench.request, patch), bench.outcome.back_m).night_air().temp_c
        except DocumentError:
            return
        if after >= bench.bands[NeedKey.AIR_NIGHT].low_value:
            shown = Thing(id=name, kind="ceramic_emitter", at_m=(room_x, point.y_m, z), power_w=watts)
            yield Candidate(
                "night_heat",
                shown,
                {"to_w": watts, "set_c": float(aim)},
                "buy",
                patch,
                "The weakest ceramic emitter whose full power reaches the band at the room's night temperature, held by a thermostat.",
                watts / 100,
            )
            return


def _larger_box(bench: Bench) -> Iterator[Candidate]:
    """The box that the size rule asks for, with everything hung as far below the lid as it was or where it hung."""
    if bench.size.enough:
        return
    request, inside = bench.request, bench.request.box.inside_m
    needed = {side.name: side.needed_m for side in bench.size.sides}
    length = max(needed["length"], inside.length, inside.depth)
    depth = max(needed["depth"], min(inside.length, inside.depth))
    height = max(needed["height above the ground"] + request.box.ground.depth_m, inside.height)
    length, depth, height = (math.ceil(round(side * 20, 6)) / 20 for side in (length, depth, height))  # to the next 5 cm
    operations: list[dict[str, Any]] = [
        {"op": "add", "path": "/box/inside_m", "value": {"length": length, "depth": depth, "height": height}}
    ]
    lift = height - inside.height
    for thing in request.things:
        if thing.above_lid and lift > 0:
            operations.append(replace_at(request, thing, "at_m/2", round(thing.at_m[2] + lift, 3)))
    stand_in = request.things[0] if request.things else None
    if stand_in is None:
        return
    yield Candidate(
        "larger_box",
        stand_in,
        {"length_m": length, "depth_m": depth, "height_m": height},
        "buy",
        tuple(operations),
        f"{bench.size.rule} Sides to the next 5 cm.",
        3.0,
    )


# --- planning again and ranking -----------------------------------------------------------------------------------------


def safety(stuck: StuckOn, now: StuckOn, bands: dict[NeedKey, Band]) -> Safety:
    """A stuck thermostat on the hottest day against the animal's limits."""

    def limit(key: NeedKey) -> float | None:
        band = bands.get(key)
        return band.limit_high.value if band and band.limit_high else None

    surface, cool = limit(NeedKey.SURFACE_DAY), limit(NeedKey.COOL_AIR_DAY)
    over = [(surface, stuck.surface_c, now.surface_c), (cool, stuck.cool_air_c, now.cool_air_c)]
    return Safety(
        surface_c=stuck.surface_c,
        cool_air_c=stuck.cool_air_c,
        limit_surface_c=surface,
        limit_cool_air_c=cool,
        safe=not any(top is not None and value > top for top, value, _ in over),
        worse=any(top is not None and value > max(top, was + 0.05) for top, value, was in over),
    )


def _planned(bench: Bench, candidate: Candidate, before: Score) -> tuple[tuple[Any, ...], Change] | None:
    try:
        request = apply_patch(bench.request, candidate.patch)
    except DocumentError:
        return None
    outcome = predict(request, bench.outcome.back_m)
    after = {key: outcome.centre(key) for key in bench.bands}
    score = bench.score(after)
    grown = candidate.kind == "larger_box"
    puts_right = before.wrong - score.wrong + grown
    clears = before.beyond_limits > score.beyond_limits
    if not grown and (puts_right < 0 or score.beyond_limits > before.beyond_limits):
        return None
    gain = before.shortfall - score.shortfall
    if not grown and not clears and puts_right == 0 and gain < 0.1:
        return None
    stuck = stuck_on(outcome)
    risk = safety(stuck, bench.now_stuck, bench.bands)
    hot = after.get(NeedKey.SURFACE_DAY)
    if risk.worse or (hot is not None and hot > NOT_SURFACE_C):
        return None
    effects = []
    for key, value in after.items():
        was = bench.before[key]
        if value is None or (was is not None and abs(value - was) < 0.05):
            continue
        band = bench.bands[key]
        direction = "below" if value < band.low_value else "above" if value > band.high_value else "right"
        effects.append(
            Effect.model_validate({"need": key, "unit": NEEDS[key].unit, "before": was, "after": value, "direction": direction})
        )
    change = Change.model_validate(
        {
            "kind": candidate.kind,
            "thing_id": candidate.thing.id,
            "thing_name": thing_name(candidate.thing),
            "values": candidate.values,
            "effort": candidate.effort,
            "patch": candidate.patch,
            "effects": effects,
            "puts_right": puts_right,
            "clears_limit": clears,
            "safety": risk,
            "worked": _worked(candidate),
        }
    )
    rank = (not clears, -puts_right, round(score.shortfall, 1), _EFFORT[candidate.effort], candidate.size_of_move)
    return rank, change


def _worked(candidate: Candidate) -> Worked:
    """The number a change hangs on: a height, a power, a set point, a share."""
    units = {"to_m": "m", "to_w": "W", "set_c": "°C", "to_share": "1", "length_m": "m", "hours": "h", "to_length_m": "m"}
    name = next(name for name in units if name in candidate.values)
    inputs = tuple(
        Given(name=key, text=value) if isinstance(value, str) else Given(name=key, value=value, unit=units.get(key, "m"))
        for key, value in candidate.values.items()
    )
    return Worked(
        value=float(candidate.values[name]),
        unit=units[name],
        rule=candidate.rule,
        inputs=inputs,
        sources=(Source(kind="design choice", text="search on the model; ranking: docs/decisions.md, 11"),),
        would_change="A reading of the present box, the lamp's own beam angle, or the room's temperature.",
    )


def thing_name(thing: Thing) -> str:
    """What a thing is called, without its unit-bearing measures."""
    if thing.kind in UV_LAMPS:
        return UV_LAMPS[thing.kind].name
    if thing.kind in HEATERS:
        return HEATERS[thing.kind].name
    return {"slab": "basking stone" if thing.material != "softwood" else "basking wood", "hide": "hide", "dish": "water dish"}[
        thing.kind
    ]


def find_changes(bench: Bench) -> tuple[Change, ...]:
    """The ranked changes, at most five, no two of one kind on one thing."""
    before = bench.score(bench.before)
    candidates = [*_larger_box(bench), *_new_lamp(bench), *_heat(bench), *_uv(bench), *_night(bench)]
    ranked = sorted(filter(None, (_planned(bench, c, before) for c in candidates)), key=lambda pair: pair[0])
    chosen: list[Change] = []
    seen: set[tuple[str, str]] = set()
    for _, change in ranked:
        key = (change.kind, change.thing_id)
        if key not in seen:
            seen.add(key)
            chosen.append(change)
    return tuple(chosen[:MOST])
