"""Long work: asked for once, shown with its progress, killed and resumed, and what it makes."""

import subprocess
import time
import uuid
from pathlib import Path

import pytest
from django.test import Client
from procrastinate.contrib.django.models import ProcrastinateJob

from ridgeback import background
from ridgeback.enclosures.models import Derived, Enclosure
from ridgeback.households.models import Household
from ridgeback.jobs import limits, tasks
from ridgeback.jobs.models import Job


def ask(client: Client, pip: Enclosure) -> Job:
    page = client.post(f"/enclosures/{pip.pk}/sheet/")["Location"]
    return Job.objects.get(pk=int(page.split("/")[2]))


def text_of(pdf: bytes, tmp_path: Path) -> str:
    """The words of a PDF, by poppler."""
    (tmp_path / "sheet.pdf").write_bytes(pdf)
    return subprocess.run(
        ["pdftotext", "-layout", "sheet.pdf", "-"],
        cwd=tmp_path,
        capture_output=True,
        text=True,
        check=True,
    ).stdout


def test_a_sheet_is_asked_for_made_and_fetched(
    client: Client, pip: Enclosure, tmp_path: Path
) -> None:
    job = ask(client, pip)
    assert (
        b"Waiting" in client.get(f"/jobs/{job.pk}/").content
        and client.get(f"/jobs/{job.pk}/sheet.pdf").status_code == 404
    )
    tasks.make_sheet(job.pk)
    assert b"Fetch the PDF" in client.get(f"/jobs/{job.pk}/").content
    pdf = client.get(f"/jobs/{job.pk}/sheet.pdf")
    assert pdf["Content-Type"] == "application/pdf" and pdf.content.startswith(b"%PDF")
    words = text_of(pdf.content, tmp_path)
    for said in (
        "Pip’s enclosure",
        "Surface 5.2 too low",
        "Lower the halogen flood",
        "Four weeks of food",
        "Cautions",
        "electrician",
        "38",
        "43 °C",
    ):
        assert said in words, said


def test_the_sheet_fits_a4_and_has_the_readers_units(
    client: Client, pip: Enclosure, tmp_path: Path
) -> None:
    client.post("/preferences/", {"units_system": "us", "units_temperature": "f"})
    job = ask(client, pip)
    tasks.make_sheet(job.pk)
    job.refresh_from_db()
    words = text_of(bytes(job.made or b""), tmp_path)
    assert "°F" in words and "43.3 in" in words and "°C" not in words
    info = subprocess.run(
        ["pdfinfo", "sheet.pdf"], cwd=tmp_path, capture_output=True, text=True, check=True
    ).stdout
    assert "A4" in info


def test_the_same_sheet_is_one_job_and_a_changed_enclosure_another(
    client: Client, pip: Enclosure
) -> None:
    first = ask(client, pip)
    assert ask(client, pip) == first
    view = client.get(f"/enclosures/{pip.pk}/").context["view"]
    client.post(
        f"/enclosures/{pip.pk}/apply/",
        {"change": f"{view.first.kind}/{view.first.item_id}", "revision": "1"},
    )
    assert ask(client, pip) != first


def test_a_job_killed_anywhere_is_made_whole_by_the_next_run(
    client: Client, pip: Enclosure, monkeypatch: pytest.MonkeyPatch
) -> None:
    job = ask(client, pip)
    for broken in ("planned", "sheet_html", "sheet_pdf"):
        with monkeypatch.context() as patch:
            patch.setattr(
                tasks, broken, lambda *a, **k: (_ for _ in ()).throw(KeyboardInterrupt)
            )  # as a kill: nothing is tidied
            with pytest.raises(KeyboardInterrupt):
                tasks.make_sheet(job.pk)
        job.refresh_from_db()
        assert job.state == Job.State.RUNNING and job.made is None
    tasks.make_sheet(job.pk)
    job.refresh_from_db()
    made, at = bytes(job.made or b""), job.finished_at
    tasks.make_sheet(job.pk)  # delivered twice: once is enough
    job.refresh_from_db()
    assert job.state == Job.State.DONE and bytes(job.made or b"") == made and job.finished_at == at


def test_a_failure_is_said_and_may_be_asked_again(
    client: Client, pip: Enclosure, monkeypatch: pytest.MonkeyPatch
) -> None:
    job = ask(client, pip)
    with monkeypatch.context() as patch:
        patch.setattr(tasks, "sheet_pdf", lambda *given: 1 / 0)
        with pytest.raises(ZeroDivisionError):
            tasks.make_sheet(job.pk)
    assert "could not be made" in client.get(f"/jobs/{job.pk}/").content.decode()
    assert ask(client, pip) == job and Job.objects.get(pk=job.pk).state == Job.State.WAITING


def test_another_households_job_is_not_found(
    client: Client, stranger: Client, pip: Enclosure
) -> None:
    job = ask(client, pip)
    assert stranger.get(f"/jobs/{job.pk}/").status_code == 404
    assert stranger.get(f"/jobs/{job.pk}/sheet.pdf").status_code == 404
    assert stranger.post(f"/enclosures/{pip.pk}/sheet/").status_code == 404


def test_a_sheet_fetches_nothing_and_runs_nothing(
    client: Client, pip: Enclosure, tmp_path: Path
) -> None:
    Enclosure.objects.filter(pk=pip.pk).update(
        name='</style><img src="https://elsewhere.example/x.png"><script>1</script>'
    )
    job = ask(client, pip)
    tasks.make_sheet(job.pk)
    job.refresh_from_db()
    assert "<script>" in text_of(bytes(job.made or b""), tmp_path)


@pytest.mark.usefixtures("forgetful")
def test_missing_plans_are_made_by_a_worker(client: Client, household: Household) -> None:
    assert client.get("/").context["enclosures"].pending
    tasks.make_plans(household.pk)
    enclosures = client.get("/").context["enclosures"]
    assert not enclosures.pending and enclosures.rows[0].change
    tasks.make_plans(household.pk)


@pytest.mark.usefixtures("forgetful")
def test_old_memories_are_forgotten(client: Client, pip: Enclosure) -> None:
    client.get(f"/enclosures/{pip.pk}/")
    assert Derived.objects.exists()
    tasks.forget(0)
    assert Derived.objects.exists()
    Derived.objects.update(made_at="2020-01-01T00:00Z")
    tasks.forget(0)
    assert not Derived.objects.exists()


def test_a_sheet_is_of_the_enclosure_as_it_was_asked_for(
    client: Client, pip: Enclosure, tmp_path: Path
) -> None:
    """The enclosure changes before a worker comes: the sheet that is kept under the old content
    must be of the old content.
    """
    job = ask(client, pip)
    view = client.get(f"/enclosures/{pip.pk}/").context["view"]
    client.post(
        f"/enclosures/{pip.pk}/apply/",
        {"change": f"{view.first.kind}/{view.first.item_id}", "revision": "1"},
    )
    tasks.make_sheet(job.pk)
    job.refresh_from_db()
    assert "Surface 5.2 too low" in text_of(bytes(job.made or b""), tmp_path)


@pytest.mark.usefixtures("forgetful")
def test_an_enclosure_that_cannot_be_planned_does_not_stop_the_others(
    client: Client, household: Household, pip: Enclosure
) -> None:
    assert pip.head is not None
    pip.head.spec = {**pip.head.spec, "enclosure": {}}
    pip.head.save()
    client.get("/")
    tasks.make_plans(household.pk)
    rows = client.get("/").context["enclosures"].rows
    assert {row.enclosure.name: row.whole for row in rows} == dict.fromkeys(
        (row.enclosure.name for row in rows), True
    )
    assert any(row.problem.startswith("Cannot be calculated") for row in rows)


# --- who is next, how long, how often -----------------------------------------------------------


def queued(job: Job) -> ProcrastinateJob:
    return ProcrastinateJob.objects.get(args__job=job.pk)


def another(household: Household, kind: str = Job.Kind.PAPER) -> Job:
    return Job.objects.create(
        household=household, key=uuid.uuid4().hex, asked={"paper": "card", "size": "A4"}, kind=kind
    )


def test_a_household_that_asks_often_stands_behind_one_that_asks_once(
    household: Household,
) -> None:
    """25 files of one, then a file and a sheet of another: both come before the second file."""
    busy = Household.objects.create(name="Busy")
    theirs = []
    for _ in range(25):
        theirs.append(another(busy, Job.Kind.ARCHIVE))
        limits.queue(theirs[-1], "make_archive")
    zipped = another(household, Job.Kind.ARCHIVE)
    limits.queue(zipped, "make_archive")
    sheet = another(household)
    limits.queue(sheet, "make_sheet")
    order = ProcrastinateJob.objects.filter(task_name__in=["make_sheet", "make_archive"])
    first = [one.args["job"] for one in order.order_by("-priority", "pk")][:4]
    assert first == [sheet.pk, theirs[0].pk, zipped.pk, theirs[1].pk]
    assert len({queued(one).lock for one in theirs}) == 1, "one at a time"
    assert queued(sheet).lock is None


def test_what_waits_is_bounded_and_said_with_what_waits(
    client: Client, pip: Enclosure, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(limits, "MOST_WAITING", 2)
    for _ in range(2):
        another(pip.household)
    before = Job.objects.count()
    answer = client.post(f"/enclosures/{pip.pk}/sheet/")
    assert answer.status_code == 429 and "Too much is waiting" in answer.content.decode()
    assert Job.objects.count() == before, "nothing half done"
    assert len(answer.context["waiting"]) == 2


def test_one_that_takes_too_long_ends_its_worker_and_is_given_up_after_some(
    client: Client, pip: Enclosure, monkeypatch: pytest.MonkeyPatch
) -> None:
    ended: list[int] = []
    monkeypatch.setattr(background, "end_worker", lambda what, pk: ended.append(pk))
    monkeypatch.setitem(limits.MOST_S, Job.Kind.SHEET, 0.01)
    job = ask(client, pip)
    with limits.limited(job):
        time.sleep(0.2)
    assert ended == [job.pk]
    for _ in range(limits.MOST_TRIES):
        assert limits.begin(job.pk) is not None
    assert limits.begin(job.pk) is None
    job.refresh_from_db()
    assert job.state == Job.State.FAILED and "too long" in job.said
    assert ask(client, pip) == job
    job.refresh_from_db()
    assert job.state == Job.State.WAITING and job.tries == 0, "it may be asked for again"


def test_a_stopped_job_is_not_begun(client: Client, pip: Enclosure) -> None:
    job = ask(client, pip)
    client.post(f"/jobs/{job.pk}/stop/")
    assert limits.begin(job.pk) is None
