"""Brightness where the animal basks and where it rests, the length of its day, and what plants get. Method: docs/methods/light.md."""

from typing import NamedTuple

import numpy as np

from husbandry.box.equipment import HEATERS
from husbandry.box.hides import ENTRANCES
from husbandry.climate.light import LightSource, daily_light, photon_flux, total_lux
from husbandry.planning.furnishing import light_in
from husbandry.planning.planting import kind_of
from husbandry.planning.predict import DAY_HOUR, REFLECTOR_GAIN, TUBE_HEAT_KIND, Outcome, blockers_of, passes_mesh, tube_watts
from husbandry.planning.request import COMPACT_KINDS, LONG_KINDS, Request, Thing
from husbandry.planning.result import Note
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.worked import Given, Source, Worked

BRIGHT_LX = 10_000.0
"""Where a basker lies it should be at least so bright (common practice: 10 000 to 30 000) [lx]."""
DIM_LX = 1_000.0
"""And somewhere darker than that (common practice) [lx]."""
PLANTS = (
    (1.0, "too dark for plants"),
    (3.0, "for plants of deep shade"),
    (8.0, "for plants of half shade"),
    (1e9, "for plants of full light"),
)
"""By daily light, mol/m² (common practice)."""
COMPACT_BEAM_DEG, COMPACT_AIMED = 120.0, 0.5
"""A coil in a holder shines half of its light downwards, as a cosine (design choice)."""
_SOURCE = Source(kind="from memory", text="lumens for a watt by class, ×/÷ 1.5: docs/methods/light.md")


class LightSeen(NamedTuple):
    """What a day's lamps give."""

    basking_lx: float
    cool_lx: float
    bright_share: float
    """Of the length, at the height where the animal lives [1]."""
    dim_share: float
    hours: float
    """In which anything is lit [h]."""
    leaf_mol: float
    """Daily light on a leaf in the middle of the substrate [mol/m²]."""
    plants: str


def _basks(profile: Profile) -> bool:
    """Whether it lies in the sun by day: it has a basking surface, and an UV index to go with it."""
    surface = any(need.need is NeedKey.SURFACE_DAY for need in profile.needs)
    strong = any(need.need is NeedKey.UVI_DAY and (need.high or 0.0) >= 2.0 for need in profile.needs)
    return surface and strong


def light_sources(request: Request) -> tuple[LightSource, ...]:
    """Everything that gives visible light at midday."""
    return tuple(_source(thing, request) for thing in request.things if _shines(thing) and thing.lit_at(DAY_HOUR))


def _shines(thing: Thing) -> bool:
    return thing.is_tube or (thing.kind in HEATERS and HEATERS[thing.kind].emits_light)


def _source(thing: Thing, request: Request) -> LightSource:
    heater = HEATERS[TUBE_HEAT_KIND if thing.is_tube else thing.kind]
    watts = thing.power_w if thing.power_w is not None else tube_watts(thing)
    compact = thing.kind in COMPACT_KINDS
    passed = passes_mesh(request) if thing.above_lid else 1.0
    x, y, z = thing.at_m
    return LightSource(
        kind="tube" if thing.is_tube or compact else "diode" if thing.kind in LONG_KINDS else "filament",
        lumens=heater.lm_per_w * watts * passed,
        x_m=x,
        y_m=y,
        z_m=z,
        length_m=thing.length_m or 0.0 if thing.is_tube or thing.kind in LONG_KINDS else 0.0,
        beam_deg=COMPACT_BEAM_DEG if compact else thing.beam_deg or heater.beam_deg,
        radius_m=heater.radius_m,
        aimed=COMPACT_AIMED if compact else heater.beam_share / max(heater.beam_share + heater.diffuse_share, 1e-9),
        gain=REFLECTOR_GAIN if thing.reflector else 1.0,
    )


def lit_hours(request: Request) -> float:
    """Hours of the day in which anything gives light [h]."""
    shining = [thing for thing in request.things if _shines(thing)]
    return sum(any(thing.lit_at(n / 12) for thing in shining) for n in range(288)) / 12


def plants_for(leaf_mol: float) -> str:
    """What a leaf's daily light is enough for, in words."""
    return next(words for most, words in PLANTS if leaf_mol < most)


def light_of(outcome: Outcome) -> LightSeen:
    """The light of an enclosure at midday, and over its day."""
    request, box = outcome.request, outcome.box
    sources = light_sources(request)
    x = (np.arange(60) + 0.5) * box.length_m / 60
    along = total_lux(sources, box, x, outcome.basking.y_m, outcome.living_m, outcome.blockers)
    spot = total_lux(sources, box, np.array([outcome.basking.x_m]), outcome.basking.y_m, outcome.basking.z_m, outcome.blockers)
    cool = total_lux(
        sources, box, np.array([outcome.cool_point[0]]), outcome.basking.y_m, outcome.cool_point[1], outcome.blockers
    )
    hours = lit_hours(request)
    flux = (
        photon_flux(sources, box, box.length_m / 2, box.depth_m / 2, box.ground_depth_m + 0.05, outcome.blockers)
        if sources
        else 0.0
    )
    leaf = daily_light(flux, hours)
    return LightSeen(
        float(spot[0]), float(cool[0]), float(np.mean(along >= BRIGHT_LX)), float(np.mean(along < DIM_LX)), hours, leaf,
        plants_for(leaf),
    )  # fmt: skip


def leaf_of(outcome: Outcome, plant: Thing) -> float:
    """Daily light on a plant's crown [mol/m² d]."""
    assert plant.size_m is not None  # the request says so
    sources, (x, y, z) = light_sources(outcome.request), plant.at_m
    # Its own leaves throw no shadow on its crown.
    others = blockers_of(
        outcome.request.model_copy(update={"things": tuple(t for t in outcome.request.things if t.id != plant.id)})
    )
    flux = photon_flux(sources, outcome.box, x, y, z + plant.size_m[2], others) if sources else 0.0
    return daily_light(flux, lit_hours(outcome.request))


def plants_of(request: Request) -> list[Thing]:
    """What grows in the enclosure."""
    return [thing for thing in request.things if thing.kind == "plant"]


def light_predictions(outcome: Outcome, profile: Profile) -> dict[str, Worked]:
    """As workings, for a plan; nothing where nothing shines."""
    sources = light_sources(outcome.request)
    if not sources:
        return {}
    seen = light_of(outcome)
    given = tuple(Given(name=f"lamp {n}: luminous flux", value=s.lumens, unit="lm") for n, s in enumerate(sources, 1))
    span = profile.photoperiod_h.span

    def worked(key: str, value: float, unit: str, rule: str, more: tuple[Given, ...] = ()) -> Worked:
        command = f"plan FILE.json --number /predictions/{key}/value"
        return Worked(value=value, unit=unit, rule=rule, inputs=(*given, *more), sources=(_SOURCE,), command=command)

    day = Given(name="the species' day", text=f"{span.low:g} to {span.high:g} h")
    back = "Illuminance on the basking animal's back: every lamp's beam or tube, and what the inside throws back."
    cool = "Illuminance at the cool end where the animal lives, with the shadows of hides, branches, platforms and plants."
    timers = "Time of the day in which anything gives light, by the timers."
    leaf = "Photons on a leaf in the middle of the substrate: illuminance by lamp ÷ its lux for a micromole × hours × 0.0036."
    crown = "Photons on the crown of this plant: illuminance by lamp ÷ its lux for a micromole × hours × 0.0036."
    leaves = {
        f"leaf_{plant.id}": worked(f"leaf_{plant.id}", leaf_of(outcome, plant), "mol/m² d", crown)
        for plant in plants_of(outcome.request)
    }
    return (
        leaves
        | _in_hides(outcome, sources)
        | {
            "light_basking": worked("light_basking", seen.basking_lx, "lx", back),
            "light_cool": worked("light_cool", seen.cool_lx, "lx", cool),
            "light_hours": worked("light_hours", seen.hours, "h", timers, (day,)),
            "light_leaf": worked("light_leaf", seen.leaf_mol, "mol/m² d", leaf),
        }
    )


def _in_hides(outcome: Outcome, sources: tuple[LightSource, ...]) -> dict[str, Worked]:
    """Light in each hide of which it was said what stands open: that beside it by its own share."""
    found = {}
    for hide in outcome.request.things:
        share = light_in(hide) if hide.kind == "hide" else None
        if share is None:
            continue
        others = outcome.request.model_copy(update={"things": tuple(t for t in outcome.request.things if t.id != hide.id)})
        x, y, z = hide.at_m
        around = float(total_lux(sources, outcome.box, np.array([x]), y, z + 0.01, blockers_of(others))[0])
        key = f"hide_{hide.id}"
        found[key] = Worked(
            value=around * share, unit="lx", rule="Light on the ground where it stands × its share that comes in: docs/methods/furniture.md.",
            inputs=(
                Given(name="light around it", value=around, unit="lx"), Given(name="share that comes in", value=share, unit="1"),
                Given(name="open", text=ENTRANCES[hide.entrance or "hole"]),
            ),
            sources=(_SOURCE,), command=f"plan FILE.json --number /predictions/{key}/value",
        )  # fmt: skip
    return found


def light_notes(outcome: Outcome, profile: Profile) -> list[Note]:
    """Plants in the dark, a dim basking place, no dim place, and a day that is not the species'."""
    dark = [
        Note(
            slug=f"plant {plant.id}", severity="care", values={"leaf_mol": leaf},
            text="A plant gets too little light to grow: move it nearer to a bar of white light, or take one that is not alive. "
            "Only species known to be harmless belong where an animal can bite them.",
        )
        for plant in plants_of(outcome.request)
        if (leaf := leaf_of(outcome, plant)) < (kind.light_mol if (kind := kind_of(plant)) else PLANTS[0][0])
    ]  # fmt: skip
    if not light_sources(outcome.request):
        return dark
    seen, span = light_of(outcome), profile.photoperiod_h.span
    found = dark
    if _basks(profile) and seen.basking_lx < 0.5 * BRIGHT_LX:
        text = "Dim for an animal that basks by day: brightness belongs where the warmth is. A bar of white light brings it there; ultraviolet tubes alone are dim."
        found.append(Note(slug="dim basking", severity="care", text=text, values={"lux": seen.basking_lx}))
    if _basks(profile) and seen.dim_share == 0 and not any(t.kind == "hide" for t in outcome.request.things):
        text = "Nowhere along the enclosure is dim, and there is no hide: leave one end without a lamp, or give it shade."
        found.append(Note(slug="no dim place", severity="care", text=text, values={"lux": seen.cool_lx}))
    low, high = span.low or 0.0, span.high or 24.0
    if seen.hours > high + 0.75 or seen.hours < low - 0.75:
        text = f"The lamps are lit for {seen.hours:.1f} h a day; this species' day is {low:g} to {high:g} h, longer in summer than in winter."
        found.append(Note(slug="length of day", severity="care", text=text, values={"hours": seen.hours}))
    return found
