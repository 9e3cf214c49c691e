"""`prepare`: everything between a database and a server that may start, in one process."""

from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import OperationalError, connection
from django.db.migrations.recorder import MigrationRecorder

from ridgeback import clock
from ridgeback.background import ask_for_lives, ask_for_plans
from ridgeback.demo import household

MIGRATIONS = 0x51D6E
"""Key of the lock under which the tables are brought up to date."""


UNRELEASED = ("households", "0004_closing")
"""A migration of the time before the first release, when they were made anew."""


def _refuse_unreleased() -> None:
    """A database of that time has other steps behind it than are written here now."""
    applied = MigrationRecorder(connection).applied_migrations()
    if UNRELEASED in applied:
        raise CommandError(
            "This database was made before the first release, and its tables are made otherwise now."
            " Take your household out with the version that made it, or throw the database away:"
            " ./start --fresh."
        )


class Command(BaseCommand):
    """Migrate, collect the static files, load the demo once."""

    help = (
        "Bring the database and the static files up to date; with --demo load the demo household"
        " once."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--demo", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            connection.ensure_connection()
        except OperationalError as why:
            first_line = str(why).splitlines()[0]
            raise CommandError(
                f"The database does not answer ({first_line}). Check DATABASE_URL, or leave it out."
            ) from None
        with connection.cursor() as cursor:  # of several hosts that start at once one migrates
            cursor.execute("SELECT pg_advisory_lock(%s)", [MIGRATIONS])
        try:
            _refuse_unreleased()
            call_command("migrate", interactive=False, verbosity=0)
            call_command("createcachetable", verbosity=0)
        finally:
            with connection.cursor() as cursor:
                cursor.execute("SELECT pg_advisory_unlock(%s)", [MIGRATIONS])
        settings.STATIC_ROOT.mkdir(parents=True, exist_ok=True)
        call_command("collectstatic", interactive=False, verbosity=0)
        if options["demo"]:
            template = household.load(clock.now())
            ask_for_plans(template)  # a visitor's copy finds them by content
            ask_for_lives(template)
