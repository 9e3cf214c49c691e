"""Candidates for humidity: mistings, a wetter or drier substrate, less open mesh, more air."""

from collections.abc import Iterator

from husbandry.advise.context import Candidate, ChangeContext, half_of_the_mesh
from husbandry.documents.enclosure import Misting
from husbandry.predict.humidity import BY_HAND, HUMIDITY, clock
from husbandry.predict.moisture import WETNESS

WIDEST_CM2 = 2000.0
"""No vents wider than that are advised (design choice) [cm²]."""


def candidates(context: ChangeContext) -> Iterator[Candidate]:
    """Everything that could put a humidity right, where it was said how the enclosure is kept damp."""
    wetting = context.request.enclosure.wetting
    items = context.request.items
    wrong = [context.wrong(key) for key in HUMIDITY if key in context.targets]
    if wetting is None or not items or not any(wrong):
        return
    yield from _mistings(context)
    order = list(WETNESS)
    at = order.index(wetting.substrate)
    step = 1 if min(wrong) < 0 else -1
    if (
        context.prediction.damp is not None
        and context.prediction.damp.enclosure.substrate_m2 > 0
        and 0 <= at + step < len(order)
    ):
        name = order[at + step]
        yield Candidate(
            "substrate_wetness",
            items[0],
            {"wetness": WETNESS[name], "to_substrate": name, "from_substrate": wetting.substrate},
            "own",
            ({"op": "add", "path": "/enclosure/wetting/substrate", "value": name},),
            "The substrate one step wetter or drier, in the balance of the enclosure's water over a"
            " day.",
            0.2,
        )
    if min(wrong) < 0:
        yield from half_of_the_mesh(context, "damp")
    elif max(wrong) > 0:
        yield from _more_air(context)


def _mistings(context: ChangeContext) -> Iterator[Candidate]:
    """The timetable that keeps the wave, or none where it is too wet without."""
    wetting = context.request.enclosure.wetting
    timetable = context.timetable
    if wetting is None or timetable is None:
        return
    times = [clock(hour) for hour in timetable.hours]
    each = float(round(1000 * timetable.each_kg))
    made = [Misting(at=at, ml=each).model_dump() for at in times if each > 0]
    daily = wetting.mist_days == 1
    if daily and made == [one.model_dump() for one in wetting.mistings]:
        return
    yield Candidate(
        "mist",
        context.request.items[0],
        {
            "each_ml": each,
            "times": ", ".join(times),
            "by": "pump" if wetting.nozzles_ml_s is None and len(made) > BY_HAND else "hand",
        },
        "own",
        (
            {"op": "add", "path": "/enclosure/wetting/mistings", "value": made},
            {"op": "add", "path": "/enclosure/wetting/mist_days", "value": 1},
        ),
        "The fewest mistings whose wave touches the upper mark and does not fall under the lower,"
        " by halving on the balance of the enclosure's water.",
        0.1 * len(made),
    )


def _more_air(context: ChangeContext) -> Iterator[Candidate]:
    vents = context.request.enclosure.vents
    low, high = (min(2 * max(area, 20.0), WIDEST_CM2) for area in (vents.low_cm2, vents.high_cm2))
    if low <= vents.low_cm2 and high <= vents.high_cm2:
        return
    yield Candidate(
        "more_air",
        context.request.items[0],
        {"to_share_of_vents": 2.0, "low_cm2": low, "high_cm2": high},
        "buy",
        (
            {"op": "add", "path": "/enclosure/vents/low_cm2", "value": low},
            {"op": "add", "path": "/enclosure/vents/high_cm2", "value": high},
        ),
        "Vents of twice the area, low and high: more of the room's drier air passes through.",
        1.0,
    )
