"""Telling people of alarms: who, when, by what; once each, the next ones when nobody answers."""

import datetime as dt
import logging

from django.conf import settings
from django.db import IntegrityError, transaction
from django.urls import reverse

from ridgeback import clock
from ridgeback.alarms.models import ESCALATE_MIN, Alarm, AlarmMessage, AlarmPreferences
from ridgeback.alarms.wording import view_of
from ridgeback.digests.flows import confirmed_address
from ridgeback.digests.returned import send
from ridgeback.households.models import Membership

log = logging.getLogger("ridgeback.alarms")
STEPS: tuple[frozenset[str], ...] = (
    frozenset({Membership.Role.OWNER}),
    frozenset({Membership.Role.OWNER, Membership.Role.KEEPER}),
    frozenset({Membership.Role.OWNER, Membership.Role.KEEPER, Membership.Role.SITTER}),
)
"""Who is told at once, who after the first wait, and who after the second. Who looks after the
animals on a day is told at once on that day."""
WAITS_MIN = 30
"""What is no danger is told once it has lasted so long (design choice) [min]."""
MOST_TRIES = 5
OFFERED = dt.timedelta(days=2)
"""An alarm that ended so long ago is told to nobody any more."""


def send_due(now: dt.datetime) -> int:
    """Tell whoever is due of every alarm that goes on; how many mails went out."""
    sent = 0
    rows = Alarm.objects.going().select_related("household", "channel__enclosure__room")

    for alarm in rows.order_by("pk"):
        try:
            sent += tell(alarm, now)
        except Exception:  # one alarm that cannot be told keeps no other back
            log.exception("alarm not told", extra={"alarm": alarm.pk})

    sent += _again(now)

    return sent


def due_members(alarm: Alarm, now: dt.datetime) -> list[Membership]:
    """Who is to know of an alarm by now."""
    if alarm.is_quiet(now):
        return []
    minutes = (now - alarm.changed_at).total_seconds() / 60
    if alarm.severity != "danger" and minutes < WAITS_MIN:
        return []
    step = 0
    if alarm.severity == "danger":
        step = min(int(minutes // ESCALATE_MIN), len(STEPS) - 1)
    today = alarm.household.day_of(now)
    rows = alarm.household.memberships.select_related("keeper", "alarm_preferences")

    return [
        one
        for one in rows.order_by("pk")
        if (one.role in STEPS[step] or _looks_after(one, today)) and _wants(one, alarm, now)
    ]


def _looks_after(member: Membership, today: dt.date) -> bool:
    """Whether somebody is the sitter of this day."""
    if member.role != Membership.Role.SITTER or member.from_on is None:
        return False
    return member.until_on is not None and member.from_on <= today <= member.until_on


def _wants(member: Membership, alarm: Alarm, now: dt.datetime) -> bool:
    """Whether somebody wants a mail of it now: a danger knows no quiet hours."""
    wish = getattr(member, "alarm_preferences", None) or AlarmPreferences(membership=member)

    if member.role == Membership.Role.SITTER and not _looks_after(
        member, alarm.household.day_of(now)
    ):
        return False

    if not wish.by_mail:
        return False
    if alarm.severity == "danger":
        return True
    hour = clock.local(now, alarm.household.time_zone).hour

    return not _within(hour, wish.quiet_from, wish.quiet_to)


def _within(hour: int, begin: int, end: int) -> bool:
    """Whether an hour lies between two, over midnight where they say so."""
    return begin <= hour < end if begin <= end else hour >= begin or hour < end


def tell(alarm: Alarm, now: dt.datetime) -> int:
    """Tell whoever is due and was not told yet; how many mails went out."""
    sent = 0

    for member in due_members(alarm, now):
        try:
            with transaction.atomic():
                message = AlarmMessage.objects.create(
                    alarm=alarm,
                    membership=member,
                    severity=alarm.severity,
                    snoozes=alarm.snoozes,
                    at=now,
                )
        except IntegrityError:  # told before, or by another worker
            continue

        sent += _mail(message, now)

    return sent


def _again(now: dt.datetime) -> int:
    """Try again what a mail server did not take."""
    waiting = AlarmMessage.objects.filter(
        mailed_at__isnull=True,
        tries__range=(1, MOST_TRIES - 1),
        alarm__ended_at__isnull=True,
        at__gt=now - OFFERED,
    )

    rows = waiting.select_related(
        "alarm__channel__enclosure", "alarm__household", "membership__keeper"
    )
    return sum(_mail(one, now) for one in rows)


def _mail(message: AlarmMessage, now: dt.datetime) -> int:
    """Mail it where there is an address; 1 when it went out."""
    address = confirmed_address(message.membership.keeper)
    if not address:
        return 0
    subject, text = composed(message, now)
    message.tries += 1

    try:
        send(subject, text, address)
    except OSError:  # the mail server is away: the page has it, and it is tried again
        log.exception("alarm not mailed", extra={"alarm_message": message.pk})
        message.save(update_fields=["tries"])
        return 0

    message.mailed_at = now
    message.save(update_fields=["tries", "mailed_at"])

    return 1


def composed(message: AlarmMessage, now: dt.datetime) -> tuple[str, str]:
    """Subject and text of a mail: what is wrong, where, and what to do now."""
    alarm = message.alarm
    view = view_of(alarm, now, message.membership.keeper.units)
    lines = [
        f"{view.title}.",
        f"{view.where[:1].upper()}{view.where[1:]}. {view.says}",
        f"For {view.since}.",
        "",
        "What to do now:",
        *(f"- {one}" for one in view.doing),
        "",
        f"Answer it, so that nobody else is woken: {link(alarm)}",
    ]

    prefix = "DANGER: " if alarm.severity == "danger" else ""

    return f"{prefix}{view.title}: {view.where}"[:180], "\n".join(lines)


def link(alarm: Alarm) -> str:
    """Address of an alarm's page."""
    return f"{settings.RIDGEBACK_ADDRESS}{reverse('alarms:alarm', args=[alarm.pk])}"
