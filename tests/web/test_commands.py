"""The commands at the root, as far as they can be tried without a second machine."""

import subprocess
from pathlib import Path

import pytest
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import connection
from django.db.migrations.recorder import MigrationRecorder

from ridgeback.enclosures.models import Enclosure
from ridgeback.households.models import Household

ROOT = Path(settings.ROOT)


def run(*words: str, **environment: str) -> subprocess.CompletedProcess[str]:
    import os

    return subprocess.run(
        words,
        cwd=ROOT,
        capture_output=True,
        text=True,
        env={**os.environ, **environment},
        timeout=60,
    )


@pytest.mark.parametrize(
    "script",
    ["start", "test", "bin/setup", "bin/pg", "bin/lock", "bin/vendor", "bin/pictures", ".ci/run"],
)
def test_scripts_are_sound_and_executable(script: str) -> None:
    assert run("bash", "-n", script).returncode == 0
    assert (ROOT / script).stat().st_mode & 0o111


def test_start_refuses_what_it_does_not_know() -> None:
    assert run("./start", "--bogus").returncode == 64
    assert "number from 1 to 65535" in run("./start", "--port", "http").stderr
    assert "--fresh" in run("./start", "--help").stderr


def test_fresh_never_throws_a_named_server_away() -> None:
    refused = run("./start", "--fresh", DATABASE_URL="postgresql://somebody@127.0.0.1/precious")
    assert refused.returncode == 1 and "never the server that DATABASE_URL names" in refused.stderr


def test_test_refuses_what_it_does_not_know() -> None:
    assert run("./test", "everything").returncode == 64
    assert run("bin/pg", "explode").returncode == 64


def test_ci_runs_the_developers_command() -> None:
    assert "exec ./test" in (ROOT / ".ci" / "run").read_text()


def test_no_registry_stands_in_a_lock_file() -> None:
    for lock in ("run", "dev"):
        text = (ROOT / "requirements" / f"{lock}.lock").read_text()
        assert "://" not in text and "--hash=sha256:" in text
    assert '"resolved"' not in (ROOT / "frontend" / "package-lock.json").read_text()


@pytest.mark.django_db
def test_prepare_loads_the_demo_once(empty: None, tmp_path: Path, settings: object) -> None:
    settings.STATIC_ROOT = tmp_path / "static"  # type: ignore[attr-defined]
    for _ in range(2):
        call_command("prepare", "--demo")
    assert Household.objects.count() == 1 and Enclosure.objects.count() == 5
    assert (tmp_path / "static" / "css" / "paper.css").exists()


def test_a_database_from_before_the_first_release_is_refused(empty: None) -> None:
    MigrationRecorder(connection).record_applied("households", "0004_closing")
    with pytest.raises(CommandError, match="before the first release"):
        call_command("prepare")
