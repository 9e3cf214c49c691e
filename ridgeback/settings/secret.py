"""The secret that signs sessions, seals and links: one that others know is none."""

from django.core.exceptions import ImproperlyConfigured

SHORTEST, FEWEST_LETTERS = 50, 10
"""Characters, and different ones among them (Django's check security.W009 asks for 50 and 5)."""
KNOWN = ("only-for-tests", "django-insecure", "changeme", "change-me", "secret", "insecure")
"""Beginnings of secrets that stand in examples."""


def required_secret(given: str) -> str:
    """Accept a secret that only this installation can know.

    Raises
    ------
    ImproperlyConfigured
        For one that is missing, short, of few letters or from an example: nothing starts with it.
    """
    reason = ""
    if not given:
        reason = "is missing"
    elif given.lower().startswith(KNOWN):
        reason = "is one that stands in examples"
    elif len(given) < SHORTEST:
        reason = f"has {len(given)} characters: at least {SHORTEST} are needed"
    elif len(set(given)) < FEWEST_LETTERS:
        reason = (
            f"has {len(set(given))} different characters: at least {FEWEST_LETTERS} are needed"
        )
    if reason:
        raise ImproperlyConfigured(
            f'SECRET_KEY {reason}. Make one with: python3 -c "import secrets;'
            ' print(secrets.token_urlsafe(50))"'
        )
    return given
