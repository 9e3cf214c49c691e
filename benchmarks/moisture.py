"""A year of an enclosure's water by hours against psychrolib called hour by hour; a plan's day, its
timetable and its log.

    .venv/bin/python -m benchmarks.moisture

Targets: 365 days at hourly steps in half a second; a day as a plan has it under 10 ms.
"""

import json
import math
from dataclasses import replace
from pathlib import Path

import numpy as np
import psychrolib

import husbandry  # noqa: F401  # one BLAS thread, before numpy
from benchmarks.timing import table, timed
from husbandry.climate.hygrometer import fit_log, log_of
from husbandry.climate.misting import even_marks, timetable
from husbandry.climate.moisture import Forcing, MoistureModel, run, saturation
from husbandry.documents.request_json import from_data
from husbandry.plan.plan import plan_summary, prediction_of
from husbandry.predict.moisture import damp_of, expected
from husbandry.simulation.logger import HiddenDamp

SAMPLE = Path(__file__).parents[1] / "docs" / "samples" / "request.json"
HOURS = 8760


def hidden_log(damp: HiddenDamp) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Three days of a hidden enclosure by half hours: times [s], humidity [%], temperature [°C]."""
    at_s = np.arange(144, dtype=np.int64) * 1800
    temps = np.array(damp.believed.places.cool * 3)
    day = [damp.pct_at(n, 0.0) for n in range(48)]
    return at_s, np.array(day * 3), temps


def main() -> int:
    """Measure and print."""
    psychrolib.SetUnitSystem(psychrolib.SI)
    air = [23 + 3 * math.sin(2 * math.pi * (n % 24 - 9) / 24) for n in range(HOURS)]
    room_c = [20 + 4 * math.sin(2 * math.pi * n / HOURS) for n in range(HOURS)]
    room_pa = [
        (0.45 + 0.15 * math.sin(2 * math.pi * n / HOURS)) * saturation(t)
        for n, t in enumerate(room_c)
    ]
    mist = [0.04 if n % 24 in {8, 18} else 0.0 for n in range(HOURS)]
    enclosure = MoistureModel(0.1215, 0.7425, 1.08, 0.55, 0.2025, 0.15, 8.0, 0.02)
    still = ((6.0,) * HOURS, tuple(mist), (0.0,) * HOURS)
    year = Forcing(3600, tuple(air), tuple(room_c), tuple(room_pa), *still)

    def by_psychrolib() -> object:
        return [
            psychrolib.GetRelHumFromVapPres(t, min(p, psychrolib.GetSatVapPres(t)))
            for t, p in zip(air, room_pa, strict=True)
        ]

    data = json.loads(SAMPLE.read_text(encoding="utf-8"))
    dry = from_data({**data, "readings": []})
    data["enclosure"]["wetting"] = {
        "substrate": "damp",
        "mistings": [{"at": "08:00", "ml": 40}, {"at": "17:00", "ml": 40}],
    }
    damp = from_data({**data, "readings": []})
    prediction = prediction_of(damp)
    known = damp_of(prediction)
    assert known is not None
    log = log_of(*hidden_log(HiddenDamp(known, 7)))
    unmisted = replace(known.forcing, mist_kg=(0.0,) * 48)

    reference = timed("psychrolib: two calls an hour for a year", by_psychrolib, 5)
    met = table(
        reference,
        [
            (
                timed(
                    "a year's water by the hour, two mistings a day",
                    lambda: run(enclosure, year, fine_s=1800),
                    5,
                ),
                500,
            ),
            (timed("a plan's day of water", lambda: damp_of(prediction), 40), 10),
            (timed("its interval", lambda: expected(known), 40), 15),
            (
                timed(
                    "a timetable",
                    lambda: timetable(
                        known.enclosure,
                        unmisted,
                        known.places.cool,
                        even_marks(50, 75, 48),
                        (8, 18),
                    ),
                    10,
                ),
                250,
            ),
            (
                timed(
                    "a log of three days fitted",
                    lambda: fit_log(known.enclosure, known.forcing, known.places.cool, log),
                    3,
                ),
                3000,
            ),
            (timed("a glance without water", lambda: plan_summary(dry), 40), None),
            (timed("a glance with it", lambda: plan_summary(damp), 40), 60),
        ],
    )
    return 0 if met else 1


if __name__ == "__main__":
    raise SystemExit(main())
