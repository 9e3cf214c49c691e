"""Is this right? A friend's paragraph, judged and given back; ten in a row by keyboard."""

import pytest
from playwright.sync_api import Browser, Page, expect

from ridgeback.reviews import flows
from ridgeback.reviews.models import EnclosureReview
from tests.browser.conftest import serious, watched
from tests.browser.test_collection import server_of
from tests.web.test_review_photos import jpeg

SAID = (
    "My corn snake lives in a 90 x 45 x 45 cm vivarium with a 60W ceramic heater, no thermostat,"
    " no hides, aspen. A mouse every 7 days. I will buy a hide next week."
)


@pytest.mark.parametrize("width", [390, 1280])
def test_is_this_right(page: Page, chromium: Browser, troubles: list[str], width: int) -> None:
    """Pasted, understood, corrected, judged again, put right, sent by a link."""
    page.set_viewport_size({"width": width, "height": 844})
    server = server_of(page)
    page.goto(f"{server}/second-look/")
    assert serious(page) == []
    page.get_by_label("What was said").fill(SAID)
    page.get_by_role("button", name="Review").click()
    expect(page.locator(".verdict").first).to_contain_text("heater without a thermostat")
    expect(page.locator("main")).to_contain_text("I will buy a hide next week")
    flows.judged(EnclosureReview.objects.latest("pk"), correct=True)  # as a worker does
    expect(page.locator(".review-page")).to_contain_text("In which order", timeout=30_000)
    assert serious(page) == []
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.get_by_label("Try it on the drawing").first.check()
    expect(page.locator("#tried")).to_contain_text("With 1 fix")
    expect(page.locator("#tried")).to_contain_text("Put right: Heater without a thermostat")
    page.locator("#id_thermostat").select_option("yes")
    page.locator("#id_hides").fill("2")
    page.get_by_role("button", name="Save and judge again").click()
    expect(page.locator(".messages")).to_contain_text("judged again")
    expect(page.locator(".review-page")).not_to_contain_text("Heater without a thermostat")
    page.get_by_role("button", name="Make a link").click()
    address = page.locator("#review_address").input_value()
    friend = watched(
        chromium.new_context(viewport={"width": 390, "height": 844}).new_page(), troubles
    )
    friend.goto(address)
    expect(friend.locator("h1")).to_contain_text("corn snake")
    assert serious(friend) == []
    page.get_by_role("link", name="Text to send").first.click()
    expect(page.locator("textarea")).to_contain_text("What is good")


def test_ten_in_a_row_by_keyboard(page: Page) -> None:
    """From one review to the next without a hand on the mouse."""
    server = server_of(page)
    page.goto(f"{server}/second-look/")
    for text in ("Leopard gecko on calci sand", "Royal python with a heat rock"):
        page.keyboard.press("w")
        page.wait_for_load_state("networkidle")
        page.keyboard.press("r")
        expect(page.get_by_label("What was said")).to_be_focused()
        page.keyboard.type(text)
        page.keyboard.press("Tab")
        page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        page.wait_for_url("**/second-look/*/")
    expect(page.locator(".verdict").first).to_contain_text("heated rock")
    page.keyboard.press(".")
    expect(page.locator("h1")).to_contain_text("Leopard gecko")
    page.keyboard.press(",")
    expect(page.locator("h1")).to_contain_text("Ball python")


@pytest.mark.parametrize("width", [390, 1280])
def test_a_sketch_is_tapped_together(page: Page, width: int) -> None:
    """From pictures to a review without a word typed."""
    page.set_viewport_size({"width": width, "height": 844})
    page.goto(f"{server_of(page)}/second-look/")
    page.get_by_role("link", name="Tap a sketch instead").click()
    expect(page.get_by_role("button", name="Review it")).to_be_visible()
    assert serious(page) == []
    page.get_by_label("Animal").select_option(label="leopard gecko")
    for picture in ("glass", "heat mat", "calcium sand", "one hide"):
        page.locator(".tile", has_text=picture).first.click()
    expect(page.locator("#sketch-drawn svg.drawing")).to_be_visible()
    expect(page.locator("#sketch-drawn .verdict")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.get_by_role("button", name="Review it").click()
    expect(page.locator("h1")).to_contain_text("Leopard gecko")
    expect(page.locator(".fact-chips")).to_contain_text("calcium sand")


def test_a_photo_is_measured(page: Page) -> None:
    """Two corners tapped, the drawing over them, and another length read off the photo."""
    server = server_of(page)
    page.goto(f"{server}/second-look/")
    page.get_by_label("What was said").fill(SAID)
    page.get_by_role("button", name="Review").click()
    own = EnclosureReview.objects.latest("pk")
    flows.add_photo(own, jpeg())
    flows.make_photo_small(own.pk)  # as a worker does
    page.reload()
    page.get_by_role("link", name="Overlay the drawing on the photo").click()
    photo = page.locator("svg.photo-to-scale")
    tap_at(page, 0.1, 0.8)
    tap_at(page, 0.9, 0.8)
    page.get_by_label("Length between them").fill("80 cm")
    page.get_by_role("button", name="Overlay the drawing").click()
    expect(photo.locator(".over-photo svg")).to_have_count(1)
    assert serious(page) == []
    tap_at(page, 0.2, 0.2)
    tap_at(page, 0.5, 0.2)
    expect(page.locator("[role=status]")).to_contain_text("30 cm")


def tap_at(page: Page, across: float, down: float) -> None:
    """Tap the photo, of twice its height, at these shares of its sides."""
    frame = page.locator("svg.photo-to-scale").bounding_box()
    assert frame is not None
    wide = min(frame["width"], 2 * frame["height"])
    left = frame["x"] + (frame["width"] - wide) / 2
    top = frame["y"] + (frame["height"] - wide / 2) / 2
    page.mouse.click(left + across * wide, top + down * wide / 2)
