"""`returned_mail < REPORT`: a mail server gives a report of mail that came back."""

import sys
from typing import Any

from django.core.management.base import BaseCommand

from ridgeback.clock import now
from ridgeback.digests.returned import MOST_BYTES, note_report


class Command(BaseCommand):
    """For an alias of the mail server: `returns: "|/opt/ridgeback/bin/manage returned_mail"`."""

    help = "Read one report of undelivered mail from standard input and note it."

    def handle(self, *args: Any, **options: Any) -> None:
        noted = note_report(sys.stdin.buffer.read(MOST_BYTES), now())
        closed = sum(one.is_closed for one in noted)
        self.stdout.write(f"{len(noted)} noted, {closed} closed.")
