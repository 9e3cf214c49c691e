"""`archive_schemas --folder FOLDER`: write the schemas of a household's file and of an animal's."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from ridgeback.archive.schema import schemas, text_of


class Command(BaseCommand):
    """Run it after a table of the archive changed; a test compares."""

    help = "Write the schemas of what a household takes out and in."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--folder", default="docs/formats/schemas/archive")

    def handle(self, *args: Any, **options: Any) -> None:
        folder = Path(options["folder"])
        folder.mkdir(parents=True, exist_ok=True)
        for name, schema in schemas().items():
            (folder / name).write_text(text_of(schema), encoding="utf-8")
            self.stdout.write(str(folder / name))
