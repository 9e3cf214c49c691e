"""Thousands of bad values at every form and importer: said plainly, never a 500, nothing run,
nothing lost.
"""

import contextlib
import json
from collections.abc import Iterator
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.http import HttpResponse
from django.test import Client
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from husbandry.species.library import library
from ridgeback.animals.models import Animal
from ridgeback.calculators.catalogue import CALCULATORS
from ridgeback.enclosures.models import Enclosure, Reading, Revision
from ridgeback.households.models import Household
from tests.web.conftest import fields
from tests.web.test_first_setup import ANIMAL, walk

NASTY = [
    "",
    " ",
    "0",
    "-1",
    "1e309",
    "-1e309",
    "nan",
    "inf",
    "1,5",
    "1.5.2",
    "١٢",
    "½",
    "--",
    "°",
    "95 F",
    "900 C",
    "4 ft 3 in",
    "3 stone",
    "12 parsec",
    "🦎",
    "🦎" * 50,
    "<script>alert(1)</script>",
    '"><img src=x onerror=alert(1)>',
    "'; drop table keepers_keeper; --",
    "{{ 7*7 }}",
    "%s%n",
    "\x00",
    "a\x00b",
    "\u202e",
    "\ufeff",
    "ﷺ" * 20,
    "x" * 5000,
    "9" * 400,
    "2999-12-31",
    "0000-00-00",
    "24:61",
    "null",
    "true",
    "[]",
    "../../etc/passwd",
    "\r\n",
]
VALUE = st.one_of(
    st.sampled_from(NASTY),
    st.text(max_size=80),
    st.floats().map(str),
    st.integers().map(str),
    st.tuples(
        st.floats(-1e6, 1e6),
        st.sampled_from(["cm", "in", "m", "ft", "°F", "C", "K", "W", "g", "lb", "%", "h", "💧"]),
    ).map(lambda p: f"{p[0]:g} {p[1]}"),
    st.sampled_from(
        [
            *library(),
            "metric",
            "us",
            "c",
            "f",
            "on",
            "glass",
            "soil",
            "t5_12",
            "halogen_flood",
            "own",
            "new",
            "planned",
        ]
    ),
)
MANY = settings(
    max_examples=9,
    deadline=None,
    derandomize=True,
    phases=[Phase.generate],
    suppress_health_check=[
        HealthCheck.function_scoped_fixture,
        HealthCheck.too_slow,
        HealthCheck.data_too_large,
        HealthCheck.filter_too_much,
    ],
)


def sound(response: HttpResponse) -> None:
    """No failure of ours, and nothing of what was typed became part of the page's own code."""
    assert response.status_code < 500, response.status_code
    html = response.content.decode("utf-8", "replace")
    assert "<script>alert" not in html and "<img src=x" not in html


def mess(data: st.DataObject, names: list[str], good: dict[str, str]) -> dict[str, str]:
    """The good values with some, or all, spoiled."""
    spoiled = data.draw(
        st.lists(st.sampled_from(names), min_size=1, max_size=len(names), unique=True)
    )
    return {**good, **{name: data.draw(VALUE) for name in spoiled}}


@contextlib.contextmanager
def rolled_back() -> Iterator[None]:
    """Undo what an example saved: the next one must find the same fields to draw from."""
    with transaction.atomic():
        yield
        transaction.set_rollback(True)


@MANY
@given(data=st.data())
def test_the_layout(client: Client, pip: Enclosure, data: st.DataObject) -> None:
    with rolled_back():
        good = fields(client, pip)
        typed = mess(data, list(good), good)
        for address in ("preview/", "save/", "calculation/?at=/predictions/surface_day"):
            sound(client.post(f"/enclosures/{pip.pk}/{address}", typed))
        assert (
            pip.revisions.count() >= 1 and client.get(f"/enclosures/{pip.pk}/").status_code == 200
        )


@MANY
@given(data=st.data())
def test_readings_changes_and_moves(client: Client, pip: Enclosure, data: st.DataObject) -> None:
    good = {
        "need": "surface_day",
        "value": "38",
        "at": "2026-11-20T12:00",
        "instrument": "infrared",
        "offset": "",
        "lamp_on": "08:00",
    }
    sound(client.post(f"/enclosures/{pip.pk}/readings/", mess(data, list(good), good)))
    names = ["kind", "item", "revision", "animal", "at"]
    for address in (
        "apply/",
        "undo/",
        "built/",
        "move-in/",
        "move-out/",
        "sheet/",
        "calculation/",
    ):
        sound(client.post(f"/enclosures/{pip.pk}/{address}", mess(data, names, {})))
    sound(client.get(f"/enclosures/{pip.pk}/calculation/", {"at": data.draw(VALUE)}))


@MANY
@given(data=st.data())
def test_the_list_the_preferences_and_the_calculators(
    client: Client, pip: Enclosure, data: st.DataObject
) -> None:
    sound(client.get("/", {name: data.draw(VALUE) for name in ("query", "state", "page")}))
    sound(
        client.post(
            "/preferences/",
            {
                name: data.draw(VALUE)
                for name in ("units_system", "units_temperature", "theme", "next")
            },
        )
    )
    sound(client.get("/calculators/", {"typed": data.draw(VALUE)}))
    known = CALCULATORS[data.draw(st.sampled_from(sorted(CALCULATORS)))]
    sound(
        client.get(f"/calculators/{known.slug}/", {name: data.draw(VALUE) for name in known.asks})
    )


@MANY
@given(data=st.data())
def test_the_first_run(stranger: Client, data: st.DataObject) -> None:
    good: dict[str, dict[str, str]] = {"animal": ANIMAL, "enclosure": {}, "heat": {}}
    stranger.post("/start/discard/")
    good["heat"] = walk(stranger)
    form = stranger.get("/start/enclosure/").context["form"]
    good["enclosure"] = {bound.html_name: str(bound.value() or "") for bound in form}
    for step, known in good.items():
        typed = mess(data, list(known), known)
        sound(stranger.post(f"/start/{step}/draft/", typed))
        sound(stranger.get(f"/start/{step}/", follow=True))
        stranger.post(
            "/preferences/", {"units_system": data.draw(st.sampled_from(["us", "metric"]))}
        )
        sound(stranger.get(f"/start/{step}/", follow=True))
        sound(stranger.post(f"/start/{step}/draft/", known))
    assert all(enclosure.head_id for enclosure in Enclosure.objects.all())


@MANY
@given(data=st.data())
def test_accounts_household_and_rooms(client: Client, pip: Enclosure, data: st.DataObject) -> None:
    nobody = Client()
    sound(
        nobody.post(
            "/sign-in/", {name: data.draw(VALUE) for name in ("login", "password", "next")}
        )
    )
    sound(
        nobody.post(
            "/sign-up/",
            {name: data.draw(VALUE) for name in ("email", "password1", "first_name", "household")},
        )
    )
    sound(nobody.post("/password/forgotten/", {"email": data.draw(VALUE)}))
    sound(client.post("/household/", {"name": data.draw(VALUE)}))
    names = (
        "name",
        "time_zone",
        "latitude_deg",
        "longitude_deg",
        "day_c",
        "night_c",
        "summer_max_c",
        "rh_pct",
    )
    room = {name: data.draw(VALUE) for name in names}
    sound(client.post("/rooms/new/", room))
    sound(client.post(f"/rooms/{pip.room_id}/", room))
    assert (
        client.get(f"/enclosures/{pip.pk}/").status_code == 200 and Household.objects.count() >= 1
    )


JSON = st.recursive(
    st.one_of(st.none(), st.booleans(), st.floats(), st.integers(), VALUE),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(VALUE, inner, max_size=4),
)


def bend(data: st.DataObject, value: Any) -> Any:
    """One place of a document replaced by anything."""
    if isinstance(value, dict) and value and data.draw(st.booleans()):
        key = data.draw(st.sampled_from(sorted(value)))
        return {**value, key: bend(data, value[key])}
    if isinstance(value, list) and value and data.draw(st.booleans()):
        index = data.draw(st.integers(0, len(value) - 1))
        return [*value[:index], bend(data, value[index]), *value[index + 1 :]]
    return data.draw(JSON)


@settings(MANY, max_examples=30)
@given(data=st.data())
def test_the_importer(client: Client, pip: Enclosure, data: st.DataObject) -> None:
    good = json.loads(client.get(f"/enclosures/{pip.pk}/request.json").content)
    text = json.dumps(bend(data, good)).encode("utf-8", "surrogatepass")
    content = data.draw(st.one_of(st.just(text), st.binary(max_size=200)))
    before = Animal.objects.count(), Revision.objects.count(), Reading.objects.count()
    answer = client.post(
        "/import/",
        {
            "file": SimpleUploadedFile("x.json", content),
            "name": data.draw(VALUE),
            "room": data.draw(VALUE),
        },
    )
    sound(answer)
    if answer.status_code == 200:
        assert (
            Animal.objects.count(),
            Revision.objects.count(),
            Reading.objects.count(),
        ) == before
    else:
        sound(client.get(answer["Location"]))
        sound(client.get("/"))


@pytest.mark.parametrize("what", ["save", "apply", "undo"])
def test_two_tabs_saving_the_same_enclosure_lose_nothing(
    client: Client, pip: Enclosure, what: str
) -> None:
    first, second = (
        fields(client, pip, **{"item__lamp-1__z": text}) for text in ("40 cm", "35 cm")
    )
    assert client.post(f"/enclosures/{pip.pk}/save/", first).status_code == 302
    view = client.get(f"/enclosures/{pip.pk}/").context["view"]
    posted = {
        "save": second,
        "apply": {"change": f"{view.first.kind}/{view.first.item_id}", "revision": "1"},
        "undo": {"revision": "1"},
    }[what]
    answer = client.post(f"/enclosures/{pip.pk}/{what}/", posted, follow=True)
    html = answer.content.decode()
    assert "changed meanwhile" in html and pip.revisions.count() == 2
    if what == "save":
        assert 'value="35 cm"' in html  # what the second tab typed stays on the page
