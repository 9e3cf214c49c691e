"""The species guide: found, filtered, compared, weighed up; and values of a household's own."""

import io
import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.utils import timezone

from husbandry.species.library import find, library
from husbandry.species.needs import NeedKey
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.species_guide.models import ProfileEdits

SKINK = "/species/tiliqua-scincoides/"


def names(client: Client, **asked: str) -> list[str]:
    return [row.name for row in client.get("/species/", asked).context["rows"]]


def surface_at() -> str:
    needs = find("Tiliqua scincoides").needs
    return next(
        f"/needs/{n}/low" for n, need in enumerate(needs) if need.need is NeedKey.SURFACE_DAY
    )


@pytest.mark.parametrize(
    ("query", "first"),
    [
        ("pogona", "central bearded dragon"),
        ("berded dragon", "central bearded dragon"),
        ("axlotl", "axolotl"),
        ("hermans tortoise", "Hermann's tortoise"),
        ("Ball Python", "ball python"),
        ("spiny tailed", "Mali spiny-tailed lizard"),
        ("mastigure", "ornate spiny-tailed lizard"),
        ("steppe tortoise", "Russian tortoise"),
        ("pacman frog", "ornate horned frog"),
    ],
)
def test_a_species_is_found_spelled_well_or_badly(client: Client, query: str, first: str) -> None:
    assert names(client, query=query)[0] == first


def test_every_species_is_shown_and_nonsense_is_said(client: Client) -> None:
    listed = [name for page in "123" for name in names(client, page=page)]
    assert len(set(listed)) == len(listed) == len(library()) >= 55
    html = client.get("/species/", {"query": "zzqqy"}).content.decode()
    assert "No species matches" in html
    assert client.get("/species/", {"query": "%' or 1=1 --\x00"}).status_code == 200


def test_what_a_household_can_give_narrows_it_and_says_why(client: Client) -> None:
    small = client.get(
        "/species/", {"length": "60 cm", "depth": "50 cm", "height": "70 cm", "prey": "on"}
    )
    shown = {row.name for row in small.context["rows"]}
    assert (
        "crested gecko" in shown
        and "reticulated python" not in shown
        and "ball python" not in shown
    )
    why = {row.name: row.why_not for row in small.context["against"]}
    assert (
        "needs more space" in why["reticulated python"]
        and "eats whole prey" in why["reticulated python"]
    )
    assert all(find_level(name) == "first animal" for name in names(client, first="on"))
    assert "axolotl" not in names(client, hottest="30 °C")


def find_level(name: str) -> str:
    return next(profile.keeper.level for profile in library().values() if profile.name == name)


def test_a_wrong_size_is_said_beside_its_field_and_stays(client: Client) -> None:
    html = client.get("/species/", {"length": "wide", "power": "100 W"}).content.decode()
    assert "cannot be read" in html and 'value="wide"' in html and 'value="100 W"' in html


@pytest.mark.parametrize("slug", [profile.slug for profile in library().values()])
def test_every_species_page_shows_every_value_with_its_origin(client: Client, slug: str) -> None:
    response = client.get(f"/species/{slug}/")
    html = response.content.decode()
    assert "Is this species right for me?" in html and "not yet verified" in html
    values = [value for _, _, section in response.context["view"].sections for value in section]
    profile = response.context["profile"]
    assert len(values) == len(
        [path for path, _ in profile.walk() if not path.startswith("/explains")]
    )
    assert all(value.origins for value in values)


def test_the_answer_takes_the_keepers_age_and_money(client: Client, household: Household) -> None:
    Household.objects.filter(pk=household.pk).update(currency="SEK", euro_rate=11)
    html = client.get(SKINK, {"age": "61"}).content.decode()
    assert "You would be 76 to 86 years old" in html and "outlive you" in html and "SEK" in html
    assert "Write your age" in client.get(SKINK, {"age": "old"}).content.decode()
    assert "from 3 to 110" in client.get(SKINK, {"age": "900"}).content.decode()


def test_three_are_compared_with_differences_marked(client: Client) -> None:
    asked = {
        "with": ["pogona-vitticeps", "eublepharis-macularius", "python-regius", "boa-imperator"]
    }
    response = client.get("/species/compare/", asked)
    assert len(response.context["profiles"]) == 3 and "At most three" in response.content.decode()
    rows = {name: differs for name, _, differs in response.context["rows"]}
    assert rows["Grown mass"] and not all(rows.values())
    assert all(
        differs
        for *_, differs in client.get(
            "/species/compare/", {**asked, "only": "differences"}
        ).context["rows"]
    )
    assert (
        "Choose two or three"
        in client.get("/species/compare/", {"with": "no-such"}).content.decode()
    )


def test_an_own_value_is_kept_with_its_reason_and_planned_by(
    client: Client, pip: Enclosure
) -> None:
    at = surface_at()
    before = {need["key"]: need for need in plan_of(client, pip)["needs"]}["surface_day"]["low"][
        "value"
    ]
    assert client.get(f"{SKINK}edit/", {"at": at}).status_code == 200
    response = client.post(
        f"{SKINK}edit/?at={at}",
        {"value": "36 °C", "reason": "my veterinarian says so"},
        follow=True,
    )
    html = response.content.decode()
    assert "my veterinarian says so" in html and f"guide: {before:.1f} °C" in html
    surface = {need["key"]: need for need in plan_of(client, pip)["needs"]}["surface_day"]
    assert surface["low"]["value"] == 36
    assert any("my veterinarian says so" in source["text"] for source in surface["low"]["sources"])
    client.post(f"{SKINK}revert/", {"at": at})
    assert {need["key"]: need for need in plan_of(client, pip)["needs"]}["surface_day"]["low"][
        "value"
    ] == before
    assert not ProfileEdits.objects.exists()


def plan_of(client: Client, enclosure: Enclosure) -> dict:
    from husbandry.plan.plan import plan

    fresh = Enclosure.objects.for_planning().get(pk=enclosure.pk)
    made: dict = plan(fresh.request_at(timezone.now())).model_dump(mode="json", exclude_none=True)
    return made


@pytest.mark.parametrize(
    ("value", "reason", "says"),
    [
        ("90 °C", "a reason", "did you mean 90 °F"),
        ("hot", "a reason", "cannot be read"),
        ("36 °C", "", "Write a reason"),
        ("36 °C", "x", "a few words"),
        ("60 °C", "a reason", "rise in this order"),
    ],
)
def test_an_own_value_that_cannot_be_is_said_and_stays(
    client: Client, household: Household, value: str, reason: str, says: str
) -> None:
    html = client.post(
        f"{SKINK}edit/?at={surface_at()}", {"value": value, "reason": reason}
    ).content.decode()
    assert says in html and f'value="{value}"' in html and not ProfileEdits.objects.exists()


@pytest.mark.parametrize(
    "at",
    [
        "/species",
        "/origins/cp/text",
        "/needs",
        "/nothing",
        "/needs/0/origin",
        "/other_names/-",
        "",
    ],
)
def test_what_says_what_it_is_cannot_be_edited(client: Client, at: str) -> None:
    assert client.get(f"{SKINK}edit/", {"at": at}).status_code == 404


def test_texts_lists_and_choices_can_be_edited(client: Client, household: Household) -> None:
    kinds = next(
        f"/substrate/{n}/kinds" for n, _ in enumerate(find("Tiliqua scincoides").substrate)
    )
    client.post(
        f"{SKINK}edit/?at={kinds}", {"value": "loam\nleaf litter", "reason": "what my garden has"}
    )
    client.post(
        f"{SKINK}edit/?at=/water/soak", {"value": "yes", "reason": "mine always lies in it"}
    )
    row = ProfileEdits.objects.get(household=household)
    assert {edit["at"]: edit["value"] for edit in row.edits} == {
        kinds: ["loam", "leaf litter"],
        "/water/soak": True,
    }


def upload(client: Client, data: object, **more: str) -> str:
    text = data if isinstance(data, str) else json.dumps(data)
    file = SimpleUploadedFile("own.json", io.BytesIO(text.encode()).read(), "application/json")
    return client.post("/species/own/import/", {"file": file, **more}).content.decode()


def test_own_values_go_out_and_in_again_line_by_line(
    client: Client, stranger: Client, household: Household
) -> None:
    at = surface_at()
    client.post(f"{SKINK}edit/?at={at}", {"value": "36 °C", "reason": "my veterinarian says so"})
    file = client.get(f"{SKINK}own.json").json()
    assert file["format"] == "ridgeback-variant/2" and len(file["edits"]) == 1
    assert "taken" in upload(stranger, file)
    assert "the same already" in upload(stranger, file)
    file["edits"][0]["value"] = 37
    file["edits"].append({"at": "/species", "was": "x", "value": "y", "reason": "a reason"})
    file["edits"].append({"at": at, "value": 37})
    html = upload(stranger, file)
    assert "your own value kept" in html and "refused" in html
    assert "replaced your own" in upload(stranger, file, replace="on")
    assert ProfileEdits.objects.exclude(household=household).get().edits[0]["value"] == 37
    assert ProfileEdits.objects.get(household=household).edits[0]["value"] == 36


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("{", "not JSON"),
        ("[]", "ridgeback-variant/2"),
        ('{"format": NaN}', "a number is finite"),
        ('{"format": "ridgeback-variant/2", "species": "\\u0000"}', "character zero"),
        ('{"format": "ridgeback-variant/2", "species": "Draco draco"}', "no profile of"),
        (
            '{"format": "ridgeback-variant/2", "species": "Tiliqua scincoides", "edits": 4}',
            "list of edits",
        ),
    ],
)
def test_a_file_that_is_none_is_said(client: Client, text: str, says: str) -> None:
    assert says in upload(client, text)


def test_edits_that_a_newer_library_has_no_place_for_do_not_break_a_plan(
    client: Client, household: Household, pip: Enclosure
) -> None:
    good = {"at": surface_at(), "was": 38, "value": 36.0, "reason": "my veterinarian says so"}
    gone = {"at": "/needs/99/low", "was": 1, "value": 2.0, "reason": "of an older library"}
    ProfileEdits.objects.create(
        household=household, species="Tiliqua scincoides", edits=[gone, good, "nonsense"]
    )
    assert client.get(f"/enclosures/{pip.pk}/").status_code == 200
    assert {need["key"]: need for need in plan_of(client, pip)["needs"]}["surface_day"]["low"][
        "value"
    ] == 36


def test_the_purchase_is_read_in_the_readers_units(client: Client) -> None:
    page = client.get("/species/python-regius/buying/").content.decode()
    assert "Ask its seller" in page and "°C on the road" in page and "The first weeks" in page
    client.post("/preferences/", {"units_temperature": "f"})
    assert "°F on the road" in client.get("/species/python-regius/buying/").content.decode()
    assert client.get("/species/no-such/buying/").status_code == 404
