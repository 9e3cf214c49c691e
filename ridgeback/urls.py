"""Every address of the application."""

from django.contrib.auth.decorators import login_not_required
from django.contrib.staticfiles.storage import staticfiles_storage
from django.http import HttpRequest, HttpResponseRedirect
from django.urls import include, path

from ridgeback.devices.api import patterns as device_api
from ridgeback.operations.health import live, ready
from ridgeback.operations.metrics import metrics


@login_not_required
def favicon(request: HttpRequest) -> HttpResponseRedirect:
    """Browsers ask for it by this name whatever the page says."""
    return HttpResponseRedirect(staticfiles_storage.url("img/ridgeback.svg"))


urlpatterns = [
    path("", include("ridgeback.enclosure_pages.urls")),
    path("", include("ridgeback.climate.urls")),
    path("", include("ridgeback.substrate.urls")),
    path("", include("ridgeback.building.urls")),
    path("", include("ridgeback.rooms.urls")),
    path("", include("ridgeback.animal_pages.urls")),
    path("", include("ridgeback.demo.urls")),
    path("", include("ridgeback.layout.urls")),
    path("", include("ridgeback.feeding.urls")),
    path("", include("ridgeback.treatments.urls")),
    path("", include("ridgeback.handling.urls")),
    path("", include("ridgeback.breeding.urls")),
    path("", include("ridgeback.photos.urls")),
    path("", include("ridgeback.digests.urls")),
    path("", include("ridgeback.species_guide.urls")),
    path("", include("ridgeback.first_setup.urls")),
    path("", include("ridgeback.calculators.urls")),
    path("", include("ridgeback.jobs.urls")),
    path("", include("ridgeback.today.urls")),
    path("", include("ridgeback.tasks.urls")),
    path("", include("ridgeback.seasons.urls")),
    path("", include("ridgeback.supplies.urls")),
    path("", include("ridgeback.exchange.urls")),
    path("", include("ridgeback.collection.urls")),
    path("", include("ridgeback.search.urls")),
    path("", include("ridgeback.help.urls")),
    path("", include("ridgeback.people.urls")),
    path("", include("ridgeback.papers.urls")),
    path("", include("ridgeback.permits.urls")),
    path("", include("ridgeback.pens.urls")),
    path("", include("ridgeback.history.urls")),
    path("", include("ridgeback.records.urls")),
    path("", include("ridgeback.devices.urls")),
    path("", include("ridgeback.alarms.urls")),
    path("", include("ridgeback.instruments.urls")),
    path("", include("ridgeback.reviews.urls")),
    path("", include("ridgeback.practice.urls")),
    path("api/v1/", device_api()),
    path("", include("ridgeback.archive.urls")),
    path("", include("ridgeback.accounts.urls")),
    path("", include("ridgeback.households.urls")),
    path("", include("ridgeback.households.accounts")),
    path("favicon.ico", favicon),
    path("health/", ready, name="health"),
    path("health/ready", ready, name="ready"),
    path("health/live", live, name="live"),
    path("metrics", metrics, name="metrics"),
]
