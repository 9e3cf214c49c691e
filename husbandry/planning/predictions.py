"""Every predicted number of a plan, with its working."""

import math

from husbandry.box.equipment import MATERIALS, MESHES
from husbandry.climate.uv import Coverage, coverage
from husbandry.methods import find as find_method
from husbandry.methods import working
from husbandry.planning.humidity import humidity_predictions
from husbandry.planning.judge import Band
from husbandry.planning.light import light_predictions
from husbandry.planning.naming import thing_name
from husbandry.planning.patch import patch_of
from husbandry.planning.pool_water import water_prediction
from husbandry.planning.predict import Outcome, StuckOn
from husbandry.planning.request import Request
from husbandry.planning.wave import wave_predictions
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.worked import Z90, Given, Source, Worked

_HEAT_SOURCE = Source(
    kind="design choice", text="network of heat flows, checked against handbook solutions: docs/methods/heat.md"
)
_UV_SOURCE = Source(kind="design choice", text="line and lobe sources by class, checked against quadrature: docs/methods/uv.md")
_TOLD_SOURCE = Source(kind="measured", text="strengths fitted to readings of this enclosure: docs/methods/calibration.md")
_SPREAD = {
    "heat": "The interval carries what is not known of the lamp's beam (×/÷ 1.4, less with its data sheet's beam angle), of the panels and vents "
    "(×/÷ 1.3), of the mixing of the air (×/÷ 1.8) and of the room (±0.5 K).",
    "heat told": "The interval carries what the readings of this enclosure leave open, and what the model cannot say of one spot.",
    "uv told": "The interval carries the UV meter, and the shape of the field between where it was read and here.",
    "uv": "The interval spans what lamps of this class give (×/÷ 1.6 one way in three), with reflector, mesh and age.",
}


def _command(key: str) -> str:
    return f"plan FILE.json --number /predictions/{key}/value"


def _heat_inputs(outcome: Outcome, request: Request) -> list[Given]:
    """What goes into every temperature: lamps as they hang, panels, substrate, room."""
    given: list[Given] = []
    base = outcome.basking.z_m - outcome.back_m
    for lamp, duty in zip(outcome.day.enclosure.lamps, outcome.day.duties, strict=True):
        thing = request.thing(lamp.thing_id)
        given.append(Given(name=f"{thing_name(thing)}: power", value=lamp.power_w, unit="W"))
        if lamp.heater.beam_share:
            given.append(Given(name=f"{thing_name(thing)}: above the basking surface", value=lamp.z_m - base, unit="m"))
            if lamp.heater.beam_deg:
                given.append(
                    Given(name=f"{thing_name(thing)}: beam angle", value=lamp.beam_deg or lamp.heater.beam_deg, unit="°")
                )
        if lamp.above_lid:
            given.append(Given(name=f"{thing_name(thing)}: passed by the mesh", value=lamp.mesh_open, unit="1"))
        if lamp.thermostat:
            given.append(Given(name=f"{thing_name(thing)}: thermostat set to", value=lamp.thermostat.set_c, unit="°C"))
            given.append(Given(name=f"{thing_name(thing)}: share of its power", value=float(duty), unit="1"))
    inside, panels, lid, ground = request.box.inside_m, request.box.panels, request.box.lid, request.box.ground
    sides = {side: MATERIALS[getattr(panels, side)].label for side in ("front", "back", "left", "right", "bottom")}
    top = MATERIALS[lid.material].label
    given += [
        *(
            Given(name=f"enclosure, {side} inside", value=getattr(inside, side), unit="m")
            for side in ("length", "depth", "height")
        ),
        *(Given(name=side if side != "bottom" else "floor", text=label) for side, label in sides.items()),
        Given(name="lid", text=top if lid.mesh is None else f"{top}, {lid.mesh_share:.0%} {MESHES[lid.mesh].label}"),
        Given(name="ground", text=MATERIALS[ground.material].label),
        Given(name="depth of substrate", value=ground.depth_m, unit="m"),
        Given(name="room by day", value=request.room.day_c, unit="°C"),
        *_told(outcome),
    ]
    return given


def _told(outcome: Outcome) -> list[Given]:
    """Strengths as readings of this enclosure told them."""
    if not outcome.learned.warmth.keys:
        return []
    strengths = outcome.day.enclosure.strengths
    return [
        *(
            Given(name=f"{thing_name(outcome.request.thing(lamp.thing_id))}: beam, by readings", value=lamp.strength, unit="×")
            for lamp in outcome.day.enclosure.lamps
            if lamp.heater.beam_share
        ),
        Given(name="heat let out, by readings", value=strengths.envelope, unit="×"),
        Given(name="mixing along the enclosure, by readings", value=strengths.lengthwise, unit="×"),
        Given(name="mixing in the height, by readings", value=strengths.upright, unit="×"),
    ]


def predictions(
    outcome: Outcome, request: Request, profile: Profile, shared: dict[NeedKey, Band], *, needs_only: bool = False
) -> dict[str, Worked]:
    """All of them by name: temperatures, UV index and its coverage, the humidity floor, each thermostat's duty.

    `needs_only` leaves out what no need is judged by.
    """
    found: dict[str, Worked] = {}
    inputs = tuple(_heat_inputs(outcome, request))
    told = bool(outcome.learned.warmth.keys)
    spread_words = _SPREAD["heat told"] if told else f"{_SPREAD['heat']} A reading of this enclosure narrows it."
    sources = (_HEAT_SOURCE, _TOLD_SOURCE) if told else (_HEAT_SOURCE,)
    rules = {
        NeedKey.SURFACE_DAY: "Mean over 5 cm at the hottest reachable spot: steady balance of beam, convection, radiation and conduction into what lies below.",
        NeedKey.WARM_AIR_DAY: "Shielded air one sixth of the length from the warm end, at the animal's back, in steady state.",
        NeedKey.COOL_AIR_DAY: "Shielded air one sixth of the length from the cool end, at the animal's back, in steady state.",
    }
    for key, rule in rules.items():
        spread = outcome.spread(key)
        if spread is not None:
            found[key.value] = Worked(
                value=spread.temp_c, unit="°C", low=spread.low_c, high=spread.high_c, rule=rule, method="network of heat flows", inputs=inputs,
                sources=sources, would_change=spread_words, command=_command(key.value),
            )  # fmt: skip
    if not needs_only:
        middle = outcome.middle_air()
        found["middle_air_day"] = Worked(
            value=middle.temp_c, unit="°C", low=middle.low_c, high=middle.high_c, rule="Shielded air in the middle of the length, at the animal's back.",
            method="network of heat flows", inputs=inputs, sources=sources, would_change=spread_words, command=_command("middle_air_day"),
        )  # fmt: skip
        found |= _patch(outcome, profile, shared)
        found |= light_predictions(outcome, profile)
        found |= _felt(outcome)
    night = outcome.night_air()
    found[NeedKey.AIR_NIGHT.value] = Worked(
        value=night.temp_c, unit="°C", low=night.low_c, high=night.high_c,
        rule="Air at the warm end in the last hour of dark. Without night heat an enclosure has come down to its room by then."
        if outcome.night is None else "Air at the warm end at night, in steady state with the heat that is on.",
        method="network of heat flows", inputs=(Given(name="room by night", value=request.room.night_c, unit="°C"),),
        sources=(_HEAT_SOURCE,), would_change="The room at night, or dark heat on a thermostat.", command=_command(NeedKey.AIR_NIGHT.value),
    )  # fmt: skip
    if NeedKey.WATER_DAY in shared and outcome.swum is not None:
        found[NeedKey.WATER_DAY.value] = water_prediction(outcome.swum)
    if NeedKey.UVI_DAY in shared:
        found |= _uvi(outcome)
        if not needs_only:
            found |= _uv_shares(outcome, profile, shared[NeedKey.UVI_DAY])
    cool = outcome.centre(NeedKey.COOL_AIR_DAY)
    assert cool is not None
    found |= humidity_predictions(outcome, shared, needs_only=needs_only)
    if not needs_only:
        found |= wave_predictions(outcome.damp, shared)
    method = find_method("rh_elsewhere")
    arguments: dict[str, float | str] = {"rh_pct": request.room.rh_pct, "temp_c": request.room.day_c, "temp_there_c": cool}
    found["humidity_floor"] = working(method, arguments, outcome.humidity_floor_pct()).model_copy(
        update={
            "would_change": "Misting, damp substrate, water and a closed lid all lift it: say how the enclosure is kept damp, and its day is predicted."
        }
    )
    for lamp, duty in zip(outcome.day.enclosure.lamps, outcome.day.duties, strict=True):
        if lamp.thermostat and not needs_only:
            found[f"duty_{lamp.thing_id}"] = Worked(
                value=float(duty), unit="1", rule="Share of its power that holds the probe at the set point, 0 to 1.", method="network of heat flows",
                inputs=(Given(name="set point", value=lamp.thermostat.set_c, unit="°C"), Given(name="probe", text=lamp.thermostat.probe)),
                sources=(_HEAT_SOURCE,), command=_command(f"duty_{lamp.thing_id}"),
            )  # fmt: skip
    return found


def _felt(outcome: Outcome) -> dict[str, Worked]:
    """What each placed probe feels."""
    found: dict[str, Worked] = {}
    for thing in outcome.request.things:
        if thing.is_probe:
            spread = outcome.felt_by(thing)
            place = zip(("from the left", "from the front", "above the floor"), thing.at_m, strict=True)
            found[f"felt_{thing.id}"] = Worked(
                value=spread.temp_c, unit="°C", low=spread.low_c, high=spread.high_c,
                rule="What a probe feels there by day: the face that it lies on, or the air around it, shaded from the lamps.", method="network of heat flows",
                inputs=tuple(Given(name=name, value=value, unit="m") for name, value in place),
                sources=(_HEAT_SOURCE,), would_change="Where it hangs: a thermostat holds its probe, not the animal.", command=_command(f"felt_{thing.id}"),
            )  # fmt: skip
    return found


def _patch(outcome: Outcome, profile: Profile, shared: dict[NeedKey, Band]) -> dict[str, Worked]:
    """How long the warm patch is."""
    band = shared.get(NeedKey.SURFACE_DAY)
    patch = patch_of(outcome, band.low_value) if band is not None and band.low is not None else None
    if patch is None or band is None:
        return {}
    return {
        "warm_patch": Worked(
            value=patch.longest_m, unit="m",
            rule="Length of the patch around the hottest spot that is at least as warm as the band's lower end; within 3 K of the spot where the spot itself is colder.",
            inputs=(
                Given(name="lower end of the band", value=band.low_value, unit="°C"),
                Given(name="longer side of what it lies on", value=patch.slab_m, unit="m"),
                Given(name="the other way", value=min(patch.length_m, patch.depth_m), unit="m"),
            ),
            sources=(_HEAT_SOURCE,), would_change="More height with more power, a second lamp in a row, or a larger stone.",
            command=_command("warm_patch"),
        )
    }  # fmt: skip


def _uvi(outcome: Outcome) -> dict[str, Worked]:
    """The UV index at the basking animal's back."""
    reading = outcome.uvi()
    inputs: list[Given] = []
    for source in outcome.uv:
        lamp = source.lamp
        inputs += [
            Given(name="lamp", text=lamp.name),
            Given(name="what its class gives", text=f"UVI {lamp.uvi_low:g} to {lamp.uvi_high:g}, middle {lamp.uvi_mid:g}"),
            Given(name="at a distance of", value=lamp.ref_distance_m, unit="m"),
            Given(name="lamp above the animal's back", value=source.z_m - outcome.basking.z_m, unit="m"),
            Given(name="sideways from the lamp's middle", value=source.x_m - outcome.basking.x_m, unit="m"),
        ]
        if lamp.is_tube:
            inputs.append(Given(name="nominal length", value=source.length_m, unit="m"))
        if outcome.learned.uv.keys:
            inputs.append(Given(name="strength, by readings", value=source.strength, unit="×"))
        if source.reflector_gain != 1:
            inputs.append(Given(name="gain of the reflector below the tube", value=source.reflector_gain, unit="1"))
        if source.wire_share:
            inputs.append(Given(name="mesh: wire over pitch", value=source.wire_share, unit="1"))
        if source.hours_known:
            inputs.append(Given(name="left of its strength by age", value=source.age_share, unit="1"))
    spread = math.exp(Z90 * reading.ln_sd)
    told = (_TOLD_SOURCE,) if outcome.learned.uv.keys else ()
    words = _SPREAD["uv told"] if told else f"{_SPREAD['uv']} One reading with a UV meter narrows it more than anything else."
    return {
        NeedKey.UVI_DAY.value: Worked(
            value=reading.uvi, unit="UVI", low=reading.uvi / spread, high=reading.uvi * spread,
            rule="UV index on a horizontal receiver at the basking animal's back: sum over lamps of strength × geometry × mesh × age, less what stands in between.",
            method="tube_geometry", inputs=tuple(inputs), sources=(_UV_SOURCE, *(s.lamp.source for s in outcome.uv), *told),
            would_change=words, command=_command(NeedKey.UVI_DAY.value),
        )
    }  # fmt: skip


def _uv_shares(outcome: Outcome, profile: Profile, band: Band) -> dict[str, Worked]:
    """How much of the length lies in the band, and how much in shade."""
    found: dict[str, Worked] = {}
    low, high = band.low_value, band.high_value
    cover = (
        coverage(outcome.uv, outcome.box.length_m, outcome.basking.y_m, outcome.living_m, low, high, outcome.blockers)
        if outcome.uv
        else Coverage(0, 1, 0)
    )
    wanted = profile.uv.coverage
    found["uv_coverage"] = Worked(
        value=cover.in_band, unit="1", rule="Share of the length in which the UV index at the animal's back lies in the band, with the shadows of what stands there.",
        inputs=(Given(name="band", text=f"UVI {low:g} to {high:g}"), Given(name="wanted", text=f"{wanted[0]:.0%} to {wanted[1]:.0%} of the length")),
        sources=(_UV_SOURCE, *profile.sources(profile.uv.origin)), command=_command("uv_coverage"),
    )  # fmt: skip
    found["uv_shade"] = Worked(
        value=cover.shade, unit="1", rule="Share of the length under 15 % of the band's middle, with the shadows of what stands there.",
        sources=(_UV_SOURCE,), command=_command("uv_shade"),
    )  # fmt: skip
    return found


def _stuck(value: float, request: Request, what: str) -> Worked:
    key = "stuck_on_surface" if what.startswith("surface") else "stuck_on_cool_air"
    return Worked(
        value=value, unit="°C", rule=f"Steady {what} with every heater at full power and the room at its summer maximum.", method="network of heat flows",
        inputs=(Given(name="room, summer maximum", value=request.room.summer_max_c, unit="°C"),), sources=(_HEAT_SOURCE,),
        would_change="A weaker lamp, more height, or an independent cut-out.", command=_command(key),
    )  # fmt: skip


def stuck_predictions(stuck: StuckOn, request: Request) -> dict[str, Worked]:
    """What a stuck thermostat would do on the hottest day."""
    return {
        "stuck_on_surface": _stuck(stuck.surface_c, request, "surface under the lamp"),
        "stuck_on_cool_air": _stuck(stuck.cool_air_c, request, "cool-end air"),
    }
