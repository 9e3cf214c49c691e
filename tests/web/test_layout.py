"""What the layout editor is asked and answers, without a browser."""

import json
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone

from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.layout.questions import sealed


def asked(enclosure: Enclosure, **more: Any) -> dict[str, Any]:
    assert enclosure.head is not None
    state = json.loads(
        json.dumps(
            {"enclosure": enclosure.head.spec["enclosure"], "items": enclosure.head.spec["items"]}
        )
    )
    return {
        "seal": sealed(enclosure, timezone.now()),
        "state": state,
        "chosen": "",
        "hour": None,
        **more,
    }


def post(client: Client, enclosure: Enclosure, part: str, data: Any, **headers: str) -> Any:
    text = data if isinstance(data, str) else json.dumps(data)
    return client.post(
        f"/enclosures/{enclosure.pk}/layout/{part}/",
        text,
        content_type="application/json",
        headers=headers,
    )


def test_a_step_draws_the_enclosure_and_says_the_same_as_its_page(
    client: Client, pip: Enclosure
) -> None:
    told = post(client, pip, "step", asked(pip)).json()
    assert told["sound"] and told["problems"] == [] and 'data-item="lamp-1"' in told["shapes"]
    page = client.get(f"/enclosures/{pip.pk}/").context["view"]
    assert page.first.problem == "Surface 5.2 too low" and "5.2 too low" in told["needs"]


def test_a_step_reads_no_row_of_the_enclosure(
    client: Client, pip: Enclosure, django_assert_max_num_queries: Any
) -> None:
    data = asked(pip)
    with django_assert_max_num_queries(4):  # session, keeper, household
        assert post(client, pip, "step", data).status_code == 200


def test_what_is_tried_is_told_by_the_readings_of_the_kept_enclosure_and_not_judged_by_them(
    client: Client, pip: Enclosure
) -> None:
    data = asked(pip)
    data["state"]["items"][0]["at_m"][2] = 0.4
    told = post(client, pip, "step", data).json()
    pip.readings.all().delete()
    unread = Enclosure.objects.for_planning().get(pk=pip.pk)
    plain = post(client, pip, "step", {**data, "seal": sealed(unread, timezone.now())}).json()

    def half(found: dict[str, Any]) -> float:
        return float(found["needs"].split("±")[1].split("<")[0])

    assert "predicted" in told["needs"] and half(told) < 0.6 * half(plain)


@pytest.mark.parametrize(
    ("bend", "item", "words"),
    [
        (lambda s: s["items"][0].update(power_w=0), "lamp-1", "more than 0"),
        (lambda s: s["items"][0].update(power_w=10_000), "lamp-1", "2000"),
        (lambda s: s["items"][0].update(at_m=[9.0, 0.2, 0.4]), "lamp-1", "outside the enclosure"),
        (lambda s: s["items"][0].update(at_m=[0.24, 0.25, 0.01]), "lamp-1", "substrate"),
        (lambda s: s["items"][0].update(at_m=[0.24, 0.25, 0.08]), "lamp-1", "stone"),
        (lambda s: s["items"][1].update(length_m=1.9), "tube-1", "does not fit"),
        (lambda s: s["items"].append({**s["items"][0]}), "lamp-1", "twice"),
    ],
)
def test_what_cannot_be_is_marked_and_nothing_is_predicted(
    client: Client, pip: Enclosure, bend: Any, item: str, words: str
) -> None:
    data = asked(pip)
    bend(data["state"])
    told = post(client, pip, "step", data).json()
    assert not told["sound"] and "shapes" not in told and "needs" not in told
    assert any(
        problem["item"] == item and words in problem["text"] and problem["stops"]
        for problem in told["problems"]
    )
    assert post(client, pip, "changes", data).json() == {"html": "", "states": []}
    kept = post(client, pip, "save", data, **{"X-Revision": "1"})
    assert kept.status_code == 422 and "marked" in kept.json()["why"]


def test_two_items_in_one_place_are_marked_and_still_planned(
    client: Client, pip: Enclosure
) -> None:
    data = asked(pip)
    hides = [t for t in data["state"]["items"] if t["kind"] == "hide"]
    hides[1]["at_m"] = hides[0]["at_m"]
    told = post(client, pip, "step", data).json()
    assert (
        told["sound"]
        and [p["item"] for p in told["problems"]] == [hides[1]["id"]]
        and "one place" in told["problems"][0]["text"]
    )
    assert not told["problems"][0]["stops"]


@pytest.mark.parametrize(
    ("kind", "path", "text", "said"),
    [
        ("dish", "size_m/0", "2 m", "longer than the floor"),
        ("dish", "size_m/2", "90 cm", "higher than the enclosure"),
        ("hide", "size_m/1", "1 m", "deeper than the floor"),
    ],
)
def test_what_no_enclosure_holds_is_said_at_its_field_and_at_its_item(
    client: Client, pip: Enclosure, kind: str, path: str, text: str, said: str
) -> None:
    data = asked(pip)
    item = next(t for t in data["state"]["items"] if t["kind"] == kind)
    told = post(
        client,
        pip,
        "step",
        {**data, "chosen": item["id"], "typed": {"item": item["id"], "path": path, "text": text}},
    ).json()
    assert (
        not told["sound"]
        and told["problems"][0]["item"] == item["id"]
        and said in told["problems"][0]["text"]
    )
    assert told["problems"][0]["text"].startswith(("Water dish: ", "Hide: "))
    field = told["panel"].split(f'data-path="{path}"')[1].split("</div>")[0]
    assert (
        'aria-invalid="true"' in field
        and said in field
        and told["panel"].count("aria-invalid") == 1
    )


def test_typed_numbers_are_read_by_quantity(client: Client, pip: Enclosure) -> None:
    def typed(path: str, text: str, item: str = "lamp-1") -> dict[str, Any]:
        found: dict[str, Any] = post(
            client,
            pip,
            "step",
            asked(pip, chosen=item, typed={"item": item, "path": path, "text": text}),
        ).json()
        return found

    assert typed("at_m/2", "14 in")["state"]["items"][0]["at_m"][2] == pytest.approx(0.3556)
    assert typed("thermostat/set_c", "104 °F")["state"]["items"][0]["thermostat"]["set_c"] == 40
    assert "thermostat" not in typed("thermostat/set_c", "")["state"]["items"][0]
    assert typed("length_m", "80 cm", "tube-1")["state"]["items"][1]["length_m"] in {0.55, 0.85}
    wrong = typed("at_m/2", "14 apples")
    assert "apples" in wrong["typed_wrong"] and wrong["state"]["items"][0]["at_m"][2] == 0.5


@pytest.mark.parametrize(
    "text",
    [
        "",
        "null",
        "[]",
        "{",
        '{"state": 3}',
        '{"state": {}}',
        '{"seal": "x", "state": {"enclosure": {}}}',
        "[" * 5000,
    ],
)
def test_without_a_seal_there_is_no_such_enclosure(
    client: Client, pip: Enclosure, text: str
) -> None:
    for part in ("step", "changes", "save"):
        assert post(client, pip, part, text).status_code == 404


@pytest.mark.parametrize(
    "more",
    [
        {"state": 3},
        {"state": None},
        {"typed": {"item": "nobody"}},
        {"typed": {"item": "lamp-1", "path": "id"}},
    ],
)
def test_what_is_no_question_is_refused(
    client: Client, pip: Enclosure, more: dict[str, Any]
) -> None:
    for part in ("step", "changes", "save"):
        assert post(client, pip, part, asked(pip, **more)).status_code == 400


def test_a_seal_is_of_one_household_and_one_enclosure(
    client: Client, stranger: Client, pip: Enclosure, household: Household
) -> None:
    data = asked(pip)
    assert post(stranger, pip, "step", data).status_code == 404
    assert post(stranger, pip, "save", data).status_code == 404
    other = household.enclosures.exclude(pk=pip.pk).get(name="Fathom’s enclosure")
    assert post(client, other, "step", data).status_code == 404
    assert stranger.get(f"/enclosures/{pip.pk}/layout/").status_code == 404
    assert post(client, pip, "step", {**data, "seal": data["seal"] + "x"}).status_code == 404


def test_the_changes_lead_to_states_that_are_sound(client: Client, pip: Enclosure) -> None:
    told = post(client, pip, "changes", asked(pip)).json()
    assert told["html"].count("<li>") == len(told["states"]) >= 3
    for state in told["states"]:
        assert post(client, pip, "step", asked(pip, state=state)).json()["sound"]


def test_keeping_makes_a_revision_once_and_only_over_the_one_that_was_seen(
    client: Client, pip: Enclosure
) -> None:
    data = asked(pip)
    data["state"]["items"][0]["at_m"][2] = 0.41
    assert post(client, pip, "save", data, **{"X-Revision": "1"}).json()["kept"]
    late = post(client, pip, "save", data, **{"X-Revision": "1"})
    assert late.status_code == 409 and "Somebody changed" in late.json()["why"]
    now = Enclosure.objects.for_planning().get(pk=pip.pk)
    assert (
        now.head is not None
        and now.head.number == 2
        and now.head.spec["items"][0]["at_m"][2] == 0.41
    )


def test_an_hour_of_the_night_is_dark_and_cool(client: Client, pip: Enclosure) -> None:
    night = post(client, pip, "step", asked(pip, hour=3)).json()
    noon = post(client, pip, "step", asked(pip, hour=14.5)).json()
    assert (
        night["moment"].startswith("03:00: surface 1")
        and "UVI 0.0" in night["moment"]
        and "14:30" in noon["moment"]
    )
    assert "UVI 3" in noon["shapes"] and "UVI 3" not in night["shapes"]


def test_everything_in_the_catalogue_can_be_put_in(client: Client, pip: Enclosure) -> None:
    groups = client.get(f"/enclosures/{pip.pk}/layout/").context["catalogue"]
    items = [element for group in groups for element in group["items"]]
    assert len(items) >= 15
    for element in items:
        data = asked(pip)
        data["state"]["items"].append({**element["item"], "id": "new-1"})
        assert post(client, pip, "step", data).json()["sound"], element["label"]


PROBED = {"id": "probe-1", "kind": "probe", "at_m": [0.24, 0.25, 0.08]}


def with_probe(pip: Enclosure, **held: Any) -> dict[str, Any]:
    data = asked(pip)
    data["state"]["items"].append(dict(PROBED))
    if held:
        data["state"]["items"][0]["thermostat"] = {"set_c": 30, **held}
    return data


def test_a_probe_is_drawn_with_what_it_feels_and_chosen_at_a_heater(
    client: Client, pip: Enclosure
) -> None:
    data = with_probe(pip, probe="surface")
    told = post(client, pip, "step", {**data, "chosen": "probe-1"}).json()
    assert (
        'data-item="probe-1"' in told["shapes"]
        and "It feels" in told["panel"]
        and "No thermostat holds it yet" in told["panel"]
    )
    panel = post(client, pip, "step", {**data, "chosen": "lamp-1"}).json()["panel"]
    assert (
        "<select" in panel and "probe 1, where it is placed" in panel and "of its power" in panel
    )
    typed = {"item": "lamp-1", "path": "thermostat/probe", "text": "at probe-1"}
    chosen = post(client, pip, "step", {**data, "chosen": "lamp-1", "typed": typed}).json()
    assert chosen["sound"] and chosen["state"]["items"][0]["thermostat"]["probe_id"] == "probe-1"
    held = post(
        client, pip, "step", {**data, "state": chosen["state"], "chosen": "probe-1"}
    ).json()
    assert "It holds the halogen flood" in held["panel"] and "30.0 °C by day" in held["panel"]
    none = post(
        client, pip, "step", {**data, "chosen": "lamp-1", "typed": {**typed, "text": ""}}
    ).json()
    assert none["state"]["items"][0]["thermostat"] is None
    wrong = post(
        client,
        pip,
        "step",
        {**data, "chosen": "lamp-1", "typed": {**typed, "text": "at the moon"}},
    ).json()
    assert wrong["typed_wrong"] == "That is none of the choices."


def test_a_thermostat_whose_probe_is_gone_is_marked(client: Client, pip: Enclosure) -> None:
    data = with_probe(pip, probe="placed", probe_id="probe-1")
    data["state"]["items"].pop()
    told = post(client, pip, "step", data).json()
    assert (
        not told["sound"]
        and told["problems"][0]["item"] == "lamp-1"
        and "no probe" in told["problems"][0]["text"]
    )


def test_a_plant_says_what_light_it_gets(client: Client, pip: Enclosure) -> None:
    data = asked(pip, chosen="plant-1")
    data["state"]["items"].append(
        {"id": "plant-1", "kind": "plant", "at_m": [0.75, 0.2, 0.05], "size_m": [0.15, 0.15, 0.2]}
    )
    told = post(client, pip, "step", data).json()
    assert "mol/m² of light a day" in told["panel"] and 'class="plant"' in told["shapes"]


def test_lines_of_brightness_come_only_when_asked_for(client: Client, pip: Enclosure) -> None:
    plain, lit = (
        post(client, pip, "step", asked(pip, **more)).json() for more in ({}, {"light": True})
    )
    assert "lux-line" not in plain["shapes"] and plain["fields"]["lux"] == []
    assert "lux-line" in lit["shapes"] and max(map(max, lit["fields"]["lux"])) > 1000
