"""Water in an enclosure through its day: vapour in its air, a film on what was misted, dew on its
panes, water in its substrate.

One vapour pressure holds for the whole enclosure; relative humidity is that vapour against each
place's own temperature. Over a step the
coefficients are frozen and the balance is solved exactly, so it is stable at any step and what
comes in goes out to rounding.
Method: docs/methods/moisture.md.
"""

import functools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from husbandry.climate.vapour import GAS_VAPOUR_J_KGK, saturation_vapour_pressure
from husbandry.derivation import Source
from husbandry.memory import remembered
from husbandry.methods import Argument, Example, method

LATENT_J_KG = 2.45e6
"""Latent heat of evaporation at 25 °C (handbook, from memory) [J/kg]."""
AIR_J_M3K = 1.19 * 1006.0
"""Heat capacity of a cubic metre of air at 25 °C (handbook, from memory) [J/m³K]."""
LEWIS = 0.911
"""Le^(2/3) of water vapour in air: h_m = h_c / (ρ c_p Le^(2/3)) (handbook of mass transfer, from memory) [1]."""
STILL_FILM_W_M2K = 3.0
"""Convection at wet faces in the still air of an enclosure (source: humidity A2) [W/m²K]."""
RADIANT_FILM_W_M2K = 5.0
"""Radiation of a wet face with its surroundings (source: humidity A2) [W/m²K]."""
FILM_KG_M2 = 0.08
"""Most water that clings to a misted face; the rest runs into the substrate (source: humidity A2:
0.03 to 0.15) [kg/m²].
"""
DEW_KG_M2 = 0.15
"""Most dew that clings to a pane before it runs down (source: humidity A2) [kg/m²]."""
FINE_S = 600.0
"""Step while films, dew or fog are there (design choice) [s]."""
LEAST_S = 1.0
"""No step is shorter (design choice) [s]."""
_SOURCE = Source(
    kind="from memory",
    text=(
        "Lewis relation and a wet surface that cools itself, as in textbooks of heat and mass"
        " transfer"
    ),
)


DAYS_REMEMBERED = 256
"""Days of water that are kept, ten kilobytes each (measured: six of ten are asked for again)."""


@functools.lru_cache(maxsize=20_000)
def _saturation(hundredths: int) -> float:
    return saturation_vapour_pressure(hundredths / 100)


def saturation(temp_c: float) -> float:
    """Saturation vapour pressure, remembered to a hundredth of a degree [Pa]."""
    return _saturation(round(100 * temp_c))


def vapour_transfer(film_w_m2k: float) -> float:
    """Mass transfer coefficient at a wet face, before it cools itself [m/s]."""
    return film_w_m2k / (AIR_J_M3K * LEWIS)


@functools.lru_cache(maxsize=20_000)
def _wet(hundredths: int, film: float) -> float:
    temp = hundredths / 100
    half = 0.05

    def density(at_c: float) -> float:
        return saturation_vapour_pressure(at_c) / (GAS_VAPOUR_J_KGK * (at_c + 273.15))

    slope = (density(temp + half) - density(temp - half)) / (2 * half)
    return 1 / (1 + vapour_transfer(film) * slope * LATENT_J_KG / (film + RADIANT_FILM_W_M2K))


@method(
    arguments={"temp_c": Argument("°C", 0, 45), "film_w_m2k": Argument("W/m²K", 0.5, 20)},
    unit="g/(m² h kPa)",
    rule=(
        "Evaporation from a wet face for each kilopascal between saturation and the air: h_m/(R_v"
        " T), lessened because the face cools itself, φ = 1/(1 + h_m s L/(h_c + h_r))."
    ),
    source=_SOURCE,
    example=Example({"temp_c": 25, "film_w_m2k": 3}, 34.4, 0.02, "source: humidity A2: about 34"),
)
def evaporation_coefficient(temp_c: float, film_w_m2k: float) -> float:
    """Evaporation from an open wet face in still air [g/(m² h kPa)]."""
    return (
        vapour_transfer(film_w_m2k)
        * _wet(round(100 * temp_c), film_w_m2k)
        / (GAS_VAPOUR_J_KGK * (temp_c + 273.15))
        * 3.6e9
    )


@dataclass(frozen=True)
class MoistureModel:
    """What decides how an enclosure takes up water and gives it off."""

    volume_m3: float
    film_m2: float
    """Of floor and walls that misting wets."""
    pane_m2: float
    pane_drop: float
    """Share of the way from the air's to the room's temperature at which the inner face of a pane
    stands [1].
    """
    substrate_m2: float
    wetness: float
    """Of the substrate's top: 0 as dry as the air, 1 as open water [1]."""
    substrate_kg: float
    """Water that the substrate holds when it is as wet as it is said to be."""
    water_m2: float
    """Open water, and what plants breathe out as such."""
    film_w_m2k: float = STILL_FILM_W_M2K
    pool_m2: float = 0.0
    """Of a pool whose warmth is known by itself (`Forcing.pool_c`); without it, it is open water
    like any other.
    """
    buffer: float = 1.0
    """Vapour that timber, cork and dry substrate take up beside the air, over what the air holds
    [1].
    """

    @property
    def most_film_kg(self) -> float:
        """On all misted faces."""
        return FILM_KG_M2 * self.film_m2


@dataclass(frozen=True)
class Forcing:
    """What acts on an enclosure at each step of a day; all of one length."""

    step_s: float
    air_c: tuple[float, ...]
    """Mean of its air."""
    room_c: tuple[float, ...]
    room_pa: tuple[float, ...]
    """Vapour pressure of the room."""
    changes_per_h: tuple[float, ...]
    """Of its air."""
    mist_kg: tuple[float, ...]
    """Sprayed at the start of each step."""
    fog_kg_s: tuple[float, ...]
    """Of foggers by the clock alone."""
    pool_c: tuple[float, ...] | None = None
    """Of the pool's water: warmer than the air it gives off more, and cooler it can take up."""
    held_kg_s: tuple[float, ...] = ()
    """Of foggers that a humidistat switches, at their strongest; empty without any."""
    held_pa: tuple[float, ...] = ()
    """Vapour pressure at which it switches them off."""


@dataclass(frozen=True)
class WaterStores:
    """Where the water is at a moment."""

    vapour_pa: float
    film_kg: float = 0.0
    dew_kg: float = 0.0
    substrate_kg: float = 0.0


@dataclass(frozen=True)
class WaterBalance:
    """Water that came and went [kg]."""

    misted: float = 0.0
    fogged: float = 0.0
    from_dishes: float = 0.0
    from_room: float = 0.0
    to_room: float = 0.0
    drained: float = 0.0
    """Past what the substrate holds."""


@dataclass(frozen=True)
class MoistureSeries:
    """What came of it, at the end of each step."""

    vapour_pa: tuple[float, ...]
    film_kg: tuple[float, ...]
    dew_kg: tuple[float, ...]
    substrate_kg: tuple[float, ...]
    end: WaterStores
    ledger: WaterBalance
    residual_kg: float
    """What does not add up: rounding."""


Frozen = tuple[float, float, float, float, float, float, float, float, float]
"""A step's balance: saturation in the air and at the panes [Pa], what the air takes up [kg/Pa], the
conductances of air exchange, film and substrate, of all
open water and of panes [kg/(s Pa)], and what open water gives to dry air [kg/s].
"""


def _frozen(interior: MoistureModel, forcing: Forcing) -> list[Frozen]:
    """The coefficients of each step."""
    transfer = vapour_transfer(interior.film_w_m2k)
    found = []
    pools = forcing.pool_c
    as_air_m2 = interior.water_m2 + (interior.pool_m2 if pools is None else 0.0)
    steps = zip(forcing.air_c, forcing.room_c, forcing.changes_per_h, strict=True)
    for n, (air_c, room_c, changes) in enumerate(steps):
        per_pa = 1 / (GAS_VAPOUR_J_KGK * (air_c + 273.15))
        hundredths = round(100 * air_c)
        wet_face = transfer * per_pa * _wet(hundredths, interior.film_w_m2k)
        full = _saturation(hundredths)
        water = wet_face * as_air_m2
        gives = water * full
        if pools is not None:  # its warmth has what evaporation takes in it already
            pool = transfer * interior.pool_m2 / (GAS_VAPOUR_J_KGK * (pools[n] + 273.15))
            water = water + pool
            gives = gives + pool * saturation(pools[n])
        found.append(
            (
                full,
                saturation(air_c - interior.pane_drop * (air_c - room_c)),
                interior.volume_m3 * per_pa * interior.buffer,
                interior.volume_m3 * changes / 3600 * per_pa,
                wet_face * interior.film_m2,
                wet_face * interior.substrate_m2 * interior.wetness,
                water,
                transfer * per_pa * interior.pane_m2,
                gives,
            )
        )

    return found


def run(
    interior: MoistureModel,
    forcing: Forcing,
    start: WaterStores | None = None,
    *,
    fine_s: float = FINE_S,
) -> MoistureSeries:
    """Follow the water of an enclosure.

    Parameters
    ----------
    start : WaterStores, optional
        Where the water is; by default the room's vapour, and substrate as wet as it is said to be.
    fine_s : float
        Longest step while a film, dew or fog is there [s].
    """
    return _run(interior, forcing, start, _frozen(interior, forcing), fine_s)


def _run(
    interior: MoistureModel,
    forcing: Forcing,
    start: WaterStores | None,
    frozen: Sequence[Frozen],
    fine_s: float,
) -> MoistureSeries:
    """As `run`, by coefficients that are known.

    Plain numbers and one exponential a step: a plan runs a dozen days of it.
    """
    now = start or WaterStores(forcing.room_pa[0], substrate_kg=interior.substrate_kg)
    vapour = now.vapour_pa
    film = now.film_kg
    dew = now.dew_kg
    substrate = now.substrate_kg
    misted = fogged = dished = came = went = drained = 0.0
    most_film = interior.most_film_kg
    most_dew = DEW_KG_M2 * interior.pane_m2
    usual_substrate = interior.substrate_kg
    most_substrate = 2 * usual_substrate
    vapours = list[float]()
    films = list[float]()
    dews = list[float]()
    substrates = list[float]()
    capacity = frozen[0][2]
    first = capacity * vapour + film + dew + substrate
    exp = math.exp
    held_fog = forcing.held_kg_s or (0.0,) * len(frozen)
    held_pa = forcing.held_pa or (math.inf,) * len(frozen)
    length_s = forcing.step_s
    for (
        full,
        pane_full,
        takes,
        vent,
        film_face,
        substrate_face,
        water,
        pane,
        gives,
    ), room_pa, mist, by_clock, most_held, stop in zip(
        frozen, forcing.room_pa, forcing.mist_kg, forcing.fog_kg_s, held_fog, held_pa, strict=True
    ):
        if (
            takes != capacity
        ):  # air that is pushed out as it warms, or drawn in as it cools, takes its vapour with it
            went += vapour * (capacity - takes)
            capacity = takes
        misted += mist
        film += mist
        always = vent + water
        most_fog = by_clock + most_held
        brought = vent * room_pa + gives + most_fog
        left = length_s
        while left > 1e-9:
            if film > most_film:
                substrate = substrate + film - most_film
                film = most_film
            wet_pane = dew > 0 or vapour > pane_full
            from_film = film_face * (film / most_film) if film > 0 else 0.0
            from_substrate = (
                substrate_face * min(1.0, substrate / usual_substrate) if usual_substrate else 0.0
            )
            from_pane = pane if wet_pane else 0.0
            gains = always + from_film + from_substrate + from_pane
            settled = (
                brought + (from_film + from_substrate) * full + from_pane * pane_full
            ) / gains
            fog = most_fog
            if settled > stop:  # switched on and off, it gives what holds the air there
                fog = max(most_fog - (settled - stop) * gains, by_clock)
                settled -= (most_fog - fog) / gains
            rate = gains / takes
            step = fine_s if left > fine_s and (film > 0 or wet_pane or fog) else left
            decay = exp(-step * rate)
            mean = settled + (vapour - settled) * (1 - decay) / (step * rate)
            dry = full - mean
            fogging = pane_full - mean
            used = 1.0  # a store that runs dry ends the step
            if film > 0 and from_film * dry * step > film:
                used = film / (from_film * dry * step)
            if dew > 0 and from_pane * fogging * step > used * dew:
                used = min(used, dew / (from_pane * fogging * step))
            if substrate > 0 and from_substrate * dry * step > substrate:
                used = min(used, substrate / (from_substrate * dry * step))
            if used < 1:
                step = max(used * step, min(step, LEAST_S))
                decay = exp(-step * rate)
                mean = settled + (vapour - settled) * (1 - decay) / (step * rate)
                dry = full - mean
                fogging = pane_full - mean
            film -= from_film * dry * step
            dew -= from_pane * fogging * step
            substrate -= from_substrate * dry * step
            dished += (gives - water * mean) * step
            fogged += fog * step
            came += vent * room_pa * step
            went += vent * mean * step
            vapour = settled + (vapour - settled) * decay
            if dew < 1e-9:
                substrate = substrate + dew
                dew = 0.0
            if film < 1e-9:
                substrate = substrate + film
                film = 0.0
            if vapour > full:  # a fog that the air cannot hold settles
                film = film + (vapour - full) * takes
                vapour = full
            if dew > most_dew:
                substrate = substrate + dew - most_dew
                dew = most_dew
            if substrate > most_substrate:
                drained = drained + substrate - most_substrate
                substrate = most_substrate
            left -= step
        vapours.append(vapour)
        films.append(film)
        dews.append(dew)
        substrates.append(substrate)
    residual = (
        first
        + misted
        + fogged
        + dished
        + came
        - went
        - drained
        - (capacity * vapour + film + dew + substrate)
    )
    ledger = WaterBalance(misted, fogged, dished, came, went, drained)
    end = WaterStores(vapour, film, dew, substrate)

    return MoistureSeries(
        tuple(vapours), tuple(films), tuple(dews), tuple(substrates), end, ledger, residual
    )


@remembered(DAYS_REMEMBERED)
def settle(
    interior: MoistureModel, forcing: Forcing, days: int = 5, start: WaterStores | None = None
) -> MoistureSeries:
    """The last of several equal days: what an enclosure does once it has got used to its round.

    The substrate starts each day as it is said to be. A day is remembered by its content: a plan
    asks for the same one twice or more.

    Parameters
    ----------
    start : WaterStores, optional
        Of a day much like it, which it settles from in fewer days.
    """
    frozen = _frozen(interior, forcing)
    series = _run(
        interior,
        forcing,
        replace(start, substrate_kg=interior.substrate_kg) if start else None,
        frozen,
        FINE_S,
    )
    for _ in range(days - 1):
        series = _run(
            interior,
            forcing,
            replace(series.end, substrate_kg=interior.substrate_kg),
            frozen,
            FINE_S,
        )

    return series
