"""Learning: a beginner measures a simulated enclosure and finds what is wrong with it."""

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import serious
from tests.browser.test_collection import server_of


def measure(page: Page, instrument: str, place: str, moment: str) -> None:
    """Use an instrument with care."""
    page.get_by_label("Instrument").select_option(instrument)
    page.get_by_label("Where").select_option(place)
    page.get_by_label("When").select_option(moment)
    page.get_by_label("How").select_option("care")
    page.get_by_role("button", name="Measure").click()


@pytest.mark.parametrize("width", [390, 1280])
def test_a_beginner_learns_which_lamp_is_too_weak(page: Page, width: int) -> None:
    """The first lesson: read, measured, answered, told."""
    page.set_viewport_size({"width": width, "height": 844})
    server = server_of(page)
    page.goto(f"{server}/practice/")
    assert serious(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.get_by_role("button", name="Case 1").first.click()
    expect(page.locator("main")).to_contain_text("What its keeper says")
    assert serious(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    measure(page, "infrared", "basking", "six_hours")
    measure(page, "keeper_thermometer", "warm", "six_hours")
    expect(page.locator(".measured-lines li")).to_have_count(2)
    page.get_by_label("Too little heat").check()
    page.get_by_label("What do you change?").select_option("heat_low")
    page.get_by_role("button", name="Answer").click()
    expect(page.locator(".practice-result")).to_contain_text("100 of 100")
    expect(page.locator(".practice-result")).to_contain_text("Two weeks later")
    assert serious(page) == []
    page.get_by_role("link", name="Back to the lessons").click()
    expect(page.locator(".lessons")).to_contain_text("100 of 100")


def test_a_place_is_tapped_on_the_drawing(page: Page) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{server_of(page)}/practice/")
    page.get_by_role("button", name="Case 1").first.click()
    where = page.get_by_label("Where")
    page.locator(".place-mark[data-item=cool]").click()
    expect(where).to_have_value("cool")
    expect(page.locator(".place-mark.is-chosen")).to_have_attribute("data-item", "cool")
    where.select_option("basking")
    expect(page.locator(".place-mark.is-chosen")).to_have_attribute("data-item", "basking")
