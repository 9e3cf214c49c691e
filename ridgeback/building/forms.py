"""The form of a build: when it begins, of what kind it is, what is done, what is owned and what it
costs.
"""

import math
from typing import Any

from django import forms

from husbandry.build_plan.steps import Build, BuildStep
from ridgeback.building.shopping import ASKED, BuildWork, ShoppingRow, said_owned, said_price


class BuildForm(forms.Form):
    """When it begins, of what kind it is, what is done, what is owned, and what things cost here."""

    def __init__(
        self, *args: Any, works: BuildWork, lines: tuple[ShoppingRow, ...], **kwargs: Any
    ) -> None:
        super().__init__(*args, **kwargs)
        self.kept = works.kept
        self.today = works.asked.today
        self.lines = lines
        self.choices = works.choices
        kept = works.kept
        date = {"type": "date"}
        begin = works.start.isoformat()
        self.fields["start"] = forms.DateField(
            label="Begins on", initial=begin, widget=forms.DateInput(attrs=date, format="%Y-%m-%d")
        )
        for slug in self.choices:
            self.fields[slug] = forms.BooleanField(
                label=ASKED[slug], initial=slug in kept.get("choices", []), required=False
            )
        self.every = works.every
        for task in self.every:
            done = kept.get("done", {}).get(task.slug)
            self.fields[f"done-{task.slug}"] = forms.DateField(
                label=f"{task.title}: done on",
                initial=done,
                required=False,
                widget=forms.DateInput(attrs=date, format="%Y-%m-%d"),
            )
        for line in lines:
            item = line.item
            self.fields[f"own-{item.slug}"] = forms.IntegerField(
                label=f"owned of {item.count}: {item.name}",
                initial=line.owned,
                required=False,
                min_value=0,
                error_messages={
                    "invalid": "How many, as a whole number.",
                    "min_value": "None at the least.",
                },
                widget=forms.TextInput(
                    attrs={"class": "quantity", "inputmode": "numeric", "autocomplete": "off"}
                ),
            )
            self.fields[f"price-{item.slug}"] = forms.FloatField(
                label=f"price of each: {item.name}",
                required=False,
                min_value=0,
                max_value=1e6,
                initial=f"{round(line.each, 2 if line.each < 10 else 0):g}",
                widget=forms.TextInput(
                    attrs={"class": "quantity", "inputmode": "decimal", "autocomplete": "off"}
                ),
            )

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
        for line in self.lines:
            owned = data.get(f"own-{line.item.slug}")
            if owned is not None and owned > line.item.count:
                self.add_error(
                    f"own-{line.item.slug}",
                    f"It takes {line.item.count}: more of it does not help this enclosure.",
                )
        return data

    def said(self) -> dict[str, Any]:
        """As it is kept with the enclosure."""
        data = self.cleaned_data
        before = {line.item.slug: line for line in self.lines}
        said = said_owned(self.kept, tuple(line.item for line in self.lines))
        owned = dict(said)
        each = dict(self.kept.get("each", {}))
        for slug, line in before.items():
            count = data.get(f"own-{slug}")
            price = data.get(f"price-{slug}")
            if count is not None and count != line.owned:  # what was only shown stays a default
                owned[slug] = count
            if price is None:
                each.pop(slug, None)
            elif not math.isclose(price, float(self.fields[f"price-{slug}"].initial or 0.0)):
                each[slug] = price
            elif said_price(self.kept, line.item) is not None:
                each[slug] = line.each
        return {
            "start": data["start"].isoformat(),
            "choices": [slug for slug in self.choices if data.get(slug)],
            "done": {
                task.slug: data[f"done-{task.slug}"].isoformat()
                for task in self.every
                if data.get(f"done-{task.slug}")
            },
            "owned": owned,
            "each": each,
        }

    def steps(self, build: Build) -> list[tuple[BuildStep, Any]]:
        """Each step with the field of the day on which it was done."""
        return [(step, self[f"done-{step.task.slug}"]) for step in build.steps]

    def bought(self) -> list[tuple[ShoppingRow, Any, Any]]:
        """Each line with how many are owned and what one costs."""
        return [
            (line, self[f"own-{line.item.slug}"], self[f"price-{line.item.slug}"])
            for line in self.lines
        ]
