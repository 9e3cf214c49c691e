"""A simulated hygrometer that logs a hidden box: other air exchange, other ground, other walls than the model believes, and its own noise."""

import datetime as dt
import math
from dataclasses import replace

import numpy as np

from husbandry.climate.hygrometer import PRIOR_LN_SD, SENSOR_PCT
from husbandry.climate.moisture import run, saturation
from husbandry.planning.damp import STEP_S, STEPS, Damp

DAYS = 3
NOISE_PCT, NOISE_K = 0.8, 0.15
"""From reading to reading, beside the sensor's own offset of up to half of what it may be off."""


def logged(damp: Damp, seed: int, until: dt.datetime, *, days: int = DAYS) -> str:
    """A log of the last days at the cool end, as a logger writes it: a line every half hour, with a head."""
    draw = np.random.default_rng([seed, 7])
    air, ground, buffer = (math.exp(sd * float(np.clip(draw.standard_normal(), -1.8, 1.8))) for sd in PRIOR_LN_SD)
    offset = float(draw.uniform(-0.5, 0.5)) * SENSOR_PCT
    box = replace(damp.box, wetness=damp.box.wetness * ground, buffer=max(damp.box.buffer * buffer, 1.0))
    acts = replace(damp.forcing, changes_per_h=tuple(v * air for v in damp.forcing.changes_per_h))
    state = run(box, acts).end
    lines = ["time,humidity %,temperature °C"]
    begin = until.replace(hour=0, minute=0, second=0, microsecond=0) - dt.timedelta(days=days)
    for day in range(days):
        course = run(box, acts, replace(state, ground_kg=box.ground_kg))
        state = course.end
        for n in range(STEPS):
            temp = damp.places.cool[n]
            value = min(100 * course.vapour_pa[n] / saturation(temp) + offset + NOISE_PCT * float(draw.standard_normal()), 100.0)
            at = begin + dt.timedelta(days=day, seconds=n * STEP_S)
            lines.append(f"{at:%Y-%m-%d %H:%M},{value:.1f},{temp + NOISE_K * float(draw.standard_normal()):.1f}")
    return "\n".join(lines) + "\n"
