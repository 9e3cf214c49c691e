"""Animals and enclosures on their own, as somebody on a phone enters them."""

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import serious

TABLE = """Name;Species;Sex;Hatched;Weight g;Tub
Ember;leopard gecko;0.1;3.5.2022;58;T1
Coil;python;m;2020;400;
"""
PLACES = ("/add/", "/add/table/", "/animals/add/", "/animals/weigh/", "/enclosures/add/")


def server_of(page: Page) -> str:
    return page.url.split("/", 3)[0] + "//" + page.url.split("/", 3)[2]


@pytest.mark.parametrize("width", [390, 1280])
def test_a_table_is_read_answered_and_taken_in(page: Page, width: int) -> None:
    page.set_viewport_size({"width": width, "height": 844})
    server = server_of(page)
    for place in PLACES:
        page.goto(server + place)
        assert serious(page) == [], place
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth"), place
    page.goto(f"{server}/add/table/")
    page.get_by_label("The table").fill(TABLE)
    page.get_by_role("button", name="Preview").click()
    expect(page.locator(".intake")).to_contain_text("leopard gecko")
    assert serious(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.get_by_label("Which species is").select_option("Python regius")
    page.get_by_role("button", name="Look again").click()
    expect(page.get_by_role("button", name="Import 2 lines")).to_be_visible()
    page.get_by_role("button", name="Import 2 lines").click()
    expect(page.locator(".messages")).to_contain_text("2 animals")


def test_a_move_is_judged_on_the_way(page: Page) -> None:
    page.locator(".enclosure-row", has_text="Pip’s enclosure").click()
    page.wait_for_selector("#sheet")
    page.goto(page.url + "animals/")
    page.get_by_role("link", name="Move", exact=True).first.click()
    page.get_by_label("Into").select_option(label="Fathom’s enclosure")
    page.get_by_role("button", name="Check first").click()
    expect(page.locator(".judged")).to_contain_text("dangerous")
    assert serious(page) == []
    expect(page.get_by_role("button", name="Move all the same")).to_be_visible()
