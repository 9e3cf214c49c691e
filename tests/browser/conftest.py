"""A few journeys in Debian's Chromium.

Any console error, policy report or failed request fails the test.
"""

import os
import shutil
from collections.abc import Iterator
from typing import Any

import pytest
from axe_playwright_python.base import AXE_SCRIPT
from django.core.cache import cache
from django.utils import timezone
from playwright.sync_api import Browser, Locator, Page, expect, sync_playwright

from ridgeback.demo import household as demo
from tests import emptying

# Playwright's synchronous interface keeps an event loop in this thread, and Django would refuse the
# database because of it.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
# What is calculated takes seconds on a loaded machine.
expect.set_options(timeout=30_000)
emptying.by_deleting()
SERIOUS = {"serious", "critical"}
VIOLATIONS = """options => axe.run(options).then(found => found.violations.map(
    rule => [rule.id, rule.impact, rule.nodes[0].html.slice(0, 160)]))"""
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-dev-shm-usage",
    "--font-render-hinting=none",
]


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    """One browser for all tests."""
    path = shutil.which("chromium")
    assert path, "Debian's chromium is missing: ./test installs it"
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=path, args=FLAGS)
        yield browser
        browser.close()


@pytest.fixture(autouse=True)
def nobody_came_before(request: pytest.FixtureRequest) -> None:
    """No test is refused a demo because those before it opened one each."""
    if "live_server" in request.fixturenames:
        request.getfixturevalue("live_server")
        cache.clear()


@pytest.fixture
def troubles() -> list[str]:
    """What the browser complained of."""
    return []


def watched(page: Page, troubles: list[str]) -> Page:
    """A page whose complaints are collected.

    A request that a newer one replaced is no complaint.
    """
    page.on(
        "console",
        lambda m: (
            troubles.append(f"console {m.type}: {m.text}")
            if m.type in {"error", "warning"}
            else None
        ),
    )
    page.on("pageerror", lambda e: troubles.append(f"error: {e}"))
    page.on(
        "response", lambda r: troubles.append(f"{r.status} {r.url}") if r.status >= 400 else None
    )
    page.on(
        "requestfailed",
        lambda r: (
            troubles.append(f"failed: {r.url}") if "ERR_ABORTED" not in str(r.failure) else None
        ),
    )
    page.set_default_timeout(30_000)
    return page


def opened(chromium: Browser, live_server: Any, troubles: list[str], **context: Any) -> Page:
    """The demo household, opened with one click."""
    page = watched(
        chromium.new_context(**{"viewport": {"width": 1280, "height": 800}, **context}).new_page(),
        troubles,
    )
    page.goto(live_server.url)
    page.get_by_role("button", name="Open the demo household").click()
    page.wait_for_selector(".enclosure-row")
    return page


def followed(page: Page, link: Locator) -> None:
    """The page that a link leads to: a click alone returns while the old one still stands."""
    with page.expect_navigation(wait_until="load"):
        link.click()


def serious(page: Page, *rules: str) -> list[str]:
    """What the accessibility rules, or those named alone, find here that keeps somebody out."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE_SCRIPT)
    options = {"resultTypes": ["violations"], **({"runOnly": rules} if rules else {})}
    return [
        f"{rule}: {html}"
        for rule, impact, html in page.evaluate(VIOLATIONS, options)
        if impact in SERIOUS
    ]


def in_every_view(page: Page) -> list[str]:
    """What is wrong with the page as it stands at a desk and on a phone, by day and by night: what keeps
    somebody out, and what runs off the side. By night other colours show, and nothing else is new.
    """
    found = []
    usual = page.viewport_size
    for width in (1280, 390):
        page.set_viewport_size({"width": width, "height": 844})
        for scheme, rules in (("light", ()), ("dark", ("color-contrast",))):
            page.emulate_media(color_scheme=scheme, reduced_motion="reduce")  # type: ignore[arg-type]
            found += [f"{width} {scheme} {page.url}: {one}" for one in serious(page, *rules)]
        if page.evaluate("document.documentElement.scrollWidth") > width:
            found.append(f"{width} {page.url}: runs off the side")
    page.emulate_media(color_scheme="null", reduced_motion="null")
    if usual is not None:
        page.set_viewport_size(usual)
    return found


def beside(page: Page, live_server: Any, troubles: list[str]) -> Page:
    """A second page of the same visitor: another one of the demo has a household of their own."""
    other = watched(page.context.new_page(), troubles)
    other.goto(live_server.url)
    other.wait_for_selector(".enclosure-row")
    return other


@pytest.fixture
def page(chromium: Browser, live_server: Any, troubles: list[str]) -> Iterator[Page]:
    """The demo's list of enclosures at a desk."""
    demo.load(timezone.now(), beginnings=False)
    made = opened(chromium, live_server, troubles)
    yield made
    made.context.close()
    assert troubles == []


@pytest.fixture
def phone(chromium: Browser, live_server: Any, troubles: list[str]) -> Iterator[Page]:
    """The same on a phone."""
    demo.load(timezone.now(), beginnings=False)
    made = opened(
        chromium,
        live_server,
        troubles,
        viewport={"width": 390, "height": 844},
        has_touch=True,
        is_mobile=True,
    )
    yield made
    made.context.close()
    assert troubles == []
