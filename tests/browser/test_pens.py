"""An outdoor pen on the phone: planned for who goes out, made worse, put right, out and in again."""

from playwright.sync_api import Page, expect

from tests.browser.conftest import followed, in_every_view


def test_a_pen_from_who_goes_out_to_in_again(page: Page) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    followed(page, page.get_by_role("link", name="Outdoor pens"))
    found = in_every_view(page)
    followed(page, page.get_by_role("link", name="Add an outdoor pen"))
    found += in_every_view(page)
    page.get_by_label("Name").fill("Terrace")
    page.get_by_label("Pip").check()
    followed(page, page.get_by_role("button", name="Add the pen"))
    expect(page.locator("main")).to_contain_text("It is right for who goes out.")
    followed(page, page.get_by_role("link", name="Describe it"))
    found += in_every_view(page)
    page.get_by_label("Over the top").select_option("")
    page.get_by_label("Height of the walls").fill("as high as a door")
    followed(page, page.get_by_role("button", name="Save"))
    expect(page.locator(".has-error")).to_contain_text("as high as a door")
    page.get_by_label("Height of the walls").fill("50 cm")
    followed(page, page.get_by_role("button", name="Save"))
    expect(page.locator(".changes")).to_contain_text("They get out")
    found += in_every_view(page)
    followed(page, page.get_by_role("button", name="Put all of it right"))
    expect(page.locator("main")).to_contain_text("It is right for who goes out.")
    followed(page, page.get_by_role("button", name="They are out now"))
    page.get_by_label("Thermometer in the shade").fill("24")
    followed(page, page.get_by_role("button", name="They are in again"))
    expect(page.locator("main")).to_contain_text("24.0 °C in the shade")
    assert found == []
