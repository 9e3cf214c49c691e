"""Files of loggers: every shape that is written is read back, and what cannot be read is said by line.

Times are compared with Python's own zoneinfo (the IANA time zone database).
"""

import datetime as dt
import random
from collections.abc import Callable
from dataclasses import dataclass
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from husbandry.errors import DocumentError
from husbandry.records.channels import Quantity
from husbandry.records.logger_file import LoggerRead, read_file
from husbandry.records.logger_layout import decode, layout_of, number_of
from husbandry.records.moments import clock_seconds, to_utc

ZONE = "Europe/Berlin"
NOW = dt.datetime(2026, 11, 30, 12, 0, tzinfo=dt.UTC)
START = dt.datetime(2026, 6, 18, 7, 40)  # noqa: DTZ001  # a logger's own clock


@dataclass(frozen=True)
class Shape:
    """One way to write a file."""

    name: str
    head: tuple[str, ...]
    row: Callable[[dt.datetime, float, float], str]
    above: str = ""
    zone: str = ZONE


def _f(temp_c: float) -> float:
    return temp_c * 1.8 + 32


def _comma(value: float) -> str:
    return f"{value:.2f}".replace(".", ",")


SHAPES = [
    Shape("plain", ("time,temp,hum",), lambda t, c, h: f"{t:%Y-%m-%d %H:%M},{c:.2f},{h:.1f}"),
    Shape("iso T", ("time,temp,hum",), lambda t, c, h: f"{t:%Y-%m-%dT%H:%M:%S},{c:.2f},{h:.1f}"),
    Shape(
        "decimal commas",
        ("Zeit;Temperatur (°C);Feuchte (%)",),
        lambda t, c, h: f"{t:%d.%m.%Y %H:%M:%S};{_comma(c)};{_comma(h)}",
    ),
    Shape("tabs", ("Date\tT °C\tRH %",), lambda t, c, h: f"{t:%Y/%m/%d %H:%M}\t{c:.2f}\t{h:.1f}"),
    Shape(
        "month first, am and pm, Fahrenheit",
        ("Timestamp,Temperature_F,Relative Humidity",),
        lambda t, c, h: f"{t:%m/%d/%Y %I:%M:%S %p},{_f(c):.3f},{h:.1f}",
    ),
    Shape(
        "day and clock apart, with a preamble",
        ("No.,Date,Time,Temp(C),RH(%),Batt(V)",),
        lambda t, c, h: f"7,{t:%d/%m/%Y},{t:%H:%M},{c:.2f},{h:.1f},3.01",
        above="Logger: A\nInterval: 600 s\n\n",
    ),
    Shape("no head", (), lambda t, c, h: f"{t:%Y-%m-%d %H:%M:%S},{c:.2f}"),
    Shape(
        "units in the cells",
        ("time|temp|hum",),
        lambda t, c, h: f"{t:%d %b %Y %H:%M}|{c:.2f} °C|{h:.1f} %",
    ),
    Shape(
        "zone written",
        ("time,temp,hum",),
        lambda t, c, h: f"{t:%Y-%m-%dT%H:%M:%S}+05:30,{c:.2f},{h:.1f}",
        zone="Asia/Kolkata",
    ),
    Shape(
        "seconds since 1970",
        ("unix time,temp,hum",),
        lambda t, c, h: f"{t.replace(tzinfo=ZoneInfo(ZONE)).timestamp():.0f},{c:.2f},{h:.1f}",
    ),
    Shape(
        "quoted",
        ('"time","temp","hum"',),
        lambda t, c, h: f'"{t:%Y-%m-%d %H:%M}","{c:.2f}","{h:.1f}"',
    ),
    Shape(
        "year of two digits, dew point besides",
        ("Time;Temp C;Dew point C;Hum %",),
        lambda t, c, h: f"{t:%d.%m.%y %H:%M};{c:.2f};{c - 8:.2f};{h:.1f}",
    ),
]


def written(shape: Shape, rows: list[tuple[dt.datetime, float, float]]) -> str:
    return shape.above + "\n".join([*shape.head, *(shape.row(*row) for row in rows)]) + "\n"


def read(text: str, *, clock: str = "room", zone: str = ZONE) -> LoggerRead:
    layout = layout_of(text)
    return read_file(text, layout, zone=zone, clock=clock, now=NOW)  # type: ignore[arg-type]  # a literal


def some_rows(seed: int, count: int = 120) -> list[tuple[dt.datetime, float, float]]:
    draw = random.Random(seed)
    return [
        (START + dt.timedelta(minutes=10 * n), draw.uniform(16, 39), draw.uniform(30, 95))
        for n in range(count)
    ]


@pytest.mark.parametrize("shape", SHAPES, ids=lambda one: one.name)
@pytest.mark.parametrize("seed", range(4))
def test_what_is_written_is_read(shape: Shape, seed: int) -> None:
    rows = some_rows(seed)
    found = read(written(shape, rows))
    assert found.refused == 0, found.problems
    temps = next(one for one in found.channels if one.quantity is Quantity.TEMPERATURE)
    zone = ZoneInfo(shape.zone)
    assert temps.at_s.tolist() == [int(t.replace(tzinfo=zone).timestamp()) for t, _, _ in rows]
    assert temps.values == pytest.approx([c for _, c, _ in rows], abs=0.006)
    damp = [one for one in found.channels if one.quantity is Quantity.HUMIDITY]
    if damp:
        assert damp[0].values == pytest.approx([h for _, _, h in rows], abs=0.051)
    assert len(found.channels) == (1 if shape.name == "no head" else 2), (
        "nothing else is a channel"
    )


@pytest.mark.parametrize("shape", SHAPES, ids=lambda one: one.name)
def test_the_newest_line_first_is_the_same_file(shape: Shape) -> None:
    rows = some_rows(9)
    up, down = read(written(shape, rows)), read(written(shape, rows[::-1]))
    assert up.channels[0].at_s.tolist() == down.channels[0].at_s.tolist()
    assert up.channels[0].values.tolist() == down.channels[0].values.tolist()
    assert up.is_sorted and not down.is_sorted


@settings(max_examples=120, deadline=None)
@given(
    st.lists(st.text(alphabet="0123456789.,;:/- TZcf%°\t|\"'xé", max_size=40), max_size=20),
    st.sampled_from(SHAPES),
)
def test_no_file_breaks_it(lines: list[str], shape: Shape) -> None:
    """Lines of anything among good ones: read, or refused with a sentence; never another error."""
    good = written(shape, some_rows(1, 8)).splitlines()
    for text in ("\n".join(lines), "\n".join([*good, *lines])):
        try:
            found = read(text)
        except DocumentError as why:
            assert why.problems[0].reason
        else:
            assert found.lines >= 0 and all(one.pointer for one in found.problems)


def test_by_line_what_could_not_be_read() -> None:
    text = (
        "time,temp,hum\n2026-06-18 08:00,21.5,60\nyesterday,22,60\n2026-06-18 08:20,warm,60\n"
        "2026-06-18 08:30,,61\n2027-06-18 08:40,22,61\n2026-06-18 08:50,22,161\n"
    )
    found = read(text)
    assert [one.pointer for one in found.problems] == ["line 3", "line 4", "line 6", "line 7"]
    assert "not a time" in found.problems[0].reason and "no number" in found.problems[1].reason
    assert "still to come" in found.problems[2].reason
    assert "no humidity that can be" in found.problems[3].reason
    assert (found.lines, found.refused, found.missing) == (4, 4, 1)
    assert len(found.channels[0].values) == 2 and len(found.channels[1].values) == 3


def test_a_line_twice_counts_once() -> None:
    text = "time,temp\n2026-06-18 08:00,21.5\n2026-06-18 08:00,25\n2026-06-18 08:10,22\n"
    found = read(text)
    assert found.channels[0].values.tolist() == [21.5, 22.0] and found.repeated == 1


def test_an_order_that_cannot_be_told_is_asked() -> None:
    text = "time,temp\n03/04/2026 08:00,21.5\n03/04/2026 09:00,21.5\n"
    layout = layout_of(text)
    assert layout.order is None
    with pytest.raises(DocumentError, match="day or the month"):
        read_file(text, layout, zone=ZONE, clock="room", now=NOW)
    april = layout.model_copy(update={"order": "day first"})
    found = read_file(text, april, zone=ZONE, clock="room", now=NOW)
    first = dt.datetime.fromtimestamp(int(found.channels[0].at_s[0]), dt.UTC)
    assert (first.month, first.day) == (4, 3)


@pytest.mark.parametrize(
    ("days", "order"),
    [
        (("01/02/2026", "02/02/2026", "03/02/2026"), "day first"),
        (("02/01/2026", "02/02/2026", "02/03/2026"), "month first"),
        (("11/02/2026", "12/02/2026", "13/02/2026"), "day first"),
        (("11/02/2026", "13/02/2026", "02/15/2026"), None),
    ],
)
def test_days_that_follow_one_another_tell_their_order(
    days: tuple[str, ...], order: str | None
) -> None:
    text = "time,temp\n" + "\n".join(f"{day} 08:00,21.5" for day in days) + "\n"
    assert layout_of(text).order == order


def test_a_mixture_of_units_is_refused_with_its_line() -> None:
    rows = [f"2026-06-18 08:{n:02},{21.5 if n < 30 else 71.2}" for n in range(60)]
    with pytest.raises(DocumentError, match=r"line 32.*mixture of °C and °F"):
        read("time,temp °C\n" + "\n".join(rows))


def test_a_hot_stone_is_no_mixture() -> None:
    rows = [f"2026-06-18 08:{n:02},{24.0 if n < 30 else 58.0}" for n in range(60)]
    assert read("time,temp °C\n" + "\n".join(rows)).channels[0].values.max() == 58.0


def test_two_columns_alike_stay_apart() -> None:
    layout = layout_of("time,Temp,Temp\n2026-06-18 08:00,21.5,30.5\n2026-06-18 08:10,21.5,30.5\n")
    assert [one.head for one in layout.columns] == ["time", "Temp", "Temp column 3"]
    assert [one.quantity for one in layout.columns[1:]] == [Quantity.TEMPERATURE] * 2


@pytest.mark.parametrize("body", [b"\xff\xd8\xff\xe0jpeg", b"PK\x03\x04zip", b"a\x00b"])
def test_what_is_no_text_is_refused(body: bytes) -> None:
    with pytest.raises(DocumentError, match="no text"):
        decode(body)


@pytest.mark.parametrize("coding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_codings(coding: str) -> None:
    text = "time,Temp °C\n2026-06-18 08:00,21.5\n"
    assert decode(text.encode(coding)) == text


@pytest.mark.parametrize("text", ["", "\n\n", "time,temp", "2026-06-18 08:00", "hello\nworld"])
def test_a_file_without_values_says_so(text: str) -> None:
    with pytest.raises(DocumentError, match="no line has a time"):
        layout_of(text)


def test_the_hour_that_comes_twice_is_told_by_the_order_of_its_lines() -> None:
    """25 October 2026, Berlin: 03:00 CEST becomes 02:00 CET (IANA time zone database)."""
    begin = dt.datetime(2026, 10, 24, 23, 0, tzinfo=dt.UTC)
    true = [begin + dt.timedelta(minutes=20 * n) for n in range(12)]
    zone = ZoneInfo(ZONE)
    rows = [f"{t.astimezone(zone):%Y-%m-%d %H:%M},21.5" for t in true]
    for lines in (rows, rows[::-1]):
        found = read("time,temp\n" + "\n".join(lines))
        assert found.channels[0].at_s.tolist() == [int(t.timestamp()) for t in true]
        assert found.repeated == 0 and not found.has_skipped_hour


def test_a_logger_that_keeps_standard_time() -> None:
    """29 March 2026, Berlin: no 02:30 exists; a logger that never changes its clock writes it."""
    text = "time,temp\n2026-03-29 01:30,20\n2026-03-29 02:30,21\n2026-03-29 03:30,22\n"
    assert read(text).has_skipped_hour
    kept = read(text, clock="standard")
    hours = [dt.datetime.fromtimestamp(int(s), dt.UTC).hour for s in kept.channels[0].at_s]
    assert hours == [0, 1, 2] and not kept.has_skipped_hour
    summer = read("time,temp\n2026-07-01 12:00,20\n", clock="standard").channels[0].at_s[0]
    assert dt.datetime.fromtimestamp(int(summer), dt.UTC).hour == 11


@pytest.mark.parametrize(
    "zone", ["Europe/Berlin", "America/New_York", "Australia/Lord_Howe", "UTC"]
)
def test_a_year_of_hours_agrees_with_zoneinfo(zone: str) -> None:
    """Each hour of a year out and back, changes of the clock by one hour and by half an hour."""
    import numpy as np

    name = ZoneInfo(zone)
    true = np.arange(1_767_225_600, 1_767_225_600 + 365 * 86_400, 1800, dtype=np.int64)
    offsets = [dt.datetime.fromtimestamp(int(s), name).utcoffset() for s in true]
    local = true + np.array([int((o or dt.timedelta()).total_seconds()) for o in offsets])
    assert np.array_equal(to_utc(local, zone, "room"), true)


@pytest.mark.parametrize(
    ("text", "seconds"),
    [
        ("00:00", 0),
        ("12:05 AM", 300),
        ("12:05 pm", 43_500),
        ("1:02:03 p.m.", 46_923),
        ("23:59:59.5", 86_399),
        ("24:00", None),
        ("13:00 PM", None),
        ("9.30", 34_200),
    ],
)
def test_clocks(text: str, seconds: int | None) -> None:
    assert clock_seconds(text) == seconds


@pytest.mark.parametrize(
    ("text", "value"),
    [("21,5", 21.5), ("-3 °C", -3.0), ("55%", 55.0), ("1.2.3", None), ("x", None)],
)
def test_numbers(text: str, value: float | None) -> None:
    assert number_of(text) == value


def test_files_of_one_shape_have_one_signature() -> None:
    one, other = (layout_of(written(SHAPES[0], some_rows(seed))) for seed in (1, 2))
    assert (
        one.signature == other.signature != layout_of(written(SHAPES[2], some_rows(1))).signature
    )


def test_a_clock_that_was_never_set_is_said() -> None:
    found = read("time,temp\n1999-01-01 00:00,21\n2026-06-18 08:00,21\n2026-06-18 08:10,22\n")
    assert found.lines == 2 and "20 years ago" in found.problems[0].reason
