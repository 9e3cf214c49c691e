"""Building and verifying on the phone beside the enclosure: what is typed is logged, and every page
that keeps something has its button.
"""

import re

import pytest
from django.utils import timezone
from playwright.sync_api import Page, expect

from ridgeback.enclosures import flows
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Keeper


def _open(phone: Page, way: str = "") -> None:
    phone.get_by_role("link", name="Pip’s enclosure").first.click()
    if way == "^All settings":
        phone.get_by_role("link", name="Layout").first.click()
    if way:
        phone.get_by_role("link", name=re.compile(way)).first.click()


@pytest.mark.parametrize(
    ("way", "button"),
    [
        ("^All settings", "Save changes"),
        ("Substrate & water", "Save substrate"),
        ("^Build & check", "Save"),
        ("^Commissioning check", "Approve for move-in"),
    ],
)
def test_on_the_phone_there_is_a_button_to_keep_with(phone: Page, way: str, button: str) -> None:
    """They once vanished with those of the layout editor, which is only read there."""
    _open(phone, way)
    expect(phone.get_by_role("button", name=button, exact=True)).to_be_visible()
    assert phone.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_an_enclosure_is_proven_and_signed_on_the_phone(phone: Page) -> None:
    pip = Enclosure.objects.get(name__startswith="Pip", household__visit_ends__isnull=False)
    keeper = Keeper.objects.get(memberships__household=pip.household)
    right = {
        "surface_day": 40.0,
        "warm_air_day": 30.0,
        "cool_air_day": 24.5,
        "air_night": 20.0,
        "uvi_day": 3.4,
    }
    for need, value in right.items():
        flows.add_reading(
            pip,
            need=need,
            value=value,
            offset=0.0,
            at=timezone.now(),
            instrument="probe",
            lamp_on_h=8.0,
            keeper=keeper,
            room_c=21.0,
        )
    _open(phone, "^Commissioning check")
    line = phone.locator(".commission-list li", has_text="Humidity")
    line.get_by_role("textbox").fill("50")
    line.get_by_role("button", name="Log").click()
    expect(phone.locator(".messages")).to_contain_text("Logged: humidity, 50 %")
    expect(phone.locator(".commission-list li.right")).to_have_count(6)
    for enclosure in phone.get_by_role("checkbox").all():
        enclosure.check()
    phone.get_by_role("button", name="Approve for move-in").click()
    expect(phone.locator(".messages")).to_contain_text("Signed.")
    expect(phone.locator(".records summary").first).to_contain_text("plan 1")
    phone.get_by_role("button", name=re.compile("moves in now")).click()
    expect(phone.locator(".messages")).to_contain_text("7 quiet days")
