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
    """The demo's list of enclosures."""
    page = browser.new_context(
        **{"viewport": {"width": 1280, "height": 800}, "locale": "en-GB", **context}
    ).new_page()
    page.goto(ADDRESS)
    page.get_by_role("button", name="Open the demo household").click()
    page.wait_for_selector(".enclosure-row")
    return page


def enclosure(page: Page, name: str) -> Page:
    """An enclosure's page."""
    page.locator(".enclosure-row", has_text=name).click()
    page.wait_for_selector("#sheet")
    page.wait_for_timeout(300)
    return page


def units(page: Page, system: str, temperature: str) -> None:
    """Switch the reader's units."""
    page.locator(f'button[name="units_system"][value="{system}"]').click()
    page.locator(f'button[name="units_temperature"][value="{temperature}"]').click()
    page.wait_for_timeout(300)


def enclosures(browser: Browser) -> None:
    """The list, a commissioning check and a build plan."""
    desk = demo(browser)
    desk.wait_for_timeout(8000)  # the worker plans what is missing
    desk.screenshot(path=HERE / "enclosures.png")
    commissioning = enclosure(desk, "Sable’s enclosure")
    commissioning.get_by_role("link", name="Commissioning check").first.click()
    commissioning.screenshot(path=HERE / "commissioning.png")
    commissioning.goto(ADDRESS)
    built = enclosure(commissioning, "Eddy’s tank")
    built.get_by_role("link", name="Build & check").click()
    built.screenshot(path=HERE / "build.png")
    built.goto(ADDRESS)


def layout(browser: Browser) -> None:
    """Found setups, and a lamp that is being moved."""
    hand = enclosure(demo(browser), "Pip’s enclosure")
    hand.get_by_role("button", name="Find a setup").click()
    hand.locator("[data-follow]").click(timeout=90_000)
    hand.wait_for_selector(".offers")
    hand.screenshot(path=HERE / "setups.png")
    hand.goto(ADDRESS)
    enclosure(hand, "Pip’s enclosure").get_by_role("link", name="Layout").click()
    hand.wait_for_selector("[data-changes] li")
    lamp = hand.locator("[data-item=lamp-1]").first.bounding_box()
    if lamp is None:
        raise LookupError("the lamp is not drawn")
    hand.mouse.move(lamp["x"] + 26, lamp["y"] + 18)
    hand.mouse.down()
    hand.mouse.move(lamp["x"] + 40, lamp["y"] + 96, steps=14)
    hand.mouse.up()
    hand.wait_for_timeout(1500)
    hand.screenshot(path=HERE / "layout.png")


def days(browser: Browser) -> None:
    """Today on a phone."""
    thumb = demo(browser, viewport={"width": 390, "height": 844}, device_scale_factor=2)
    thumb.goto(f"{ADDRESS}/today/")
    thumb.locator("form.task button.log-button").first.click()
    thumb.wait_for_timeout(1000)
    thumb.screenshot(path=HERE / "today.png")


def care(browser: Browser) -> None:
    """Feeding and body condition."""
    fed = demo(browser)
    fed.goto(f"{ADDRESS}/animals/")
    fed.locator(".animal-row", has_text="Sable").click()
    fed.get_by_role("link", name="Feeding", exact=True).click()
    fed.wait_for_selector(".five")
    fed.screenshot(path=HERE / "feeding.png")


def reviews(browser: Browser) -> None:
    """A described enclosure judged, and a case of the trainer."""
    asked = demo(browser)
    asked.goto(f"{ADDRESS}/second-look/")
    asked.get_by_role("link", name="Corn snake").first.click()
    asked.wait_for_selector(".review-steps", timeout=60_000)
    for fix in ("no thermostat", "few hides"):
        asked.locator(f"[name=fix][value='{fix}']").check()
    asked.get_by_text("With 2 fixes").wait_for()
    asked.get_by_role("heading", name="Findings").scroll_into_view_if_needed()
    asked.evaluate("document.querySelector('#fixes').scrollIntoView()")
    asked.screenshot(path=HERE / "second-look.png")
    asked.goto(f"{ADDRESS}/practice/")
    asked.get_by_role("button", name="Case 1").first.click()
    for instrument, place in (("infrared", "basking"), ("probe", "cool")):
        asked.get_by_label("Instrument").select_option(instrument)
        asked.get_by_label("Where").select_option(place)
        asked.get_by_label("When").select_option("six_hours")
        asked.get_by_label("How").select_option("care")
        asked.get_by_role("button", name="Measure").click()
        asked.wait_for_load_state("networkidle")
    asked.screenshot(path=HERE / "practice.png")


def first_run(browser: Browser) -> None:
    """What a logger measured, and adding an animal."""
    frog = enclosure(demo(browser), "Bramble’s enclosure")
    frog.get_by_role("link", name="Climate").click()
    frog.get_by_role("link", name="Charts", exact=True).click()
    frog.screenshot(path=HERE / "charts.png")
    frog.locator(".add-menu summary").click()
    frog.get_by_role("link", name="Animal and enclosure", exact=True).click()
    frog.get_by_label("Name", exact=True).fill("Tansy")
    frog.get_by_label("Species").select_option("Hemitheconyx caudicinctus")
    frog.get_by_label("Mass").fill("52 g")
    frog.get_by_role("button", name="Next").click()
    frog.get_by_label("Shape").wait_for()
    frog.get_by_role("button", name="Next").click()
    frog.locator(".suggested").wait_for()
    frog.wait_for_timeout(600)
    frog.screenshot(path=HERE / "first-run.png")
    frog.get_by_role("button", name="Delete the draft").click()


def lives(browser: Browser) -> None:
    """What is coming, the species guide, an animal and its life plan."""
    lives = demo(browser)
    lives.goto(f"{ADDRESS}/coming-up/")
    lives.wait_for_timeout(9000)  # the worker works the lives out
    lives.goto(f"{ADDRESS}/coming-up/")
    lives.screenshot(path=HERE / "coming-up.png")
    lives.goto(f"{ADDRESS}/species/?length=120+cm&depth=60+cm&height=80+cm&prey=on")
    lives.screenshot(path=HERE / "species.png")
    lives.goto(f"{ADDRESS}/animals/")
    lives.locator(".animal-row", has_text="Pip").click()
    lives.wait_for_timeout(300)
    lives.screenshot(path=HERE / "animal.png")
    lives.get_by_role("link", name="Life plan", exact=True).click()
    lives.wait_for_timeout(300)
    lives.screenshot(path=HERE / "life-plan.png")


def climate(browser: Browser) -> None:
    """A day, and substrate layer by layer."""
    lives = demo(browser)
    lives.goto(ADDRESS)
    enclosure(lives, "Bramble’s enclosure").get_by_role("link", name="Climate").click()
    lives.wait_for_timeout(600)
    lives.screenshot(path=HERE / "day.png")

    lives.goto(ADDRESS)
    enclosure(lives, "Bramble’s enclosure").get_by_role("link", name="Substrate & water").click()
    for name, text in (("depth0", "3 cm"), ("part0-0", "1"), ("part0-1", "")):
        lives.locator(f"#id_{name}").fill(text)
    lives.locator("#id_what0-0").select_option("expanded_clay")
    lives.locator("#id_what0-1").select_option("")
    for name, text in (
        ("depth1", "8 cm"),
        ("part1-0", "2"),
        ("part1-1", "1"),
        ("stand", "25 kg"),
        ("tall", "70 cm"),
    ):
        lives.locator(f"#id_{name}").fill(text)
    lives.locator("#id_what1-0").select_option("topsoil")
    lives.locator("#id_what1-1").select_option("sand")
    lives.get_by_role("button", name="Calculate").click()
    lives.wait_for_timeout(500)
    lives.screenshot(path=HERE / "substrate.png")


def displays(browser: Browser) -> None:
    """The dark theme, and a phone in inches."""
    dark = enclosure(demo(browser, color_scheme="dark"), "Sable’s enclosure")
    dark.locator(".need", has_text="UV index").locator(".num").first.click()
    dark.wait_for_timeout(900)
    dark.screenshot(path=HERE / "calculation-dark.png")

    phone = demo(browser, viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True)
    units(phone, "us", "f")
    enclosure(phone, "Sable’s enclosure").screenshot(path=HERE / "phone.png")
    units(phone, "metric", "c")


VIEWS = (enclosures, layout, days, care, reviews, first_run, lives, climate, displays)


def main() -> None:
    """Take all of them."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=FLAGS)
        for take in VIEWS:
            take(browser)
        browser.close()


if __name__ == "__main__":
    main()
