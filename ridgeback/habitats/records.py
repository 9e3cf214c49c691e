"""What is recorded of an enclosure, to be corrected or deleted: its readings, its animals, itself."""

from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_safe

from husbandry.species.needs import NeedKey
from ridgeback import clock
from ridgeback.habitats import flows, wording
from ridgeback.habitats.models import Habitat
from ridgeback.habitats.views import own_habitat, posted
from ridgeback.keepers.middleware import KeeperRequest


class DeleteForm(forms.Form):
    """Deleting an enclosure: its name is typed, so that no slip of a finger does it."""

    name = forms.CharField(label="Name of the enclosure", max_length=80)

    def __init__(self, *args: Any, habitat: Habitat, **kwargs: Any) -> None:
        self.habitat = habitat
        super().__init__(*args, **kwargs)

    def clean_name(self) -> str:
        """Accept its own name only."""
        name: str = self.cleaned_data["name"].strip()
        if name.casefold() != self.habitat.name.strip().casefold():
            raise forms.ValidationError(f"Type “{self.habitat.name}” to delete it.")
        return name


def _page(request: KeeperRequest, habitat: Habitat, *, form: DeleteForm | None = None) -> HttpResponse:
    zone = habitat.room.time_zone
    readings = [
        {
            "pk": reading.pk,
            "name": wording.reading_place(NeedKey(reading.need), reading.at_m, request.units),
            "value": wording.value_of(NeedKey(reading.need), reading.value, request.units),
            "at": clock.local(reading.at, zone),
        }
        for reading in habitat.readings.all()
    ]
    context = {
        "habitat": habitat,
        "readings": readings,
        "form": form or DeleteForm(habitat=habitat),
    }
    return render(request, "habitats/records.html", context)


@require_safe
def records(request: KeeperRequest, pk: int) -> HttpResponse:
    """Everything that is recorded of an enclosure."""
    return _page(request, own_habitat(request, pk))


@posted
def delete_reading(request: KeeperRequest, pk: int) -> HttpResponse:
    """Delete one reading."""
    habitat = own_habitat(request, pk)
    text = request.POST.get("reading", "")
    row = int(text) if text.isdecimal() and len(text) < 12 else 0
    deleted = flows.delete_reading(habitat, row)
    messages.success(request, "Deleted." if deleted else "It was deleted already.")
    return redirect("habitats:records", pk=pk)


@posted
def delete_enclosure(request: KeeperRequest, pk: int) -> HttpResponse:
    """Delete an enclosure with all that is recorded of it; its animals stay."""
    habitat = own_habitat(request, pk)
    form = DeleteForm(request.POST, habitat=habitat)
    if not form.is_valid():
        return _page(request, habitat, form=form)
    name = habitat.name
    flows.delete_enclosure(habitat)
    messages.success(request, f"{name} is deleted.")
    return redirect("habitats:list")
