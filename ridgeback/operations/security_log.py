"""What happens to accounts, one line of JSON an event: by the account's key, never by its address.

Who looks into an incident finds the account by its key; who reads the log finds nobody.
"""

import logging
from typing import Any

from allauth.account import signals as account
from allauth.mfa import signals as second_step
from django.contrib.auth import signals as auth
from django.dispatch import Signal

log = logging.getLogger("ridgeback.security")
EVENTS: tuple[tuple[Signal, str], ...] = (
    (auth.user_logged_in, "signed in"),
    (auth.user_logged_out, "signed out"),
    (account.user_signed_up, "signed up"),
    (account.password_changed, "password changed"),
    (account.password_reset, "password set by email"),
    (account.email_changed, "address changed"),
    (second_step.authenticator_added, "second step set up"),
    (second_step.authenticator_removed, "second step taken off"),
)
"""Signals of the accounts packages that carry their account, each with its name in the log."""
FAILURES: tuple[tuple[Signal, str], ...] = (
    (auth.user_login_failed, "sign-in failed"),
    (second_step.authentication_failed, "second step failed"),
)
"""Worth a look where they come in crowds."""


def begin() -> None:
    """Listen from now on. Called once, when the applications are loaded."""
    for level, events in ((logging.INFO, EVENTS), (logging.WARNING, FAILURES)):
        for signal, name in events:
            signal.connect(_listener(level, name), weak=False, dispatch_uid=f"security {name}")


def _listener(level: int, name: str) -> Any:
    def listen(sender: Any, **given: Any) -> None:
        user = given.get("user")
        log.log(level, name, extra={"account": getattr(user, "pk", None)})

    return listen
