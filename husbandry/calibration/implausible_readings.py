"""The odd one out: readings that cannot be right, or that stand alone against the others.

Method: docs/methods/judging.md.

Such a reading still speaks: the model may be the one that errs, and a hot reading that is put aside
would hide a danger. It is named so
that it is taken again before anything is bought or moved.
"""

import math
from collections.abc import Mapping, Sequence

from husbandry.documents.result import NeedState
from husbandry.documents.room import Room
from husbandry.errors import ImpossibleStateError
from husbandry.species.needs import NEEDS, NeedKey

CERTAIN = 3.0
"""Standard deviations that a reading must lie past a law, or past its prediction, to be named
(design choice) [1].
"""
AGREES = 1.5
"""Standard deviations within which the others agree with theirs (design choice) [1]."""
WET_K = 2.0
"""What evaporation can take an enclosure below its room (design choice: far above the wet bulb, for
an enclosure is not all wick) [K].
"""
DRY_PCT = 5.0
"""How far a household's figure for the room's humidity may be off (design choice) [%]."""
SHINES_K = 3.0
"""Predicted surface over warm air from which something shines on the surface (design choice) [K]."""
TIMES = 4.0
"""A UV index so many times the predicted one is likely another quantity (design choice) [1]."""

_WARMTH = (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY, NeedKey.AIR_NIGHT)

UNIT = (
    "It would fit if it had been noted in the other unit: look whether the instrument shows °C"
    " or °F."
)
COLD = (
    "Colder than the room that the enclosure stands in: look at the room’s temperature, and try the"
    " thermometer in another place."
)
ENDS = (
    "The cool end reads warmer than the warm end: were the two probes, or the two readings,"
    " exchanged?"
)
SHINE = (
    "The surface under the lamp reads colder than the air beside it: aim at the surface itself, not"
    " through glass and not at something shiny, with the lamp on."
)
DRY = (
    "Drier than the room’s own air makes it: test the hygrometer over damp salt, and look at the"
    " room’s humidity."
)
OTHER_UV = "Many times what is predicted: a meter that shows µW/cm² does not show the UV index."
NO_UV = (
    "Next to none of what is predicted: glass or acrylic between lamp and meter lets none through,"
    " and an old lamp gives little."
)
ALONE = (
    "The other readings agree with the prediction and this one does not: look where it was taken"
    " and with what."
)
APART_TEXT = (
    "No lamp, panel or draught explains this reading beside the others: look where it was taken,"
    " with what, and what has changed in the enclosure since."
)
BEAM_TEXT = (
    "The other readings agree with the prediction and this one does not: a probe in the beam reads"
    " the lamp as well as the air. Shade it."
)


def odd_readings(needs: Sequence[NeedState], room: Room) -> dict[NeedKey, str]:
    """Why a reading that is judged should be taken again, by its need; nothing for the others.

    The likeliest reason is given.
    """
    read = {need.key: need for need in needs if need.measured is not None and need.measured.judged}
    return _company(read) | _ultraviolet(read) | _laws(read, room) | _units(read)


def with_odd_named(
    needs: Sequence[NeedState], odd: Mapping[NeedKey, str]
) -> tuple[NeedState, ...]:
    """The needs, with what is odd about their readings."""
    return tuple(
        (
            need.model_copy(
                update={"measured": need.measured.model_copy(update={"odd": odd[need.key]})}
            )
            if need.measured is not None and need.measured.judged and need.key in odd
            else need
        )
        for need in needs
    )


def read_again_first(need: NeedState) -> bool:
    """Whether a reading should be taken again before anything is changed: it is odd, and what it
    says is not a danger of too much.

    Less is safe, whatever the instrument; more is not.
    """
    too_much = need.verdict.direction == "above" and need.verdict.limit == "breached"
    return need.measured is not None and bool(need.measured.odd) and not too_much


def _off(need: NeedState, value: float) -> float | None:
    """How far a temperature lies from its prediction, in standard deviations of both; None where
    none is predicted [1].
    """
    if need.predicted is None or need.predicted.sd is None:
        return None
    return (value - need.predicted.value) / math.hypot(
        need.predicted.sd, NEEDS[need.key].reading_sd
    )


def _units(read: dict[NeedKey, NeedState]) -> dict[NeedKey, str]:
    found = {}
    for key in _WARMTH:
        if (
            key not in read
            or (off := _off(read[key], _value(read[key]))) is None
            or abs(off) <= CERTAIN
        ):
            continue
        value = _value(read[key])
        others = [_off(read[key], other) for other in (value * 1.8 + 32, (value - 32) / 1.8)]
        if any(other is not None and abs(other) <= AGREES for other in others):
            found[key] = UNIT
    return found


def _laws(read: dict[NeedKey, NeedState], room: Room) -> dict[NeedKey, str]:
    """What heat and vapour forbid: an enclosure that is heated and colder than its room, drier than
    its room's air, warm where it should be cool.
    """
    found = {}
    for key in _WARMTH:
        room_c = room.night_c if NEEDS[key].phase == "night" else room.day_c
        if key in read and _value(read[key]) < room_c - WET_K - CERTAIN * NEEDS[key].reading_sd:
            found[key] = COLD
    surface, warm, cool = (
        read.get(key) for key in (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY)
    )
    if warm and cool and _above(cool, warm) and _predicted_over(warm, cool) > 0:
        found |= {warm.key: ENDS, cool.key: ENDS}
    if surface and warm and _above(warm, surface) and _predicted_over(surface, warm) > SHINES_K:
        found[surface.key] = SHINE
    damp = read.get(NeedKey.HUMIDITY_DAY)
    if (
        damp
        and damp.floor
        and _value(damp) < damp.floor.value - DRY_PCT - CERTAIN * NEEDS[damp.key].reading_sd
    ):
        found[damp.key] = DRY
    return found


def _ultraviolet(read: dict[NeedKey, NeedState]) -> dict[NeedKey, str]:
    need = read.get(NeedKey.UVI_DAY)
    if need is None or need.predicted is None or need.predicted.value < 0.3:
        return {}
    times = _value(need) / need.predicted.value
    if times > TIMES:
        return {need.key: OTHER_UV}
    return {need.key: NO_UV} if times < 1 / (3 * TIMES) else {}


def _company(read: dict[NeedKey, NeedState]) -> dict[NeedKey, str]:
    """The one temperature that stands alone while at least two others agree with their predictions."""
    off = {
        key: far
        for key in _WARMTH
        if key in read and (far := _off(read[key], _value(read[key]))) is not None
    }
    alone = [key for key, far in off.items() if abs(far) > CERTAIN]
    if (
        len(alone) != 1
        or len(off) < 3
        or any(abs(far) > AGREES for key, far in off.items() if key not in alone)
    ):
        return {}
    (key,) = alone
    return {key: BEAM_TEXT if key is NeedKey.WARM_AIR_DAY and off[key] > 0 else ALONE}


def _value(need: NeedState) -> float:
    if need.measured is None:
        raise ImpossibleStateError("only needs that were read come here")
    return need.measured.value


def _above(one: NeedState, other: NeedState) -> bool:
    """Whether one reading lies above another by more than both may err."""
    both = math.hypot(NEEDS[one.key].reading_sd, NEEDS[other.key].reading_sd)
    return _value(one) - _value(other) > 2 * both


def _predicted_over(one: NeedState, other: NeedState) -> float:
    """How far one place is predicted warmer than another [K]."""
    return (
        one.predicted.value - other.predicted.value if one.predicted and other.predicted else 0.0
    )
