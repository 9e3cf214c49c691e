"""Signing in and out, the demo, and the reader's units."""

from django.conf import settings
from django.contrib.auth import login, views
from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import redirect
from django.utils.decorators import method_decorator
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST

from ridgeback.keepers.forms import PreferencesForm, SignInForm
from ridgeback.keepers.middleware import KeeperRequest
from ridgeback.keepers.models import Keeper


@method_decorator(login_not_required, name="dispatch")
class SignIn(views.LoginView):
    """The first page a stranger sees."""

    template_name = "keepers/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True


@login_not_required
@require_POST
def open_demo(request: HttpRequest) -> HttpResponse:
    """Sign in to the demo household with one click; only where it was loaded on purpose."""
    if not settings.RIDGEBACK_DEMO:
        raise Http404
    keeper = Keeper.objects.filter(memberships__household__demo_day__isnull=False).first()
    if keeper is None:
        raise Http404
    login(request, keeper, backend="django.contrib.auth.backends.ModelBackend")
    return redirect("habitats:list")


@require_POST
def preferences(request: KeeperRequest) -> HttpResponse:
    """Change units or theme and come back to the same page."""
    form = PreferencesForm(request.POST, instance=request.user)
    if form.is_valid():
        form.save()
    target = request.POST.get("next", "")
    if not url_has_allowed_host_and_scheme(target, allowed_hosts={request.get_host()}, require_https=request.is_secure()):
        target = "/"
    return HttpResponseRedirect(target)
