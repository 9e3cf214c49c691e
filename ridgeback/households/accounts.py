"""Addresses and pages of accounts: the accounts package's own views under our addresses, with our
words.
"""

from allauth.account import views
from allauth.account.internal.flows.email_verification import send_verification_email_to_address
from allauth.account.models import EmailAddress
from django.conf import settings
from django.contrib import messages
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import include, path, re_path
from django.utils.decorators import method_decorator
from django.views.decorators.http import require_POST
from django.views.generic import RedirectView

from ridgeback.households.middleware import KeeperRequest


@method_decorator(transaction.atomic, name="post")
class SignUp(views.SignupView):
    """A person, a household and the membership between them: all or nothing."""


class SignIn(views.LoginView):
    """The first page a stranger sees; where it was loaded on purpose it offers the demo."""

    def get_context_data(self, **kwargs: object) -> dict[str, object]:
        return {**super().get_context_data(**kwargs), "demo_offered": settings.RIDGEBACK_DEMO}


@method_decorator(transaction.atomic, name="post")
class ChangePassword(views.PasswordChangeView):
    """Leads back to the household's page."""

    success_url = "/household/"


@method_decorator(transaction.atomic, name="post")
class ChangeEmail(views.EmailView):
    """Another address; it takes the place of the old one once its link was opened."""

    success_url = "/account/"


def not_in_use(request: HttpRequest, **named: str) -> HttpResponse:
    """Addresses that the accounts package must be able to name but that nothing here leads to."""
    return HttpResponse(status=404)


@require_POST
def send_again(request: KeeperRequest) -> HttpResponse:
    """Send the email that confirms an address once more."""
    address = EmailAddress.objects.get_primary(request.user)
    if address is None or address.verified:
        messages.info(request, "There is no address to confirm.")
    elif send_verification_email_to_address(request, address):
        messages.success(request, f"An email with a link was sent to {address.email}.")
    else:
        messages.info(request, "It was sent a moment ago: look among the unwanted mail, too.")
    return redirect("households:household")


urlpatterns = [
    path("sign-in/", SignIn.as_view(), name="account_login"),
    path("sign-up/", SignUp.as_view(), name="account_signup"),
    path("sign-out/", views.LogoutView.as_view(), name="account_logout"),
    path("password/", ChangePassword.as_view(), name="account_change_password"),
    path("password/first/", not_in_use, name="account_set_password"),
    path("password/forgotten/", views.PasswordResetView.as_view(), name="account_reset_password"),
    path(
        "password/forgotten/sent/",
        views.PasswordResetDoneView.as_view(),
        name="account_reset_password_done",
    ),
    re_path(
        r"^password/new/(?P<uidb36>[0-9A-Za-z]+)-(?P<key>.+)/$",
        views.PasswordResetFromKeyView.as_view(),
        name="account_reset_password_from_key",
    ),
    path(
        "password/new/done/",
        views.PasswordResetFromKeyDoneView.as_view(),
        name="account_reset_password_from_key_done",
    ),
    path("account/asleep/", views.AccountInactiveView.as_view(), name="account_inactive"),
    path("account/again/", views.ReauthenticateView.as_view(), name="account_reauthenticate"),
    path("account/email/", ChangeEmail.as_view(), name="account_email"),
    path("account/second-step/", RedirectView.as_view(url="/account/"), name="mfa_index"),
    path("account/second-step/", include("allauth.mfa.urls")),
    path("account/sessions/", RedirectView.as_view(url="/account/"), name="usersessions_list"),
    path("account/email/sent/", not_in_use, name="account_email_verification_sent"),
    path("account/email/again/", send_again, name="account_send_again"),
    path(
        "account/email/<str:key>/", views.ConfirmEmailView.as_view(), name="account_confirm_email"
    ),
]
