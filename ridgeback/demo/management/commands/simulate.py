"""Simulated devices: they send into a household of the demo what loggers in hidden enclosures show."""

import time
from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from husbandry.simulation.loggers import Fault
from ridgeback.clock import now
from ridgeback.demo.devices import FAULTS, devices_for
from ridgeback.households.models import Household

STEP_S = 60


class Command(BaseCommand):
    """Send what simulated devices measure, back-filled and as it goes."""

    help = "Send what simulated devices measure into a household of the demo."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """What is sent, for how long, and what goes wrong."""
        parser.add_argument("--household", type=int, help="its key; else the latest visitor’s")
        parser.add_argument("--days", type=int, default=7, help="to back-fill (1 to 120)")
        parser.add_argument("--live", type=float, default=0, help="minutes to go on for")
        parser.add_argument("--fault", choices=FAULTS, help="begins with the live minutes")

    def handle(self, *args: Any, **options: Any) -> None:
        """Back-fill, then go on."""
        rows = Household.objects.filter(visit_ends__isnull=False).order_by("-pk")
        if options["household"] is not None:
            rows = rows.filter(pk=options["household"])
        household = rows.first()
        if household is None:
            raise CommandError("There is no such household of the demo: open the demo first.")
        if not 1 <= options["days"] <= 120:
            raise CommandError("--days lies from 1 to 120.")
        begin_s = int(now().timestamp())
        found = devices_for(household, now())
        for device in found:
            sent = device.send(begin_s - options["days"] * 86_400, begin_s, step_s=600)
            self.stdout.write(f"{device.enclosure}: {sent} values of {options['days']} days")
        end_s = begin_s + int(options["live"] * 60)
        faults = (Fault(options["fault"], begin_s, end_s + 86_400),) if options["fault"] else ()
        at_s = begin_s
        while at_s < end_s:
            time.sleep(max(0.0, at_s + STEP_S - now().timestamp()))
            at_s += STEP_S
            for device in found[:1] if faults else found:
                device.send(at_s - STEP_S, at_s, step_s=STEP_S, faults=faults)
