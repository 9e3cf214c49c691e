"""Every predicted number of a plan, with its derivation."""

import math

from husbandry.climate.uv import UvCoverage, coverage
from husbandry.derivation import Z90, Derivation, DerivationInput, Source, named_text, named_value
from husbandry.documents.request import Request
from husbandry.enclosure.equipment import MATERIALS, MESHES
from husbandry.errors import ImpossibleStateError
from husbandry.methods import derivation_of
from husbandry.methods import find as find_method
from husbandry.predict.daily_humidity import wave_predictions
from husbandry.predict.humidity import humidity_predictions
from husbandry.predict.light import light_predictions
from husbandry.predict.pool_water import water_prediction
from husbandry.predict.predict import FailedOn, Prediction, uv_of_day
from husbandry.predict.warm_patch import patch_of
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.targets.verdicts import TargetRange

_HEAT_SOURCE = Source(
    kind="design choice",
    text="network of heat flows, checked against handbook solutions: docs/methods/heat.md",
)
_UV_SOURCE = Source(
    kind="design choice",
    text="line and lobe sources by class, checked against quadrature: docs/methods/uv.md",
)
_TOLD_SOURCE = Source(
    kind="measured",
    text="strengths fitted to readings of this enclosure: docs/methods/calibration.md",
)
_SPREAD = {
    "heat": (
        "The interval carries what is not known of the lamp's beam (×/÷ 1.4, less with its data"
        " sheet's beam angle), of the panels and vents (×/÷ 1.3), of the mixing of the air (×/÷"
        " 1.8) and of the room (±0.5 K)."
    ),
    "heat told": (
        "The interval carries what the readings of this enclosure leave open, and what the model"
        " cannot say of one spot."
    ),
    "uv told": (
        "The interval carries the UV meter, and the shape of the field between where it was read"
        " and here."
    ),
    "uv": (
        "The interval spans what lamps of this class give (×/÷ 1.6 one way in three), with"
        " reflector, mesh and age."
    ),
}


def _command(key: str) -> str:
    return f"plan FILE.json --number /predictions/{key}/value"


def _heat_inputs(prediction: Prediction, request: Request) -> list[DerivationInput]:
    """What goes into every temperature: lamps as they hang, panels, substrate, room."""
    given: list[DerivationInput] = []
    base = prediction.basking.z_m - prediction.back_m
    for lamp, duty in zip(prediction.day.heat_model.lamps, prediction.day.duties, strict=True):
        item = request.item(lamp.item_id)
        given.append(named_value(f"{item.name}: power", lamp.power_w, "W"))
        if lamp.heater.beam_share:
            given.append(
                named_value(f"{item.name}: above the basking surface", lamp.z_m - base, "m")
            )
            if lamp.heater.beam_deg:
                given.append(
                    named_value(
                        f"{item.name}: beam angle", lamp.beam_deg or lamp.heater.beam_deg, "°"
                    )
                )
        if lamp.above_lid:
            given.append(named_value(f"{item.name}: passed by the mesh", lamp.mesh_open, "1"))
        if lamp.thermostat:
            given.append(
                named_value(f"{item.name}: thermostat set to", lamp.thermostat.set_c, "°C")
            )
            given.append(named_value(f"{item.name}: share of its power", float(duty), "1"))
    inside, panels, lid, substrate = (
        request.enclosure.inside_m,
        request.enclosure.panels,
        request.enclosure.lid,
        request.enclosure.substrate,
    )
    sides = {
        side: MATERIALS[getattr(panels, side)].label
        for side in ("front", "back", "left", "right", "bottom")
    }
    top = MATERIALS[lid.material].label
    given += [
        *(
            named_value(f"enclosure, {side} inside", getattr(inside, side), "m")
            for side in ("length", "depth", "height")
        ),
        *(
            named_text(side if side != "bottom" else "floor", label)
            for side, label in sides.items()
        ),
        named_text(
            "lid",
            top if lid.mesh is None else f"{top}, {lid.mesh_share:.0%} {MESHES[lid.mesh].label}",
        ),
        named_text("substrate", MATERIALS[substrate.material].label),
        named_value("depth of substrate", substrate.depth_m, "m"),
        named_value("room by day", request.room.day_c, "°C"),
        *_told(prediction),
    ]

    return given


def _told(prediction: Prediction) -> list[DerivationInput]:
    """Strengths as readings of this enclosure told them."""
    if not prediction.learned.warmth.keys:
        return []
    strengths = prediction.day.heat_model.strengths

    return [
        *(
            named_value(
                f"{prediction.request.item(lamp.item_id).name}: beam, by readings",
                lamp.strength,
                "×",
            )
            for lamp in prediction.day.heat_model.lamps
            if lamp.heater.beam_share
        ),
        named_value("heat let out, by readings", strengths.envelope, "×"),
        named_value("mixing along the enclosure, by readings", strengths.lengthwise, "×"),
        named_value("mixing in the height, by readings", strengths.upright, "×"),
    ]


def predictions(
    prediction: Prediction,
    request: Request,
    profile: Profile,
    shared: dict[NeedKey, TargetRange],
    *,
    needs_only: bool = False,
) -> dict[str, Derivation]:
    """All of them by name: temperatures, UV index and its coverage, the humidity floor, each
    thermostat's duty.

    `needs_only` leaves out what no need is judged by.
    """
    found: dict[str, Derivation] = {}
    inputs = tuple(_heat_inputs(prediction, request))
    told = bool(prediction.learned.warmth.keys)
    spread_words = (
        _SPREAD["heat told"]
        if told
        else f"{_SPREAD['heat']} A reading of this enclosure narrows it."
    )
    sources = (_HEAT_SOURCE, _TOLD_SOURCE) if told else (_HEAT_SOURCE,)
    rules = {
        NeedKey.SURFACE_DAY: (
            "Mean over 5 cm at the hottest reachable spot: steady balance of beam, convection,"
            " radiation and conduction into what lies below."
        ),
        NeedKey.WARM_AIR_DAY: (
            "Shielded air one sixth of the length from the warm end, at the animal's back, in"
            " steady state."
        ),
        NeedKey.COOL_AIR_DAY: (
            "Shielded air one sixth of the length from the cool end, at the animal's back, in"
            " steady state."
        ),
    }
    for key, rule in rules.items():
        spread = prediction.spread(key)
        if spread is not None:
            found[key.value] = Derivation(
                value=spread.temp_c,
                unit="°C",
                low=spread.low_c,
                high=spread.high_c,
                rule=rule,
                method="network of heat flows",
                inputs=inputs,
                sources=sources,
                would_change=spread_words,
                command=_command(key.value),
            )
    if not needs_only:
        middle = prediction.middle_air()
        found["middle_air_day"] = Derivation(
            value=middle.temp_c,
            unit="°C",
            low=middle.low_c,
            high=middle.high_c,
            rule="Shielded air in the middle of the length, at the animal's back.",
            method="network of heat flows",
            inputs=inputs,
            sources=sources,
            would_change=spread_words,
            command=_command("middle_air_day"),
        )
        found |= _patch(prediction, profile, shared)
        found |= light_predictions(prediction, profile)
        found |= _felt(prediction)
    night = prediction.night_air()
    found[NeedKey.AIR_NIGHT.value] = Derivation(
        value=night.temp_c,
        unit="°C",
        low=night.low_c,
        high=night.high_c,
        rule=(
            "Air at the warm end in the last hour of dark. Without night heat an enclosure has come"
            " down to its room by then."
            if prediction.night is None
            else "Air at the warm end at night, in steady state with the heat that is on."
        ),
        method="network of heat flows",
        inputs=(named_value("room by night", request.room.night_c, "°C"),),
        sources=(_HEAT_SOURCE,),
        would_change="The room at night, or dark heat on a thermostat.",
        command=_command(NeedKey.AIR_NIGHT.value),
    )
    if NeedKey.WATER_DAY in shared and prediction.pool_day is not None:
        found[NeedKey.WATER_DAY.value] = water_prediction(prediction.pool_day)
    if NeedKey.UVI_DAY in shared:
        found |= _uvi(prediction)
        if not needs_only:
            found |= _uv_shares(prediction, profile, shared[NeedKey.UVI_DAY])
    cool = prediction.centre(NeedKey.COOL_AIR_DAY)
    if cool is None:
        raise ImpossibleStateError("missing: cool")
    found |= humidity_predictions(prediction, shared, needs_only=needs_only)
    if not needs_only:
        found |= wave_predictions(prediction.damp, shared)
    method = find_method("rh_elsewhere")
    arguments: dict[str, float | str] = {
        "rh_pct": request.room.rh_pct,
        "temp_c": request.room.day_c,
        "temp_there_c": cool,
    }
    found["humidity_floor"] = derivation_of(
        method, arguments, prediction.humidity_floor_pct()
    ).model_copy(
        update={
            "would_change": (
                "Misting, damp substrate, water and a closed lid all lift it: say how the enclosure"
                " is kept damp, and its day is predicted."
            )
        }
    )
    for lamp, duty in zip(prediction.day.heat_model.lamps, prediction.day.duties, strict=True):
        if lamp.thermostat and not needs_only:
            found[f"routine_{lamp.item_id}"] = Derivation(
                value=float(duty),
                unit="1",
                rule="Share of its power that holds the probe at the set point, 0 to 1.",
                method="network of heat flows",
                inputs=(
                    named_value("set point", lamp.thermostat.set_c, "°C"),
                    named_text("probe", lamp.thermostat.probe),
                ),
                sources=(_HEAT_SOURCE,),
                command=_command(f"routine_{lamp.item_id}"),
            )

    return found


def _felt(prediction: Prediction) -> dict[str, Derivation]:
    """What each placed probe feels."""
    found: dict[str, Derivation] = {}
    for item in prediction.request.items:
        if item.is_probe:
            spread = prediction.felt_by(item)
            place = zip(
                ("from the left", "from the front", "above the floor"), item.at_m, strict=True
            )
            found[f"felt_{item.id}"] = Derivation(
                value=spread.temp_c,
                unit="°C",
                low=spread.low_c,
                high=spread.high_c,
                rule=(
                    "What a probe feels there by day: the face that it lies on, or the air around"
                    " it, shaded from the lamps."
                ),
                method="network of heat flows",
                inputs=tuple(named_value(name, value, "m") for name, value in place),
                sources=(_HEAT_SOURCE,),
                would_change="Where it hangs: a thermostat holds its probe, not the animal.",
                command=_command(f"felt_{item.id}"),
            )

    return found


def _patch(
    prediction: Prediction, profile: Profile, shared: dict[NeedKey, TargetRange]
) -> dict[str, Derivation]:
    """How long the warm patch is."""
    target = shared.get(NeedKey.SURFACE_DAY)
    patch = (
        patch_of(prediction, target.low_value)
        if target is not None and target.low is not None
        else None
    )
    if patch is None or target is None:
        return {}

    return {
        "warm_patch": Derivation(
            value=patch.longest_m,
            unit="m",
            rule=(
                "Length of the patch around the hottest spot that is at least as warm as the target range's"
                " lower end; within 3 K of the spot where the spot itself is colder."
            ),
            inputs=(
                named_value("lower end of the target range", target.low_value, "°C"),
                named_value("longer side of what it lies on", patch.slab_m, "m"),
                named_value("the other way", min(patch.length_m, patch.depth_m), "m"),
            ),
            sources=(_HEAT_SOURCE,),
            would_change="More height with more power, a second lamp in a row, or a larger stone.",
            command=_command("warm_patch"),
        )
    }


def _uvi(prediction: Prediction) -> dict[str, Derivation]:
    """The UV index at the basking animal's back."""
    reading = prediction.uvi()
    inputs: list[DerivationInput] = []
    for source in prediction.uv:
        lamp = source.lamp
        inputs += [
            named_text("lamp", lamp.name),
            named_text(
                "what its class gives",
                f"UVI {lamp.uvi_low:g} to {lamp.uvi_high:g}, middle {lamp.uvi_mid:g}",
            ),
            named_value("at a distance of", lamp.ref_distance_m, "m"),
            named_value("lamp above the animal's back", source.z_m - prediction.basking.z_m, "m"),
            named_value(
                "sideways from the lamp's middle", source.x_m - prediction.basking.x_m, "m"
            ),
        ]
        if lamp.is_tube:
            inputs.append(named_value("nominal length", source.length_m, "m"))
        if prediction.learned.uv.keys:
            inputs.append(named_value("strength, by readings", source.strength, "×"))
        if source.reflector_gain != 1:
            inputs.append(
                named_value("gain of the reflector below the tube", source.reflector_gain, "1")
            )
        if source.wire_share:
            inputs.append(named_value("mesh: wire over pitch", source.wire_share, "1"))
        if source.hours_known:
            inputs.append(named_value("left of its strength by age", source.age_share, "1"))
    spread = math.exp(Z90 * reading.ln_sd)
    told = (_TOLD_SOURCE,) if prediction.learned.uv.keys else ()
    words = (
        _SPREAD["uv told"]
        if told
        else f"{_SPREAD['uv']} One reading with a UV meter narrows it more than anything else."
    )

    return {
        NeedKey.UVI_DAY.value: Derivation(
            value=reading.uvi,
            unit="UVI",
            low=reading.uvi / spread,
            high=reading.uvi * spread,
            rule=(
                "UV index on a horizontal receiver at the basking animal's back: sum over lamps of"
                " strength × geometry × mesh × age, less what stands in between."
            ),
            method="tube_geometry",
            inputs=tuple(inputs),
            sources=(_UV_SOURCE, *(s.lamp.source for s in prediction.uv), *told),
            would_change=words,
            command=_command(NeedKey.UVI_DAY.value),
        )
    }


def _uv_shares(
    prediction: Prediction, profile: Profile, target: TargetRange
) -> dict[str, Derivation]:
    """How much of the length lies in the target range, and how much in shade."""
    found: dict[str, Derivation] = {}
    low = target.low_value
    high = target.high_value
    cover = (
        coverage(
            prediction.uv,
            prediction.enclosure.length_m,
            prediction.basking.y_m,
            prediction.living_m,
            low,
            high,
            prediction.blockers,
        )
        if prediction.uv
        else UvCoverage(0, 1, 0)
    )
    wanted = profile.uv.coverage
    found["uv_coverage"] = Derivation(
        value=cover.in_range,
        unit="1",
        rule=(
            "Share of the length in which the UV index at the animal's back lies in the target range, with"
            " the shadows of what stands there."
        ),
        inputs=(
            named_text("target", f"UVI {low:g} to {high:g}"),
            named_text("wanted", f"{wanted[0]:.0%} to {wanted[1]:.0%} of the length"),
        ),
        sources=(_UV_SOURCE, *profile.sources(profile.uv.origin)),
        command=_command("uv_coverage"),
    )
    found["uv_shade"] = Derivation(
        value=cover.shade,
        unit="1",
        rule=(
            "Share of the length under 15 % of the middle of the target range, with the shadows of what stands"
            " there."
        ),
        sources=(_UV_SOURCE,),
        command=_command("uv_shade"),
    )

    return found | _uv_day(prediction, low, high)


def _uv_day(prediction: Prediction, low: float, high: float) -> dict[str, Derivation]:
    """For how long the basking place has the index wanted, and how much of it there is in a day."""
    if not prediction.uv:
        return {}
    seen = uv_of_day(prediction, low, high)
    inputs = tuple(
        named_text(item.name, ", ".join(f"{on} to {off}" for on, off in item.windows) or "all day")
        for item in prediction.request.items
        if item.is_uv
    )

    return {
        "uv_in_range": Derivation(
            value=seen.in_range_h,
            unit="h",
            rule="Time of the day in which the UV index in the basking place lies in the target range, by timers.",
            inputs=(named_text("target", f"UVI {low:g} to {high:g}"), *inputs),
            sources=(_UV_SOURCE,),
            would_change="The lamps' timers.",
            command=_command("uv_in_range"),
        ),
        "uv_dose": Derivation(
            value=seen.dose_uvi_h,
            unit="UVI h",
            rule=(
                "UV index in the basking place over the hours of a day, for an animal that never"
                " leaves it; 1 UVI h is 90 J/m² of erythemal dose, 0.9 of a standard erythema dose."
            ),
            inputs=inputs,
            sources=(_UV_SOURCE,),
            would_change="The lamps' timers; shade, which every animal takes.",
            command=_command("uv_dose"),
        ),
    }


def _stuck(value: float, request: Request, what: str) -> Derivation:
    key = "failed_on_surface" if what.startswith("surface") else "failed_on_cool_air"
    return Derivation(
        value=value,
        unit="°C",
        rule=f"Steady {what} with every heater at full power and the room at its summer maximum.",
        method="network of heat flows",
        inputs=(named_value("room, summer maximum", request.room.summer_max_c, "°C"),),
        sources=(_HEAT_SOURCE,),
        would_change="A weaker lamp, more height, or an independent cut-out.",
        command=_command(key),
    )


def failed_on_predictions(stuck: FailedOn, request: Request) -> dict[str, Derivation]:
    """What a stuck thermostat would do on the hottest day."""
    return {
        "failed_on_surface": _stuck(stuck.surface_c, request, "surface under the lamp"),
        "failed_on_cool_air": _stuck(stuck.cool_air_c, request, "cool-end air"),
    }
