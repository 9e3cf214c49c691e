"""What is recorded of an enclosure, to be corrected or deleted: its readings, its animals, itself."""

from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_safe

from husbandry.species.needs import NeedKey
from ridgeback import clock
from ridgeback.enclosures import flows, wording
from ridgeback.enclosures.access import own_enclosure, posted
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.middleware import KeeperRequest
from ridgeback.posting import posted_key


class DeleteForm(forms.Form):
    """Deleting an enclosure: its name is typed, so that no slip of a finger does it."""

    name = forms.CharField(label="Name of the enclosure", max_length=80)

    def __init__(self, *args: Any, enclosure: Enclosure, **kwargs: Any) -> None:
        self.enclosure = enclosure
        super().__init__(*args, **kwargs)

    def clean_name(self) -> str:
        """Accept its own name only."""
        name: str = self.cleaned_data["name"].strip()
        if name.casefold() != self.enclosure.name.strip().casefold():
            raise forms.ValidationError(f"Type “{self.enclosure.name}” to delete it.")
        return name


def _page(
    request: KeeperRequest, enclosure: Enclosure, *, form: DeleteForm | None = None
) -> HttpResponse:
    zone = enclosure.room.time_zone
    readings = [
        {
            "pk": reading.pk,
            "name": wording.reading_place(NeedKey(reading.need), reading.at_m, request.units),
            "value": wording.value_of(NeedKey(reading.need), reading.value, request.units),
            "at": clock.local(reading.at, zone),
        }
        for reading in enclosure.readings.all()
    ]
    context = {
        "enclosure": enclosure,
        "readings": readings,
        "form": form or DeleteForm(enclosure=enclosure),
    }
    return render(request, "enclosures/records.html", context)


@require_safe
def records(request: KeeperRequest, pk: int) -> HttpResponse:
    """Everything that is recorded of an enclosure."""
    return _page(request, own_enclosure(request, pk))


@posted
def delete_reading(request: KeeperRequest, pk: int) -> HttpResponse:
    """Delete one reading."""
    enclosure = own_enclosure(request, pk)
    deleted = flows.delete_reading(enclosure, posted_key(request, "reading"))
    messages.success(request, "Deleted." if deleted else "It was deleted already.")
    return redirect("enclosures:records", pk=pk)


@posted
def delete_enclosure(request: KeeperRequest, pk: int) -> HttpResponse:
    """Delete an enclosure with all that is recorded of it; its animals stay."""
    enclosure = own_enclosure(request, pk)
    form = DeleteForm(request.POST, enclosure=enclosure)
    if not form.is_valid():
        return _page(request, enclosure, form=form)
    name = enclosure.name
    flows.delete_enclosure(enclosure)
    messages.success(request, f"{name} is deleted.")
    return redirect("enclosures:list")
