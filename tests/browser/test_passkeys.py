"""A passkey is set up, used instead of a password, and taken off; the device is a simulated one."""

from typing import Any

from allauth.account.models import EmailAddress
from allauth.mfa.models import Authenticator
from django.utils import timezone
from playwright.sync_api import Browser, expect

from ridgeback.demo import household as demo
from ridgeback.households.models import Keeper
from tests.browser.conftest import serious, watched

WORD = "a-long-passphrase-7"
ADDRESS = "ada@saltmarsh.example"
DEVICE = {
    "protocol": "ctap2",
    "transport": "internal",
    "hasResidentKey": True,
    "hasUserVerification": True,
    "isUserVerified": True,
    "automaticPresenceSimulation": True,
}
"""A phone that holds passkeys and knows its owner's finger."""


def owner() -> Keeper:
    """The demo's owner, with an address and a password."""
    demo.load(timezone.now(), beginnings=False)
    keeper = Keeper.objects.get(username="demo")
    keeper.set_password(WORD)
    keeper.email = ADDRESS
    keeper.save()
    EmailAddress.objects.create(user=keeper, email=ADDRESS, primary=True, verified=True)
    return keeper


def test_a_passkey_signs_in_instead_of_a_password(
    chromium: Browser, live_server: Any, troubles: list[str]
) -> None:
    keeper = owner()
    page = watched(
        chromium.new_context(viewport={"width": 390, "height": 844}).new_page(), troubles
    )
    device = page.context.new_cdp_session(page)
    device.send("WebAuthn.enable")
    device.send("WebAuthn.addVirtualAuthenticator", {"options": DEVICE})
    page.goto(f"{live_server.url}/sign-in/")
    page.get_by_label("Email").fill(ADDRESS)
    page.get_by_label("Password").fill(WORD)
    page.get_by_role("button", name="Sign in", exact=True).click()
    page.goto(f"{live_server.url}/account/")
    page.get_by_role("link", name="Passkeys").click()
    page.get_by_role("link", name="Add a passkey").click()
    if page.get_by_label("Password").count():  # asked once more before such a change
        page.get_by_label("Password").fill(WORD)
        page.get_by_role("button", name="Go on").click()
    assert serious(page) == []
    page.get_by_label("What you call it").fill("My phone")
    page.get_by_label("Sign in with it alone").check()
    page.get_by_role("button", name="Add passkey").click()
    page.wait_for_url(lambda url: "/add/" not in url)
    kept = Authenticator.objects.get(user=keeper, type=Authenticator.Type.WEBAUTHN)
    assert kept.wrap().name == "My phone"
    page.context.clear_cookies()
    page.goto(f"{live_server.url}/sign-in/")
    page.get_by_role("button", name="Use a passkey").click()
    page.wait_for_selector(".enclosure-row")
    page.goto(f"{live_server.url}/account/second-step/webauthn/")
    expect(page.locator("main")).to_contain_text("signs in alone")
    assert serious(page) == []
    page.get_by_role("link", name="Remove it").click()
    page.get_by_label("Password").fill(WORD)  # asked once more before such a change
    page.get_by_role("button", name="Go on").click()
    page.get_by_role("button", name="Remove it").click()
    expect(page.locator("main")).to_contain_text("none yet")
    assert not Authenticator.objects.filter(type=Authenticator.Type.WEBAUTHN).exists()


def test_a_passkey_that_is_cancelled_says_so(
    chromium: Browser, live_server: Any, troubles: list[str]
) -> None:
    page = watched(chromium.new_context().new_page(), troubles)
    page.add_init_script(
        "navigator.credentials.get = () => Promise.reject(new DOMException('', 'NotAllowedError'))"
    )
    page.goto(f"{live_server.url}/sign-in/")
    page.get_by_role("button", name="Use a passkey").click()
    expect(page.locator("[data-passkey-problem]")).to_contain_text("No passkey was used")
