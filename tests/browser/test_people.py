"""A sitter for two weeks, and a household that is taken along: from end to end."""

import datetime as dt

from playwright.sync_api import Browser, Page, expect

from tests import clocks
from tests.browser.conftest import in_every_view, serious, watched
from tests.browser.test_collection import server_of

PLACES = (
    "/household/people/",
    "/household/notes/",
    "/household/sheet/",
    "/household/emergency/",
    "/household/labels/",
    "/household/archive/",
    "/account/",
    "/animals/",
)


def test_every_paper_fits_and_keeps_nobody_out(page: Page) -> None:
    server = server_of(page)
    found = []
    for place in PLACES:
        page.goto(server + place)
        found += in_every_view(page)
    pk = int(page.locator("[name=animal]").first.get_attribute("value") or 0)
    for place in (f"/animals/{pk}/summary/", f"/animals/{pk}/care-sheet/", "/animals/take-in/"):
        page.goto(server + place)
        found += in_every_view(page)
    assert found == []


def test_away_for_two_weeks(page: Page, chromium: Browser, troubles: list[str]) -> None:
    """Notes are written, a link is made, the neighbour taps on a phone, the link is closed."""
    server = server_of(page)
    page.goto(f"{server}/household/notes/")
    page.get_by_label("Whom to call, in this order").fill("1. Ada, 555 0100")
    page.get_by_role("button", name="Save").click()
    page.get_by_role("link", name="sitter’s sheet").click()
    expect(page.locator(".paper")).to_contain_text("1. Ada, 555 0100")
    expect(page.locator(".paper")).to_contain_text("Must hold")
    page.goto(f"{server}/household/people/")
    form = page.locator("form.linked")
    form.get_by_label("Whose").fill("Jo next door")
    form.get_by_label("Until").fill((clocks.today() + dt.timedelta(days=14)).isoformat())
    form.get_by_role("button", name="Create link").click()
    address = page.locator(".shown-once code").first.inner_text()
    phone = chromium.new_context(viewport={"width": 390, "height": 844}, has_touch=True)
    sitter = watched(phone.new_page(), troubles)
    sitter.goto(address)
    assert serious(sitter) == []
    tasks = sitter.locator(".task")
    count = tasks.count()
    tasks.filter(has_text="Fresh water").first.get_by_role("button", name="Changed").click()
    expect(tasks).to_have_count(count - 1)
    skipped = tasks.filter(has_text="Visual check").first
    skipped.get_by_text("Not done").click()
    skipped.get_by_label("Why").fill("the room was locked")
    skipped.get_by_role("button", name="Skip").click()
    expect(sitter.locator(".today-done").first).to_contain_text("the room was locked")
    page.goto(f"{server}/log/")
    expect(page.locator("main")).to_contain_text("Jo next door")
    page.goto(f"{server}/household/people/")
    page.get_by_role("button", name="Close it").click()
    troubles.clear()
    sitter.goto(address)
    expect(sitter.get_by_role("heading", name="This link is closed")).to_be_visible()
    assert [one for one in troubles if "403" not in one] == []
    troubles.clear()  # the 403 of a closed link is what it should be
    phone.close()


def test_three_are_fed_together_and_one_is_left_out(page: Page) -> None:
    """Ticked on the list, one unticked again, all logged with one button."""
    page.goto(f"{server_of(page)}/animals/")
    page.get_by_label("All shown").check()
    page.locator(".with-ticked").get_by_role("button", name="Fed").click()
    page.get_by_label("Fathom").uncheck()
    assert serious(page) == []
    page.get_by_role("button", name="Log", exact=True).click()
    expect(page.locator(".messages")).to_contain_text("Logged for")


def test_a_task_of_ones_own_is_on_todays_list(page: Page) -> None:
    page.locator(".enclosure-row", has_text="Pip’s enclosure").click()
    page.wait_for_selector("#sheet")
    page.get_by_role("link", name="Tasks and how often").click()
    assert serious(page) == []
    form = page.locator(".own-task-new")
    form.get_by_label("What is to be done").fill("Empty the ant trap")
    form.get_by_role("button", name="Add the task").click()
    page.goto(f"{server_of(page)}/today/")
    task = page.locator(".task", has_text="Empty the ant trap")
    task.get_by_role("button", name="Done", exact=True).first.click()
    expect(page.locator(".today-done", has_text="Empty the ant trap")).to_be_visible()


def test_a_visitor_has_neither_address_nor_password(page: Page) -> None:
    page.goto(f"{server_of(page)}/account/")
    expect(page.locator("main")).to_contain_text("You are trying the demo")
