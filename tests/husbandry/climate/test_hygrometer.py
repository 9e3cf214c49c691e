"""A hygrometer's log: taken or refused, and what is hidden in it found again."""

import datetime as dt
import math
from dataclasses import replace

import numpy as np
import pytest

from husbandry.climate.hygrometer import Log, fit_log, log_of
from husbandry.climate.moisture import Forcing, MoistureModel, run, saturation
from husbandry.errors import DocumentError

AIR = tuple(23 + 3 * math.sin(2 * math.pi * (n / 2 - 9) / 24) for n in range(48))
MIST = tuple(0.03 if n in {16, 38} else 0.0 for n in range(48))
ENCLOSURE = MoistureModel(0.1215, 0.7425, 1.08, 0.55, 0.2025, 0.15, 8.0, 0.02, buffer=1.5)
DAY = Forcing(
    1800, AIR, (20.0,) * 48, (0.5 * saturation(20),) * 48, (6.0,) * 48, MIST, (0.0,) * 48
)


def hidden(
    changes: float,
    wetness: float,
    buffer: float,
    *,
    noise: float = 1.5,
    offset: float = 0.0,
    seed: int = 1,
) -> Log:
    """Seven days of an enclosure that is not as it is believed to be."""
    truth = replace(ENCLOSURE, wetness=wetness, buffer=buffer)
    acts = Forcing(
        1800, AIR * 7, DAY.room_c * 7, DAY.room_pa * 7, (changes,) * 336, MIST * 7, (0.0,) * 336
    )
    draw = np.random.default_rng(seed)
    values = [
        min(100 * v / saturation(t) + offset + noise * draw.standard_normal(), 100.0)
        for v, t in zip(run(truth, acts).vapour_pa, AIR * 7, strict=True)
    ]
    return Log(dt.datetime(2026, 11, 1), tuple(values), AIR * 7)  # noqa: DTZ001  # a logger's own clock


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_what_is_hidden_is_found_again(seed: int) -> None:
    """Truth 3.2 changes an hour, wetness 0.22, buffer 3, noise 1.5 points: 3.2 / 0.22 / 2.9
    (source: humidity A8).
    """
    told = fit_log(ENCLOSURE, DAY, AIR, hidden(3.2, 0.22, 3.0, seed=seed))
    assert 6 * told.air == pytest.approx(3.2, rel=0.06) and 0.15 * told.substrate == pytest.approx(
        0.22, rel=0.2
    )
    assert abs(math.log(told.buffer / 3.0)) < 2 * told.buffer_ln_sd
    assert told.rms_pct < 2 < 10 < told.uncalibrated_pct
    assert told.air_ln_sd < 0.2  # from a factor of two
    # Neighbouring readings err alike: a week of them leaves the buffer known to a factor of 1.6.
    assert 0.4 < told.buffer_ln_sd < 0.7


def test_a_wet_sensor_says_nothing_and_a_dry_one_everything() -> None:
    """For half an hour after a misting it is left out: what it shows then changes nothing."""
    log = hidden(3.2, 0.22, 3.0)
    plain = fit_log(ENCLOSURE, DAY, AIR, log)
    mistings = [48 * day + n for day in range(7) for n in (16, 38)]

    def drenched(after: tuple[int, ...]) -> Log:
        at = {misting + n for misting in mistings for n in after}
        return replace(log, pct=tuple(100.0 if n in at else v for n, v in enumerate(log.pct)))

    assert fit_log(ENCLOSURE, DAY, AIR, drenched((0, 1))) == plain
    for other in (-1, 2):
        assert fit_log(ENCLOSURE, DAY, AIR, drenched((other,))) != plain


def test_a_sensor_that_is_off_leads_astray_by_as_much_as_the_note_says() -> None:
    """Two points of offset: 3.1 to 4.4 changes, 0.16 to 0.44 wetness (source: humidity A8)."""
    for offset in (-2, 2):
        told = fit_log(ENCLOSURE, DAY, AIR, hidden(3.2, 0.22, 3.0, offset=offset))
        assert 2.6 < 6 * told.air < 4.6 and 0.12 < 0.15 * told.substrate < 0.46


def test_an_enclosure_that_is_not_misted_tells_only_ratios() -> None:
    with pytest.raises(DocumentError, match="only ratios"):
        fit_log(ENCLOSURE, replace(DAY, mist_kg=(0.0,) * 48), AIR, hidden(3.2, 0.22, 3.0))


# --- reading --------------------------------------------------------------------------------------


def logged(hours: float, step_s: int = 600) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Times of the room's clock, humidity and temperature, from ten past midnight on."""
    at_s = 1_793_491_800 + np.arange(0, int(hours * 3600), step_s, dtype=np.int64)
    return at_s, 60 + 5 * np.sin(at_s / 12_000), np.full(len(at_s), 22.5)


def test_values_become_means_of_half_hours_that_begin_on_the_clock() -> None:
    at_s, pct, temp = logged(67)
    log = log_of(at_s, pct, temp)
    assert log.start.minute in {0, 30} and log.start.second == 0
    assert log.hours == 67.5  # the last reading falls on the 67th hour, and opens a half hour
    second = (at_s // 1800) == at_s[0] // 1800 + 1
    assert log.pct[1] == pytest.approx(pct[second].mean())
    assert log.temp_c == pytest.approx([22.5] * len(log.temp_c))


def test_a_gap_stays_a_gap_and_its_temperature_is_carried_over() -> None:
    at_s, pct, temp = logged(72)
    kept = (at_s < at_s[0] + 30 * 3600) | (at_s > at_s[0] + 36 * 3600)
    log = log_of(at_s[kept], pct[kept], temp[kept])
    assert sum(math.isnan(value) for value in log.pct) in range(11, 14)
    assert not any(math.isnan(value) for value in log.temp_c)


@pytest.mark.parametrize(
    ("hours", "step_s", "said"),
    [
        (0, 600, "no reading"),
        (30, 600, "two days at the least"),
        (72, 7200, "nearly a third"),
        (24 * 70, 600, "two months"),
    ],
)
def test_what_cannot_be_used_is_refused(hours: float, step_s: int, said: str) -> None:
    with pytest.raises(DocumentError, match=said):
        log_of(*logged(hours, step_s))
