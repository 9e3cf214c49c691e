"""Species, animals, life plan and forecast in the browser: by keys, by thumb, in both themes."""

import re
from typing import Any

from playwright.sync_api import Page, expect

from ridgeback.households.models import Household
from ridgeback.jobs import tasks
from tests.browser.conftest import followed, in_every_view, serious


def test_a_species_is_found_weighed_up_and_given_a_value_of_ones_own(page: Page) -> None:
    page.keyboard.press("s")
    expect(page).to_have_url(re.compile("/species/$"))
    page.keyboard.press(".")
    page.keyboard.type("lepard gecko")
    expect(page.locator(".kind").first).to_contain_text("Leopard gecko")
    page.get_by_text("a first animal", exact=True).click()
    expect(page.locator("#comparing")).to_contain_text("match")
    page.get_by_role("link", name="Leopard gecko", exact=True).click()
    page.get_by_label("Your own age, in years").fill("65")
    page.get_by_role("button", name="Calculate").click()
    expect(page.locator(".save-it")).to_contain_text("You would be 75 to 85 years old")
    page.locator("summary", has_text="Climate").click()
    page.locator(".value", has_text="Surface, under the lamp").locator(".leaf a").first.click()
    page.get_by_label("Value").fill("90")
    page.get_by_label("Why").fill("a slip of the unit")
    page.get_by_role("button", name="Save for my household").click()
    expect(page.get_by_role("alert")).to_contain_text("did you mean 90 °F")
    expect(page.get_by_label("Value")).to_have_value("90")
    page.get_by_label("Value").fill("33 °C")
    page.get_by_role("button", name="Save for my household").click()
    expect(page.locator(".messages")).to_contain_text("Saved")
    page.get_by_role("button", name="Revert", exact=True).click()
    expect(page.locator(".messages")).to_contain_text("applies again")


def test_two_species_are_compared_from_the_list(page: Page) -> None:
    page.get_by_role("link", name="Species", exact=True).click()
    page.locator(".kind", has_text="Ball python").get_by_role("checkbox").check()
    page.locator(".kind", has_text="Corn snake").get_by_role("checkbox").check()
    page.locator("#comparing").get_by_role("button", name="Compare").click()
    expect(page.locator("table thead")).to_contain_text("Ball python")
    expect(page.locator("tr.differs").first).to_contain_text("differs")


def test_a_weight_a_thousand_times_off_is_put_right_with_one_click(page: Page) -> None:
    page.keyboard.press("a")
    page.locator(".animal-row", has_text="Pip").click()
    page.get_by_role("link", name="Weigh or measure").click()
    page.get_by_label("Mass").fill("0.1")
    page.get_by_role("button", name="Log the weight").click()
    expect(page.get_by_role("alert")).to_contain_text("did you mean 0.1 kg")
    page.get_by_role("button", name="Yes, 0.1 kg").click()
    expect(page.locator(".messages")).to_contain_text("Logged: 100 g")


def test_the_path_is_moved_under_the_thumb_and_opens_at_todays_stage(phone: Page) -> None:
    phone.get_by_role("link", name="Animals").tap()
    phone.locator(".animal-row", has_text="Pip").tap()
    phone.get_by_role("link", name="Life plan", exact=True).tap()
    strip = phone.locator(".life-plan-scroll")
    expect(strip).to_be_visible()
    assert strip.evaluate("e => e.scrollLeft") > 50 and strip.evaluate(
        "e => e.scrollWidth > e.clientWidth"
    )
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390


PLACES = (
    "/species/",
    "/species/tiliqua-scincoides/",
    "/species/compare/?with=python-regius&with=boa-imperator",
    "/animals/",
    "/coming-up/",
    "/species/own/import/",
    "/calculators/spectrum/",
)


def test_axe_finds_nothing_serious(page: Page, live_server: Any) -> None:
    tasks.work_out_lives(Household.objects.get(visit_ends__isnull=False).pk)
    found = []
    for place in PLACES:
        page.goto(live_server.url + place)
        found += in_every_view(page)
    page.goto(f"{live_server.url}/animals/")
    followed(page, page.locator(".animal-row", has_text="Pip"))
    found += in_every_view(page)
    for part in ("Growth & body", "Records", "Life plan"):
        followed(page, page.get_by_role("link", name=part, exact=True))
        found += in_every_view(page)
    page.goto(live_server.url)
    followed(page, page.locator(".enclosure-row", has_text="Bramble"))
    followed(page, page.get_by_role("link", name="Climate"))
    found += in_every_view(page)
    page.goto(f"{live_server.url}/household/")
    followed(page, page.get_by_role("link", name="Power and warmth"))
    found += in_every_view(page)
    assert found == []


def test_a_spectrum_is_judged_and_the_hard_days_are_run_again(page: Page) -> None:
    page.get_by_role("link", name="Calculators").click()
    page.get_by_role("link", name="Judge a lamp’s spectrum").click()
    rows = "\n".join(f"{nm},{0.001 if nm > 300 else 0}" for nm in range(250, 401))
    page.get_by_label("or paste them").fill(rows)
    page.get_by_role("button", name="Judge the spectrum").click()
    expect(page.get_by_role("status")).to_contain_text("No sign of hazard")
    assert serious(page) == []
    page.get_by_role("link", name="Enclosures", exact=True).click()
    page.locator(".enclosure-row", has_text="Bramble").click()
    page.get_by_role("link", name="Climate").click()
    page.get_by_label("Power cut for").fill("20 h")
    page.get_by_label("the room would fall to").fill("2")
    page.get_by_role("button", name="Run again").click()
    expect(page.locator(".fault", has_text="The power is cut")).to_contain_text("for 20 h")
