"""What a keeper should know beside the numbers: findings, dangers, the usual cautions."""

from collections.abc import Iterator

from husbandry.advise import ChangeContext, safety
from husbandry.advise.panels_and_mats import brings_hazard, emitters, heater_stem, lamp_place
from husbandry.documents.naming import names
from husbandry.documents.request import Request
from husbandry.documents.result import COMPANY, AnimalFound, Change, NeedState, Note
from husbandry.enclosure.equipment import HEATERS, UV_LAMPS
from husbandry.errors import ImpossibleStateError
from husbandry.findings.drinking import drinking
from husbandry.findings.egg_laying import laying
from husbandry.findings.furnishing import whole_furnishing
from husbandry.findings.hazards import Hazard, seen_hazards
from husbandry.findings.heat_sources import heat_source_notes
from husbandry.findings.light_notes import light_notes
from husbandry.findings.parts import are_apart, divider_notes
from husbandry.findings.pets import pet_notes
from husbandry.findings.quarantine import quarantine_notes
from husbandry.findings.reach import reach_notes
from husbandry.findings.uv_hours import uv_hours_notes
from husbandry.items.furnishings import Branch, Hide
from husbandry.items.heaters import HeatMat
from husbandry.items.union import Item
from husbandry.predict.exposure import NIGHT_HOUR
from husbandry.predict.humidity import damp_notes
from husbandry.predict.pool_water import WaterHeating, stuck_c
from husbandry.predict.predict import Prediction, failed_on_usual_day, hot_day, tube_watts
from husbandry.predict.warm_patch import ENOUGH, lamps_in_a_row, patch_of, trunk_m
from husbandry.species import common
from husbandry.species.company import CompanyMember, reasons_apart
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile

CONTACT_C = 50.0
"""From this temperature of a surface a burn is warned of (source: heat 6) [°C]."""

FAULT_SURFACE_K, FAULT_AIR_K, FAULT_FAR_K = 3.0, 1.0, 3.0
"""Over the limit of a surface and of the cool end on a usual day, and of the cool end on the hottest,
from which a fault is a danger (design choice) [K].
"""
FAULT_ADDS_K = 3.0
"""What a fault adds to a day that is too hot already, before it is named beside it (design choice)
[K].
"""
MAT_SUBSTRATE_M = 0.05
"""Under more substrate a mat's warmth stays below (common practice, no source) [m]."""
MAT_C = 45.0
"""A mat that is warmer burns in the hours for which an animal lies on it (source: heat 6) [°C]."""


def notes(
    request: Request,
    prediction: Prediction,
    profiles: dict[str, Profile],
    animals: tuple[AnimalFound, ...],
    states: tuple[NeedState, ...],
    context: ChangeContext,
    changes: tuple[Change, ...] = (),
) -> tuple[Note, ...]:
    """Everything worth saying of a planned enclosure, each once.

    `changes` are those that it is offered.
    """
    lead = max(animals, key=lambda animal: animal.length_m)
    profile = profiles[lead.species]
    called = names(request)
    found = [
        *_failed_on(context),
        *(_hazard_note(hazard, called[hazard.item.id]) for hazard in seen_hazards(prediction)),
        *(note for item in request.items for note in _item_notes(item, prediction)),
        *(note for animal in animals for note in _animal_notes(animal)),
        *company(request, profiles, animals),
        *divider_notes(request),
        *pet_notes(request),
        *quarantine_notes(request),
        *_room_notes(context),
        *_contact(prediction),
        *reach_notes(prediction, profile, context.targets),
        *_patch(prediction, profile, animals, states),
        *light_notes(prediction, profile),
        *uv_hours_notes(prediction, context.targets),
        *heat_source_notes(request, context.targets, profile),
        *_furniture(request, animals, prediction),
        *laying(request, animals),
        *_warm_water(prediction, context),
        *_no_safe_heat(prediction, context, changes),
        *damp_notes(prediction, context.targets, profile, context.timetable),
        *(note for state in states for note in _state_notes(state)),
        *(note for one in profiles.values() for note in _kind_notes(one, request, prediction)),
        *_standing(request),
        *(note for one in profiles.values() for note in _species_notes(one)),
    ]
    # two animals of a species share its cautions
    return tuple({(note.slug, note.text): note for note in found}.values())


def _failed_on(context: ChangeContext) -> Iterator[Note]:
    """That a thermostat which fails on passes a limit."""
    stuck = context.now_failed_on
    risk = safety(stuck, stuck, context.targets)
    if risk.safe:
        return
    working = hot_day(context.prediction)
    summer = context.request.room.summer_max_c
    past = {}
    for key, value in (
        (NeedKey.SURFACE_DAY, working.surface_c),
        (NeedKey.COOL_AIR_DAY, working.cool_air_c),
    ):
        target = context.targets.get(key)
        if target is not None and target.limit_high and value > target.limit_high.value:
            past[key] = value - target.limit_high.value
    if past:
        text = (
            "On the hottest day this enclosure passes the animal's limit with every thermostat"
            " working: the room itself is too warm. Above the room temperature named here switch"
            " heaters and lamps off, and cool the room; let a thermometer with an alarm tell you."
        )
        safe_room = summer - max(past.values())
        yield Note(
            slug="hot day",
            severity="care",
            text=text,
            values={"room_c": summer, "safe_room_c": safe_room, "cool_air_c": working.cool_air_c},
        )
        more = max(stuck.surface_c - working.surface_c, stuck.cool_air_c - working.cool_air_c)
        if more <= FAULT_ADDS_K:
            return
    text = (
        "With its thermostat failed on, or without one, this enclosure passes the animal's"
        " limit on the hottest day. Fit an independent cut-out and watch it in a heat wave."
    )
    values = {"surface_c": risk.surface_c, "cool_air_c": risk.cool_air_c}
    yield Note(
        slug="thermostat failed on",
        severity="danger" if _no_way_out(context) else "care",
        text=text,
        values=values,
    )


def _no_way_out(context: ChangeContext) -> bool:
    """Whether a fault does harm before somebody sees it: it passes a limit on a usual day, or that
    of the cool end by far on the hottest.

    What passes by less than the model is sure of, or on a few days of the year at a place that the
    animal leaves, is a care (common practice).
    """
    usual = failed_on_usual_day(context.prediction)
    for key, found, most in (
        (NeedKey.SURFACE_DAY, usual.surface_c, FAULT_SURFACE_K),
        (NeedKey.COOL_AIR_DAY, usual.cool_air_c, FAULT_AIR_K),
        (NeedKey.COOL_AIR_DAY, context.now_failed_on.cool_air_c, FAULT_FAR_K),
    ):
        target = context.targets.get(key)
        limit = target.limit_high if target is not None else None
        if limit is not None and found > limit.value + most:
            return True

    return False


def _animal_notes(animal: AnimalFound) -> Iterator[Note]:
    """What its stage and its meals say."""
    for finding in animal.stage.findings:
        text = f"{animal.name}: {finding.text}" if animal.name else finding.text
        yield Note(slug=finding.slug, severity="care", text=text)
    if animal.diet.energy_verdict != "inside":
        more = "more" if animal.diet.energy_verdict == "above" else "less"
        text = (
            f"The planned meals hold {more} energy than such an animal is likely to spend: weigh"
            " often."
        )
        yield Note(slug="energy", severity="care", text=text)


def _room_notes(context: ChangeContext) -> Iterator[Note]:
    """What it lacks room for; depth for digging is said of the substrate itself."""
    for check in context.size.lacking:
        if check.slug != "dig":
            yield Note(
                slug=f"room {check.slug}",
                severity="care",
                text=f"Not enough {_LACKS[check.slug]}.",
                values={"there": check.there.value, "needed": check.needed},
            )


def _contact(prediction: Prediction) -> Iterator[Note]:
    """That a surface can burn skin."""
    hot = prediction.centre(NeedKey.SURFACE_DAY)
    if hot is not None and hot > CONTACT_C:
        text = "Above 50 °C a surface can burn skin on contact: guard what can be climbed."
        yield Note(slug="contact", severity="care", text=text, values={"surface_c": hot})


def _state_notes(state: NeedState) -> Iterator[Note]:
    """What is unproven of a need, and what contradicts it."""
    if state.verdict.limit == "unproven":
        text = (
            f"{state.name}: the prediction's interval reaches past the animal's limit."
            " Measure before it moves in."
        )
        yield Note(slug=f"unproven {state.key}", severity="care", text=text)
    if state.conflict:
        text = f"{state.name}: {state.conflict}"
        yield Note(slug=f"conflict {state.key}", severity="danger", text=text)


def _species_notes(profile: Profile) -> Iterator[Note]:
    """The cautions of its group, and where its values come from."""
    for text in common.cautions(profile):
        yield Note(slug="species", severity="care", text=text)
    share = profile.memory_share
    text = (
        f"What is known of {profile.species}: {share:.0%} of its values lean on memory of the"
        " literature, the rest on common practice; none was checked against an opened source."
    )
    yield Note(slug="origins", severity="fact", text=text, values={"memory_share": share})


def _hazard_note(hazard: Hazard, name: str) -> Note:
    said = hazard.said(name, "too close to")
    return Note(
        slug=f"hazard {hazard.slug}",
        severity="danger" if hazard.heats else "care",
        text=f"{said[0].upper()}{said[1:]}. Move it, or {hazard.advice}.",
        values={"gap_m": hazard.gap_m, "least_m": hazard.least_m},
    )


def _patch(
    prediction: Prediction,
    profile: Profile,
    animals: tuple[AnimalFound, ...],
    states: tuple[NeedState, ...],
) -> list[Note]:
    """A body longer than the patch that is warm: how many lamps would warm all of it, and where."""
    target = next((state for state in states if state.key is NeedKey.SURFACE_DAY), None)
    if target is None or target.low is None:
        return []
    patch = patch_of(prediction, target.low.value)
    body = trunk_m(profile, max(animal.length_m for animal in animals))
    if patch is None or patch.longest_m >= ENOUGH * body or target.verdict.direction == "below":
        return []
    lamps = lamps_in_a_row(patch, body)
    text = (
        "The warm patch is shorter than the body: one strong lamp burns the back and leaves the"
        " belly cold."
    )

    return [
        Note(
            slug="patch",
            severity="care",
            text=text,
            values={"patch_m": patch.longest_m, "body_m": body, "lamps": lamps},
        )
    ]


def _warm_water(prediction: Prediction, context: ChangeContext) -> list[Note]:
    """Water that nothing here cools, and what a water heater does when its thermostat sticks."""
    target = context.targets.get(NeedKey.WATER_DAY)
    pool_day = prediction.pool_day if target is not None else None
    if target is None or pool_day is None:
        return []
    found = []
    if context.wrong(NeedKey.WATER_DAY) > 0 and not pool_day.day.heater_wh:
        text = (
            "Its water is too warm, and no heater makes it so: a cooler room, a fan across its"
            " surface, or a water cooler. Ice shocks."
        )
        found.append(Note(slug="water warm", severity="care", text=text))
    if pool_day.pool.heater_w:
        heating = WaterHeating(pool_day.pool.heater_w, pool_day.item.heaters or 1)
        reached = stuck_c(pool_day, heating)
        top = target.limit_high
        if top is not None and reached > top.value:
            text = (
                "A water heater whose thermostat sticks passes the animal's limit: two weaker ones,"
                " or a controller of its own between, and a thermometer."
            )
            found.append(
                Note(slug="water stuck", severity="danger", text=text, values={"water_c": reached})
            )
        text = (
            "A glass heater in water burns what lies on it and breaks in the dry: behind a guard,"
            " unplugged an hour before the water is let out; drip loop and residual-current"
            " protection."
        )
        found.append(Note(slug="water heater", severity="care", text=text))

    return found


HEATED = (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.AIR_NIGHT)


def _no_safe_heat(
    prediction: Prediction, context: ChangeContext, changes: tuple[Change, ...]
) -> list[Note]:
    """Too cold, nothing offered makes it warm, and a lamp would hang too close to plastic."""
    cold = [key for key in HEATED if key in context.targets and context.wrong(key) < 0]
    warmed = {
        effect.need
        for change in changes
        for effect in change.effects
        if effect.before is None or effect.after > effect.before
    }
    if not cold or any(key in warmed for key in cold):
        return []
    lamp = next(emitters(heater_stem(context, "lamp", lamp_place(prediction))))
    if not brings_hazard(prediction, lamp):
        return []
    text = (
        "Nothing heats this enclosure safely: a lamp or an emitter would hang too close to plastic"
        " or to the animal, and no mat or panel is strong enough. Warm the room, or choose a higher"
        " enclosure, or one of glass or timber."
    )

    return [Note(slug="no safe heat", severity="danger", text=text)]


def _furniture(
    request: Request, animals: tuple[AnimalFound, ...], prediction: Prediction
) -> list[Note]:
    """What stands wrong, each kind once."""
    found: dict[str, Note] = {}
    for one in whole_furnishing(request, animals, prediction.warm_left):
        found.setdefault(one.slug, one.note())
    return list(found.values())


_LACKS = {
    "walk": "floor to walk on once hides and water are in",
    "turn": "depth to turn in",
    "climb": "height to climb in",
}


def company(
    request: Request, profiles: dict[str, Profile], animals: tuple[AnimalFound, ...]
) -> list[Note]:
    """Why these animals should not share an enclosure: alone by nature, too many, two males, too
    unlike in size, of two kinds, or the young of grown ones.
    """
    if are_apart(request):
        return []
    members = [
        CompanyMember(found.species, found.stage.slug, found.length_m, told.sex)
        for found, told in zip(animals, request.animals, strict=True)
    ]

    return [
        Note(slug=COMPANY, severity="danger", text=text)
        for text in reasons_apart(members, profiles)
    ]


def _kind_notes(profile: Profile, request: Request, prediction: Prediction) -> list[Note]:
    """What this kind of animal wants of the furniture and the water."""
    found = []
    if profile.habit == "aquatic" and prediction.pool_day is None:
        text = (
            "It lives in water: put its water in as a pool over the floor, and its temperature, its"
            " filter and its changes are calculated."
        )
        found.append(Note(slug="aquatic", severity="care", text=text))
    there = sum(isinstance(item, Hide) for item in request.items)
    wanted = profile.hides.places
    if there < len(wanted):
        text = (
            f"{there} of {len(wanted)} hides are in: it wants them {', '.join(wanted)} at the same"
            " time."
        )
        found.append(
            Note(
                slug="hides",
                severity="care",
                text=text,
                values={"there": there, "wanted": len(wanted)},
            )
        )
    if profile.body.perch_share and not any(isinstance(item, Branch) for item in request.items):
        if prediction.position.perch is None:
            raise ImpossibleStateError("missing: prediction.position.perch")
        text = (
            "A climber without a branch: planned as if it sat where its species usually sits. Put a"
            " branch in, and it is planned for that."
        )
        found.append(
            Note(
                slug="no branch",
                severity="care",
                text=text,
                values={"perch_m": prediction.position.perch.z_m},
            )
        )
    if profile.water.treated:
        text = (
            "Its water and its mist are free of chlorine and chloramine: use a conditioner that"
            " names both, or aged rainwater of known origin."
        )
        found.append(Note(slug="treated water", severity="care", text=text))
    if (
        profile.water.soak
        and profile.habit != "aquatic"
        and not any(item.holds_water for item in request.items)
    ):
        text = (
            "It lies in its water and there is no dish: put one in that holds all of it, shallow"
            " enough to climb out of."
        )
        found.append(Note(slug="no dish", severity="care", text=text))

    return [*found, *drinking(request, profile)]


def _item_notes(item: Item, prediction: Prediction) -> list[Note]:
    found = []
    if item.is_heater and not item.is_uv and item.held is None:
        found.append(
            Note(
                slug="no thermostat",
                severity="care",
                text=(f"The {item.name} has no thermostat: nothing holds it back on a warm day."),
            )
        )
    light = item.is_tube or item.is_uv or (item.kind in HEATERS and HEATERS[item.kind].emits_light)
    if light and item.lit_at(NIGHT_HOUR):
        found.append(
            Note(
                slug="light at night",
                severity="care",
                text=f"The {item.name} is lit at night: no light at night, give it a timer.",
            )
        )
    if item.is_uv and item.burned_h is not None and item.burned_h > UV_LAMPS[item.kind].t70_h:
        text = (
            f"The {item.name} has burned longer than such lamps keep 70 % of their"
            " ultraviolet: measure it, or replace it."
        )
        found.append(
            Note(slug="old lamp", severity="care", text=text, values={"hours": item.burned_h})
        )
    if isinstance(item, HeatMat):
        found += _mat_notes(item, prediction)
    if item.is_tube and item.watts is not None and abs(item.watts - tube_watts(item)) > 6:
        text = f"A tube of this length usually has {tube_watts(item):g} W: check what is fitted."
        found.append(Note(slug="tube power", severity="care", text=text))

    return found


def _mat_notes(item: Item, prediction: Prediction) -> list[Note]:
    """What a mat under the substrate can do: it is felt late, and burns what lies still on it."""
    depth = prediction.request.enclosure.substrate.depth_m
    text = (
        f"The {item.name} lies where an animal digs towards it: a thermostat with its probe"
        " on the mat, and a stone or grid over it, keep it from a burn."
    )
    found = [Note(slug="mat", severity="care", text=text)]
    day = prediction.day
    faces = [
        day.mat_face(n) for n, lamp in enumerate(day.heat_model.lamps) if lamp.item_id == item.id
    ]
    face_c = next((face for face in faces if face is not None), None)
    if face_c is not None and face_c > MAT_C:
        words = (
            f"Under this substrate the {item.name} itself gets hot enough to burn what digs down to"
            " it. Less substrate over it, a weaker mat, or a thermostat with its probe on the mat."
        )
        found.append(Note(slug="mat hot", severity="care", text=words, values={"mat_c": face_c}))
    if depth > MAT_SUBSTRATE_M:
        words = (
            "Under deep substrate a mat warms the floor below it before the surface above: little"
            " of its heat arrives, and late."
        )
        found.append(
            Note(
                slug="mat under deep substrate",
                severity="care",
                text=words,
                values={"depth_m": depth},
            )
        )

    return found


def _standing(request: Request) -> list[Note]:
    """The usual caution wherever something is heated or lit."""
    if not any(t.is_heater or t.is_tube for t in request.items):
        return []
    return [
        Note(
            slug="fire",
            severity="care",
            text=(
                "Holder rated for the lamp's power and heat, clear of plastic, timber and cloth;"
                " guard every heater the animal can touch; a smoke alarm in the room."
            ),
        ),
        Note(
            slug="electricity",
            severity="care",
            text=(
                "Residual-current protection, drip loops, plug-in fittings only; fixed wiring is"
                " for a licensed electrician. Unplug before reaching in."
            ),
        ),
        Note(
            slug="commission",
            severity="care",
            text=(
                "Check the enclosure empty for a day or two with an infrared thermometer, shielded"
                " probes at both ends and a second, independent thermometer."
            ),
        ),
    ]
