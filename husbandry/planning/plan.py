"""`plan(request)`: a pure function from a request to a plan."""

import datetime as dt
import math

from husbandry import CORE_VERSION
from husbandry.box.equipment import HEATERS, MATERIALS, MESHES, UV_LAMPS
from husbandry.box.sizing import judge_size
from husbandry.climate.uv import Coverage, coverage
from husbandry.diet.calendar import four_weeks
from husbandry.methods import find as find_method
from husbandry.methods import working
from husbandry.planning.changes import Bench, find_changes, safety, thing_name
from husbandry.planning.judge import Band, bands, state
from husbandry.planning.predict import DAY_HOUR, NIGHT_HOUR, Outcome, box_of, predict, tube_watts
from husbandry.planning.request import Animal, Request, Thing
from husbandry.planning.result import AnimalFound, BaskingPlace, NeedState, Note, Plan
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile, find
from husbandry.species.stages import DAYS_PER_MONTH, stage_of
from husbandry.worked import Z90, Given, Source, Worked

_HEAT_SOURCE = Source(
    kind="design choice", text="network of heat flows, checked against handbook solutions: docs/methods/heat.md"
)
_UV_SOURCE = Source(kind="design choice", text="line and lobe sources by class, checked against quadrature: docs/methods/uv.md")
_SPREAD = {
    "heat": "The interval carries what is not known of the lamp's beam (×/÷ 1.4, less with its data sheet's beam angle), of the panels and vents "
    "(×/÷ 1.3), of the mixing of the air (×/÷ 1.8) and of the room (±0.5 K).",
    "uv": "The interval spans what lamps of this class give (×/÷ 1.6 one way in three), with reflector, mesh and age.",
}


def _typical(low: float | None, high: float | None) -> float:
    ends = [end for end in (low, high) if end]
    return math.exp(sum(math.log(end) for end in ends) / len(ends))


def _animal(animal: Animal, profile: Profile, request: Request, outcome_hint: float) -> tuple[AnimalFound, float]:
    """What is known of an animal, without its diet; and its body length [m]."""
    stage = stage_of(
        profile, today=request.today, born_on=animal.born_on, mass_g=animal.mass_g, length_mm=animal.length_mm or None
    )
    spec = profile.stage(stage.slug)
    kind = profile.body.length_kind
    length = animal.length_mm.get(kind)
    typical_m = _typical(spec.length_mm[kind].low, spec.length_mm[kind].high) / 1000
    mass = animal.mass_g or _typical(spec.mass_g.low, spec.mass_g.high)
    length_m = length / 1000 if length else typical_m
    today = request.today
    diet = four_weeks(
        profile,
        stage.slug,
        mass_g=mass,
        body_length_m=length_m,
        today=today,
        anchor=animal.fed_on if animal.fed_on and animal.fed_on <= today else today,
        uvb=any(t.is_uv for t in request.things),
        body_c=outcome_hint,
        schools=animal.schools,
    )
    return (
        AnimalFound(
            name=animal.name,
            species=profile.species,
            common_name=profile.name,
            stage=stage,
            mass_g=mass,
            mass_known=animal.mass_g is not None,
            length_m=length_m,
            length_known=length is not None,
            age_months=(today - animal.born_on).days / DAYS_PER_MONTH if animal.born_on else None,
            diet=diet,
        ),
        length_m,
    )


def _body_length(animal: Animal, profile: Profile, today: dt.date) -> float:
    kind = profile.body.length_kind
    if kind in animal.length_mm:
        return animal.length_mm[kind] / 1000
    stage = stage_of(profile, today=today, born_on=animal.born_on, mass_g=animal.mass_g, length_mm=animal.length_mm or None)
    span = profile.stage(stage.slug).length_mm[kind]
    return _typical(span.low, span.high) / 1000


def plan(request: Request) -> Plan:
    """Plan one box: needs, predictions, verdicts, changes, food and notes.

    A pure function: the same request gives the same plan, whatever the clock says.
    """
    return plan_with_outcome(request)[0]


def plan_with_outcome(request: Request) -> tuple[Plan, Outcome]:
    """A plan and the physics behind it, for whoever draws the fields."""
    profiles = {animal.species: find(animal.species) for animal in request.animals}
    lengths = [_body_length(animal, profiles[animal.species], request.today) for animal in request.animals]
    largest = max(range(len(lengths)), key=lambda n: lengths[n])
    lead, lead_profile = request.animals[largest], profiles[request.animals[largest].species]
    back_m = lead_profile.body.back_height_bl * lengths[largest]
    outcome = predict(request, back_m)

    found = tuple(_animal(a, profiles[a.species], request, _body_c(outcome, request))[0] for a in request.animals)
    shared = bands(found, profiles, tuple(a.schools for a in request.animals))
    predictions = _predictions(outcome, request, lead_profile, lead, shared)
    states = tuple(
        state(
            band,
            predictions.get(key.value),
            outcome.uvi().ln_sd if key is NeedKey.UVI_DAY else 0.0,
            request,
            predictions.get("humidity_floor") if key is NeedKey.HUMIDITY_DAY else None,
        )
        for key, band in shared.items()
    )
    size = judge_size(box_of(request), lead_profile, found[largest].stage.slug, lengths[largest], lead.schools)
    bench = Bench(request, outcome, shared, states, size)
    stuck = bench.now_stuck
    predictions |= {
        "stuck_on_surface": _stuck(stuck.surface_c, request, "surface under the lamp"),
        "stuck_on_cool_air": _stuck(stuck.cool_air_c, request, "cool-end air"),
    }
    made = Plan(
        core_version=CORE_VERSION,
        profiles={name: profile.hash for name, profile in profiles.items()},
        now=request.now,
        revision=request.revision,
        animals=found,
        needs=states,
        predictions=predictions,
        size=size,
        changes=find_changes(bench),
        notes=_notes(request, outcome, profiles, found, states, bench),
        basking=BaskingPlace(x_m=outcome.basking.x_m, y_m=outcome.basking.y_m, z_m=outcome.basking.z_m),
    )
    return made, outcome


def _body_c(outcome: Outcome, request: Request) -> float:
    """Mean temperature the body can have over day and night, for the energy check: mid air by day, night air by night [°C]."""
    timers = [t for t in request.things if t.on and t.off and HEATERS.get(t.kind) and HEATERS[t.kind].emits_light]
    hours = sum(timers[0].lit_at(h / 4) for h in range(96)) / 4 if timers else 12.0
    warm, cool = outcome.centre(NeedKey.WARM_AIR_DAY), outcome.centre(NeedKey.COOL_AIR_DAY)
    assert warm is not None and cool is not None
    return (hours * (warm + cool) / 2 + (24 - hours) * outcome.night_air().temp_c) / 24


# --- predictions with their working -------------------------------------------------------------------------------------


def _command(key: str) -> str:
    return f"plan FILE.json --number /predictions/{key}/value"


def _heat_inputs(outcome: Outcome, request: Request) -> list[Given]:
    """What goes into every temperature: lamps as they hang, panels, ground, room."""
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
        *(Given(name=f"box, {side} inside", value=getattr(inside, side), unit="m") for side in ("length", "depth", "height")),
        *(Given(name=side if side != "bottom" else "floor", text=label) for side, label in sides.items()),
        Given(name="lid", text=top if lid.mesh is None else f"{top}, {lid.mesh_share:.0%} {MESHES[lid.mesh].label}"),
        Given(name="ground", text=MATERIALS[ground.material].label),
        Given(name="depth of ground", value=ground.depth_m, unit="m"),
        Given(name="room by day", value=request.room.day_c, unit="°C"),
    ]
    return given


def _predictions(
    outcome: Outcome, request: Request, profile: Profile, lead: Animal, shared: dict[NeedKey, Band]
) -> dict[str, Worked]:
    found: dict[str, Worked] = {}
    inputs = tuple(_heat_inputs(outcome, request))
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
                sources=(_HEAT_SOURCE,), would_change=f"{_SPREAD['heat']} A reading of this box narrows it.", command=_command(key.value),
            )  # fmt: skip
    middle = outcome.middle_air()
    found["middle_air_day"] = Worked(
        value=middle.temp_c, unit="°C", low=middle.low_c, high=middle.high_c, rule="Shielded air in the middle of the length, at the animal's back.",
        method="network of heat flows", inputs=inputs, sources=(_HEAT_SOURCE,), would_change=_SPREAD["heat"], command=_command("middle_air_day"),
    )  # fmt: skip
    night = outcome.night_air()
    found[NeedKey.AIR_NIGHT.value] = Worked(
        value=night.temp_c, unit="°C", low=night.low_c, high=night.high_c,
        rule="Air at the warm end in the last hour of dark. Without night heat a box has come down to its room by then."
        if outcome.night is None else "Air at the warm end at night, in steady state with the heat that is on.",
        method="network of heat flows", inputs=(Given(name="room by night", value=request.room.night_c, unit="°C"),),
        sources=(_HEAT_SOURCE,), would_change="The room at night, or dark heat on a thermostat.", command=_command(NeedKey.AIR_NIGHT.value),
    )  # fmt: skip
    if NeedKey.UVI_DAY in shared:
        found |= _uv_predictions(outcome, request, profile, shared[NeedKey.UVI_DAY])
    cool = outcome.centre(NeedKey.COOL_AIR_DAY)
    assert cool is not None
    method = find_method("rh_elsewhere")
    arguments: dict[str, float | str] = {"rh_pct": request.room.rh_pct, "temp_c": request.room.day_c, "temp_there_c": cool}
    found["humidity_floor"] = working(method, arguments, outcome.humidity_floor_pct()).model_copy(
        update={"would_change": "Misting, damp ground, water and a closed lid all lift it; what they add is not predicted yet."}
    )
    for lamp, duty in zip(outcome.day.enclosure.lamps, outcome.day.duties, strict=True):
        if lamp.thermostat:
            found[f"duty_{lamp.thing_id}"] = Worked(
                value=float(duty), unit="1", rule="Share of its power that holds the probe at the set point, 0 to 1.", method="network of heat flows",
                inputs=(Given(name="set point", value=lamp.thermostat.set_c, unit="°C"), Given(name="probe", text=lamp.thermostat.probe)),
                sources=(_HEAT_SOURCE,), command=_command(f"duty_{lamp.thing_id}"),
            )  # fmt: skip
    return found


def _uv_predictions(outcome: Outcome, request: Request, profile: Profile, band: Band) -> dict[str, Worked]:
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
        if source.reflector_gain != 1:
            inputs.append(Given(name="gain of the reflector below the tube", value=source.reflector_gain, unit="1"))
        if source.wire_share:
            inputs.append(Given(name="mesh: wire over pitch", value=source.wire_share, unit="1"))
        if source.hours_known:
            inputs.append(Given(name="left of its strength by age", value=source.age_share, unit="1"))
    spread = math.exp(Z90 * reading.ln_sd)
    found = {
        NeedKey.UVI_DAY.value: Worked(
            value=reading.uvi, unit="UVI", low=reading.uvi / spread, high=reading.uvi * spread,
            rule="UV index on a horizontal receiver at the animal's back in the basking spot: sum over lamps of strength × geometry × mesh × age.",
            method="tube_geometry", inputs=tuple(inputs), sources=(_UV_SOURCE, *(s.lamp.source for s in outcome.uv)),
            would_change=f"{_SPREAD['uv']} One reading with a UV meter narrows it more than anything else.", command=_command(NeedKey.UVI_DAY.value),
        )
    }  # fmt: skip
    low, high = band.low_value, band.high_value
    cover = (
        coverage(outcome.uv, outcome.box.length_m, outcome.basking.y_m, outcome.box.ground_depth_m + outcome.back_m, low, high)
        if outcome.uv
        else Coverage(0, 1, 0)
    )
    wanted = profile.uv.coverage
    found["uv_coverage"] = Worked(
        value=cover.in_band, unit="1", rule="Share of the box's length in which the UV index at the animal's back lies in the band, over level ground.",
        inputs=(Given(name="band", text=f"UVI {low:g} to {high:g}"), Given(name="wanted", text=f"{wanted[0]:.0%} to {wanted[1]:.0%} of the length")),
        sources=(_UV_SOURCE, *profile.sources(profile.uv.origin)), command=_command("uv_coverage"),
    )  # fmt: skip
    found["uv_shade"] = Worked(
        value=cover.shade, unit="1", rule="Share of the length under 15 % of the band's middle, before any shadow of hides or branches is counted.",
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


# --- notes --------------------------------------------------------------------------------------------------------------


def _notes(
    request: Request,
    outcome: Outcome,
    profiles: dict[str, Profile],
    animals: tuple[AnimalFound, ...],
    states: tuple[NeedState, ...],
    bench: Bench,
) -> tuple[Note, ...]:
    found: list[Note] = []
    risk = safety(bench.now_stuck, bench.now_stuck, bench.bands)
    if not risk.safe:
        text = "With a thermostat stuck on, or none, on the hottest day this box passes the animal's limit. Fit an independent cut-out and watch it in a heat wave."
        values = {"surface_c": risk.surface_c, "cool_air_c": risk.cool_air_c}
        found.append(Note(slug="stuck on", severity="danger", text=text, values=values))
    for thing in request.things:
        found += _thing_notes(thing, outcome)
    for animal in animals:
        for finding in animal.stage.findings:
            found.append(
                Note(slug=finding.slug, severity="care", text=f"{animal.name}: {finding.text}" if animal.name else finding.text)
            )
        if animal.diet.energy_verdict != "inside":
            words = {
                "below": "less energy than such an animal is likely to spend",
                "above": "more energy than such an animal is likely to spend",
            }
            found.append(
                Note(
                    slug="energy",
                    severity="care",
                    text=f"The planned meals hold {words[animal.diet.energy_verdict]}: weigh often.",
                )
            )
    if len(request.animals) > 1 and any(
        (profiles[a.species].company_max.high or 1) < len(request.animals) for a in request.animals
    ):
        found.append(
            Note(slug="company", severity="danger", text="This species is kept alone: animals kept together maim each other.")
        )
    hot = outcome.centre(NeedKey.SURFACE_DAY)
    if hot is not None and hot > 50:
        found.append(
            Note(
                slug="contact",
                severity="care",
                text="Above 50 °C a surface can burn skin on contact: guard what can be climbed.",
                values={"surface_c": hot},
            )
        )
    for state_ in states:
        if state_.verdict.limit == "unproven":
            found.append(
                Note(
                    slug=f"unproven {state_.key}",
                    severity="care",
                    text=f"{state_.name}: the prediction's interval reaches past the animal's limit. Measure before it moves in.",
                )
            )
        if state_.conflict:
            found.append(Note(slug=f"conflict {state_.key}", severity="danger", text=f"{state_.name}: {state_.conflict}"))
    found += _standing(request)
    for profile in profiles.values():
        found += [Note(slug="species", severity="care", text=caution.text) for caution in profile.cautions]
        share = profile.memory_share()
        text = (
            f"What is known of {profile.species}: {share:.0%} of its values lean on memory of the literature, "
            "the rest on common practice; none was checked against an opened source."
        )
        found.append(Note(slug="origins", severity="fact", text=text, values={"memory_share": share}))
    return tuple({(note.slug, note.text): note for note in found}.values())  # two animals of a species share its cautions


def _thing_notes(thing: Thing, outcome: Outcome) -> list[Note]:
    found = []
    if thing.kind in HEATERS and not thing.is_uv and thing.thermostat is None:
        found.append(
            Note(
                slug="no thermostat",
                severity="care",
                text=f"The {thing_name(thing)} has no thermostat: nothing holds it back on a warm day.",
            )
        )
    light = thing.is_tube or thing.is_uv or (thing.kind in HEATERS and HEATERS[thing.kind].emits_light)
    if light and thing.lit_at(NIGHT_HOUR):
        found.append(
            Note(
                slug="light at night",
                severity="care",
                text=f"The {thing_name(thing)} is lit at night: no light at night, give it a timer.",
            )
        )
    if thing.is_uv and thing.hours_run is not None and thing.hours_run > UV_LAMPS[thing.kind].t70_h:
        text = f"The {thing_name(thing)} has burned longer than such lamps keep 70 % of their ultraviolet: measure it, or replace it."
        found.append(Note(slug="old lamp", severity="care", text=text, values={"hours": thing.hours_run}))
    if (thing.is_heater or thing.is_uv) and not thing.above_lid and thing.lit_at(DAY_HOUR):
        gap = thing.at_m[2] - outcome.basking.z_m
        near = abs(thing.at_m[0] - outcome.basking.x_m) < 0.3
        if near and gap < 0.15:
            found.append(
                Note(
                    slug="too close",
                    severity="danger",
                    text=f"The {thing_name(thing)} is within reach of the animal's back: guard it or raise it.",
                    values={"gap_m": gap},
                )
            )
    if thing.is_tube and thing.power_w is not None and abs(thing.power_w - tube_watts(thing)) > 6:
        text = f"A tube of this length usually has {tube_watts(thing):g} W: check what is fitted."
        found.append(Note(slug="tube power", severity="care", text=text))
    return found


def _standing(request: Request) -> list[Note]:
    """The usual caution wherever something is heated or lit."""
    if not any(t.is_heater or t.is_tube for t in request.things):
        return []
    return [
        Note(
            slug="fire",
            severity="care",
            text="Holder rated for the lamp's power and heat, clear of plastic, timber and cloth; guard every heater the animal can touch; a smoke alarm in the room.",
        ),
        Note(
            slug="electricity",
            severity="care",
            text="Residual-current protection, drip loops, plug-in fittings only; fixed wiring is for a licensed electrician. Unplug before reaching in.",
        ),
        Note(
            slug="prove",
            severity="care",
            text="Prove the box empty for a day or two with an infrared thermometer, shielded probes at both ends and a second, independent thermometer.",
        ),
    ]
