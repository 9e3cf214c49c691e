"""The layout editor by hand: drag, nudge, add, undo, type, be told what is wrong, keep; and two who
keep at once.
"""

import json
import re
from typing import Any

from django.utils import timezone
from playwright.sync_api import Browser, Page, expect

from ridgeback.demo import household as demo
from tests.browser.conftest import beside, opened, serious


def layout(page: Page, name: str = "Pip’s enclosure") -> Page:
    page.locator(".enclosure-row", has_text=name).click()
    page.get_by_role("link", name="Layout").click()
    page.wait_for_selector("[data-changes] li")
    return page


def settled(page: Page) -> None:
    """Every question of the moment has been answered."""
    for wait_ms in (250, 500):  # a first answer may be followed by a question of its own
        page.wait_for_timeout(wait_ms)
        page.wait_for_selector("[data-workbench]:not([data-asking])")


def surface(page: Page) -> float:
    text = page.locator(".wb-needs li", has_text="Surface").locator(".v").inner_text()
    return float(re.search(r"[\d.]+", text)[0])  # type: ignore[index]


def value(page: Page, label: str) -> str:
    return page.get_by_label(label, exact=True).input_value()


def drag(page: Page, item: str, dx: float, dy: float, steps: int = 12) -> None:
    at = page.locator(f"[data-item={item}]").first.bounding_box()
    assert at is not None
    x, y = at["x"] + at["width"] / 2 - 6, at["y"] + at["height"] - 6
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + dx, y + dy, steps=steps)
    page.mouse.up()


def test_a_lamp_is_lowered_with_the_hand_and_the_surface_follows(page: Page) -> None:
    layout(page)
    before = surface(page)
    drag(page, "lamp-1", 0, 50)
    settled(page)
    assert surface(page) > before + 2
    height = value(page, "Above the floor")
    assert height.endswith("cm") and float(height.split()[0]) < 45
    expect(page.get_by_role("button", name="Save", exact=True)).to_be_enabled()
    page.get_by_role("button", name="Undo").click()
    settled(page)
    assert surface(page) == before
    page.keyboard.press("Control+Shift+z")
    settled(page)
    assert surface(page) > before + 2
    page.reload()  # what lay in the layout editor lies there still
    settled(page)
    assert surface(page) > before + 2
    page.get_by_role("button", name="Save", exact=True).click()
    page.wait_for_selector("#sheet")
    expect(page.locator(".title-block ~ text", has_text="plan 2")).to_be_visible()


def test_while_it_is_dragged_it_is_painted_and_the_last_answer_is_of_the_place_where_it_rests(
    page: Page,
) -> None:
    layout(page)
    asked: list[Any] = []
    page.on(
        "request",
        lambda r: (
            asked.append(json.loads(r.post_data or "{}")) if r.url.endswith("/step/") else None
        ),
    )
    drag(page, "lamp-1", 150, 30, steps=60)
    settled(page)
    assert int(page.evaluate("document.documentElement.dataset.painted")) >= 4
    rest = page.locator("[data-item=lamp-1]").first
    assert (
        rest.get_attribute("transform") is None
    )  # the drawing is of the state itself, nothing is carried over
    last = next(item for item in asked[-1]["state"]["items"] if item["id"] == "lamp-1")
    assert value(page, "From the left") == f"{100 * last['at_m'][0]:.1f} cm"
    changes = page.locator("[data-changes] li")
    expect(changes.first).to_be_visible()


def test_keys_move_by_a_centimetre_and_by_five_and_items_are_added_turned_and_taken_away(
    page: Page,
) -> None:
    layout(page)
    page.locator("[data-choose=stone-1]").click()
    settled(page)
    x = float(value(page, "From the left").split()[0])
    page.keyboard.press("Escape")
    page.locator("[data-choose=stone-1]").click()
    page.locator("[data-paper]").focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    settled(page)
    assert float(value(page, "From the left").split()[0]) == x + 6
    long, deep = value(page, "Length"), value(page, "Depth")
    page.keyboard.press("r")
    settled(page)
    assert (value(page, "Length"), value(page, "Depth")) == (deep, long)
    many = page.locator("[data-items] li").count()
    page.keyboard.press("d")
    settled(page)
    assert page.locator("[data-items] li").count() == many + 1
    page.keyboard.press("Delete")
    settled(page)
    assert page.locator("[data-items] li").count() == many
    page.locator("[data-add] summary").click()
    page.get_by_role("button", name="hide", exact=True).first.click()
    settled(page)
    assert page.locator("[data-items] li").count() == many + 1
    for _ in range(6):
        page.keyboard.press("Control+z")
    settled(page)
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    expect(page.get_by_role("button", name="Save", exact=True)).to_be_disabled()
    page.keyboard.press("?")
    expect(page.locator("[data-keys]")).to_contain_text("five")


def test_a_typed_number_is_read_in_either_unit_and_a_wrong_one_is_named_beside_it(
    page: Page,
) -> None:
    layout(page)
    page.locator("[data-choose=lamp-1]").click()
    settled(page)
    height = page.get_by_label("Above the floor", exact=True)
    height.fill("14 in")
    height.press("Enter")
    settled(page)
    assert value(page, "Above the floor") == "35.6 cm"
    power = page.get_by_label("Power", exact=True)
    power.fill("warm")
    power.press("Enter")
    expect(page.locator("[data-typed-wrong]")).not_to_be_empty()
    expect(power).to_have_value("warm")
    power.fill("10 kW")
    power.press("Enter")
    expect(page.locator("[data-problems] .stops")).to_be_visible()
    expect(page.locator("[data-needs]")).to_contain_text("Nothing can be predicted")
    marked = page.locator("[data-item=lamp-1]").first
    expect(marked).to_have_class(re.compile("marked"))
    drawn, usual = (
        page.locator(f"[data-item={name}] > title + *").first for name in ("lamp-1", "stone-1")
    )
    assert drawn.evaluate("e => getComputedStyle(e).stroke") != usual.evaluate(
        "e => getComputedStyle(e).stroke"
    )
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Undo").click()
    settled(page)
    expect(page.locator("[data-needs]")).to_contain_text("Surface")


def test_the_hour_the_proposed_change_and_the_kept_enclosure_are_looked_at(page: Page) -> None:
    layout(page)
    page.locator("[data-hour]").fill("3")
    expect(page.locator("[data-moment]")).to_contain_text("03:00")
    expect(page.locator("[data-moment]")).to_contain_text("UVI 0.0")
    page.locator("[data-hour]").fill("-0.5")
    expect(page.locator("[data-moment]")).to_contain_text("settled")
    before = surface(page)
    page.get_by_role("button", name="Try it here").first.click()
    settled(page)
    after = surface(page)
    assert after > before
    page.get_by_role("button", name="Saved version").click()
    assert surface(page) == before
    page.get_by_role("button", name="Saved version").click()
    settled(page)
    assert serious(page) == []


def test_two_who_keep_at_once_do_not_overwrite_each_other(
    chromium: Browser, live_server: Any, db: Any
) -> None:
    demo.load(timezone.now(), beginnings=False)
    troubles: list[str] = []
    one = layout(opened(chromium, live_server, troubles))
    two = layout(beside(one, live_server, troubles))
    for page, dy in ((one, 40), (two, 60)):
        drag(page, "lamp-1", 0, dy)
        settled(page)
    one.get_by_role("button", name="Save", exact=True).click()
    one.wait_for_selector("#sheet")
    two.get_by_role("button", name="Save", exact=True).click()
    expect(two.locator("[data-kept]")).to_contain_text("Somebody changed this enclosure")
    expect(two.get_by_role("button", name="Undo")).to_be_enabled()  # what was moved is still there
    assert [t for t in troubles if "409" not in t] == []
    one.context.close()


def test_on_the_phone_the_layout_is_read(phone: Page) -> None:
    phone.locator(".enclosure-row", has_text="Pip’s enclosure").click()
    phone.get_by_role("link", name="Layout").click()
    expect(phone.locator(".wb-small")).to_be_visible()
    expect(phone.get_by_role("button", name="Save", exact=True)).to_be_hidden()
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390


def test_the_drawing_is_fetched_as_png(page: Page) -> None:
    page.locator(".enclosure-row", has_text="Pip’s enclosure").click()
    with page.expect_download() as fetched:
        page.get_by_role("link", name="PNG").click()
    assert fetched.value.suggested_filename.endswith(".png")
    assert fetched.value.path().read_bytes()[:4] == b"\x89PNG"


def test_a_reading_is_taken_of_a_place_that_was_clicked(page: Page) -> None:
    layout(page)
    paper = page.locator("[data-paper]").bounding_box()
    assert paper is not None
    page.mouse.click(paper["x"] + paper["width"] * 0.62, paper["y"] + paper["height"] * 0.28)
    expect(page.locator("[data-spot-words]")).to_contain_text("from the left")
    page.get_by_role("button", name="Read the air here").click()
    expect(page.locator(".messages")).to_contain_text("simulated instruments")
    expect(page.locator(".recent")).to_contain_text("from the left")
