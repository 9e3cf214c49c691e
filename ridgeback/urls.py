"""Every address of the application."""

from django.contrib.auth.decorators import login_not_required
from django.contrib.staticfiles.storage import staticfiles_storage
from django.http import HttpRequest, HttpResponseRedirect
from django.urls import include, path

from ridgeback.operations.health import health


@login_not_required
def favicon(request: HttpRequest) -> HttpResponseRedirect:
    """Browsers ask for it by this name whatever the page says."""
    return HttpResponseRedirect(staticfiles_storage.url("img/ridgeback.svg"))


urlpatterns = [
    path("", include("ridgeback.habitats.urls")),
    path("", include("ridgeback.bench.urls")),
    path("", include("ridgeback.animals.urls")),
    path("", include("ridgeback.food.urls")),
    path("", include("ridgeback.courses.urls")),
    path("", include("ridgeback.handling.urls")),
    path("", include("ridgeback.eggs.urls")),
    path("", include("ridgeback.pictures.urls")),
    path("", include("ridgeback.reminders.urls")),
    path("", include("ridgeback.library.urls")),
    path("", include("ridgeback.firstrun.urls")),
    path("", include("ridgeback.sums.urls")),
    path("", include("ridgeback.jobs.urls")),
    path("", include("ridgeback.rounds.urls")),
    path("", include("ridgeback.seasons.urls")),
    path("", include("ridgeback.larder.urls")),
    path("", include("ridgeback.exchange.urls")),
    path("", include("ridgeback.keepers.urls")),
    path("", include("ridgeback.keepers.accounts")),
    path("favicon.ico", favicon),
    path("health/", health, name="health"),
]
