"""Calibration judged on hidden enclosures whose physics shares no law with the model: the error and how
often the 90 % intervals hold, before readings, after some, after larger changes, and where a reading or
the room is wrong.

    .venv/bin/python -m benchmarks.calibration [--enclosures 60]

The truth is benchmarks/enclosure_truth.py: finite volumes, radiosity, another beam, films, circulation
and ultraviolet, drawn more widely than the model believes. No constant of the model is taken from here.
Targets: in every case 85 to 97 of 100 intervals hold; calibration on four readings under 300 ms.
"""

import argparse
import math
import multiprocessing
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

import husbandry  # noqa: F401  # one BLAS thread, before numpy
from benchmarks.enclosure_truth import VolumeTruth
from benchmarks.timing import table, timed
from husbandry.calibration.fitting import _Asked, _learned, learn
from husbandry.climate.heat import solve
from husbandry.derivation import Z90
from husbandry.documents.request import EarlierState, ReadingSpec, Request
from husbandry.documents.request_json import from_data
from husbandry.items.furnishings import Slab
from husbandry.predict.exposure import DAY_HOUR
from husbandry.predict.need_states import AnimalNeeds, look
from husbandry.predict.predict import EnclosurePoint, Prediction, heat_model_of, predict
from husbandry.simulation.instruments import InstrumentSet
from husbandry.species.needs import NeedKey

NEEDS = (NeedKey.SURFACE_DAY, NeedKey.WARM_AIR_DAY, NeedKey.COOL_AIR_DAY, NeedKey.UVI_DAY)


def random_enclosure(seed: int) -> Request:
    """An enclosure with a lamp, a stone and a tube, as sensible as a careful keeper's."""
    draw = np.random.default_rng([seed, 3])
    length, depth, height = (
        float(draw.choice([0.8, 0.9, 1.2, 1.5])),
        float(draw.choice([0.45, 0.6])),
        float(draw.choice([0.5, 0.6])),
    )
    open_top = draw.random() < 0.3
    watts = float(draw.choice([50, 75] if length < 1 else [75, 100]))
    x = round(float(draw.uniform(0.18, 0.3)) * length, 2)
    stone = 0.03
    above = round(float(draw.uniform(0.24, min(0.34, height - 0.12))), 2)
    tube = 0.55 if length < 1.2 else 0.85
    data: dict[str, Any] = {
        "format": "ridgeback-request/2",
        "now": "2026-05-02T15:00:00+00:00",
        "room": {
            "day_c": round(float(draw.uniform(18, 24)), 1),
            "night_c": 17,
            "summer_max_c": 29,
            "rh_pct": 50,
        },
        "animals": [
            {
                "species": "Tiliqua scincoides",
                "mass_g": 300,
                "length_mm": {"snout_vent": 250, "total": 420},
            }
        ],
        "enclosure": {
            "inside_m": {"length": length, "depth": depth, "height": height},
            "panels": {
                "front": "glass",
                **(
                    dict.fromkeys(("back", "left", "right"), "glass")
                    if draw.random() < 0.3
                    else {}
                ),
            },
            "lid": (
                {"material": "wood", "mesh": "fly_screen", "mesh_share": 0.5}
                if open_top
                else {"material": "wood"}
            ),
            "substrate": {"material": str(draw.choice(["soil", "sand"])), "depth_m": 0.05},
        },
        "items": [
            {
                "id": "lamp",
                "kind": str(draw.choice(["halogen_flood", "incandescent_reflector"])),
                "at_m": [x, depth / 2, round(0.05 + stone + above, 2)],
                "power_w": watts,
                "on": "08:00",
                "off": "20:00",
            },
            {
                "id": "stone",
                "kind": "slab",
                "material": str(draw.choice(["stone", "slate", "softwood"])),
                "at_m": [x, depth / 2, 0.05],
                "size_m": [0.3, 0.3, stone],
            },
            {
                "id": "tube",
                "kind": str(draw.choice(["t5_6", "t5_12"])),
                "length_m": tube,
                "power_w": 24 if tube < 0.7 else 39,
                "hours_run": 600,
                "at_m": [
                    round(max(tube / 2, length * 0.4), 3),
                    depth / 2,
                    round(height - 0.05, 3),
                ],
                "on": "08:00",
                "off": "20:00",
            },
        ],
    }

    return from_data(data)


@dataclass(frozen=True)
class Miss:
    """One answer against the truth."""

    off: float
    wide: float
    """Half of the 90 % interval [K, or ln for UVI]."""

    @property
    def inside(self) -> bool:
        """Whether the interval holds."""
        return abs(self.off) <= self.wide


Misses = dict[str, Miss]
CASES = (
    "no reading",
    "two: surface, cool air",
    "four",
    "eight, four elsewhere",
    "then 12 cm along",
    "then the next larger bulb",
    "then another stone",
    "then another lid",
    "room really 2 K warmer",
    "a warm probe in the beam",
    "a mat, no reading",
    "a mat, two readings",
)
LOW, HIGH = 0.85, 0.97
"""Share of the intervals that hold [1]."""


def misses(prediction: Prediction, truth: VolumeTruth) -> Misses:
    """Every place that matters: how far off, and how wide the interval is."""
    spot = prediction.basking
    slab = prediction.day.hottest_slab()
    assert slab is not None
    places = (
        (
            "surface",
            prediction.day.spread(
                prediction.day.surface(slab),
                prediction.learned.spot(
                    NeedKey.SURFACE_DAY, prediction.request.enclosure, prediction.request.items
                ),
            ),
            truth.surface_c(spot.x_m, spot.y_m),
        ),
        ("warm air", prediction.spread(NeedKey.WARM_AIR_DAY), truth.air_c(*prediction.warm_point)),
        ("cool air", prediction.spread(NeedKey.COOL_AIR_DAY), truth.air_c(*prediction.cool_point)),
    )
    found = {}

    for name, spread, value in places:
        assert spread is not None
        found[name] = Miss(spread.temp_c - value, (spread.high_c - spread.low_c) / 2)
    if any(item.is_uv for item in prediction.request.items):
        uv = prediction.uvi()
        off = math.log(uv.uvi / truth.uvi(prediction.basking))
        found["UV index"] = Miss(off, Z90 * uv.ln_sd)
    return found


@dataclass(frozen=True)
class Keeper:
    """Somebody with instruments, before an enclosure."""

    kit: InstrumentSet
    truth: VolumeTruth
    believed: Prediction

    def reads(
        self, need: NeedKey, at_m: tuple[float, float, float] | None = None, more: float = 0.0
    ) -> ReadingSpec:
        """A reading for a need, aimed where it counts by the plan or at another place."""
        believed, truth, kit = self.believed, self.truth, self.kit
        if need is NeedKey.SURFACE_DAY:
            spot = believed.basking if at_m is None else EnclosurePoint(*at_m)
            value, instrument = kit.infrared_c(truth, spot.x_m, spot.y_m), "infrared"
        elif need is NeedKey.UVI_DAY:
            point = believed.basking if at_m is None else EnclosurePoint(*at_m)
            value, instrument = kit.uv_index(truth, point), "uv"
        else:
            own = believed.cool_point if need is NeedKey.COOL_AIR_DAY else believed.warm_point
            x, z = own if at_m is None else (at_m[0], at_m[2])
            value = kit.probe_c(truth, x, z)
            instrument = "shaded_probe" if more == 0 else "probe"  # nobody says where it hung
        return ReadingSpec(
            need=need,
            value=round(value + more, 2 if need is NeedKey.UVI_DAY else 1),
            at=truth.request.now,
            instrument=instrument,
            lamp_on_h=8.0,
            revision=truth.request.revision,
            room_c=round(truth.request.room.day_c, 1),
            at_m=at_m,
        )

    def elsewhere(self) -> tuple[ReadingSpec, ...]:
        """Four more, each at a place of its own."""
        request, spot = self.truth.request, self.believed.basking
        inside, depth = request.enclosure.inside_m, request.enclosure.substrate.depth_m
        high = depth + 0.8 * (inside.height - depth)
        middle = inside.length / 2

        return (
            self.reads(NeedKey.WARM_AIR_DAY, (self.believed.warm_point[0], spot.y_m, high)),
            self.reads(NeedKey.WARM_AIR_DAY, (middle, spot.y_m, spot.z_m)),
            self.reads(NeedKey.SURFACE_DAY, (spot.x_m + 0.08, spot.y_m, spot.z_m)),
            self.reads(NeedKey.UVI_DAY, (spot.x_m, spot.y_m, spot.z_m + 0.1)),
        )


def taught(request: Request, looked: AnimalNeeds, uncalibrated: Prediction) -> Prediction:
    """The prediction with what the request's readings tell."""
    return predict(request, uncalibrated.position, learn(request, looked).learned)


def changes(request: Request) -> dict[str, Request]:
    """Larger changes of an enclosure."""
    lamp, stone, *others = request.items
    inside = request.enclosure.inside_m
    along = min(lamp.at_m[0] + 0.12, inside.length - 0.2) - lamp.at_m[0]

    def shifted(item: Any) -> Any:
        x, y, z = item.at_m

        return item.model_copy(update={"at_m": (round(x + along, 3), y, z)})

    larger = {50: 75, 75: 100, 100: 150}[int(lamp.watts or 75)]
    made_of = {"stone": "softwood", "slate": "softwood", "softwood": "slate"}
    assert isinstance(stone, Slab)
    other = stone.model_copy(update={"material": made_of[stone.material]})
    closed = request.enclosure.lid.mesh is None
    lid = request.enclosure.lid.model_copy(
        update={"mesh": "fly_screen", "mesh_share": 0.5} if closed else {"mesh": None}
    )
    enclosure = request.enclosure.model_copy(update={"lid": lid})

    return {
        "then 12 cm along": request.model_copy(
            update={"items": (shifted(lamp), shifted(stone), *others)}
        ),
        "then the next larger bulb": request.model_copy(
            update={"items": (lamp.model_copy(update={"power_w": larger}), stone, *others)}
        ),
        "then another stone": request.model_copy(update={"items": (lamp, other, *others)}),
        "then another lid": request.model_copy(update={"enclosure": enclosure}),
    }


def mat_enclosure(seed: int) -> Request:
    """A snake's enclosure that a mat alone warms."""
    draw = np.random.default_rng([seed, 9])
    data = random_enclosure(seed).model_dump(mode="json")
    inside = data["enclosure"]["inside_m"]
    watts, sides = [(14, (0.28, 0.28)), (20, (0.42, 0.28)), (28, (0.40, 0.30))][
        int(draw.integers(3))
    ]
    data["animals"] = [{"name": "P", "species": "Python regius", "sex": "female", "mass_g": 1400}]
    data["enclosure"]["substrate"] = {
        "material": str(draw.choice(["soil", "sand"])),
        "depth_m": float(draw.choice([0.02, 0.03, 0.05])),
    }
    data["items"] = [
        {
            "id": "mat",
            "kind": "heat_mat",
            "at_m": [round(0.3 * inside["length"], 3), inside["depth"] / 2, 0.0],
            "size_m": [*sides, 0.001],
            "power_w": watts,
        }
    ]

    return from_data(data)


def trial(seed: int) -> dict[str, Misses]:
    """One hidden enclosure in every case."""
    return lamp_cases(seed) | mat_cases(seed)


def lamp_cases(seed: int) -> dict[str, Misses]:
    """A lamp over a stone: before readings, after some, after changes, with mistakes."""
    request = random_enclosure(seed)
    looked = look(request)
    draw = np.random.default_rng([seed, 5])
    truth = VolumeTruth(request, seed, request.room.day_c + 0.5 * float(draw.standard_normal()))
    believed = predict(request, looked.position(request))
    keeper = Keeper(InstrumentSet(seed), truth, believed)
    four = tuple(keeper.reads(need) for need in NEEDS)

    def told(readings: Sequence[ReadingSpec], world: VolumeTruth = truth) -> Misses:
        known = request.model_copy(update={"readings": tuple(readings)})

        return misses(taught(known, looked, believed), world)

    found = {
        "no reading": misses(believed, truth),
        "two: surface, cool air": told((four[0], four[2])),
        "four": told(four),
        "eight, four elsewhere": told((*four, *keeper.elsewhere())),
    }

    for name, after in changes(request).items():
        before = EarlierState(revision=1, enclosure=request.enclosure, items=request.items)
        second = after.model_copy(update={"revision": 2, "readings": four, "earlier": (before,)})
        there = look(second)
        uncalibrated = predict(second, there.position(second))
        found[name] = misses(taught(second, there, uncalibrated), truth.put(second))

    warmer = VolumeTruth(request, seed, request.room.day_c + 2)
    mistaken = Keeper(InstrumentSet(seed), warmer, believed)
    found["room really 2 K warmer"] = told([mistaken.reads(need) for need in NEEDS], warmer)
    beam_k = truth.kappa_c(*believed.warm_point)
    warm = keeper.reads(NeedKey.WARM_AIR_DAY, more=beam_k)
    found["a warm probe in the beam"] = told((four[0], warm, four[2], four[3]))

    return found


def mat_cases(seed: int) -> dict[str, Misses]:
    """A mat under the substrate."""
    request = mat_enclosure(seed)
    looked = look(request)
    draw = np.random.default_rng([seed, 15])
    truth = VolumeTruth(request, seed, request.room.day_c + 0.5 * float(draw.standard_normal()))
    believed = predict(request, looked.position(request))
    keeper = Keeper(InstrumentSet(seed), truth, believed)
    readings = (keeper.reads(NeedKey.SURFACE_DAY), keeper.reads(NeedKey.COOL_AIR_DAY))
    known = request.model_copy(update={"readings": readings})

    return {
        "a mat, no reading": misses(believed, truth),
        "a mat, two readings": misses(taught(known, looked, believed), truth),
    }


def show(trials: list[dict[str, Misses]]) -> bool:
    """Print errors and coverages; True when every interval holds as often as it says."""
    good = True
    names = ("surface", "warm air", "cool air", "UV index")
    print(f"{'':26}" + "".join(f"{name:>26}" for name in names))

    for case in CASES:
        cells = []

        for name in names:
            found = [one[case][name] for one in trials if name in one[case]]
            if not found:
                cells.append("")
                continue
            rms = math.sqrt(sum(miss.off**2 for miss in found) / len(found))
            wide = sum(miss.wide for miss in found) / len(found)
            cover = sum(miss.inside for miss in found) / len(found)
            good = good and LOW <= cover <= HIGH
            cells.append(f"{rms:5.2f} (± {wide:5.2f}) {cover:4.0%}")
        print(f"{case:26}" + "".join(f"{cell:>26}" for cell in cells))
    return good


def main() -> int:
    """Judge, then time."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--enclosures", type=int, default=60)
    asked = parser.parse_args()
    print(
        f"{asked.enclosures} hidden enclosures: RMS error (mean half of the 90 % interval) [K; ln for"
        " UVI], share of the intervals that hold\n"
    )

    with multiprocessing.Pool() as pool:
        good = show(list(pool.imap(trial, range(asked.enclosures))))

    request = random_enclosure(1)
    looked = look(request)
    position = looked.position(request)
    believed = predict(request, position)
    keeper = Keeper(InstrumentSet(1), VolumeTruth(request, 1, request.room.day_c), believed)
    told = request.model_copy(update={"readings": tuple(keeper.reads(need) for need in NEEDS)})
    asked_for = _Asked("", True, told, looked)
    heat_model = heat_model_of(request, DAY_HOUR, request.room.day_c, position)
    print()
    met = table(
        timed("steady solution of the enclosure", lambda: solve(heat_model), 50),
        [
            (
                timed("calibration on four readings", lambda: _learned.__wrapped__(asked_for), 20),
                300.0,
            )
        ],
    )

    return 0 if met and good else 1


if __name__ == "__main__":
    raise SystemExit(main())
