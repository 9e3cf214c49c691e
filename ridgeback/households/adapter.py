"""What the accounts package asks of us."""

import logging
from typing import Any

from allauth.account.adapter import DefaultAccountAdapter
from allauth.account.models import EmailAddress
from allauth.mfa.adapter import DefaultMFAAdapter
from django.contrib.auth.base_user import AbstractBaseUser
from django.forms import ValidationError
from django.http import HttpRequest

from ridgeback.households import slow_down

log = logging.getLogger("ridgeback.accounts")


class AccountAdapter(DefaultAccountAdapter):
    """The package's own ways, with our slow-down and without its passing remarks."""

    def add_message(self, request: HttpRequest, level: int, *args: Any, **kwargs: Any) -> None:
        """Say nothing: “signed in as …” is seen from the page."""

    def pre_authenticate(self, request: HttpRequest, **credentials: Any) -> None:
        """Let a source that guessed wait, before the password is looked at."""
        wait_s = slow_down.seconds_to_wait(_login(credentials), self.get_client_ip(request))
        if wait_s:
            raise ValidationError(
                f"Too many wrong passwords from here. Wait {wait_s} seconds and try again, or set a"
                " new password by email.",
                code="too_many_login_attempts",
            )
        super().pre_authenticate(request, **credentials)

    def authentication_failed(self, request: HttpRequest, **credentials: Any) -> None:
        """Count a wrong password, of this address from this source."""
        slow_down.note_wrong(_login(credentials), self.get_client_ip(request))

    def authenticate(self, request: HttpRequest, **credentials: Any) -> AbstractBaseUser | None:
        """Forget the wrong passwords once the right one comes."""
        user: AbstractBaseUser | None = super().authenticate(request, **credentials)
        if user is not None:
            slow_down.forget(_login(credentials), self.get_client_ip(request))
        return user

    def _delete_login_attempts_cached_email(
        self, request: HttpRequest, **credentials: Any
    ) -> None:
        """Forget them as well when a new password was set by email."""
        slow_down.forget(_login(credentials), self.get_client_ip(request))
        super()._delete_login_attempts_cached_email(request, **credentials)

    def send_confirmation_mail(
        self, request: HttpRequest, emailconfirmation: Any, signup: bool
    ) -> None:
        """Ask for a confirmation; who has a confirmed account already is told so instead.

        Only the owner of the address reads it: the page says the same to everybody.
        """
        address: EmailAddress = emailconfirmation.email_address
        others = EmailAddress.objects.filter(email__iexact=address.email, verified=True)
        if others.exclude(pk=address.pk).exists():
            self.send_account_already_exists_mail(address.email)
        else:
            super().send_confirmation_mail(request, emailconfirmation, signup)

    def send_mail(self, template_prefix: str, email: str, context: dict[str, Any]) -> None:
        """Send an email; a mail server that is away is no reason to lose what was typed."""
        try:
            super().send_mail(template_prefix, email, context)
        except OSError:
            log.exception("email not sent", extra={"template": template_prefix})


def _login(credentials: dict[str, Any]) -> str:
    return str(credentials.get("email") or credentials.get("username") or "")


class SecondStepAdapter(DefaultMFAAdapter):
    """Our words for what the package names."""

    def generate_authenticator_name(self, user: Any, type: Any) -> str:
        """What a new passkey is called until its keeper says."""
        return "My passkey"
