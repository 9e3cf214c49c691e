"""The form of a build: when it begins, of what kind it is, what is done, what is owned and what it costs."""

import datetime as dt
import math
from typing import Any

from django import forms

from husbandry.planning.build import Build, Choices, Item, Step, shopping, tasks_of
from husbandry.planning.request import Request
from ridgeback.habitats.building import ASKED


class BuildForm(forms.Form):
    """When it begins, of what kind it is, what is done, what is owned, and what things cost here."""

    def __init__(self, *args: Any, kept: dict[str, Any], request_: Request, today: dt.date, rate: float, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.kept, self.today = kept, today
        self.items = shopping(request_)
        self.rate = rate
        date = {"type": "date"}
        begin = kept.get("start") or today.isoformat()
        self.fields["start"] = forms.DateField(
            label="Begins on", initial=begin, widget=forms.DateInput(attrs=date, format="%Y-%m-%d")
        )
        for slug, words in ASKED.items():
            self.fields[slug] = forms.BooleanField(label=words, initial=slug in kept.get("choices", []), required=False)
        self.every = tasks_of(request_, Choices(**dict.fromkeys(ASKED, True)))
        for task in self.every:
            done = kept.get("done", {}).get(task.slug)
            self.fields[f"done-{task.slug}"] = forms.DateField(
                label=f"{task.title}: done on",
                initial=done,
                required=False,
                widget=forms.DateInput(attrs=date, format="%Y-%m-%d"),
            )
        for item in self.items:
            self.fields[f"own-{item.slug}"] = forms.BooleanField(
                label=f"owned: {item.name}", initial=item.slug in kept.get("owned", []), required=False
            )
            price, guide = (
                kept.get("prices", {}).get(item.slug),
                round(item.guide_eur * rate, 2 if item.guide_eur * rate < 10 else 0),
            )
            self.fields[f"price-{item.slug}"] = forms.FloatField(
                label=f"price of {item.name}", required=False, min_value=0, max_value=1e6,
                initial=f"{guide if price is None else price:g}",
                widget=forms.TextInput(attrs={"class": "quantity", "inputmode": "decimal", "autocomplete": "off"}),
            )  # fmt: skip

    def clean(self) -> dict[str, Any]:
        """Nothing is done in days to come, or before the build began."""
        data = super().clean() or {}
        start = data.get("start")
        for task in self.every:
            done = data.get(f"done-{task.slug}")
            if done is not None and done > self.today:
                self.add_error(f"done-{task.slug}", "This day is still to come.")
            elif done is not None and start is not None and done < start:
                self.add_error(f"done-{task.slug}", "That is before the build began.")
        return data

    def said(self) -> dict[str, Any]:
        """As it is kept with the box."""
        data = self.cleaned_data
        prices = {}
        for item in self.items:
            price = data.get(f"price-{item.slug}")
            if price is not None and not math.isclose(price, float(self.fields[f"price-{item.slug}"].initial or 0.0)):
                prices[item.slug] = price
        return {
            "start": data["start"].isoformat(),
            "choices": [slug for slug in ASKED if data.get(slug)],
            "done": {task.slug: data[f"done-{task.slug}"].isoformat() for task in self.every if data.get(f"done-{task.slug}")},
            "owned": [item.slug for item in self.items if data.get(f"own-{item.slug}")],
            "prices": {**self.kept.get("prices", {}), **prices},
        }

    def steps(self, build: Build) -> list[tuple[Step, Any]]:
        """Each step with the field of the day on which it was done."""
        return [(step, self[f"done-{step.task.slug}"]) for step in build.steps]

    def bought(self) -> list[tuple[Item, Any, Any]]:
        """Each item with what is owned and what it costs."""
        return [(item, self[f"own-{item.slug}"], self[f"price-{item.slug}"]) for item in self.items]
