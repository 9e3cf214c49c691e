"""Health, logs without anybody's data, and a backup that gives every table back."""

import datetime as dt
import io
import json
import logging
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import connection
from django.test import Client

from husbandry.records.channels import Quantity
from ridgeback.clock import now
from ridgeback.demo import household as demo
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household
from ridgeback.operations.logs import WithoutData
from ridgeback.operations.management.commands import scheduled_backup
from ridgeback.operations.postgres import run
from ridgeback.operations.retention import day_of, superseded
from ridgeback.records.flows import channel_for
from ridgeback.records.store import ensure_months, write_samples


def test_health_is_open_and_tells_nothing_private(client: Client, pip: Enclosure) -> None:
    answer = Client().get("/health/")
    assert (
        answer.status_code == 200
        and answer.json()["database"] == "ok"
        and answer.json()["worker"] == "silent"
    )
    assert set(answer.json()) == {"core", "database", "migrations", "worker", "waiting_jobs"}
    assert "no-store" in answer["Cache-Control"]


def test_health_fails_when_the_database_does(db: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    from django.db import OperationalError

    def gone(*args: Any) -> Any:
        raise OperationalError("gone, with secrets in the message")

    with monkeypatch.context() as patch:
        patch.setattr("ridgeback.operations.health.connection.cursor", gone)
        answer = Client().get("/health/ready")
        alive = Client().get("/health/live")
    assert alive.status_code == 200, "a database that is away restarts no process"
    assert (
        answer.status_code == 503
        and answer.json()["database"] == "silent"
        and "secrets" not in answer.content.decode()
    )


def test_a_live_process_asks_the_database_nothing(db: Any, django_assert_num_queries: Any) -> None:
    with django_assert_num_queries(0):
        answer = Client().get("/health/live")
    assert answer.status_code == 200 and "no-store" in answer["Cache-Control"]


@pytest.fixture
def lines() -> Any:
    """What is logged, formatted as in production."""
    from pythonjsonlogger.json import JsonFormatter

    stream = io.StringIO()
    handler = logging.StreamHandler(stream)
    handler.setFormatter(JsonFormatter("{asctime} {levelname} {name} {message}", style="{"))
    handler.addFilter(WithoutData())
    root = logging.getLogger()
    root.addHandler(handler)
    yield lambda: [json.loads(line) for line in stream.getvalue().splitlines()]
    root.removeHandler(handler)


def test_a_request_is_one_line_by_its_route(client: Client, pip: Enclosure, lines: Any) -> None:
    answer = client.get("/", {"query": "a very private question"})
    client.get(f"/enclosures/{pip.pk}/calculation/", {"at": "/needs/0/low"})
    told = [line for line in lines() if line["name"] == "ridgeback.requests"]
    assert [line["route"] for line in told] == ["", "enclosures/<int:pk>/calculation/"]
    assert (
        told[0]["status"] == 200
        and told[0]["ms"] > 0
        and told[0]["request_id"] == answer["X-Request-Id"]
    )
    assert "private" not in json.dumps(lines()) and str(pip.pk) not in told[1]["route"]


def test_an_error_says_where_but_not_with_what(
    client: Client, pip: Enclosure, lines: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*args: Any, **kwargs: Any) -> Any:
        raise ValueError("the animal Secretname weighs 62 g")

    monkeypatch.setattr("ridgeback.enclosure_pages.views.planned", broken)
    client.raise_request_exception = False
    assert client.get(f"/enclosures/{pip.pk}/?q=Secretname").status_code == 500
    client.get("/enclosures/999999/?q=Secretname")
    text = json.dumps(lines())
    assert "Secretname" not in text and "ValueError" in text and "views.py" in text


def tables() -> dict[str, list[tuple[Any, ...]]]:
    """Every row of every table, in a fixed order."""
    found = {}
    with connection.cursor() as cursor:
        for name in sorted(connection.introspection.table_names(cursor)):
            cursor.execute(f'select t::text from "{name}" t order by 1')
            found[name] = cursor.fetchall()
    return found


@pytest.mark.django_db(transaction=True)
def test_a_backup_gives_every_table_back(tmp_path: Path) -> None:
    demo.load(now())
    pip = Enclosure.objects.get(name="Pip’s enclosure")
    Enclosure.objects.filter(pk=pip.pk).update(name="Pip’s enclosure 🦎 “quoted” \\ tab\t")
    browser = Client()
    browser.post("/demo/")
    browser.get(f"/enclosures/{pip.pk}/")
    browser.post(f"/enclosures/{pip.pk}/sheet/")
    at_s = np.arange(1_700_000_000, 1_706_000_000, 86_400, dtype=np.int64)
    ensure_months(at_s)
    write_samples(channel_for(pip, Quantity.TEMPERATURE, "warm", "A"), at_s, at_s / 1e8, None)
    before = tables()
    assert {
        "enclosures_enclosure",
        "enclosures_revision",
        "jobs_job",
        "procrastinate_jobs",
        "households_keeper",
    } <= set(before)
    assert sum(len(rows) for rows in before.values()) > 100
    file = tmp_path / "all.backup"
    call_command("backup", str(file), stdout=io.StringIO())
    assert file.stat().st_mode & 0o077 == 0 and not list(tmp_path.glob("*.part"))
    with pytest.raises(CommandError, match="exists already"):
        call_command("backup", str(file))
    with pytest.raises(CommandError, match="holds tables"):
        call_command("restore", str(file))
    ensure_months(np.array([1_400_000_000], dtype=np.int64))  # a month that the backup has not
    Enclosure.objects.filter(pk=pip.pk).update(name="spoiled", head=None)
    assert tables() != before
    call_command("restore", str(file), "--replace", stdout=io.StringIO())
    assert tables() == before
    # and into an empty database
    name, own = "restored_elsewhere", connection.settings_dict["NAME"]
    with connection.cursor() as cursor:
        cursor.execute(f"drop database if exists {name}")
        cursor.execute(f"create database {name}")
    try:
        connection.close()
        connection.settings_dict["NAME"] = name
        call_command("restore", str(file), stdout=io.StringIO())
        assert tables() == before
    finally:
        connection.close()
        connection.settings_dict["NAME"] = own
        with connection.cursor() as cursor:
            cursor.execute(f"drop database {name}")


def test_what_is_no_backup_is_refused_before_anything_goes(
    client: Client, pip: Enclosure, tmp_path: Path
) -> None:
    file = tmp_path / "no.backup"
    file.write_text("not a backup")
    with pytest.raises(CommandError, match="pg_restore failed"):
        call_command("restore", str(file), "--replace")
    with pytest.raises(CommandError, match="not there"):
        call_command("restore", str(tmp_path / "none"))
    with pytest.raises(CommandError, match="folder"):
        call_command("backup", str(tmp_path / "none" / "x"))
    assert Enclosure.objects.filter(pk=pip.pk).exists()
    assert run(["pg_dump", "--version"]).startswith("pg_dump")


def test_the_secret_is_from_the_environment_or_made_once(tmp_path: Path) -> None:
    def secret(**environment: str) -> str:
        code = "from ridgeback.settings.local import SECRET_KEY; print(SECRET_KEY)"
        known = {"RIDGEBACK_STATE": str(tmp_path), "PATH": "", **environment}
        return subprocess.run(
            [sys.executable, "-c", code],
            cwd=settings.ROOT,
            env=known,
            capture_output=True,
            text=True,
            check=True,
        ).stdout.strip()

    made = secret()
    assert len(made) > 50 and secret() == made and secret(SECRET_KEY="given") == "given"
    assert (tmp_path / "secret").stat().st_mode & 0o077 == 0


def test_manage_runs_djangos_commands_with_our_settings(db: Any) -> None:
    known = connection.settings_dict
    url = f"postgresql://{known['USER']}@{known['HOST']}:{known['PORT']}/{known['NAME']}"
    done = subprocess.run(
        ["bin/manage", "check"],
        cwd=settings.ROOT,
        env={**os.environ, "DATABASE_URL": url},
        capture_output=True,
        text=True,
    )
    assert done.returncode == 0 and "no issues" in done.stdout, done.stderr


# --- the nightly backup -------------------------------------------------------------------------


def test_retention_keeps_days_then_weeks_then_months() -> None:
    """A backup every night for two years."""
    today = dt.date(2026, 11, 30)
    nights = [today - dt.timedelta(days=n) for n in range(730)]
    files = [Path(f"ridgeback-{on}-020000.backup") for on in nights]
    gone = superseded([*files, Path("notes.txt")], today, days=14, weeks=8, months=12)
    kept = [one for one in files if one not in gone]
    days = [day_of(one) for one in kept]
    assert days[:14] == nights[:14], "every night of two weeks"
    assert Path("notes.txt") not in gone
    assert 25 <= len(kept) <= 33
    assert {on.isocalendar()[:2] for on in days if on} >= {
        on.isocalendar()[:2] for on in nights[: 7 * 7]
    }
    assert {(on.year, on.month) for on in nights[:330]} <= {
        (on.year, on.month) for on in days if on
    }
    assert superseded(files[-1:], today, days=1, weeks=0, months=0) == [], "the newest stays"


@pytest.mark.django_db(transaction=True)
def test_a_nightly_backup_is_proved_and_supersedes_the_old(tmp_path: Path) -> None:
    Household.objects.create(name="Kept")
    old = tmp_path / "ridgeback-2020-01-01-020000.backup"
    old.write_bytes(b"old")
    stale = f"{connection.settings_dict['NAME'][:40]}_proof_1"
    run(["createdb", stale], str(connection.settings_dict["NAME"]))
    said = io.StringIO()
    call_command("scheduled_backup", str(tmp_path), "--months", "0", stdout=said)
    assert "Proved" in said.getvalue() and not old.exists()
    assert len(list(tmp_path.glob("*.backup"))) == 1
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT datname FROM pg_database WHERE starts_with(datname, %s)", [stale[:-1]]
        )
        assert cursor.fetchall() == [], "nor what a killed one left"


@pytest.mark.django_db(transaction=True)
def test_one_that_cannot_be_restored_lets_nothing_go(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    old = tmp_path / "ridgeback-2020-01-01-020000.backup"
    old.write_bytes(b"old")
    monkeypatch.setattr(
        scheduled_backup, "value", lambda question, database: database
    )  # the restored one answers otherwise
    with pytest.raises(CommandError, match="not whole"):
        call_command("scheduled_backup", str(tmp_path), stdout=io.StringIO())
    assert old.exists() and list(tmp_path.glob("*.failed"))
    with pytest.raises(CommandError, match="not there"):
        call_command("scheduled_backup", str(tmp_path / "none"), stdout=io.StringIO())
