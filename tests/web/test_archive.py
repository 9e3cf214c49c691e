"""A household as one file: everything out, everything in, nothing lost, nothing of anybody else's."""

import copy
import io
import json
import zipfile
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from django.apps import apps
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.utils import timezone
from jsonschema import Draft202012Validator

from husbandry.species.library import library
from husbandry.tasks.schedules import OwnPace
from ridgeback.animals.models import Animal
from ridgeback.archive.reading import ArchiveError, restore, take_in_animal
from ridgeback.archive.schema import schemas, text_of
from ridgeback.archive.tables import LEFT_OUT, OF_AN_ANIMAL, TABLES
from ridgeback.archive.writing import animal_archive, animal_data, archive_of, household_data
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper
from ridgeback.jobs.archive_papers import archive_papers
from ridgeback.jobs.models import Job
from ridgeback.jobs.tasks import make_archive
from ridgeback.log.models import LogEntry
from ridgeback.photos.flows import add, make_small
from ridgeback.tasks.flows import add_own_task
from tests import clocks
from tests.web.test_access import addresses
from tests.web.test_photos import photo


@pytest.fixture
def full(household: Household, pip: Enclosure) -> Household:
    """The demo household with a photo, and an own task that was done."""
    keeper = household.memberships.get().keeper
    animal = pip.present[0].animal
    picture = add(animal, photo(600, 400), keeper=keeper, on=clocks.today(), note="By the water")
    make_small(picture.pk)
    own = add_own_task(pip, "Empty the trap", OwnPace(7), begins=clocks.today(), keeper=keeper)
    stem = f"own {own.pk}"
    LogEntry.objects.create(
        household=household,
        enclosure=pip,
        stem=stem,
        task=f"{pip.pk}/0/{stem}/{clocks.today()}",
        log_request="7a4a2f6e-0000-4000-8000-000000000001",
        on=clocks.today(),
        at=timezone.now(),
        touched_at=timezone.now(),
        by=keeper,
        note="Empty the trap",
    )
    return household


def renumbered(household: Household) -> tuple[dict[str, Any], dict[str, bytes]]:
    """The whole household with its keys counted from nought, so that two of them compare."""
    files: dict[str, bytes] = {}
    data = household_data(household, files)
    places = {
        table.model: {row["id"]: n for n, row in enumerate(data["tables"][table.name])}
        for table in TABLES
    }
    for table in TABLES:
        for row in data["tables"][table.name]:
            for field in table.model._meta.concrete_fields:
                if field.is_relation and field.related_model in places and row.get(field.name):
                    row[field.name] = places[field.related_model][row[field.name]]
            row["id"] = places[table.model][row["id"]]
            if table.name == "pictures":
                row |= {name: bool(row[name]) for name in ("original", "body", "small")}
            if "task" in row:
                parts = row["task"].split("/")
                row["task"] = "/".join(parts[2:])
            if "stem" in row and row["stem"].split(" ")[0] in {"own", "treatment"}:
                row["task"], row["stem"] = "", row["stem"].split(" ")[0]
    return data, files


def test_every_table_is_in_the_archive_or_left_out_for_a_reason() -> None:
    own = {
        model._meta.label
        for model in apps.get_models()
        if model.__module__.startswith("ridgeback.")
    }
    archived = {table.model._meta.label for table in TABLES}
    assert own == archived | set(LEFT_OUT) and not archived & set(LEFT_OUT)
    assert all(LEFT_OUT.values())


def test_out_and_in_again_loses_no_row_and_no_file(full: Household) -> None:
    """Row by row and file by file."""
    keeper = full.memberships.get().keeper
    made = restore(archive_of(full), keeper)
    before, files = renumbered(full)
    after, restored = renumbered(made.household)
    assert before["household"] == after["household"]
    for table in TABLES:
        assert before["tables"][table.name] == after["tables"][table.name], table.name
    assert sorted(files.values()) == sorted(restored.values()) and files
    assert sum(made.counts.values()) == sum(len(rows) for rows in before["tables"].values())


def test_what_was_restored_is_used_like_any_other(full: Household) -> None:
    keeper = full.memberships.get().keeper
    made = restore(archive_of(full), keeper).household
    client = Client()
    client.force_login(keeper)
    client.post("/household/switch/", {"household": made.pk})
    enclosure = made.enclosures.get(name="Pip’s enclosure")
    assert client.get(f"/enclosures/{enclosure.pk}/").status_code == 200
    page = client.get("/today/").content.decode()
    assert "Pip’s enclosure" in page and page.count("Empty the trap") == 1, "done, and not due"
    entry = LogEntry.objects.get(household=made, stem__startswith="own ")
    assert entry.stem == f"own {enclosure.schedules.get().pk}"
    assert entry.task.startswith(f"{enclosure.pk}/0/own ")


def test_what_somebody_else_did_keeps_their_name(full: Household) -> None:
    stranger = Keeper.objects.create_user("elsewhere", first_name="Nell")
    made = restore(archive_of(full), stranger).household
    entry = LogEntry.objects.get(household=made, stem__startswith="own ")
    assert entry.by is None and entry.who == full.memberships.get().keeper.first_name


def opened(body: bytes) -> tuple[dict[str, Any], dict[str, bytes]]:
    with zipfile.ZipFile(io.BytesIO(body)) as archive:
        files = {name: archive.read(name) for name in archive.namelist()}
    return json.loads(files.pop("household.json")), files


def closed(data: Any, files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        text = data if isinstance(data, str) else json.dumps(data)
        archive.writestr("household.json", text)
        for name, body in files.items():
            archive.writestr(name, body)
    return out.getvalue()


def bend(data: dict[str, Any], how: str) -> Any:
    data = copy.deepcopy(data)
    tables = data["tables"]
    match how:
        case "format":
            data["format"] = "somebody-elses/3"
        case "no tables":
            del data["tables"]
        case "list":
            return []
        case "text":
            return "{"
        case "unknown species":
            tables["animals"][0]["species"] = "Draco imaginarius"
        case "stray key":
            tables["weighings"][0]["animal"] = 999_999_999
        case "text key":
            tables["weighings"][0]["animal"] = "1"
        case "stray head":
            tables["enclosures"][0]["head"] = 999_999_999
        case "foreign head":
            tables["enclosures"][0]["head"] = tables["enclosures"][1]["head"]
        case "mass":
            tables["weighings"][0]["mass_g"] = -5
        case "huge":
            tables["weighings"][0]["mass_g"] = "1e999"
        case "day":
            tables["weighings"][0]["on"] = "soon"
        case "twice":
            tables["animals"].append(tables["animals"][0])
        case "two homes":
            tables["occupancies"].append(tables["occupancies"][0] | {"id": 10**6})
        case "rows":
            tables["animals"] = {"a": 1}
        case "row":
            tables["animals"][0] = 7
        case "picture":
            tables["pictures"][0]["small"] = "pictures/999999999-small.jpg"
        case "path":
            tables["pictures"][0]["small"] = "../../etc/passwd"
        case "money":
            data["household"]["euro_rate"] = -1
        case "nul":
            tables["animals"][0]["name"] = "a\x00b"
    return data


@pytest.mark.parametrize(
    "how",
    [
        "format", "no tables", "list", "text", "unknown species", "stray key", "text key",
        "stray head", "foreign head", "mass", "huge", "day", "twice", "two homes", "rows", "row",
        "picture", "path", "money", "nul",
    ],
)  # fmt: off
def test_a_file_that_cannot_be_is_refused_whole(full: Household, how: str) -> None:
    keeper = full.memberships.get().keeper
    data, files = opened(archive_of(full))
    before = (Household.objects.count(), Animal.objects.count(), Enclosure.objects.count())
    with pytest.raises(ArchiveError):
        restore(closed(bend(data, how), files), keeper)
    after = (Household.objects.count(), Animal.objects.count(), Enclosure.objects.count())
    assert before == after, "nothing half done"


@pytest.mark.parametrize(
    "name", ["../household.json", "/etc/passwd", "pictures/../x.jpg", "run.sh", "logs/a/b.csv"]
)
def test_a_zip_with_paths_outside_is_refused(full: Household, name: str) -> None:
    data, files = opened(archive_of(full))
    with pytest.raises(ArchiveError, match="holds files"):
        restore(closed(data, files | {name: b"x"}), full.memberships.get().keeper)


@pytest.mark.parametrize("body", [b"", b"PK", b"no zip", b"\x89PNG\r\n"])
def test_what_is_no_zip_is_said(household: Household, body: bytes) -> None:
    with pytest.raises(ArchiveError, match="no zip"):
        restore(body, household.memberships.get().keeper)


def test_a_zip_that_is_cut_off_is_said(full: Household) -> None:
    whole = archive_of(full)
    for part in (0.3, 0.7, 0.99):
        with pytest.raises(ArchiveError):
            restore(whole[: int(part * len(whole))], full.memberships.get().keeper)


def test_a_zip_that_swells_is_not_opened(
    household: Household, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Ten gigabytes of nothing in a few megabytes: its head says so, and a lie is cut off."""
    monkeypatch.setattr("ridgeback.archive.reading.MOST_OPENED_BYTES", 10_000)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("household.json", b" " * 1_000_000)
    with pytest.raises(ArchiveError, match="too large"):
        restore(out.getvalue(), household.memberships.get().keeper)


def test_the_owner_takes_it_along_and_in_again(client: Client, full: Household) -> None:
    client.post("/household/archive/make/")
    job = Job.objects.get(kind="zip")
    make_archive(job.pk)
    assert "Fetch the zip" in client.get(f"/jobs/{job.pk}/").content.decode()
    answer = client.get(f"/jobs/{job.pk}/sheet.pdf")
    assert answer["Content-Type"] == "application/zip"
    file = SimpleUploadedFile("all.zip", answer.content, "application/zip")
    page = client.get("/household/archive/")
    key = str(page.context["form"]["form_key"].value())
    told = client.post("/household/archive/", {"file": file, "form_key": key}, follow=True)
    assert "is imported" in told.content.decode() and Household.objects.count() == 2
    assert client.get("/household/").context["household"].pk != full.pk


def test_the_whole_household_is_fetched_by_owners_alone(client: Client, full: Household) -> None:
    client.post("/household/archive/make/")
    job = Job.objects.get(kind="zip")
    make_archive(job.pk)
    keeper = Keeper.objects.create_user("second")
    full.memberships.create(keeper=keeper, role="keeper")
    other = Client()
    other.force_login(keeper)
    assert other.get(f"/jobs/{job.pk}/sheet.pdf").status_code == 404
    assert client.get(f"/jobs/{job.pk}/sheet.pdf").status_code == 200


def test_a_wrong_file_is_answered_beside_its_field(client: Client, household: Household) -> None:
    for sent in ({}, {"file": SimpleUploadedFile("a.zip", b"no", "application/zip")}):
        answer = client.post("/household/archive/", sent)
        assert answer.status_code == 200 and answer.context["form"].errors["file"]


def test_the_tables_for_a_spreadsheet_name_their_animals(full: Household) -> None:
    _, files = opened(archive_of(full))
    text = files["logs/weighings.csv"].decode("utf-8-sig")
    assert "Pip" in text and text.startswith("animal,") and len(library()) > 1


@pytest.fixture
def elsewhere(full: Household) -> Household:
    """The household of the next keeper, with a room."""
    keeper = Keeper.objects.create_user("next", first_name="Nell")
    made = Household.objects.create(name="Nell’s")
    made.memberships.create(keeper=keeper, role="owner")
    room = full.rooms.order_by("pk").first()
    assert room is not None
    room.pk, room.household = None, made
    room._state.adding = True
    room.save()
    return made


def animal_of(full: Household) -> Animal:
    return Animal.objects.get(household=full, name="Pip")


def before_of(household: Household) -> Enclosure:
    """The only enclosure there is: where the history stands."""
    return household.enclosures.get()


def take(body: bytes, household: Household, name: str = "") -> Animal:
    return take_in_animal(
        body,
        household,
        household.memberships.get().keeper,
        name=name,
        came_on=clocks.today(),
        now=timezone.now(),
    )


def test_an_animal_goes_to_its_next_keeper_with_its_history(
    full: Household, elsewhere: Household
) -> None:
    pip = animal_of(full)
    shed = LogEntry.objects.get(household=full, stem__startswith="own ")
    shed.pk, shed.animal, shed.stem, shed.note = None, pip, "shed", "In one piece"
    shed.task, shed.log_request = f"{shed.enclosure_id}/{pip.pk}/shed/{clocks.today()}", uuid4()
    shed.save(force_insert=True)
    made = take(animal_archive(pip), elsewhere, "Pip the second")
    assert (made.household, made.name, made.species) == (elsewhere, "Pip the second", pip.species)
    assert (made.born_on, made.sex, made.came_on) == (pip.born_on, pip.sex, clocks.today())
    assert [one.mass_g for one in made.weighings.all()] == [
        one.mass_g for one in pip.weighings.all()
    ]
    assert bytes(made.pictures.get().body or b"") == bytes(pip.pictures.get().body or b"")
    log = LogEntry.objects.filter(animal=made)
    assert log.count() == LogEntry.objects.filter(animal=pip).count() > 0
    assert f"{before_of(elsewhere).pk}/{made.pk}/shed/{clocks.today()}" in {
        one.task for one in log
    }
    assert {one.household_id for one in log} == {elsewhere.pk}
    before = before_of(elsewhere)
    assert before.archived_on == clocks.today() and before.name == "Pip the second before"
    assert full.name in before.occupancies.get(until__isnull=False).reason
    assert {one.enclosure_id for one in log} == {before.pk}


def test_one_that_moved_and_one_that_comes_back_are_taken_in(
    full: Household, elsewhere: Household
) -> None:
    """Its history of two enclosures stands at one; where it came from its old entries are still."""
    pip = animal_of(full)
    shed = LogEntry.objects.get(household=full, stem__startswith="own ")
    for enclosure in full.enclosures.all()[:2]:
        shed.pk, shed.animal, shed.stem, shed.enclosure = None, pip, "shed", enclosure
        shed.task, shed.log_request = f"{enclosure.pk}/{pip.pk}/shed/{clocks.today()}", uuid4()
        shed.save(force_insert=True)
    there = take(animal_archive(pip), elsewhere)
    assert LogEntry.objects.filter(animal=there).count() == 2
    back = take(animal_archive(there), full, "Pip again")
    assert LogEntry.objects.filter(animal=back).count() == 2
    again = take(animal_archive(there), full)
    assert again.household == full and again.weighings.count() == pip.weighings.count()


def test_nothing_of_its_household_goes_with_it(full: Household) -> None:
    files: dict[str, bytes] = {}
    data = animal_data(animal_of(full), files)
    others = set(full.animals.exclude(name="Pip").values_list("pk", flat=True))
    assert set(data["tables"]) == set(OF_AN_ANIMAL)
    assert {row["id"] for row in data["tables"]["animals"]} == {animal_of(full).pk}
    assert not others & {row["animal"] for row in data["tables"]["log"]}
    assert len(data["tables"]["pictures"]) == 1 == len([n for n in files if "body" in n])


@pytest.mark.parametrize("how", ["two", "none", "species", "household", "stray", "day"])
def test_an_animal_that_cannot_be_is_refused_whole(
    full: Household, elsewhere: Household, how: str
) -> None:
    data = animal_data(animal_of(full), {})
    data["tables"]["pictures"] = []
    rows = data["tables"]["animals"]
    match how:
        case "two":
            rows.append(rows[0] | {"id": 10**6})
        case "none":
            rows.clear()
        case "species":
            rows[0]["species"] = "Draco imaginarius"
        case "household":
            data["format"] = "ridgeback-household/1"
        case "stray":
            data["tables"]["weighings"][0]["animal"] = 10**6
        case "day":
            data["tables"]["weighings"][0]["on"] = "soon"
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("animal.json", json.dumps(data))
    with pytest.raises(ArchiveError):
        take(out.getvalue(), elsewhere)
    assert not elsewhere.animals.exists() and not elsewhere.enclosures.exists()


def test_a_whole_household_is_no_animal(full: Household, elsewhere: Household) -> None:
    with pytest.raises(ArchiveError, match="holds no animal"):
        take(archive_of(full), elsewhere)


def test_without_a_room_its_history_has_no_place(full: Household, elsewhere: Household) -> None:
    elsewhere.rooms.all().delete()
    with pytest.raises(ArchiveError, match="room"):
        take(animal_archive(animal_of(full)), elsewhere)


def test_the_next_keeper_takes_it_in_by_the_page(
    client: Client, full: Household, elsewhere: Household
) -> None:
    pip = animal_of(full)
    assert "the file of its history" in client.get(f"/animals/{pip.pk}/facts/").content.decode()
    client.post(f"/animals/{pip.pk}/file/")
    job = Job.objects.get(kind="zip")
    make_archive(job.pk)
    assert "The history of Pip" in client.get(f"/jobs/{job.pk}/").content.decode()
    answer = client.get(f"/jobs/{job.pk}/sheet.pdf")
    assert "pip.zip" in answer["Content-Disposition"]
    assert answer["Content-Type"] == "application/zip"
    theirs = Client()
    theirs.force_login(elsewhere.memberships.get().keeper)
    assert theirs.post(f"/animals/{pip.pk}/file/").status_code == 404
    assert theirs.get(f"/jobs/{job.pk}/sheet.pdf").status_code == 404
    page = theirs.get("/animals/take-in/")
    sent = {
        "form_key": str(page.context["form"]["form_key"].value()),
        "name": "",
        "came_on": str(clocks.today()),
    }
    wrong = theirs.post("/animals/take-in/", sent | {"came_on": "2999-01-01"})
    assert wrong.context["form"].errors.keys() == {"file", "came_on"}
    for _ in range(2):  # sent twice: taken in once
        file = SimpleUploadedFile("pip.zip", answer.content, "application/zip")
        told = theirs.post("/animals/take-in/", sent | {"file": file}, follow=True)
    made = elsewhere.animals.get()
    assert told.status_code == 200
    page = theirs.get(f"/animals/{made.pk}/").content.decode()
    assert "Pip" in page and theirs.get(f"/animals/{made.pk}/facts/").status_code == 200
    assert theirs.get("/today/").status_code == 200


def test_every_page_of_the_place_before_answers(client: Client, full: Household) -> None:
    """It was never built: each page says so, and none breaks."""
    pip = animal_of(full)
    entry = LogEntry.objects.get(household=full, stem__startswith="own ")
    LogEntry.objects.filter(pk=entry.pk).update(animal=pip)
    made = take(animal_archive(pip), full, "Pip again")
    before = full.enclosures.get(name="Pip again before")
    page = client.get(f"/enclosures/{before.pk}/").content.decode()
    assert "not one of your enclosures" in page and "Use it again" not in page
    for name, address in addresses(before.pk, before.room_id, made.pk):
        if address.startswith(("/enclosures/", "/animals/")):
            assert client.get(address).status_code < 500, name


# --- the schemas --------------------------------------------------------------------------------

SCHEMAS = Path(__file__).parents[2] / "docs" / "formats" / "schemas" / "archive"


def test_the_schemas_are_published_as_the_tables_are() -> None:
    """Run `bin/manage archive_schemas` after changing a table."""
    shipped = {file.name: file.read_text(encoding="utf-8") for file in SCHEMAS.glob("*.json")}
    assert shipped == {name: text_of(schema) for name, schema in schemas().items()}


def test_a_household_is_as_its_schema_says(full: Household) -> None:
    data = json.loads(json.dumps(household_data(full, {})))
    schema = schemas()["ridgeback-household-1.schema.json"]
    Draft202012Validator.check_schema(schema)
    assert [one.message for one in Draft202012Validator(schema).iter_errors(data)] == []
    assert sum(bool(rows) for rows in data["tables"].values()) > 9, "tables with rows"
    data["tables"]["animals"][0]["surprise"] = 1
    assert list(Draft202012Validator(schema).iter_errors(data))


def test_an_animal_is_as_its_schema_says(full: Household, pip: Enclosure) -> None:
    data = json.loads(json.dumps(animal_data(pip.present[0].animal, {})))
    schema = schemas()["ridgeback-animal-1.schema.json"]
    assert [one.message for one in Draft202012Validator(schema).iter_errors(data)] == []


def test_every_table_with_rows_is_a_table_for_a_spreadsheet(full: Household) -> None:
    tables = household_data(full, {})["tables"]
    with zipfile.ZipFile(io.BytesIO(archive_of(full))) as archive:
        found = {name for name in archive.namelist() if name.startswith("logs/")}
    assert found == {f"logs/{name}.csv" for name, rows in tables.items() if rows}


def test_drawings_and_sheets_go_with_it_and_it_comes_in_again(full: Household) -> None:
    keeper = full.memberships.get().keeper
    papers = dict(archive_papers(full, keeper.units, timezone.now()))
    lived_in = [one for one in Enclosure.objects.of(full).in_use().for_planning() if one.present]
    drawings = [body for name, body in papers.items() if name.startswith("drawings/")]
    assert len(drawings) == len(lived_in) and all(b"<svg" in one for one in drawings)
    sheets = {name: body for name, body in papers.items() if name.startswith("sheets/")}
    assert len(sheets) == len(lived_in) + 1 and "sheets/emergency-card.pdf" in sheets
    assert all(body.startswith(b"%PDF") for body in sheets.values())
    made = restore(archive_of(full, papers.items()), keeper)
    assert made.counts["enclosures"] == Enclosure.objects.of(full).count()
