"""`restore FILE`: a backup into the configured database, all or nothing."""

import tempfile
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from ridgeback.operations.postgres import run


class Command(BaseCommand):
    """Refuses a database that holds anything, unless told to replace it."""

    help = "Restore FILE into the database. With --replace what is there goes first."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file")
        parser.add_argument(
            "--replace", action="store_true", help="throw away what the database holds"
        )

    def handle(self, *args: Any, **options: Any) -> None:
        source = Path(options["file"])
        if not source.is_file():
            raise CommandError(f"{source} is not there.")
        run(
            ["pg_restore", "--list", str(source)]
        )  # a file that is no backup is refused before anything goes
        held = connection.introspection.table_names()
        if held and not options["replace"]:
            raise CommandError(
                "This database holds tables already. Restore into an empty one, or say --replace."
            )
        name = connection.settings_dict["NAME"]
        connection.close()
        if held:
            _replace(source, name)
        else:
            run(
                [
                    "pg_restore",
                    "--exit-on-error",
                    "--single-transaction",
                    "--no-owner",
                    f"--dbname={name}",
                    str(source),
                ],
                name,
            )
        self.stdout.write(f"Restored {source}.")


def _replace(source: Path, name: str) -> None:
    """Take a backup into a database that holds tables, in one transaction.

    The tables of samples go first: the months that stand under them, which may be others than those of
    the backup, cannot be taken away one by one. The whole script is written before anything is touched,
    so that a backup that is cut off changes nothing.
    """
    with tempfile.TemporaryDirectory() as folder:
        script = Path(folder) / "restore.sql"
        run(
            ["pg_restore", "--clean", "--if-exists", "--no-owner", f"--file={script}", str(source)]
        )
        run(
            [
                "psql",
                "--no-psqlrc",
                "--quiet",
                "--single-transaction",
                "--set=ON_ERROR_STOP=1",
                "--command=DROP TABLE IF EXISTS records_sample CASCADE",
                f"--file={script}",
                f"--dbname={name}",
            ],
            name,
        )
