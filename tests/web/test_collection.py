"""Animals and enclosures on their own: added, planned, moved, archived; nothing welded together."""

import datetime as dt
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import IntegrityError, transaction
from django.test import Client
from django.utils import timezone

from ridgeback.animals.models import Animal, Weighing
from ridgeback.collection.forms import labelled, numbered
from ridgeback.enclosures import flows
from ridgeback.enclosures.models import Enclosure, Occupancy
from ridgeback.households.models import Household
from tests import clocks


def shown(client: Client, address: str, name: str = "form") -> Any:
    response = client.get(address)
    assert response.status_code == 200
    return response.context[name]


def added(client: Client, **typed: str) -> Any:
    form = shown(client, "/animals/add/")
    usual = {"form_key": str(form["form_key"].value()), "species": "corn snake", "name": "Rill"}
    return client.post("/animals/add/", usual | typed)


def built(client: Client, **typed: str) -> Any:
    form = shown(client, "/enclosures/add/")
    room = form.fields["room"].choices[0][0]
    usual = {"form_key": str(form["form_key"].value()), "name": "Shelf", "room": room}
    more = {"count": "1", "state": "built", "shape": "board-120-60-60"}
    shapes = [slug for slug, _ in form.fields["shape"].choices]
    if more["shape"] not in shapes:
        more["shape"] = next(slug for slug in shapes if slug)
    return client.post("/enclosures/add/", usual | more | typed)


@pytest.fixture
def gecko(household: Household) -> Animal:
    """A further animal, in no enclosure."""
    return Animal.objects.create(
        household=household, name="Sorrel", species="Eublepharis macularius", sex="male"
    )


# --- animals -------------------------------------------------------------------------------------


def test_an_animal_is_added_without_an_enclosure(client: Client, household: Household) -> None:
    assert added(client, mass="420 g").status_code == 302
    made = household.animals.get(name="Rill")
    assert made.species == "Pantherophis guttatus" and made.mass_g() == 420
    assert not made.occupancies.exists()
    page = client.get(f"/animals/{made.pk}/")
    assert page.status_code == 200 and "in no enclosure" in page.content.decode()


def test_several_are_added_at_once_with_their_sexes(client: Client, household: Household) -> None:
    """“4 of the same, 2 male.”"""
    added(client, name="Fen", species="White’s tree frog", females="1", males="2", unknown="1")
    made = household.animals.filter(name__startswith="Fen ").order_by("name")
    assert [one.name for one in made] == ["Fen 1", "Fen 2", "Fen 3", "Fen 4"]
    assert sorted(one.sex for one in made) == ["female", "male", "male", "unknown"]


def test_the_same_form_twice_adds_once(client: Client, household: Household) -> None:
    form = shown(client, "/animals/add/")
    typed = {"form_key": str(form["form_key"].value()), "species": "corn snake", "name": "Rill"}
    for _ in range(2):
        assert client.post("/animals/add/", typed).status_code == 302
    assert household.animals.filter(name="Rill").count() == 1


@pytest.mark.parametrize(
    ("typed", "field", "said"),
    [
        ({"species": "unicorn zebra"}, "species", "No species answers"),
        ({"species": "python"}, "species", "Which one?"),
        ({"born_on": "2199-01-01"}, "born_on", "still to come"),
        ({"born_on": "2024-05-01", "came_on": "2023-01-01"}, "came_on", "before it was born"),
        ({"males": "40"}, "males", "30"),
        ({"females": "2", "mass": "12 g"}, "mass", "its own page"),
        ({"mass": "heavy"}, "mass", ""),
        ({"whereabouts": "wanted", "came_on": "2024-01-01"}, "came_on", "not here yet"),
    ],
)
def test_what_cannot_be_is_said_beside_its_field(
    client: Client, household: Household, typed: dict[str, str], field: str, said: str
) -> None:
    before = household.animals.count()
    answer = added(client, **typed)
    assert answer.status_code == 200 and household.animals.count() == before
    assert said in str(answer.context["form"].errors[field])
    for name, value in typed.items():
        assert answer.context["form"][name].value() == value


def test_one_that_is_awaited_has_no_tasks_and_says_when_it_comes(
    client: Client, household: Household
) -> None:
    added(client, whereabouts="arriving", expected_on="2027-01-05")
    made = household.animals.get(name="Rill")
    assert made.awaited
    assert "expected 5 Jan 2027" in client.get(f"/animals/{made.pk}/").content.decode()
    assert "Rill" not in client.get("/today/").content.decode()


def test_company_is_judged_before_one_is_added(
    client: Client, household: Household, pip: Enclosure
) -> None:
    """Another species in Pip's enclosure: asked about, and done when it is confirmed."""
    answer = added(client, enclosure=str(pip.pk))
    assert answer.status_code == 200 and answer.context["move"].danger
    assert "Two species" in answer.content.decode()
    assert not household.animals.filter(name="Rill").exists()
    form = answer.context["form"]
    sent = {name: form[name].value() or "" for name in form.fields}
    assert client.post("/animals/add/", {**sent, "form_key": ""}).status_code == 302
    assert household.animals.get(name="Rill").occupancies.get().enclosure == pip


def test_names_are_free_and_numbered() -> None:
    assert numbered("Moss", 1, set()) == ["Moss"]
    assert numbered("Moss", 2, {"Moss 1"}) == ["Moss 2", "Moss 3"]
    assert labelled("Rack", 5, set()) == ["Rack A1", "Rack A2", "Rack A3", "Rack A4", "Rack B1"]


def test_one_added_by_mistake_is_deleted_and_one_with_a_history_is_not(
    client: Client, household: Household, gecko: Animal, pip: Enclosure
) -> None:
    client.post(f"/animals/{gecko.pk}/delete/")
    assert not Animal.objects.filter(pk=gecko.pk).exists()
    kept = pip.present[0].animal
    answer = client.post(f"/animals/{kept.pk}/delete/", follow=True)
    assert "has a history" in answer.content.decode()
    assert Animal.objects.filter(pk=kept.pk).exists()


def test_a_mass_that_cannot_well_be_true_is_asked_about(
    client: Client, household: Household
) -> None:
    answer = added(client, mass="42 kg")
    assert answer.status_code == 200 and answer.context["form"].doubted
    assert not household.animals.filter(name="Rill").exists()
    assert added(client, mass="42 kg", sure="on").status_code == 302
    assert household.animals.get(name="Rill").mass_g() == 42_000


# --- enclosures ----------------------------------------------------------------------------------


def test_an_enclosure_is_added_with_nobody_in_it(client: Client, household: Household) -> None:
    answer = built(client, purpose="quarantine")
    made = household.enclosures.get(name="Shelf")
    assert answer.status_code == 302 and made.purpose == "quarantine"
    page = client.get(f"/enclosures/{made.pk}/")
    assert "No animal lives here" in page.content.decode()
    assert "Shelf" in client.get("/").content.decode()


def test_a_rack_of_twelve_is_made_in_one_go(client: Client, household: Household) -> None:
    built(client, name="Rack", count="12")
    names = sorted(
        household.enclosures.filter(name__startswith="Rack").values_list("name", flat=True)
    )
    assert len(names) == 12 and names[0] == "Rack A1" and names[-1] == "Rack C4"
    assert client.get("/").status_code == 200


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"shape": ""}, "length"),
        ({"count": "0"}, "count"),
        ({"count": "500"}, "count"),
        ({"room": "999999"}, "room"),
        ({"name": "Pip’s enclosure"}, "name"),
        ({"shape": "", "length": "9000 m", "depth": "1 m", "height": "1 m"}, "length"),
    ],
)
def test_an_enclosure_that_cannot_be_is_refused(
    client: Client, household: Household, typed: dict[str, str], field: str
) -> None:
    before = household.enclosures.count()
    answer = built(client, **typed)
    assert answer.status_code == 200 and field in answer.context["form"].errors
    assert household.enclosures.count() == before


def test_an_upgrade_is_planned_beside_the_present_one_and_swapped_on_the_day(
    client: Client, household: Household, pip: Enclosure
) -> None:
    animal = pip.present[0].animal
    built(client, name="Larger", state="planned", planned_for=str(animal.pk))
    larger = Enclosure.objects.for_planning().get(name="Larger")
    assert larger.present[0].is_planned and larger.use == "planned"
    page = client.get(f"/enclosures/{larger.pk}/")
    assert page.status_code == 200 and page.context["view"].animals
    # it lives where it lived, with its tasks
    assert animal.occupancies.present().get().enclosure == pip
    assert pip.name in client.get("/today/").content.decode()

    moved = flows.settle_in(larger, now=timezone.now())
    assert moved == 1
    assert animal.occupancies.present().get().enclosure == larger
    left = animal.occupancies.get(enclosure=pip)
    assert left.until is not None
    freed = Enclosure.objects.for_planning().get(pk=pip.pk)
    assert freed.use == "empty"


def test_an_archived_enclosure_is_in_no_list_and_comes_back(
    client: Client, household: Household, pip: Enclosure
) -> None:
    refused = client.post(f"/enclosures/{pip.pk}/archive/", follow=True)
    assert "still lives here" in refused.content.decode()
    built(client)
    made = household.enclosures.get(name="Shelf")
    client.post(f"/enclosures/{made.pk}/archive/")
    client.get("/")  # reads the message
    assert "Shelf" not in client.get("/").content.decode()
    assert "Shelf" in client.get("/?state=archived").content.decode()
    client.post(f"/enclosures/{made.pk}/archive/", {"back": "yes"})
    client.get("/")
    assert "Shelf" in client.get("/").content.decode()


def test_a_duplicate_has_the_layout_and_nobody_in_it(
    client: Client, household: Household, pip: Enclosure
) -> None:
    assert pip.head is not None
    client.post(f"/enclosures/{pip.pk}/duplicate/")
    client.post(f"/enclosures/{pip.pk}/duplicate/")
    copies = household.enclosures.filter(name__startswith=f"{pip.name} (copy)")
    assert copies.count() == 2
    for one in copies:
        assert one.head is not None and one.head.spec == pip.head.spec
        assert one.head.state == "planned" and not one.occupancies.exists()


def test_a_name_is_changed_and_a_taken_one_is_refused(client: Client, pip: Enclosure) -> None:
    form = shown(client, f"/enclosures/{pip.pk}/use/")
    sent = {name: form[name].value() or "" for name in form.fields}
    other = Enclosure.objects.of(pip.household).exclude(pk=pip.pk)[0]
    answer = client.post(f"/enclosures/{pip.pk}/use/", {**sent, "name": other.name})
    assert "of this name already" in answer.content.decode()
    client.post(f"/enclosures/{pip.pk}/use/", {**sent, "name": "By the window"})
    assert Enclosure.objects.get(pk=pip.pk).name == "By the window"


# --- moves ---------------------------------------------------------------------------------------


def move(client: Client, animal: Animal, **typed: str) -> Any:
    form = shown(client, f"/animals/{animal.pk}/move/")
    usual = {
        "form_key": str(form["form_key"].value()),
        "at": form["at"].value().strftime("%Y-%m-%dT%H:%M"),
    }
    return client.post(f"/animals/{animal.pk}/move/", usual | typed)


def test_a_move_has_its_day_and_its_reason(
    client: Client, household: Household, gecko: Animal
) -> None:
    built(client)
    made = household.enclosures.get(name="Shelf")
    answer = move(client, gecko, to=str(made.pk), reason="quarantine is over")
    assert answer.status_code == 302
    stay = gecko.occupancies.present().get()
    assert stay.enclosure == made and stay.reason == "quarantine is over"
    facts = client.get(f"/animals/{gecko.pk}/facts/").content.decode()
    assert "quarantine is over" in facts


def test_the_new_place_is_judged_before_the_move(
    client: Client, gecko: Animal, pip: Enclosure
) -> None:
    looked = client.get(f"/animals/{gecko.pk}/move/?to={pip.pk}")
    assert looked.context["move"].danger
    assert move(client, gecko, to=str(pip.pk)).status_code == 200
    assert not gecko.occupancies.exists()
    assert move(client, gecko, to=str(pip.pk), confirm=str(pip.pk)).status_code == 302
    assert gecko.occupancies.present().get().enclosure == pip


def test_moving_in_from_the_enclosures_page_is_judged_too(
    client: Client, gecko: Animal, pip: Enclosure
) -> None:
    answer = client.post(f"/enclosures/{pip.pk}/move-in/", {"animal": gecko.pk, "because": "why"})
    assert answer.status_code == 302 and f"/animals/{gecko.pk}/move/" in answer["Location"]
    assert not gecko.occupancies.exists()


@pytest.mark.parametrize(
    ("days", "said"), [(-3, "still to come"), (4000, "before"), (2000, "born")]
)
def test_a_moment_that_cannot_be_is_said(
    client: Client, household: Household, pip: Enclosure, days: int, said: str
) -> None:
    animal = pip.present[0].animal
    animal.born_on = clocks.today() - dt.timedelta(days=1500)
    animal.save()
    built(client)
    made = household.enclosures.get(name="Shelf")
    at = (timezone.now() - dt.timedelta(days=days)).strftime("%Y-%m-%dT%H:%M")
    answer = move(client, animal, to=str(made.pk), at=at)
    assert answer.status_code == 200 and said in str(answer.context["form"].errors["at"])
    assert animal.occupancies.present().get().enclosure == pip


def test_no_animal_is_in_two_places_at_any_minute(
    household: Household, gecko: Animal, pip: Enclosure
) -> None:
    """The database refuses it, whoever writes."""
    now = timezone.now()
    other = Enclosure.objects.of(household).exclude(pk=pip.pk)[0]
    Occupancy.objects.create(enclosure=pip, animal=gecko, since=now - dt.timedelta(days=9))
    with pytest.raises(IntegrityError), transaction.atomic():
        Occupancy.objects.create(enclosure=other, animal=gecko, since=now)
    Occupancy.objects.create(enclosure=other, animal=gecko, since=now, is_planned=True)


def test_what_everybody_has_leads_somewhere(client: Client) -> None:
    page = client.get("/add/").content.decode()
    for address in ("/start/", "/animals/add/", "/enclosures/add/", "/import/"):
        assert f'href="{address}"' in page


# --- a table -------------------------------------------------------------------------------------

TABLE = """Name;Species;Sex;Hatched;Weight g;Tub;Rack
Ember;leopard gecko;0.1;3.5.2022;58;T1;R1
Frost;leopard geckos;1.0;May 2021;64,5;T2;R1
Rook;crestd gecko;?;2023;41;;
Nix;unicorn zebra;f;2020;20;;
"""


def table(client: Client, text: str = TABLE, **typed: str) -> Any:
    form = shown(client, "/add/table/")
    sent = {"form_key": str(form["form_key"].value()), "table": text}
    sent |= {name: form.fields[name].choices[0][0] for name in ("room", "shape")}
    return client.post("/add/table/", sent | typed)


def test_a_table_is_shown_line_by_line_and_nothing_is_written(
    client: Client, household: Household
) -> None:
    before = household.animals.count(), household.enclosures.count()
    answer = table(client)
    read = answer.context["read"]
    assert [line.state for line in read.lines] == ["understood"] * 3 + ["refused"]
    assert "No species answers to “unicorn zebra”" in answer.content.decode()
    assert (household.animals.count(), household.enclosures.count()) == before


def test_what_is_clear_is_taken_in_and_the_same_table_twice_adds_nothing(
    client: Client, household: Household
) -> None:
    assert table(client, take_in="yes").status_code == 302
    ember = household.animals.get(name="Ember")
    assert ember.sex == "female" and ember.mass_g() == 58
    assert ember.born_on == dt.date(2022, 5, 3)
    home = ember.occupancies.present().get().enclosure
    assert (home.name, home.shelf) == ("T1", "R1")
    assert client.get(f"/enclosures/{home.pk}/").status_code == 200
    assert "Ember" in client.get("/today/").content.decode()
    assert not household.animals.filter(name="Nix").exists()

    counted = [model.objects.count() for model in (Animal, Enclosure, Occupancy, Weighing)]
    answer = table(client, take_in="yes")
    assert answer.status_code == 302
    again = [model.objects.count() for model in (Animal, Enclosure, Occupancy, Weighing)]
    assert again == counted


def test_a_later_weight_is_added_to_the_one_that_is_known(
    client: Client, household: Household
) -> None:
    table(client, take_in="yes")
    heavier = TABLE.replace("0.1;3.5.2022;58", "0.1;3.5.2022;61")
    table(client, heavier, take_in="yes")
    ember = household.animals.get(name="Ember")
    assert sorted(one.mass_g for one in ember.weighings.all()) == [58, 61]


def test_a_question_about_a_line_is_answered(client: Client, household: Household) -> None:
    text = "name,species\nCoil,python\n"
    answer = table(client, text)
    assert "Which species is" in answer.content.decode()
    told = table(client, text, take_in="yes", **{"answer-2-species": "Python regius"})
    assert told.status_code == 302
    assert household.animals.get(name="Coil").species == "Python regius"


@pytest.mark.parametrize("text", ["", "no table at all", "a,b\n1,2", "\x00\x00"])
def test_what_is_no_table_is_said_beside_the_field(client: Client, text: str) -> None:
    answer = table(client, text, take_in="yes")
    assert answer.status_code == 200 and answer.context["form"].errors["table"]
    assert answer.context["form"]["table"].value() == text


def test_a_file_is_read_however_a_spreadsheet_wrote_it(client: Client) -> None:
    for raw in (
        TABLE.encode("utf-8-sig"),
        TABLE.encode("utf-16"),
        "name;species\nRené;corn snake".encode("cp1252"),
    ):
        file = SimpleUploadedFile("animals.csv", raw, content_type="text/csv")
        form = shown(client, "/add/table/")
        sent = {"form_key": str(form["form_key"].value()), "file": file}
        answer = client.post("/add/table/", sent)
        assert answer.context["read"].of("understood")


def test_a_thousand_lines_take_few_queries(
    client: Client, household: Household, django_assert_max_num_queries: Any
) -> None:
    rows = [
        f"Snake {n},corn snake,{'mf'[n % 2]},2021,{300 + n} g,Box {n % 60}" for n in range(1000)
    ]
    text = "name,species,sex,born,weight,enclosure\n" + "\n".join(rows)
    with django_assert_max_num_queries(90):
        assert table(client, text, take_in="yes").status_code == 302
    assert household.animals.filter(name__startswith="Snake").count() == 1000
    assert household.enclosures.filter(name__startswith="Box").count() == 60


# --- weighing many -------------------------------------------------------------------------------


def weighed(client: Client, **typed: str) -> Any:
    day = shown(client, "/animals/weigh/", "day")
    sent = {"form_key": str(day["form_key"].value()), "on": day["on"].value().isoformat()}
    return client.post("/animals/weigh/", sent | typed)


def test_many_are_weighed_in_one_go(client: Client, household: Household, gecko: Animal) -> None:
    pip = household.animals.get(name="Pip")
    grams = pip.mass_g() or 0
    answer = weighed(
        client, **{f"{gecko.pk}-mass": "60", f"{pip.pk}-mass": f"{grams + 380:g} - 380 g"}
    )
    assert answer.status_code == 302
    assert gecko.mass_g() == 60
    assert pip.weighings.order_by("-pk")[0].mass_g == pytest.approx(grams)


def test_one_that_cannot_be_true_is_asked_about_and_nothing_is_lost(
    client: Client, household: Household, gecko: Animal
) -> None:
    pip = household.animals.get(name="Pip")
    before = Weighing.objects.count()
    typed = {f"{gecko.pk}-mass": "60 g", f"{pip.pk}-mass": f"{(pip.mass_g() or 0) * 3:g} g"}
    answer = weighed(client, **typed)
    assert answer.status_code == 200 and Weighing.objects.count() == before
    rows = {row.animal.pk: row for row in answer.context["rows"]}
    assert rows[pip.pk].error and rows[gecko.pk].typed == "60 g" and not rows[gecko.pk].error
    assert rows[pip.pk].may_confirm
    told = weighed(client, **typed, **{f"{pip.pk}-confirm": typed[f"{pip.pk}-mass"]})
    assert told.status_code == 302 and Weighing.objects.count() == before + 2


@pytest.mark.parametrize(
    ("typed", "said"), [("heavy", "cannot be read"), ("-4 g", "more than nothing"), ("9 t", "")]
)
def test_what_is_no_weight_is_said_beside_its_field(
    client: Client, gecko: Animal, typed: str, said: str
) -> None:
    answer = weighed(client, **{f"{gecko.pk}-mass": typed})
    row = next(row for row in answer.context["rows"] if row.animal.pk == gecko.pk)
    assert row.error and said in row.error and row.typed == typed


def test_who_is_not_here_is_not_weighed(client: Client, gecko: Animal) -> None:
    gecko.whereabouts = "elsewhere"
    gecko.save()
    rows = shown(client, "/animals/weigh/", "rows")
    assert gecko.pk not in {row.animal.pk for row in rows}
    assert "Nothing is filled in" in weighed(client).content.decode()


def test_an_enclosure_from_a_table_is_not_called_cold_before_it_is_described(
    client: Client, household: Household
) -> None:
    """Nobody has said which lamps hang there: that is unknown, not dangerous."""
    table(client, take_in="yes")
    home = household.enclosures.get(name="T1")
    page = client.get(f"/enclosures/{home.pk}/")
    assert page.context["view"].first.direction == "unknown"
    assert "Nothing in it is described yet" in page.content.decode()
    assert "Nothing in it is described yet" in client.get("/?query=T1").content.decode()


def test_one_that_is_no_longer_kept_moves_nowhere(
    client: Client, gecko: Animal, pip: Enclosure
) -> None:
    gecko.gone = "sold"
    gecko.gone_on = clocks.today()
    gecko.save()
    page = client.get(f"/animals/{gecko.pk}/move/?to={pip.pk}", follow=True).content.decode()
    assert "no longer kept" in page


@pytest.mark.parametrize("key", ["²", "x", "9" * 12, "-1"])
def test_what_is_no_enclosure_is_none(client: Client, gecko: Animal, key: str) -> None:
    assert client.get(f"/animals/{gecko.pk}/move/", {"to": key}).status_code in {200, 404}


def test_an_enclosure_takes_no_more_than_a_plan_does(client: Client, household: Household) -> None:
    """Twenty-five lines in one box: twenty live there, the others are named."""
    rows = [f"Fry {n},corn snake,Box" for n in range(25)]
    table(client, "name,species,enclosure\n" + "\n".join(rows), take_in="yes")
    box = household.enclosures.get(name="Box")
    assert box.occupancies.present().count() == 20
    assert household.animals.filter(name__startswith="Fry").count() == 25
    assert client.get(f"/enclosures/{box.pk}/").status_code == 200
    answer = added(client, enclosure=str(box.pk))
    assert "At most 20" in str(answer.context["form"].errors["enclosure"])
