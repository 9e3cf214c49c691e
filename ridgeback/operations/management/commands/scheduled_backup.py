"""`scheduled_backup FOLDER`: a dated backup, proved by restoring it; those that are superseded go."""

import contextlib
import os
from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from ridgeback.clock import now
from ridgeback.operations.postgres import run, value
from ridgeback.operations.retention import name_at, superseded

COUNTED = "SELECT count(*) FROM information_schema.tables WHERE table_schema = 'public'"
MIGRATED = "SELECT count(*), coalesce(max(id), 0) FROM django_migrations"

LEFT = "SELECT datname FROM pg_database WHERE starts_with(datname, '{}')"


class Command(BaseCommand):
    """Run by a timer. Nothing goes before the new backup was proved."""

    help = (
        "Write a dated backup into FOLDER, restore it beside the database as proof, and tidy up."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("folder")
        parser.add_argument("--days", type=int, default=14, help="all of the last days")
        parser.add_argument("--weeks", type=int, default=8, help="one a week for so long")
        parser.add_argument("--months", type=int, default=12, help="one a month for so long")
        parser.add_argument("--unproved", action="store_true", help="do not restore it as proof")

    def handle(self, *args: Any, **options: Any) -> None:
        folder = Path(options["folder"])
        if not folder.is_dir():
            raise CommandError(f"The folder {folder} is not there.")
        if options["days"] < 1 or options["weeks"] < 0 or options["months"] < 0:
            raise CommandError("Keep the backups of one day at the least.")
        moment = now()
        file = folder / name_at(moment)
        call_command("backup", str(file), stdout=self.stdout)
        if not options["unproved"]:
            try:
                prove(file)
            except CommandError:
                file.rename(file.with_suffix(".failed"))
                raise
            self.stdout.write("Proved: it was restored whole.")
        kept = {name: options[name] for name in ("days", "weeks", "months")}
        for old in superseded(folder.iterdir(), moment.date(), **kept):
            old.unlink()
            self.stdout.write(f"Superseded: {old.name} is gone.")


def prove(file: Path) -> None:
    """Restore a backup into a database of its own, look at it, and throw that away.

    Raises
    ------
    CommandError
        It cannot be restored, or lacks tables or migrations of the database that it is of.
    """
    name = str(connection.settings_dict["NAME"])
    scratch = f"{name[:40]}_proof_{os.getpid()}"
    _tidy(name)
    run(["createdb", scratch], name)
    try:
        run(
            ["pg_restore", "--exit-on-error", "--no-owner", f"--dbname={scratch}", str(file)],
            scratch,
        )
        for question in (COUNTED, MIGRATED):
            if value(question, scratch) != value(question, name):
                raise CommandError(f"{file} was restored and is not whole.")
    finally:
        run(["dropdb", "--force", scratch], name)


def _tidy(name: str) -> None:
    """Throw away what a proof left that was killed; one that goes on is in use and stays."""
    prefix = f"{name[:40]}_proof_"
    for stale in value(LEFT.format(prefix), name).split():
        if stale.startswith(prefix):  # whatever is answered: no other database is ever dropped
            with contextlib.suppress(CommandError):
                run(["dropdb", "--if-exists", stale], name)
