"""Brightness where the animal basks and where it rests, the length of its day, and what plants get.

Method: docs/methods/light.md.
"""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from husbandry.climate.light import LightSource, daily_light, photon_flux, total_lux
from husbandry.climate.shadow import ShadowBody
from husbandry.derivation import Derivation, DerivationInput, Source, named_text, named_value
from husbandry.documents.request import Request
from husbandry.enclosure.equipment import HEATERS
from husbandry.enclosure.geometry import Interior
from husbandry.enclosure.hides import ENTRANCES, hide_light_share, inside_m2, opening_m2
from husbandry.errors import ImpossibleStateError
from husbandry.items.base import Long
from husbandry.items.furnishings import Hide, PlantedItem
from husbandry.items.heaters import LedBar, TubeHeater
from husbandry.items.timers import MINUTES_A_DAY
from husbandry.items.union import Item
from husbandry.items.uv_lamps import UvCompact
from husbandry.memory import remembered
from husbandry.predict.exposure import DAY_HOUR
from husbandry.predict.predict import (
    REFLECTOR_GAIN,
    TUBE_HEAT_KIND,
    EnclosurePoint,
    Prediction,
    blockers_of,
    enclosure_of,
    passes_mesh,
    tube_watts,
)
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile

BRIGHT_SHARE = 0.5
"""Of what is bright: under that a basking place is dim (design choice) [1]."""
BRIGHT_LX = 10_000.0
"""Where a basker lies it should be at least so bright (common practice: 10 000 to 30 000) [lx]."""
HALF_SHADE_UVI, HALF_SHADE_LX = 2.0, 5_000.0
"""What seeks no higher ultraviolet index lives in broken light: so much is bright for it (common
practice, no source; a forest floor has some 1 to 10 % of the light over it) [1, lx].
"""
DIM_LX = 1_000.0
"""And somewhere darker than that (common practice) [lx]."""
PLANT_LIGHT = (
    (1.0, "too dark for plants"),
    (3.0, "for plants of deep shade"),
    (8.0, "for plants of half shade"),
    (1e9, "for plants of full light"),
)
"""By daily light, mol/m² (common practice)."""
COMPACT_BEAM_DEG, COMPACT_AIMED = 120.0, 0.5
"""A coil in a holder shines half of its light downwards, as a cosine (design choice)."""
LIGHTS_REMEMBERED = 128
"""Enclosures whose light is known, a hundred bytes each (measured: of a plan's every second is asked
for again).
"""
FIVE_MINUTES = tuple(n / 12 for n in range(288))
"""Of a day [h]."""
EACH_MINUTE = tuple(m / 60 for m in range(MINUTES_A_DAY))
"""Of a day [h]."""
_SOURCE = Source(
    kind="from memory", text="lumens for a watt by class, ×/÷ 1.5: docs/methods/light.md"
)


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


def basks(profile: Profile) -> bool:
    """Whether it lies in the sun by day: it has a basking surface, and an UV index to go with it."""
    surface = profile.basks
    strong = any(
        need.need is NeedKey.UVI_DAY and (need.high or 0.0) >= 2.0 for need in profile.needs
    )
    return surface and strong


def least_basking_lx(profile: Profile) -> float:
    """Light under which the basking place of an animal of that species is dim [lx]."""
    sunny = any(
        need.need is NeedKey.UVI_DAY and (need.high or 0.0) > HALF_SHADE_UVI
        for need in profile.needs
    )
    return BRIGHT_SHARE * (BRIGHT_LX if sunny else HALF_SHADE_LX)


def light_sources(request: Request) -> tuple[LightSource, ...]:
    """Everything that gives visible light at midday."""
    return tuple(
        _source(item, request) for item in request.items if _shines(item) and item.lit_at(DAY_HOUR)
    )


def lux_of(item: Item, request: Request, at: EnclosurePoint) -> float:
    """Illuminance that one more lamp would give at a place of an enclosure, by itself [lx]."""
    source = _source(item, request)
    along = total_lux((source,), enclosure_of(request), np.array([at.x_m]), at.y_m, at.z_m)
    return float(along[0])


def _shines(item: Item) -> bool:
    return item.is_tube or (item.kind in HEATERS and HEATERS[item.kind].emits_light)


def _source(item: Item, request: Request) -> LightSource:
    heater = HEATERS[TUBE_HEAT_KIND if item.is_tube else item.kind]
    watts = item.watts if item.watts is not None else tube_watts(item)
    compact = isinstance(item, UvCompact)
    passed = passes_mesh(request) if item.hangs_above_lid else 1.0
    x, y, z = item.at_m

    return LightSource(
        kind=(
            "tube"
            if item.is_tube or compact
            else "diode"
            if isinstance(item, LedBar | TubeHeater)
            else "filament"
        ),
        lumens=heater.lm_per_w * watts * passed,
        x_m=x,
        y_m=y,
        z_m=z,
        length_m=item.length_m or 0.0 if isinstance(item, Long) else 0.0,
        beam_deg=COMPACT_BEAM_DEG if compact else item.cone_deg or heater.beam_deg,
        radius_m=heater.radius_m,
        aimed=(
            COMPACT_AIMED
            if compact
            else heater.beam_share / max(heater.beam_share + heater.diffuse_share, 1e-9)
        ),
        gain=REFLECTOR_GAIN if item.has_reflector else 1.0,
    )


def lit_hours(request: Request) -> float:
    """Hours of the day in which anything gives light [h]."""
    shining = [item for item in request.items if _shines(item)]
    lit = zip(*(item.lit_through(FIVE_MINUTES) for item in shining), strict=True)
    return sum(any(on) for on in lit) / 12


def lit_spans(request: Request) -> tuple[tuple[float, float], ...]:
    """When anything gives light, in hours of the room's clock [h]."""
    shining = [item for item in request.items if _shines(item)]
    lit = zip(*(item.lit_through(EACH_MINUTE) for item in shining), strict=True)
    return spans_of([any(on) for on in lit])


def spans_of(on: Sequence[bool]) -> tuple[tuple[float, float], ...]:
    """When something is on, from whether it is in each minute of a day [h]."""
    found = []
    since = None
    for m, burning in enumerate([*on, False]):
        if burning and since is None:
            since = m / 60
        elif not burning and since is not None:
            found.append((since, m / 60))
            since = None

    return tuple(found)


def plants_for(leaf_mol: float) -> str:
    """What a leaf's daily light is enough for, in words."""
    return next(words for most, words in PLANT_LIGHT if leaf_mol < most)


def light_of(prediction: Prediction) -> LightSeen:
    """The light of an enclosure at midday, and over its day."""
    return _light_at(
        light_sources(prediction.request),
        prediction.enclosure,
        prediction.basking,
        prediction.living_m,
        prediction.cool_point,
        prediction.blockers,
        lit_hours(prediction.request),
    )


@remembered(LIGHTS_REMEMBERED)
def _light_at(
    sources: tuple[LightSource, ...],
    interior: Interior,
    basking: EnclosurePoint,
    living_m: float,
    cool_xz_m: tuple[float, float],
    blockers: tuple[ShadowBody, ...],
    hours: float,
) -> LightSeen:
    """The same, by all that decides it; most changes of an enclosure leave it as it is."""
    x = (np.arange(60) + 0.5) * interior.length_m / 60
    along = total_lux(sources, interior, x, basking.y_m, living_m, blockers)
    spot = total_lux(
        sources, interior, np.array([basking.x_m]), basking.y_m, basking.z_m, blockers
    )
    cool = total_lux(
        sources, interior, np.array([cool_xz_m[0]]), basking.y_m, cool_xz_m[1], blockers
    )
    middle = (interior.length_m / 2, interior.depth_m / 2, interior.substrate_depth_m + 0.05)
    flux = photon_flux(sources, interior, *middle, blockers) if sources else 0.0
    leaf = daily_light(flux, hours)

    return LightSeen(
        float(spot[0]),
        float(cool[0]),
        float(np.mean(along >= BRIGHT_LX)),
        float(np.mean(along < DIM_LX)),
        hours,
        leaf,
        plants_for(leaf),
    )


def leaf_of(prediction: Prediction, plant: Item) -> float:
    """Daily light on a plant's crown [mol/m² d]."""
    if plant.sides_m is None:
        raise ImpossibleStateError("the request says so")
    sources = light_sources(prediction.request)
    (x, y, z) = plant.at_m
    # Its own leaves throw no shadow on its crown.
    others = blockers_of(
        prediction.request.model_copy(
            update={"items": tuple(t for t in prediction.request.items if t.id != plant.id)}
        )
    )
    flux = (
        photon_flux(sources, prediction.enclosure, x, y, z + plant.sides_m[2], others)
        if sources
        else 0.0
    )

    return daily_light(flux, lit_hours(prediction.request))


def plants_of(request: Request) -> list[Item]:
    """What grows in the enclosure."""
    return [item for item in request.items if isinstance(item, PlantedItem)]


def light_predictions(prediction: Prediction, profile: Profile) -> dict[str, Derivation]:
    """As derivations, for a plan; nothing where nothing shines."""
    sources = light_sources(prediction.request)
    if not sources:
        return {}
    seen = light_of(prediction)
    given = tuple(
        named_value(f"lamp {n}: luminous flux", s.lumens, "lm") for n, s in enumerate(sources, 1)
    )
    span = profile.photoperiod_h.span

    def derivation(
        key: str, value: float, unit: str, rule: str, more: tuple[DerivationInput, ...] = ()
    ) -> Derivation:
        command = f"plan FILE.json --number /predictions/{key}/value"
        return Derivation(
            value=value,
            unit=unit,
            rule=rule,
            inputs=(*given, *more),
            sources=(_SOURCE,),
            command=command,
        )

    day = named_text("the species' day", f"{span.low:g} to {span.high:g} h")
    back = (
        "Illuminance on the basking animal's back: every lamp's beam or tube, and what the inside"
        " throws back."
    )
    cool = (
        "Illuminance at the cool end where the animal lives, with the shadows of hides, branches,"
        " platforms and plants."
    )
    timers = "Time of the day in which anything gives light, by the timers."
    leaf = (
        "Photons on a leaf in the middle of the substrate: illuminance by lamp ÷ its lux for a"
        " micromole × hours × 0.0036."
    )
    crown = (
        "Photons on the crown of this plant: illuminance by lamp ÷ its lux for a micromole × hours"
        " × 0.0036."
    )
    leaves = {
        f"leaf_{plant.id}": derivation(
            f"leaf_{plant.id}", leaf_of(prediction, plant), "mol/m² d", crown
        )
        for plant in plants_of(prediction.request)
    }

    return (
        leaves
        | _in_hides(prediction, sources)
        | {
            "light_basking": derivation("light_basking", seen.basking_lx, "lx", back),
            "light_cool": derivation("light_cool", seen.cool_lx, "lx", cool),
            "light_hours": derivation("light_hours", seen.hours, "h", timers, (day,)),
            "light_leaf": derivation("light_leaf", seen.leaf_mol, "mol/m² d", leaf),
        }
    )


def light_in(hide: Hide) -> float | None:
    """Light in a hide over that around it [1]; None where nobody said what of it stands open."""
    if hide.entrance is None:
        return None
    length, depth, height = hide.size_m
    sheer = length * depth + 2 * height * (length + depth) if hide.sheer else 0.0
    return hide_light_share(opening_m2(hide.size_m, hide.entrance), inside_m2(hide.size_m), sheer)


def _in_hides(prediction: Prediction, sources: tuple[LightSource, ...]) -> dict[str, Derivation]:
    """Light in each hide of which it was said what stands open: that beside it by its own share."""
    found = {}
    for hide in (item for item in prediction.request.items if isinstance(item, Hide)):
        share = light_in(hide)
        if share is None:
            continue
        others = prediction.request.model_copy(
            update={"items": tuple(t for t in prediction.request.items if t.id != hide.id)}
        )
        x, y, z = hide.at_m
        around = float(
            total_lux(
                sources, prediction.enclosure, np.array([x]), y, z + 0.01, blockers_of(others)
            )[0]
        )
        key = f"hide_{hide.id}"
        found[key] = Derivation(
            value=around * share,
            unit="lx",
            rule=(
                "Light on the ground where it stands × its share that comes in:"
                " docs/methods/furniture.md."
            ),
            inputs=(
                named_value("light around it", around, "lx"),
                named_value("share that comes in", share, "1"),
                named_text("open", ENTRANCES[hide.entrance or "hole"]),
            ),
            sources=(_SOURCE,),
            command=f"plan FILE.json --number /predictions/{key}/value",
        )

    return found
