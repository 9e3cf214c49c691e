"""What is to be logged, and of whom: the way in for whatever is not due today."""

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from husbandry.species.library import library
from ridgeback.animals.models import Animal
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.middleware import KeeperRequest


@require_safe
def choose(request: KeeperRequest) -> HttpResponse:
    """List every animal and enclosure, each with what can be logged of it."""
    profiles = library()
    animals = [
        {"animal": animal, "kind": profiles[animal.species].name}
        for animal in Animal.objects.of(request.household).here().order_by("name")
    ]
    enclosures = Enclosure.objects.of(request.household).select_related("room").order_by("name")
    return render(request, "today/choose.html", {"animals": animals, "homes": enclosures})
