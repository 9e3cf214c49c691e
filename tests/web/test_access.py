"""Who may see what: every address as nobody, as the owner and as a stranger."""

import re
import runpy
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings
from django.core.management import call_command
from django.test import Client, override_settings
from django.urls import URLPattern, URLResolver, get_resolver

from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper, Membership, Room

STYLES = {
    path.stem: [
        frozenset(re.findall(r"[.#]([a-zA-Z_][\w-]*)", selector))
        for rule in re.findall(
            r"[^{};]+(?=\{)", re.sub(r"/\*.*?\*/", "", path.read_text(), flags=re.S)
        )
        if not rule.strip().startswith("@")
        for selector in re.sub(r":(?:not|has|is)\([^)]*\)", "", rule).split(",")
    ]
    for path in (Path(settings.ROOT) / "ridgeback" / "static" / "css").glob("*.css")
}
"""Of each style sheet the classes and ids that each of its selectors asks for."""
OPEN = {
    ":account_login",
    ":account_signup",
    ":account_reset_password",
    ":account_reset_password_done",
    ":account_reset_password_from_key",
    ":account_reset_password_from_key_done",
    ":account_confirm_email",
    ":account_inactive",
    "demo:open",
    ":health",
    ":ready",
    ":live",
    ":None",
    "today:feed",
    "people:sitter",
    "people:sitter-log",
    "people:shown",
    "people:shown-photo",
    "reviews:shown",
    ":metrics",  # with the key of the settings alone
    "device_api:api-root",  # its token opens it, no session
    "device_api:who",
    "device_api:readings",
    "device_api:readings_csv",
    "device_api:openapi-json",
    ":mfa_login_webauthn",
    ":mfa_edit_webauthn",
    ":mfa_remove_webauthn",  # looks for the key first: without an account there is none
}
ANIMALS = {
    f"animals:{name}"
    for name in (
        "page",
        "growth",
        "enclosures",
        "life-plan",
        "weigh",
        "measure",
        "delete-measurement",
        "facts",
        "depart",
        "approaches",
    )
}
WHOLE = {
    "collection:choose",
    "collection:add-animals",
    "collection:add-enclosures",
    "collection:move",
    "collection:use",
    "enclosures:list",
    "enclosures:page",
    "climate:day",
    "rooms:power",
    "substrate:substrate",
    "enclosures:request",
    "households:household",
    "households:room",
    "households:new-room",
    "calculators:list",
    "calculators:calculator",
    "animals:list",
    "animals:page",
    "animals:growth",
    "animals:enclosures",
    "animals:approaches",
    "animals:facts",
    "animals:life-plan",
    "animals:forecast",
    "help:terms",
    "species_guide:list",
    "species_guide:compare",
    "species_guide:page",
    "species_guide:import",
    "species_guide:export",
}
"""Pages that the owner sees whole, not as an answer to something typed."""
FILLED = {
    "<int:pk>": "",
    "<str:secret>": "x",
    "<slug:step>": "animal",
    "<slug:slug>": "dew-point",
    "<slug:act>": "meal",
    "<slug:paper>": "card",
    "<str:key>": "x",
}


def addresses(enclosure_pk: int, room_pk: int, animal_pk: int) -> list[tuple[str, str]]:
    """Every address of the application, filled with the key of one enclosure, room, animal or
    species.
    """
    found: list[tuple[str, str]] = []

    def walk(patterns: list[Any], prefix: str, space: str) -> None:
        for pattern in patterns:
            if isinstance(pattern, URLResolver):
                walk(
                    pattern.url_patterns, prefix + str(pattern.pattern), pattern.namespace or space
                )
            elif isinstance(pattern, URLPattern):
                route = str(pattern.pattern)
                filled = "password/new/1-abc-def/" if route.startswith("^") else route
                own = (
                    room_pk
                    if "rooms/" in route
                    else animal_pk
                    if "animals/" in route
                    else enclosure_pk
                )
                if "species/" in route:
                    filled = filled.replace("<slug:slug>", "tiliqua-scincoides")
                for part, value in FILLED.items():
                    filled = filled.replace(part, value or str(own))
                found.append((f"{space}:{pattern.name}", "/" + prefix + filled))

    walk(get_resolver().url_patterns, "", "")
    return found


@pytest.fixture
def every(pip: Enclosure) -> list[tuple[str, str]]:
    return addresses(pip.pk, pip.room_id, pip.present[0].animal_id)


def test_the_walk_finds_every_page(every: list[tuple[str, str]]) -> None:
    names = {name for name, _ in every}
    assert {
        "enclosures:page",
        "enclosures:save",
        "enclosures:calculation",
        "enclosures:request",
        "households:preferences",
        "households:room",
        "animals:life-plan",
        "species_guide:edit",
    } <= names
    assert {
        "first_setup:step",
        "calculators:calculator",
        ":account_signup",
        "enclosures:move-in",
    } <= names


@pytest.mark.parametrize("method", ["get", "post"])
def test_nobody_sees_nothing_private(every: list[tuple[str, str]], method: str) -> None:
    for name, address in every:
        response = getattr(Client(), method)(address)
        assert "Pip’s".encode() not in response.content and b"Saltmarsh" not in response.content, (
            name
        )
        if name not in OPEN:
            assert response.status_code == 302 and "/sign-in/" in response["Location"], (
                f"{name} {method}: {response.status_code}"
            )


@pytest.mark.parametrize("method", ["get", "post"])
def test_another_households_rows_are_not_found(
    every: list[tuple[str, str]], stranger: Client, method: str
) -> None:
    for name, address in every:
        if name in {":account_logout", "demo:open"}:
            continue
        response = getattr(stranger, method)(address, HTTP_HX_REQUEST="true")
        assert "Pip’s".encode() not in response.content and b"Saltmarsh" not in response.content, (
            name
        )
        if (
            ("/enclosures/" in address and name != "collection:add-enclosures")
            or name in ANIMALS | {"collection:move", "collection:delete-animal"}
            or (name != "households:new-room" and "/rooms/" in address)
        ):
            assert response.status_code in {404, 405}, f"{name} {method}: {response.status_code}"


def test_the_owner_gets_in_and_a_label_names_the_one_field_it_stands_beside(
    client: Client, every: list[tuple[str, str]]
) -> None:
    """On every page an id is there once: two forms with one id share each other's labels."""
    seen = 0
    for name, address in every:
        answer = client.get(address)
        assert name not in WHOLE or answer.status_code == 200, name
        if answer.status_code != 200 or not answer["Content-Type"].startswith("text/html"):
            continue
        html = answer.content.decode()
        ids = re.findall(r"<[a-z][^>]*?\sid=\"([^\"]+)\"", html)
        twice = {one for one in ids if ids.count(one) > 1}
        assert not twice, (name, twice)
        loaded = set(re.findall(r"/css/(\w+)\.css", html))
        marks = set(" ".join(re.findall(r"\s(?:class|id)=\"([^\"]*)\"", html)).split())
        used = {sheet for sheet, uses in STYLES.items() if any(one <= marks for one in uses)}
        assert not loaded or used <= loaded, (name, used - loaded)
        named = set(re.findall(r"<label[^>]*?\sfor=\"([^\"]+)\"", html))
        assert named <= set(ids), (name, named - set(ids))
        assert not re.findall(r"\s(?:style|on[a-z]+)=\"", html), name
        seen += 1
    assert seen > 60


def test_the_demo_opens_with_one_click_only_where_it_was_loaded(household: Household) -> None:
    browser = Client()
    assert b"Open the demo household" in browser.get("/sign-in/").content
    assert browser.post("/demo/", follow=True).context["enclosures"].rows
    with override_settings(RIDGEBACK_DEMO=False):
        assert b"Open the demo household" not in Client().get("/sign-in/").content
        assert Client().post("/demo/").status_code == 404


@override_settings(RIDGEBACK_DEMO=False)
def test_the_demo_is_not_found_where_nobody_asked_for_it(db: Any) -> None:
    assert Client().post("/demo/").status_code == 404


def test_every_answer_carries_the_strict_policy(client: Client, pip: Enclosure) -> None:
    for address in ("/", f"/enclosures/{pip.pk}/", "/sign-in/"):
        policy = client.get(address)["Content-Security-Policy"]
        assert (
            "default-src 'none'" in policy
            and "unsafe" not in policy
            and "script-src 'self'" in policy
        )


def test_no_page_has_inline_script_or_style(client: Client, pip: Enclosure) -> None:
    animal = pip.present[0].animal_id
    lives = (
        f"/animals/{animal}/",
        f"/animals/{animal}/life-plan/",
        "/coming-up/",
        "/species/",
        "/species/pogona-vitticeps/",
    )
    for address in (
        "/",
        f"/enclosures/{pip.pk}/",
        f"/enclosures/{pip.pk}/calculation/?at=/predictions/surface_day",
        *lives,
    ):
        html = client.get(address).content.decode()
        assert " style=" not in html and "<style" not in html and " onclick=" not in html
        scripts = re.findall(r"<script[^>]*>", html)
        assert all(" src=" in tag or 'type="application/json"' in tag for tag in scripts)


def test_units_and_theme_are_kept_and_a_foreign_target_is_not_followed(client: Client) -> None:
    assert (
        client.post(
            "/preferences/", {"units_temperature": "f", "next": "https://elsewhere.example/"}
        )["Location"]
        == "/"
    )
    assert (
        client.post("/preferences/", {"units_system": "us", "next": "/?x=1"})["Location"]
        == "/?x=1"
    )
    keeper = Keeper.objects.get(username="demo")
    assert (keeper.units_system, keeper.units_temperature, keeper.theme) == ("us", "f", "system")
    client.post("/preferences/", {"units_system": "parsec", "next": "/"})
    assert Keeper.objects.get(username="demo").units_system == "us"


def test_rows_hang_on_one_household(household: Household) -> None:
    assert not Enclosure.objects.of(None).exists()
    assert Enclosure.objects.of(household).count() == 4
    assert set(Room.objects.values_list("household_id", flat=True)) == {household.pk}


def test_production_settings_pass_djangos_own_check(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("SECRET_KEY", "x" * 30 + "aB3$kd90!qwertyuiopASDFGHJKL" * 2)
    monkeypatch.setenv("ALLOWED_HOSTS", "ridgeback.example")
    production = runpy.run_module("ridgeback.settings.production")
    own = {
        name: value
        for name, value in production.items()
        if name.isupper() and value != getattr(settings, name, None)
    }
    assert own["SECURE_SSL_REDIRECT"]

    with override_settings(**own):
        call_command("check", deploy=True, fail_level="WARNING")


def test_what_is_not_there_is_said_in_our_own_words(client: Client) -> None:
    response = client.get("/enclosures/999999/")
    assert response.status_code == 404 and b"no such page here" in response.content
    from django.template.loader import render_to_string

    assert "Something went wrong" in render_to_string("500.html")


def test_a_viewer_comes_by_a_link_and_not_as_a_member(
    household: Household, pip: Enclosure
) -> None:
    keeper = Keeper.objects.create_user("guest", password="a-long-passphrase")
    Membership.objects.create(household=household, keeper=keeper, role="viewer")
    browser = Client()
    browser.force_login(keeper)
    for path in (f"/enclosures/{pip.pk}/", "/"):
        assert browser.get(path)["Location"] == "/household/begin/"
    Membership.objects.filter(keeper=keeper).update(role="keeper")
    assert browser.get(f"/enclosures/{pip.pk}/").status_code == 200
