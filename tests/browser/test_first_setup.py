"""A stranger's way in: sign up, the three steps, a server that dies in between, and the keys of the
list.
"""

import http.client
import os
import re
import shutil
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings
from django.core.cache import cache
from django.db import connection
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import followed, serious, watched

WORD = "a-long-passphrase-of-five"


class Server:
    """A web process that can be killed and started again on the same address."""

    def __init__(self) -> None:
        with socket.socket() as s:
            s.bind(("127.0.0.1", 0))
            self.port = s.getsockname()[1]
        known = connection.settings_dict
        url = f"postgresql://{known['USER']}@{known['HOST']}:{known['PORT']}/{known['NAME']}"
        self.environment = {
            **os.environ,
            "DATABASE_URL": url,
            "DJANGO_SETTINGS_MODULE": "ridgeback.settings.test",
            "REQUEST_LOG_LEVEL": "ERROR",
        }
        self.url = f"http://127.0.0.1:{self.port}"
        self.start()

    def start(self) -> None:
        """Start, and wait until it answers: it listens long before its worker has loaded the
        application.
        """
        gunicorn = str(Path(sys.executable).parent / "gunicorn")
        bind = ["--bind", f"127.0.0.1:{self.port}", "--workers", "1", "--log-level", "critical"]
        self.process = subprocess.Popen(
            [gunicorn, "ridgeback.wsgi", *bind],
            cwd=settings.ROOT,
            env=self.environment,
            start_new_session=True,
        )
        for _ in range(600):
            if self.answers():
                return
            assert self.process.poll() is None, "the server ended before it answered"
            time.sleep(0.1)
        raise AssertionError("the server did not answer within a minute")

    def answers(self) -> bool:
        """Whether a request gets an answer.

        A connection can be refused, or reset by a worker that is just dying.
        """
        asked = http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)
        try:
            asked.request("HEAD", "/")
            return asked.getresponse().status < 500
        except (ConnectionError, http.client.HTTPException):
            return False
        finally:
            asked.close()

    def kill(self) -> None:
        """As a power cut; over when nobody listens any more: the worker can outlive the process
        that is waited for.
        """
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()
        for _ in range(100):
            with socket.socket() as s:
                if s.connect_ex(("127.0.0.1", self.port)) != 0:
                    return
            time.sleep(0.05)
        raise AssertionError("a killed server still listens")


@pytest.fixture
def server(transactional_db: Any) -> Iterator[Server]:
    cache.clear()
    made = Server()
    yield made
    made.kill()


def another_browser(chromium: Browser, troubles: list[str], **context: Any) -> Page:
    return watched(
        chromium.new_context(**{"viewport": {"width": 1280, "height": 800}, **context}).new_page(),
        troubles,
    )


def sign_up(page: Page, server: Server) -> None:
    page.goto(f"{server.url}/sign-in/")
    page.get_by_role("link", name="Sign up").click()
    page.get_by_label("Email").fill("ada@saltmarsh.example")
    page.get_by_label("Your name").fill("Ada")
    page.get_by_label("Name of your household").fill("Reed Cottage")
    page.get_by_label("Password", exact=True).fill(WORD)
    page.get_by_role("button", name="Sign up").click()
    page.get_by_role("link", name="An animal and its enclosure").click()
    page.wait_for_selector("#step-form")


def test_a_draft_survives_a_killed_server_and_another_browser(
    chromium: Browser, server: Server, troubles: list[str]
) -> None:
    first = another_browser(chromium, troubles)
    sign_up(first, server)
    first.get_by_label("Name", exact=True).fill("Tansy")
    first.get_by_label("Species").select_option("Eublepharis macularius")
    first.get_by_label("Mass").fill("62 g")
    expect(first.locator("#panel")).to_contain_text("Leopard gecko, adult")
    assert serious(first) == []
    first.get_by_role("button", name="Next").click()
    first.wait_for_selector("#id_shape")
    first.get_by_label("Shape").select_option("own")
    first.get_by_label("Length inside").fill("120")
    expect(first.locator("#panel")).to_contain_text("once all measures are entered")
    # the last stroke has reached the draft, and its answer the page: none is cut off by the kill
    with first.expect_request_finished(
        lambda r: "/draft/" in r.url and "depth=60" in (r.post_data or "")
    ):
        first.get_by_label("Depth inside").fill("60 cm")
    first.wait_for_load_state("networkidle")
    server.kill()
    first.context.close()
    server.start()

    other = another_browser(
        chromium, troubles, viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True
    )
    other.goto(server.url)
    other.get_by_label("Email").fill("ada@saltmarsh.example")
    other.get_by_label("Password", exact=True).fill(WORD)
    other.get_by_role("button", name="Sign in").click()
    other.get_by_role("link", name="What do you have?").click()
    other.get_by_role("link", name="An animal and its enclosure").click()
    expect(other.get_by_label("Length inside")).to_have_value("120")
    expect(other.get_by_label("Depth inside")).to_have_value("60 cm")
    other.get_by_label("Height inside").fill("2 ft")
    expect(other.locator("#panel svg.drawing-sheet")).to_be_visible()
    other.get_by_role("button", name="Next").click()
    expect(other.get_by_label("Heat by day")).not_to_have_value("")
    other.get_by_role("button", name="Create the enclosure").click()
    expect(other.locator(".messages")).to_contain_text("Tansy’s enclosure is made")
    other.context.close()
    assert troubles == []


RACES = 12
"""From at once to 400 ms after the first strokes, and as long before Next is pressed."""


def test_what_is_typed_last_is_never_lost_to_a_draft(
    chromium: Browser, server: Server, troubles: list[str]
) -> None:
    """A draft goes out 350 ms after a stroke: Next is pressed before, while, and after it travels."""
    page = another_browser(chromium, troubles)
    sign_up(page, server)
    page.get_by_label("Species").select_option("Eublepharis macularius")
    lost = []
    for race in range(RACES):
        mass, name = f"{40 + race} g", f"Tansy {race}"
        page.get_by_label("Name", exact=True).fill(name)
        page.get_by_label("Mass").press_sequentially("999", delay=20)
        page.wait_for_timeout(400 * race / RACES)
        page.get_by_label("Mass").fill(mass)
        page.wait_for_timeout(350 * (1 - race / RACES))
        page.get_by_role("button", name="Next").click()
        page.wait_for_selector("#id_shape")
        page.get_by_role("link", name="The animal").click()
        page.wait_for_selector("#id_species")
        found = (
            page.get_by_label("Name", exact=True).input_value(),
            page.get_by_label("Mass").input_value(),
        )
        if found != (name, mass):
            lost.append((race, found))
    page.context.close()
    assert lost == [] and troubles == []


def test_the_list_by_its_keys(page: Page) -> None:
    page.keyboard.press("/")
    expect(page.locator(".find input")).to_be_focused()
    page.keyboard.type("bramble")
    expect(page.locator("#found")).to_contain_text("African fat-tailed gecko")
    page.locator("h1").click()
    page.keyboard.press(".")
    expect(page.locator("#query")).to_be_focused()
    page.keyboard.type("frog")
    expect(page.locator(".enclosure-row")).to_have_count(1)
    expect(page.locator(".enclosure-row")).to_contain_text("Sable’s enclosure")
    page.locator("#query").fill("")
    expect(page.locator(".enclosure-row")).to_have_count(4)
    page.get_by_text("In range", exact=True).click()
    expect(page.locator(".enclosure-row")).to_have_count(1)
    page.get_by_text("All", exact=True).click()
    expect(page.locator(".enclosure-row")).to_have_count(4)
    page.locator("h1").click()
    page.keyboard.press("?")
    expect(page.locator("#keys")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("j")
    page.keyboard.press("j")
    expect(page.locator(".enclosure-row").nth(1)).to_be_focused()
    page.keyboard.press("x")
    expect(page).to_have_url(re.compile("/calculators/$"))
    assert serious(page) == []


def test_a_sum_follows_what_is_typed(page: Page) -> None:
    followed(page, page.get_by_role("link", name="Calculators"))
    followed(page, page.get_by_role("link", name="Distance of a UVB tube"))
    answer = page.locator("#answer .result b")
    before = answer.inner_text()
    page.get_by_label("UV index wanted at the back").fill("2")
    expect(answer).not_to_have_text(before)
    page.get_by_label("Length of the tube").fill("34 in")
    page.get_by_label("UV index wanted at the back").fill("much")
    expect(page.locator("#slot-target_uvi")).to_contain_text("3.2")
    assert serious(page) == []


def test_household_and_rooms_are_reached_and_readable(page: Page) -> None:
    page.get_by_role("link", name="Household").click()
    page.get_by_role("link", name="Back room").click()
    page.get_by_label("By day").fill("95")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("alert")).to_contain_text("°F")
    expect(page.get_by_label("By day")).to_have_value("95")
    assert serious(page) == [] and shutil.which("chromium")
