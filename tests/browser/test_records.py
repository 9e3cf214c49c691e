"""A logger's file from the logger to the chart; a device, and the alarm that it raises."""

import datetime as dt

import pytest
from playwright.sync_api import Page, expect

from ridgeback.devices.flows import take
from ridgeback.devices.models import Device
from ridgeback.enclosures.models import Enclosure
from ridgeback.jobs import tasks
from ridgeback.records.models import LoggerFile
from tests.browser.conftest import serious
from tests.browser.test_collection import server_of


def log_text() -> bytes:
    begin = dt.datetime(2026, 6, 1)  # noqa: DTZ001  # a logger's own clock
    lines = [
        f"{begin + dt.timedelta(minutes=10 * n):%d/%m/%Y;%H:%M};{24 + n % 50 / 10:.1f};55,0".replace(
            ".", ","
        )
        for n in range(500)
    ]
    return ("Datum;Uhrzeit;Warm end °C;RH %\n" + "\n".join(lines) + "\n").encode()


def enclosure_of() -> int:
    return (
        Enclosure.objects.order_by("-pk")
        .get(name="Pip’s enclosure", household__visit_ends__isnull=False)
        .pk
    )


@pytest.mark.parametrize("width", [390, 1280])
def test_every_page_of_it_fits_and_keeps_nobody_out(page: Page, width: int) -> None:
    page.set_viewport_size({"width": width, "height": 844})
    server, pk = server_of(page), enclosure_of()
    for place in (
        f"/enclosures/{pk}/charts/",
        f"/enclosures/{pk}/charts/?span=all",
        f"/enclosures/{pk}/logger-files/",
        "/household/devices/",
        "/alarms/",
    ):
        page.goto(server + place)
        assert serious(page) == [], place
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth"), place


def test_a_file_from_the_logger_to_the_chart(page: Page) -> None:
    """A photo by mistake, then the file; its columns are seen; the chart is read by keys."""
    server, pk = server_of(page), enclosure_of()
    page.goto(f"{server}/enclosures/{pk}/logger-files/")
    photo = {"name": "a.csv", "mimeType": "text/csv", "buffer": b"\xff\xd8\xff\xe0"}
    page.locator("input[type=file]").set_input_files(photo)  # type: ignore[arg-type]  # as described
    page.get_by_role("button", name="Preview file").click()
    expect(page.get_by_role("alert")).to_contain_text("no text")
    file = {"name": "shelf.csv", "mimeType": "text/csv", "buffer": log_text()}
    page.locator("input[type=file]").set_input_files(file)  # type: ignore[arg-type]  # as described
    page.get_by_role("button", name="Preview file").click()
    assert serious(page) == []
    expect(page.get_by_label("What Warm end °C is")).to_have_value("temperature C")
    expect(page.get_by_label("Place of Warm end °C")).to_have_value("warm")
    drawing = page.locator(".places-drawing")
    drawing.locator('.place-mark[data-item="cool"]').click()
    expect(page.get_by_label("Place of Warm end °C")).to_have_value("cool")
    drawing.locator('.place-mark[data-item="middle"]').click()
    expect(page.get_by_label("Place of RH %")).to_have_value("middle")
    page.get_by_label("Place of Warm end °C").focus()
    drawing.locator('.place-mark[data-item="warm"]').click()
    expect(page.get_by_label("Place of Warm end °C")).to_have_value("warm")
    page.get_by_role("button", name="Import", exact=True).click()
    tasks.read_logger_file(LoggerFile.objects.latest("pk").pk)
    expect(page.locator("#file-state")).to_contain_text("1000 new values from 500 lines")
    page.get_by_role("link", name="See the chart").click()
    chart = page.locator("[data-chart][data-ready]")  # its script has come
    chart.focus()
    page.keyboard.press("ArrowLeft")
    expect(page.locator("[data-chart-said]")).to_contain_text("°C")
    expect(page.locator(".sums-table").first).to_contain_text("By night")


def test_a_device_raises_an_alarm_and_somebody_answers(page: Page) -> None:
    server, pk = server_of(page), enclosure_of()
    page.goto(f"{server}/household/devices/")
    page.get_by_label("Name").fill("Shelf, left")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.locator(".token")).to_contain_text("rb_")
    page.get_by_label("Enclosure", exact=True).select_option(str(pk))
    page.get_by_label("Where the sensor is").select_option("warm")
    page.get_by_role("button", name="Add a channel").click()
    expect(page.locator(".token")).to_have_count(0)
    assert serious(page) == []
    device = Device.objects.latest("pk")
    at = dt.datetime.now(dt.UTC)
    rows = [
        {
            "channel": "temperature-warm",
            "at": (at - dt.timedelta(minutes=5 * n)).isoformat(),
            "value": 60,
        }
        for n in range(4)
    ]
    assert take(device, rows, at).new == 4
    tasks.watch_channels([device.bindings.get().channel_id])
    page.goto(f"{server}/today/")
    page.get_by_role("link", name="Too hot: beyond the animal’s limit").click()
    expect(page.locator("main")).to_contain_text("off at the plug")
    assert serious(page) == []
    page.get_by_label("What you do").fill("Plug is out")
    page.get_by_role("button", name="I have it in hand").click()
    expect(page.locator("main")).to_contain_text("Plug is out")
