"""The way into the demo."""

from allauth.core import ratelimit
from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from ridgeback import clock
from ridgeback.demo.visits import CrowdedError, open_visit
from ridgeback.households.models import Household


@login_not_required
@require_POST
def open_demo(request: HttpRequest) -> HttpResponse:
    """Open a demo household of one's own with one click; only where it was asked for by name."""
    if not settings.RIDGEBACK_DEMO:
        raise Http404
    if _visits(request):
        return redirect("enclosures:list")
    if not ratelimit.consume(request, action="open_demo"):
        return render(request, "429.html", status=429)
    try:
        keeper = open_visit(clock.now())
    except CrowdedError:
        text = "So many people are looking around that there is no room now. Try again in an hour."
        messages.error(request, text)
        return redirect("account_login")
    login(request, keeper, backend=settings.AUTHENTICATION_BACKENDS[0])
    return redirect("enclosures:list")


def _visits(request: HttpRequest) -> bool:
    """Whether somebody is signed in as a visitor already, whose household is still there."""
    if not request.user.is_authenticated:
        return False
    own = Household.objects.filter(memberships__keeper=request.user.pk)
    return own.filter(visit_ends__gt=clock.now()).exists()
