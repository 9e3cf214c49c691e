"""Pages of devices: all of them, one with its channels, its token once."""

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from husbandry.quantity import Units, show
from husbandry.records.channels import KINDS, Quantity
from ridgeback.animals.models import Animal
from ridgeback.clock import now
from ridgeback.devices import flows, scale
from ridgeback.devices.forms import BindingForm, DeviceForm, ScaleWeightForm
from ridgeback.devices.models import Device, DeviceChannel, ScaleWeight
from ridgeback.enclosures.access import own_enclosure
from ridgeback.enclosures.models import Enclosure
from ridgeback.households.middleware import KeeperRequest
from ridgeback.households.models import Household
from ridgeback.records.places import places_drawing
from ridgeback.submissions.flows import sent_once

TOKEN = "device_token"  # the name of a place in the session


def _household(request: KeeperRequest) -> Household:
    if request.household is None:
        raise Http404
    return request.household


@require_http_methods(["GET", "HEAD", "POST"])
def devices(request: KeeperRequest) -> HttpResponse:
    """Every device of the household; a new one."""
    household = _household(request)
    form = DeviceForm(request.POST or None, household=household)

    if form.is_bound and form.is_valid():
        with sent_once(household.pk, form.cleaned_data["form_key"]) as first:
            if first:
                name = form.cleaned_data["name"]
                made, token = flows.add(household, name=name, keeper=request.user, now=now())
                request.session[TOKEN] = [made.pk, token]

        own = Device.objects.of(household).trusted().filter(name=form.cleaned_data["name"])
        return redirect("devices:device", pk=own.get().pk)

    rows = Device.objects.of(household).trusted().prefetch_related("bindings")

    waiting = ScaleWeight.objects.of(household).waiting().count()
    context = {"form": form, "devices": rows, "sent_weights": waiting}

    return render(request, "devices/list.html", context)


def _own(request: KeeperRequest, pk: int) -> Device:
    return get_object_or_404(Device.objects.of(request.household).trusted(), pk=pk)


def _last(binding: DeviceChannel, units: Units) -> str:
    """The last value of a channel with its unit, corrected; empty where there is none."""
    channel = binding.channel
    if channel.last_value is None:
        return ""
    return show(channel.last_value - channel.offset, KINDS[Quantity(channel.quantity)], units)


@require_http_methods(["GET", "HEAD", "POST"])
def device(request: KeeperRequest, pk: int) -> HttpResponse:
    """A device: its token the first time, its channels, how to send."""
    own = _own(request, pk)
    homes = list(Enclosure.objects.of(request.household).in_use().order_by("name"))
    form = BindingForm(request.POST or None, device=own, enclosures=homes)

    if form.is_bound and form.is_valid():
        data = form.cleaned_data
        flows.bind(own, data["enclosure"], data["quantity"], data["place"])
        messages.success(request, "Added.")
        return redirect("devices:device", pk=pk)

    bindings = list(own.bindings.select_related("channel__enclosure"))
    known = request.session.pop(TOKEN, None)
    context: dict[str, Any] = {
        "device": own,
        "form": form,
        "bindings": bindings,
        "rows": [(one, _last(one, request.units)) for one in bindings],
        "token": known[1] if known and known[0] == own.pk else "",
        "address": request.build_absolute_uri("/api/v1/readings"),
    }

    return render(request, "devices/device.html", context)


@require_safe
def places(request: KeeperRequest) -> HttpResponse:
    """The drawing of an enclosure with the places of its sensors."""
    asked = request.GET.get("enclosure", "")
    own = own_enclosure(request, int(asked) if asked.isdecimal() and len(asked) < 10 else 0)
    context = {"place_drawing": places_drawing(own, now(), request.units)}
    return render(request, "records/places.html", context)


@require_POST
def renew(request: KeeperRequest, pk: int) -> HttpResponse:
    """Give a device another token."""
    own = _own(request, pk)
    request.session[TOKEN] = [own.pk, flows.renew(own)]
    messages.success(request, "The old token opens nothing any more.")

    return redirect("devices:device", pk=pk)


@require_POST
def revoke(request: KeeperRequest, pk: int) -> HttpResponse:
    """End a device: its token opens nothing; what it wrote stays."""
    flows.revoke(_own(request, pk), now())
    messages.success(request, "Removed. What it measured stays in the charts.")
    return redirect("devices:list")


@require_POST
def unbind(request: KeeperRequest, pk: int) -> HttpResponse:
    """Take a channel from a device."""
    rows = DeviceChannel.objects.filter(device__household=request.household)
    binding = get_object_or_404(rows, pk=pk)
    flows.unbind(binding)
    messages.success(request, "Removed. What it measured stays in the charts.")

    return redirect("devices:device", pk=binding.device_id)


@require_POST
def weight(request: KeeperRequest, pk: int) -> HttpResponse:
    """Say whose a weight is that a scale sent, or that it is nobody's."""
    rows = ScaleWeight.objects.of(request.household).select_related(
        "channel__enclosure__household"
    )
    own = get_object_or_404(rows, pk=pk)
    if "skip" in request.POST:
        scale.skip(own)
        messages.success(request, "Skipped. It stays in the scale’s chart.")
        return redirect("collection:weigh")

    animals = Animal.objects.of(request.household).here()
    form = ScaleWeightForm(request.POST, animals=animals)
    if form.is_valid():
        animal = form.cleaned_data["animal"]
        scale.assign(own, animal)
        messages.success(request, f"Logged as a weight of {animal.name}.")
    else:
        messages.error(request, "Not logged: choose whose weight it is.")

    return redirect("collection:weigh")
