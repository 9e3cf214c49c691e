"""Humidity in a plan: what is predicted at both ends of the day, the course that a page draws, when
to mist, and what to beware of.

Method: docs/methods/moisture.md.
"""

from collections.abc import Mapping

from husbandry.climate.misting import HumidityBounds, MistingTimetable, wave_of
from husbandry.derivation import Z90, Derivation, DerivationInput, Source, named_text, named_value
from husbandry.documents.result import (
    HandMistingPlan,
    MistingPlan,
    MistingPulse,
    MoistureAlternative,
    MoistureForecast,
    Note,
    UntendedForecast,
)
from husbandry.errors import ImpossibleStateError
from husbandry.items.foggers import Fogger
from husbandry.predict.moist_hide import moss_day
from husbandry.predict.moisture import DayMoisture, best_timetable, marks_of
from husbandry.predict.moisture_alternatives import left_alone, otherwise
from husbandry.predict.predict import Prediction
from husbandry.species.needs import NeedKey
from husbandry.species.profile import Profile
from husbandry.targets.verdicts import TargetRange

HUMIDITY = (NeedKey.HUMIDITY_DAY, NeedKey.HUMIDITY_NIGHT)
NIGHT_MORE_PCT = 20.0
"""A night may be so much damper than the day's upper mark where the species has no mark of its own
for it, if it dries by day (common practice) [%].
"""
STAGNANT_CHANGES, STALE_DEW_H, STALE_PCT, STALE_H, LEAST_DRY_H = 0.5, 12.0, 97.0, 20.0, 4.0
"""Source: humidity A6 (common practice): air that hardly changes, panes that stay wet, air that stays
full, faces that never dry.
"""
COLD_K = 1.0
"""Night air under its target by so much is cold (design choice) [K]."""
WET_PCT = 85.0
"""Air that is damp when it is cold (common practice, no source) [%]."""
TEXTS = {
    "stagnant": (
        "Its air hardly changes: damp and still is how lungs and skin fall ill. Open low and high,"
        " and let the humidity come from the substrate."
    ),
    "never dry air": (
        "Its air is full, or its panes are wet, for most of the day: it needs hours of drying. "
        "A wet pane in a cold room is no proof of good humidity."
    ),
    "wet panes": (
        "Its panes stay wet because the room is so much colder than its air: they would in the"
        " middle of what it needs. That is no proof of good humidity: a hygrometer tells it."
    ),
    "never dry": (
        "What is misted hardly dries before it is misted again: less at a time, fewer times, or"
        " more air."
    ),
    "waterlogged": (
        "More is sprayed than the substrate holds: it collects below. Give it a drained layer, or"
        " spray less."
    ),
    "cold and wet": (
        "Cold and wet at night: of the two the cold has to go first. No misting before a cold"
        " night."
    ),
    "misting does not keep up": (
        "It lies under its lower mark for hours every day, and no misting alone can hold it there: its air"
        " leaves faster than water rises."
        " Cover part of the mesh, keep the substrate damper, or add a fogger."
    ),
    "dries fast": (
        "Its skin lets its water go, and a misting that fails is noticed in hours, not days: damp"
        " substrate, wet moss or a bath that carry it over, and a look at the pump every day."
    ),
    "no wave": "A line, not a wave: let it fall to its lower mark once a day.",
    "much by hand": (
        "So much water a day is much work by hand: a pump with nozzles and a timer, its jets away"
        " from lamps and mains."
    ),
    "fogger": (
        "A fogger breeds what it sprays: distilled water, emptied and cleaned every week, off while"
        " the air is full."
    ),
}
POOLS_KG_M2 = 0.1
"""Water a day past what the substrate holds that dries by itself: a tenth of a millimetre (design
choice) [kg/m²].
"""
FACTS = frozenset({"wet panes"})
"""What is said without a call for a change."""
BELOW_MOST_H = 4.0
"""Hours a day under its lower mark that are still a wave: the air is let fall before it is misted again
(common practice, no source) [h].
"""
MOSS_DRY = 2 / 3
"""Of the water in moss that may go before it is wetted again (design choice) [1]."""
BY_HAND = 2
"""Mistings a day that a keeper does by hand, morning and evening (common practice)."""
SKIN_H = 12.0
"""An enclosure of what dries through its skin that falls below its mark sooner than that leaves no
night to notice it: such animals lose a tenth to a fifth
of their mass in hours (source: humidity A6) [h].
"""
DRIES_BY_SKIN = frozenset({"frog", "salamander"})
WATER_HAND_ML = 250.0
"""More than that a day is a task by hand (common practice) [ml]."""
TANK_SPARE = 1.1
"""Over what is sprayed: the last of a tank stays below its pump (common practice) [1]."""
HUMIDITY_SOURCE = Source(
    kind="design choice",
    text=(
        "balance of an enclosure's water over a day, checked against an independent solver:"
        " docs/methods/moisture.md"
    ),
)
RANGE = (
    "The interval carries the air exchange (×/÷ 2), how wet the substrate is (×/÷ 1.6 one way in"
    " three), the evaporation, 5 points of the room and 3 of the place."
)


def _day_marks(shared: Mapping[NeedKey, TargetRange]) -> tuple[float, float] | None:
    day = shared.get(NeedKey.HUMIDITY_DAY)
    if day is None:
        return None
    return max(day.low_value, 0.0), min(day.high_value, 100.0)


def marks_for(damp: DayMoisture, shared: Mapping[NeedKey, TargetRange]) -> HumidityBounds | None:
    """The marks of a day and its night; None for a species without any."""
    day = _day_marks(shared)
    if day is None:
        return None
    target = shared[NeedKey.HUMIDITY_DAY]
    most = target.limit_high.value if target.limit_high else 100.0
    night = (day[0], min(day[1] + NIGHT_MORE_PCT, most))
    own = shared.get(NeedKey.HUMIDITY_NIGHT)
    if own is not None:
        night = max(own.low_value, 0.0), min(own.high_value, 100.0)

    return marks_of(damp, day, night)


def timetable_of(
    prediction: Prediction, shared: Mapping[NeedKey, TargetRange], profile: Profile
) -> MistingTimetable | None:
    """When it would be misted best; None where nobody said how the enclosure is kept damp, or the
    species is not misted.
    """
    damp = prediction.damp
    marks = marks_for(damp, shared) if damp is not None else None
    most = profile.moisture.mistings_per_day.high or 0.0
    if damp is None or marks is None or most < 1:
        return None
    nights = profile.moisture.rhythm == "dry by day, damp by night"
    return best_timetable(damp, marks, damp_nights=nights, most=min(round(most) + 1, 6))


def by_hand(
    timetable: MistingTimetable | None,
    prediction: Prediction,
    shared: Mapping[NeedKey, TargetRange],
    profile: Profile,
) -> MistingTimetable | None:
    """The best that two mistings a day come to; None where no more are needed, or a pump does them."""
    damp = prediction.damp
    if (
        timetable is None
        or damp is None
        or damp.wetting.nozzles_ml_s is not None
        or len(timetable.hours) <= BY_HAND
    ):
        return None
    marks = marks_for(damp, shared)
    if marks is None:
        raise ImpossibleStateError("there is a timetable")
    nights = profile.moisture.rhythm == "dry by day, damp by night"

    return best_timetable(damp, marks, damp_nights=nights, most=BY_HAND)


def given_of(damp: DayMoisture) -> tuple[DerivationInput, ...]:
    """What an enclosure's water is calculated from."""
    enclosure = damp.enclosure
    forcing = damp.forcing
    room = damp.request.room
    noon = damp.day_n
    night = damp.night_n
    told = damp.wetting.logged

    return (
        named_value("room: humidity", room.rh_pct, "%"),
        named_value("room by day", room.day_c, "°C"),
        named_value("air changes at the end of the day", forcing.changes_per_h[noon], "1/h"),
        named_value("air changes at the end of the night", forcing.changes_per_h[night], "1/h"),
        named_text("substrate, as recorded", damp.wetting.substrate),
        named_value("substrate that evaporates", enclosure.substrate_m2 * enclosure.wetness, "m²"),
        named_value("open water and leaves", enclosure.water_m2, "m²"),
        *(
            (
                named_value("air exchange, by a hygrometer's log", told.air, "×"),
                named_value("substrate, by the log", told.substrate, "×"),
            )
            if told
            else ()
        ),
        *(named_value(f"misting at {m.at}", m.ml, "ml") for m in damp.wetting.mistings),
        *(given for one in damp.request.foggers for given in _given_of_a_fogger(one)),
        named_value("cool end then, by day", damp.places.cool[noon], "°C"),
    )


def _given_of_a_fogger(fogger: Fogger) -> tuple[DerivationInput, ...]:
    """What it gives, and when."""
    hours = " and ".join(f"{on} to {off}" for on, off in fogger.windows) or "all day and night"
    held = fogger.humidistat_pct
    return (
        named_value(f"fogger, an hour, {hours}", 1000 * fogger.l_per_h, "ml"),
        *(() if held is None else (named_value("its humidistat, off at", held, "%"),)),
    )


def humidity_predictions(
    prediction: Prediction, shared: Mapping[NeedKey, TargetRange], *, needs_only: bool = False
) -> dict[str, Derivation]:
    """Humidity at the cool end, day and night, and what goes with it; nothing where nobody said how
    the enclosure is kept damp.
    """
    damp = prediction.damp
    seen = prediction.expected_humidity
    if damp is None or seen is None:
        return {}
    inputs = given_of(damp)
    found: dict[str, Derivation] = {}
    whens = {NeedKey.HUMIDITY_DAY: "the day's heat", NeedKey.HUMIDITY_NIGHT: "the dark"}
    ends = {
        NeedKey.HUMIDITY_DAY: (seen.day_pct, seen.day_sd),
        NeedKey.HUMIDITY_NIGHT: (seen.night_pct, seen.night_sd),
    }
    for key, (value, sd) in ends.items():
        if key in shared:
            found[key.value] = Derivation(
                value=value,
                unit="%",
                low=max(value - Z90 * sd, 0.0),
                high=min(value + Z90 * sd, 100.0),
                method="balance of water",
                rule=(
                    f"Vapour of the enclosure at the end of {whens[key]}, against saturation at the"
                    " cool end's own temperature; days alike."
                ),
                inputs=inputs,
                sources=(HUMIDITY_SOURCE,),
                would_change=RANGE,
                command=f"plan FILE.json --number /predictions/{key.value}/value",
            )
    if needs_only:
        return found

    return _add_derivations(damp, found, inputs)


def _add_derivations(
    damp: DayMoisture, found: dict[str, Derivation], inputs: tuple[DerivationInput, ...]
) -> dict[str, Derivation]:
    """Add each number of the day's humidity with its derivation."""

    def derivation(key: str, value: float, unit: str, rule: str) -> Derivation:
        return Derivation(
            value=value,
            unit=unit,
            rule=rule,
            inputs=inputs,
            sources=(HUMIDITY_SOURCE,),
            command=f"plan FILE.json --number /predictions/{key}/value",
        )

    changes = damp.forcing.changes_per_h
    moss = moss_day(damp)
    if moss is not None and moss.lost_kg > 0:
        rule = (
            "Three centimetres of wet moss over most of its floor, 4 l/m², less two thirds, over"
            " what it loses to the enclosure in a day by an exchange an hour."
        )
        found["moss_days"] = derivation(
            "moss_days", MOSS_DRY * moss.holds_kg / moss.lost_kg, "d", rule
        )
    found["air_changes_day"] = derivation(
        "air_changes_day",
        changes[damp.day_n],
        "1/h",
        "Air renewed an hour, by vents, leaks and mesh, at the day's excess warmth.",
    )
    rule = "The same at the night's excess warmth."
    night = changes[damp.night_n]
    found["air_changes_night"] = derivation("air_changes_night", night, "1/h", rule)
    rule = "Water for mistings and fog, and what dishes lose, in a day among days alike."
    found["water_given"] = derivation("water_given", 1000 * damp.day_kg, "ml", rule)
    found["water_week"] = derivation("water_week", 7 * damp.day_kg, "l", "Seven days of that.")
    rule = "Hours of the day in which what was misted is dry to the touch (under 5 g/m²)."
    found["mist_dry"] = derivation("mist_dry", damp.dry_h, "h", rule)
    tank = damp.wetting.tank_l
    sprayed = damp.series.ledger.misted + damp.series.ledger.fogged
    if tank is not None and sprayed > 0:
        found["tank_days"] = derivation(
            "tank_days", tank / sprayed, "d", "Litres of the tank over what is sprayed in a day."
        )
    if sprayed > 0 and (damp.wetting.nozzles_ml_s is not None or damp.request.foggers):
        found["tank_week"] = derivation(
            "tank_week",
            TANK_SPARE * 7 * sprayed,
            "l",
            "What is sprayed in a week, and a tenth that a pump cannot draw.",
        )

    return found


def _dose(timetable: MistingTimetable, damp: DayMoisture, at: str) -> Derivation:
    """Water of one misting of a timetable."""
    return Derivation(
        value=1000 * timetable.each_kg,
        unit="ml",
        method="mistings that keep a wave",
        rule=(
            "The most of which the wave still keeps below its upper mark, by halving on the balance"
            " of the enclosure’s water, and never more than clings to what it wets; the number of"
            " mistings is the least that keeps the lower mark."
        ),
        inputs=(
            *(given for given in given_of(damp) if not given.name.startswith("misting at ")),
            named_value("mistings a day", len(timetable.hours), ""),
            named_value("clings to what is wetted", 1000 * damp.enclosure.most_film_kg, "ml"),
            named_value("lowest then", timetable.wave.lowest_pct, "%"),
            named_value("highest then", timetable.wave.highest_pct, "%"),
        ),
        sources=(HUMIDITY_SOURCE,),
        would_change=RANGE,
        command=f"plan FILE.json --number {at}/value",
    )


def _hand_seen(hand: MistingTimetable | None, damp: DayMoisture) -> HandMistingPlan | None:
    if hand is None:
        return None
    return HandMistingPlan(
        dose=_dose(hand, damp, "/damp/timetable/by_hand/dose"),
        times=tuple(clock(hour) for hour in hand.hours),
        each_ml=round(1000 * hand.each_kg, 1),
        lowest_pct=hand.wave.lowest_pct,
        highest_pct=hand.wave.highest_pct,
    )


def timetable_seen(
    timetable: MistingTimetable | None, damp: DayMoisture, hand: MistingTimetable | None = None
) -> MistingPlan | None:
    """A timetable for a page."""
    if timetable is None:
        return None
    nozzles = damp.wetting.nozzles_ml_s
    each = 1000 * timetable.each_kg

    return MistingPlan(
        verdict=timetable.verdict,
        times=tuple(clock(hour) for hour in timetable.hours),
        each_ml=round(each),
        seconds=round(each / nozzles, 1) if nozzles else None,
        lowest_pct=timetable.wave.lowest_pct,
        highest_pct=timetable.wave.highest_pct,
        in_marks_h=timetable.wave.in_range_h,
        by_hand=_hand_seen(hand, damp),
        dose=_dose(timetable, damp, "/damp/timetable/dose") if timetable.hours else None,
        spray=_spray(each, damp, "/damp/timetable/spray") if timetable.hours else None,
    )


def clock(hour: float) -> str:
    """An hour of the day as a time."""
    return f"{int(hour) % 24:02d}:{round(60 * (hour % 1)):02d}"


def damp_seen(
    prediction: Prediction,
    shared: Mapping[NeedKey, TargetRange],
    timetable: MistingTimetable | None,
    profile: Profile,
) -> MoistureForecast | None:
    """A day's humidity as a page draws it."""
    damp = prediction.damp
    if damp is None:
        return None
    marks = marks_for(damp, shared)
    moss = moss_day(damp)
    wave = wave_of(damp.cool_pct, marks) if marks is not None else None

    def shown(values: object) -> tuple[float, ...]:
        return tuple(round(float(value), 2) for value in values)  # type: ignore[attr-defined]  # any sequence of numbers

    return MoistureForecast(
        warm_pct=shown(damp.warm_pct),
        cool_pct=shown(damp.cool_pct),
        hide_pct=shown(moss.pct) if moss is not None else (),
        lit=damp.places.lit,
        low_pct=marks.low if marks else (),
        high_pct=marks.high if marks else (),
        pulses=tuple(
            MistingPulse(
                at=m.at,
                ml=m.ml,
                seconds=_pump_s(m.ml, damp),
                spray=_spray(m.ml, damp, f"/damp/pulses/{n}/spray"),
            )
            for n, m in enumerate(damp.wetting.mistings)
        ),
        in_marks_h=wave.in_range_h if wave else 0.0,
        below_h=wave.below_h if wave else 0.0,
        above_h=wave.above_h if wave else 0.0,
        falls=wave.falls if wave else False,
        dew_h=damp.dew_h,
        drained_ml=round(1000 * damp.series.ledger.drained, 1),
        timetable=timetable_seen(timetable, damp, by_hand(timetable, prediction, shared, profile)),
        others=tuple(
            MoistureAlternative(slug=slug, day_pct=day, night_pct=night)
            for slug, (day, night) in otherwise(prediction).items()
        ),
        left=left_seen(damp, marks),
    )


def _pump_s(ml: float, damp: DayMoisture) -> float | None:
    """For which a pump sprays that much; None by hand [s]."""
    return round(ml / damp.wetting.nozzles_ml_s, 1) if damp.wetting.nozzles_ml_s else None


def _spray(ml: float, damp: DayMoisture, at: str) -> Derivation | None:
    """The same with its derivation."""
    nozzles = damp.wetting.nozzles_ml_s
    if nozzles is None:
        return None

    return Derivation(
        value=ml / nozzles,
        unit="s",
        rule="Water of the misting over what the nozzles give together.",
        inputs=(
            named_value("of one misting", ml, "ml"),
            named_value("nozzles together", nozzles, "ml/s"),
        ),
        sources=(
            Source(
                kind="entered",
                text="what the nozzles give: catch a minute of it in a measuring jug",
            ),
        ),
        would_change="Worn or limed nozzles give less: measure them again.",
        command=f"plan FILE.json --number {at}/value",
    )


def left_seen(damp: DayMoisture, marks: HumidityBounds | None) -> UntendedForecast | None:
    """The enclosure left to itself; None where it has no marks, or falls below them as it is kept."""
    if marks is None or marks.under(damp.cool_pct):
        return None
    left = left_alone(damp, marks)
    inputs = (
        *given_of(damp),
        named_value("lowest of its lower marks", min(marks.low), "%"),
        named_value("water in its substrate", damp.enclosure.substrate_kg, "l"),
    )

    def derivation(value: float | None, unit: str, rule: str, name: str) -> Derivation | None:
        if value is None:
            return None
        return Derivation(
            value=value,
            unit=unit,
            rule=rule,
            inputs=inputs,
            sources=(HUMIDITY_SOURCE,),
            would_change=RANGE,
            command=f"plan FILE.json --number /damp/left/{name}/value",
        )

    low = (
        "Days without mist, fog or poured water, until the cool end falls under its lower mark;"
        " counted from the last misting."
    )

    return UntendedForecast(
        low_h=left.low_h,
        substrate_days=left.substrate_days,
        deeper_low_h=left.deeper_low_h,
        deeper_days=left.deeper_days,
        low=derivation(left.low_h, "h", low, "low"),
        substrate=derivation(
            left.substrate_days,
            "d",
            "ln 2 × the water in its substrate ÷ what it loses in a day without mist.",
            "substrate",
        ),
    )


Said = dict[str, dict[str, float]]
"""What is noted of an enclosure's damp, by slug, with its numbers."""


def damp_notes(
    prediction: Prediction,
    shared: Mapping[NeedKey, TargetRange],
    profile: Profile,
    timetable: MistingTimetable | None,
) -> list[Note]:
    """What is to be noted of an enclosure's air, of its water, and of how it is misted."""
    damp = prediction.damp
    if damp is None:
        return []
    marks = marks_for(damp, shared)
    said = (
        _of_its_air(damp, marks, shared)
        | _of_its_water(damp, profile)
        | _of_its_misting(damp, marks, profile, timetable)
    )

    return [
        Note(
            slug=slug,
            severity="fact" if slug in FACTS else "care",
            text=TEXTS[slug],
            values=values,
        )
        for slug, values in said.items()
    ]


def _of_its_air(
    damp: DayMoisture, marks: HumidityBounds | None, shared: Mapping[NeedKey, TargetRange]
) -> Said:
    """Still, always full, or cold and wet."""
    said: Said = {}
    changes = min(damp.forcing.changes_per_h)
    full_h = 24 * sum(value > STALE_PCT for value in damp.cool_pct) / len(damp.cool_pct)
    if changes < STAGNANT_CHANGES:
        said["stagnant"] = {"changes": changes}
    dew_h = damp.dew_past_need_h(marks.middle) if marks is not None else damp.dew_h
    if full_h > STALE_H or dew_h > STALE_DEW_H:
        said["never dry air"] = {"dew_h": dew_h}
    elif damp.dew_h > STALE_DEW_H:
        said["wet panes"] = {"dew_h": damp.dew_h}
    night = shared.get(NeedKey.AIR_NIGHT)
    night_c = damp.places.cool[damp.night_n]
    in_the_dark = [
        value for value, lit in zip(damp.cool_pct, damp.places.lit, strict=True) if not lit
    ]
    is_cold = night is not None and night_c < night.low_value - COLD_K
    if is_cold and max(in_the_dark, default=0.0) > WET_PCT:
        said["cold and wet"] = {"air_c": night_c}
    return said


def _of_its_water(damp: DayMoisture, profile: Profile) -> Said:
    """What never dries, what stands below, what is much work, and what a fogger asks for."""
    said: Said = {}
    ledger = damp.series.ledger
    if damp.wetting.mistings and damp.dry_h < LEAST_DRY_H and profile.moisture.rhythm != "water":
        said["never dry"] = {"dry_h": damp.dry_h}
    inside = damp.request.enclosure.inside_m
    if ledger.drained > POOLS_KG_M2 * inside.length * inside.depth:
        said["waterlogged"] = {"ml": 1000 * ledger.drained}
    if 1000 * ledger.misted > WATER_HAND_ML and damp.wetting.nozzles_ml_s is None:
        said["much by hand"] = {"ml": 1000 * ledger.misted}
    if damp.request.foggers:
        said["fogger"] = {}
    return said


def _of_its_misting(
    damp: DayMoisture,
    marks: HumidityBounds | None,
    profile: Profile,
    timetable: MistingTimetable | None,
) -> Said:
    """Out of reach by misting, soon dangerous without it, and a line where a wave belongs."""
    said: Said = {}
    wave = wave_of(damp.cool_pct, marks) if marks is not None else None
    below_h = wave.below_h if wave is not None else 0.0
    if timetable is not None and timetable.verdict == "out of reach" and below_h > BELOW_MOST_H:
        changes = max(damp.forcing.changes_per_h)
        said["misting does not keep up"] = {"changes": changes, "below_h": below_h}
    if damp.wetting.mistings and profile.group in DRIES_BY_SKIN:
        left = left_seen(damp, marks)
        if left is not None and left.low_h is not None and left.low_h < SKIN_H:
            said["dries fast"] = {"hours": left.low_h}
    if profile.moisture.rhythm == "wave" and wave is not None and not wave.falls:
        said["no wave"] = {}
    return said
