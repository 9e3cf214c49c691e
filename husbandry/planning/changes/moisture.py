"""Candidates for humidity: mistings, a wetter or drier substrate, less open mesh, more air."""

from collections.abc import Iterator

from husbandry.planning.changes.bench import Bench, Candidate, half_of_the_mesh
from husbandry.planning.humidity import BY_HAND, HUMIDITY, clock
from husbandry.planning.moisture import WETNESS
from husbandry.planning.request import Misting

WIDEST_CM2 = 2000.0
"""No vents wider than that are advised [cm²]."""


def candidates(bench: Bench) -> Iterator[Candidate]:
    """Everything that could put a humidity right, where it was said how the enclosure is kept damp."""
    wetting, things = bench.request.box.wetting, bench.request.things
    wrong = [bench.wrong(key) for key in HUMIDITY if key in bench.bands]
    if wetting is None or not things or not any(wrong):
        return
    yield from _mistings(bench)
    order = list(WETNESS)
    at, step = order.index(wetting.ground), 1 if min(wrong) < 0 else -1
    if bench.outcome.damp is not None and bench.outcome.damp.box.ground_m2 > 0 and 0 <= at + step < len(order):
        name = order[at + step]
        yield Candidate(
            "ground_wetness",
            things[0],
            {"wetness": WETNESS[name], "to_ground": name, "from_ground": wetting.ground},
            "own",
            ({"op": "add", "path": "/box/wetting/ground", "value": name},),
            "The substrate one step wetter or drier, in the balance of the enclosure's water over a day.",
            0.2,
        )
    if min(wrong) < 0:
        yield from half_of_the_mesh(bench, "damp")
    elif max(wrong) > 0:
        yield from _more_air(bench)


def _mistings(bench: Bench) -> Iterator[Candidate]:
    """The timetable that keeps the wave, or none where it is too wet without."""
    wetting, timetable = bench.request.box.wetting, bench.timetable
    if wetting is None or timetable is None:
        return
    times = [clock(hour) for hour in timetable.hours]
    each = float(round(1000 * timetable.each_kg))
    made = [Misting(at=at, ml=each).model_dump() for at in times if each > 0]
    if made == [one.model_dump() for one in wetting.mistings]:
        return
    yield Candidate(
        "mist",
        bench.request.things[0],
        {
            "each_ml": each,
            "times": ", ".join(times),
            "by": "pump" if wetting.nozzles_ml_s is None and len(made) > BY_HAND else "hand",
        },
        "own",
        ({"op": "add", "path": "/box/wetting/mistings", "value": made},),
        "The fewest mistings whose wave touches the upper mark and does not fall under the lower, by halving on the balance of the enclosure's water.",
        0.1 * len(made),
    )


def _more_air(bench: Bench) -> Iterator[Candidate]:
    vents = bench.request.box.vents
    low, high = (min(2 * max(area, 20.0), WIDEST_CM2) for area in (vents.low_cm2, vents.high_cm2))
    if low <= vents.low_cm2 and high <= vents.high_cm2:
        return
    yield Candidate(
        "more_air",
        bench.request.things[0],
        {"to_share_of_vents": 2.0, "low_cm2": low, "high_cm2": high},
        "buy",
        (
            {"op": "add", "path": "/box/vents/low_cm2", "value": low},
            {"op": "add", "path": "/box/vents/high_cm2", "value": high},
        ),
        "Vents of twice the area, low and high: more of the room's drier air passes through.",
        1.0,
    )
