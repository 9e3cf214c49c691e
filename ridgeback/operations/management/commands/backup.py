"""`backup FILE`: everything in the database, in PostgreSQL's own compressed format."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connection

from ridgeback.operations.postgres import run


class Command(BaseCommand):
    """Written beside its name first and moved there when it is whole, readable by its owner alone."""

    help = "Write a backup of the database into FILE (which must not exist yet)."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file")

    def handle(self, *args: Any, **options: Any) -> None:
        target = Path(options["file"])
        if target.exists():
            raise CommandError(f"{target} exists already: a backup never overwrites one.")
        if not target.parent.is_dir():
            raise CommandError(f"The folder {target.parent} is not there.")
        part = target.with_name(target.name + ".part")
        part.touch(mode=0o600)
        try:
            run(
                ["pg_dump", "--format=custom", "--no-owner", "--no-privileges", f"--file={part}"],
                connection.settings_dict["NAME"],
            )
            part.replace(target)
        finally:
            part.unlink(missing_ok=True)
        self.stdout.write(
            f"{target}: {target.stat().st_size / 1e6:.2f} MB. It holds private data: keep it as you"
            " keep the database."
        )
