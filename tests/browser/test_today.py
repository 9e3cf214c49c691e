"""The day's tasks in the browser: one thumb, two people, a minute without network."""

import re
from typing import Any

from django.utils import timezone
from playwright.sync_api import Browser, Page, expect

from ridgeback.demo import household as demo
from ridgeback.enclosures.models import Occupancy
from ridgeback.log.models import LogEntry
from tests.browser.conftest import beside, followed, opened, serious


def left(page: Page) -> int:
    """Tasks that are left, as the top says."""
    return int((page.locator("[data-left]").text_content() or "0").split(" ")[0])


def test_a_log_request_is_done_and_taken_back(phone: Page) -> None:
    followed(phone, phone.get_by_role("link", name="Today"))
    before = left(phone)
    card = phone.locator("[data-enclosure]").first
    card.get_by_role("button", name="Checked", exact=True).click()
    expect(card.locator(".today-done")).to_contain_text("checked")
    assert left(phone) == before - 1
    card.get_by_role("button", name="undo").click()
    expect(card.get_by_role("button", name="Checked", exact=True)).to_be_visible()
    assert left(phone) == before
    enclosure = card.get_by_role("button", name="Checked", exact=True).bounding_box()
    assert enclosure is not None and enclosure["height"] >= 52  # for wet hands
    assert serious(phone) == []


def test_not_today_asks_why_and_keeps_what_was_typed(phone: Page, troubles: list[str]) -> None:
    followed(phone, phone.get_by_role("link", name="Today"))
    task = phone.locator("form.task", has_text="Fresh water").first
    task.locator("summary").click()
    task.get_by_role("button", name="Skip").click()
    told = phone.locator("form.task", has_text="Fresh water").first
    expect(told.get_by_role("alert")).to_contain_text("why not today")
    told.get_by_label("Note, or reason for skipping").fill("changed at noon")
    told.get_by_role("button", name="Skip").click()
    expect(phone.locator(".today-done").first).to_contain_text(
        "not water changed today: changed at noon"
    )
    troubles[:] = [one for one in troubles if "422" not in one]  # what was asked back


def test_log_requests_wait_for_the_network_over_a_reload(phone: Page, troubles: list[str]) -> None:
    followed(phone, phone.get_by_role("link", name="Today"))
    expect(phone.locator("form.task").first).to_be_visible()
    phone.route(re.compile("/log/$"), lambda route: route.abort("internetdisconnected"))
    seen = phone.get_by_role("button", name="Checked", exact=True)
    seen.nth(0).click()
    expect(phone.locator("[data-waiting]")).to_contain_text("1 log entry waits on this device")
    seen.nth(1).click()
    expect(phone.locator("form.task.kept")).to_have_count(2)
    assert not LogEntry.objects.exists()
    phone.reload()
    expect(phone.locator("form.task.kept")).to_have_count(2)
    phone.unroute_all(behavior="wait")
    expect(phone.locator(".today-done li")).to_have_count(2)
    expect(phone.locator("[data-waiting]")).to_be_hidden()
    assert LogEntry.objects.count() == 2
    troubles[:] = [
        one for one in troubles if "INTERNET_DISCONNECTED" not in one and "/log/" not in one
    ]


def test_what_one_does_is_gone_for_the_other_within_seconds(
    chromium: Browser, live_server: Any, troubles: list[str]
) -> None:
    demo.load(timezone.now(), beginnings=False)
    one = opened(chromium, live_server, troubles)
    other = beside(one, live_server, troubles)
    for page in (one, other):
        page.keyboard.press("t")
        expect(page).to_have_url(re.compile("/today/$"))
    before = left(other)
    one.locator("[data-enclosure]").first.get_by_role("button", name="Checked", exact=True).click()
    expect(other.locator("[data-enclosure]").first.locator(".today-done")).to_contain_text(
        "checked", timeout=12_000
    )
    assert left(other) == before - 1
    one.context.close()
    assert troubles == []


def test_the_last_task_of_an_enclosure_leaves_it_whole(phone: Page) -> None:
    followed(phone, phone.get_by_role("link", name="Today"))
    card = phone.locator("[data-enclosure]").first
    while card.locator("form.task button.log-button[name=outcome]").count():
        before = card.locator("form.task").count()
        card.locator("form.task button.log-button[name=outcome]").first.click()
        expect(card.locator("form.task")).to_have_count(before - 1)
    assert card.locator(".today-done li").count() >= 2


def test_a_log_request_that_nobody_can_take_any_more_is_said(
    phone: Page, troubles: list[str]
) -> None:
    followed(phone, phone.get_by_role("link", name="Today"))
    phone.route(re.compile("/log/$"), lambda route: route.abort("internetdisconnected"))
    phone.get_by_role("button", name="Checked", exact=True).nth(0).click()
    expect(phone.locator("[data-waiting]")).to_contain_text("1 log entry waits")
    Occupancy.objects.update(until=timezone.now())
    phone.unroute_all(behavior="wait")
    expect(phone.locator("[data-waiting]")).to_contain_text(
        "found no animal in its enclosure any more", timeout=12_000
    )
    assert not LogEntry.objects.exists()
    troubles[:] = [
        one
        for one in troubles
        if "INTERNET_DISCONNECTED" not in one and "/log/" not in one and "404" not in one
    ]
