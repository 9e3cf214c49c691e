"""The page of an animal's handling: where it stands, whether today, what comes next, and its ideas."""

import datetime as dt
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_safe

from husbandry.feeding.condition_periods import QUIET_DAYS
from husbandry.feeding.condition_periods import ConditionPeriod as CoreConditionPeriod
from husbandry.handling.enriching import ENRICHMENT_DAYS, idea_of, ideas
from husbandry.handling.taming import (
    EVERY_DAYS,
    FORWARD,
    HANDS_OFF,
    HOW,
    not_today,
    standing,
    steps_for,
)
from husbandry.seasons.brumation import is_dormant
from ridgeback.animals import flows
from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.enclosures.models import Occupancy
from ridgeback.households.middleware import KeeperRequest
from ridgeback.log.models import LogEntry
from ridgeback.posting import only_by_form
from ridgeback.seasons.models import dormancies_of
from ridgeback.species_guide.flows import profile_of
from ridgeback.tasks.meal_history import TAME, meals_of, sessions_of

SHOWN = 12


def _animal(request: KeeperRequest, pk: int) -> Animal:
    return get_object_or_404(
        Animal.objects.of(request.household).prefetch_related("condition_periods"), pk=pk
    )


posted = only_by_form("handling:page", _animal)


def _against(animal: Animal, living: Occupancy | None, whole_prey: bool, today: dt.date) -> str:
    """Why no hand today."""
    meals = [one.on for one in meals_of([animal.pk], today).get(animal.pk, []) if one.eaten]
    moved = (
        living.enclosure.room.day_of(living.moved_in_at) if living and living.moved_in_at else None
    )
    dormancy = dormancies_of([animal.pk], today).get(animal.pk)
    condition_periods = [
        CoreConditionPeriod.model_validate({"kind": one.kind, "since": one.since})
        for one in animal.condition_periods.all()
        if one.until is None
    ]
    return not_today(
        condition_periods,
        max(meals, default=None),
        today,
        whole_prey=whole_prey,
        quiet=moved is not None and (today - moved).days < QUIET_DAYS,
        resting=dormancy is not None and is_dormant(dormancy, today),
    )


@require_safe
def page(request: KeeperRequest, pk: int) -> HttpResponse:
    """Where an animal stands with the hand."""
    animal = _animal(request, pk)
    profile = profile_of(request.household, animal.species)
    living = (
        Occupancy.objects.filter(animal=animal, until__isnull=True)
        .select_related("enclosure__room")
        .first()
    )
    today = animal.day_of(now())
    found = ideas(profile)
    whole_prey = profile.supplements.plan == "whole prey"
    way = steps_for(whole_prey=whole_prey)
    context: dict[str, Any] = {
        "animal": animal,
        "profile": profile,
        "hands_off": HANDS_OFF if profile.handling.how_often not in EVERY_DAYS else "",
        "living": living,
        "idea": idea_of(found, today, _place(living, animal)),
        "ideas": found,
        "idea_days": ENRICHMENT_DAYS,
    }
    if animal.taming_since is not None and not context["hands_off"]:
        sessions = sessions_of({animal.pk: animal.taming_since})[animal.pk]
        stands = standing(sessions)
        context |= {
            "stands": stands,
            "steps": [(n, step, n == stands.step, n < stands.step) for n, step in enumerate(way)],
            "more": FORWARD - stands.in_a_row,
            "last_step": stands.step == len(way) - 1,
            "against": _against(animal, living, whole_prey, today),
            "sessions": [(one.on, HOW[one.how], one.how) for one in reversed(sessions[-SHOWN:])],
            "every": EVERY_DAYS[profile.handling.how_often],
        }
    else:
        context["steps"] = [(n, step, False, False) for n, step in enumerate(way)]
    context["tried"] = (
        LogEntry.objects.standing().filter(animal=animal, stem="enrich").order_by("-at")[:6]
    )
    context["stem"] = TAME
    return render(request, "handling/page.html", context)


def _place(living: Occupancy | None, animal: Animal) -> int:
    """Its place among those it lives with: as the day's tasks count them."""
    if living is None:
        return 0
    here = list(
        Occupancy.objects.filter(enclosure=living.enclosure, until__isnull=True).values_list(
            "animal_id", flat=True
        )
    )
    return here.index(animal.pk)


@posted
def begin(request: KeeperRequest, pk: int) -> HttpResponse:
    """Its taming begins, begins anew, or is left."""
    animal = _animal(request, pk)
    if "stop" in request.POST:
        flows.set_taming(animal, None)
        messages.success(request, "Left in peace: no session comes round. What was logged stays.")
    elif profile_of(request.household, animal.species).handling.how_often not in EVERY_DAYS:
        messages.error(request, HANDS_OFF)
    elif not animal.there:
        messages.error(request, f"{animal.name} is no longer kept.")
    else:
        flows.set_taming(animal, animal.day_of(now()))
        messages.success(
            request, "It begins: the first sessions come round, from being near it to handling."
        )
    return redirect("handling:page", pk=pk)
