"""PostgreSQL's own tools, found where Debian puts them, given the database by environment so that
no password is on a command line.
"""

import os
import shutil
import subprocess
from pathlib import Path

from django.core.management.base import CommandError
from django.db import connection


def tool(name: str) -> str:
    """Path of pg_dump or pg_restore: of the newest version that is installed.

    Raises
    ------
    CommandError
        It is not installed.
    """
    found = sorted(
        Path("/usr/lib/postgresql").glob(f"*/bin/{name}"),
        key=lambda path: int(path.parts[-3]),
        reverse=True,
    )
    path = str(found[0]) if found else shutil.which(name)
    if path is None:
        raise CommandError(f"{name} is not installed here (Debian: postgresql-client-15).")
    return path


def value(question: str, database: str) -> str:
    """What a database answers, as text."""
    return run(["psql", "--no-psqlrc", "-qtAc", question], database).strip()


def run(arguments: list[str], database: str = "") -> str:
    """Run a tool against the configured database; what it prints.

    Raises
    ------
    CommandError
        With the tool's own last line.
    """
    known = connection.settings_dict
    environment = {
        **os.environ,
        "PGHOST": known["HOST"] or "127.0.0.1",
        "PGPORT": str(known["PORT"] or 5432),
        "PGUSER": known["USER"],
        "PGPASSWORD": known["PASSWORD"],
        "PGDATABASE": database or known["NAME"],
    }
    done = subprocess.run(
        [tool(arguments[0]), *arguments[1:]], env=environment, capture_output=True, text=True
    )
    if done.returncode:
        lines = done.stderr.strip().splitlines() or ["no message"]
        raise CommandError(f"{arguments[0]} failed: {lines[-1]}")
    return done.stdout
