"""A hygrometer's log: read or refused by its lines, and what is hidden in it found again."""

import datetime as dt
import math
from dataclasses import replace

import numpy as np
import pytest

from husbandry.climate.hygrometer import Log, fit_log, read_log
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


def test_a_sensor_that_is_off_leads_astray_by_as_much_as_the_note_says() -> None:
    """Two points of offset: 3.1 to 4.4 changes, 0.16 to 0.44 wetness (source: humidity A8)."""
    for offset in (-2, 2):
        told = fit_log(ENCLOSURE, DAY, AIR, hidden(3.2, 0.22, 3.0, offset=offset))
        assert 2.6 < 6 * told.air < 4.6 and 0.12 < 0.15 * told.substrate < 0.46


def test_an_enclosure_that_is_not_misted_tells_only_ratios() -> None:
    with pytest.raises(DocumentError, match="only ratios"):
        fit_log(ENCLOSURE, replace(DAY, mist_kg=(0.0,) * 48), AIR, hidden(3.2, 0.22, 3.0))


# --- reading --------------------------------------------------------------------------------------


def lines(n: int = 400, sign: str = ",", head: str = "", **bend: str) -> str:
    begin = dt.datetime(2026, 11, 1)  # noqa: DTZ001
    made = [
        f"{begin + dt.timedelta(minutes=10 * k):%Y-%m-%d %H:%M}{sign}{60 + 5 * math.sin(k / 20):.1f}{sign}{22.5:.1f}"
        for k in range(n)
    ]
    for place, text in bend.items():
        made[int(place.removeprefix("line")) - 1] = text
    return "\n".join([*([head] if head else []), *made])


def test_logs_of_many_hands_are_read_alike() -> None:
    plain = read_log(lines())
    assert plain.hours == pytest.approx(67, abs=0.6) and plain.corrections == ()
    named = "\n".join(
        [
            "Temperature °C;Humidity %RH;Timestamp",
            *(f"{t};{h};{at}" for at, h, t in (row.split(",") for row in lines().split("\n"))),
        ]
    )
    for text in (
        lines(sign=";"),
        lines(sign="\t"),
        lines(head="Time,RH,Temp"),
        named,
        lines().replace("\n", "\r\n"),
    ):
        assert read_log(text).pct == pytest.approx(plain.pct)
    warm = read_log(
        "\n".join(
            f"{at},{h},{float(t) * 1.8 + 32:.1f}"
            for at, h, t in (row.split(",") for row in lines().split("\n"))
        )
    )
    assert warm.temp_c == pytest.approx(plain.temp_c, abs=0.05) and "°F" in warm.corrections[0]
    backwards = read_log("\n".join(reversed(lines().split("\n"))))
    assert backwards.pct == pytest.approx(plain.pct) and "order" in backwards.corrections[0]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        (lines(line7="2026-11-01 01:00,damp,22"), "line 7.*not a humidity"),
        (lines(line9="2026-11-01 01:20,140,22"), "line 9.*not a humidity"),
        (lines(line5="yesterday,60,22"), "line 5.*not a time"),
        (lines(line5="2026-11-01 00:40,60"), "line 5.*not a temperature"),
        (lines(100), "two days at the least"),
        (lines(head="Time,Light,Temp"), "no column is named for the humidity"),
        ("\n".join(lines().split("\n")[:3] + lines().split("\n")[-3:]), "nearly a third"),
        ("", "no column|no reading"),
        (f"{lines(3)}\n2027-11-01 00:00,60,22", "two months"),
    ],
)
def test_what_cannot_be_used_is_refused_with_its_line(text: str, said: str) -> None:
    with pytest.raises(DocumentError, match=said):
        read_log(text)
