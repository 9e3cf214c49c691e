"""Long work: asked for once, shown with its progress, killed and resumed, and what it makes."""

import subprocess
from pathlib import Path

import pytest
from django.test import Client

from ridgeback.enclosures.models import Derived, Enclosure
from ridgeback.households.models import Household
from ridgeback.jobs import tasks
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
        {"kind": view.first.kind, "item": view.first.item_id, "revision": "1"},
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
        {"kind": view.first.kind, "item": view.first.item_id, "revision": "1"},
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
