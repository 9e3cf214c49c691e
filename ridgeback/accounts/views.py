"""The page of one's own account."""

from allauth.account.models import EmailAddress
from allauth.mfa.models import Authenticator
from allauth.usersessions.models import UserSession
from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST, require_safe

from ridgeback.accounts import flows
from ridgeback.clock import now
from ridgeback.households.middleware import KeeperRequest
from ridgeback.posting import posted_key

BROWSERS = ("Firefox", "Edg", "OPR", "Chrome", "Safari")
"""In the words of a browser the first of these is its own; others are what it is like."""
SYSTEMS = ("Android", "iPhone", "iPad", "Windows", "Mac OS", "Linux")


def browser_words(agent: str) -> str:
    """Say which browser on which system, as far as its own words tell: “Firefox on Linux”."""
    browser = next((one for one in BROWSERS if one in agent), "")
    named = {"Edg": "Edge", "OPR": "Opera"}.get(browser, browser)
    system = next((one for one in SYSTEMS if one in agent), "")
    return f"{named or 'A browser'}{f' on {system}' if system else ''}"


class CloseForm(forms.Form):
    """The password, once more."""

    password = forms.CharField(label="Your password", widget=forms.PasswordInput, max_length=200)

    def __init__(self, *args: object, request: KeeperRequest, **kwargs: object) -> None:
        super().__init__(*args, **kwargs)  # type: ignore[arg-type]  # a form's own arguments
        self.request = request

    def clean_password(self) -> str:
        """The right one."""
        password: str = self.cleaned_data["password"]
        if not self.request.user.check_password(password):
            raise forms.ValidationError("That is not your password.")
        return password


def _page(request: KeeperRequest, form: CloseForm | None = None) -> HttpResponse:
    keeper = request.user
    sessions = [
        (one, browser_words(one.user_agent), one.session_key == request.session.session_key)
        for one in UserSession.objects.purge_and_list(keeper)
    ]
    steps = Authenticator.objects.filter(user=keeper)
    context = {
        "has_second_step": steps.filter(type=Authenticator.Type.TOTP).exists(),
        "passkeys": steps.filter(type=Authenticator.Type.WEBAUTHN).count(),
        "address": EmailAddress.objects.get_primary(keeper),
        "sessions": sorted(sessions, key=lambda one: one[0].last_seen_at, reverse=True),
        "form": form or CloseForm(request=request),
        "alone": flows.alone_in(keeper),
        "is_visitor": not keeper.has_usable_password(),
    }
    return render(request, "account/account.html", context)


@require_safe
def account(request: KeeperRequest) -> HttpResponse:
    """Address, password, sessions, and the end of the account."""
    return _page(request)


@require_POST
def end_session(request: KeeperRequest) -> HttpResponse:
    """End one session, or all others."""
    key = posted_key(request, "session")
    keep = request.session.session_key or ""
    ended = flows.end_sessions(request.user, keep, key if key >= 0 else None)
    messages.success(request, f"{ended} session{'' if ended == 1 else 's'} ended.")
    return redirect("accounts:account")


@require_POST
def close(request: KeeperRequest) -> HttpResponse:
    """Ask for the end of the account."""
    form = CloseForm(request.POST, request=request)
    if not form.is_valid():
        return _page(request, form)
    try:
        end = flows.ask_to_close(request.user, now())
    except flows.ClosingError as why:
        form.add_error(None, str(why))
        return _page(request, form)
    messages.success(request, f"Your account ends on {end:%-d %B}. Until then you can keep it.")
    return redirect("accounts:account")


@require_POST
def keep(request: KeeperRequest) -> HttpResponse:
    """Take the end back."""
    flows.keep_open(request.user)
    messages.success(request, "Your account stays.")
    return redirect("accounts:account")
