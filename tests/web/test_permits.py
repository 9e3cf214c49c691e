"""Papers of an animal: kept, brought up in time, gone with it; its pedigree; the bill of transfer."""

import datetime as dt
import io

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import IntegrityError, transaction
from django.test import Client
from pypdf import PdfReader, PdfWriter
from pypdf.generic import DictionaryObject, NameObject, TextStringObject

from ridgeback.animals.models import Animal
from ridgeback.archive.reading import restore
from ridgeback.archive.writing import animal_archive, archive_of
from ridgeback.breeding.flows import hatch, lay
from ridgeback.breeding.pedigree import pedigree_of
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household, Keeper, Membership
from ridgeback.jobs import tasks
from ridgeback.permits import flows as permits
from ridgeback.permits.models import NOTICE_DAYS, AnimalDocument
from ridgeback.photos.models import Picture
from tests import clocks
from tests.web.test_photos import photo


def day(n: int) -> dt.date:
    return clocks.today() + dt.timedelta(days=n)


@pytest.fixture
def bramble(pip: Enclosure) -> Animal:
    """The female gecko."""
    return Animal.objects.get(name="Bramble")


def send(client: Client, animal: Animal, body: bytes = b"", **more: str) -> str:
    facts = {
        "kind": "permit",
        "number": "K 12/7",
        "issued_by": "District office",
        "issued_on": str(day(-200)),
        "expires_on": str(day(200)),
        "note": "",
        **more,
    }
    file = {"file": SimpleUploadedFile("scan.jpg", body, "image/jpeg")} if body else {}
    answer = client.post(f"/animals/{animal.pk}/papers/", {**facts, **file}, follow=True)
    for waiting in Picture.objects.waiting():
        tasks.shrink_picture(waiting.pk)
    return answer.content.decode()


def test_a_paper_is_kept_with_its_scan(client: Client, bramble: Animal) -> None:
    page = send(client, bramble, photo(900, 600))
    kept = AnimalDocument.objects.get(animal=bramble)
    assert "K 12/7" in page and "District office" in page
    assert Picture.objects.get().small and kept.scan_id == Picture.objects.get().pk
    page = client.get(f"/animals/{bramble.pk}/papers/").content.decode()
    assert f"/photos/{kept.scan_id}/small.jpg" in page
    client.post(f"/permits/{kept.pk}/delete/")
    assert not AnimalDocument.objects.filter(animal=bramble).exists()
    assert not Picture.objects.exists(), "its scan goes with it"


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"expires_on": str(day(-300))}, "expires_on"),
        ({"issued_on": str(day(1))}, "issued_on"),
        ({"expires_on": "2999-01-01"}, "expires_on"),
        ({"number": "", "issued_by": ""}, "number"),
        ({"kind": "licence"}, "kind"),
    ],
)
def test_what_cannot_be_is_said_beside_its_field(
    client: Client, bramble: Animal, more: dict[str, str], field: str
) -> None:
    facts = {"kind": "permit", "number": "K 1", "issued_on": str(day(-200)), **more}
    answer = client.post(f"/animals/{bramble.pk}/papers/", facts)
    assert list(answer.context["form"].errors) == [field]
    assert not AnimalDocument.objects.filter(animal=bramble).exists()


def test_a_file_that_is_no_picture_is_refused(client: Client, bramble: Animal) -> None:
    page = send(client, bramble, b"GIF89a and so on")
    assert "JPEG, PNG, WebP or PDF" in page and "K 12/7" in page, "what was typed stays"
    assert not AnimalDocument.objects.filter(animal=bramble).exists()


def test_the_same_form_twice_is_one_paper(client: Client, bramble: Animal) -> None:
    key = {"form_key": "7a4a2f6e-0000-4000-8000-000000000009"}
    send(client, bramble, **key)
    send(client, bramble, **key)
    assert AnimalDocument.objects.filter(animal=bramble).count() == 1


def test_the_database_refuses_a_paper_that_says_nothing(bramble: Animal) -> None:
    with pytest.raises(IntegrityError), transaction.atomic():
        AnimalDocument.objects.create(animal=bramble, kind="permit")
    with pytest.raises(IntegrityError), transaction.atomic():
        AnimalDocument.objects.create(
            animal=bramble, kind="mark", number="1", issued_on=day(0), expires_on=day(-1)
        )


@pytest.mark.parametrize(
    ("ends", "state"),
    [
        (None, ""),
        (NOTICE_DAYS + 1, ""),
        (NOTICE_DAYS, "ends soon"),
        (0, "ends soon"),
        (-1, "ended"),
    ],
)
def test_what_runs_out_is_brought_up_in_time(
    client: Client, bramble: Animal, ends: int | None, state: str
) -> None:
    AnimalDocument.objects.all().delete()
    until = None if ends is None else day(ends)
    paper = AnimalDocument.objects.create(
        animal=bramble, kind="permit", number="1", expires_on=until
    )
    assert paper.state(clocks.today()) == state
    answer = client.get("/coming-up/")
    said = [row for row in answer.context["now"] if row["title"].startswith("Bramble: Permit")]
    later = [row for month in answer.context["months"] for row in month["rows"]]
    listed = any(row["title"].startswith("Bramble: Permit") for row in later)
    assert (bool(said), listed) == (state != "", ends is not None and state == "")
    assert not said or said[0]["leads_to"] == f"/animals/{bramble.pk}/papers/"


def test_a_scan_is_nobodys_but_its_keepers(
    client: Client, bramble: Animal, household: Household
) -> None:
    send(client, bramble, photo(900, 600))
    scan = Picture.objects.get()
    assert "Permit to keep it" not in client.get(f"/animals/{bramble.pk}/photos/").content.decode()
    assert client.get(f"/photos/{scan.pk}.jpg").status_code == 200
    household.memberships.update(role=Membership.Role.SITTER, from_on=day(-1), until_on=day(1))
    assert client.get(f"/photos/{scan.pk}.jpg").status_code == 404
    assert client.get(f"/animals/{bramble.pk}/papers/").status_code == 403


def test_another_household_sees_and_takes_nothing(
    client: Client, stranger: Client, bramble: Animal
) -> None:
    send(client, bramble)
    kept = AnimalDocument.objects.get(animal=bramble)
    assert stranger.get(f"/animals/{bramble.pk}/papers/").status_code == 404
    assert stranger.post(f"/animals/{bramble.pk}/papers/", {}).status_code == 404
    assert stranger.post(f"/permits/{kept.pk}/delete/").status_code == 404
    assert stranger.get(f"/animals/{bramble.pk}/transfer/").status_code == 404
    assert AnimalDocument.objects.filter(pk=kept.pk).exists()


def bred(household: Household, mother: Animal, father: Animal, name: str) -> Animal:
    clutch = lay(
        household,
        species=mother.species,
        mother=mother,
        father=father,
        laid_on=day(-90),
        count=1,
        set_c=29.0,
    )
    return hatch(clutch, on=day(-30), number=1, name=name, last=True)[0]


def test_a_pedigree_follows_the_clutches(bramble: Animal, household: Household) -> None:
    """Grandparents by hand: the mother's parents stand under her."""
    species = bramble.species
    sire, other = (
        household.animals.create(name=name, species=species, sex="male")
        for name in ("Thorn", "Flint")
    )
    daughter = bred(household, bramble, sire, "Briar")
    young = bred(household, daughter, other, "Bud")
    made = pedigree_of(young)
    assert made is not None and made.hatched_on == day(-30)
    assert [(one.relation, one.animal.name, one.depth) for one in made.ancestors] == [
        ("mother", "Briar", 1),
        ("mother’s mother", "Bramble", 2),
        ("mother’s father", "Thorn", 2),
        ("father", "Flint", 1),
    ]
    assert pedigree_of(bramble) is None


@pytest.mark.parametrize("wrong", ["species", "age", "mother"])
def test_a_father_that_cannot_be_is_refused(
    client: Client, bramble: Animal, household: Household, wrong: str
) -> None:
    species = "Tiliqua scincoides" if wrong == "species" else bramble.species
    born = day(-10) if wrong == "age" else day(-900)
    sire = household.animals.create(name="Flint", species=species, sex="unknown", born_on=born)
    mother = sire if wrong == "mother" else bramble
    answer = client.post(
        "/breeding/", {"mother": mother.pk, "father": sire.pk, "laid_on": str(day(-40))}
    )
    assert "father" in answer.context["form"].errors


def test_the_bill_names_the_animal_its_marks_and_what_goes_with_it(
    client: Client, bramble: Animal
) -> None:
    send(client, bramble)
    send(client, bramble, kind="mark", number="985 1", expires_on="")
    send(client, bramble, number="OLD 9", expires_on=str(day(-3)))
    answer = client.get(f"/animals/{bramble.pk}/transfer/")
    bill, page = answer.context["bill"], answer.content.decode()
    assert [one.number for one in bill.marks] == ["985 1"]
    assert [one.number for one in bill.documents] == ["K 12/7"]
    assert [one.number for one in bill.ended] == ["OLD 9"]
    assert "no legal advice" in page and "Signed by both" in page
    assert " g on " in bill.body


def test_its_papers_go_with_its_file(bramble: Animal, client: Client) -> None:
    send(client, bramble)
    assert b"K 12/7" in animal_archive_text(bramble)


def animal_archive_text(animal: Animal) -> bytes:
    """The rows of an animal's file."""
    import io
    import zipfile

    with zipfile.ZipFile(io.BytesIO(animal_archive(animal))) as opened:
        return opened.read("animal.json")


# --- scans that come as PDF ---------------------------------------------------------------------


def scanned(pages: int = 1, script: bool = False, password: str = "") -> bytes:
    """A PDF of empty pages."""
    made = PdfWriter()
    for _ in range(pages):
        made.add_blank_page(200, 300)
    if script:
        made.pages[0][NameObject("/AA")] = DictionaryObject(
            {NameObject("/O"): TextStringObject("app.alert('hello')")}
        )
        made.add_attachment("run.sh", b"echo")
    if password:
        made.encrypt(password)
    out = io.BytesIO()
    made.write(out)
    return out.getvalue()


def sent_pdf(client: Client, animal: Animal, body: bytes) -> AnimalDocument | None:
    file = SimpleUploadedFile("scan.pdf", body, "application/pdf")
    client.post(f"/animals/{animal.pk}/papers/", {"kind": "permit", "file": file})
    return AnimalDocument.objects.order_by("-pk").first()


def test_a_scan_as_pdf_is_written_anew_and_fetched(client: Client, bramble: Animal) -> None:
    kept = sent_pdf(client, bramble, scanned(3, script=True))
    assert kept is not None and kept.pdf is None
    assert "is being read" in client.get(f"/animals/{bramble.pk}/papers/").content.decode()
    assert client.get(f"/permits/{kept.pk}/scan.pdf").status_code == 404
    tasks.rewrite_scan(kept.pk)
    page = client.get(f"/animals/{bramble.pk}/papers/").content.decode()
    assert f"/permits/{kept.pk}/scan.pdf" in page
    answer = client.get(f"/permits/{kept.pk}/scan.pdf")
    assert answer["Content-Type"] == "application/pdf"
    assert answer["Content-Disposition"].startswith("attachment")
    read = PdfReader(io.BytesIO(answer.content))
    assert len(read.pages) == 3
    assert b"app.alert" not in answer.content and not read.attachments
    kept.refresh_from_db()
    assert kept.pdf_original is None


@pytest.mark.parametrize(
    ("body", "said"),
    [
        (b"%PDF-1.7 nothing more", "damaged or cut off"),
        (scanned(2)[:-400], "damaged or cut off"),
        (scanned(41), "41 pages"),
        (scanned(1, password="x"), "locked by a password"),
    ],
)
def test_a_pdf_that_cannot_be_read_says_why(
    client: Client, bramble: Animal, body: bytes, said: str
) -> None:
    kept = sent_pdf(client, bramble, body)
    assert kept is not None
    tasks.rewrite_scan(kept.pk)
    assert said in client.get(f"/animals/{bramble.pk}/papers/").content.decode()
    assert client.get(f"/permits/{kept.pk}/scan.pdf").status_code == 404


def test_one_that_killed_its_worker_is_not_opened_again(
    client: Client, bramble: Animal, monkeypatch: pytest.MonkeyPatch
) -> None:
    kept = sent_pdf(client, bramble, scanned())
    assert kept is not None

    def killed(body: bytes) -> bytes:
        raise KeyboardInterrupt  # as a kill: nothing is tidied

    with monkeypatch.context() as patch:
        patch.setattr(permits, "rewrite", killed)
        with pytest.raises(KeyboardInterrupt):
            tasks.rewrite_scan(kept.pk)
    tasks.rewrite_scan(kept.pk)
    kept.refresh_from_db()
    assert kept.pdf is None and kept.pdf_original is None and "as a photo" in kept.pdf_problem


def test_a_scan_as_pdf_is_nobodys_but_its_keepers(
    client: Client, stranger: Client, bramble: Animal
) -> None:
    kept = sent_pdf(client, bramble, scanned())
    assert kept is not None
    tasks.rewrite_scan(kept.pk)
    assert stranger.get(f"/permits/{kept.pk}/scan.pdf").status_code == 404
    sitting = {"role": Membership.Role.SITTER, "from_on": day(-1), "until_on": day(1)}
    bramble.household.memberships.update(**sitting)
    assert client.get(f"/permits/{kept.pk}/scan.pdf").status_code == 403


def test_it_goes_with_the_animal_and_with_the_household(client: Client, bramble: Animal) -> None:
    kept = sent_pdf(client, bramble, scanned(2))
    assert kept is not None
    tasks.rewrite_scan(kept.pk)
    keeper = Keeper.objects.create_user("next", password="a-long-passphrase")
    found = restore(archive_of(bramble.household), keeper)
    again = AnimalDocument.objects.get(animal__household=found.household, pdf__isnull=False)
    assert len(PdfReader(io.BytesIO(bytes(again.pdf or b""))).pages) == 2
