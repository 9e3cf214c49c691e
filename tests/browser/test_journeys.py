"""The way through: open the demo, see what is wrong, change it, try something, read a number's
derivation, log a reading.
"""

import re
from typing import Any

from playwright.sync_api import Page, expect

from tests.browser.conftest import in_every_view
from tests.web.conftest import last_lit


def go(page: Page, name: str) -> None:
    page.locator(".enclosure-row", has_text=name).click()
    page.wait_for_selector("#sheet")


def test_from_the_door_to_an_enclosure_put_right(page: Page) -> None:
    go(page, "Pip’s enclosure")
    first = page.locator(".first-item")
    expect(first).to_contain_text("Surface 5.2 too low")
    expect(first).to_contain_text("Lower the halogen flood 22 cm")
    first.get_by_role("button", name="Apply").click()
    expect(page.locator(".messages")).to_contain_text("Done: Lower the halogen flood 22 cm")
    expect(page.locator(".need", has_text="Surface")).to_contain_text("predicted in range")
    expect(first).to_contain_text("In range as far as known")
    page.locator(".messages").get_by_role("button", name="Undo").click()
    # predicted, not measured: the readings were of the state before
    expect(page.locator(".first-item")).to_contain_text(re.compile(r"predicted 4\.\d too low"))


def test_trying_moves_drawing_and_gauges_and_says_what_is_wrong(page: Page) -> None:
    go(page, "Pip’s enclosure")
    page.get_by_role("link", name="Layout", exact=True).click()
    page.get_by_role("link", name="All settings").click()
    page.locator("summary", has_text="Halogen flood").click()
    height = page.locator("#id_item-lamp-1-z")
    before = page.locator("#sheet .on-desk svg").inner_html()
    height.fill("29 cm")
    expect(page.locator("#layout-state")).to_contain_text("Not saved yet")
    expect(page.locator(".first-item")).to_contain_text("In range as far as known")
    assert page.locator("#sheet .on-desk svg").inner_html() != before
    expect(height).to_be_focused()
    height.fill("29 apples")
    slot = page.locator("#slot-item-lamp-1-z")
    expect(slot).to_contain_text("is not a unit of length here")
    expect(height).to_have_value("29 apples")
    height.fill("11.5 in")
    expect(slot).to_be_empty()
    page.get_by_role("button", name="Save changes").click()
    expect(page.locator(".messages")).to_contain_text("Saved.")
    expect(page.locator(".title-block ~ text", has_text="plan 2")).to_be_visible()


def test_the_derivation_of_a_number_opens_and_closes(page: Page) -> None:
    go(page, "Bramble’s enclosure")
    page.locator(".need", has_text="Surface").locator(".num").first.click()
    dialog = page.locator("#derivation")
    expect(dialog).to_be_visible()
    expect(dialog).to_contain_text("What went in")
    expect(dialog).to_contain_text("python -m husbandry plan enclosure-")
    page.keyboard.press("Escape")
    expect(dialog).not_to_be_visible()


def test_a_reading_with_the_wrong_unit_is_asked(page: Page) -> None:
    go(page, "Bramble’s enclosure")
    page.get_by_label("When").fill(last_lit())
    page.get_by_label("Reading", exact=True).fill("104")
    page.get_by_role("button", name="Log").click()
    expect(page.locator("#reading-value-error")).to_contain_text("104 °F = 40 °C?")
    page.get_by_role("button", name="Yes, 104 °F").click()
    expect(page.locator(".messages")).to_contain_text("Logged: Surface, under the lamp, 40.0 °C")
    expect(page.locator(".need", has_text="Surface")).to_contain_text(
        re.compile(r"40\.0 °C \d+ (min|h) ago")
    )


def test_the_instrument_follows_what_is_read(page: Page) -> None:
    go(page, "Pip’s enclosure")
    need, instrument = page.get_by_label("What and where"), page.get_by_label("Instrument")
    expect(instrument).to_have_value("infrared")
    for key, usual in (
        ("cool_air_day", "probe"),
        ("uvi_day", "uv"),
        ("humidity_day", "hygrometer"),
        ("surface_day", "infrared"),
    ):
        need.select_option(key)
        expect(instrument).to_have_value(usual)
    instrument.select_option("probe")
    page.get_by_label("Reading", exact=True).fill("36 °C")
    expect(instrument).to_have_value("probe")


def test_units_switch_in_place_and_layers_hide(page: Page) -> None:
    go(page, "Pip’s enclosure")
    page.get_by_role("button", name="°F").click()
    page.get_by_role("button", name="in", exact=True).click()
    expect(page.locator(".need", has_text="Surface")).to_contain_text("°F")
    expect(page.locator(".hd")).to_contain_text(" in.")
    heat = page.get_by_role("button", name="Heat")
    heat.click()
    expect(heat).to_have_attribute("aria-pressed", "false")
    expect(page.locator("#sheet .on-desk svg")).to_have_class(re.compile("off-heat"))
    expect(page.locator("#sheet .on-desk .isotherm").first).to_be_hidden()


def test_the_read_out_follows_the_pointer(page: Page) -> None:
    go(page, "Bramble’s enclosure")
    page.locator("#sheet .on-desk .inside").hover(position={"x": 300, "y": 120}, force=True)
    expect(page.locator(".readout")).to_contain_text(re.compile(r"air \d\d\.\d °C, UVI \d"))


def test_everything_by_keyboard(page: Page) -> None:
    page.keyboard.press("Tab")
    expect(page.locator(".skip")).to_be_focused()
    page.locator(".enclosure-row").first.focus()
    page.keyboard.press("Enter")
    page.wait_for_selector("#sheet")
    number = page.locator(".need .num").first
    number.focus()
    page.keyboard.press("Enter")
    expect(page.locator("#derivation")).to_contain_text("Source")
    page.keyboard.press("Escape")
    expect(number).to_be_focused()
    page.goto(f"{page.url.partition('#')[0]}edit/")
    group = page.locator("details.group", has_text="Halogen flood")
    group.locator("summary").focus()
    page.keyboard.press("Enter")
    expect(group.get_by_label("Power").first).to_be_visible()
    page.locator("a[href*='/rooms/']").last.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_label("Summer maximum")).to_be_visible()


def test_on_the_phone_nothing_runs_off_the_side(phone: Page) -> None:
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390
    go(phone, "Sable’s enclosure")
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390
    expect(phone.locator(".on-phone svg")).to_be_visible()
    expect(phone.locator(".on-desk")).to_be_hidden()
    expect(phone.locator(".first-item")).to_contain_text("new one of the same class")
    phone.locator(".first-item").get_by_role("button", name="Apply").tap()
    expect(phone.locator(".need", has_text="UV index")).to_contain_text("predicted in range")
    assert phone.locator(".go").first.bounding_box()["height"] >= 44  # type: ignore[index]


def test_axe_finds_nothing_serious(page: Page, live_server: Any) -> None:
    found = in_every_view(page)
    go(page, "Pip’s enclosure")
    for group in page.locator("details.group").all()[1:]:
        group.locator("summary").click()
    found += in_every_view(page)
    page.locator(".num").first.click()
    expect(page.locator("#derivation")).to_contain_text("Source")
    found += in_every_view(page)
    page.keyboard.press("Escape")
    page.context.clear_cookies()
    page.goto(live_server.url)
    found += in_every_view(page)
    assert found == []
