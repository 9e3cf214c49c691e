"""Logging a meal or a refusal on any day: what was offered out of turn counts as well."""

import datetime as dt
import uuid
from typing import Any

from django import forms

from husbandry.feeding.meals import carriers_of
from husbandry.quantity import Kind, PlausibleRange, Units
from husbandry.tasks.routines import MealRoutine, meal_routine
from husbandry.tasks.supplies import taken_by
from ridgeback.animals.models import Animal
from ridgeback.animals.plausibility import day_of_life
from ridgeback.enclosures.models import Enclosure
from ridgeback.feeding.presenting import FeedingPlan
from ridgeback.fields import QuantityField, day_field
from ridgeback.households.models import Keeper
from ridgeback.log import flows as ledger
from ridgeback.log.models import LogEntry
from ridgeback.submissions.forms import OnceForm
from ridgeback.supplies import flows as stock
from ridgeback.tasks.due_tasks import Due, task_name
from ridgeback.tasks.meal_history import FACTS_DAYS

OUTCOMES = [(LogEntry.Outcome.DONE, "Ate"), (LogEntry.Outcome.REFUSED, "Refused")]
MOST_TIMES = 20.0
"""So many times the planned meal is a slip (design choice) [1]."""


class MealForm(OnceForm):
    """A meal that was offered: which, how it ended, when, how much and with which supplement."""

    outcome = forms.ChoiceField(label="Result", choices=OUTCOMES, initial=LogEntry.Outcome.DONE)
    on = day_field("On")

    def __init__(
        self,
        *args: Any,
        animal: Animal,
        made: FeedingPlan,
        today: dt.date,
        units: Units,
        **more: Any,
    ) -> None:
        self.animal = animal
        self.made = made
        self.today = today
        more.setdefault("initial", {"on": today})
        super().__init__(*args, **more)
        plans = made.diet.plans
        self.fields["meal"] = forms.ChoiceField(
            label="Meal", choices=[(plan.slug, plan.name) for plan in plans]
        )
        most = MOST_TIMES * max((plan.grams.value for plan in plans), default=1.0)
        self.fields["amount"] = QuantityField(
            Kind.MASS,
            units,
            label="How much",
            required=False,
            plausible=PlausibleRange((0.0, most), (0.0, most)),
            help_text="Left empty: as planned.",
        )
        products = sorted({product for meal in made.diet.meals for product in meal.dusted_with})
        self.fields["supplement"] = forms.ChoiceField(
            label="Supplement",
            choices=[("", "none"), *[(name, name) for name in products]],
            required=False,
        )
        self.fields["note"] = forms.CharField(label="Note", max_length=300, required=False)

    def clean_on(self) -> dt.date:
        """Not to come, not before it was born, and not so long ago that no plan follows it."""
        day: dt.date = self.cleaned_data["on"]
        day_of_life(day, self.animal, self.today)
        if (self.today - day).days > FACTS_DAYS:
            raise forms.ValidationError(f"Meals of the last {FACTS_DAYS} days are followed.")
        return day

    def routine(self) -> MealRoutine:
        """The meal as a task has it."""
        plans = self.made.diet.plans
        carries = {plan.slug for plan in carriers_of(self.made.profile, plans)}
        plan = next(plan for plan in plans if plan.slug == self.cleaned_data["meal"])
        return meal_routine(
            plan, plan.slug in carries, aquatic=self.made.profile.habit == "aquatic"
        )


def log_meal(
    form: MealForm, enclosure: Enclosure, due: Due | None, keeper: Keeper, now: dt.datetime
) -> tuple[LogEntry, bool]:
    """Write a meal or a refusal; one that is due today is answered by it.

    Parameters
    ----------
    due : Due or None
        What is due in its enclosure, where that can be calculated.

    Returns
    -------
    (Entry, bool)
        What stands, and whether this form made it.
    """
    cleaned = form.cleaned_data
    animal = form.animal
    meal = form.routine()
    stem = f"feed {meal.slug}"
    ate = cleaned["outcome"] == LogEntry.Outcome.DONE
    log_request = form.cleaned_data["form_key"] or uuid.uuid4()
    name = f"{enclosure.pk}/{animal.pk}/{stem}/{log_request}"
    for task in due.tasks if due is not None and cleaned["on"] == form.today else ():
        one = due.animal_of(task) if due is not None else None
        if one is not None and one.pk == animal.pk and task.stem == stem:
            name = task_name(enclosure, one, task)
    grams = cleaned["amount"] if cleaned["amount"] is not None else meal.grams
    products = (cleaned["supplement"],) if ate and cleaned["supplement"] else ()
    written = ledger.LogRequest(
        log_request,
        name,
        stem,
        cleaned["outcome"],
        cleaned["on"],
        now,
        amount=grams if ate else None,
        products=products,
        note=cleaned["note"],
    )

    def off_the_stock(entry: LogEntry) -> None:
        stock.take(enclosure.household_id, entry, taken_by(meal, grams), keeper, now)

    also = off_the_stock if ate else None
    return ledger.write(enclosure, animal, written, keeper=keeper, now=now, also=also)
