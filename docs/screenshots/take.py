"""Take the pictures of the main views. Run by bin/pictures against a fresh demo."""

import shutil
import sys
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, Page, sync_playwright

HERE = Path(__file__).parent
ADDRESS = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8000"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-dev-shm-usage",
    "--font-render-hinting=none",
]


def demo(browser: Browser, **context: Any) -> Page:
    """The demo's list of boxes."""
    page = browser.new_context(**{"viewport": {"width": 1280, "height": 800}, "locale": "en-GB", **context}).new_page()
    page.goto(ADDRESS)
    page.get_by_role("button", name="Open the demo household").click()
    page.wait_for_selector(".box-row")
    return page


def box(page: Page, name: str) -> Page:
    """A box's page."""
    page.locator(".box-row", has_text=name).click()
    page.wait_for_selector("#sheet")
    page.wait_for_timeout(300)
    return page


def units(page: Page, system: str, temperature: str) -> None:
    """Switch the reader's units."""
    page.locator(f'button[name="units_system"][value="{system}"]').click()
    page.locator(f'button[name="units_temperature"][value="{temperature}"]').click()
    page.wait_for_timeout(300)


def main() -> None:
    """All of them."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=FLAGS)
        door = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        door.goto(ADDRESS)
        door.wait_for_timeout(300)
        door.screenshot(path=HERE / "door.png")

        desk = demo(browser)
        desk.screenshot(path=HERE / "boxes.png")
        box(desk, "Pip’s box").screenshot(path=HERE / "bench-cold.png")
        desk.locator("summary", has_text="Halogen flood").click()
        desk.locator("#id_thing-lamp-1-z").fill("29 cm")
        desk.wait_for_timeout(1200)
        desk.locator(".edit h2").scroll_into_view_if_needed()
        desk.evaluate("window.scrollTo(0, 330)")
        desk.screenshot(path=HERE / "trying.png")

        dark = box(demo(browser, color_scheme="dark"), "Sable’s box")
        dark.locator(".need", has_text="UV index").locator(".num").first.click()
        dark.wait_for_timeout(900)
        dark.screenshot(path=HERE / "working-dark.png")

        phone = demo(browser, viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True)
        units(phone, "us", "f")
        box(phone, "Sable’s box").screenshot(path=HERE / "phone.png")
        units(phone, "metric", "c")
        browser.close()


if __name__ == "__main__":
    main()
