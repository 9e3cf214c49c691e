"""The first run: three steps, drafts that outlive a browser, and what they make."""

import json
import re
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone

from husbandry.species.library import library
from ridgeback.drafts.models import Draft
from ridgeback.enclosures.models import Enclosure, Revision
from ridgeback.households.models import Household, Keeper, Room

WALKED = sorted(library())[::3]
"""A third of the species: the core judges what is suggested for a spread of all of them."""
ANIMAL = {
    "name": "Tansy",
    "species": "Eublepharis macularius",
    "sex": "female",
    "age_months": "30",
    "mass": "62",
    "length": "23 cm",
}
HALOGEN = {
    "outfit": "own",
    "heat": "halogen_flood",
    "heat_power": "50 W",
    "heat_height": "54 cm",
    "heat_set": "",
}
ENCLOSURE = {
    "name": "Tansy’s enclosure",
    "shape": "wood-120",
    "substrate": "soil",
    "substrate_depth": "6 cm",
    "room": "new",
    "room_name": "Attic",
    "room_zone": "Europe/Lisbon",
    "room_day": "21",
    "room_night": "18",
    "room_summer": "27",
    "room_rh": "50",
}


def shown(client: Client, step: str) -> dict[str, str]:
    """A step's form as the page shows it."""
    form = client.get(f"/start/{step}/").context["form"]
    values = {bound.html_name: bound.value() for bound in form}
    return {name: str(value) for name, value in values.items() if value is not None}


def walk(client: Client, **animal: str) -> dict[str, str]:
    """Through animal and enclosure; what the last step suggests."""
    assert client.post("/start/animal/", {**ANIMAL, **animal})["Location"] == "/start/enclosure/"
    form_data = shown(client, "enclosure") | {
        "room": "new",
        "room_name": "Attic",
        "room_zone": "Europe/Lisbon",
        "shape": "wood-120",
        "room_summer": "25",
    }
    assert client.post("/start/enclosure/", form_data)["Location"] == "/start/heat/"
    return shown(client, "heat")


@pytest.mark.parametrize("species", WALKED)
def test_every_species_is_walked_through_by_pressing_next(stranger: Client, species: str) -> None:
    heat = walk(stranger, species=species, mass="", length="", age_months="40")
    answer = stranger.post("/start/heat/", heat)
    assert answer.status_code == 302, answer.context["form"].errors
    enclosure = Enclosure.objects.for_planning().get(name="Tansy’s enclosure")
    assert answer["Location"] == f"/enclosures/{enclosure.pk}/"
    assert enclosure.head is not None and enclosure.head.state == Revision.State.PLANNED
    assert (
        enclosure.room.time_zone == "Europe/Lisbon"
        and enclosure.present[0].animal.species == species
    )
    assert stranger.get(answer["Location"]).status_code == 200 and not Draft.objects.exists()


@pytest.mark.parametrize(("substrate", "meant"), [("tile", "10 mm"), ("paper", "2 mm")])
def test_a_tile_is_asked_about_when_it_is_as_thick_as_a_bed(
    stranger: Client, substrate: str, meant: str
) -> None:
    stranger.post("/start/animal/", ANIMAL)
    html, doubts = asked(
        stranger, "enclosure", **{**ENCLOSURE, "substrate": substrate, "substrate_depth": "5 cm"}
    )
    assert doubts["substrate_depth"].meanings == (meant,) and f"Yes, {meant}" in html
    taken = stranger.post(
        "/start/enclosure/", {**ENCLOSURE, "substrate": substrate, "substrate_depth": meant}
    )
    assert taken["Location"] == "/start/heat/"


def test_a_small_closed_tub_is_suggested_a_mat_that_is_taken(stranger: Client) -> None:
    stranger.post("/start/animal/", {**ANIMAL, "mass": "", "length": "", "age_months": "3"})
    tub = {
        **ENCLOSURE,
        "shape": "own",
        "length": "40 cm",
        "depth": "26 cm",
        "height": "16 cm",
        "substrate_depth": "2 cm",
        "front": "acrylic",
        "walls": "acrylic",
        "lid": "acrylic",
    }
    assert stranger.post("/start/enclosure/", tub)["Location"] == "/start/heat/"
    heat = shown(stranger, "heat")
    assert heat["heat"] == "heat_mat" and heat["heat_set"] and not heat.get("heat_height")
    own = {**heat, "outfit": "own", "heat_set": ""}
    free = stranger.post("/start/heat/", own).content.decode()
    assert "A mat burns without a thermostat" in free
    assert stranger.post("/start/heat/", heat).status_code == 302
    made = Enclosure.objects.get(name="Tansy’s enclosure").head
    assert made is not None
    mat = next(item for item in made.spec["items"] if item["kind"] == "heat_mat")
    assert mat["at_m"][2] == 0 and mat["thermostat"]["probe"] == "surface"


def test_the_steps_compute_while_they_are_filled(stranger: Client) -> None:
    draft = stranger.post(
        "/start/animal/draft/", {"species": "Dryophytes cinereus", "mass": "9.5"}
    ).content.decode()
    assert (
        "American green tree frog, adult" in draft
        and "Warm air" in draft
        and "23 to 27 °C" in draft
    )
    assert "45\u00a0×\u00a045\u00a0×\u00a050 cm" in draft
    walk(stranger)
    small = stranger.post(
        "/start/enclosure/draft/",
        {**ENCLOSURE, "shape": "own", "length": "40", "depth": "30 cm", "height": "1 ft"},
    ).content.decode()
    assert "Too small" in small and "<svg" in small and 'class="drawing drawing-sheet"' in small
    heat = walk(stranger)
    cold = stranger.post(
        "/start/heat/draft/",
        {
            **heat,
            "outfit": "own",
            "heat": "halogen_flood",
            "heat_height": "54 cm",
            "heat_power": "50",
            "heat_set": "",
        },
    ).content.decode()
    assert "predicted" in cold and "What would help" in cold, (
        re.findall(r'role="alert">(.*?)<', cold) or cold[:1500]
    )


def test_the_suggestion_is_right_for_its_species(stranger: Client) -> None:
    """Taken as it is, nothing is out of range; lamps, hides and how it is kept damp are told."""
    heat = walk(stranger)
    context = stranger.get("/start/heat/").context
    view = context["view"]
    parts = " ".join(f"{part.name} {part.how}" for part in context["parts"])
    assert view.first.direction == "right" and view.size.enough and not view.dangers
    assert {need.direction for need in view.needs if need.direction} <= {"right"}
    assert heat["outfit"] == "suggested" and "W" in parts and "hides" in parts
    assert "thermostat at" in parts and "kept dry" in parts


def test_a_suggestion_for_another_enclosure_is_refused(stranger: Client) -> None:
    heat = walk(stranger)
    other = {**heat, "suggestion": heat["suggestion"].replace("1.17", "1.27")}
    refused = stranger.post("/start/heat/", other)
    assert refused.status_code == 200 and "another size" in refused.content.decode()
    for bad in ("", "{", "[]", '{"enclosure": 1, "items": 2}'):
        answer = stranger.post("/start/heat/", {**heat, "suggestion": bad})
        assert answer.status_code == 200 and 'role="alert"' in answer.content.decode(), bad


def test_a_draft_is_found_from_another_browser_and_in_other_units(stranger: Client) -> None:
    stranger.post("/start/animal/draft/", {**ANIMAL, "mass": "62", "length": "23"})
    keeper = Keeper.objects.get(username="stranger")
    other = Client()
    other.force_login(keeper)
    assert other.get("/start/")["Location"] == "/start/animal/"
    assert shown(other, "animal")["length"] == "23" and shown(other, "animal")["name"] == "Tansy"
    other.post("/preferences/", {"units_system": "us"})
    assert (
        shown(other, "animal")["length"] == "9.1 in" and shown(other, "animal")["mass"] == "62 g"
    )


def test_a_draft_belongs_to_its_keeper(stranger: Client, client: Client) -> None:
    stranger.post("/start/animal/draft/", ANIMAL)
    assert shown(client, "animal").get("name", "") == ""


def test_a_step_cannot_be_reached_before_the_ones_it_needs(stranger: Client) -> None:
    assert stranger.get("/start/heat/")["Location"] == "/start/"
    assert stranger.post("/start/enclosure/draft/", ENCLOSURE).status_code == 204
    assert stranger.get("/start/elsewhere/").status_code == 404


def test_a_suggestion_follows_the_enclosure_until_something_is_typed(stranger: Client) -> None:
    before = walk(stranger)
    form_data = shown(stranger, "enclosure") | {"shape": "wood-240"}
    stranger.post("/start/enclosure/", form_data)
    wider = shown(stranger, "heat")
    assert wider["heat_height"] != before["heat_height"]
    stranger.post("/start/heat/draft/", {**wider, "heat_power": "150 W"})
    stranger.post("/start/enclosure/", {**form_data, "shape": "wood-180"})
    assert shown(stranger, "heat")["heat_power"] == "150 W"


def test_a_draft_is_thrown_away_or_begun_again(stranger: Client) -> None:
    walk(stranger)
    typed = {**shown(stranger, "heat"), "heat_power": "150 W"}
    stranger.post("/start/heat/draft/", typed)
    assert shown(stranger, "heat")["heat_power"] == "150 W"
    stranger.post("/start/heat/suggest/")
    assert shown(stranger, "heat")["heat_power"] != "150 W"
    stranger.post("/start/discard/")
    assert not Draft.objects.exists() and shown(stranger, "animal").get("name", "") == ""


@pytest.mark.parametrize(
    ("step", "field", "value", "said"),
    [
        ("animal", "name", "", "required"),
        ("animal", "species", "Draco volans", "valid choice"),
        ("animal", "born_on", "2999-01-01", "still to come"),
        ("animal", "mass", "heavy", "number"),
        ("animal", "mass", "62 cm", "cm"),
        ("animal", "length", "99 m", ""),
        ("animal", "age_months", "-4", "greater than or equal to 0"),
        ("enclosure", "length", "", "choose a shape"),
        ("enclosure", "length", "1200 m", ""),
        ("enclosure", "substrate_depth", "55 cm", "leaves too little"),
        ("enclosure", "room_name", "", "needs a name"),
        ("enclosure", "room_zone", "Mars/Olympus", "not a time zone"),
        ("enclosure", "room_day", "72", "°F"),
        ("heat", "heat_height", "", "choose “none”"),
        ("heat", "heat_height", "3 m", "solid lid"),
        ("heat", "uv_length", "2 m", "does not fit"),
        ("heat", "uv_height", "2 cm", "in the substrate"),
        ("heat", "stone_length", "3 m", "larger than the enclosure"),
        ("heat", "on", "half past", "valid time"),
        ("heat", "night_power", "x" * 400, "60"),
    ],
)
def test_what_is_wrong_is_said_beside_its_field_and_stays(
    stranger: Client, step: str, field: str, value: str, said: str
) -> None:
    heat = walk(stranger) if step == "heat" else {}
    if step == "enclosure":
        stranger.post("/start/animal/", ANIMAL)
    forms = {
        "animal": ANIMAL,
        "heat": {
            **heat,
            **HALOGEN,
            "stone": "slate",
            "stone_length": "30 cm",
            "stone_depth": "20 cm",
            "stone_height": "3 cm",
            "night": "ceramic_emitter",
            "night_power": "60 W",
            "night_set": "20 C",
            "uv": "t5_6",
            "uv_length": "55 cm",
            "uv_height": "50 cm",
        },
        "enclosure": {
            **ENCLOSURE,
            "shape": "own",
            "length": "1.2 m",
            "depth": "60",
            "height": "60",
            "front": "glass",
            "walls": "wood",
            "lid": "wood",
            "mesh": "",
        },
    }
    response = stranger.post(f"/start/{step}/", {**forms[step], field: value})
    if response.status_code == 302:  # the enclosure's substrate is judged with the whole
        response = stranger.post(f"/start/{step}/draft/", {**forms[step], field: value})
    html = response.content.decode()
    assert response.status_code == 200 and 'role="alert"' in html and said in html
    assert shown(stranger, step)[field] == value[:300]
    own = Household.objects.get(name="Elsewhere")
    assert not own.animals.exists() and not own.enclosures.exists()


def test_names_that_were_taken_meanwhile_lose_nothing(stranger: Client) -> None:
    heat = walk(stranger)
    household = Household.objects.get(name="Elsewhere")
    Room.objects.create(
        household=household, name="Attic", day_c=20, night_c=18, summer_max_c=25, rh_pct=50
    )
    answer = stranger.post("/start/heat/", heat)
    assert answer.status_code in {200, 302} and Draft.objects.exists()
    assert not household.animals.exists()


def test_a_planned_enclosure_is_built_once(stranger: Client) -> None:
    heat = walk(stranger)
    page = stranger.post("/start/heat/", heat)["Location"]
    html = stranger.get(page).content.decode()
    assert "planned" in html and "Mark as built" in html
    assert (
        "Built." in stranger.post(f"{page}built/", {"revision": "1"}, follow=True).content.decode()
    )
    enclosure = Enclosure.objects.get(name="Tansy’s enclosure")
    assert [r.state for r in enclosure.revisions.all()] == ["planned", "built"]
    assert (
        "changed meanwhile"
        in stranger.post(f"{page}built/", {"revision": "1"}, follow=True).content.decode()
    )


def test_a_change_to_a_planned_enclosure_leaves_it_planned(stranger: Client) -> None:
    heat: dict[str, Any] = walk(stranger)
    page = stranger.post("/start/heat/", {**heat, **HALOGEN, "heat_power": "35 W"})["Location"]
    view = stranger.get(page).context["view"]
    first = view.changes[0]
    stranger.post(f"{page}apply/", {"change": f"{first.kind}/{first.item_id}", "revision": "1"})
    enclosure = Enclosure.objects.select_related("head").get(name="Tansy’s enclosure")
    assert enclosure.head is not None and (enclosure.head.number, enclosure.head.state) == (
        2,
        "planned",
    )
    assert timezone.now() > enclosure.head.made_at


def test_the_numbers_of_a_step_say_what_they_rest_on(stranger: Client) -> None:
    animal = stranger.post(
        "/start/animal/draft/", {"species": "Dryophytes cinereus"}
    ).content.decode()
    assert (
        "Where these numbers come from" in animal
        and "Wright" in animal
        and "body lengths" in animal
    )
    walk(stranger)
    assert "network of heat flows" in stranger.get("/start/heat/").content.decode()


# --- drafts that overtake each other --------------------------------------------------------------


def page_of(client: Client, step: str) -> dict[str, str]:
    """A step as its page sends it, with the page's key and count."""
    values = shown(client, step)
    assert values["form_key"]
    return values


def test_a_draft_that_arrives_after_the_submit_changes_nothing(stranger: Client) -> None:
    page = {**page_of(stranger, "animal"), **ANIMAL}
    assert (
        stranger.post("/start/animal/", {**page, "draft_seq": "9", "mass": "62"}).status_code
        == 302
    )
    late = stranger.post("/start/animal/draft/", {**page, "draft_seq": "8", "mass": "50"})
    assert late.status_code == 204
    assert Draft.objects.get().data["animal"]["fields"]["mass"] == "62"


def test_an_older_draft_never_replaces_a_newer_one(stranger: Client) -> None:
    page = {**page_of(stranger, "animal"), **ANIMAL}
    newer = stranger.post("/start/animal/draft/", {**page, "draft_seq": "7", "mass": "62"})
    older = stranger.post("/start/animal/draft/", {**page, "draft_seq": "6", "mass": "6"})
    assert (newer.status_code, older.status_code) == (200, 204)
    assert Draft.objects.get().data["animal"]["fields"]["mass"] == "62"
    again = stranger.post("/start/animal/draft/", {**page, "draft_seq": "7", "mass": "63"})
    assert again.status_code == 200


def test_a_draft_after_the_last_step_is_no_new_draft(stranger: Client) -> None:
    heat = walk(stranger)
    assert stranger.post("/start/heat/", heat).status_code == 302
    late = stranger.post("/start/heat/draft/", heat)
    assert late.status_code == 204 and not Draft.objects.exists()


def test_a_step_that_was_refused_is_drafted_on(stranger: Client) -> None:
    page = {**page_of(stranger, "animal"), **ANIMAL}
    refused = stranger.post("/start/animal/", {**page, "mass": "heavy"})
    assert refused.status_code == 200
    fresh = {bound.html_name: str(bound.value() or "") for bound in refused.context["form"]}
    assert fresh["form_key"] != page["form_key"] and fresh["mass"] == "heavy"
    assert (
        stranger.post(
            "/start/animal/draft/", {**fresh, "mass": "64", "draft_seq": "1"}
        ).status_code
        == 200
    )
    assert Draft.objects.get().data["animal"]["fields"]["mass"] == "64"


def test_a_deleted_draft_stays_deleted(stranger: Client) -> None:
    page = {**page_of(stranger, "animal"), **ANIMAL}
    stranger.post("/start/animal/draft/", page)
    stranger.post("/start/discard/", {"form_key": page["form_key"]})
    assert stranger.post("/start/animal/draft/", page).status_code == 204
    assert not Draft.objects.exists()


def test_a_new_room_takes_its_place_from_its_zone(stranger: Client) -> None:
    """Latitude was 0, and a keeper in Auckland was told of a winter in December."""
    assert stranger.post("/start/animal/", ANIMAL).status_code == 302
    form_data = shown(stranger, "enclosure") | {**ENCLOSURE, "room_zone": "Pacific/Auckland"}
    panel = stranger.post("/start/enclosure/draft/", form_data).content.decode()
    assert "Left empty: -36.87°, as for the time zone." in panel
    assert stranger.post("/start/enclosure/", form_data).status_code == 302
    stranger.post("/start/heat/", shown(stranger, "heat"))
    room = Room.objects.get(name="Attic")
    assert (room.latitude_deg, room.longitude_deg) == (-36.87, 174.77)


def test_a_place_that_is_typed_stands(stranger: Client) -> None:
    assert stranger.post("/start/animal/", ANIMAL).status_code == 302
    form_data = shown(stranger, "enclosure") | {
        **ENCLOSURE,
        "room_latitude": "-41.3",
        "room_longitude": "174.8",
    }
    assert stranger.post("/start/enclosure/", form_data).status_code == 302
    stranger.post("/start/heat/", shown(stranger, "heat"))
    room = Room.objects.get(name="Attic")
    assert (room.latitude_deg, room.longitude_deg) == (-41.3, 174.8)
    wrong = stranger.post("/start/animal/", ANIMAL) and stranger.post(
        "/start/enclosure/", {**form_data, "name": "B", "room_name": "C", "room_latitude": "91"}
    )
    assert "less than or equal to 90" in wrong.content.decode()


# --- bodies that cannot be, and what is meant -----------------------------------------------------


def asked(client: Client, step: str, **typed: str) -> tuple[str, dict[str, Any]]:
    """The question that a step asks, as a page and as its doubts by field."""
    answer = client.post(f"/start/{step}/", typed)
    assert answer.status_code == 200, answer.get("Location")
    return answer.content.decode(), answer.context["form"].asked


@pytest.mark.parametrize(
    ("species", "field", "typed", "meant"),
    [
        ("Eublepharis macularius", "mass", "60 kg", "60 g"),
        ("Correlophus ciliatus", "mass", "45 kg", "45 g"),
        ("Boa imperator", "mass", "15", "15 lb"),
        ("Python regius", "mass", "1.5", "1.5 kg"),
        ("Correlophus ciliatus", "length", "200 in", "200 mm"),
        ("Tiliqua scincoides", "length", "48 mm", "48 cm"),
    ],
)
def test_a_body_that_cannot_be_is_asked_about_with_one_log_request(
    stranger: Client, species: str, field: str, typed: str, meant: str
) -> None:
    facts = {
        **ANIMAL,
        "species": species,
        "mass": "",
        "length": "",
        "age_months": "",
        field: typed,
    }
    html, doubts = asked(stranger, "animal", **facts)
    assert field in doubts
    if doubts[field].meanings:
        assert all(f'value="{meaning}"' in html for meaning in doubts[field].meanings)
        assert meant in doubts[field].meanings
    assert f'name="confirm_{field}"' in html


@pytest.mark.parametrize("length", ["-273.15", "-9", "0", "1e308", "20 km"])
def test_a_length_that_nothing_has_is_refused_beside_a_mass(stranger: Client, length: str) -> None:
    """A negative one once raised a power to a complex mass, and the page was gone."""
    facts = {**ANIMAL, "mass": "60 g", "length": length, "age_months": ""}
    for confirmed in ("", length):
        answer = stranger.post("/start/animal/", {**facts, "confirm_length": confirmed})
        assert answer.status_code == 200
        assert answer.context["form"].errors.keys() == {"length"}
    assert stranger.post("/start/animal/draft/", facts).status_code < 400


def test_an_answer_is_taken(stranger: Client) -> None:
    facts = {**ANIMAL, "mass": "200 g", "length": "", "age_months": ""}
    _, doubts = asked(stranger, "animal", **facts)
    assert "mass" in doubts
    assert stranger.post("/start/animal/", {**facts, "confirm_mass": "200 g"}).status_code == 302


def test_an_answer_to_another_number_is_none(stranger: Client) -> None:
    facts = {**ANIMAL, "mass": "60 kg", "length": "", "confirm_mass": "60 g"}
    _, doubts = asked(stranger, "animal", **facts)
    assert "mass" in doubts


def test_the_kind_of_length_is_asked_and_converted(stranger: Client) -> None:
    """20 cm from snout to tail tip were stored as snout to vent: an enclosure of 90 x 90 x 110 cm."""
    facts = {
        **ANIMAL,
        "species": "Correlophus ciliatus",
        "mass": "",
        "age_months": "",
        "length": "20 cm",
    }
    html, doubts = asked(stranger, "animal", **facts)
    assert (
        "from snout to vent, not from snout to tail tip" in html.replace("&#x27;", "'")
        or doubts["length"].meant_as
    )
    panel = stranger.post(
        "/start/animal/draft/", {**facts, "length_kind": "total"}
    ).content.decode()
    assert "converted by the proportion of its species" in panel and "from snout to vent" in panel
    assert stranger.post("/start/animal/", {**facts, "length_kind": "total"}).status_code == 302
    draft = stranger.get("/start/enclosure/").context["kind"]
    assert draft.body.length.how == "converted" and 0.1 < draft.body.length.value / 1000 < 0.11
    assert max(side.needed_m for side in draft.size.sides) < 0.95


def test_a_tortoise_has_no_tail_tip(stranger: Client) -> None:
    facts = {
        **ANIMAL,
        "species": "Testudo hermanni",
        "mass": "",
        "age_months": "",
        "length": "12.7 cm",
        "length_kind": "total",
    }
    html, _ = asked(stranger, "animal", **facts)
    assert "along the shell" in html


def test_a_mass_follows_from_a_length(stranger: Client) -> None:
    facts = {
        **ANIMAL,
        "species": "Testudo hermanni",
        "mass": "",
        "age_months": "",
        "length": "12.7 cm",
    }
    assert stranger.post("/start/animal/", facts).status_code == 302
    body = stranger.get("/start/enclosure/").context["kind"].body
    assert body.mass.how == "estimated" and 330 < body.mass.value < 620


@pytest.mark.parametrize(("typed", "meant"), [("90", "90 °F"), ("88 C", "88 °F"), ("95", "95 °F")])
def test_a_thermostat_in_the_other_unit_is_asked_about(
    stranger: Client, typed: str, meant: str
) -> None:
    """It answered with a sentence of the validation library."""
    heat = walk(stranger)
    html, doubts = asked(stranger, "heat", **{**heat, **HALOGEN, "heat_set": typed})
    assert doubts["heat_set"].meant_as == meant
    assert f"Yes, {meant}" in html and "less than or equal" not in html
    celsius = {"90 °F": "32 °C", "88 °F": "31 °C", "95 °F": "35 °C"}[meant]
    assert celsius in doubts["heat_set"].sentence


def test_what_a_keeper_has_is_read_used_and_named(stranger: Client) -> None:
    animal = {**ANIMAL, "species": "Lampropeltis californiae", "mass": "", "length": ""}
    stranger.post("/start/animal/", {**animal, "age_months": "60"})
    typed = {**ENCLOSURE, "owned": "50 W halogen flood, blue thing, T5 60 cm"}
    refused = stranger.post("/start/enclosure/", typed)
    errors = refused.context["form"].errors
    assert refused.status_code == 200 and list(errors) == ["owned"]
    assert "“blue thing” is no lamp or heater" in errors["owned"][0]
    assert "lacks its strength" in errors["owned"][0]
    assert "50 W halogen flood, blue thing" in refused.content.decode()
    typed["owned"] = "50 W halogen flood, T5 14 % 54 W"
    assert stranger.post("/start/enclosure/", typed)["Location"] == "/start/heat/"
    page = stranger.get("/start/heat/")
    said = {words: used for words, used, _ in page.context["owned"]}
    assert said == {"50 W halogen flood": True, "T5 14 % 54 W": False}
    assert "Of what you have" in page.content.decode()
    heat = shown(stranger, "heat")
    assert stranger.post("/start/heat/", heat).status_code == 302
    made = Enclosure.objects.for_planning().get(name="Tansy’s enclosure")
    assert made.head is not None
    kinds = {(item["kind"], item.get("power_w")) for item in made.head.spec["items"]}
    assert ("halogen_flood", 50.0) in kinds


def test_what_is_kept_of_it_may_be_of_any_shape(stranger: Client) -> None:
    heat = walk(stranger)
    bent = json.loads(heat["suggestion"]) | {"owned": [["one"], 3, {"a": 1}, ["x", 1, None]]}
    answer = stranger.post("/start/heat/draft/", heat | {"suggestion": json.dumps(bent)})
    assert answer.status_code < 500
    assert stranger.get("/start/heat/").status_code == 200
