"""Prediction and plan against the bare linear solve of the same network.

    .venv/bin/python -m benchmarks.planning

Targets: a prediction under 10 ms, a plan with its changes under 150 ms, a day in steps of 30 s
under 60 ms.
"""

import json
from pathlib import Path
from typing import Any

import husbandry  # noqa: F401  # one BLAS thread, before numpy
from benchmarks.timing import table, timed
from husbandry.climate.heat import resolve, solve
from husbandry.climate.transient import Control, TransientEnclosure, WatchedTemperature
from husbandry.documents.request_json import from_data
from husbandry.forecast.day_forecast import day_of
from husbandry.plan.plan import plan
from husbandry.predict.exposure import DAY_HOUR
from husbandry.predict.predict import AnimalPosition, heat_model_of, predict

SAMPLE = Path(__file__).parents[1] / "docs" / "samples" / "request.json"


def main() -> int:
    """Measure and print."""
    import numpy as np
    from scipy.linalg import cho_factor, cho_solve

    data: dict[str, Any] = json.loads(SAMPLE.read_text(encoding="utf-8"))
    request = from_data(data)
    worse = json.loads(json.dumps(data))
    worse["items"][0] |= {"power_w": 50, "at_m": [0.3, 0.3, 0.5]}
    worse["room"] |= {"day_c": 18, "night_c": 12}
    cold = from_data({**worse, "readings": []})
    four = json.loads(json.dumps(data))
    four["items"] += [
        {**four["items"][0], "id": f"lamp-{n}", "at_m": [0.3 + 0.2 * n, 0.3, 0.42]}
        for n in (2, 3, 4)
    ]
    many = from_data({**four, "readings": []})

    heat_model = heat_model_of(request, DAY_HOUR, request.room.day_c, AnimalPosition(0.04))
    known = solve(heat_model)
    heat = np.asarray(known.network.room * 21.0)

    def bare() -> object:
        return cho_solve(
            cho_factor(known.network.matrix, check_finite=False), heat, check_finite=False
        )

    clock = TransientEnclosure(
        known,
        [
            WatchedTemperature("surface", known.surface(0)),
            WatchedTemperature("cool", known.air(1.0, 0.1)),
        ],
    )
    controls = [Control() for _ in known.heat_model.lamps]

    def transient() -> object:
        return clock.run(
            hours=24,
            room_c=lambda hour: 21.0,
            lit=lambda n, hour: 8 <= hour % 24 < 20,
            controls=controls,
        )

    def year() -> object:
        return clock.run(
            hours=8760,
            room_c=lambda hour: 21.0,
            lit=lambda n, hour: 8 <= hour % 24 < 20,
            controls=controls,
            step_s=3600,
        )

    reference = timed("bare solve: Cholesky factor and one solution", bare, 200)
    made = plan(cold)
    print(
        f"network of {known.nodes.count} nodes; the cold enclosure has {len(made.changes)}"
        " changes\n"
    )
    met = table(
        reference,
        [
            (
                timed(
                    "near solution (films kept, another lamp)",
                    lambda: resolve(known, known.heat_model.lamps),
                    200,
                ),
                None,
            ),
            (timed("steady solution", lambda: solve(heat_model), 100), None),
            (
                timed(
                    "prediction, one lamp and a tube",
                    lambda: predict(request, AnimalPosition(0.04)),
                    100,
                ),
                10.0,
            ),
            (
                timed(
                    "prediction, four lamps and a tube",
                    lambda: predict(many, AnimalPosition(0.04)),
                    100,
                ),
                10.0,
            ),
            (timed("24 h in steps of 30 s, one lamp and a tube", transient, 10), 60.0),
            (timed("a year in steps of an hour", year, 5), 300.0),
            (timed("a day and its hard days", lambda: day_of(request), 5), None),
            (timed("plan of the sample", lambda: plan(request), 30), 150.0),
            (
                timed("plan of a cold enclosure with all its changes", lambda: plan(cold), 30),
                150.0,
            ),
        ],
    )
    return 0 if met else 1


if __name__ == "__main__":
    raise SystemExit(main())
